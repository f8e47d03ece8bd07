// The design that the program was made for: given by design.cpp.
#ifndef NOLVI_DESIGN_H
#define NOLVI_DESIGN_H

#include <stdint.h>

namespace nolvi {

extern const uint8_t DESIGN[];
extern const uint32_t DESIGN_SIZE;

}  // namespace nolvi

#endif
