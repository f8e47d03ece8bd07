// A box: what its contacts, knobs and sensors come to it asks of another board, over one link. Of
// the loads there it knows what it hears, and what it may believe until then: docs/behaviour.md,
// "Boxes that are boards" and "Panel".
#include "answers.h"
#include "controller.h"
#include "rows.h"
#include "sealing.h"
#include "structures.h"
#include "text.h"

namespace nolvi {

const Value UNKNOWN = -1;
// Where it begins to number lies so far from where it began before that nothing passes for a
// repeat.
const uint32_t START_APART = 1009, FIRST_NUMBERS = 60000;
const uint16_t LAST_NUMBER = 65535;

static Box known;
Box &Controller::box() { return known; }

static Place asking(AskingAt at) {
  return static_cast<Place>(linkPlace(FAR_LINK, LINK_ASKING) + at);
}
static Policy policy() { return static_cast<Policy>(u8(asking(ASKING_POLICY))); }
static uint8_t flagged() { return u8(asking(ASKING_FLAGGED)); }
static bool isRelative(Asks asks) {
  return asks == ASKS_TOGGLE || asks == ASKS_NEXT || asks == ASKS_STEPS;
}

// Takes one out of a list. Compilers cannot see that no list is fuller than it has room.
template <typename T, uint16_t ROOM>
static void without(T (&list)[ROOM], uint8_t &count, uint8_t at) {
  count--;
  for (uint8_t i = at; i < count && i + 1u < ROOM; i++) list[i] = list[i + 1u];
}

// --- What can be said ---

// The row that asks for just that; 0 = none.
static Place sayRow(uint8_t load, const Ask &ask) {
  const uint16_t count = u16(asking(ASKING_SAY_COUNT));
  for (uint16_t i = 0; i < count; i++) {
    const Place at = row(u16(asking(ASKING_SAYS)), SAY_SIZE, i);
    if (u8(static_cast<Place>(at + SAY_LOAD)) != load) continue;
    const Ask said = askAt(static_cast<Place>(at + SAY_ASK));
    if (said.kind == ask.kind && (isTimer(ask.kind) || said.value == ask.value)) return at;
  }
  return 0;
}

// The row with a place for a number: of the load, or of steps up (1) or down (-1); 0 = none.
static Place numberRow(uint8_t load, int8_t step) {
  const uint8_t count = Limits::numbers ? u8(asking(ASKING_NUMBER_COUNT)) : 0;
  for (uint8_t i = 0; i < count; i++) {
    const Place at = row(u16(asking(ASKING_NUMBERS)), SAY_NUMBER_SIZE, i);
    if (u8(at) == load && static_cast<int8_t>(u8(static_cast<Place>(at + SAY_NUMBER_STEP))) == step)
      return at;
  }
  return 0;
}

static int8_t stepOf(const Ask &ask) {
  if (ask.kind != ASKS_STEPS) return 0;
  return ask.value < 0 ? -1 : 1;
}

// Whether there is a code for a step, a change or the next one.
static bool hasCode(uint8_t load, const Ask &ask) {
  const int8_t step = stepOf(ask);
  return step ? sayRow(load, stepsAsk(step)) || numberRow(load, step) : sayRow(load, ask) != 0;
}

// Whether one message says several steps, either way.
static bool saysSteps(uint8_t load) { return numberRow(load, 1) && numberRow(load, -1); }

// What can be said of a value: itself, or the named value that comes nearest.
static Value sayable(uint8_t load, Value value) {
  if (nameOf(load, value) >= 0 || !isValue(load, value)) return value;
  return numberRow(load, 0) ? value : nearestNamed(load, value);
}

uint16_t Controller::freshNumber() {
  if (!Limits::numbered || !u32(static_cast<Place>(linkRow(FAR_LINK) + LINK_NUMBERED))) return 0;
  uint16_t &number = box().number;
  number = number == LAST_NUMBER ? 1 : static_cast<uint16_t>(number + 1);
  return number;
}

// A text that is on the wire as it stands.
void Controller::sayWhole(Place text) {
  if (!textLength(text)) return;
  box().about = ABOUT_STATE;
  Board::begin(FAR_LINK, 0);
  writeText(text);
  Board::end();
}

// A command as it is put together: its text, or what stands before and behind a number; a time, its
// number and what proves it stand behind that, before the end of an object.
class Said {
 public:
  Said() : text(), length(0), style_(u8(static_cast<Place>(linkRow(FAR_LINK) + LINK_STYLE))) {}

