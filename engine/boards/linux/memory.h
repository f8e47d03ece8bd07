// What outlives a power cut: a file, held in memory as well.
#ifndef NOLVI_MEMORY_H
#define NOLVI_MEMORY_H

#include <stdint.h>

namespace nolvi {

uint8_t readKept(uint16_t at);
void writeKept(uint16_t at, uint8_t byte);
// Writes what was changed, and waits until it stands there.
void settleKept();

}  // namespace nolvi

#endif
