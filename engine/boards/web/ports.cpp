// What is said and heard on the links of a board with a network.
#include "ports.h"

#include "board.h"
#include "client.h"
#include "datagrams.h"
#include "http.h"
#include "names.h"
#include "net.h"
#include "network.h"
#include "serial.h"

namespace nolvi {

static uint8_t speaks;
static uint16_t status;
static char said[Limits::answer];
static uint16_t length;

void Board::begin(uint8_t link, uint16_t answers) {
  speaks = link;
  status = answers;
  length = 0;
}
void Board::put(char c) {
  if (!isWhole(speaks))
    serial::put(speaks, static_cast<uint8_t>(c));
  else if (length < Limits::answer)
    said[length++] = c;
}
void Board::end() {
  const uint8_t kind = u8(portPlace(speaks, PORT_KIND));
  if (kind == HTTP_PORT && Limits::routes)
    client::ask(said, length);
  else if (kind == HTTP_PORT)
    http::say(speaks, status, said, length);
  else
    datagrams::say(speaks, said, length);
}

namespace port {

void begin(uint8_t link) {
  const uint8_t kind = u8(portPlace(link, PORT_KIND));
  const uint16_t number = u16(networkPlace(link, NETWORK_PORT));
  if (isBox() && (kind == HTTP_PORT || kind == UDP_PORT)) names::begin();
  if (kind == HTTP_PORT && Limits::routes) {
    client::begin(link);
  } else if (kind == HTTP_PORT) {
    // One server answers for all of them.
    static bool listens = false;
    if (!listens) net::listen(number);
    listens = true;
  } else if (kind == UDP_PORT) {
#ifdef NOLVI_HEARS_ON
    net::bind(link, NOLVI_HEARS_ON);
#else
    net::bind(link, number);
#endif
  } else if (kind == PEER_PORT) {
    datagrams::beginPeer(link, static_cast<uint8_t>(number));
  } else {
    serial::begin(link);
  }
}

bool take(uint8_t link, uint8_t &byte) { return !isWhole(link) && serial::take(link, byte); }
bool isIdle(uint8_t link) { return isWhole(link) || serial::isIdle(link); }

// A box asks over the network as long as there is one, and it knows where the board is.
static void reach(Ms now, bool isUp) {
  static bool reaches = false;
  names::serve(now);
  if (Limits::routes) return;
  const bool isUdp = u8(portPlace(FAR_LINK, PORT_KIND)) == UDP_PORT;
  net::Sender board = {0, u16(networkPlace(FAR_LINK, NETWORK_PORT))};
  const bool finds = isUp && (!isUdp || names::find(board.address));
  if (finds && isUdp) datagrams::speakTo(FAR_LINK, board);
  if (finds == reaches) return;
  reaches = finds;
  if (finds)
    controller.linkUp(now, FAR_LINK);
  else
    controller.linkDown(now, FAR_LINK);
}

void serve(Ms now) {
  static bool begun = false, up = false;
  const bool isUp = net::isUp();
  if (isUp != up) {
    up = isUp;
    controller.network(now, up);
  }
  if (isBox()) reach(now, isUp);
  if (!begun) http::begin(now);
  begun = true;
  serial::serve(now);
  datagrams::serve(now);
  http::serve(now);
  if (Limits::routes) client::serve(now);
}

void dues(Earliest &due) {
  http::dues(due);
  if (Limits::routes) client::dues(due);
  if (isBox()) names::dues(due);
}

}  // namespace port
}  // namespace nolvi
