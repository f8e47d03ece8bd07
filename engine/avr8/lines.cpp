// The board of lines on an 8-bit chip: its first serial port, and a table that is written into the
// finished program.
#include <avr/io.h>
#include <avr/pgmspace.h>

#include "../lines/lines.h"

namespace nolvi {

// Filled in the finished program; where it stands is found by its first bytes.
extern const uint8_t TABLE[Limits::table] PROGMEM __attribute__((used)) = {0x4e, 0x56, 0x54, 0x42};

uint8_t tableByte(Place at) { return pgm_read_byte(TABLE + at); }

int readByte() {
  while (!(UCSR0A & (1 << RXC0))) {
  }
  return UDR0;
}

void writeByte(char c) {
  while (!(UCSR0A & (1 << UDRE0))) {
  }
  UDR0 = static_cast<uint8_t>(c);
}

void takeTable() {}

}  // namespace nolvi

int main() {
  // 1 Mbaud: nobody waits for it in an emulator.
  UBRR0 = 0;
  UCSR0B = 1 << RXEN0 | 1 << TXEN0;
  nolvi::runLines();
}
