// What outlives a power cut, held in memory as well: given by the machine.
#ifndef NOLVI_MEMORY_H
#define NOLVI_MEMORY_H

#include <stdint.h>

namespace nolvi {

uint8_t readKept(uint16_t at);
void writeKept(uint16_t at, uint8_t byte);
// Writes what was changed, and waits until it stands there; some 30 ms where that is flash.
void settleKept();

}  // namespace nolvi

#endif
