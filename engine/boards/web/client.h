// What a box asks over HTTP, one request at a time, and the events that it listens to.
#ifndef NOLVI_CLIENT_H
#define NOLVI_CLIENT_H

#include "controller.h"

namespace nolvi {
namespace client {

void begin(uint8_t link);
void serve(Ms now);
void dues(Earliest &due);
// A route to be asked for; what it is about is told with its answer.
void ask(const char *route, uint16_t length);

}  // namespace client
}  // namespace nolvi

#endif
