// The controller on an 8-bit board with the packaged core: called by setup() and loop().
#ifndef NOLVI_BOARD_H
#define NOLVI_BOARD_H

namespace nolvi {

void setupBoard();
void loopBoard();

}  // namespace nolvi

#endif
