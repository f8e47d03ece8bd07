// Values of loads, and what can be asked of them. A value is a number: 0 and 1 for off and on; 0, 1
// and 2 for stop, forward and reverse; per cent, a position, or the number of a choice.
#ifndef NOLVI_VALUES_H
#define NOLVI_VALUES_H

#include "clock.h"
#include "table.h"

namespace nolvi {

typedef int16_t Value;

enum Asks : uint8_t {
  ASKS_VALUE,
  ASKS_TOGGLE,
  ASKS_NEXT,
  ASKS_STEPS,
  ASKS_AFTER,
  ASKS_FOR,
  ASKS_BLINK
};

// `value`: what is asked for, or how many steps, up positive. `ms`: the time of a timer, 0 = that
// of the design.
struct Ask {
  Asks kind;
  Value value;
  Ms ms;
};
const uint8_t ASK_SIZE = 7;

inline Ask valueAsk(Value value) {
  const Ask ask = {ASKS_VALUE, value, 0};
  return ask;
}
inline Ask stepsAsk(Value steps) {
  const Ask ask = {ASKS_STEPS, steps, 0};
  return ask;
}
Ask askAt(Place at);
bool isTimer(Asks asks);

// The first of the values of a load, in rising order, rest first.
Value restOf(uint8_t load);
Value fullOf(uint8_t load);
// One of the named values.
Value named(uint8_t load, uint8_t nth);
// The value asked for, from the value there is. Timers ask for none.
Ask asked(uint8_t load, Value current, const Ask &ask);
// Whether a value is one that the load can have.
bool isValue(uint8_t load, Value value);
// The nearest value that there is; of two that are as near the lower one.
Value snapped(uint8_t load, int32_t wanted);
// The nearest named value.
Value nearestNamed(uint8_t load, int32_t wanted);
// Place of a value among those with names; -1 = none.
int16_t nameOf(uint8_t load, Value value);

}  // namespace nolvi

#endif
