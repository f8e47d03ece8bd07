// What sockets need of a Linux computer.
#include <arpa/inet.h>
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <string>

#include "net.h"
#include "settings.h"
#include "sockets.h"
#include "watch.h"

namespace nolvi {

// Where its network is up, is the system's business.
bool net::isUp() { return true; }

// "ADDRESS" or "ADDRESS:PORT".
static bool placeIn(const char *text, net::Sender &to) {
  const std::string whole = text;
  const size_t size = whole.find(':');
  const std::string number = size == whole.npos ? std::to_string(to.port) : whole.substr(size + 1);
  char *end;
  const unsigned long port = strtoul(number.c_str(), &end, 10);
  struct in_addr at = {};
  if (*end || !port || port > 65535) return false;
  if (inet_pton(AF_INET, whole.substr(0, size).c_str(), &at) != 1) return false;
  to.address = ntohl(at.s_addr);
  to.port = static_cast<uint16_t>(port);
  return true;
}

// As its maker says, or the first that the system asks.
void net::nameServer(Sender &is) {
  const char *const given = settings::get("names");
  if (*given && !placeIn(given, is)) settings::fail("names", "that is no address");
  if (*given || is.address) return;
  FILE *const from = fopen("/etc/resolv.conf", "r");
  char line[256], address[64];
  while (from && fgets(line, sizeof line, from))
    if (sscanf(line, "nameserver %63s", address) == 1 && placeIn(address, is)) break;
  if (from) fclose(from);
}

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
