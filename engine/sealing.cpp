// What proves a command: a fixed word or PIN, or a keyed hash over a counter, the time of day, or a
// number that the board handed out.
#include "controller.h"
#include "sealing.h"
#include "structures.h"
#include "text.h"

namespace nolvi {

const uint32_t COUNTS = 1ul << 30;
const uint8_t COUNT_BYTES = 4;
const uint32_t MOST_AHEAD = 4096;
// Counts behind the highest that are told apart.
const uint32_t MARKS = 31;

static Place authRow(uint8_t link) { return linkPlace(link, LINK_AUTH); }

// A reason; only an answer over HTTP has words for it.
static const char *told(const char *why) { return Limits::http ? why : ""; }

static Proof refused(const char *why) {
  Proof proof;
  proof.ok = false;
  proof.why = told(why);
  proof.seconds = 0;
  proof.tells = TELLS_NOTHING;
  proof.told = 0;
  proof.length = 0;
  return proof;
}

static Proof opened(uint16_t length) {
  Proof proof = refused("");
  proof.ok = true;
  proof.length = length;
  return proof;
}

static bool isHex(char c) { return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'F'); }
static uint8_t hexOf(char c) { return static_cast<uint8_t>(c <= '9' ? c - '0' : c - 'A' + 10); }

// What stands before, between and behind the parts of a proof, by the way a link speaks.
struct Around {
  const char *word;
  const char *otherWord;
  const char *count;
  const char *otherCount;
  const char *tag;
  const char *end;
};
static Around around(uint8_t style) {
  const Around words = {" ", " ", " ", " ", ".", ""};
  const Around members = {",\"key\":\"", ",\"key\":\"", ",\"n\":", ",\"n\":", ",\"tag\":\"", "\"}"};
  const Around route = {"?key=", "&key=", "?n=", "&n=", "&tag=", ""};
  return style == MEMBERS ? members : style == ROUTE ? route : words;
}

// A body ends where its proof begins; that of an object has its end put back.
static uint16_t closed(uint8_t style, char *text, uint16_t length) {
  if (style != MEMBERS) return length;
  text[length] = '}';
  return static_cast<uint16_t>(length + 1);
}

// No line within a line.
static bool isOneLine(const char *text, uint16_t length) {
  for (uint16_t i = 0; i < length; i++)
    if (text[i] == '\n' || text[i] == '\r') return false;
  return true;
}

static Proof wordProof(uint8_t link, char *text, uint16_t length) {
  const uint8_t style = u8(static_cast<Place>(linkRow(link) + LINK_STYLE));
  const Around a = around(style);
  const Proof wrong = refused("the word is missing or wrong");
  const Place secret = u16(static_cast<Place>(authRow(link) + AUTH_SECRET));
  const uint8_t size = textLength(secret);
  if (!endsWith(text, length, a.end)) return wrong;
  const uint16_t end = static_cast<uint16_t>(length - lengthOf(a.end));
  if (end < size) return wrong;
  const uint16_t from = static_cast<uint16_t>(end - size);
  // Takes as long for a wrong word as for a right one.
  uint8_t differs = 0;
  for (uint8_t i = 0; i < size; i++)
    differs = static_cast<uint8_t>(differs | (text[from + i] ^ textChar(secret, i)));
  if (differs) return wrong;
  const char *head = endsWith(text, from, a.word) ? a.word : a.otherWord;
  if (!endsWith(text, from, head)) return wrong;
  const uint16_t body = static_cast<uint16_t>(from - lengthOf(head));
  if (!isOneLine(text, body)) return wrong;
  return opened(closed(style, text, body));
}

// A keyed hash with the secret of a link, to be filled.
static Hmac keyed(uint8_t link) {
  const Place secret = u16(static_cast<Place>(authRow(link) + AUTH_SECRET));
  uint8_t key[64];
  const uint8_t size = textLength(secret);
  for (uint8_t i = 0; i < size; i++) key[i] = static_cast<uint8_t>(textChar(secret, i));
  return Hmac(key, size);
}

void tagOf(uint8_t link, uint32_t count, const char *body, uint16_t length, uint8_t *hash) {
  Hmac hmac = keyed(link);
  for (uint8_t i = 0; i < 4; i++) hmac.put(static_cast<uint8_t>(count >> (24 - 8 * i)));
  for (uint16_t i = 0; i < length; i++) hmac.put(static_cast<uint8_t>(body[i]));
  hmac.finish(hash);
}

static bool wasTaken(const Window &window, uint32_t count) {
  if (window.highest < count) return false;
  const uint32_t behind = window.highest - count;
  return behind <= MARKS && ((window.taken >> behind) & 1);
}

