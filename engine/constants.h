// Constants stand in program memory where the board has such beside its memory.
#ifndef NOLVI_CONSTANTS_H
#define NOLVI_CONSTANTS_H

#include <stdint.h>

#ifdef __AVR__
#include <avr/pgmspace.h>
#define NOLVI_CONSTANT PROGMEM
namespace nolvi {
inline uint32_t constant32(const uint32_t *at) { return pgm_read_dword(at); }
}  // namespace nolvi
#else
#define NOLVI_CONSTANT
namespace nolvi {
inline uint32_t constant32(const uint32_t *at) { return *at; }
}  // namespace nolvi
#endif

#endif
