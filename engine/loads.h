// Rows of loads in the table.
#ifndef NOLVI_LOADS_H
#define NOLVI_LOADS_H

#include "table.h"

namespace nolvi {

enum Kind : uint8_t { SWITCHED, PULSED, HELD, OPPOSED, LEVEL, FOLLOWER, CHOICE, MIRROR };
enum PowerUp : uint8_t { STARTS_OFF, STARTS_ON, STARTS_LAST, STARTS_REST };
enum Drive : uint8_t { DRIVES_LINES, DRIVES_STEPPER, DRIVES_COILS };

// What a row of a load holds, by its offset.
enum LoadAt : uint8_t {
  LOAD_KIND = 0,
  LOAD_FLAGS = 1,
  LOAD_POWER_UP = 2,
  LOAD_NAMED = 3,
  LOAD_VALUES = 4,
  LOAD_FULL = 6,
  LOAD_HIGH = 8,
  LOAD_STEP = 10,
  LOAD_SAVE_MS = 12,
  LOAD_DRIVE = 16,
  LOAD_MINIMUM = 17,
  LOAD_WIDE = 18,
  LOAD_MS = 20,
  LOAD_SIZE = 44
};
// Times of a row, four bytes each from LOAD_MS.
enum LoadMs : uint8_t {
  AFTER_MS = 0,
  FOR_MS = 1,
  BLINK_MS = 2,
  MIN_ON_MS = 3,
  MIN_OFF_MS = 4,
  LONGEST_ON_MS = 5,
  PULSE_MS = 0,
  TIMEOUT_MS = 0,
  DEAD_MS = 0,
  RUN_MS = 1,
  STEP_MS = 2,
  RAMP_MS = 0,
  CLICK_MS = 0,
  KEEPS_MS = 0,
  GAP_MS = 1
};
enum LoadFlag : uint8_t {
  ACTIVE_HIGH = 1,
  NUMBERS = 2,
  // Switched: timers or limits; what comes too soon is refused.
  TIMED = 4,
  REFUSES = 8,
  // Pulsed: a trigger within a pulse is ignored.
  IGNORES = 4,
  // Opposed: a line that enables; coils in full steps, held at rest.
  ENABLED = 4,
  FULL_STEPS = 8,
  HELD_AT_REST = 16,
  // Level: what lies below the minimum counts as the minimum.
  AT_LEAST = 4,
  // Follower: turns round without ends.
  ROUND = 4,
  // Mirror: held as long as somebody holds it. `LOAD_DRIVE` is its kind on the board it is on.
  IS_HELD = 4
};

inline Place loadRow(uint8_t load) { return row(firstOf(LOADS), LOAD_SIZE, load); }
inline uint8_t loadU8(uint8_t load, LoadAt at) {
  return u8(static_cast<Place>(loadRow(load) + at));
}
inline uint16_t loadU16(uint8_t load, LoadAt at) {
  return u16(static_cast<Place>(loadRow(load) + at));
}
inline Kind kindOf(uint8_t load) { return static_cast<Kind>(loadU8(load, LOAD_KIND)); }
// Whether a load is of a kind; no board asks for one that it has no room for.
constexpr bool hasKind(Kind kind) { return (Limits::kinds >> kind & 1) != 0; }
inline bool isKind(uint8_t load, Kind kind) { return hasKind(kind) && kindOf(load) == kind; }
// A box asks another board for its loads, and acts by what they are there.
constexpr bool isBox() { return Limits::box; }
// The only link of a box.
const uint8_t FAR_LINK = 0;
inline bool isOf(uint8_t load, Kind kind) {
  return isBox() ? loadU8(load, LOAD_DRIVE) == kind : isKind(load, kind);
}
inline bool flagOf(uint8_t load, LoadFlag flag) { return (loadU8(load, LOAD_FLAGS) & flag) != 0; }
inline uint32_t msOf(uint8_t load, LoadMs which) {
  return u32(static_cast<Place>(loadRow(load) + LOAD_MS + 4 * which));
}

}  // namespace nolvi

#endif