static void take(Window &window, uint32_t count) {
  if (window.highest >= count) {
    window.taken |= static_cast<uint32_t>(1) << (window.highest - count);
    return;
  }
  const uint32_t ahead = count - window.highest;
  window.taken = (ahead > MARKS ? 0 : window.taken << ahead) | 1;
  window.highest = count;
}

Proof Controller::counterProof(uint8_t link, uint32_t counter, uint16_t length) {
  const uint8_t device = static_cast<uint8_t>(counter / COUNTS);
  const uint32_t count = counter % COUNTS;
  Window &window = state.windows[link][device];
  const uint8_t late = u8(static_cast<Place>(authRow(link) + AUTH_WINDOW));
  Proof no = refused("");
  no.tells = TELLS_COUNT;
  no.told = device * COUNTS + window.highest;
  if (count == 0) return refused("counters start at 1");
  if (window.highest > count && window.highest - count > late)
    no.why = told("its counter is too old");
  else if (wasTaken(window, count))
    no.why = told("its counter was taken before: played again");
  else if (count > window.highest && count - window.highest > MOST_AHEAD)
    no.why = told("its counter is too far ahead");
  else {
    // Marked when the command acts, not by what means nothing.
    Proof yes = opened(length);
    yes.told = counter;
    return yes;
  }
  return no;
}

Proof Controller::timeProof(uint8_t link, uint32_t time, uint16_t length) {
  const uint32_t tolerance = u32(static_cast<Place>(authRow(link) + AUTH_SECONDS));
  const uint32_t clock = Board::clockS();
  const bool late = time < clock;
  const uint32_t off = late ? clock - time : time - clock;
  Proof yes = opened(length);
  yes.told = time;
  if (off > tolerance) {
    Proof no = refused(late ? " s behind" : " s ahead");
    no.seconds = off;
    return no;
  }
  if (!u8(static_cast<Place>(authRow(link) + AUTH_WINDOW))) return yes;
  const Window &window = state.windows[link][0];
  if (wasTaken(window, time) || (window.highest > time && window.highest - time > MARKS)) {
    Proof no = refused("its time was taken before: played again");
    no.tells = TELLS_COUNT;
    no.told = window.highest;
    return no;
  }
  return yes;
}

static Proof noProof(uint8_t kind) {
  static const char *const NO_PROOF[] = {"it carries no counter and tag",
                                         "it carries no time and tag",
                                         "it carries no number and tag"};
  return refused(NO_PROOF[kind - AUTH_COUNTER]);
}

// What becomes of a tag over a count and a body.
Proof Controller::weighed(uint8_t link, uint32_t count, const uint8_t *tag, const char *body,
                          uint16_t length) {
  const uint8_t kind = u8(authRow(link));
  const uint8_t tagBytes = u8(static_cast<Place>(authRow(link) + AUTH_TAG));
  const Handed &handed = state.handed[link];
  // Looked at before the tag: a small board is spared the hash.
  if (kind == AUTH_CHALLENGE && !(handed.until.armed && handed.number == count)) {
    Proof no = refused("it does not answer what the board asks now");
    no.tells = TELLS_HANDED;
    return no;
  }
  if (kind == AUTH_COUNTER && length == 0)
    return refused("too short to hold a counter, a code and a tag");
  uint8_t hash[HASH_BYTES];
  tagOf(link, count, body, length, hash);
  uint8_t differs = 0;
  for (uint8_t i = 0; i < tagBytes; i++)
    differs = static_cast<uint8_t>(differs | (hash[i] ^ tag[i]));
  if (differs) return refused("the tag does not fit: another key, or changed on its way");
  if (kind == AUTH_COUNTER) return counterProof(link, count, length);
  if (kind == AUTH_TIME) return timeProof(link, count, length);
  return opened(length);
}

// The count and the tag stand in the frame, behind the structure, which is framed anew.
Proof Controller::structureProof(uint8_t link, char *text, uint16_t length) {
  const Place frame = frameOf(link);
  const Proof none = noProof(u8(authRow(link)));
  const uint8_t tagBytes = u8(static_cast<Place>(authRow(link) + AUTH_TAG));
  char payload[Limits::buffer + 1];
  const uint16_t whole = unframed(frame, text, length, payload);
  const uint16_t proving = static_cast<uint16_t>(COUNT_BYTES + tagBytes);
  if (whole == NO_FRAME || whole <= proving) return none;
  const uint16_t bare = static_cast<uint16_t>(whole - proving);
  uint32_t count = 0;
  for (uint8_t i = 0; i < COUNT_BYTES; i++)
    count = count << 8 | static_cast<uint8_t>(payload[bare + i]);
  if (!count) return none;
  uint8_t tag[HASH_BYTES];
  for (uint8_t i = 0; i < tagBytes; i++)
    tag[i] = static_cast<uint8_t>(payload[bare + COUNT_BYTES + i]);
  Proof proof = weighed(link, count, tag, payload, bare);
  proof.length = framed(frame, payload, bare, text, Limits::buffer);
  return proof.length == NO_FRAME ? none : proof;
}