  char text[Limits::buffer + 1];
  uint16_t length;

  void put(char c) {
    if (length < Limits::buffer) text[length++] = c;
  }
  void put(const char *words) {
    while (*words) put(*words++);
  }
  void putText(Place from) {
    const uint8_t size = textLength(from);
    for (uint8_t i = 0; i < size; i++) put(textChar(from, i));
  }
  void putNumber(int32_t number) {
    if (number < 0) put('-');
    putCount(sizeOf(number));
  }
  void putCount(uint32_t count) {
    char digits[MOST_DIGITS];
    uint8_t left = digitsOf(count, digits);
    while (left) put(digits[--left]);
  }
  void putHex(uint8_t value) {
    put("0123456789ABCDEF"[value >> 4]);
    put("0123456789ABCDEF"[value & 15]);
  }
  // What stands before something behind it, by the way the link speaks: a word, a member, the first
  // parameter of a route or one more. An object is open from here on.
  void putBehind(const char *word, const char *member, const char *first, const char *more) {
    if (isObject() && length) length--;
    if (Limits::routes && style_ == ROUTE)
      put(hasParameters() ? more : first);
    else
      put(isObject() ? member : word);
  }
  void close() {
    if (isObject()) put('}');
  }
  bool isObject() const { return style_ == MEMBERS; }
  bool isRoute() const { return Limits::routes && style_ == ROUTE; }
  bool hasRoomBehind() const { return style_ != NOTHING_BEHIND; }

 private:
  uint8_t style_;

