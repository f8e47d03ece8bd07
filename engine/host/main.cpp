// The board of lines on this machine: standard input and output.
#include <stdio.h>

#include "../lines/lines.h"

namespace nolvi {

static uint8_t table[65536];
static uint32_t size = 0;

uint8_t tableByte(Place at) { return at < size ? table[at] : 0; }

int readByte() { return getchar(); }
void writeByte(char c) { putchar(c); }

void takeTable() {
  size = 0;
  for (int byte = tableHex(); byte >= 0; byte = tableHex())
    if (size < sizeof table) table[size++] = static_cast<uint8_t>(byte);
}

}  // namespace nolvi

int main() {
  nolvi::runLines();
  return 0;
}
