// What hangs on which pin of the board: part of the table, written by core/sides/program/wiring.ts.
#ifndef NOLVI_WIRING_H
#define NOLVI_WIRING_H

#include <string.h>

#include "controller.h"
#include "table.h"

namespace nolvi {

const uint8_t NO_PIN = 255;
// Pins of expanders are counted from here on.
const uint8_t FIRST_EXPANDED = 100;

// What the head of it holds, by its offset: where rows of each kind begin, and what there is one
// of.
enum WiringAt : uint8_t {
  LINE_PINS = 0,
  INPUT_PINS = 2,
  LAMP_PINS = 4,
  KNOB_PINS = 6,
  SENSOR_PINS = 8,
  FLOAT_PINS = 10,
  PORTS = 12,
  EXPANDERS = 14,
  EXPANDER_COUNT = 16,
  RECEIVER_SENSOR = 17,
  RECEIVER_PIN = 18,
  KEPT_KEY = 19,
  NETWORK = 21,
  OWN_NAME = 23
};
inline Place wiring(WiringAt what) { return static_cast<Place>(boardAt() + what); }
inline Place wired(WiringAt kind, uint8_t size, uint8_t nth) {
  return row(u16(wiring(kind)), size, nth);
}
inline uint8_t pinAt(WiringAt kind, uint8_t nth) { return u8(wired(kind, 1, nth)); }

// A line of a load, in the order of the engine.
enum LineUse : uint8_t { SWITCHES, DIMS, STEPS };
struct LinePin {
  uint8_t pin, use;
};
inline LinePin linePin(uint8_t load, uint8_t line) {
  const Place at = wired(LINE_PINS, 2, static_cast<uint8_t>(MOST_LINES * load + line));
  const LinePin it = {u8(at), u8(static_cast<Place>(at + 1))};
  return it;
}

struct KnobPins {
  uint8_t a, b;
};
inline KnobPins knobPins(uint8_t knob) {
  const Place at = wired(KNOB_PINS, 2, knob);
  const KnobPins it = {u8(at), u8(static_cast<Place>(at + 1))};
  return it;
}

// How a sensor is read. `more`: a second pin, or how many floats stand at FLOAT_PINS from `pin` on.
enum Reads : uint8_t {
  READS_NOTHING,
  READS_CONTACT,
  READS_FLOATS,
  READS_COUNTS,
  READS_MILLIVOLTS,
  READS_THERMISTOR,
  READS_AXES,
  READS_THERMOMETER
};
// `ms`: between two readings, or how long a contact has to rest. `factor`: millivolts a count, or
// series resistor over resistance at 25 degrees; `beta` of the thermistor, K.
enum SensorAt : uint8_t {
  SENSOR_READS = 0,
  SENSOR_PIN = 1,
  SENSOR_MORE = 2,
  SENSOR_PULLED_UP = 3,
  SENSOR_MS = 4,
  SENSOR_FACTOR = 6,
  SENSOR_BETA = 10,
  SENSOR_PINS_SIZE = 14
};
class SensorPins {
 public:
  explicit SensorPins(uint8_t sensor) : at_(wired(SENSOR_PINS, SENSOR_PINS_SIZE, sensor)) {}
  uint8_t operator[](SensorAt what) const { return u8(place(what)); }
  uint16_t ms() const { return u16(place(SENSOR_MS)); }
  float real(SensorAt what) const {
    const uint32_t bits = u32(place(what));
    float it;
    memcpy(&it, &bits, sizeof it);
    return it;
  }

 private:
  Place at_;
  Place place(SensorAt what) const { return static_cast<Place>(at_ + what); }
};

// A link: on the port of the board, on ordinary pins, on a network, or on the radio of the chip.
enum PortKind : uint8_t {
  OWN_PORT,
  SOFT_PORT,
  HTTP_PORT,
  UDP_PORT,
  SHELL_PORT,
  PEER_PORT,
  BLUETOOTH_PORT,
  LOW_ENERGY_PORT
};
enum PortAt : uint8_t {
  PORT_KIND = 0,
  PORT_STATUS = 1,
  PORT_IN = 2,
  PORT_OUT = 3,
  PORT_BAUD = 4,
  PORT_SIZE = 8
};
inline Place portPlace(uint8_t link, PortAt what) {
  return static_cast<Place>(wired(PORTS, PORT_SIZE, link) + what);
}

// An expander: a port on a two-wire bus where it has an address, else shift registers. `read`: some
// of its pins are read.
struct ExpanderPins {
  uint8_t first, count, data, clock, latch, enable, address, read;
};
inline ExpanderPins expanderAt(uint8_t nth) {
  const Place at = wired(EXPANDERS, sizeof(ExpanderPins), nth);
  uint8_t all[sizeof(ExpanderPins)];
  for (uint8_t i = 0; i < sizeof all; i++) all[i] = u8(static_cast<Place>(at + i));
  const ExpanderPins it = {all[0], all[1], all[2], all[3], all[4], all[5], all[6], all[7]};
  return it;
}

}  // namespace nolvi

#endif
