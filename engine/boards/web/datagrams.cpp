// Datagrams of links, and who sent them.
#include "datagrams.h"

#include "board.h"
#include "net.h"
#include "network.h"

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
    if (u8(portPlace(i, PORT_KIND)) != UDP_PORT) continue;
    net::Sender from;
    const int16_t length = net::receive(i, text, sizeof text, from);
    if (length < 0) continue;
    // Who says nonsense is answered, and is not who asked last.
    const Known before = known[i];
    toFront(known[i], from);
    controller.understands = false;
    controller.received(now, i, text, static_cast<uint16_t>(length));
    keep();
    if (!controller.understands) known[i] = before;
  }
}

void say(uint8_t link, const char *text, uint16_t length) {
  const bool toAll = (u8(networkPlace(link, NETWORK_FLAGS)) & TO_ALL) != 0;
  const Known &to = known[link];
  for (uint8_t i = 0; i < to.count && (toAll || i == 0); i++)
    net::send(link, text, length, to.are[i]);
}

}  // namespace datagrams
}  // namespace nolvi
