// What sockets need of a Linux computer.
#include <arpa/inet.h>
#include <errno.h>
#include <stdio.h>
#include <string.h>

#include "net.h"
#include "settings.h"
#include "sockets.h"
#include "watch.h"

namespace nolvi {

// Where its network is up, is the system's business.
bool net::isUp() { return true; }

namespace sockets {

uint32_t address() {
  const char *const given = settings::get("address");
  struct in_addr at = {};
  if (*given && inet_pton(AF_INET, given, &at) != 1)
    settings::fail("address", "that is no address");
  return at.s_addr;
}

uint16_t portFor(uint16_t port, const char *what) {
  const long given = settings::number(what, port);
  if (given < 0 || given > 65535) settings::fail(what, "that is no port");
  return static_cast<uint16_t>(given);
}

void isOn(const char *what, uint16_t port) {
  printf("%s %u\n", what, static_cast<unsigned>(port));
  fflush(stdout);
}

void ready() {}
void opened(int file) { watch::add(file); }
void active() { watch::active(); }
void soon() { watch::soon(); }
void fail(const char *what) { settings::fail(what, strerror(errno)); }

}  // namespace sockets
}  // namespace nolvi
