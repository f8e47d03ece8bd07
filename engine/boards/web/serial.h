// Links that are streams of bytes, as the machine gives them: serial ports, consoles.
#ifndef NOLVI_SERIAL_H
#define NOLVI_SERIAL_H

#include <stdint.h>

namespace nolvi {
namespace serial {

void begin(uint8_t link);
bool take(uint8_t link, uint8_t &byte);
void put(uint8_t link, uint8_t byte);
// Whether all is on its way.
bool isIdle(uint8_t link);
// Who comes and goes.
void serve(uint32_t now);

}  // namespace serial
}  // namespace nolvi

#endif
