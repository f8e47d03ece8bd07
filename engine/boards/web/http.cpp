// A server of HTTP/1.1 (RFC 9112) on what a board gives (net.h). Who is slow or half open takes a
// place and nobody's time.
#include "http.h"

#include <string.h>

#include "board.h"
#include "chip.h"
#include "guesses.h"
#include "net.h"
#include "network.h"
#include "request.h"
#include "site.h"
#include "text.h"
#include "wiring.h"

namespace nolvi {
namespace http {

enum ClientState : uint8_t { FREE, ASKS, WAITS, ANSWERED, LISTENS, LINGERS };

// How long somebody may take to ask, or to take what was said; and to go when all is said.
static const Ms PATIENCE_MS = 15000, LINGER_MS = 1000;

struct Client {
  ClientState state;
  uint8_t link;  // of a stream, or of what waits
  uint32_t from;
  Timer until, alive;
  // What waits to be sent, and how much of it has gone.
  uint16_t length, sent;
  const Page *page;
  uint32_t pageSent;
  // Pieces of the page of the board that have not been put yet.
  uint16_t pieces;
  // Of a board in front: what is answered when the board behind has done it.
  Meaning held;
  uint32_t ticket;
  Request request;
  char out[Limits::out];
};
// None where no link is asked by routes: then nothing of all this is in the program.
static Client clients[some(Limits::http ? Limits::clients : 0)];
static Guesses guesses;
// The stream that something is for; ALL = each of its link.
static const uint8_t ALL = 255;
static uint8_t only = ALL;
// What the controller answered.
static bool replied;
static uint16_t replyStatus;
static const char *reply;
static uint16_t replyLength;

// --- What is said ---

static void put(Client &to, const char *text, uint16_t length) {
  if (length > Limits::out - to.length) length = static_cast<uint16_t>(Limits::out - to.length);
  memcpy(to.out + to.length, text, length);
  to.length = static_cast<uint16_t>(to.length + length);
}
static void put(Client &to, const char *text) { put(to, text, lengthOf(text)); }
static void putNumber(Client &to, uint32_t number) {
  char digits[MOST_DIGITS];
  uint8_t count = digitsOf(number, digits);
  while (count) put(to, &digits[--count], 1);
}

static const char *phraseOf(uint16_t status) {
  switch (status) {
    case 200: return "OK";
    case 204: return "No Content";
    case 302: return "Found";
    case 303: return "See Other";
    case 400: return "Bad Request";
    case 403: return "Forbidden";
    case 404: return "Not Found";
    case 405: return "Method Not Allowed";
    case 409: return "Conflict";
    case 411: return "Length Required";
    case 413: return "Content Too Large";
    case 414: return "URI Too Long";
    case 421: return "Misdirected Request";
    case 429: return "Too Many Requests";
    default: return "Service Unavailable";
  }
}

static void header(Client &to, const char *name, const char *value) {
  put(to, name);
  put(to, ": ");
  put(to, value);
  put(to, "\r\n");
}

static void head(Client &to, uint16_t status) {
  to.length = to.sent = 0;
  put(to, "HTTP/1.1 ");
  putNumber(to, status);
  put(to, " ");
  put(to, phraseOf(status));
  put(to, "\r\n");
}

// Pages from a file or from another address may read what a board says.
static void open(Client &to) {
  header(to, "access-control-allow-origin", "*");
  header(to, "access-control-allow-private-network", "true");
  header(to, "access-control-allow-headers", "content-type");
}

static void answered(Client &to) {
  to.state = ANSWERED;
  to.page = 0;
  to.pieces = 0;
}

static void headEnds(Client &to, uint32_t length) {
  put(to, "content-length: ");
  putNumber(to, length);
  header(to, "\r\nconnection", "close");
  put(to, "\r\n");
}

// A text; an answer to HEAD is without it.
static void text(Client &to, const char *type, const char *words, uint16_t length) {
  put(to, "content-type: ");
  put(to, type);
  put(to, "; charset=utf-8\r\n");
  header(to, "cache-control", "no-store");
  headEnds(to, length + 1u);
  if (to.request.method() != METHOD_HEAD) {
    put(to, words, length);
    put(to, "\n");
  }
  answered(to);
}
static void text(Client &to, const char *words) { text(to, "text/plain", words, lengthOf(words)); }

static void refuse(Client &to, uint16_t status, const char *words) {
  head(to, status);
  text(to, words);
}

// The same to pages from elsewhere.
static void refuseOpen(Client &to, uint16_t status, const char *words) {
  head(to, status);
  open(to);
  text(to, words);
}

// What may be asked for, before it is.
static void allow(Client &to) {
  head(to, 204);
  open(to);
  headEnds(to, 0);
  answered(to);
}

static void lead(Client &to, uint16_t status, const char *where, bool isOpen) {
  head(to, status);
  if (isOpen) open(to);
  header(to, "location", where);
  headEnds(to, 0);
  answered(to);
}

// --- Streams ---

static void drop(uint8_t client, Ms now) {
  Client &is = clients[client];
  const bool listened = is.state == LISTENS;
  net::close(client);
  is.state = FREE;
  if (!listened) return;
  for (uint8_t i = 0; i < Limits::clients; i++)
    if (clients[i].state == LISTENS && clients[i].link == is.link) return;
  controller.linkDown(now, is.link);
}

// Whether so much finds room in a stream; who takes in nothing is let go.
static bool hasRoom(Client &to, uint32_t room) {
  memmove(to.out, to.out + to.sent, static_cast<uint16_t>(to.length - to.sent));
  to.length = static_cast<uint16_t>(to.length - to.sent);
  to.sent = 0;
  if (to.length + room <= Limits::out) return true;
  to.until.set(controller.state.now);
  return false;
}

// An event: each line of a text behind its name.
static void tell(Client &to, const char *words, uint16_t length) {
  uint16_t lines = 1;
  for (uint16_t i = 0; i < length; i++)
    if (words[i] == '\n') lines++;
  if (!hasRoom(to, length + lines * 6u + 2)) return;
  uint16_t from = 0;
  for (uint16_t i = 0; i <= length; i++) {
    if (i < length && words[i] != '\n') continue;
    put(to, "data: ");
    put(to, words + from, static_cast<uint16_t>(i - from));
    put(to, "\n");
    from = static_cast<uint16_t>(i + 1);
  }
  put(to, "\n");
}

void say(uint8_t link, uint16_t status, const char *words, uint16_t length) {
  if (!Limits::http) return;
  if (status) {
    replied = true;
    replyStatus = status;
    reply = words;
    replyLength = length;
    return;
  }
  for (uint8_t i = 0; i < Limits::clients; i++)
    if (clients[i].state == LISTENS && clients[i].link == link && (only == ALL || only == i))
      tell(clients[i], words, length);
}

static const char *const ALIVE = "event: alive\ndata:\n\n";
static uint32_t aliveMs(uint8_t link) { return u32(networkPlace(link, NETWORK_ALIVE)); }

static void listens(uint8_t client, uint8_t link, Ms now) {
  Client &to = clients[client];
  uint16_t others = 0;
  for (uint8_t i = 0; i < Limits::clients; i++)
    if (clients[i].state == LISTENS) others++;
  if (others >= Limits::streams) return refuse(to, 503, "too many clients");
  head(to, 200);
  open(to);
  header(to, "content-type", "text/event-stream");
  header(to, "cache-control", "no-store");
  header(to, "connection", "close");
  put(to, "\r\n: open\n\n");
  to.state = LISTENS;
  to.link = link;
  to.until.clear();
  to.alive.set(now + aliveMs(link));
  only = client;
  controller.linkUp(now, link);
  only = ALL;
}

// --- What is asked for ---

static const char *const NO_ANSWER = "the board does not answer";

static bool isHttp(uint8_t link) { return u8(portPlace(link, PORT_KIND)) == HTTP_PORT; }
static uint8_t flagsOf(uint8_t link) { return u8(networkPlace(link, NETWORK_FLAGS)); }
static Place textOf(uint8_t link, NetworkAt what) { return u16(networkPlace(link, what)); }

static bool isStream(uint8_t link, const char *route, uint16_t length) {
  return (linkFlags(link) & STREAMS) && textIs(textOf(link, NETWORK_EVENTS), route, length);
}
static bool takes(uint8_t link, const char *route, uint16_t length) {
  return isHttp(link) &&
         (isStream(link, route, length) || controller.means(link, route, length) != MEANS_NOTHING);
}
const uint8_t NOBODYS = 255;
static uint8_t whoTakes(const char *route, uint16_t length) {
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    if (takes(i, route, length)) return i;
  return NOBODYS;
}

// Whether a parameter stands behind a command: its number, its time, its proof.
static bool isBehind(const char *parameter, uint16_t length) {
  const char *const NAMES[] = {"no", "ms", "key", "n", "tag"};
  uint16_t name = 0;
  while (name < length && parameter[name] != '=') name++;
  for (uint8_t i = 0; i < sizeof NAMES / sizeof *NAMES; i++)
    if (lengthOf(NAMES[i]) == name && memcmp(NAMES[i], parameter, name) == 0) return true;
  return false;
}

// The target with its own parameters; returns its length, and whether it has some.
static uint16_t ownRoute(const Request &request, char *to, bool &any) {
  const char *const target = request.target();
  const uint16_t path = request.pathLength();
  // What a body may hold of it, a browser keeps for itself.
  uint16_t end = path;
  while (end < request.targetLength() && target[end] != '#') end++;
  memcpy(to, target, path);
  uint16_t length = path;
  any = false;
  for (uint16_t from = static_cast<uint16_t>(path + 1); from < end;) {
    uint16_t till = from;
    while (till < end && target[till] != '&' && target[till] != '?') till++;
    const uint16_t size = static_cast<uint16_t>(till - from);
    if (size && !isBehind(target + from, size)) {
      to[length++] = any ? '&' : '?';
      memcpy(to + length, target + from, size);
      length = static_cast<uint16_t>(length + size);
      any = true;
    }
    // What stands behind a second mark is nobody's.
    if (till < end && target[till] == '?') break;
    from = static_cast<uint16_t>(till + 1);
  }
  return length;
}

static const char *typeOf(uint8_t link) {
  const char *const TYPES[] = {"text/plain", "application/json", "text/html"};
  return TYPES[flagsOf(link) & ANSWERS_MASK];
}

// What the controller answered.
static void concludes(Client &to, uint8_t link, bool moves) {
  const Request &request = to.request;
  const Place page = textOf(link, NETWORK_PAGE);
  if (page && moves && request.navigates()) {
    char where[MOST_TEXT];
    copyText(page, where);
    return lead(to, 303, where, true);
  }
  head(to, replyStatus);
  open(to);
  text(to, replyStatus == 200 ? typeOf(link) : "text/plain", reply, replyLength);
}

// Of a board in front: what the board behind has done is answered.
static void waits(Client &to, Ms now) {
  if (!controller.isAnswered(to.ticket)) return;
  if (!Controller::behind().up) return refuseOpen(to, 503, NO_ANSWER);
  replied = false;
  controller.answerHeld(now, to.link, to.held, to.ticket);
  concludes(to, to.link, true);
}

static void command(uint8_t client, uint8_t link, const char *route, uint16_t length, Ms now) {
  Client &to = clients[client];
  const Request &request = to.request;
  if (request.method() == METHOD_OPTIONS) return allow(to);
  const uint8_t means = controller.means(link, route, length);
  const bool moves = means <= SETS_SCENE;
  if (request.method() != METHOD_GET && request.method() != METHOD_POST)
    return refuseOpen(to, 405, "GET or POST");
  if (moves && (flagsOf(link) & BY_POST) && request.method() != METHOD_POST)
    return refuseOpen(to, 405, "commands are asked for by POST");
  // Nobody answers for a board behind that is not heard.
  if (Controller::isFront() && !Controller::behind().up) return refuseOpen(to, 503, NO_ANSWER);
  if (isStream(link, route, length)) return listens(client, link, now);
  const bool proves = Limits::sealed && u8(linkPlace(link, LINK_AUTH)) != AUTH_NONE;
  const uint32_t wait = proves ? guesses.waits(to.from, now) : 0;
  if (wait) {
    head(to, 429);
    open(to);
    put(to, "retry-after: ");
    putNumber(to, wait);
    put(to, "\r\n");
    return text(to, "too many wrong proofs");
  }
  // Number, time and proof stand behind the route.
  const bool whole =
      (flagsOf(link) & ASKED_WHOLE) ||
      controller.means(link, request.target(), request.targetLength()) != MEANS_NOTHING;
  replied = false;
  if (Controller::isFront()) Controller::behind().holds = false;
  controller.received(now, link, whole ? request.target() : route,
                      whole ? request.targetLength() : length);
  keep();
  if (Controller::isFront() && Controller::behind().holds) {
    if (proves) guesses.right(to.from);
    to.state = WAITS;
    to.link = link;
    to.held = Controller::behind().held;
    to.ticket = Controller::behind().asked;
    return;
  }
  if (!replied) return refuseOpen(to, 503, NO_ANSWER);
  if (proves && replyStatus == 403) guesses.failed(to.from, now);
  if (proves && replyStatus == 200) guesses.right(to.from);
  concludes(to, link, moves);
}

static void shows(Client &to, const Page &page) {
  head(to, 200);
  put(to, "content-type: ");
  put(to, page.type);
  put(to, "; charset=utf-8\r\n");
  header(to, "content-encoding", "gzip");
  header(to, "cache-control", "no-cache");
  header(to, "x-content-type-options", "nosniff");
  header(to, "referrer-policy", "no-referrer");
  headEnds(to, page.length);
  answered(to);
  if (to.request.method() == METHOD_HEAD) return;
  to.page = &page;
  to.pageSent = 0;
}

// The page of the board, with how all is filled in. How long it becomes shows when it is there.
static void showsState(Client &to, uint8_t link) {
  head(to, 200);
  header(to, "content-type", "text/html; charset=utf-8");
  header(to, "cache-control", "no-store");
  header(to, "x-content-type-options", "nosniff");
  header(to, "referrer-policy", "no-referrer");
  header(to, "content-security-policy",
         "default-src 'none'; style-src 'unsafe-inline'; img-src data:; form-action 'self'; "
         "base-uri 'none'");
  header(to, "connection", "close");
  put(to, "\r\n");
  answered(to);
  to.link = link;
  to.pieces = u16(networkPlace(link, NETWORK_PIECE_COUNT));
}

static void putText(Client &to, Place text) {
  const uint8_t length = textLength(text);
  for (uint8_t i = 0; i < length; i++) {
    const char c = textChar(text, i);
    put(to, &c, 1);
  }
}

static void putPiece(Client &to, Place piece) {
  const Place first = u16(static_cast<Place>(piece + PIECE_FIRST));
  const Place second = u16(static_cast<Place>(piece + PIECE_SECOND));
  const uint8_t of = u8(static_cast<Place>(piece + PIECE_OF));
  bool isNumber = false;
  switch (u8(piece)) {
    case PIECE_CHOICE: {
      const Value value = i16(static_cast<Place>(piece + PIECE_VALUE));
      return putText(to, controller.state.motion[of].value == value ? first : second);
    }
    case PIECE_NUMBER:
      if (!controller.sayNumber(to.link, of)) return;
      putText(to, first);
      put(to, reply, replyLength);
      return putText(to, second);
    case PIECE_READING:
      if (!controller.sayReading(to.link, of, isNumber)) return putText(to, second);
      put(to, reply, replyLength);
      if (isNumber) putText(to, first);
      return;
    default: return putText(to, first);
  }
}

// As many pieces as there is room for.
static void putPieces(Client &to) {
  const uint16_t LONGEST = 2 * 255 + 32;
  to.length = to.sent = 0;
  const uint16_t count = u16(networkPlace(to.link, NETWORK_PIECE_COUNT));
  const Place first = u16(networkPlace(to.link, NETWORK_PIECES));
  while (to.pieces && to.length + LONGEST <= Limits::out) {
    putPiece(to, row(first, PIECE_SIZE, static_cast<uint16_t>(count - to.pieces)));
    to.pieces--;
  }
}

static const char *ownName() {
  static char name[64];
  const Place own = u16(wiring(OWN_NAME));
  if (textLength(own) < sizeof name) copyText(own, name);
  return name;
}

static void answer(uint8_t client, Ms now) {
  Client &to = clients[client];
  Request &request = to.request;
  if (!request.isNamed(ownName())) return refuse(to, 421, "this is not the name of this board");
  if (request.isOutside(ownName())) return refuse(to, 403, "asked for by a page from elsewhere");
  for (uint8_t i = 0; i < PAGE_COUNT; i++) {
    const uint16_t length = lengthOf(PAGES[i].route);
    const bool looks = request.method() == METHOD_GET || request.method() == METHOD_HEAD;
    if (looks && length == request.pathLength() &&
        memcmp(PAGES[i].route, request.target(), length) == 0)
      return shows(to, PAGES[i]);
  }
  for (uint8_t i = 0; i < countOf(LINKS) && request.method() == METHOD_GET; i++)
    if (isHttp(i) && textIs(textOf(i, NETWORK_PAGE), request.target(), request.pathLength()))
      return Controller::isFront() && !Controller::behind().up ? refuse(to, 503, NO_ANSWER)
                                                               : showsState(to, i);
  if (!request.withBody()) return refuse(to, 400, "a body is a form or a JSON object");
  static char route[Limits::request];
  bool any;
  uint16_t length = ownRoute(request, route, any);
  uint8_t link = whoTakes(route, length);
  // Parameters that no route has (a browser's own) are passed over.
  if (any && link == NOBODYS) {
    length = request.pathLength();
    link = whoTakes(route, length);
  }
  if (link != NOBODYS) return command(client, link, route, length, now);
  if (request.pathLength() == 1 && *FIRST_PAGE && request.method() != METHOD_OPTIONS)
    return lead(to, 302, FIRST_PAGE, false);
  if (request.method() == METHOD_OPTIONS) return allow(to);
  refuseOpen(to, 404, "no such route");
}

// --- Round after round ---

static void finished(uint8_t client, Ms now) {
  Client &is = clients[client];
  net::finish(client);
  is.state = LINGERS;
  is.until.set(now + LINGER_MS);
}

// At most so much of a page goes out in a round.
static const uint16_t PIECE = 1024;

static void writes(uint8_t client, Ms now) {
  Client &is = clients[client];
  if (is.sent == is.length && is.pieces) putPieces(is);
  const bool first = is.sent < is.length;
  if (!first && !is.page) return;
  int16_t went;
  if (first) {
    went = net::write(client, is.out + is.sent, static_cast<uint16_t>(is.length - is.sent));
    if (went > 0) is.sent = static_cast<uint16_t>(is.sent + went);
  } else {
    char piece[PIECE];
    const uint32_t left = is.page->length - is.pageSent;
    const uint16_t size = left < PIECE ? static_cast<uint16_t>(left) : PIECE;
    chip::readFlash(piece, is.page->bytes + is.pageSent, size);
    went = net::write(client, piece, size);
    if (went > 0) is.pageSent += static_cast<uint32_t>(went);
    if (is.pageSent == is.page->length) is.page = 0;
  }
  if (went < 0) return drop(client, now);
  if (went > 0 && is.state == ANSWERED) is.until.set(now + PATIENCE_MS);
  if (is.state == ANSWERED && is.sent == is.length && !is.page && !is.pieces) finished(client, now);
}

static void reads(uint8_t client, Ms now) {
  Client &is = clients[client];
  char piece[256];
  const int16_t came = net::read(client, piece, sizeof piece);
  if (came < 0) {
    // Who has said all may still listen to an answer.
    if (is.state != ANSWERED && is.state != WAITS) drop(client, now);
    return;
  }
  if (is.state != ASKS) return;
  for (int16_t i = 0; i < came && is.request.stage() < STAGE_WHOLE; i++) is.request.take(piece[i]);
  if (is.request.stage() == STAGE_WHOLE) {
    is.until.set(now + PATIENCE_MS);
    answer(client, now);
  } else if (is.request.stage() == STAGE_WRONG) {
    const uint16_t status = is.request.wrong();
    refuse(is, status, status == 413 || status == 414 ? "that is too long" : "that is no request");
  }
}

static bool takesIn(uint8_t client, Ms now) {
  Client &is = clients[client];
  if (!net::accept(client, is.from)) return false;
  is.state = ASKS;
  is.request.clear();
  is.length = is.sent = 0;
  is.page = 0;
  is.pieces = 0;
  is.until.set(now + PATIENCE_MS);
  return true;
}

void begin(Ms now) {
  if (!Limits::http) return;
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    if (isHttp(i) && !(linkFlags(i) & STREAMS)) controller.linkUp(now, i);
}

void serve(Ms now) {
  if (!Limits::http) return;
  uint8_t free = 0;
  for (uint8_t i = 0; i < Limits::clients; i++) {
    Client &is = clients[i];
    if (is.state == FREE && !takesIn(i, now)) {
      free++;
      continue;
    }
    reads(i, now);
    if (is.state == FREE) continue;
    const bool unheard = Controller::isFront() && is.state == LISTENS && !Controller::behind().up;
    if ((is.until.armed && is.until.over(now)) || unheard ||
        (is.state == LINGERS && net::isTaken(i))) {
      drop(i, now);
      continue;
    }
    if (is.state == WAITS) waits(is, now);
    // Without power there is none; here the power is always there.
    if (is.state == LISTENS && is.alive.over(now)) {
      is.alive.set(is.alive.due + aliveMs(is.link));
      if (hasRoom(is, lengthOf(ALIVE))) put(is, ALIVE);
    }
    writes(i, now);
  }
  if (free) return;
  // Somebody new may come: who has asked nothing for the longest gives way.
  uint8_t oldest = ALL;
  for (uint8_t i = 0; i < Limits::clients; i++)
    if (clients[i].state == ASKS &&
        (oldest == ALL || reached(clients[oldest].until.due, clients[i].until.due)))
      oldest = i;
  if (oldest != ALL && !reached(clients[oldest].until.due, now + PATIENCE_MS - LINGER_MS))
    drop(oldest, now);
}

void dues(Earliest &due) {
  if (!Limits::http) return;
  for (uint8_t i = 0; i < Limits::clients; i++) {
    if (clients[i].state == FREE) continue;
    due.take(clients[i].until);
    if (clients[i].state == LISTENS) due.take(clients[i].alive);
  }
}

}  // namespace http
}  // namespace nolvi