  bool hasParameters() const {
    for (uint16_t i = 0; i < length; i++)
      if (text[i] == '?') return true;
    return false;
  }
};

static uint8_t authKind() {
  return Limits::sealed ? u8(linkPlace(FAR_LINK, LINK_AUTH)) : static_cast<uint8_t>(AUTH_NONE);
}
static bool isSigned() { return Limits::tags && authKind() > AUTH_WORD; }

static void putWord(Said &to) {
  to.putBehind(" ", ",\"key\":\"", "?key=", "&key=");
  to.putText(u16(static_cast<Place>(linkPlace(FAR_LINK, LINK_AUTH) + AUTH_SECRET)));
  if (to.isObject()) to.put('"');
  to.close();
}

// What signs it: in a structure bytes behind it, else its count and a tag in hexadecimal.
static void putTag(Said &to, uint32_t count, bool inFrame) {
  const uint8_t size = u8(static_cast<Place>(linkPlace(FAR_LINK, LINK_AUTH) + AUTH_TAG));
  uint8_t tag[HASH_BYTES];
  tagOf(FAR_LINK, count, to.text, to.length, tag);
  if (inFrame) {
    for (uint8_t i = 0; i < 4; i++) to.put(static_cast<char>(count >> (24 - 8 * i)));
    for (uint8_t i = 0; i < size; i++) to.put(static_cast<char>(tag[i]));
    return;
  }
  to.putBehind(" ", ",\"n\":", "?n=", "&n=");
  to.putCount(count);
  if (to.isObject())
    to.put(",\"tag\":\"");
  else
    to.put(to.isRoute() ? "&tag=" : ".");
  for (uint8_t i = 0; i < size; i++) to.putHex(tag[i]);
  if (to.isObject()) to.put('"');
  to.close();
}

// What it signs is kept before it is said: no count is said twice. A time is that of its clock, or
// later where each is taken once. Whoever was given no number says 1, which is nobody's, and is
// told one.
static uint32_t nextCount(uint32_t &last) {
  if (authKind() == AUTH_TIME) {
    const uint32_t clock = Board::clockS();
    const bool once = u8(static_cast<Place>(linkPlace(FAR_LINK, LINK_AUTH) + AUTH_WINDOW)) != 0;
    last = once && clock <= last ? last + 1 : clock;
  } else if (authKind() != AUTH_CHALLENGE) {
    last++;
  } else if (!last) {
    last = 1;
  }
  if (authKind() == AUTH_COUNTER) Board::took(FAR_LINK);
  return last;
}

// With what proves it, and its end. A structure is bare until then where numbers or proofs stand in
// frames.
void Controller::saySealed(Said &what) {
  const Place frame = frameOf(FAR_LINK);
  if (isSigned())
    putTag(what, nextCount(state.windows[FAR_LINK][0].highest), frame != 0);
  else if (authKind() == AUTH_WORD)
    putWord(what);
  char framedText[some(Limits::frames) * Limits::buffer];
  const char *text = what.text;
  uint16_t length = what.length;
  if (frame) {
    length = framed(frame, what.text, what.length, framedText, Limits::buffer);
    if (length == NO_FRAME) return;
    text = framedText;
  }
  Board::begin(FAR_LINK, 0);
  for (uint16_t i = 0; i < length; i++) Board::put(text[i]);
  writeEnd(FAR_LINK);
  Board::end();
}

// What asks a load for something; false = there is no code for it.
static bool putAsk(Said &to, uint8_t load, const Ask &ask, bool starts) {
  const int8_t step = stepOf(ask);
  const Place numbers =
      step || (ask.kind == ASKS_VALUE && isValue(load, ask.value)) ? numberRow(load, step) : 0;
  const Place own = step && (numbers || ask.value != step) ? 0 : sayRow(load, ask);
  if (own) {
    to.putText(u16(static_cast<Place>(own + (starts ? SAY_FRESH : SAY_TEXT))));
    if (isTimer(ask.kind) && ask.ms && to.hasRoomBehind()) {
      to.putBehind(" ", ",\"ms\":", "/", "&ms=");
      to.putCount(ask.ms);
      to.close();
    }
    return true;
  }
  if (!numbers) return false;
  const int32_t value = step < 0 ? -ask.value : ask.value;
  const Place before = u16(static_cast<Place>(numbers + SAY_NUMBER_BEFORE));
  if (frameOf(FAR_LINK)) {
    const Place agreed = starts ? u16(static_cast<Place>(numbers + SAY_NUMBER_FRESH)) : before;
    to.length = withNumber(agreed, frameOf(FAR_LINK), value, to.text);
    return true;
  }
  to.putText(before);
  to.putNumber(value);
  to.putText(u16(static_cast<Place>(numbers + SAY_NUMBER_AFTER)));
  return true;
}

// Returns whether there is a code for it. `again`: it was refused for what it signed.
bool Controller::say(const Signed &what, bool again) {
  Said said;
  box().about = what.load;
  if (what.load == ABOUT_SEVERAL)
    said.putText(u16(static_cast<Place>(what.scene + 2)));
  else if (!putAsk(said, what.load, what.ask, what.fresh))
    return false;
  if (what.number) {
    said.putBehind(" #", ",\"no\":", "?no=", "&no=");
    said.putCount(what.number);
    said.close();
  }
  saySealed(said);
  if (!isSigned()) return true;
  // The oldest is given up.
  Box &is = box();
  if (is.pending == Limits::asked) without(is.asked, is.pending, 0);
  Signed &kept = is.asked[is.pending++];
  kept = what;
  if (again) {
    kept.tries++;
  } else {
    kept.tries = 0;
    kept.until = state.now + u32(asking(ASKING_SIGNING));
  }
  return true;
}

bool Controller::sayAsk(uint8_t load, const Ask &ask, uint16_t number, Value answer) {
  Box &is = box();
  const bool starts = is.fresh && flagged();
  if (starts && flagged() == FLAGGED_ONCE) is.fresh = false;
  const Signed what = {load, starts, 0, ask, 0, number, answer, 0};
  return say(what, false);
}

// The first that is answered by a value of a load; ANY_VALUE = by whatever it is.
static void dropAnswered(Box &is, uint8_t load, Value value) {
  for (uint8_t i = 0; i < is.pending; i++) {
    const Signed &one = is.asked[i];
    if (one.load != load && one.load != ABOUT_SEVERAL) continue;
    if (value != ANY_VALUE && one.answer != ANY_VALUE && one.answer != value) continue;
    return without(is.asked, is.pending, i);
  }
}

// A refusal that tells with what to sign: what it is about is said once more, as long as its answer
// may still come. A count of another device is none of its own.
bool Controller::recounted(uint8_t about, uint32_t count) {
  const uint8_t RECOUNTS = 1, ANSWERS = 8;
  if (!isSigned()) return false;
  Box &is = box();
  uint32_t &last = state.windows[FAR_LINK][0].highest;
  const bool drawn = authKind() == AUTH_CHALLENGE;
  if (!drawn && count >> 30 != last >> 30) return false;
  last = count;
  Signed found = {0, false, 0, valueAsk(0), 0, 0, 0, 0};
  bool isFound = false;
  uint8_t good = 0;
  for (uint8_t i = 0; i < is.pending; i++) {
    const Signed one = is.asked[i];
    if (reached(state.now, one.until)) continue;
    if (!isFound && (about == ABOUT_SEVERAL || one.load == about)) {
      found = one;
      isFound = true;
    } else {
      is.asked[good++] = one;
    }
  }
  is.pending = good;
  return isFound && found.tries < (drawn ? ANSWERS : RECOUNTS) && say(found, true);
}

// The count that a refusal tells; over HTTP at the end of its first line.
bool Controller::countIn(const char *said, uint16_t length, uint32_t &count) {
  if (!isSigned()) return false;
  const Place before = linkPlace(FAR_LINK, LINK_TOLD_BEFORE);
  const Place after = linkPlace(FAR_LINK, LINK_TOLD_AFTER);
  if (!textLength(before)) return false;
  const Place end = static_cast<Place>(linkRow(FAR_LINK) + LINK_END);
  const uint8_t ends = u8(static_cast<Place>(end + 1)) ? 2 : 1;
  const bool isRoute = Limits::routes && !(linkFlags(FAR_LINK) & BYTES);
  const uint8_t tail = static_cast<uint8_t>(textLength(after) - (isRoute ? 0 : ends));
  if (length < tail || !textBegins(after, said + length - tail, tail)) return false;
  const uint16_t last = static_cast<uint16_t>(length - tail);
  uint16_t first = last;
  while (first > 0 && last - first < MOST_DIGITS && isDigit(said[first - 1])) first--;
  uint64_t number = 0;
  for (uint16_t i = first; i < last; i++)
    number = number * 10 + static_cast<uint8_t>(said[i] - '0');
  const uint8_t head = textLength(before);
  if (first == last || number > 0xffffffff || first < head) return false;
  if (!isRoute && first != head) return false;
  count = static_cast<uint32_t>(number);
  return textBegins(before, said + first - head, head);
}

// --- What it believes ---

// What a load shows after it was asked for a value.
void Controller::believe(uint8_t load, Value value, bool bySteps, const Ask &ask, uint16_t number) {
  Belief &is = box().beliefs[load];
  if (policy() == ASSUMES) {
    Value &believed = state.motion[load].value;
    // From what is not known no step leads to anything that is.
    if (bySteps && believed == UNKNOWN) return;
    believed = value;
    is.due.clear();
  } else if (policy() == CONFIRMS) {
    is.asked = value;
    is.bySteps = bySteps;
    is.wish = ask;
    is.number = number;
    is.since = state.now;
    is.triesLeft = u8(asking(ASKING_RETRIES));
    is.due.set(state.now + u32(asking(ASKING_TIMEOUT)));
  }
}

// A key: nothing is asked over a link that is known to be down.
void Controller::askFor(uint8_t load, const Ask &ask) {
  if (!state.links[FAR_LINK].up) return;
  Belief &is = box().beliefs[load];
  Ask want = asked(load, is.due.armed ? is.asked : state.motion[load].value, ask);
  if (want.kind == ASKS_VALUE) want.value = sayable(load, want.value);
  // What comes of a step is the board's to tell.
  const bool bySteps = isRelative(ask.kind) && hasCode(load, ask);
  const uint16_t number = freshNumber();
  const bool plain = !bySteps && want.kind == ASKS_VALUE;
  if (!sayAsk(load, bySteps ? ask : want, number, plain ? want.value : ANY_VALUE)) return;
  if (isTimer(want.kind)) return;
  believe(load, want.value, bySteps, ask, number);
  if (!isOf(load, HELD)) return;
  is.hold.clear();
  if (want.value) is.hold.set(state.now + msOf(load, KEEPS_MS));
}

// One code for several loads; each is believed as if it had been asked for itself.
void Controller::sayScene(Place scene) {
  if (!state.links[FAR_LINK].up) return;
  const Signed what = {ABOUT_SEVERAL, false, 0, valueAsk(0), scene, freshNumber(), ANY_VALUE, 0};
  say(what, false);
  const uint8_t count = u8(static_cast<Place>(scene + 1));
  for (uint8_t i = 0; i < count; i++) {
    const Place at = row(static_cast<Place>(scene + 4), SET_SIZE, i);
    const Ask ask = askAt(static_cast<Place>(at + 1));
    // Said again it is a command of its own, and has a number of its own.
    believe(u8(at), ask.value, false, ask, 0);
  }
}

// --- What it hears ---

void Controller::hearBox(const char *said, uint16_t length) {
  const Meaning meaning = reported(FAR_LINK, said, length);
  if (meaning.known) {
    box().fresh = false;
    if (isSigned()) dropAnswered(box(), meaning.load, meaning.ask.value);
    return takeBox(meaning.load, meaning.ask.value, false);
  }
  uint32_t count = 0;
  if (countIn(said, length, count)) {
    box().fresh = false;
    if (!recounted(ABOUT_SEVERAL, count)) refusedBox(ABOUT_SEVERAL);
    return;
  }
  const Place refusal = linkPlace(FAR_LINK, LINK_ERROR);
  if (!textLength(refusal) || !textIs(refusal, said, length)) return;
  box().fresh = false;
  refusedBox(ABOUT_SEVERAL);
}

// What was on its way before a step was asked for says what was believed already.
void Controller::takeBox(uint8_t load, Value value, bool answers) {
  Belief &is = box().beliefs[load];
  Value &believed = state.motion[load].value;
  const bool differs = is.bySteps && (answers || (believed != UNKNOWN && value != believed));
  if (value == is.asked || differs) is.due.clear();
  believed = value;
}

// What was assumed is not known any more; where nobody says what was refused, it is what has waited
// longest.
void Controller::refusedBox(uint8_t about) {
  if (Limits::routes && about < countOf(LOADS)) {
    box().beliefs[about].due.clear();
    if (policy() == ASSUMES) state.motion[about].value = UNKNOWN;
    return;
  }
  Belief *oldest = 0;
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    Belief &is = box().beliefs[i];
    if (!is.due.armed) continue;
    if (!oldest || static_cast<int32_t>(oldest->since - is.since) > 0) oldest = &is;
  }
  if (oldest) oldest->due.clear();
}

