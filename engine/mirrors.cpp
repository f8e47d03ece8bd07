// A board in front: what comes over the network it passes on over the wire to the board behind, and
// what that tells it tells on. It switches nothing: its loads are as they were told last. Behind
// each command it asks "who is there": when that is answered, what came of the command was told.
#include "controller.h"
#include "rows.h"
#include "text.h"

namespace nolvi {

// A wire that is silent for so long is broken, or nobody is behind it. Answers come in the order of
// the questions, however late, but for those that are lost with a wire: where it is silent for so
// long behind one, the rest will not come.
const Ms BEHIND_PATIENCE_MS = 1000, BEHIND_EVERY_MS = 1000;
// Steps in one message; what is beyond an end changes nothing.
const Value MOST_PASSED_ON = 32;

uint8_t Controller::wireBehind() {
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    if (linkFlags(i) & BEHIND) return i;
  return NO_LINK;
}

static Behind known;
Behind &Controller::behind() { return known; }

void Controller::passOn(uint8_t wire, Place text, const Ask &ask) const {
  Board::begin(wire, 0);
  writeText(text);
  // Without a time of its own it is that of the design.
  if (isTimer(ask.kind) && ask.ms) {
    Board::put(' ');
    writeUnsigned(ask.ms);
  }
  writeEnd(wire);
  Board::end();
}

// A number that has no code of its own.
void Controller::passNumber(uint8_t wire, uint8_t load, Value value) {
  const uint8_t count = u8(static_cast<Place>(linkRow(wire) + LINK_PLACE_COUNT));
  for (uint8_t i = 0; i < count; i++) {
    const Place place = row(linkPlace(wire, LINK_PLACES), PLACE_SIZE, i);
    if (u8(place) != load || u8(static_cast<Place>(place + PLACE_STEP))) continue;
    Board::begin(wire, 0);
    writeText(u16(static_cast<Place>(place + PLACE_BEFORE)));
    writeNumber(value);
    writeText(u16(static_cast<Place>(place + PLACE_AFTER)));
    writeEnd(wire);
    return Board::end();
  }
}

// What is said for a load or a lamp, as the table has it; 0 = nothing.
static Place lineFor(uint8_t wire, CommandKind kind, uint8_t of, const Ask &ask) {
  const uint16_t count = linkPlace(wire, LINK_COUNT);
  for (uint16_t i = 0; i < count; i++) {
    const Place at = row(linkPlace(wire, LINK_COMMANDS), COMMAND_SIZE, i);
    if (u8(static_cast<Place>(at + COMMAND_KIND)) != kind ||
        u8(static_cast<Place>(at + COMMAND_LOAD)) != of)
      continue;
    const Ask said = askAt(static_cast<Place>(at + COMMAND_ASK));
    if (said.kind == ask.kind && said.value == ask.value) return u16(at);
  }
  return 0;
}

// What a load is asked for, as the board behind understands it.
void Controller::forward(uint8_t link, uint8_t load, const Ask &ask) {
  Behind &is = behind();
  if (!is.up) return;
  const uint8_t wire = wireBehind();
  if (link < 32 && unasked(link)) {
    is.asking |= static_cast<uint32_t>(1) << link;
    if (messageFlags(messageOf(link, load)) & ACK)
      is.owed[load] |= static_cast<uint32_t>(1) << link;
  }
  is.said = true;
  Value times = 1;
  Value step = 0;
  if (ask.kind == ASKS_STEPS) {
    times = ask.value < 0 ? static_cast<Value>(-ask.value) : ask.value;
    if (times > MOST_PASSED_ON) times = MOST_PASSED_ON;
    step = ask.value < 0 ? -1 : 1;
  }
  const Ask each = {ask.kind, step ? step : ask.value, ask.ms};
  const Place text = lineFor(wire, SETS, load, each);
  if (text) {
    for (Value n = 0; n < times; n++) passOn(wire, text, ask);
    return;
  }
  if (ask.kind == ASKS_VALUE) passNumber(wire, load, ask.value);
}

// A lamp behind shows what only this board knows.
void Controller::lightBehind(uint8_t lamp) const {
  const uint8_t wire = wireBehind();
  const Ask is = valueAsk(state.lamps[lamp].on ? 1 : 0);
  const Place text = lineFor(wire, LIGHTS, lamp, is);
  if (text) passOn(wire, text, is);
}

// What was said is asked after.
void Controller::askBehind(bool whole) {
  const uint8_t wire = wireBehind();
  Behind &is = behind();
  const uint16_t count = linkPlace(wire, LINK_COUNT);
  for (uint8_t which = whole ? 0 : 1; which < 2; which++)
    for (uint16_t i = 0; i < count; i++) {
      const Place at = row(linkPlace(wire, LINK_COMMANDS), COMMAND_SIZE, i);
      const uint8_t kind = u8(static_cast<Place>(at + COMMAND_KIND));
      if (kind == (which ? ASKS_HELLO : ASKS_STATE)) passOn(wire, u16(at), valueAsk(0));
    }
  is.said = false;
  if (is.asked == is.answered) is.patience.set(state.now + BEHIND_PATIENCE_MS);
  is.asked++;
  is.refused &= ~(static_cast<uint32_t>(1) << is.asked % 32);
}

void Controller::bootBehind() {
  if (!isFront()) return;
  Behind &is = behind();
  is.up = false;
  is.said = is.refuses = false;
  is.asked = is.answered = is.starts = 0;
  is.refused = is.asking = 0;
  for (uint8_t i = 0; i < countOf(LOADS); i++) is.owed[i] = 0;
  is.patience.clear();
  is.settles.clear();
  is.again.set(state.now);
}

void Controller::tickBehind() {
  if (!isFront()) return;
  Behind &is = behind();
  if (is.patience.over(state.now)) {
    is.patience.clear();
    is.up = false;
    is.asking = 0;
    is.refuses = false;
    for (uint8_t i = 0; i < countOf(LOADS); i++) is.owed[i] = 0;
  }
  if (is.settles.over(state.now)) {
    is.answered = is.asked;
    doneBehind();
  }
  if (!is.again.over(state.now)) return;
  is.again.set(state.now + BEHIND_EVERY_MS);
  for (uint8_t i = 0; i < countOf(LAMPS); i++) lightBehind(i);
  if (is.asked == is.answered || (!is.up && !is.settles.armed)) askBehind(true);
}

// Whether a text of the table, which has its end, is what came without it.
static bool isSaid(Place text, uint8_t end, const char *said, uint16_t length) {
  return textLength(text) == length + end && textBegins(text, said, length);
}

// A number between two texts, the second of which has its end; -1 = none.
static int32_t numberBetween(Place before, Place after, uint8_t end, const char *said,
                             uint16_t length) {
  const uint16_t head = textLength(before);
  const uint16_t tail = static_cast<uint16_t>(textLength(after) - end);
  if (length <= head + tail || length > head + tail + 6) return -1;
  if (!textBegins(before, said, head) || !textBegins(after, said + length - tail, tail)) return -1;
  int32_t number = 0;
  for (uint16_t i = head; i < length - tail; i++) {
    if (!isDigit(said[i])) return -1;
    number = number * 10 + (said[i] - '0');
  }
  return number;
}

void Controller::answeredBehind() {
  Behind &is = behind();
  if (is.asked == is.answered) return;
  is.answered++;
  is.patience.clear();
  if (is.asked == is.answered) return doneBehind();
  if (is.up)
    is.patience.set(state.now + BEHIND_PATIENCE_MS);
  else
    is.settles.set(state.now + BEHIND_PATIENCE_MS);
}

// All that was said is done: now it is acknowledged; a refusal is told before.
void Controller::doneBehind() {
  Behind &is = behind();
  is.up = true;
  is.settles.clear();
  for (uint8_t link = 0; link < countOf(LINKS) && link < 32; link++)
    if (is.refuses && ((is.asking >> link) & 1)) send(link, WAITS_ERROR);
  is.asking = 0;
  is.refuses = false;
  for (uint8_t load = 0; load < countOf(LOADS); load++) {
    const uint32_t owed = is.owed[load];
    is.owed[load] = 0;
    for (uint8_t link = 0; link < countOf(LINKS) && link < 32; link++)
      if ((owed >> link) & 1) send(link, load);
  }
}

// Hundredths with a sign and at most two places; returns how long they are, 0 = none.
static uint16_t hundredthsAt(const char *said, uint16_t length, int32_t &value) {
  uint16_t at = length && said[0] == '-' ? 1 : 0;
  const uint16_t first = at;
  value = 0;
  while (at < length && at < first + 7 && isDigit(said[at]))
    value = value * 10 + (said[at++] - '0');
  if (at == first) return 0;
  value *= 100;
  if (at + 1 < length && said[at] == '.' && isDigit(said[at + 1])) {
    value += 10 * (said[at + 1] - '0');
    at = static_cast<uint16_t>(at + 2);
    if (at < length && isDigit(said[at])) value += said[at++] - '0';
  }
  if (first) value = -value;
  return at;
}

// A value as it is written of a sensor.
static bool readingIn(const char *said, uint16_t length, Reading &reading) {
  reading.known = true;
  reading.second = 0;
  for (uint8_t i = 0; i < 3; i++)
    if (length == lengthOf(READING_WORDS[i]) && endsWith(said, length, READING_WORDS[i])) {
      reading.form = WORD;
      reading.first = i;
      return true;
    }
  const uint16_t one = hundredthsAt(said, length, reading.first);
  if (!one) return false;
  reading.form = one == length ? NUMBER : PAIR;
  if (one == length) return true;
  const uint16_t rest = static_cast<uint16_t>(length - one - 1);
  return said[one] == ',' && rest && hundredthsAt(said + one + 1, rest, reading.second) == rest;
}

Reading Controller::toldBehind(uint8_t sensor) const {
  const Reading reading = {true, behind().forms[sensor], state.samples[sensor][0],
                           state.samples[sensor][1]};
  return reading;
}

// What the board behind tells of a sensor is told on.
bool Controller::hearReading(uint8_t wire, uint8_t end, const char *said, uint16_t length) {
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    const Place at = row(firstOf(READINGS), READING_SIZE, i);
    const Place before = u16(static_cast<Place>(at + READING_BEFORE));
    const uint16_t head = textLength(before);
    const uint16_t tail =
        static_cast<uint16_t>(textLength(u16(static_cast<Place>(at + READING_AFTER))) - end);
    if (u8(at) != wire || length <= head + tail) continue;
    Reading reading;
    if (!textBegins(before, said, head) ||
        !readingIn(said + head, static_cast<uint16_t>(length - head - tail), reading))
      continue;
    const uint8_t sensor = u8(static_cast<Place>(at + READING_SENSOR));
    behind().forms[sensor] = reading.form;
    state.samples[sensor][0] = reading.first;
    state.samples[sensor][1] = reading.second;
    state.sampled[sensor] = true;
    for (uint8_t n = 0; n < countOf(READINGS); n++) {
      const Place other = row(firstOf(READINGS), READING_SIZE, n);
      if (u8(other) != wire && u8(static_cast<Place>(other + READING_SENSOR)) == sensor)
        moved(n, reading);
    }
    return true;
  }
  return false;
}

