// The board of lines on a 32-bit core without an operating system: the serial port of an emulated
// machine (ns16550 at 0x10000000), which is switched off at the end.
#include "../lines/held.h"

namespace nolvi {

static volatile uint8_t *const PORT = reinterpret_cast<volatile uint8_t *>(0x10000000);
static volatile uint32_t *const POWER = reinterpret_cast<volatile uint32_t *>(0x100000);
const uint8_t LINE_STATUS = 5, CAME = 0x01, EMPTY = 0x20;
const uint32_t OFF = 0x5555;
// Ends what comes: a port has no end.
const int END = 4;

int readByte() {
  while (!(PORT[LINE_STATUS] & CAME)) {
  }
  const int byte = PORT[0];
  return byte == END ? -1 : byte;
}

void writeByte(char c) {
  while (!(PORT[LINE_STATUS] & EMPTY)) {
  }
  PORT[0] = static_cast<uint8_t>(c);
}

}  // namespace nolvi

int main() {
  nolvi::runLines();
  *nolvi::POWER = nolvi::OFF;
  for (;;) {
  }
}
