// The controller on an 8-bit board: called at its start, then round after round.
#ifndef NOLVI_BOARD_H
#define NOLVI_BOARD_H

namespace nolvi {

void setupBoard();
void loopBoard();

}  // namespace nolvi

#endif
