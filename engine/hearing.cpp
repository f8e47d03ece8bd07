// What comes over a link: from characters or a request to what is asked for, and the answer.
#include "controller.h"
#include "rows.h"
#include "structures.h"
#include "text.h"

namespace nolvi {

const Ms SHORTEST_MS = 50, LONGEST_MS = 86400000, LONGEST_BLINK_MS = 60000;

// A text that came: where it stands and how long it is.
struct Text {
  const char *at;
  uint16_t length;
};

// Whether a text of the table stands in what was said from `from`.
static bool standsAt(Place text, const Text &said, uint16_t from) {
  const uint8_t length = textLength(text);
  return from + length <= said.length && textBegins(text, said.at + from, length);
}

static bool startsWith(Place text, const Text &said) {
  return said.length <= textLength(text) && textBegins(text, said.at, said.length);
}

// A number of at most `most` digits at the end of a text, after `before`; -1 where there is none.
// Shortens the text to what stands before that.
static int32_t numberBehind(Text &said, const char *before, const char *after, uint8_t most) {
  if (!endsWith(said.at, said.length, after)) return -1;
  const uint16_t end = static_cast<uint16_t>(said.length - lengthOf(after));
  uint16_t first = end;
  while (first > 0 && end - first <= most && isDigit(said.at[first - 1])) first--;
  if (first == end || end - first > most) return -1;
  if (!endsWith(said.at, first, before)) return -1;
  int32_t number = 0;
  for (uint16_t i = first; i < end; i++) number = number * 10 + (said.at[i] - '0');
  said.length = static_cast<uint16_t>(first - lengthOf(before));
  return number;
}

static uint8_t styleOf(uint8_t link) { return u8(static_cast<Place>(linkRow(link) + LINK_STYLE)); }

static Meaning noMeaning() {
  const Meaning none = {false, SETS, 0, valueAsk(0), 0};
  return none;
}

static Meaning meaningAt(Place command) {
  Meaning meaning = noMeaning();
  meaning.known = true;
  meaning.kind = u8(static_cast<Place>(command + COMMAND_KIND));
  meaning.load = u8(static_cast<Place>(command + COMMAND_LOAD));
  meaning.ask = askAt(static_cast<Place>(command + COMMAND_ASK));
  meaning.scene = meaning.kind == SETS_SCENE ? u16(static_cast<Place>(command + COMMAND_ASK)) : 0;
  return meaning;
}

static Place commandRow(uint8_t link, uint16_t nth) {
  return row(linkPlace(link, LINK_COMMANDS), COMMAND_SIZE, nth);
}

static bool matches(uint8_t link, Place route, const Text &said) {
  const uint16_t flags = Limits::http ? linkFlags(link) : 0;
  if (flags & BY_BEGINNING) return standsAt(route, said, 0);
  if (flags & BY_PART) {
    for (uint16_t from = 0; from <= said.length; from++)
      if (standsAt(route, said, from)) return true;
    return false;
  }
  return textIs(route, said.at, said.length);
}

const uint8_t MOST_PARAMETERS = 16;

// Whether a parameter comes before another one, letter by letter.
static bool comesBefore(const Text &a, const Text &b) {
  for (uint16_t i = 0; i < a.length && i < b.length; i++) {
    const uint8_t left = static_cast<uint8_t>(a.at[i]), right = static_cast<uint8_t>(b.at[i]);
    if (left != right) return left < right;
  }
  return a.length < b.length;
}

// A route with its parameters in one order, so that they may be asked for in any.
static Text inOrder(const Text &said, char *to) {
  uint16_t path = 0;
  while (path < said.length && said.at[path] != '?') path++;
  if (path == said.length) return said;
  Text parameters[MOST_PARAMETERS];
  uint8_t count = 0;
  uint16_t from = static_cast<uint16_t>(path + 1);
  for (uint16_t i = from;; i++) {
    const bool ends = i >= said.length || said.at[i] == '?';
    if (!ends && said.at[i] != '&') continue;
    if (count == MOST_PARAMETERS) return said;
    const Text parameter = {said.at + from, static_cast<uint16_t>(i - from)};
    uint8_t at = count++;
    for (; at > 0 && comesBefore(parameter, parameters[at - 1]); at--)
      parameters[at] = parameters[at - 1];
    parameters[at] = parameter;
    from = static_cast<uint16_t>(i + 1);
    if (ends) break;
  }
  uint16_t length = 0;
  for (; length <= path; length++) to[length] = said.at[length];
  for (uint8_t i = 0; i < count; i++) {
    if (i) to[length++] = '&';
    for (uint16_t n = 0; n < parameters[i].length; n++) to[length++] = parameters[i].at[n];
  }
  const Text ordered = {to, length};
  return ordered;
}

// As it is looked up: over HTTP, where whole routes are.
static Text lookedUp(uint8_t link, const Text &said, char *to) {
  const bool asItIs = !Limits::http || (linkFlags(link) & (BYTES | BY_BEGINNING | BY_PART)) != 0;
  return asItIs ? said : inOrder(said, to);
}

static Meaning bareMeaning(uint8_t link, const Text &came) {
  char ordered[Limits::buffer + 1];
  const Text said = lookedUp(link, came, ordered);
  const uint16_t count = linkPlace(link, LINK_COUNT);
  for (uint16_t i = 0; i < count; i++) {
    const Place command = commandRow(link, i);
    if (matches(link, u16(command), said)) return meaningAt(command);
  }
  return noMeaning();
}

// A number of up to six digits, with a sign where it has one; returns its length.
static uint8_t readNumber(const Text &said, uint16_t from, int32_t &number) {
  uint8_t length = 0;
  const bool negative = from < said.length && said.at[from] == '-';
  if (negative) length++;
  const uint8_t sign = length;
  number = 0;
  while (from + length < said.length && isDigit(said.at[from + length]) && length < sign + 6) {
    number = number * 10 + (said.at[from + length] - '0');
    length++;
  }
  if (negative) number = -number;
  return length == sign ? 0 : length;
}

// Where a place for a number fits what was said, and the number that stands there.
static bool fits(uint8_t link, Place place, const Text &said, int32_t &number) {
  const Place before = u16(static_cast<Place>(place + PLACE_BEFORE));
  const Place after = u16(static_cast<Place>(place + PLACE_AFTER));
  const uint8_t head = textLength(before);
  const uint16_t flags = Limits::http ? linkFlags(link) : 0;
  if (flags & (BY_BEGINNING | BY_PART)) {
    for (uint16_t from = 0; from <= said.length; from++) {
      if (!standsAt(before, said, from)) {
        if (flags & BY_BEGINNING) return false;
        continue;
      }
      const uint16_t at = static_cast<uint16_t>(from + head);
      const uint8_t length = readNumber(said, at, number);
      return length > 0 && standsAt(after, said, static_cast<uint16_t>(at + length));
    }
    return false;
  }
  const uint8_t tail = textLength(after);
  if (said.length < head + tail || !standsAt(before, said, 0)) return false;
  const uint8_t length = readNumber(said, head, number);
  return length > 0 && static_cast<uint16_t>(head + length + tail) == said.length &&
         standsAt(after, said, static_cast<uint16_t>(head + length));
}

const int32_t MOST_STEPS = 9999;

static Meaning numberMeaning(uint8_t link, const Text &came) {
  char ordered[Limits::buffer + 1];
  const Text said = lookedUp(link, came, ordered);
  Meaning meaning = noMeaning();
  const uint8_t count =
      Limits::numbers ? u8(static_cast<Place>(linkRow(link) + LINK_PLACE_COUNT)) : 0;
  for (uint8_t i = 0; i < count; i++) {
    const Place place = row(linkPlace(link, LINK_PLACES), PLACE_SIZE, i);
    const Place frame = frameOf(link);
    int32_t number;
    if (frame) {
      const Place agreed = u16(static_cast<Place>(place + PLACE_BEFORE));
      if (!structureNumber(frame, agreed, said.at, said.length, number)) continue;
    } else if (!fits(link, place, said, number)) {
      continue;
    }
    const int8_t step = static_cast<int8_t>(u8(static_cast<Place>(place + PLACE_STEP)));
    meaning.known = true;
    meaning.kind = u8(static_cast<Place>(place + PLACE_FRESH)) ? SETS_FRESH : SETS;
    meaning.load = u8(place);
    if (step) {
      if (number > MOST_STEPS) number = MOST_STEPS;
      if (number < -MOST_STEPS) number = -MOST_STEPS;
      meaning.ask = stepsAsk(static_cast<Value>(number * step));
    } else {
      meaning.ask = valueAsk(snapped(meaning.load, number));
    }
    break;
  }
  return meaning;
}

// A code as it is, or one that starts a timer, with a time of its own behind it.
static Meaning meaningOf(uint8_t link, const Text &said) {
  Meaning meaning = bareMeaning(link, said);
  if (!meaning.known) meaning = numberMeaning(link, said);
  if (meaning.known || !Limits::times || !(linkFlags(link) & TIMES_BEHIND)) return meaning;
  Text head = said;
  int32_t ms = -1;
  switch (styleOf(link)) {
    case WORDS: ms = numberBehind(head, " ", "", 8); break;
    case MEMBERS: {
      ms = numberBehind(head, ",\"ms\":", "}", 8);
      break;
    }
    case ROUTE:
      ms = numberBehind(head, "/", "", 8);
      if (ms < 0) ms = numberBehind(head, "&ms=", "", 8);
      break;
    default: break;
  }
  if (ms < 0) return meaning;
  // A member was taken out of an object, whose end is behind it.
  char body[Limits::buffer + 1];
  if (styleOf(link) == MEMBERS) {
    for (uint16_t i = 0; i < head.length; i++) body[i] = head.at[i];
    body[head.length] = '}';
    head.at = body;
    head.length++;
  }
  Meaning timed = bareMeaning(link, head);
  const Ms given = static_cast<Ms>(ms);
  timed.known = timed.known && timed.kind == SETS && isTimer(timed.ask.kind) &&
                given >= SHORTEST_MS &&
                given <= (timed.ask.kind == ASKS_BLINK ? LONGEST_BLINK_MS : LONGEST_MS);
  timed.ask.ms = given;
  return timed;
}

// What is told by the board that a box speaks to.
Meaning Controller::reported(uint8_t link, const char *text, uint16_t length) {
  const Text said = {text, length};
  const Meaning meaning = bareMeaning(link, said);
  return meaning.known ? meaning : numberMeaning(link, said);
}

uint8_t Controller::means(uint8_t link, const char *text, uint16_t length) {
  if (length > Limits::buffer) return MEANS_NOTHING;
  const Text said = {text, length};
  const Meaning meaning = meaningOf(link, said);
  return meaning.known ? meaning.kind : MEANS_NOTHING;
}

static bool movesSomething(uint8_t kind) { return kind <= SETS_SCENE; }

void Controller::received(Ms now, uint8_t link, const char *text, uint16_t length) {
  begin(now);
  heardOn_ = link;
  // What comes over a link that a box knows to be down is no answer.
  if (state.running && !(isBox() && !state.links[link].up)) {
    if (!Limits::http || (linkFlags(link) & BYTES)) {
      for (uint16_t i = 0; i < length; i++) hearChar(link, text[i]);
      // A datagram is whole: what is left half-read at its end is no start of the next.
      if (linkFlags(link) & DATAGRAMS) state.links[link].length = 0;
    } else {
      request(link, text, length);
    }
    if (isFront() && behind().said) askBehind(false);
  }
  finish(false);
}

// A message with an end is looked up whole when it comes.
void Controller::hearChar(uint8_t link, char c) {
  Link &is = state.links[link];
  const Place end = static_cast<Place>(linkRow(link) + LINK_END);
  if (Limits::codes && (linkFlags(link) & CODES)) return hearCode(link, c);
  if (!Limits::lines) return;
  if ((linkFlags(link) & LOOSE_SPACES) && (c == ' ' || c == '\t')) {
    bool quoted = false;
    for (uint16_t i = 0; i < is.length; i++) quoted ^= is.buffer[i] == '"';
    if (!quoted) return;
  }
  const uint8_t first = u8(end), second = u8(static_cast<Place>(end + 1));
  // An end of two characters ends at its second.
  const uint8_t endLength = second ? 2 : 1;
  const char last = static_cast<char>(second ? second : first);
  const bool ends =
      c == last && (!second || (is.length && is.buffer[is.length - 1] == static_cast<char>(first)));
  if (ends) {
    const uint16_t length = static_cast<uint16_t>(is.length - (endLength - 1));
    is.length = 0;
    if (length) hear(link, is.buffer, length);
    return;
  }
  const uint16_t most =
      static_cast<uint16_t>(u16(static_cast<Place>(linkRow(link) + LINK_LONGEST)) + endLength);
  // Longer than any message: only its last character is kept up to date.
  if (is.length >= most || is.length >= Limits::buffer) is.length--;
  is.buffer[is.length++] = c;
}

// Codes follow one another: the shortest that matches wins; what can no longer become one is given
// up and its last character tried again.
void Controller::hearCode(uint8_t link, char c) {
  Link &is = state.links[link];
  if (is.length >= Limits::buffer) is.length--;
  is.buffer[is.length++] = c;
  const Text grown = {is.buffer, is.length};
  bool value = false;
  const uint8_t starts = u8(static_cast<Place>(linkRow(link) + LINK_START_COUNT));
  for (uint8_t i = 0; i < starts; i++) {
    const Place start = u16(row(linkPlace(link, LINK_STARTS), 2, i));
    value = value || (grown.length > textLength(start) && standsAt(start, grown, 0));
  }
  const uint16_t longest = u16(static_cast<Place>(linkRow(link) + LINK_LONGEST));
  const bool inValue = isDigit(c) || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' ||
                       c == '.' || c == ',' || c == '-';
  if (value && c == ';') {
    const uint16_t length = is.length;
    is.length = 0;
    return hear(link, is.buffer, length);
  }
  if (value && grown.length < longest && inValue) return;
  bool begins = false;
  const uint16_t count = linkPlace(link, LINK_COUNT);
  for (uint16_t i = 0; i < count; i++) {
    const Place code = u16(commandRow(link, i));
    if (textIs(code, grown.at, grown.length)) {
      const uint16_t length = is.length;
      is.length = 0;
      return hear(link, is.buffer, length);
    }
    begins = begins || startsWith(code, grown);
  }
  // A message with a number is whole by its length.
  const Place frame = frameOf(link);
  const uint8_t sized = frame ? u8(static_cast<Place>(frame + FRAME_SIZED_COUNT)) : 0;
  for (uint8_t i = 0; i < sized; i++) {
    const Place at = row(u16(static_cast<Place>(frame + FRAME_SIZED)), SIZED_SIZE, i);
    const Place head = u16(at);
    begins = begins || startsWith(head, grown);
    if (grown.length <= textLength(head) || !standsAt(head, grown, 0)) continue;
    const uint16_t length = is.length;
    if (length < u16(static_cast<Place>(at + 2))) return;
    is.length = 0;
    return hear(link, is.buffer, length);
  }
  for (uint8_t i = 0; i < starts; i++)
    begins = begins || startsWith(u16(row(linkPlace(link, LINK_STARTS), 2, i)), grown);
  if (begins) return;
  const uint16_t length = is.length;
  is.length = 0;
  if (length == 1) return hear(link, is.buffer, 1);
  hear(link, is.buffer, static_cast<uint16_t>(length - 1));
  hearCode(link, c);
}

// A command with its number behind it.
bool Controller::numbered(uint8_t link, char *text, uint16_t &length, Meaning &meaning,
                          bool &fresh) {
  if (!Limits::numbered || !u32(static_cast<Place>(linkRow(link) + LINK_NUMBERED))) return false;
  const int32_t number = commandNumber(link, text, length);
  if (number < 0) return false;
  const Text inner = {text, length};
  meaning = meaningOf(link, inner);
  meaning.known = meaning.known && movesSomething(meaning.kind);
  if (meaning.known) fresh = isNew(link, static_cast<uint16_t>(number));
  return true;
}

// What a whole message means: commands and scenes only with their proof, where the link asks for
// one. The text is worked on.
Proof Controller::understood(uint8_t link, char *text, uint16_t &length, Meaning &meaning,
                             bool &fresh) {
  const Text said = {text, length};
  const bool sealed = Limits::sealed && u8(linkPlace(link, LINK_AUTH)) != AUTH_NONE;
  fresh = true;
  meaning = meaningOf(link, said);
  Proof proof = proved(NO_LINK, text, length);
  if (meaning.known && (!sealed || !movesSomething(meaning.kind))) return proof;
  if (sealed) proof = proved(link, text, length);
  if (!proof.ok) return proof;
  if (sealed) {
    length = proof.length;
    const Text bare = {text, length};
    meaning = meaningOf(link, bare);
  }
  if (!meaning.known) numbered(link, text, length, meaning, fresh);
  if (sealed && meaning.known && !movesSomething(meaning.kind)) meaning.known = false;
  if (sealed && meaning.known) taken(link, proof);
  return proof;
}

// The count that a refusal tells.
uint32_t Controller::countTold(uint8_t link, const Proof &proof) {
  return proof.tells == TELLS_HANDED ? handedOut(link) : proof.told;
}

void Controller::hear(uint8_t link, const char *body, uint16_t length) {
  if (isBox()) return hearBox(body, length);
  if (isFront()) {
    if (linkFlags(link) & BEHIND) return hearBehind(link, body, length);
    // Nobody answers for a board that is not heard.
    if (!behind().up) return;
  }
  char text[Limits::buffer + 1];
  for (uint16_t i = 0; i < length; i++) text[i] = body[i];
  Meaning meaning = noMeaning();
  bool fresh = true;
  const Proof proof = understood(link, text, length, meaning, fresh);
  if (!proof.ok) meaning.known = false;
  if (Limits::senders && meaning.known) understands = true;
  Link &is = state.links[link];
  // Whoever says something that is understood is who asked last; nonsense leaves no trace.
  const bool knew = is.up;
  const bool asker = (linkFlags(link) & ANSWERS_ASKERS) != 0;
  if (asker && !knew) is.up = true;
  if (!meaning.known) {
    if (!proof.ok && proof.tells && linkPlace(link, LINK_TOLD_BEFORE))
      send(link, WAITS_COUNT, countTold(link, proof));
    else
      send(link, WAITS_ERROR);
    if (asker && !knew) is.up = false;
    return;
  }
  switch (meaning.kind) {
    case ASKS_STATE: return sendState(link);
    case ASKS_HELLO: send(link, WAITS_HELLO); return;
    case STARTED:
      for (uint8_t i = 0; i < countOf(LOADS); i++)
        is.adopts[i / 8] = static_cast<uint8_t>(is.adopts[i / 8] | 1 << (i % 8));
      return;
    case ASKS_READING: return;
    case LIGHTS: tellLamp(meaning.load, meaning.ask.value != 0); return;
    default: break;
  }
  if (meaning.kind != SETS_SCENE) {
    if (meaning.kind == SETS_FRESH)
      is.adopts[meaning.load / 8] =
          static_cast<uint8_t>(is.adopts[meaning.load / 8] | 1 << (meaning.load % 8));
    if (fresh)
      command(link, meaning.load, meaning.ask);
    else
      acknowledge(link, meaning.load);
    return;
  }
  const uint8_t count = u8(meaning.scene);
  for (uint8_t i = 0; i < count; i++) {
    const Place at = row(static_cast<Place>(meaning.scene + 1), SET_SIZE, i);
    if (fresh)
      command(link, u8(at), askAt(static_cast<Place>(at + 1)));
    else
      acknowledge(link, u8(at));
  }
}

// The number of a command, which is taken off the text; -1 where there is none.
int32_t Controller::commandNumber(uint8_t link, char *text, uint16_t &length) {
  Text head = {text, length};
  int32_t number = -1;
  switch (styleOf(link)) {
    case WORDS: number = numberBehind(head, " #", "", 5); break;
    case MEMBERS: number = numberBehind(head, ",\"no\":", "}", 5); break;
    case ROUTE:
      number = numberBehind(head, "?no=", "", 5);
      if (number < 0) number = numberBehind(head, "&no=", "", 5);
      break;
    default: break;
  }
  if (number < 0) return number;
  length = head.length;
  if (styleOf(link) == MEMBERS) text[length++] = '}';
  return number;
}

// Whether a command is no repeat: its number was not seen lately. The number is remembered.
bool Controller::isNew(uint8_t link, uint16_t number) {
  if (!Limits::seen) return true;
  Link &is = state.links[link];
  for (uint8_t i = 0; i < is.seen; i++)
    if (is.numbers[i].number == number) return false;
  if (is.seen == Limits::seen) {
    is.seen--;
    for (uint8_t i = 0; i < is.seen; i++) is.numbers[i] = is.numbers[i + 1];
  }
  Seen &seen = is.numbers[is.seen++];
  seen.number = number;
  seen.until.set(state.now + u32(static_cast<Place>(linkRow(link) + LINK_NUMBERED)));
  return true;
}

static bool takesSetPoints(uint8_t load) {
  const Kind kind = kindOf(load);
  return kind == LEVEL || kind == FOLLOWER || kind == CHOICE;
}

// Of a load behind this board: where its sender stands moves nothing either, and nobody behind has
// to be told. A knob that is imitated would have to take it as its position.
static bool standsBehind(uint8_t load) {
  const uint8_t kind = loadU8(load, LOAD_DRIVE);
  return kind == LEVEL || kind == CHOICE;
}

// A command sets the output; its link hears an acknowledgement when designed so, at most one report
// in all. Returns whether it was refused.
bool Controller::command(uint8_t link, uint8_t load, const Ask &ask) {
  Link &is = state.links[link];
  const uint8_t bit = static_cast<uint8_t>(1 << (load % 8));
  const bool adopts = (is.adopts[load / 8] & bit) != 0;
  if (isFront() && !(adopts && standsBehind(load))) {
    forward(link, load, ask);
    return false;
  }
  Motion &motion = state.motion[load];
  const Shown before = shown(load);
  const Ask want = asked(load, motion.value, ask);
  if (adopts && (isFront() || takesSetPoints(load))) {
    is.adopts[load / 8] = static_cast<uint8_t>(is.adopts[load / 8] & ~bit);
    if (isKind(load, FOLLOWER)) {
      motion.value = want.value;
      motion.own = want.value;
      motion.state = STOP;
      motion.timers[CLICK_DUE].clear();
      become(load, before, false);
    }
    // Whoever asked for something else than is so has to hear it, however the link reports.
    if (unasked(link)) send(link, load);
    return false;
  }
  const Asking asking = {link, false};
  const Outcome came = wanted(load, motion, want, asking);
  if (came.refused) send(link, WAITS_ERROR);
  const Told told = become(load, before, came.tripped);
  if (!((told >> link) & 1)) acknowledge(link, load);
  return came.refused;
}

void Controller::acknowledge(uint8_t link, uint8_t load) {
  if ((messageFlags(messageOf(link, load)) & ACK) && unasked(link)) send(link, load);
}

const char *const NO_ROUTE = "no such route";
const char *const NOT_NOW = "not allowed now";
const char *const NOT_KNOWN = "not known yet";

void Controller::say(const char *words) const {
  for (const char *c = words; *c; c++) Board::put(*c);
}

// A request over HTTP, and its answer.
void Controller::request(uint8_t link, const char *said, uint16_t length) {
  if (length > Limits::buffer) return answer(link, 404, NO_ROUTE);
  char text[Limits::buffer + 1];
  for (uint16_t i = 0; i < length; i++) text[i] = said[i];
  Meaning meaning = noMeaning();
  bool fresh = true;
  const Proof proof = understood(link, text, length, meaning, fresh);
  if (!proof.ok) {
    const uint32_t told = proof.tells ? countTold(link, proof) : 0;
    Board::begin(link, 403);
    if (proof.seconds) {
      say("its time is ");
      writeUnsigned(proof.seconds);
    }
    say(proof.why);
    if (proof.tells) writeCount(link, told);
    return Board::end();
  }
  if (!meaning.known) return answer(link, 404, NO_ROUTE);
  switch (meaning.kind) {
    case STARTED: return;
    case ASKS_STATE:
      Board::begin(link, 200);
      writeState(link, false);
      return Board::end();
    case ASKS_HELLO:
      Board::begin(link, 200);
      writeHello(link);
      return Board::end();
    case ASKS_READING: return readingAlone(link, meaning.load);
    default: break;
  }
  const Place sets = meaning.kind == SETS_SCENE ? meaning.scene : 0;
  const uint8_t count = sets ? u8(sets) : 1;
  bool refused = false;
  for (uint8_t i = 0; fresh && i < count; i++) {
    const Place at = sets ? row(static_cast<Place>(sets + 1), SET_SIZE, i) : 0;
    const Ask ask = sets ? askAt(static_cast<Place>(at + 1)) : meaning.ask;
    refused = command(link, sets ? u8(at) : meaning.load, ask) || refused;
  }
  if (isFront()) {
    // A repeat too is answered by what is so then, and never by what became of another.
    behind().said = true;
    behind().held = meaning;
    behind().holds = true;
    return;
  }
  answerCommand(link, meaning, refused);
}

// What came of a command, or of a scene.
void Controller::answerCommand(uint8_t link, const Meaning &meaning, bool refused) {
  const Place sets = meaning.kind == SETS_SCENE ? meaning.scene : 0;
  const uint8_t count = sets ? u8(sets) : 1;
  Board::begin(link, refused ? 409 : 200);
  bool any = false;
  for (uint8_t i = 0; i < count; i++) {
    const uint8_t load = sets ? u8(row(static_cast<Place>(sets + 1), SET_SIZE, i)) : meaning.load;
    if (!(messageFlags(messageOf(link, load)) & ACK)) continue;
    writeText(linkPlace(link, any ? LINK_BETWEEN : LINK_HEAD));
    writeReport(link, load, true, false);
    any = true;
  }
  if (any)
    writeText(linkPlace(link, LINK_TAIL));
  else if (refused)
    say(NOT_NOW);
  else
    writeText(linkPlace(link, LINK_DONE));
  Board::end();
}

void Controller::answer(uint8_t link, uint16_t status, const char *words) const {
  Board::begin(link, status);
  say(words);
  Board::end();
}

// The value of one sensor: bare as text, else as any answer.
void Controller::readingAlone(uint8_t link, uint8_t sensor) const {
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    const Place at = row(firstOf(READINGS), READING_SIZE, i);
    if (u8(at) != link || u8(static_cast<Place>(at + READING_SENSOR)) != sensor) continue;
    const Reading reading = readingOf(sensor);
    if (!reading.known) break;
    Board::begin(link, 200);
    if (textLength(linkPlace(link, LINK_HEAD))) {
      writeText(linkPlace(link, LINK_HEAD));
      writeReading(i, true, false);
      writeText(linkPlace(link, LINK_TAIL));
    } else {
      writeValue(reading, BARE);
    }
    return Board::end();
  }
  answer(link, 409, NOT_KNOWN);
}

}  // namespace nolvi