// --- Answers to routes ---

static bool isSpace(char c) { return c == ' ' || (c >= '\t' && c <= '\r'); }

void Controller::toldLine(Via via, const char *line, uint16_t length) {
  const Meaning meaning = reported(FAR_LINK, line, length);
  if (!meaning.known) return;
  if (via != VIA_ASK && isSigned()) dropAnswered(box(), meaning.load, meaning.ask.value);
  takeBox(meaning.load, meaning.ask.value, via == VIA_COMMAND);
}

// Why something was refused stands in the first line, and with it what to sign instead.
void Controller::refusedRoute(uint8_t about, const char *text, uint16_t length) {
  const uint8_t of = about < countOf(LOADS) ? about : ABOUT_SEVERAL;
  uint16_t from = 0;
  while (from < length && isSpace(text[from])) from++;
  while (length > from && isSpace(text[length - 1])) length--;
  uint16_t end = from;
  while (end < length && text[end] != '\n') end++;
  uint32_t count = 0;
  if (countIn(text + from, static_cast<uint16_t>(end - from), count) && recounted(of, count))
    return;
  refusedBox(of);
}

// Answers are lines, an object or a page; events are no page.
void Controller::replied(Ms now, Via via, uint8_t about, const char *text, uint16_t length) {
  begin(now);
  heardOn_ = FAR_LINK;
  if (state.running && via == VIA_COMMAND && isSigned())
    dropAnswered(box(), about < countOf(LOADS) ? about : ABOUT_SEVERAL, ANY_VALUE);
  // With events open an answer may be overtaken: they count.
  const bool counts = via != VIA_COMMAND || !(linkFlags(FAR_LINK) & STREAMS);
  if (Limits::routes && state.running && state.links[FAR_LINK].up && counts) {
    if (via == VIA_REFUSED) refusedRoute(about, text, length);
    const AnswerForm form = static_cast<AnswerForm>(u8(asking(ASKING_ANSWERS)));
    Answer lines(text, length, via == VIA_STREAM && form == ANSWER_PAGE ? ANSWER_LINES : form);
    char line[Limits::buffer + 1];
    for (uint16_t size; (size = lines.next(line, Limits::buffer)) != 0;) toldLine(via, line, size);
  }
  finish(false);
}

