// Serial ports: the one that the chip has, and one whose bits are counted out on ordinary pins.
#ifndef NOLVI_PORTS_H
#define NOLVI_PORTS_H

#include <stdint.h>

#include "clock.h"
#include "sizes.h"

namespace nolvi {

namespace own {
#if NOLVI_OWN_PORT
void begin(uint32_t baud);
// Waits while there is no room.
void put(uint8_t byte);
bool take(uint8_t &byte);
// Whether all is on its way.
bool isIdle();
#else
inline void begin(uint32_t) {}
inline void put(uint8_t) {}
inline bool take(uint8_t &) { return false; }
inline bool isIdle() { return true; }
#endif
}  // namespace own

// While a byte goes or comes nothing else does.
namespace soft {
#if NOLVI_SOFT_WIRE
void begin(uint8_t in, uint8_t out, uint32_t baud);
void put(uint8_t byte);
bool take(uint8_t &byte);
#else
inline void begin(uint8_t, uint8_t, uint32_t) {}
inline void put(uint8_t) {}
inline bool take(uint8_t &) { return false; }
#endif
}  // namespace soft

// Of a link.
namespace port {
void begin(uint8_t link);
bool take(uint8_t link, uint8_t &byte);
// Whether what was said has left; with counted bits it has.
bool isIdle(uint8_t link);
// What comes otherwise than byte by byte: nothing here.
inline void serve(uint32_t) {}
inline void dues(Earliest &) {}
}  // namespace port

}  // namespace nolvi

#endif
