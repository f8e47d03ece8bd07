// Connections and datagrams by sockets (POSIX), as computers and some boards have them.
#include "net.h"

#include <arpa/inet.h>
#include <errno.h>
#include <fcntl.h>
#include <netinet/in.h>
#include <netinet/tcp.h>
#include <poll.h>
#include <string.h>
#include <sys/socket.h>
#include <unistd.h>

#include "controller.h"
#include "sockets.h"

namespace nolvi {
namespace net {

static int server = -1;
static int clients[some(Limits::clients)];
static int datagrams[some(Limits::links + Limits::named)];

static void waitsForNothing(int file) { fcntl(file, F_SETFL, fcntl(file, F_GETFL) | O_NONBLOCK); }

// A connection that says at once what it is given.
static void isClient(uint8_t client, int file) {
  const int yes = 1;
  setsockopt(file, IPPROTO_TCP, TCP_NODELAY, &yes, sizeof yes);
  sockets::opened(file);
  clients[client] = file;
}

static struct sockaddr_in placeOf(const Sender &to) {
  struct sockaddr_in at = {};
  at.sin_family = AF_INET;
  at.sin_port = htons(to.port);
  at.sin_addr.s_addr = htonl(to.address);
  return at;
}

// A socket that waits for nothing, on a port of this machine.
static int onPort(int kind, uint16_t port) {
  const int file = socket(AF_INET, kind, 0);
  if (file < 0) sockets::fail("socket");
  const int yes = 1;
  setsockopt(file, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
  waitsForNothing(file);
  struct sockaddr_in at = {};
  at.sin_family = AF_INET;
  at.sin_port = htons(port);
  at.sin_addr.s_addr = port ? sockets::address() : 0;
  if (bind(file, reinterpret_cast<struct sockaddr *>(&at), sizeof at) < 0) sockets::fail("port");
  sockets::opened(file);
  return file;
}

static void tell(const char *what, int file) {
  struct sockaddr_in at = {};
  socklen_t size = sizeof at;
  if (getsockname(file, reinterpret_cast<struct sockaddr *>(&at), &size) == 0)
    sockets::isOn(what, ntohs(at.sin_port));
}

void listen(uint16_t port) {
  server = onPort(SOCK_STREAM, sockets::portFor(port, "http"));
  if (::listen(server, 16) < 0) sockets::fail("port");
  tell("http", server);
}

bool accept(uint8_t client, uint32_t &from) {
  if (server < 0) return false;
  struct sockaddr_in at = {};
  socklen_t size = sizeof at;
  const int file = ::accept(server, reinterpret_cast<struct sockaddr *>(&at), &size);
  if (file < 0) return false;
  waitsForNothing(file);
  isClient(client, file);
  sockets::active();
  from = ntohl(at.sin_addr.s_addr);
  return true;
}

int16_t read(uint8_t client, char *to, uint16_t most) {
  const ssize_t came = recv(clients[client], to, most, 0);
  if (came > 0) sockets::active();
  if (came < 0 && (errno == EAGAIN || errno == EWOULDBLOCK || errno == EINTR)) return 0;
  return static_cast<int16_t>(came > 0 ? came : -1);
}

int16_t write(uint8_t client, const char *from, uint16_t length) {
  const ssize_t went = ::send(clients[client], from, length, MSG_NOSIGNAL);
  if (went > 0) {
    sockets::active();
    return static_cast<int16_t>(went);
  }
  if (went < 0 && (errno == EAGAIN || errno == EWOULDBLOCK || errno == EINTR)) {
    sockets::soon();
    return 0;
  }
  return -1;
}

void finish(uint8_t client) { shutdown(clients[client], SHUT_WR); }
// It was told that no more comes, and goes by itself.
bool isTaken(uint8_t) { return false; }
void close(uint8_t client) {
  ::close(clients[client]);
  sockets::active();
}

void ready() { sockets::ready(); }

bool connect(uint8_t client, const Sender &to) {
  const int file = socket(AF_INET, SOCK_STREAM, 0);
  if (file < 0) return false;
  waitsForNothing(file);
  const struct sockaddr_in at = placeOf(to);
  if (::connect(file, reinterpret_cast<const struct sockaddr *>(&at), sizeof at) < 0 &&
      errno != EINPROGRESS) {
    ::close(file);
    return false;
  }
  isClient(client, file);
  return true;
}

int8_t isThere(uint8_t client) {
  struct pollfd is = {clients[client], POLLOUT, 0};
  if (poll(&is, 1, 0) <= 0) {
    sockets::soon();
    return 0;
  }
  int failed = 0;
  socklen_t size = sizeof failed;
  getsockopt(clients[client], SOL_SOCKET, SO_ERROR, &failed, &size);
  sockets::active();
  return failed ? -1 : 1;
}

void bind(uint8_t link, uint16_t port) {
  datagrams[link] = onPort(SOCK_DGRAM, port ? sockets::portFor(port, "udp") : uint16_t{0});
  if (port) tell("udp", datagrams[link]);
}

int16_t receive(uint8_t link, char *to, uint16_t most, Sender &from) {
  struct sockaddr_in at = {};
  socklen_t size = sizeof at;
  const ssize_t came =
      recvfrom(datagrams[link], to, most, 0, reinterpret_cast<struct sockaddr *>(&at), &size);
  if (came < 0) return -1;
  sockets::active();
  from.address = ntohl(at.sin_addr.s_addr);
  from.port = ntohs(at.sin_port);
  return static_cast<int16_t>(came);
}

void send(uint8_t link, const char *from, uint16_t length, const Sender &to) {
  const struct sockaddr_in at = placeOf(to);
  // What gets lost is lost: these are datagrams.
  (void)sendto(datagrams[link], from, length, 0, reinterpret_cast<const struct sockaddr *>(&at),
               sizeof at);
}

}  // namespace net
}  // namespace nolvi
