// Two directions: a reversal goes through stop and the dead time; the wanted direction is the value
// meanwhile.
#include "controller.h"

namespace nolvi {

static bool restsOther(const Motion &is, Value want) {
  const uint8_t line = is.phase & RESTS_BOTH;
  return is.timers[RESTS_DUE].armed && line != (want == FORWARD ? RESTS_FORWARD : RESTS_REVERSE);
}

void Controller::started(uint8_t load, Motion &is, Value want) {
  if (restsOther(is, want)) return;
  is.state = static_cast<uint8_t>(want);
  is.timers[RUN_DUE].in(msOf(load, RUN_MS), state.now);
}

Outcome Controller::turned(uint8_t load, Motion &is, Value want) {
  Outcome came = {false, false};
  if (want == is.value) return came;
  const uint8_t end = want == FORWARD ? FORWARD_END : want == REVERSE ? REVERSE_END : 0;
  if (is.flags & end) {
    came.refused = true;
    return came;
  }
  if (is.state != STOP) {
    const Ms dead = msOf(load, DEAD_MS);
    is.phase = static_cast<uint8_t>((is.phase & 0x0f) |
                                    (is.state == FORWARD ? RESTS_FORWARD : RESTS_REVERSE));
    is.state = STOP;
    is.timers[RUN_DUE].clear();
    is.timers[RESTS_DUE].in(dead, state.now);
  }
  is.value = want;
  if (want != STOP) started(load, is, want);
  return came;
}

// An end contact opens or closes: closed, it ends its direction.
void Controller::ended(uint8_t load, Motion &is, Value direction, bool closed) {
  const uint8_t end = direction == FORWARD ? FORWARD_END : REVERSE_END;
  if (((is.flags & end) != 0) == closed) return;
  is.flags = static_cast<uint8_t>(closed ? is.flags | end : is.flags & ~end);
  if (!closed || is.value != direction) return;
  turned(load, is, STOP);
  stepped(load, is);
}

// Coils go on by a step whenever one is due; the first is a step after the start of a run.
void Controller::stepped(uint8_t load, Motion &is) {
  if (loadU8(load, LOAD_DRIVE) != DRIVES_COILS) return;
  Timer &due = is.timers[STEP_DUE];
  const Ms step = msOf(load, STEP_MS);
  if (is.state == STOP) return due.clear();
  if (!due.armed) return due.set(state.now + step);
  if (!reached(state.now, due.due)) return;
  const uint8_t by = flagOf(load, FULL_STEPS) ? 2 : 1;
  const uint8_t phase = is.phase & 0x07;
  const uint8_t next = static_cast<uint8_t>((phase + (is.state == FORWARD ? by : 8 - by)) & 0x07);
  is.phase = static_cast<uint8_t>((is.phase & 0xf8) | next);
  due.due += step;
}

}  // namespace nolvi
