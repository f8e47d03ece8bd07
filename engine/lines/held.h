// A table in memory, for boards of lines that have room for the largest one.
#ifndef NOLVI_HELD_H
#define NOLVI_HELD_H

#include "lines.h"

namespace nolvi {

static uint8_t table[65536];
static uint32_t size = 0;

uint8_t tableByte(Place at) { return at < size ? table[at] : 0; }

void takeTable() {
  size = 0;
  for (int byte = tableHex(); byte >= 0; byte = tableHex())
    if (size < sizeof table) table[size++] = static_cast<uint8_t>(byte);
}

}  // namespace nolvi

#endif