// --- How often it says something ---

void Controller::offerKey(uint8_t load, const Ask &ask, bool presses) {
  const Wish wish = {WISH_KEY, load, presses, ask, 0};
  offer(wish);
}

void Controller::offerTarget(Place target, bool presses) {
  const Place first = static_cast<Place>(target + 2);
  if (u8(target) == TARGET_SAID) {
    const Wish wish = {WISH_SCENE, 0, false, valueAsk(0), target};
    return offer(wish);
  }
  if (u8(target) == TARGET_LOAD) {
    const uint8_t load = u8(first);
    const Ask on = valueAsk(1);
    return offerKey(load, isOf(load, HELD) ? on : askAt(static_cast<Place>(first + 1)), presses);
  }
  const uint8_t count = u8(static_cast<Place>(target + 1));
  for (uint8_t i = 0; i < count; i++) {
    const Place at = row(first, SET_SIZE, i);
    offerKey(u8(at), askAt(static_cast<Place>(at + 1)), false);
  }
}

// While its link is down nothing is kept for later.
void Controller::offer(const Wish &wish) {
  Box &is = box();
  if (!state.links[FAR_LINK].up) {
    is.waiting = 0;
    is.free.clear();
    return;
  }
  if (Limits::paced && u32(asking(ASKING_LEAST))) {
    queueWish(wish);
    if (!is.free.armed || is.free.over(state.now)) sayNext();
    return;
  }
  Wish one = wish;
  if (wish.kind == WISH_DETENTS && !saysSteps(wish.load)) {
    const int8_t step = stepOf(wish.ask);
    one.ask = stepsAsk(step);
    for (Value n = static_cast<Value>(wish.ask.value * step); n > 1; n--) sayWish(one);
  }
  sayWish(one);
}

