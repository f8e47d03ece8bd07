// What outlives a power cut: a part of the flash, held in memory as well.
#ifndef NOLVI_MEMORY_H
#define NOLVI_MEMORY_H

#include <stdint.h>

namespace nolvi {

uint8_t readKept(uint16_t at);
void writeKept(uint16_t at, uint8_t byte);
// Writes what was changed: some 30 ms, in which nothing else is done.
void settleKept();

}  // namespace nolvi

#endif
