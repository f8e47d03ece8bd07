// A board round after round, by what its chip gives: pins, clock, memory, ports (chip.h, memory.h,
// ports.h). On an 8-bit board nothing waits but writes of memory (3.4 ms a byte) and a serial
// buffer that is full.
#include "board.h"

#include <math.h>

#include "chip.h"
#include "controller.h"
#include "expanders.h"
#include "frames.h"
#include "kept.h"
#include "ports.h"
#include "thermometer.h"
#include "wiring.h"

namespace nolvi {

Controller controller;

// --- Memory ---

typedef Value Values[some(Limits::loads)];
typedef Window Windows[4];

// Where it begins: several engines on one board share its memory (sizes.h).
#ifndef NOLVI_KEPT_FROM
#define NOLVI_KEPT_FROM 0
#endif
static const uint16_t STARTS_AT = NOLVI_KEPT_FROM;
// What proofs go by stands before what changes its size with the loads: it has to be found again by
// another program for the same secret.
static const uint16_t WINDOWS_AT = STARTS_AT + Kept<uint32_t>::SIZE;
static const uint16_t VALUES_AT =
    WINDOWS_AT + (Limits::tags ? Limits::links : 0) * Kept<Windows>::SIZE;

#ifdef NOLVI_KEPT_ROOM
static_assert(VALUES_AT + Kept<Values>::SIZE <= NOLVI_KEPT_FROM + NOLVI_KEPT_ROOM, "too much");
#endif

static Kept<Values> keptValues(VALUES_AT);
static Kept<uint32_t> keptStarts(STARTS_AT);

static uint16_t windowsAt(uint8_t link) {
  return static_cast<uint16_t>(WINDOWS_AT + link * Kept<Windows>::SIZE);
}

void Board::save(uint8_t, Value) {}

// Before the command acts: a cut in between loses a command, and never takes one twice.
void Board::took(uint8_t link) {
  if (!Limits::tags) return;
  Kept<Windows> kept(windowsAt(link));
  const Windows &are = controller.state.windows[link];
  Windows were;
  if (kept.load(were) && memcmp(were, are, sizeof were) == 0) return;
  kept.keep(are);
}

static void remember() {
  State &state = controller.state;
  keptValues = Kept<Values>(VALUES_AT, u16(wiring(KEPT_KEY)));
  keptValues.load(state.memory);
  if (!keptStarts.load(state.starts)) state.starts = 0;
  if (Limits::tags)
    for (uint8_t i = 0; i < countOf(LINKS); i++) {
      Kept<Windows> kept(windowsAt(i));
      kept.load(state.windows[i]);
    }
}

// What the controller wants to be kept is written at once: it waits.
void keep() {
  while (controller.state.isWriting) {
    keptValues.keep(controller.state.writing);
    controller.memoryDone(chip::ms());
  }
}

uint32_t Board::clockS() { return chip::timeOfDay(); }

// --- Lines ---

// The level first, so that no relay clicks when the pin becomes an output.
static void drivePin(uint8_t pin, bool high) {
  if (NOLVI_EXPANDERS && pin >= FIRST_EXPANDED) return setExpanded(pin, high);
  chip::write(pin, high);
  chip::putOut(pin);
}

void Board::pin(uint8_t load, uint8_t line, uint16_t level) {
  const LinePin to = linePin(load, line);
  if (to.pin == NO_PIN) return;
#if NOLVI_STEPS
  if (to.use == STEPS) {
    chip::step(to.pin, level);
    return chip::putOut(to.pin);
  }
#endif
#if NOLVI_DIMS
  if (to.use == DIMS) {
    chip::dim(to.pin, static_cast<uint8_t>(level));
    return chip::putOut(to.pin);
  }
#endif
  drivePin(to.pin, level != 0);
}

static void driveLamp(uint8_t lamp, Level level) { drivePin(pinAt(LAMP_PINS, lamp), level != 0); }

// Where a board has several engines: a lamp is lit while one of them has it lit.
#if NOLVI_LAMPS_BESIDE
static bool lit[NOLVI_LAMPS_BESIDE + 1][some(Limits::lamps)];

void lampOf(uint8_t engine, uint8_t lamp, Level level) {
  const bool high = u8(static_cast<Place>(row(firstOf(LAMPS), LAMP_SIZE, lamp) + 1)) != 0;
  lit[engine][lamp] = (level != 0) == high;
  bool is = false;
  for (uint8_t i = 0; i <= NOLVI_LAMPS_BESIDE; i++) is = is || lit[i][lamp];
  driveLamp(lamp, is == high);
}
void Board::lamp(uint8_t lamp, Level level) { lampOf(0, lamp, level); }
#elif NOLVI_LAMPS_ELSEWHERE
// Given by what is made for a design; false = it is a lamp of this engine alone.
bool lampElsewhere(uint8_t lamp, Level level);
void Board::lamp(uint8_t lamp, Level level) {
  if (!lampElsewhere(lamp, level)) driveLamp(lamp, level);
}
#else
void Board::lamp(uint8_t lamp, Level level) { driveLamp(lamp, level); }
#endif

static Level levelOf(uint8_t pin) {
  if (NOLVI_EXPANDERS && pin >= FIRST_EXPANDED) return isExpandedHigh(pin);
  return chip::isHigh(pin);
}

static void listenTo(uint8_t pin, bool pulledUp) {
  if (pin < FIRST_EXPANDED) chip::takeIn(pin, pulledUp);
}

// --- Hand controls and knobs ---

static Level levels[some(Limits::inputs)];
static uint8_t turns[some(Limits::knobs)];

static void readInputs(Ms now) {
  for (uint8_t i = 0; i < countOf(INPUTS); i++) {
    const Level level = levelOf(pinAt(INPUT_PINS, i));
    if (level == levels[i]) continue;
    levels[i] = level;
    controller.pin(now, i, level);
  }
}

static void readKnobs(Ms now) {
  for (uint8_t i = 0; i < countOf(KNOBS); i++) {
    const KnobPins pins = knobPins(i);
    const Level a = levelOf(pins.a), b = levelOf(pins.b);
    const uint8_t lines = static_cast<uint8_t>(a * 2 + b);
    if (lines == turns[i]) continue;
    turns[i] = lines;
    controller.knob(now, i, a, b);
  }
}

// --- Other engines of the same board ---

// Given by what is made for a design that has several: they are told what only one of them can
// read, and do not read it themselves.
#if NOLVI_TELLS
void tellBeside(Ms now, uint8_t sensor, int32_t first, int32_t second);
void tellKeyBeside(Ms now, uint16_t address, uint16_t command, bool repeats);
#endif
#if NOLVI_IS_TOLD
bool isReadElsewhere(uint8_t sensor);
void readElsewhere(Ms now, uint8_t sensor, int32_t first, int32_t second) {
  controller.sample(now, sensor, first, second);
  keep();
}
void keyElsewhere(Ms now, uint8_t sensor, uint16_t address, uint16_t command, bool repeats) {
  controller.infrared(now, sensor, address, command, repeats);
  keep();
}
#endif

// --- A remote ---

#if NOLVI_RECEIVER
static Frames frames;
__attribute__((noinline)) NOLVI_INTERRUPT void markBegins() { frames.mark(chip::us()); }
#endif

// A key that stays down repeats what it said, so long as it was heard before.
static void readRemote(Ms now) {
#if NOLVI_RECEIVER
  const Ms FORGOTTEN_MS = 250;
  static uint32_t last;
  static Timer heard;
  uint32_t frame;
  bool came, repeats;
  {
    const chip::Quiet quiet;
    came = frames.take(frame);
    repeats = frames.takeRepeat();
  }
  if (came) last = frame;
  if (!came && (!repeats || !heard.armed || heard.over(now))) return;
  heard.set(now + FORGOTTEN_MS);
  const uint16_t address = numberIn(static_cast<uint16_t>(last));
  const uint16_t command = numberIn(static_cast<uint16_t>(last >> 16));
  controller.infrared(now, u8(wiring(RECEIVER_SENSOR)), address, command, !came);
#if NOLVI_TELLS
  tellKeyBeside(now, address, command, !came);
#endif
#else
  (void)now;
#endif
}

// --- Sensors ---

// What was given last, and what a contact shows since when.
struct Sensed {
  bool given;
  int32_t first, second;
  int32_t seen;
  Ms since;
};
static Sensed sensed[some(Limits::sensors)];

static void give(Ms now, uint8_t sensor, int32_t first, int32_t second) {
  Sensed &is = sensed[sensor];
  if (is.given && is.first == first && is.second == second) return;
  is.given = true;
  is.first = first;
  is.second = second;
  controller.sample(now, sensor, first, second);
#if NOLVI_TELLS
  tellBeside(now, sensor, first, second);
#endif
}

static int32_t whole(float value) { return static_cast<int32_t>(floor(value + 0.5f)); }

static const float KELVIN = 273.15f, WARM = 298.15f;

// Tenths of a degree, by the B equation; the thermistor lies between pin and ground.
static int32_t thermistor(int32_t counts, const SensorPins &pins) {
  if (counts <= 0) counts = 1;
  if (counts >= chip::COUNTS) counts = chip::COUNTS - 1;
  const float share = pins.real(SENSOR_FACTOR) * static_cast<float>(counts) /
                      static_cast<float>(chip::COUNTS - counts);
  return whole(10 * (1 / (1 / WARM + log(share) / pins.real(SENSOR_BETA)) - KELVIN));
}

// Per cent of the way to either end.
static int32_t axis(uint8_t pin) {
  return whole((static_cast<float>(chip::measure(pin)) * 2 - (chip::COUNTS - 1)) * 100 /
               (chip::COUNTS - 1));
}

#if NOLVI_THERMOMETERS
// Measures and is read by turns; what does not answer tells nothing new.
static void readThermometer(Ms now, uint8_t sensor, uint8_t pin) {
  Sensed &is = sensed[sensor];
  is.since = now;
  int32_t tenths;
  if (is.seen && Thermometer::read(pin, tenths)) give(now, sensor, tenths, 0);
  is.seen = !is.seen;
  if (is.seen) Thermometer::measure(pin);
}
#endif

static int32_t closed(const SensorPins &pins) {
  int32_t bits = 0;
  const uint8_t pin = pins[SENSOR_PIN];
  if (pins[SENSOR_READS] == READS_CONTACT) return levelOf(pin) == 0;
  for (uint8_t i = 0; i < pins[SENSOR_MORE]; i++)
    if (levelOf(pinAt(FLOAT_PINS, static_cast<uint8_t>(pin + i))) == 0)
      bits |= static_cast<int32_t>(1) << i;
  return bits;
}

static void readSensor(Ms now, uint8_t sensor) {
  int32_t first, second;
#if NOLVI_IS_TOLD
  if (isReadElsewhere(sensor)) return;
#endif
  if (chip::isTold()) {
    if (chip::told(sensor, first, second)) give(now, sensor, first, second);
    return;
  }
  const SensorPins pins(sensor);
  const uint8_t reads = pins[SENSOR_READS], pin = pins[SENSOR_PIN];
  Sensed &is = sensed[sensor];
  if (reads == READS_NOTHING) return;
  if (reads == READS_CONTACT || reads == READS_FLOATS) {
    const int32_t bits = closed(pins);
    if (bits != is.seen) {
      is.seen = bits;
      is.since = now;
    }
    // What bounces is looked at when it has come to rest.
    if (!is.given || reached(now, is.since + pins.ms())) give(now, sensor, bits, 0);
    return;
  }
#if NOLVI_THERMOMETERS
  if (reads == READS_THERMOMETER) {
    if (reached(now, is.since + pins.ms())) readThermometer(now, sensor, pin);
    return;
  }
#endif
  if (!Limits::measures || (is.given && !reached(now, is.since + pins.ms()))) return;
  is.since = now;
  if (reads == READS_AXES) return give(now, sensor, axis(pin), axis(pins[SENSOR_MORE]));
  const int32_t counts = chip::measure(pin);
  if (reads == READS_THERMISTOR)
    give(now, sensor, thermistor(counts, pins), 0);
  else if (reads == READS_MILLIVOLTS)
    give(now, sensor, whole(pins.real(SENSOR_FACTOR) * static_cast<float>(counts)), 0);
  else
    give(now, sensor, counts, 0);
}

// --- Start, and round after round ---

static bool connected[some(Limits::links)];

void setupBoard() {
  chip::begin();
  remember();
  beginExpanders();
  for (uint8_t i = 0; i < countOf(INPUTS); i++) listenTo(pinAt(INPUT_PINS, i), true);
  for (uint8_t i = 0; i < countOf(KNOBS); i++) {
    const KnobPins pins = knobPins(i);
    listenTo(pins.a, true);
    listenTo(pins.b, true);
    turns[i] = 3;
  }
  for (uint8_t i = 0; i < countOf(SENSORS); i++) {
    const SensorPins pins(i);
    const uint8_t pin = pins[SENSOR_PIN], reads = pins[SENSOR_READS];
    const bool pulledUp = pins[SENSOR_PULLED_UP] != 0;
    if (reads == READS_CONTACT) listenTo(pin, pulledUp);
    for (uint8_t n = 0; reads == READS_FLOATS && n < pins[SENSOR_MORE]; n++)
      listenTo(pinAt(FLOAT_PINS, static_cast<uint8_t>(pin + n)), pulledUp);
  }
  readExpanders();
  for (uint8_t i = 0; i < countOf(INPUTS); i++) levels[i] = levelOf(pinAt(INPUT_PINS, i));
  controller.boot(chip::ms(), levels);
  enableExpanders();
  keptStarts.keep(controller.state.starts);
  keep();
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    const uint8_t status = u8(portPlace(i, PORT_STATUS));
    if (status != NO_PIN) chip::takeIn(status, false);
    port::begin(i);
  }
#if NOLVI_RECEIVER
  const uint8_t eye = u8(wiring(RECEIVER_PIN));
  if (eye != NO_PIN) {
    chip::takeIn(eye, true);
    chip::watch(eye);
  }
#endif
}

