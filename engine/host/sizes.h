// Room of the host board: any design.
#ifndef NOLVI_SIZES_H
#define NOLVI_SIZES_H

#include <stdint.h>

#define NOLVI_TIMED 1

namespace nolvi {

struct Limits {
  static const uint8_t loads = 64, timers = 5, helds = 64, holders = 128, inputs = 64, knobs = 32,
                       sticks = 32, links = 24, paced = 0, asked = 0, sensors = 64, readings = 96,
                       rules = 64, lamps = 24, queue = 96, seen = 32, leasts = 64;
  // `heard`: what one event of a board of lines may bring.
  static const uint16_t buffer = 512, senders = 0, heard = 4096;
  // Kinds of outputs, a bit each (loads.h); what links have.
  static const uint8_t kinds = 0x7f;
  static const bool remotes = true, ends = true, http = true, sealed = true, tags = true,
                    reals = true, measures = true, numbers = true, times = true, numbered = true,
                    gestures = true, together = true, codes = true, frames = true, lines = true,
                    box = false, routes = false, named = false;
};

}  // namespace nolvi

#endif
