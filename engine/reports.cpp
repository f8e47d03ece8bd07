// What is told: values and readings, at once, later, or when they may be told again; and how it
// reads on the wire.
#include "controller.h"
#include "rows.h"
#include "structures.h"
#include "text.h"

namespace nolvi {

static bool isReport(Waiting what) { return what < WAITS_STATE; }

bool Controller::unasked(uint8_t link) const { return (linkFlags(link) & (BYTES | STREAMS)) != 0; }

// Tells a value unasked, now or as soon as the link allows.
bool Controller::tellLoad(uint8_t link, uint8_t load) {
  if (u32(static_cast<Place>(linkRow(link) + LINK_LEAST))) {
    Least &least = state.links[link].least[load];
    if (least.freeAt.armed && !least.freeAt.over(state.now)) {
      least.owed = true;
      return false;
    }
  }
  return send(link, load);
}

// Hands something to the link, or lets it wait there. Returns whether it was taken.
bool Controller::send(uint8_t link, Waiting what, uint32_t count) {
  const Link &is = state.links[link];
  if (!is.up || !write(link, what, count, true)) return false;
  return is.busy ? wait(link, what, count) : emit(link, what, count);
}

bool Controller::emit(uint8_t link, Waiting what, uint32_t count) {
  Link &is = state.links[link];
  Board::begin(link, 0);
  write(link, what, count, false);
  Board::end();
  const Ms least = u32(static_cast<Place>(linkRow(link) + LINK_LEAST));
  if (least && what >= 0 && what < Limits::leasts) {
    is.least[what].freeAt.set(state.now + least);
    is.least[what].owed = false;
  }
  if (u8(static_cast<Place>(linkRow(link) + LINK_QUEUE))) is.busy = true;
  return true;
}

// A report of what waits already keeps its place; where all places are taken the oldest report
// gives way. Answers are not given up for reports.
bool Controller::wait(uint8_t link, Waiting what, uint32_t count) {
  if (!Limits::queue) return true;
  Link &is = state.links[link];
  const uint8_t most = u8(static_cast<Place>(linkRow(link) + LINK_QUEUE));
  uint8_t reports = 0;
  uint8_t oldest = Limits::queue;
  for (uint8_t i = 0; i < is.waiting; i++) {
    if (is.queue[i] == what && what <= WAITS_STATE) return true;
    if (!isReport(is.queue[i])) continue;
    if (!reports) oldest = i;
    reports++;
  }
  if (isReport(what) && reports >= most && oldest < Limits::queue) {
    is.waiting--;
    for (uint8_t i = oldest; i < is.waiting; i++) {
      is.queue[i] = is.queue[i + 1];
      is.counts[i] = is.counts[i + 1];
    }
  }
  if (is.waiting >= Limits::queue) return true;
  is.counts[is.waiting] = count;
  is.queue[is.waiting++] = what;
  return true;
}

// What is on its way has left: the next that waits follows, made from the state of now.
void Controller::sent(Ms now, uint8_t link) {
  begin(now);
  if (state.running) {
    Link &is = state.links[link];
    if (!Limits::queue || !is.waiting) {
      is.busy = false;
    } else {
      const Waiting next = is.queue[0];
      const uint32_t count = is.counts[0];
      is.waiting--;
      for (uint8_t i = 0; i < is.waiting; i++) {
        is.queue[i] = is.queue[i + 1];
        is.counts[i] = is.counts[i + 1];
      }
      emit(link, next, count);
    }
  }
  finish(false);
}

void Controller::sendState(uint8_t link) {
  const Ms least = u32(static_cast<Place>(linkRow(link) + LINK_LEAST));
  if (!send(link, WAITS_STATE) || !least) return;
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    state.links[link].least[i].freeAt.set(state.now + least);
    state.links[link].least[i].owed = false;
  }
}

// Writes something as it reads on the link; `dry`: only says whether there is anything.
bool Controller::write(uint8_t link, Waiting what, uint32_t count, bool dry) const {
  if (what == WAITS_STATE) return writeState(link, dry);
  if (what == WAITS_ERROR) {
    const Place text = linkPlace(link, LINK_ERROR);
    if (!dry) writeText(text);
    return textLength(text) > 0;
  }
  if (what == WAITS_COUNT) {
    if (!dry) writeCount(link, count);
    return true;
  }
  if (what == WAITS_HELLO) {
    if (!dry) writeHello(link);
    return true;
  }
  if (Limits::readings && what >= WAITS_READING)
    return writeReading(static_cast<uint8_t>(what - WAITS_READING), false, dry);
  return writeReport(link, static_cast<uint8_t>(what), false, dry);
}

