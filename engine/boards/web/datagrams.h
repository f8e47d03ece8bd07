// Links of datagrams: who was heard lately is told what changes, all of them or who asked last.
#ifndef NOLVI_DATAGRAMS_H
#define NOLVI_DATAGRAMS_H

#include "clock.h"

namespace nolvi {
namespace datagrams {

void serve(Ms now);
void say(uint8_t link, const char *text, uint16_t length);

}  // namespace datagrams
}  // namespace nolvi

#endif