// A line of the board behind.
void Controller::hearBehind(uint8_t wire, const char *said, uint16_t length) {
  Behind &is = behind();
  const Place at = static_cast<Place>(linkRow(wire) + LINK_END);
  const uint8_t end = u8(static_cast<Place>(at + 1)) ? 2 : 1;
  const Place hello = linkPlace(wire, LINK_HELLO);
  const int32_t starts = numberBetween(hello, linkPlace(wire, LINK_HELLO_AFTER), end, said, length);
  if (starts >= 0) {
    const bool anew = is.starts != static_cast<uint32_t>(starts);
    is.starts = static_cast<uint32_t>(starts);
    answeredBehind();
    if (!anew) return;
    // It started: what its sensors told is over; what they tell now is asked for.
    is.up = false;
    is.settles.clear();
    for (uint8_t i = 0; i < countOf(SENSORS); i++) state.sampled[i] = false;
    for (uint8_t i = 0; i < countOf(READINGS); i++) state.told[i].told = false;
    return askBehind(true);
  }
  if (isSaid(linkPlace(wire, LINK_ERROR), end, said, length)) {
    is.refuses = true;
    is.refused |= static_cast<uint32_t>(1) << (is.answered + 1) % 32;
    return;
  }
  if (hearReading(wire, end, said, length)) return;
  for (uint8_t load = 0; load < countOf(LOADS); load++) {
    const Place message = messageOf(wire, load);
    if (!message) continue;
    const Place texts = u16(static_cast<Place>(message + MESSAGE_REPORTS));
    const uint8_t count = loadU8(load, LOAD_NAMED);
    for (uint8_t i = 0; i < count; i++) {
      const Place text = u16(static_cast<Place>(texts + 2 * i));
      if (isSaid(text, end, said, length)) return mirror(load, named(load, i));
    }
    if (!(messageFlags(message) & TELLS_NUMBERS)) continue;
    const Place around = static_cast<Place>(message + MESSAGE_NUMBER);
    const int32_t number =
        numberBetween(u16(around), u16(static_cast<Place>(around + 2)), end, said, length);
    if (number >= 0 && isValue(load, static_cast<Value>(number)))
      return mirror(load, static_cast<Value>(number));
  }
}

// A load is so: told to all who are told of changes.
void Controller::mirror(uint8_t load, Value value) {
  const Shown before = shown(load);
  state.motion[load].value = value;
  const Told told = become(load, before, false);
  behind().owed[load] &= ~told;
}

bool Controller::isAnswered(uint32_t ticket) const {
  return !behind().up || static_cast<int32_t>(behind().answered - ticket) >= 0;
}

// The answer to what was held until the board behind had done it.
void Controller::answerHeld(Ms now, uint8_t link, const Meaning &meaning, uint32_t ticket) {
  begin(now);
  answerCommand(link, meaning, (behind().refused >> (ticket % 32)) & 1);
  finish(false);
}

}  // namespace nolvi
