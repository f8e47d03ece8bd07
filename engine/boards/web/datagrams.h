// Links of datagrams: who was heard lately is told what changes, all of them or who asked last.
#ifndef NOLVI_DATAGRAMS_H
#define NOLVI_DATAGRAMS_H

#include "clock.h"
#include "net.h"

namespace nolvi {
namespace datagrams {

void serve(Ms now);
// Of a box: where the board that it asks is heard.
void speakTo(uint8_t link, const net::Sender &board);
// A link by radio from board to board, on a channel.
void beginPeer(uint8_t link, uint8_t channel);
void say(uint8_t link, const char *text, uint16_t length);

}  // namespace datagrams
}  // namespace nolvi

#endif
