// Values of loads, and what is asked for: see values.h.
#include "values.h"

#include "loads.h"

namespace nolvi {

Ask askAt(Place at) {
  const Ask ask = {static_cast<Asks>(u8(at)), i16(static_cast<Place>(at + 1)),
                   u32(static_cast<Place>(at + 3))};
  return ask;
}

bool isTimer(Asks asks) { return asks >= ASKS_AFTER; }

Value named(uint8_t load, uint8_t nth) {
  return i16(static_cast<Place>(loadU16(load, LOAD_VALUES) + 2 * nth));
}

Value restOf(uint8_t load) { return named(load, 0); }

Value fullOf(uint8_t load) { return static_cast<Value>(loadU16(load, LOAD_FULL)); }

int16_t nameOf(uint8_t load, Value value) {
  const uint8_t count = loadU8(load, LOAD_NAMED);
  for (uint8_t i = 0; i < count; i++)
    if (named(load, i) == value) return i;
  return -1;
}

// The place of a value, or of the last one below a number between two.
static int16_t placeOf(uint8_t load, Value value) {
  const int16_t at = nameOf(load, value);
  if (at >= 0 || !flagOf(load, NUMBERS)) return at;
  int16_t below = -1;
  const uint8_t count = loadU8(load, LOAD_NAMED);
  for (uint8_t i = 0; i < count; i++)
    if (named(load, i) < value) below = i;
  return below;
}

static Value oneStep(uint8_t load, Value current, bool up) {
  const int16_t last = static_cast<int16_t>(loadU8(load, LOAD_NAMED) - 1);
  int16_t at = placeOf(load, current);
  if (up) {
    at++;
    return named(load, static_cast<uint8_t>(at > last ? last : at));
  }
  // From between two values to the lower of them.
  if (at >= 0 && named(load, static_cast<uint8_t>(at)) == current) at--;
  return named(load, static_cast<uint8_t>(at < 0 ? 0 : at));
}

Ask asked(uint8_t load, Value current, const Ask &ask) {
  switch (ask.kind) {
    case ASKS_TOGGLE:
      return valueAsk(current == restOf(load) || placeOf(load, current) < 0 ? fullOf(load)
                                                                            : restOf(load));
    case ASKS_NEXT: {
      const int16_t next = static_cast<int16_t>(placeOf(load, current) + 1);
      return valueAsk(
          named(load, static_cast<uint8_t>(next >= loadU8(load, LOAD_NAMED) ? 0 : next)));
    }
    case ASKS_STEPS: {
      Value value = current;
      for (Value n = ask.value < 0 ? static_cast<Value>(-ask.value) : ask.value; n > 0; n--) {
        const Value next = oneStep(load, value, ask.value > 0);
        // At an end; further steps change nothing.
        if (next == value) break;
        value = next;
      }
      return valueAsk(value);
    }
    default: return ask;
  }
}

static int32_t distance(int32_t a, int32_t b) { return a > b ? a - b : b - a; }

Value nearestNamed(uint8_t load, int32_t wanted) {
  Value best = named(load, 0);
  const uint8_t count = loadU8(load, LOAD_NAMED);
  for (uint8_t i = 1; i < count; i++)
    if (distance(named(load, i), wanted) < distance(best, wanted)) best = named(load, i);
  return best;
}

Value snapped(uint8_t load, int32_t wanted) {
  const Value name = nearestNamed(load, wanted);
  const int16_t step = static_cast<int16_t>(loadU16(load, LOAD_STEP));
  if (step == 0) return name;
  const int32_t high = static_cast<int16_t>(loadU16(load, LOAD_HIGH));
  // Half-way between two steps the lower one.
  int32_t low = wanted <= 0 ? 0 : (2 * wanted + step - 1) / (2 * step) * step;
  if (low > high - high % step) low = high - high % step;
  const int32_t off = distance(low, wanted);
  const int32_t offName = distance(name, wanted);
  return off < offName || (off == offName && low < name) ? static_cast<Value>(low) : name;
}

bool isValue(uint8_t load, Value value) {
  return nameOf(load, value) >= 0 ||
         (value >= 0 && flagOf(load, NUMBERS) && snapped(load, value) == value);
}

}  // namespace nolvi
