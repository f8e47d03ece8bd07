// Milliseconds of the board on 32 bits, which turn after 49.7 days. Two times are compared by
// their signed difference: right as long as they lie less than 24.8 days apart.
#ifndef NOLVI_CLOCK_H
#define NOLVI_CLOCK_H

#include <stdint.h>

namespace nolvi {

typedef uint32_t Ms;

inline bool reached(Ms now, Ms due) { return static_cast<int32_t>(now - due) >= 0; }

// A time that may be armed.
struct Timer {
  Ms due;
  bool armed;

  void set(Ms at) {
    due = at;
    armed = true;
  }
  void clear() { armed = false; }
  // Armed where there is a time at all.
  void in(Ms ms, Ms now) {
    armed = ms != 0;
    due = now + ms;
  }
  bool over(Ms now) const { return armed && reached(now, due); }
};

// The earliest of several times.
struct Earliest {
  Ms due;
  bool armed;

  Earliest() : due(0), armed(false) {}
  void take(Ms at) {
    if (armed && reached(at, due)) return;
    due = at;
    armed = true;
  }
  void take(const Timer &timer) {
    if (timer.armed) take(timer.due);
  }
};

}  // namespace nolvi

#endif
