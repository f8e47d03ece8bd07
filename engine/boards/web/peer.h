// Radio from board to board, without a network: given by boards that have it.
#ifndef NOLVI_PEER_H
#define NOLVI_PEER_H

#include <stdint.h>

namespace nolvi {
namespace peer {

// Six bytes each: of this board, and of the other; all ones = everybody.
void begin(const uint8_t *own, const uint8_t *other, uint8_t channel);
int16_t receive(char *to, uint16_t most);
void send(const char *from, uint16_t length);

}  // namespace peer
}  // namespace nolvi

#endif
