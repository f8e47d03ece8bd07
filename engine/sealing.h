// What proves a command: the keyed hash over a count and a body.
#ifndef NOLVI_SEALING_H
#define NOLVI_SEALING_H

#include "sha256.h"
#include "table.h"

namespace nolvi {

// The tag of a count and a body, over the key of a link; `hash` has room for HASH_BYTES.
void tagOf(uint8_t link, uint32_t count, const char *body, uint16_t length, uint8_t *hash);

}  // namespace nolvi

#endif
