// Room of a board with a network for any design: for tests.
#ifndef NOLVI_SIZES_H
#define NOLVI_SIZES_H

#include <stdint.h>

#define NOLVI_TIMED 1
#define NOLVI_ALONE 0
#define NOLVI_OWN_PORT 1
#define NOLVI_SOFT_WIRE 0
#define NOLVI_EXPANDERS 8
#define NOLVI_THERMOMETERS 0
#define NOLVI_RECEIVER 0
#define NOLVI_PEER 0
#define NOLVI_BLUETOOTH 0
#define NOLVI_LOW_ENERGY 0
#define NOLVI_DIMS 1
#define NOLVI_STEPS 1

namespace nolvi {

struct Limits {
  static const uint8_t loads = 64, timers = 5, helds = 64, holders = 128, inputs = 64, knobs = 32,
                       sticks = 32, links = 24, sensors = 64, readings = 96, rules = 64, lamps = 24,
                       queue = 96, seen = 32, leasts = 64, paced = 0, asked = 0;
  static const uint16_t buffer = 512, senders = 32, clients = 72, streams = 64, answer = 8192,
                        out = 20000, request = 4096;
  // Kinds of outputs, a bit each (loads.h); what links have.
  static const uint8_t kinds = 0x7f;
  static const bool remotes = true, ends = true, http = true, sealed = true, tags = true,
                    reals = true, measures = true, numbers = true, times = true, numbered = true,
                    gestures = true, together = true, codes = true, frames = true, lines = true,
                    box = false, routes = false, named = false;
};

}  // namespace nolvi

#endif
