// A program that is made beforehand: the table of a design is written into it, and it runs without
// anybody else's code but the compiler's own.
#include <avr/pgmspace.h>

#include "board.h"
#include "table.h"

namespace nolvi {

// Where it stands is found by its first bytes.
extern const uint8_t TABLE[Limits::table] PROGMEM __attribute__((used)) = {0x4e, 0x56, 0x54, 0x42};

uint8_t tableByte(Place at) { return pgm_read_byte(TABLE + at); }

}  // namespace nolvi

int main() {
  nolvi::setupBoard();
  for (;;) nolvi::loopBoard();
}
