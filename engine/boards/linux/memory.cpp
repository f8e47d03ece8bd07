// The file of what outlives a power cut.
#include "memory.h"

#include <errno.h>
#include <fcntl.h>
#include <string.h>
#include <unistd.h>

#include "settings.h"

namespace nolvi {

static const uint32_t SIZE = 65536;
static uint8_t bytes[SIZE];
static int file = -1;
static uint32_t changedFrom = SIZE, changedTo = 0;

static void open() {
  if (file >= 0) return;
  const char *const path = settings::get("state");
  if (!*path) settings::fail("state", "nolvi.conf does not say where state is kept");
  file = ::open(path, O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (file < 0) settings::fail(path, strerror(errno));
  memset(bytes, 0xff, sizeof bytes);
  if (::read(file, bytes, sizeof bytes) < 0) settings::fail(path, strerror(errno));
}

uint8_t readKept(uint16_t at) {
  open();
  return bytes[at];
}

void writeKept(uint16_t at, uint8_t byte) {
  open();
  if (bytes[at] == byte) return;
  bytes[at] = byte;
  if (at < changedFrom) changedFrom = at;
  if (at >= changedTo) changedTo = at + 1u;
}

void settleKept() {
  if (changedFrom >= changedTo) return;
  const uint32_t length = changedTo - changedFrom;
  const ssize_t put = pwrite(file, bytes + changedFrom, length, static_cast<off_t>(changedFrom));
  if (put != static_cast<ssize_t>(length) || fdatasync(file) != 0)
    settings::fail(settings::get("state"), strerror(errno));
  changedFrom = SIZE;
  changedTo = 0;
}

}  // namespace nolvi
