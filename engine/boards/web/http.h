// A server of HTTP/1.1: the design's own routes, streams of events, and pages.
#ifndef NOLVI_HTTP_H
#define NOLVI_HTTP_H

#include "controller.h"

namespace nolvi {
namespace http {

void begin(Ms now);
void serve(Ms now);
void dues(Earliest &due);
// What the controller says: an answer to what was asked (`status`), or an event to all who listen.
void say(uint8_t link, uint16_t status, const char *text, uint16_t length);

}  // namespace http
}  // namespace nolvi

#endif