static void readLink(Ms now, uint8_t link) {
  const uint8_t status = u8(portPlace(link, PORT_STATUS));
  if (status == NO_PIN) return;
  const bool is = levelOf(status) != 0;
  if (is == connected[link]) return;
  connected[link] = is;
  if (is)
    controller.linkUp(now, link);
  else
    controller.linkDown(now, link);
}

// What waits in a queue follows when the port has put out what it had.
static void emptyQueue(Ms now, uint8_t link) {
  if (!Limits::queue || !controller.state.links[link].busy) return;
  if (!port::isIdle(link)) return;
  controller.sent(now, link);
}

void loopBoard() {
  const Ms now = chip::ms();
  for (uint8_t i = 0; i < countOf(LINKS); i++) readLink(now, i);
  const Earliest due = controller.nextDue();
  if (due.armed && reached(now, due.due)) controller.tick(now);
  readExpanders();
  readInputs(now);
  readKnobs(now);
  readRemote(now);
  for (uint8_t i = 0; i < countOf(SENSORS); i++) readSensor(now, i);
  keep();
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    uint8_t byte;
    while (port::take(i, byte)) {
      const char c = static_cast<char>(byte);
      controller.received(now, i, &c, 1);
      keep();
    }
    emptyQueue(now, i);
  }
  port::serve(now);
  // Knobs turn faster than the clock wakes.
  if (!Limits::knobs) chip::rest();
}

void dues(Earliest &due) {
  const Earliest timers = controller.nextDue();
  if (timers.armed) due.take(timers.due);
  port::dues(due);
  for (uint8_t i = 0; i < countOf(SENSORS); i++) {
    const SensorPins pins(i);
    if (pins[SENSOR_READS] == READS_NOTHING) continue;
    // Later is a time that is never waited for.
    const Ms at = sensed[i].since + pins.ms();
    if (!reached(chip::ms(), at)) due.take(at);
  }
}

}  // namespace nolvi
