// Connections and datagrams of the small board with Wi-Fi.
#include "net.h"

#include <WiFiUdp.h>

#include "controller.h"
#include "radio.h"
#include "vendor.h"

namespace nolvi {
namespace net {

static WiFiServer *server = nullptr;
static WiFiClient clients[some(Limits::clients)];
static WiFiUDP datagrams[some(Limits::links + Limits::named)];
// What a connection may have on its way.
static const size_t WINDOW = TCP_SND_BUF;

static IPAddress addressOf(uint32_t number) {
  return IPAddress(static_cast<uint8_t>(number >> 24), static_cast<uint8_t>(number >> 16),
                   static_cast<uint8_t>(number >> 8), static_cast<uint8_t>(number));
}

void listen(uint16_t port) {
  radio::begin();
  server = new WiFiServer(port);
  server->begin();
  server->setNoDelay(true);
}

bool accept(uint8_t client, uint32_t &from) {
  if (!server || !server->hasClient()) return false;
  clients[client] = server->accept();
  from = numberOf(clients[client].remoteIP());
  return true;
}

int16_t read(uint8_t client, char *to, uint16_t most) {
  WiFiClient &is = clients[client];
  const int waits = is.available();
  if (waits <= 0) return static_cast<int16_t>(is.connected() ? 0 : -1);
  const uint16_t size = waits < most ? static_cast<uint16_t>(waits) : most;
  return static_cast<int16_t>(is.read(reinterpret_cast<uint8_t *>(to), size));
}

int16_t write(uint8_t client, const char *from, uint16_t length) {
  WiFiClient &is = clients[client];
  if (!is.connected()) return -1;
  const size_t room = static_cast<size_t>(is.availableForWrite());
  const size_t size = room < length ? room : length;
  if (!size) return 0;
  return static_cast<int16_t>(is.write(reinterpret_cast<const uint8_t *>(from), size));
}

void finish(uint8_t) {}
// All that was said has been taken in.
bool isTaken(uint8_t client) {
  return static_cast<size_t>(clients[client].availableForWrite()) >= WINDOW;
}
void close(uint8_t client) { clients[client].stop(1); }

void ready() { radio::begin(); }

// The environment waits while it connects: for so long at most.
bool connect(uint8_t client, const Sender &to) {
  const int MOST_MS = 500;
  clients[client].setTimeout(MOST_MS);
  return clients[client].connect(addressOf(to.address), to.port) != 0;
}
int8_t isThere(uint8_t client) { return clients[client].connected() ? 1 : -1; }

void bind(uint8_t link, uint16_t port) {
  radio::begin();
  datagrams[link].begin(port);
}

int16_t receive(uint8_t link, char *to, uint16_t most, Sender &from) {
  WiFiUDP &is = datagrams[link];
  if (is.parsePacket() <= 0) return -1;
  const int length = is.read(to, most);
  from.address = numberOf(is.remoteIP());
  from.port = is.remotePort();
  return static_cast<int16_t>(length < 0 ? 0 : length);
}

void send(uint8_t link, const char *from, uint16_t length, const Sender &to) {
  WiFiUDP &is = datagrams[link];
  is.beginPacket(addressOf(to.address), to.port);
  is.write(reinterpret_cast<const uint8_t *>(from), length);
  is.endPacket();
}

}  // namespace net
}  // namespace nolvi