void Controller::writeHello(uint8_t link) const {
  writeText(linkPlace(link, LINK_HELLO));
  writeUnsigned(isFront() ? behind().starts : state.starts);
  writeText(linkPlace(link, LINK_HELLO_AFTER));
}

// The count that a sender goes on from.
void Controller::writeCount(uint8_t link, uint32_t count) const {
  writeText(linkPlace(link, LINK_TOLD_BEFORE));
  writeUnsigned(count);
  writeText(linkPlace(link, LINK_TOLD_AFTER));
}

// The whole state: values in the order of the sheet, then readings that are known.
bool Controller::writeState(uint8_t link, bool dry) const {
  bool any = false;
  if (!dry) writeText(linkPlace(link, LINK_HEAD));
  for (uint8_t load = 0; load < countOf(LOADS); load++) {
    if (!messageOf(link, load) || !writeReport(link, load, true, true)) continue;
    if (any && !dry) writeText(linkPlace(link, LINK_BETWEEN));
    any = true;
    if (!dry) writeReport(link, load, true, false);
  }
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    const Place at = row(firstOf(READINGS), READING_SIZE, i);
    if (u8(at) != link || !readingOf(u8(static_cast<Place>(at + READING_SENSOR))).known) continue;
    if (!writeReading(i, true, true)) continue;
    if (any && !dry) writeText(linkPlace(link, LINK_BETWEEN));
    any = true;
    if (!dry) writeReading(i, true, false);
  }
  if (!dry) writeText(linkPlace(link, LINK_TAIL));
  return any || textLength(linkPlace(link, LINK_HEAD)) > 0;
}

// `item`: as it stands in the whole state. A number that has no text here is told as the named
// value nearest to it.
bool Controller::writeReport(uint8_t link, uint8_t load, bool item, bool dry) const {
  const Place message = messageOf(link, load);
  if (!message) return false;
  const Value value = state.motion[load].value;
  int16_t name = nameOf(load, value);
  if (name < 0 && (messageFlags(message) & TELLS_NUMBERS)) {
    const Place around = static_cast<Place>(message + MESSAGE_NUMBER + (item ? 4 : 0));
    if (!dry && frameOf(link)) {
      writeStructure(link, u16(around), value);
    } else if (!dry) {
      writeText(u16(around));
      writeNumber(value);
      writeText(u16(static_cast<Place>(around + 2)));
    }
    return true;
  }
  if (name < 0) name = nameOf(load, nearestNamed(load, value));
  if (name < 0) return false;
  const Place texts = u16(static_cast<Place>(message + (item ? MESSAGE_ITEMS : MESSAGE_REPORTS)));
  const Place text = u16(static_cast<Place>(texts + 2 * name));
  if (!dry) writeText(text);
  return textLength(text) > 0;
}

// A number in a structure, with the end of its frame.
void Controller::writeStructure(uint8_t link, Place agreed, Value value) const {
  char payload[Limits::buffer + 1];
  char text[Limits::buffer + 1];
  const Place frame = frameOf(link);
  const uint16_t size = withNumber(agreed, frame, value, payload);
  const uint16_t length = framed(frame, payload, size, text, Limits::buffer);
  if (length == NO_FRAME) return;
  for (uint16_t i = 0; i < length; i++) Board::put(text[i]);
  writeEnd(link);
}

// What ends a message, where something does: one character, or two.
void Controller::writeEnd(uint8_t link) const {
  if (linkFlags(link) & CODES) return;
  const Place end = static_cast<Place>(linkRow(link) + LINK_END);
  const uint8_t second = u8(static_cast<Place>(end + 1));
  Board::put(static_cast<char>(u8(end)));
  if (second) Board::put(static_cast<char>(second));
}

bool Controller::writeReading(uint8_t index, bool item, bool dry) const {
  const Place at = row(firstOf(READINGS), READING_SIZE, index);
  const Place around = static_cast<Place>(at + (item ? READING_ITEM : READING_BEFORE));
  const Place before = u16(around);
  if (!before) return false;
  if (dry) return true;
  const uint8_t sensor = u8(static_cast<Place>(at + READING_SENSOR));
  writeText(before);
  writeValue(readingOf(sensor), static_cast<Quotes>(u8(static_cast<Place>(at + READING_QUOTES))));
  writeText(u16(static_cast<Place>(around + 2)));
  return true;
}

