// The program of a Linux computer: reads its settings, takes its secrets into the table, and runs.
// "nolvi FILE" starts it, "nolvi console PATH" joins a session of a shell to one that runs.
#include <errno.h>
#include <poll.h>
#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include "board.h"
#include "chip.h"
#include "design.h"
#include "network.h"
#include "settings.h"

namespace nolvi {

// The table, and room for the secrets behind it.
static uint8_t table[65536 + 256 * 65];
static uint32_t size = 0;

uint8_t tableByte(Place at) { return table[at]; }
void markBegins() {}

static void readDesign() {
  const char *const path = settings::get("table");
  if (!*path) {
    if (DESIGN_SIZE > sizeof table) settings::fail("the design", "it is too large");
    memcpy(table, DESIGN, DESIGN_SIZE);
    size = DESIGN_SIZE;
    return;
  }
  FILE *const from = fopen(path, "rb");
  if (!from) settings::fail(path, strerror(errno));
  size = static_cast<uint32_t>(fread(table, 1, sizeof table, from));
  fclose(from);
}

// A secret is known to this machine alone: the design leaves room for it.
static void readSecrets() {
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    const Place auth = linkPlace(i, LINK_AUTH);
    if (u8(auth) == AUTH_NONE) continue;
    char id[MOST_TEXT];
    copyText(u16(networkPlace(i, NETWORK_ID)), id);
    const char *const secret = settings::get("secret", id);
    const size_t length = strlen(secret);
    if (!length || length > 64)
      settings::fail(id, "nolvi.conf has no secret for it: \"secret ID = ...\"");
    const Place at = u16(static_cast<Place>(auth + AUTH_SECRET));
    table[at] = static_cast<uint8_t>(length);
    memcpy(table + at + 1, secret, length);
  }
}

}  // namespace nolvi

static int console(const char *path) {
  struct sockaddr_un at = {};
  at.sun_family = AF_UNIX;
  if (strlen(path) >= sizeof at.sun_path) return 1;
  strcpy(at.sun_path, path);
  const int file = socket(AF_UNIX, SOCK_STREAM, 0);
  if (file < 0 || connect(file, reinterpret_cast<struct sockaddr *>(&at), sizeof at) < 0) {
    fprintf(stderr, "nolvi: %s: %s\n", path, strerror(errno));
    return 1;
  }
  struct pollfd ends[2] = {{STDIN_FILENO, POLLIN, 0}, {file, POLLIN, 0}};
  char bytes[512];
  for (;;) {
    if (poll(ends, 2, -1) < 0) return 1;
    for (int i = 0; i < 2; i++) {
      if (!ends[i].revents) continue;
      const ssize_t came = read(ends[i].fd, bytes, sizeof bytes);
      if (came <= 0) return 0;
      const int to = i ? STDOUT_FILENO : file;
      for (ssize_t went = 0; went < came;) {
        const ssize_t more = write(to, bytes + went, static_cast<size_t>(came - went));
        if (more <= 0) return 1;
        went += more;
      }
    }
  }
}

int main(int count, char **words) {
  if (count == 3 && strcmp(words[1], "console") == 0) return console(words[2]);
  signal(SIGPIPE, SIG_IGN);
  nolvi::settings::read(count > 1 ? words[1] : "/etc/nolvi.conf");
  nolvi::readDesign();
  nolvi::readSecrets();
  nolvi::controller.forget();
  nolvi::setupBoard();
  for (;;) {
    nolvi::loopBoard();
    nolvi::chip::rest();
  }
}
