// The controller on a board: called at its start, then round after round.
#ifndef NOLVI_BOARD_H
#define NOLVI_BOARD_H

#include "controller.h"

namespace nolvi {

extern Controller controller;

void setupBoard();
void loopBoard();
// Writes what the controller wants to be kept.
void keep();
// When something has to be looked at again, for boards that sleep as long.
void dues(Earliest &due);

}  // namespace nolvi

#endif
