// A client of HTTP/1.0 (RFC 1945): the other side closes where an answer ends, at the latest. Who
// is not there, or slow, is given up after a while; a box asks again by itself.
#include "client.h"

#include <string.h>

#include "board.h"
#include "names.h"
#include "net.h"
#include "network.h"
#include "text.h"

namespace nolvi {
namespace client {

// Connections: of what is asked for, and of events.
const uint8_t ASKS = 0, LISTENS = 1;
const Ms PATIENCE_MS = 5000, AGAIN_MS = 2000;
const uint8_t MOST_WAITING = 8;

enum State : uint8_t { IDLE, CONNECTS, SAYS, HEARS, STREAMS_IN };

// A route that waits for its turn.
struct Route {
  uint8_t about;
  Timer until;
  uint16_t length;
  char text[Limits::buffer];
};
static Route waiting[MOST_WAITING];
static uint8_t count;

// What comes and goes on a connection.
struct Connection {
  State state;
  Timer until;
  uint16_t length, sent;
  char text[Limits::answer];
};
static Connection connections[2];
static uint8_t about;
static net::Sender board;
static bool listens;
// The network was there when it was looked at last; the link of the box.
static bool isUp, isLinked;

static void put(Connection &to, const char *text, uint16_t length) {
  if (length > Limits::answer - to.length)
    length = static_cast<uint16_t>(Limits::answer - to.length);
  memcpy(to.text + to.length, text, length);
  to.length = static_cast<uint16_t>(to.length + length);
}
static void put(Connection &to, const char *text) { put(to, text, lengthOf(text)); }
static void putNumber(Connection &to, uint32_t number) {
  char digits[MOST_DIGITS];
  uint8_t left = digitsOf(number, digits);
  while (left) put(to, &digits[--left], 1);
}

void begin(uint8_t link) {
  board.port = u16(networkPlace(link, NETWORK_PORT));
  listens = (linkFlags(link) & STREAMS) != 0;
  net::ready();
}

static void dropFirst() {
  count--;
  memmove(waiting, waiting + 1, sizeof(Route) * count);
}

void ask(const char *route, uint16_t length) {
  if (length > Limits::buffer) return;
  // What is asked for last counts: the first that waits is given up.
  if (count == MOST_WAITING) dropFirst();
  Route &to = waiting[count++];
  to.about = controller.box().about;
  to.until.set(controller.state.now + PATIENCE_MS);
  to.length = length;
  memcpy(to.text, route, length);
}

// Who was not there, or had nothing to say, may be elsewhere by now.
static void closes(uint8_t which, bool answered = false) {
  Connection &is = connections[which];
  // What nobody took is not said later.
  if (which == ASKS && is.state == CONNECTS && count) dropFirst();
  if (is.state != IDLE && !answered) names::doubt();
  if (is.state != IDLE) net::close(which);
  is.state = IDLE;
  is.until.clear();
}

static void connects(Ms now, uint8_t which) {
  Connection &is = connections[which];
  is.length = is.sent = 0;
  if (!net::connect(which, board)) {
    names::doubt();
    if (which == ASKS) dropFirst();
    return;
  }
  is.state = CONNECTS;
  is.until.set(now + PATIENCE_MS);
}

static void putHost(Connection &to) {
  if (Limits::named) {
    char name[MOST_TEXT];
    const Place text = askedName(FAR_LINK);
    copyText(text, name);
    return put(to, name, textLength(text));
  }
  for (uint8_t i = 0; i < 4; i++) {
    if (i) put(to, ".");
    putNumber(to, board.address >> (24 - 8 * i) & 0xff);
  }
}

// Without the empty line at its end.
static void putHead(Connection &to, const char *method, const char *route, uint16_t length) {
  put(to, method);
  put(to, " ");
  put(to, route, length);
  put(to, " HTTP/1.0\r\nhost: ");
  putHost(to);
  if (board.port != 80) {
    put(to, ":");
    putNumber(to, board.port);
  }
  put(to, "\r\n");
}

// Digits without a leading zero, which stand in an object as they are.
static bool isBare(const char *text, uint16_t length) {
  if (!length || length > 15 || (length > 1 && text[0] == '0')) return false;
  for (uint16_t i = 0; i < length; i++)
    if (!isDigit(text[i])) return false;
  return true;
}

static uint16_t placeOf(char c, const char *text, uint16_t length) {
  uint16_t at = 0;
  while (at < length && text[at] != c) at++;
  return at;
}

// Parameters as they stand in a route, in a body: as they are, or as members of an object. Returns
// how long it is. `to`: nullptr = that is all that is asked.
static uint16_t putBody(Connection *to, bool json, const char *given, uint16_t length) {
  uint16_t said = 0;
  const auto say = [&](const char *text, uint16_t size) {
    said = static_cast<uint16_t>(said + size);
    if (to) put(*to, text, size);
  };
  if (!json) {
    say(given, length);
    return said;
  }
  say("{", 1);
  for (uint16_t at = 0; at < length;) {
    const char *const member = given + at;
    const uint16_t size = placeOf('&', member, static_cast<uint16_t>(length - at));
    const uint16_t name = placeOf('=', member, size);
    const char *const value = member + name + 1;
    const uint16_t rest = static_cast<uint16_t>(name < size ? size - name - 1 : 0);
    const bool bare = isBare(value, rest);
    if (at) say(",", 1);
    say("\"", 1);
    say(member, name);
    say("\":", 2);
    if (!bare) say("\"", 1);
    say(value, rest);
    if (!bare) say("\"", 1);
    at = static_cast<uint16_t>(at + size + 1);
  }
  say("}", 1);
  return said;
}

static void putLength(Connection &to, uint16_t length) {
  put(to, "content-length: ");
  putNumber(to, length);
  put(to, "\r\n");
}

// The first that waits; the state is read by GET.
static void putRequest(Connection &to) {
  const Route &first = waiting[0];
  about = first.about;
  const uint8_t flags = u8(networkPlace(FAR_LINK, NETWORK_FLAGS));
  const bool posts = about != ABOUT_STATE && (flags & BY_POST) != 0;
  const bool json = (flags & AS_JSON) != 0;
  const bool inBody = posts && (json || (flags & AS_FORM) != 0);
  const uint16_t path = inBody ? placeOf('?', first.text, first.length) : first.length;
  putHead(to, posts ? "POST" : "GET", first.text, path);
  if (path < first.length) {
    const char *const given = first.text + path + 1;
    const uint16_t length = static_cast<uint16_t>(first.length - path - 1);
    put(to, json ? "content-type: application/json\r\n"
                 : "content-type: application/x-www-form-urlencoded\r\n");
    putLength(to, putBody(nullptr, json, given, length));
    put(to, "\r\n");
    putBody(&to, json, given, length);
  } else {
    if (posts) putLength(to, 0);
    put(to, "\r\n");
  }
  dropFirst();
}

static void putListening(Connection &to) {
  char route[MOST_TEXT];
  const Place text = u16(networkPlace(FAR_LINK, NETWORK_EVENTS));
  copyText(text, route);
  putHead(to, "GET", route, textLength(text));
  put(to, "accept: text/event-stream\r\n\r\n");
}

// Where the head of an answer ends; 0 = not yet.
static uint16_t headOf(const Connection &of) {
  for (uint16_t i = 3; i < of.length; i++)
    if (memcmp(of.text + i - 3, "\r\n\r\n", 4) == 0) return static_cast<uint16_t>(i + 1);
  return 0;
}

static bool isLetter(char c, char small) { return c == small || c == small - 'a' + 'A'; }

// How long what follows a head is; -1 = it does not say.
static int32_t lengthSaid(const Connection &of, uint16_t head) {
  static const char NAME[] = "content-length:";
  const uint16_t size = sizeof NAME - 1;
  for (uint16_t i = 0; i + size < head; i++) {
    if (i && of.text[i - 1] != '\n') continue;
    uint16_t n = 0;
    while (n < size && (of.text[i + n] == NAME[n] || isLetter(of.text[i + n], NAME[n]))) n++;
    if (n < size) continue;
    int32_t length = 0;
    for (uint16_t at = static_cast<uint16_t>(i + size); at < head && length < 100000; at++) {
      if (of.text[at] == '\r') return length;
      if (isDigit(of.text[at])) length = 10 * length + (of.text[at] - '0');
    }
  }
  return -1;
}

// Three digits behind the version; 0 where there are none.
static uint16_t statusOf(const Connection &of) {
  if (of.length < 12 || memcmp(of.text, "HTTP/1.", 7) != 0) return 0;
  uint16_t status = 0;
  for (uint8_t i = 9; i < 12; i++) {
    if (!isDigit(of.text[i])) return 0;
    status = static_cast<uint16_t>(10 * status + (of.text[i] - '0'));
  }
  return status;
}

static void drop(Connection &of, uint16_t size) {
  of.length = static_cast<uint16_t>(of.length - size);
  memmove(of.text, of.text + size, of.length);
}

static void answered(Ms now, uint16_t head) {
  Connection &is = connections[ASKS];
  const uint16_t status = statusOf(is);
  if (!status) return;
  const Via good = about == ABOUT_STATE ? VIA_ASK : VIA_COMMAND;
  controller.replied(now, status >= 400 ? VIA_REFUSED : good, about, is.text + head,
                     static_cast<uint16_t>(is.length - head));
}

static void linked(Ms now, bool up) {
  if (up == isLinked) return;
  isLinked = up;
  if (up)
    controller.linkUp(now, FAR_LINK);
  else
    controller.linkDown(now, FAR_LINK);
}

// Lines of events; what is no data is left aside. A line that has no room is given up.
static void hearEvents(Ms now, Connection &from) {
  for (uint16_t end = 0; end < from.length;) {
    if (from.text[end] != '\n') {
      end++;
      continue;
    }
    const uint16_t length =
        end && from.text[end - 1] == '\r' ? static_cast<uint16_t>(end - 1) : end;
    static const char DATA[] = "data: ";
    const uint16_t size = sizeof DATA - 1;
    if (length > size && memcmp(from.text, DATA, size) == 0)
      controller.replied(now, VIA_STREAM, ABOUT_SEVERAL, from.text + size,
                         static_cast<uint16_t>(length - size));
    drop(from, static_cast<uint16_t>(end + 1));
    end = 0;
  }
  if (from.length == Limits::answer) from.length = 0;
}

static void hears(Ms now, uint8_t which) {
  Connection &is = connections[which];
  const uint16_t room = static_cast<uint16_t>(Limits::answer - is.length);
  const int16_t came = room ? net::read(which, is.text + is.length, room) : 0;
  if (came > 0) is.length = static_cast<uint16_t>(is.length + came);
  if (is.state == STREAMS_IN) {
    if (came > 0) is.until.set(now + 3 * u32(networkPlace(FAR_LINK, NETWORK_ALIVE)));
    hearEvents(now, is);
    if (came < 0) closes(which);
    return;
  }
  const uint16_t head = headOf(is);
  if (head && which == LISTENS) {
    if (statusOf(is) != 200) return closes(which);
    drop(is, head);
    is.state = STREAMS_IN;
    is.until.set(now + 3 * u32(networkPlace(FAR_LINK, NETWORK_ALIVE)));
    linked(now, true);
    return hearEvents(now, is);
  }
  const int32_t body = head ? lengthSaid(is, head) : -1;
  const bool isAll = head && body >= 0 && is.length - head >= body;
  if (!isAll && came >= 0 && room) return;
  if (head) answered(now, head);
  closes(which, head != 0);
}

static void goesOn(Ms now, uint8_t which) {
  Connection &is = connections[which];
  switch (is.state) {
    case IDLE:
      if (is.until.over(now)) is.until.clear();
      if (!is.until.armed && (which == LISTENS ? listens : count > 0)) connects(now, which);
      break;
    case CONNECTS: {
      const int8_t there = net::isThere(which);
      if (there < 0) return closes(which);
      if (!there) break;
      if (which == ASKS)
        putRequest(is);
      else
        putListening(is);
      is.state = SAYS;
      break;
    }
    case SAYS: {
      const int16_t went =
          net::write(which, is.text + is.sent, static_cast<uint16_t>(is.length - is.sent));
      if (went < 0) return closes(which);
      is.sent = static_cast<uint16_t>(is.sent + went);
      if (is.sent < is.length) break;
      is.length = 0;
      is.state = HEARS;
      break;
    }
    default: hears(now, which);
  }
}

void serve(Ms now) {
  if ((net::isUp() && names::find(board.address)) != isUp) {
    isUp = !isUp;
    if (!isUp) count = 0;
    if (!isUp || !listens) linked(now, isUp);
  }
  while (count && waiting[0].until.over(now)) dropFirst();
  for (uint8_t which = 0; which < 2; which++) {
    Connection &is = connections[which];
    const bool over = is.state != IDLE && is.until.over(now);
    if (over || !isUp) closes(which);
    if (isUp) goesOn(now, which);
    if (is.state != IDLE || which == ASKS) continue;
    // Without its events it does not know how things are.
    if (listens) linked(now, false);
    if (listens && isUp && !is.until.armed) is.until.set(now + AGAIN_MS);
  }
}

void dues(Earliest &due) {
  for (uint8_t which = 0; which < 2; which++) due.take(connections[which].until);
  if (count) due.take(waiting[0].until);
}

}  // namespace client
}  // namespace nolvi
