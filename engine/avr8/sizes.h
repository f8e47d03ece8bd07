// Room of an 8-bit chip with 16 kB of memory, for tests of the machine code.
#ifndef NOLVI_SIZES_H
#define NOLVI_SIZES_H

#include <stdint.h>

#define NOLVI_TIMED 1

namespace nolvi {

struct Limits {
  static const uint8_t loads = 12, timers = 5, helds = 6, holders = 24, inputs = 12, knobs = 3,
                       sticks = 3, links = 6, sensors = 8, readings = 12, rules = 8, lamps = 6,
                       queue = 24, seen = 32, leasts = 12, paced = 0, asked = 0;
  // `heard`: what one event of a board of lines may bring.
  static const uint16_t buffer = 160, senders = 0, heard = 2048, table = 16384;
  // Kinds of outputs, a bit each (loads.h); what links have.
  static const uint8_t kinds = 0x7f;
  static const bool remotes = true, ends = true, http = true, sealed = true, tags = true,
                    reals = true, measures = true, numbers = true, times = true, numbered = true,
                    gestures = true, together = true, codes = true, frames = true, lines = true,
                    box = false, routes = false, named = false;
};

}  // namespace nolvi

#endif
