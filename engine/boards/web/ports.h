// Ports of a board with a network.
#ifndef NOLVI_PORTS_H
#define NOLVI_PORTS_H

#include "clock.h"

namespace nolvi {
namespace port {

void begin(uint8_t link);
bool take(uint8_t link, uint8_t &byte);
bool isIdle(uint8_t link);
void serve(Ms now);
// When something has to be done again.
void dues(Earliest &due);

}  // namespace port
}  // namespace nolvi

#endif