// Detents add up; a value takes the place of whatever its load was to be told before. Where there
// is no room the oldest is given up.
void Controller::queueWish(const Wish &wish) {
  if (!Limits::paced) return;
  Box &is = box();
  uint8_t last = is.waiting;
  while (last > 0 &&
         (is.queue[last - 1].kind == WISH_SCENE || is.queue[last - 1].load != wish.load))
    last--;
  if (wish.kind == WISH_DETENTS && last && is.queue[last - 1].kind == WISH_DETENTS) {
    Ask &sum = is.queue[last - 1].ask;
    sum.value = static_cast<Value>(sum.value + wish.ask.value);
    if (!sum.value) without(is.queue, is.waiting, static_cast<uint8_t>(last - 1));
    return;
  }
  if (wish.kind == WISH_KEY && !isRelative(wish.ask.kind))
    for (uint8_t i = is.waiting; i > 0; i--)
      if (is.queue[i - 1].kind != WISH_SCENE && is.queue[i - 1].load == wish.load)
        without(is.queue, is.waiting, static_cast<uint8_t>(i - 1));
  if (is.waiting == Limits::paced) without(is.queue, is.waiting, 0);
  is.queue[is.waiting++] = wish;
}

// The first that waits; of detents one, where a message says no more.
bool Controller::sayNext() {
  Box &is = box();
  is.free.clear();
  if (!Limits::paced || !is.waiting) return false;
  Wish one = is.queue[0];
  const int8_t step = stepOf(one.ask);
  if (one.kind == WISH_DETENTS && one.ask.value != step && !saysSteps(one.load)) {
    is.queue[0].ask.value = static_cast<Value>(one.ask.value - step);
    one.ask = stepsAsk(step);
  } else {
    without(is.queue, is.waiting, 0);
  }
  is.free.set(state.now + u32(asking(ASKING_LEAST)));
  sayWish(one);
  return true;
}

