// A board of lines, for tests: events come as lines of text, what they do goes out as lines. After
// each event stands when the next timer is due, and the value of each load.
#ifndef NOLVI_LINES_H
#define NOLVI_LINES_H

#include "../controller.h"

namespace nolvi {

// Given by the machine: a byte, -1 at the end.
int readByte();
void writeByte(char c);
// A table begins anew; its bytes in hexadecimal follow until the end of the line.
void takeTable();

// The next byte of the table; -1 at its end.
int tableHex();

void runLines();

}  // namespace nolvi

#endif
