// Serial ports of a Linux computer, and consoles: sockets of this machine that a shell joins its
// sessions to.
#include "serial.h"

#include <errno.h>
#include <fcntl.h>
#include <string.h>
#include <sys/ioctl.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <termios.h>
#include <unistd.h>

#include "board.h"
#include "network.h"
#include "settings.h"
#include "watch.h"

namespace nolvi {
namespace serial {

static const uint8_t SESSIONS = 8;
static struct {
  int server;           // of a console; -1 = a port
  int files[SESSIONS];  // sessions, or the port alone; -1 = none
  char bytes[256];
  ssize_t count, taken;
} ports[some(Limits::links)];

static const char *idOf(uint8_t link) {
  static char id[MOST_TEXT];
  copyText(u16(networkPlace(link, NETWORK_ID)), id);
  return id;
}

static speed_t speedOf(uint32_t baud) {
  switch (baud) {
    case 1200: return B1200;
    case 2400: return B2400;
    case 4800: return B4800;
    case 9600: return B9600;
    case 19200: return B19200;
    case 38400: return B38400;
    case 57600: return B57600;
    case 115200: return B115200;
    case 230400: return B230400;
    case 460800: return B460800;
    default: return B0;
  }
}

static void openPort(uint8_t link) {
  const char *const id = idOf(link);
  const char *const path = settings::get("serial", id);
  if (!*path)
    settings::fail(id, "nolvi.conf does not say which port it is: \"serial ID = /dev/...\"");
  const int file = open(path, O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  if (file < 0) settings::fail(path, strerror(errno));
  struct termios how = {};
  if (tcgetattr(file, &how) == 0) {
    cfmakeraw(&how);
    how.c_cflag |= CLOCAL | CREAD;
    const speed_t speed = speedOf(u32(portPlace(link, PORT_BAUD)));
    if (speed == B0) settings::fail(path, "a rate that it does not have");
    cfsetspeed(&how, speed);
    tcsetattr(file, TCSANOW, &how);
  }
  watch::add(file);
  ports[link].files[0] = file;
}

static void openConsole(uint8_t link) {
  const char *const id = idOf(link);
  const char *const path = settings::get("console", id);
  struct sockaddr_un at = {};
  at.sun_family = AF_UNIX;
  if (!*path || strlen(path) >= sizeof at.sun_path)
    settings::fail(id, "nolvi.conf does not say where its console is: \"console ID = /run/...\"");
  strcpy(at.sun_path, path);
  const int file = socket(AF_UNIX, SOCK_STREAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
  unlink(path);
  if (file < 0 || bind(file, reinterpret_cast<struct sockaddr *>(&at), sizeof at) < 0 ||
      ::listen(file, SESSIONS) < 0)
    settings::fail(path, strerror(errno));
  // Whoever may log in for it is in the group of the program.
  chmod(path, 0660);
  watch::add(file);
  ports[link].server = file;
}

void begin(uint8_t link) {
  ports[link].server = -1;
  for (int &file : ports[link].files) file = -1;
  if (u8(portPlace(link, PORT_KIND)) == SHELL_PORT)
    openConsole(link);
  else
    openPort(link);
}

static bool anybody(uint8_t link) {
  for (const int file : ports[link].files)
    if (file >= 0) return true;
  return false;
}

static void goes(uint8_t link, uint8_t session, uint32_t now) {
  close(ports[link].files[session]);
  ports[link].files[session] = -1;
  if (!anybody(link)) controller.linkDown(now, link);
}

static bool refill(uint8_t link) {
  auto &is = ports[link];
  is.count = is.taken = 0;
  for (uint8_t i = 0; i < SESSIONS; i++) {
    if (is.files[i] < 0) continue;
    const ssize_t came = ::read(is.files[i], is.bytes, sizeof is.bytes);
    if (came > 0) {
      is.count = came;
      watch::active();
      return true;
    }
    const bool waits = came < 0 && (errno == EAGAIN || errno == EINTR);
    // A port stays, whoever is at its other end.
    if (!waits && is.server >= 0) goes(link, i, controller.state.now);
  }
  return false;
}

bool take(uint8_t link, uint8_t &byte) {
  auto &is = ports[link];
  if (is.taken >= is.count && !refill(link)) return false;
  byte = static_cast<uint8_t>(is.bytes[is.taken++]);
  return true;
}

void put(uint8_t link, uint8_t byte) {
  // Who takes nothing in loses what is said.
  for (const int file : ports[link].files)
    if (file >= 0 && ::write(file, &byte, 1) < 0 && errno == EAGAIN) watch::soon();
}

bool isIdle(uint8_t link) {
  int waiting = 0;
  const auto &is = ports[link];
  return is.server >= 0 || ioctl(is.files[0], TIOCOUTQ, &waiting) < 0 || waiting == 0;
}

void serve(uint32_t now) {
  for (uint8_t link = 0; link < countOf(LINKS); link++) {
    auto &is = ports[link];
    if (isWhole(link) || is.server < 0) continue;
    for (uint8_t i = 0; i < SESSIONS; i++) {
      if (is.files[i] >= 0) continue;
      const int file = accept4(is.server, 0, 0, SOCK_NONBLOCK | SOCK_CLOEXEC);
      if (file < 0) break;
      is.files[i] = file;
      watch::add(file);
      watch::active();
      controller.linkUp(now, link);
    }
  }
}

}  // namespace serial
}  // namespace nolvi