// A direction that is believed to run already is stopped by another press.
void Controller::sayWish(const Wish &wish) {
  if (wish.kind == WISH_SCENE) return sayScene(wish.scene);
  const bool runs = wish.presses && isOf(wish.load, OPPOSED) && wish.ask.kind == ASKS_VALUE &&
                    wish.ask.value == state.motion[wish.load].value;
  askFor(wish.load, runs ? valueAsk(restOf(wish.load)) : wish.ask);
}

// Whether an answer is waited for, as a lamp shows.
bool Controller::waitsBox(uint8_t load) const { return isBox() && box().beliefs[load].due.armed; }

// --- Starts, and what falls due ---

void Controller::restBox() {
  if (!isBox()) return;
  Box &is = box();
  is.poll.clear();
  is.waiting = 0;
  is.pending = 0;
  is.free.clear();
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    state.motion[i].value = UNKNOWN;
    is.beliefs[i].due.clear();
    is.beliefs[i].hold.clear();
    is.beliefs[i].asked = UNKNOWN;
    is.beliefs[i].bySteps = false;
  }
}

void Controller::bootBox(const Level *levels) {
  if (!isBox()) return;
  Box &is = box();
  is.fresh = true;
  is.number = static_cast<uint16_t>(state.starts * START_APART % FIRST_NUMBERS);
  is.owes = true;
  for (uint8_t i = 0; i < countOf(INPUTS); i++) is.levels[i] = levels[i];
  for (uint8_t i = 0; i < countOf(LOADS); i++) state.motion[i].value = UNKNOWN;
}

void Controller::connectBox() {
  if (!isBox()) return;
  Box &is = box();
  const Ms poll = u32(asking(ASKING_POLL));
  is.poll.in(poll, state.now);
  if (is.fresh) sayWhole(u16(asking(ASKING_STARTED)));
  is.fresh = is.fresh && flagged();
  if (poll) sayWhole(u16(asking(ASKING_QUESTION)));
  // What a lever that leads asks at a start is asked now.
  for (uint8_t i = 0; is.owes && i < countOf(INPUTS); i++) {
    uint8_t load;
    Ask ask;
    if (leads(i, is.levels[i], load, ask)) offerKey(load, ask, false);
  }
  is.owes = false;
}

void Controller::disconnectBox() {
  if (!isBox()) return;
  Box &is = box();
  is.pending = 0;
  is.poll.clear();
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    Belief &belief = is.beliefs[i];
    // What nobody answered leaves it unsure, whatever was believed before.
    if (belief.due.armed || u8(asking(ASKING_FORGETS))) state.motion[i].value = UNKNOWN;
    belief.due.clear();
    belief.hold.clear();
  }
}

// What may be said now, answers that did not come, fingers that stay, the next question.
void Controller::tickBox() {
  if (!isBox()) return;
  Box &is = box();
  const Ms now = state.now;
  if (is.free.over(now)) {
    if (!state.links[FAR_LINK].up) is.waiting = 0;
    sayNext();
  }
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    Belief &belief = is.beliefs[i];
    if (!belief.due.over(now)) continue;
    if (!belief.triesLeft) {
      belief.due.clear();
      state.motion[i].value = UNKNOWN;
      continue;
    }
    belief.triesLeft--;
    belief.due.set(now + u32(asking(ASKING_TIMEOUT)));
    if (!belief.number) belief.number = freshNumber();
    sayAsk(i, belief.bySteps ? belief.wish : valueAsk(belief.asked), belief.number, ANY_VALUE);
  }
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    Belief &belief = is.beliefs[i];
    if (!belief.hold.over(now)) continue;
    belief.hold.set(now + msOf(i, KEEPS_MS));
    sayAsk(i, valueAsk(1), freshNumber(), ANY_VALUE);
  }
  if (!is.poll.over(now)) return;
  is.poll.set(now + u32(asking(ASKING_POLL)));
  sayWhole(u16(asking(ASKING_QUESTION)));
}

}  // namespace nolvi
