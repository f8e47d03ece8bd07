// A box: what its contacts, knobs and sensors come to it asks of another board, over one link. Of
// the loads there it knows what it hears, and what it may believe until then: docs/behaviour.md,
// "Boxes that are boards" and "Panel".
#include "answers.h"
#include "controller.h"
#include "rows.h"
#include "structures.h"
#include "text.h"

namespace nolvi {

const Value UNKNOWN = -1;
const uint8_t FAR = 0;
// Where it begins to number lies so far from where it began before that nothing passes for a
// repeat.
const uint32_t START_APART = 1009, FIRST_NUMBERS = 60000;
const uint16_t LAST_NUMBER = 65535;

static Box known;
Box &Controller::box() { return known; }

static Place asking(AskingAt at) { return static_cast<Place>(linkPlace(FAR, LINK_ASKING) + at); }
static Policy policy() { return static_cast<Policy>(u8(asking(ASKING_POLICY))); }
static uint8_t flagged() { return u8(asking(ASKING_FLAGGED)); }
static bool isRelative(Asks asks) {
  return asks == ASKS_TOGGLE || asks == ASKS_NEXT || asks == ASKS_STEPS;
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
  if (!Limits::numbered || !u32(static_cast<Place>(linkRow(FAR) + LINK_NUMBERED))) return 0;
  uint16_t &number = box().number;
  number = number == LAST_NUMBER ? 1 : static_cast<uint16_t>(number + 1);
  return number;
}

// A text that is on the wire as it stands.
void Controller::sayWhole(Place text) {
  if (!textLength(text)) return;
  box().about = ABOUT_STATE;
  Board::begin(FAR, 0);
  writeText(text);
  Board::end();
}

static bool hasQuestion(Place text) {
  const uint8_t length = textLength(text);
  for (uint8_t i = 0; i < length; i++)
    if (textChar(text, i) == '?') return true;
  return false;
}

// A command: its text, or what stands before and behind a number; a time, its number and its word
// stand behind that, before the end of an object.
void Controller::sayBody(Place before, int32_t value, Place after, bool hasValue, Ms ms,
                         uint16_t number) {
  const uint8_t style = u8(static_cast<Place>(linkRow(FAR) + LINK_STYLE));
  const bool isObject = style == MEMBERS;
  const Place auth = linkPlace(FAR, LINK_AUTH);
  const bool proves = Limits::sealed && u8(auth) == AUTH_WORD;
  const bool closes = isObject && (ms || number || proves);
  const Place last = hasValue ? after : before;
  // Of a route: whether it has parameters already.
  bool asks = style == ROUTE && (hasQuestion(before) || (hasValue && hasQuestion(after)));
  Board::begin(FAR, 0);
  if (hasValue) {
    writeText(before);
    writeNumber(value);
  }
  const uint8_t length = static_cast<uint8_t>(textLength(last) - (closes ? 1 : 0));
  for (uint8_t i = 0; i < length; i++) Board::put(textChar(last, i));
  if (ms) {
    sayBehind(" ", ",\"ms\":", asks ? "&ms=" : "/");
    writeUnsigned(ms);
  }
  if (number) {
    sayBehind(" #", ",\"no\":", asks ? "&no=" : "?no=");
    writeUnsigned(number);
    asks = true;
  }
  if (proves) {
    sayBehind(" ", ",\"key\":\"", asks ? "&key=" : "?key=");
    writeText(u16(static_cast<Place>(auth + AUTH_SECRET)));
    if (isObject) Board::put('"');
  }
  if (closes) Board::put('}');
  writeEnd(FAR);
  Board::end();
}

// What stands before something behind a command, by the way the link speaks.
void Controller::sayBehind(const char *word, const char *member, const char *route) {
  const uint8_t style = u8(static_cast<Place>(linkRow(FAR) + LINK_STYLE));
  if (Limits::routes && style == ROUTE) return say(route);
  say(style == MEMBERS ? member : word);
}

// Returns whether there is a code for it.
bool Controller::sayAsk(uint8_t load, const Ask &ask, uint16_t number) {
  Box &is = box();
  is.about = load;
  const bool starts = is.fresh && flagged();
  if (starts && flagged() == FLAGGED_ONCE) is.fresh = false;
  const int8_t step = stepOf(ask);
  const Place numbers =
      step || (ask.kind == ASKS_VALUE && isValue(load, ask.value)) ? numberRow(load, step) : 0;
  const Place own = step && (numbers || ask.value != step) ? 0 : sayRow(load, ask);
  if (own) {
    const Place text = u16(static_cast<Place>(own + (starts ? SAY_FRESH : SAY_TEXT)));
    const bool takesTimes = u8(static_cast<Place>(linkRow(FAR) + LINK_STYLE)) != NOTHING_BEHIND;
    sayBody(text, 0, 0, false, isTimer(ask.kind) && takesTimes ? ask.ms : 0, number);
    return true;
  }
  if (!numbers) return false;
  const int32_t value = step < 0 ? -ask.value : ask.value;
  const Place before = u16(static_cast<Place>(numbers + SAY_NUMBER_BEFORE));
  if (frameOf(FAR)) {
    Board::begin(FAR, 0);
    writeStructure(FAR, starts ? u16(static_cast<Place>(numbers + SAY_NUMBER_FRESH)) : before,
                   static_cast<Value>(value));
    Board::end();
    return true;
  }
  sayBody(before, value, u16(static_cast<Place>(numbers + SAY_NUMBER_AFTER)), true, 0, number);
  return true;
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
  if (!state.links[FAR].up) return;
  Belief &is = box().beliefs[load];
  Ask want = asked(load, is.due.armed ? is.asked : state.motion[load].value, ask);
  if (want.kind == ASKS_VALUE) want.value = sayable(load, want.value);
  // What comes of a step is the board's to tell.
  const bool bySteps = isRelative(ask.kind) && hasCode(load, ask);
  const uint16_t number = freshNumber();
  if (!sayAsk(load, bySteps ? ask : want, number) || isTimer(want.kind)) return;
  believe(load, want.value, bySteps, ask, number);
  if (!isOf(load, HELD)) return;
  is.hold.clear();
  if (want.value) is.hold.set(state.now + msOf(load, KEEPS_MS));
}

// One code for several loads; each is believed as if it had been asked for itself.
void Controller::sayScene(Place scene) {
  if (!state.links[FAR].up) return;
  const uint16_t number = freshNumber();
  box().about = ABOUT_SEVERAL;
  sayBody(u16(static_cast<Place>(scene + 2)), 0, 0, false, 0, number);
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
  const Meaning meaning = reported(FAR, said, length);
  if (meaning.known) {
    box().fresh = false;
    return takeBox(meaning.load, meaning.ask.value, false);
  }
  const Place refusal = linkPlace(FAR, LINK_ERROR);
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

void Controller::toldLine(Via via, const char *line, uint16_t length) {
  const Meaning meaning = reported(FAR, line, length);
  if (meaning.known) takeBox(meaning.load, meaning.ask.value, via == VIA_COMMAND);
}

// Answers are lines, an object or a page; events are no page.
void Controller::replied(Ms now, Via via, uint8_t about, const char *text, uint16_t length) {
  begin(now);
  heardOn_ = FAR;
  // With events open an answer may be overtaken: they count.
  const bool counts = via != VIA_COMMAND || !(linkFlags(FAR) & STREAMS);
  if (Limits::routes && state.running && state.links[FAR].up && counts) {
    if (via == VIA_REFUSED) refusedBox(about);
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
  if (!state.links[FAR].up) {
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

static void without(Box &is, uint8_t at) {
  is.waiting--;
  for (uint8_t i = at; i < is.waiting; i++) is.queue[i] = is.queue[i + 1];
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
    if (!sum.value) without(is, static_cast<uint8_t>(last - 1));
    return;
  }
  if (wish.kind == WISH_KEY && !isRelative(wish.ask.kind))
    for (uint8_t i = is.waiting; i > 0; i--)
      if (is.queue[i - 1].kind != WISH_SCENE && is.queue[i - 1].load == wish.load)
        without(is, static_cast<uint8_t>(i - 1));
  if (is.waiting == Limits::paced) without(is, 0);
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
    without(is, 0);
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

// --- Starts, and what falls due ---

void Controller::restBox() {
  if (!isBox()) return;
  Box &is = box();
  is.poll.clear();
  is.waiting = 0;
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
    if (!state.links[FAR].up) is.waiting = 0;
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
    sayAsk(i, belief.bySteps ? belief.wish : valueAsk(belief.asked), belief.number);
  }
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    Belief &belief = is.beliefs[i];
    if (!belief.hold.over(now)) continue;
    belief.hold.set(now + msOf(i, KEEPS_MS));
    sayAsk(i, valueAsk(1), freshNumber());
  }
  if (!is.poll.over(now)) return;
  is.poll.set(now + u32(asking(ASKING_POLL)));
  sayWhole(u16(asking(ASKING_QUESTION)));
}

}  // namespace nolvi
