// What hangs on which pin of the board: filled in design.cpp, which is made from the design.
#ifndef NOLVI_WIRING_H
#define NOLVI_WIRING_H

#include <stdint.h>

namespace nolvi {

const uint8_t NO_PIN = 255;
// Pins of expanders are counted from here on.
const uint8_t FIRST_EXPANDED = 100;
const uint8_t MOST_LINES = 4;

// A line of a load, in the order of the engine.
enum LineUse : uint8_t { SWITCHES, DIMS, STEPS };
struct LinePin {
  uint8_t pin;
  uint8_t use;
};

struct KnobPins {
  uint8_t a, b;
};

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
// `factor`: millivolts a count, or series resistor over resistance at 25 degrees; `beta` of the
// thermistor, K; `ms`: between two readings, or how long a contact has to rest.
struct SensorPins {
  uint8_t reads, pin, more;
  bool pulledUp;
  uint16_t ms;
  float factor, beta;
};

// A serial link: on the port of the board, or on ordinary pins.
enum Port : uint8_t { OWN_PORT, SOFT_PORT };
struct LinkPins {
  uint8_t port, status;
  uint32_t baud;
};

// An expander: a port on a two-wire bus where it has an address, else shift registers. `read`: some
// of its pins are read.
struct ExpanderPins {
  uint8_t first, count, data, clock, latch, enable, address;
  bool read;
};

extern const LinePin LINE_PINS[][MOST_LINES];
extern const uint8_t INPUT_PINS[];
extern const uint8_t LAMP_PINS[];
extern const KnobPins KNOB_PINS[];
extern const SensorPins SENSOR_PINS[];
extern const uint8_t FLOAT_PINS[];
extern const LinkPins LINK_PINS[];
extern const ExpanderPins EXPANDER_PINS[];

}  // namespace nolvi

#endif