void Controller::writeText(Place text) const {
  const uint8_t length = textLength(text);
  for (uint8_t i = 0; i < length; i++) Board::put(textChar(text, i));
}

void Controller::writeUnsigned(uint32_t number) const {
  char digits[MOST_DIGITS];
  uint8_t count = digitsOf(number, digits);
  while (count) Board::put(digits[--count]);
}

void Controller::writeNumber(int32_t number) const {
  if (number < 0) Board::put('-');
  writeUnsigned(sizeOf(number));
}

// Hundredths, without zeros at the end.
void Controller::writeHundredths(int32_t hundredths) const {
  const uint32_t size = sizeOf(hundredths);
  if (hundredths < 0) Board::put('-');
  writeUnsigned(size / 100);
  const uint8_t part = static_cast<uint8_t>(size % 100);
  if (!part) return;
  Board::put('.');
  Board::put(static_cast<char>('0' + part / 10));
  if (part % 10) Board::put(static_cast<char>('0' + part % 10));
}

const char *const READING_WORDS[] = {"open", "closed", "broken"};

void Controller::writeValue(const Reading &reading, Quotes quotes) const {
  const bool whole = reading.form == NUMBER && reading.first >= 0 && reading.first % 100 == 0;
  const bool quoted =
      quotes == QUOTED_WORDS ? reading.form != NUMBER : quotes == QUOTED_BUT_WHOLE && !whole;
  if (quoted) Board::put('"');
  if (reading.form == WORD) {
    for (const char *c = READING_WORDS[reading.first]; *c; c++) Board::put(*c);
  } else {
    writeHundredths(reading.first);
    if (reading.form == PAIR) {
      Board::put(',');
      writeHundredths(reading.second);
    }
  }
  if (quoted) Board::put('"');
}

const uint16_t TO_THE_PAGE = 1;

bool Controller::sayNumber(uint8_t link, uint8_t load) const {
  const Value value = state.motion[load].value;
  if (nameOf(load, value) >= 0) return false;
  Board::begin(link, TO_THE_PAGE);
  writeNumber(value);
  Board::end();
  return true;
}

bool Controller::sayReading(uint8_t link, uint8_t sensor, bool &isNumber) const {
  const Reading reading = readingOf(sensor);
  isNumber = reading.form == NUMBER;
  if (!reading.known) return false;
  Board::begin(link, TO_THE_PAGE);
  writeValue(reading, BARE);
  Board::end();
  return true;
}

void Controller::restLink(uint8_t link, bool up) {
  Link &is = state.links[link];
  is.up = up;
  is.busy = false;
  is.length = 0;
  is.seen = 0;
  is.waiting = 0;
  is.every.clear();
  state.handed[link].until.clear();
  for (uint8_t i = 0; i < Limits::leasts; i++) {
    is.least[i].freeAt.clear();
    is.least[i].owed = false;
  }
  for (uint8_t i = 0; i < sizeof is.adopts; i++) is.adopts[i] = 0;
}

void Controller::linkUp(Ms now, uint8_t link) {
  begin(now);
  if (state.running && (linkFlags(link) & SENSES)) {
    Link &is = state.links[link];
    is.up = true;
    is.length = 0;
    is.every.in(u32(static_cast<Place>(linkRow(link) + LINK_EVERY)), now);
    if (isBox())
      connectBox();
    else if (linkFlags(link) & ON_CONNECT)
      sendState(link);
  }
  finish(false);
}

// A link that the board cannot sense stays as it is.
void Controller::linkDown(Ms now, uint8_t link) {
  begin(now);
  if (state.running && (linkFlags(link) & SENSES)) {
    Link &is = state.links[link];
    const uint8_t seen = is.seen;
    restLink(link, false);
    is.seen = seen;
    if (isBox()) {
      disconnectBox();
      return finish(false);
    }
    const Asking asking = {link, false};
    for (uint8_t i = 0; i < countOf(LOADS); i++)
      if (isKind(i, HELD))
        set(i, valueAsk(0), asking);
      else if (isFront() && flagOf(i, IS_HELD) && messageOf(link, i))
        forward(link, i, valueAsk(0));
    if (isFront() && behind().said) askBehind(false);
  }
  finish(false);
}

}  // namespace nolvi
