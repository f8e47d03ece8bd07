// The memory of the chip that outlives a power cut, byte by byte.
#ifndef NOLVI_MEMORY_H
#define NOLVI_MEMORY_H

#include <avr/eeprom.h>
#include <stdint.h>

namespace nolvi {

inline uint8_t readKept(uint16_t at) {
  return eeprom_read_byte(reinterpret_cast<const uint8_t *>(at));
}
// 3.4 ms, but where the same stands there already.
inline void writeKept(uint16_t at, uint8_t byte) {
  eeprom_update_byte(reinterpret_cast<uint8_t *>(at), byte);
}
// What was written stands there at once.
inline void settleKept() {}

}  // namespace nolvi

#endif