Proof Controller::proved(uint8_t link, char *text, uint16_t length) {
  if (!Limits::sealed || link == NO_LINK) return opened(length);
  const uint8_t kind = u8(authRow(link));
  if (kind == AUTH_WORD || !Limits::tags) return wordProof(link, text, length);
  if (frameOf(link)) return structureProof(link, text, length);
  const Proof none = noProof(kind);
  const uint8_t style = u8(static_cast<Place>(linkRow(link) + LINK_STYLE));
  const Around a = around(style);
  const uint8_t tagBytes = u8(static_cast<Place>(authRow(link) + AUTH_TAG));
  if (!endsWith(text, length, a.end)) return none;
  const uint16_t end = static_cast<uint16_t>(length - lengthOf(a.end));
  uint16_t at = end;
  while (at > 0 && isHex(text[at - 1])) at--;
  if (end - at != 2 * tagBytes || !endsWith(text, at, a.tag)) return none;
  const uint16_t digitsEnd = static_cast<uint16_t>(at - lengthOf(a.tag));
  uint16_t digits = digitsEnd;
  uint32_t count = 0;
  bool tooLarge = false;
  while (digits > 0 && digitsEnd - digits < MOST_DIGITS && isDigit(text[digits - 1])) digits--;
  for (uint16_t i = digits; i < digitsEnd; i++) {
    const uint8_t digit = static_cast<uint8_t>(text[i] - '0');
    if (count > (0xffffffff - digit) / 10) tooLarge = true;
    count = count * 10 + digit;
  }
  const char *head = endsWith(text, digits, a.count) ? a.count : a.otherCount;
  if (digits == digitsEnd || !endsWith(text, digits, head) || count < 1 || tooLarge) return none;
  const uint16_t body = static_cast<uint16_t>(digits - lengthOf(head));
  if (!isOneLine(text, body)) return none;
  uint8_t tag[HASH_BYTES];
  for (uint8_t i = 0; i < tagBytes; i++)
    tag[i] = static_cast<uint8_t>(hexOf(text[at + 2 * i]) << 4 | hexOf(text[at + 2 * i + 1]));
  return weighed(link, count, tag, text, closed(style, text, body));
}

// What proved a command is not taken again.
void Controller::taken(uint8_t link, const Proof &proof) {
  switch (Limits::tags ? u8(authRow(link)) : static_cast<uint8_t>(AUTH_NONE)) {
    case AUTH_COUNTER: take(state.windows[link][proof.told / COUNTS], proof.told % COUNTS); break;
    case AUTH_TIME:
      if (u8(static_cast<Place>(authRow(link) + AUTH_WINDOW)))
        take(state.windows[link][0], proof.told);
      break;
    case AUTH_CHALLENGE: state.handed[link].until.clear(); break;
    default: break;
  }
  Board::took(link);
}

// The number that is good now, or a new one: whoever asks is given the same.
uint32_t Controller::handedOut(uint8_t link) {
  if (!Limits::tags) return 0;
  Handed &handed = state.handed[link];
  if (handed.until.armed) return handed.number;
  state.drawn++;
  Hmac hmac = keyed(link);
  const uint32_t parts[] = {state.starts, link, state.drawn};
  for (uint8_t i = 0; i < 3; i++) {
    if (i) hmac.put('.');
    char digits[MOST_DIGITS];
    uint8_t count = digitsOf(parts[i], digits);
    while (count) hmac.put(static_cast<uint8_t>(digits[--count]));
  }
  uint8_t hash[HASH_BYTES];
  hmac.finish(hash);
  handed.number = 0;
  for (uint8_t i = 0; i < 4; i++) handed.number = handed.number << 8 | hash[i];
  // 0 is no count, and 1 is said by a sender that was given none.
  if (handed.number < 2) handed.number = 2;
  handed.until.set(state.now + 1000 * u32(static_cast<Place>(authRow(link) + AUTH_SECONDS)));
  return handed.number;
}

}  // namespace nolvi
