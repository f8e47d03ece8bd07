// On and off with timers and limits: an on-delay, an off-delay and a blinker beside a steady
// source, OR-ed; least times on and off, a longest time on.
#include "controller.h"

namespace nolvi {

#if NOLVI_TIMED

static bool wants(const Motion &is) {
  return (is.flags & (STEADY | ON_DONE | BLINK_HIGH)) != 0 || is.timers[OFF_DUE].armed;
}

static void quiet(Motion &is) {
  is.flags = static_cast<uint8_t>(is.flags & IS_ON);
  is.timers[ON_DUE].clear();
  is.timers[OFF_DUE].clear();
  is.timers[BLINK_DUE].clear();
}

// What its sources want, as soon as the least time since its last change is over.
void Controller::energised(uint8_t load, Motion &is) {
  const bool want = wants(is);
  if (want != ((is.flags & IS_ON) != 0) && !is.timers[FREE_AT].armed) {
    is.flags = static_cast<uint8_t>(want ? is.flags | IS_ON : is.flags & ~IS_ON);
    is.timers[FREE_AT].in(msOf(load, want ? MIN_ON_MS : MIN_OFF_MS), state.now);
    is.timers[TRIP].in(want ? msOf(load, LONGEST_ON_MS) : 0, state.now);
  }
  is.value = (is.flags & IS_ON) != 0;
}

Outcome Controller::wantedTimed(uint8_t load, Motion &is, const Ask &want) {
  Motion next = is;
  const Ms now = state.now;
  if (want.kind == ASKS_VALUE) {
    quiet(next);
    if (want.value) next.flags |= STEADY;
  } else if (isTimer(want.kind)) {
    const uint8_t which = static_cast<uint8_t>(want.kind - ASKS_AFTER);
    const Ms before = next.times[which];
    if (want.ms) next.times[which] = want.ms;
    Timer &due = next.timers[want.kind == ASKS_AFTER ? ON_DUE
                             : want.kind == ASKS_FOR ? OFF_DUE
                                                     : BLINK_DUE];
    // Another time applies to a timer that runs from its start.
    const Ms at = due.armed ? due.due - before + next.times[which] : now + next.times[which];
    switch (want.kind) {
      case ASKS_AFTER:
        // Said again, it is still true: it goes on.
        if (next.flags & ON_DONE)
          due.clear();
        else
          due.set(at);
        break;
      case ASKS_FOR: due.set(now + next.times[which]); break;
      default:
        if (!due.armed) next.flags |= BLINK_HIGH;
        due.set(at);
    }
  }
  if (next.timers[FREE_AT].armed && flagOf(load, REFUSES) &&
      wants(next) != ((is.flags & IS_ON) != 0)) {
    const Outcome refused = {true, false};
    return refused;
  }
  energised(load, next);
  is = next;
  const Outcome done = {false, false};
  return done;
}

Outcome Controller::elapsedTimed(uint8_t load, Motion &is) {
  const Ms now = state.now;
  if (is.timers[FREE_AT].over(now)) is.timers[FREE_AT].clear();
  if (is.timers[ON_DUE].over(now)) {
    is.timers[ON_DUE].clear();
    is.flags |= ON_DONE;
  }
  if (is.timers[OFF_DUE].over(now)) is.timers[OFF_DUE].clear();
  if (is.timers[BLINK_DUE].over(now)) {
    is.flags ^= BLINK_HIGH;
    is.timers[BLINK_DUE].due += is.times[2];
  }
  Outcome came = {false, is.timers[TRIP].over(now)};
  // Off until somebody asks for it again; a timer that would switch it on is over too.
  if (came.tripped) {
    quiet(is);
    is.timers[TRIP].clear();
  }
  energised(load, is);
  return came;
}

#else

void Controller::energised(uint8_t, Motion &) {}
Outcome Controller::wantedTimed(uint8_t, Motion &, const Ask &) { return Outcome(); }
Outcome Controller::elapsedTimed(uint8_t, Motion &) { return Outcome(); }

#endif

}  // namespace nolvi
