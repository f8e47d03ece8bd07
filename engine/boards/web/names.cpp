// Asks by a datagram where a name is, and hears one back (RFC 1035, 4.1). A name that ends in
// ".local" is asked of everybody nearby, from a port of its own, so that the answer comes to that
// (RFC 6762, 5.1 and 6.7); any other is asked of the network's server of names.
#include "names.h"

#include "board.h"
#include "net.h"
#include "network.h"
#include "text.h"

namespace nolvi {
namespace names {

const Ms AGAIN_MS = 2000, FRESH_MS = 60000;
const uint16_t HEAD = 12, MOST_ANSWER = 512;
const uint8_t ADDRESS_TYPE = 1, INTERNET = 1;

// 0 = nobody told yet.
static uint32_t known;
static uint16_t id;
static bool waits;
static net::Sender asked;
static Timer again;

void begin() {
  known = askedAt(FAR_LINK);
  if (!Limits::named) return;
  net::ready();
  net::bind(net::NAMES, 0);
}

bool find(uint32_t &address) {
  address = known;
  return known != 0;
}

void doubt() {
  if (Limits::named && !waits) again.clear();
}

static bool isNearby(Place name) {
  static const char END[] = ".local";
  const uint8_t size = sizeof END - 1, length = textLength(name);
  if (length < size) return false;
  for (uint8_t i = 0; i < size; i++)
    if (textChar(name, static_cast<uint8_t>(length - size + i)) != END[i]) return false;
  return true;
}

// Each part of a name behind its length. Returns how much it is.
static uint16_t putName(Place name, char *to) {
  const uint8_t length = textLength(name);
  uint16_t part = 0;
  for (uint8_t i = 0; i <= length; i++) {
    const char c = i < length ? textChar(name, i) : '.';
    to[i + 1] = c;
    if (c != '.') continue;
    to[part] = static_cast<char>(i - part);
    part = static_cast<uint16_t>(i + 1);
  }
  to[part] = 0;
  return static_cast<uint16_t>(part + 1);
}

static void put16(char *to, uint16_t number) {
  to[0] = static_cast<char>(number >> 8);
  to[1] = static_cast<char>(number & 0xff);
}

static void ask(Ms now) {
  const Place name = askedName(FAR_LINK);
  asked = isNearby(name) ? net::Sender{0xe00000fb, 5353} : net::Sender{0, 53};
  net::nameServer(asked);
  again.set(now + AGAIN_MS);
  if (!asked.address) return;
  char question[HEAD + MOST_TEXT + 6] = {};
  id = static_cast<uint16_t>(id * 25173u + now + 1);
  put16(question, id);
  // The server is to ask others where it does not know.
  question[2] = 1;
  question[5] = 1;
  uint16_t length = static_cast<uint16_t>(HEAD + putName(name, question + HEAD));
  put16(question + length, ADDRESS_TYPE);
  put16(question + length + 2, INTERNET);
  length = static_cast<uint16_t>(length + 4);
  net::send(net::NAMES, question, length, asked);
  waits = true;
}

// An answer, of which nothing is read beyond its end.
struct Answer {
  const char *text;
  uint16_t length;

  uint8_t byte(uint16_t at) const { return at < length ? static_cast<uint8_t>(text[at]) : 0; }
  uint16_t number(uint16_t at) const {
    return static_cast<uint16_t>(byte(at) << 8 | byte(static_cast<uint16_t>(at + 1)));
  }
  // Where a name ends that begins there; its length = it does not.
  uint16_t behindName(uint16_t at) const {
    while (at < length) {
      const uint8_t size = byte(at);
      // The rest of it stands elsewhere.
      if (size >= 0xc0) return static_cast<uint16_t>(at + 2);
      at = static_cast<uint16_t>(at + 1 + size);
      if (!size) break;
    }
    return at < length ? at : length;
  }
};

// The first address that is told, which may be that of another name for the same; 0 = none.
static uint32_t addressIn(const Answer &is) {
  const bool isOurs = is.length > HEAD && is.number(0) == id && (is.byte(2) & 0x80) != 0;
  if (!isOurs || (is.byte(3) & 0x0f) != 0) return 0;
  uint16_t at = HEAD;
  for (uint16_t n = is.number(4); n && at < is.length; n--)
    at = static_cast<uint16_t>(is.behindName(at) + 4);
  for (uint16_t n = is.number(6); n && at < is.length; n--) {
    at = is.behindName(at);
    const uint16_t type = is.number(at), size = is.number(static_cast<uint16_t>(at + 8));
    const uint16_t kind = is.number(static_cast<uint16_t>(at + 2)) & 0x7fff;
    at = static_cast<uint16_t>(at + 10);
    if (at >= is.length || size > is.length - at) return 0;
    if (type == ADDRESS_TYPE && kind == INTERNET && size == 4)
      return static_cast<uint32_t>(is.number(at)) << 16 | is.number(static_cast<uint16_t>(at + 2));
    at = static_cast<uint16_t>(at + size);
  }
  return 0;
}

// One board: neither all of them nor a group.
static bool isPlace(uint32_t address) { return address >> 24 && address >> 24 < 224; }
static bool answers(const net::Sender &from) {
  const bool isAnyone = !isPlace(asked.address);
  return from.port == asked.port && (isAnyone || from.address == asked.address);
}

void serve(Ms now) {
  if (!Limits::named) return;
  static char text[MOST_ANSWER];
  net::Sender from;
  const int16_t came = net::receive(net::NAMES, text, sizeof text, from);
  if (came > 0 && waits && answers(from)) {
    const uint32_t told = addressIn(Answer{text, static_cast<uint16_t>(came)});
    if (isPlace(told)) {
      known = told;
      waits = false;
      again.set(now + FRESH_MS);
    }
  }
  if (!net::isUp())
    again.clear();
  else if (!again.armed || again.over(now))
    ask(now);
}

void dues(Earliest &due) {
  if (Limits::named) due.take(again);
}

}  // namespace names
}  // namespace nolvi
