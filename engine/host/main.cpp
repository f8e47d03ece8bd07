// The board of lines on this machine: standard input and output.
#include <stdio.h>

#include "../lines/held.h"

namespace nolvi {

int readByte() { return getchar(); }
void writeByte(char c) { putchar(c); }

}  // namespace nolvi

int main() {
  nolvi::runLines();
  return 0;
}
