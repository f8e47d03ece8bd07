// Pins, clock, memory and serial ports of an 8-bit board, by the packaged core. Nothing waits but
// writes of memory (3.4 ms a byte) and a serial buffer that is full.
#include "board.h"

#include "controller.h"
#include "wiring.h"

// Behind the engine: the core makes macros of common words.
#include <Arduino.h>
#include <math.h>

#include "expanders.h"
#include "frames.h"
#include "kept.h"
#include "thermometer.h"

#if NOLVI_SOFT_WIRE
#include <SoftwareSerial.h>
#endif

namespace nolvi {

static Controller controller;

// From program memory.
template <typename T>
static T stored(const T *at) {
  T it;
  memcpy_P(&it, at, sizeof it);
  return it;
}

// --- Serial ports ---

#if NOLVI_SOFT_WIRE
// The wire is on ordinary pins: its bits are counted out.
static SoftwareSerial wire(NOLVI_WIRE_IN, NOLVI_WIRE_OUT);
#endif

static Stream &portOf(uint8_t link) {
#if NOLVI_SOFT_WIRE
  if (stored(&LINK_PINS[link]).port == SOFT_PORT) return wire;
#else
  (void)link;
#endif
  return Serial;
}

static void beginPort(uint8_t link) {
  const LinkPins pins = stored(&LINK_PINS[link]);
  if (pins.status != NO_PIN) pinMode(pins.status, INPUT);
#if NOLVI_SOFT_WIRE
  if (pins.port == SOFT_PORT) return wire.begin(static_cast<long>(pins.baud));
#endif
  Serial.begin(pins.baud);
}

static Stream *speaks = &Serial;

void Board::begin(uint8_t link, uint16_t) { speaks = &portOf(link); }
void Board::put(char c) { speaks->write(static_cast<uint8_t>(c)); }
void Board::end() {}

// --- Memory ---

typedef Value Values[some(Limits::loads)];
typedef Window Windows[4];

static const uint16_t STARTS_AT = Kept<Values>::SIZE;
static const uint16_t WINDOWS_AT = STARTS_AT + Kept<uint32_t>::SIZE;

static Kept<Values> keptValues(0);
static Kept<uint32_t> keptStarts(STARTS_AT);

static uint16_t windowsAt(uint8_t link) {
  return static_cast<uint16_t>(WINDOWS_AT + link * Kept<Windows>::SIZE);
}

void Board::save(uint8_t, Value) {}

// Before the command acts: a cut in between loses a command, and never takes one twice.
void Board::took(uint8_t link) {
  if (!Limits::sealed) return;
  Kept<Windows> kept(windowsAt(link));
  const Windows &are = controller.state.windows[link];
  Windows were;
  if (kept.load(were) && memcmp(were, are, sizeof were) == 0) return;
  kept.keep(are);
}

static void remember() {
  State &state = controller.state;
  keptValues.load(state.memory);
  if (!keptStarts.load(state.starts)) state.starts = 0;
  if (Limits::sealed)
    for (uint8_t i = 0; i < Limits::links; i++) {
      Kept<Windows> kept(windowsAt(i));
      kept.load(state.windows[i]);
    }
}

// What the controller wants to be kept is written at once: it waits.
static void keep() {
  while (controller.state.isWriting) {
    keptValues.keep(controller.state.writing);
    controller.memoryDone(millis());
  }
}

uint32_t Board::clockS() { return 0; }

// --- Lines ---

// The level first, so that no relay clicks when the pin becomes an output.
static void drivePin(uint8_t pin, bool high) {
  if (NOLVI_EXPANDERS && pin >= FIRST_EXPANDED) return setExpanded(pin, high);
  digitalWrite(pin, high ? HIGH : LOW);
  pinMode(pin, OUTPUT);
}

void Board::pin(uint8_t load, uint8_t line, uint16_t level) {
  const LinePin to = stored(&LINE_PINS[load][line]);
  if (to.pin == NO_PIN) return;
  if (hasKind(OPPOSED) && to.use == STEPS) {
    if (level)
      tone(to.pin, level);
    else
      noTone(to.pin);
  } else if (hasKind(LEVEL) && to.use == DIMS) {
    analogWrite(to.pin, static_cast<int>(level));
  } else {
    return drivePin(to.pin, level != 0);
  }
  pinMode(to.pin, OUTPUT);
}

void Board::lamp(uint8_t lamp, Level level) { drivePin(stored(&LAMP_PINS[lamp]), level != 0); }

static Level levelOf(uint8_t pin) {
  if (NOLVI_EXPANDERS && pin >= FIRST_EXPANDED) return isExpandedHigh(pin);
  return digitalRead(pin) == HIGH;
}

static void listenTo(uint8_t pin, bool pulledUp) {
  if (pin < FIRST_EXPANDED) pinMode(pin, pulledUp ? INPUT_PULLUP : INPUT);
}

// --- Hand controls and knobs ---

static Level levels[some(Limits::inputs)];
static uint8_t turns[some(Limits::knobs)];

static void readInputs(Ms now) {
  for (uint8_t i = 0; i < Limits::inputs; i++) {
    const Level level = levelOf(stored(&INPUT_PINS[i]));
    if (level == levels[i]) continue;
    levels[i] = level;
    controller.pin(now, i, level);
  }
}

static void readKnobs(Ms now) {
  for (uint8_t i = 0; i < Limits::knobs; i++) {
    const KnobPins pins = stored(&KNOB_PINS[i]);
    const Level a = levelOf(pins.a), b = levelOf(pins.b);
    const uint8_t lines = static_cast<uint8_t>(a * 2 + b);
    if (lines == turns[i]) continue;
    turns[i] = lines;
    controller.knob(now, i, a, b);
  }
}

// --- A remote ---

#if NOLVI_RECEIVER_PIN >= 0
static Frames frames;
static void markBegins() { frames.mark(micros()); }
#endif

// A key that stays down repeats what it said, so long as it was heard before.
static void readRemote(Ms now) {
#if NOLVI_RECEIVER_PIN >= 0
  const Ms FORGOTTEN_MS = 250;
  static uint32_t last;
  static Timer heard;
  uint32_t frame;
  noInterrupts();
  const bool came = frames.take(frame);
  const bool repeats = frames.takeRepeat();
  interrupts();
  if (came) last = frame;
  if (!came && (!repeats || !heard.armed || heard.over(now))) return;
  heard.set(now + FORGOTTEN_MS);
  controller.infrared(now, NOLVI_RECEIVER, numberIn(static_cast<uint16_t>(last)),
                      numberIn(static_cast<uint16_t>(last >> 16)), !came);
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
}

static int32_t whole(float value) { return static_cast<int32_t>(floor(value + 0.5f)); }

static const float KELVIN = 273.15f, WARM = 298.15f;
static const int32_t COUNTS = 1024;

// Tenths of a degree, by the B equation; the thermistor lies between pin and ground.
static int32_t thermistor(int32_t counts, const SensorPins &pins) {
  if (counts <= 0) counts = 1;
  if (counts >= COUNTS) counts = COUNTS - 1;
  const float share =
      pins.factor * static_cast<float>(counts) / static_cast<float>(COUNTS - counts);
  return whole(10 * (1 / (1 / WARM + log(share) / pins.beta) - KELVIN));
}

// Per cent of the way to either end.
static int32_t axis(uint8_t pin) {
  return whole((static_cast<float>(analogRead(pin)) * 2 - (COUNTS - 1)) * 100 / (COUNTS - 1));
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
  if (pins.reads == READS_CONTACT) return levelOf(pins.pin) == 0;
  for (uint8_t i = 0; i < pins.more; i++)
    if (levelOf(stored(&FLOAT_PINS[pins.pin + i])) == 0) bits |= static_cast<int32_t>(1) << i;
  return bits;
}

static void readSensor(Ms now, uint8_t sensor) {
  const SensorPins pins = stored(&SENSOR_PINS[sensor]);
  Sensed &is = sensed[sensor];
  if (pins.reads == READS_NOTHING) return;
  if (pins.reads == READS_CONTACT || pins.reads == READS_FLOATS) {
    const int32_t bits = closed(pins);
    if (bits != is.seen) {
      is.seen = bits;
      is.since = now;
    }
    // What bounces is looked at when it has come to rest.
    if (!is.given || reached(now, is.since + pins.ms)) give(now, sensor, bits, 0);
    return;
  }
#if NOLVI_THERMOMETERS
  if (pins.reads == READS_THERMOMETER) {
    if (reached(now, is.since + pins.ms)) readThermometer(now, sensor, pins.pin);
    return;
  }
#endif
  if (is.given && !reached(now, is.since + pins.ms)) return;
  is.since = now;
  if (pins.reads == READS_AXES) return give(now, sensor, axis(pins.pin), axis(pins.more));
  const int32_t counts = analogRead(pins.pin);
  if (pins.reads == READS_THERMISTOR)
    give(now, sensor, thermistor(counts, pins), 0);
  else if (pins.reads == READS_MILLIVOLTS)
    give(now, sensor, whole(pins.factor * static_cast<float>(counts)), 0);
  else
    give(now, sensor, counts, 0);
}

// --- Start, and round after round ---

static bool connected[some(Limits::links)];

void setupBoard() {
  remember();
  beginExpanders();
  for (uint8_t i = 0; i < Limits::inputs; i++) listenTo(stored(&INPUT_PINS[i]), true);
  for (uint8_t i = 0; i < Limits::knobs; i++) {
    const KnobPins pins = stored(&KNOB_PINS[i]);
    listenTo(pins.a, true);
    listenTo(pins.b, true);
    turns[i] = 3;
  }
  for (uint8_t i = 0; i < Limits::sensors; i++) {
    const SensorPins pins = stored(&SENSOR_PINS[i]);
    if (pins.reads == READS_CONTACT) listenTo(pins.pin, pins.pulledUp);
    for (uint8_t n = 0; pins.reads == READS_FLOATS && n < pins.more; n++)
      listenTo(stored(&FLOAT_PINS[pins.pin + n]), pins.pulledUp);
  }
  readExpanders();
  for (uint8_t i = 0; i < Limits::inputs; i++) levels[i] = levelOf(stored(&INPUT_PINS[i]));
  controller.boot(millis(), levels);
  enableExpanders();
  keptStarts.keep(controller.state.starts);
  keep();
  for (uint8_t i = 0; i < Limits::links; i++) beginPort(i);
#if NOLVI_RECEIVER_PIN >= 0
  pinMode(NOLVI_RECEIVER_PIN, INPUT_PULLUP);
  attachInterrupt(digitalPinToInterrupt(NOLVI_RECEIVER_PIN), markBegins, FALLING);
#endif
}

static void readLink(Ms now, uint8_t link) {
  const uint8_t status = stored(&LINK_PINS[link]).status;
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
  if (portOf(link).availableForWrite() < SERIAL_TX_BUFFER_SIZE - 1 &&
      stored(&LINK_PINS[link]).port == OWN_PORT)
    return;
  controller.sent(now, link);
}

void loopBoard() {
  const Ms now = millis();
  for (uint8_t i = 0; i < Limits::links; i++) readLink(now, i);
  const Earliest due = controller.nextDue();
  if (due.armed && reached(now, due.due)) controller.tick(now);
  readExpanders();
  readInputs(now);
  readKnobs(now);
  readRemote(now);
  for (uint8_t i = 0; i < Limits::sensors; i++) readSensor(now, i);
  keep();
  for (uint8_t i = 0; i < Limits::links; i++) {
    Stream &port = portOf(i);
    while (port.available() > 0) {
      const char c = static_cast<char>(port.read());
      controller.received(now, i, &c, 1);
      keep();
    }
    emptyQueue(now, i);
  }
}

}  // namespace nolvi
