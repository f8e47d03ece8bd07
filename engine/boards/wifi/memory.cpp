// A sector of flash as memory, by the environment's own emulation.
#include "memory.h"

#include <EEPROM.h>

namespace nolvi {

static const uint16_t SIZE = 4096;

static void begin() {
  static bool begun = false;
  if (!begun) EEPROM.begin(SIZE);
  begun = true;
}

uint8_t readKept(uint16_t at) {
  begin();
  return at < SIZE ? EEPROM.read(at) : 0xff;
}

void writeKept(uint16_t at, uint8_t byte) {
  begin();
  if (at < SIZE && EEPROM.read(at) != byte) EEPROM.write(at, byte);
}

void settleKept() { EEPROM.commit(); }

}  // namespace nolvi
