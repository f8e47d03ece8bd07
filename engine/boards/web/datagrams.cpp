// Datagrams of links, and who sent them.
#include "datagrams.h"

#include "board.h"
#include "net.h"
#include "network.h"
#include "peer.h"

namespace nolvi {
namespace datagrams {

// Who was heard, the last first.
struct Known {
  uint8_t count;
  net::Sender are[some(Limits::senders)];
};
static Known known[some(Limits::links)];

static bool same(const net::Sender &a, const net::Sender &b) {
  return a.address == b.address && a.port == b.port;
}

static void toFront(Known &of, const net::Sender &who) {
  uint8_t at = 0;
  while (at < of.count && !same(of.are[at], who)) at++;
  if (at == of.count && of.count < Limits::senders) of.count++;
  if (at == Limits::senders) at--;
  for (; at > 0; at--) of.are[at] = of.are[at - 1];
  of.are[0] = who;
}

void serve(Ms now) {
  static char text[Limits::answer];
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    const uint8_t kind = u8(portPlace(i, PORT_KIND));
#if NOLVI_PEER
    if (kind == PEER_PORT) {
      const int16_t came = peer::receive(text, sizeof text);
      if (came >= 0) controller.received(now, i, text, static_cast<uint16_t>(came));
      if (came >= 0) keep();
    }
#endif
    if (kind != UDP_PORT) continue;
    net::Sender from;
    const int16_t length = net::receive(i, text, sizeof text, from);
    if (length < 0) continue;
    if (isBox()) {
      // Nobody but the board that it asks tells it anything.
      if (!same(from, known[i].are[0])) continue;
      controller.received(now, i, text, static_cast<uint16_t>(length));
      keep();
      continue;
    }
    // Who says nonsense is answered, and is not who asked last.
    const Known before = known[i];
    toFront(known[i], from);
    controller.understands = false;
    controller.received(now, i, text, static_cast<uint16_t>(length));
    keep();
    // What waits in a queue is for the same.
    while (Limits::queue && controller.state.links[i].busy) controller.sent(now, i);
    if (!controller.understands) known[i] = before;
  }
}

void speakTo(uint8_t link, const net::Sender &board) {
  known[link].count = 1;
  known[link].are[0] = board;
}

void beginPeer(uint8_t link, uint8_t channel) {
#if NOLVI_PEER
  uint8_t addresses[12];
  const Place at = u16(networkPlace(link, NETWORK_PEER));
  for (uint8_t i = 0; i < sizeof addresses; i++) addresses[i] = u8(static_cast<Place>(at + i));
  peer::begin(addresses, addresses + 6, channel);
#else
  (void)link;
  (void)channel;
#endif
}

void say(uint8_t link, const char *text, uint16_t length) {
#if NOLVI_PEER
  if (u8(portPlace(link, PORT_KIND)) == PEER_PORT) return peer::send(text, length);
#endif
  const bool toAll = (u8(networkPlace(link, NETWORK_FLAGS)) & TO_ALL) != 0;
  const Known &to = known[link];
  for (uint8_t i = 0; i < to.count && (toAll || i == 0); i++)
    net::send(link, text, length, to.are[i]);
}

}  // namespace datagrams
}  // namespace nolvi
