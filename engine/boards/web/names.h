// Where the board is that a box asks: its address, or what is told of its name. Nothing waits.
#ifndef NOLVI_NAMES_H
#define NOLVI_NAMES_H

#include "controller.h"

namespace nolvi {
namespace names {

void begin();
void serve(Ms now);
void dues(Earliest &due);
// Whether it is known where the board is.
bool find(uint32_t &address);
// It may have another address by now.
void doubt();

}  // namespace names
}  // namespace nolvi

#endif
