// What an output does with a wish, and what it has under way.
#include "controller.h"

namespace nolvi {

static uint8_t heldIndex(uint8_t load) {
  uint8_t index = 0;
  for (uint8_t i = 0; i < load; i++) index = static_cast<uint8_t>(index + (isKind(i, HELD)));
  return index;
}

void Controller::toRest(uint8_t load, Motion &is) const {
  is.value = restOf(load);
  is.flags = 0;
  is.state = 0;
  is.phase = 0;
  is.own = isKind(load, FOLLOWER) ? -1 : 0;
  for (uint8_t i = 0; i < Limits::timers; i++) is.timers[i].clear();
#if NOLVI_TIMED
  for (uint8_t i = 0; i < 3; i++) is.times[i] = msOf(load, static_cast<LoadMs>(i));
#endif
}

// The duty that a level ends at: levels below the minimum count as off or as the minimum.
static Value dutyOf(uint8_t load, Value wanted) {
  const uint8_t minimum = loadU8(load, LOAD_MINIMUM);
  if (wanted <= 0 || wanted >= minimum) return wanted;
  return flagOf(load, AT_LEAST) ? minimum : 0;
}

void Controller::bootMotion(uint8_t load, Value saved, Motion &is) {
  toRest(load, is);
  switch (loadU8(load, LOAD_POWER_UP)) {
    case STARTS_ON: is.value = fullOf(load); break;
    case STARTS_LAST: is.value = isValue(load, saved) ? saved : restOf(load); break;
    default: break;
  }
  switch (kindOf(load)) {
    case SWITCHED:
      if (!hasKind(SWITCHED)) break;
      if (!flagOf(load, TIMED)) break;
      // How long it was off nobody knows: the least time off begins anew.
      is.timers[FREE_AT].in(msOf(load, MIN_OFF_MS), state.now);
      if (is.value) is.flags |= STEADY;
      energised(load, is);
      break;
    case OPPOSED:
      if (!hasKind(OPPOSED)) break;
      // Nor what was driven before: both directions wait.
      if (msOf(load, DEAD_MS)) {
        is.phase = RESTS_BOTH;
        is.timers[RESTS_DUE].set(state.now + msOf(load, DEAD_MS));
      }
      break;
    case LEVEL:
      if (!hasKind(LEVEL)) break;
      is.own = dutyOf(load, is.value);
      break;
    default: break;
  }
}

Outcome Controller::wanted(uint8_t load, Motion &is, const Ask &want, Asking asking) {
  const Outcome done = {false, false};
  switch (kindOf(load)) {
    case SWITCHED:
      if (!hasKind(SWITCHED)) break;
      if (flagOf(load, TIMED)) return wantedTimed(load, is, want);
      is.value = want.value;
      return done;
    case PULSED:
      if (!hasKind(PULSED)) break;
      if (want.value == 0) {
        is.value = 0;
        is.timers[PULSE_DUE].clear();
      } else if (!(is.value && flagOf(load, IGNORES))) {
        is.value = 1;
        is.timers[PULSE_DUE].set(state.now + msOf(load, PULSE_MS));
      }
      return done;
    case HELD: {
      if (!hasKind(HELD)) break;
      const uint8_t at = heldIndex(load);
      Timer &hold = state.holds[at][asking.holder];
      state.byHand[at][asking.holder] = want.value != 0 && asking.byHand;
      hold.clear();
      if (want.value && !asking.byHand) hold.set(state.now + msOf(load, TIMEOUT_MS));
      break;
    }
    case OPPOSED: {
      if (!hasKind(OPPOSED)) break;
      const Outcome came = turned(load, is, want.value);
      stepped(load, is);
      return came;
    }
    case LEVEL: {
      if (!hasKind(LEVEL)) break;
      const Value goal = dutyOf(load, want.value);
      const Ms ramp = msOf(load, RAMP_MS);
      is.value = want.value;
      if (ramp == 0) {
        is.own = goal;
        is.timers[RAMP_DUE].clear();
      } else if (is.own == goal) {
        is.timers[RAMP_DUE].clear();
      } else if (!is.timers[RAMP_DUE].armed) {
        // A ramp under way keeps its beat and turns towards the new goal.
        is.timers[RAMP_DUE].set(state.now + ramp);
      }
      return done;
    }
    case FOLLOWER:
      if (!hasKind(FOLLOWER)) break;
      is.value = want.value;
      if (is.own < 0)
        is.own = want.value;
      else if (!is.timers[CLICK_DUE].armed)
        nextClick(load, is);
      return done;
    case MIRROR: break;
    case CHOICE:
      if (!hasKind(CHOICE)) break;
      is.value = want.value;
      return done;
  }
  // Held: on while somebody holds it.
  const uint8_t at = heldIndex(load);
  is.value = 0;
  for (uint8_t i = 0; i < holdersAt(); i++)
    if (state.byHand[at][i] || state.holds[at][i].armed) is.value = 1;
  return done;
}

Outcome Controller::elapsed(uint8_t load, Motion &is) {
  const Outcome done = {false, false};
  const Ms now = state.now;
  switch (kindOf(load)) {
    case SWITCHED:
      if (!hasKind(SWITCHED)) break;
      return flagOf(load, TIMED) ? elapsedTimed(load, is) : done;
    case PULSED:
      if (!hasKind(PULSED)) break;
      if (!is.timers[PULSE_DUE].over(now)) return done;
      is.value = 0;
      is.timers[PULSE_DUE].clear();
      return done;
    case HELD: {
      if (!hasKind(HELD)) break;
      const uint8_t at = heldIndex(load);
      is.value = 0;
      for (uint8_t i = 0; i < holdersAt(); i++) {
        if (state.holds[at][i].over(now)) state.holds[at][i].clear();
        if (state.byHand[at][i] || state.holds[at][i].armed) is.value = 1;
      }
      return done;
    }
    case OPPOSED: {
      if (!hasKind(OPPOSED)) break;
      Outcome came = done;
      if (is.timers[RESTS_DUE].over(now)) {
        is.timers[RESTS_DUE].clear();
        is.phase &= 0x0f;
        if (is.value != STOP && is.state == STOP) started(load, is, is.value);
      }
      if (is.timers[RUN_DUE].over(now)) came = turned(load, is, STOP);
      stepped(load, is);
      return came;
    }
    case LEVEL: {
      if (!hasKind(LEVEL)) break;
      if (!is.timers[RAMP_DUE].over(now)) return done;
      const Value goal = dutyOf(load, is.value);
      if (is.own != goal) is.own = static_cast<Value>(is.own + (goal > is.own ? 1 : -1));
      if (is.own == goal)
        is.timers[RAMP_DUE].clear();
      else
        is.timers[RAMP_DUE].set(now + msOf(load, RAMP_MS));
      return done;
    }
    case FOLLOWER: {
      if (!hasKind(FOLLOWER)) break;
      if (!is.timers[CLICK_DUE].over(now)) return done;
      if (is.state == STOP) {
        nextClick(load, is);
        return done;
      }
      // The device has moved by one; both lines rest for the gap.
      const Value positions = static_cast<Value>(loadU16(load, LOAD_WIDE));
      is.own = static_cast<Value>(is.own + (is.state == FORWARD ? 1 : -1));
      if (flagOf(load, ROUND)) is.own = static_cast<Value>((is.own + positions) % positions);
      is.state = STOP;
      is.timers[CLICK_DUE].set(now + msOf(load, GAP_MS));
      return done;
    }
    case MIRROR: break;
    case CHOICE:
      if (!hasKind(CHOICE)) break;
      return done;
  }
  return done;
}

// Towards the value by one click; a knob without ends turns the shorter way.
void Controller::nextClick(uint8_t load, Motion &is) {
  const int32_t positions = loadU16(load, LOAD_WIDE);
  int32_t way = is.value - is.own;
  if (flagOf(load, ROUND)) {
    const int32_t half = (positions - 1) / 2;
    way = (way + positions + half) % positions - half;
  }
  is.state = static_cast<uint8_t>(way == 0 ? STOP : way > 0 ? FORWARD : REVERSE);
  is.timers[CLICK_DUE].clear();
  if (way != 0) is.timers[CLICK_DUE].set(state.now + msOf(load, CLICK_MS));
}

bool Controller::waits(uint8_t load) const {
  const Motion &is = state.motion[load];
  switch (kindOf(load)) {
    case SWITCHED: {
      if (!hasKind(SWITCHED)) break;
      if (!NOLVI_TIMED || !flagOf(load, TIMED)) return false;
      const bool wants =
          (is.flags & (STEADY | ON_DONE | BLINK_HIGH)) != 0 || is.timers[OFF_DUE].armed;
      return is.timers[ON_DUE].armed || wants != ((is.flags & IS_ON) != 0);
    }
    case OPPOSED:
      if (!hasKind(OPPOSED)) break;
      return is.state != is.value;
    case LEVEL:
    case FOLLOWER: return is.timers[RAMP_DUE].armed;
    default: return false;
  }
  return false;
}

void Controller::dues(uint8_t load, Earliest &due) const {
  if (isKind(load, HELD)) {
    const uint8_t at = heldIndex(load);
    for (uint8_t i = 0; i < holdersAt(); i++) due.take(state.holds[at][i]);
    return;
  }
  for (uint8_t i = 0; i < Limits::timers; i++) due.take(state.motion[load].timers[i]);
}

// What is saved: what the output would come to if its timers ended now.
Value Controller::lasting(uint8_t load, const Motion &is) const {
  const bool timed = isKind(load, SWITCHED) && flagOf(load, TIMED);
  return timed && is.value && !(is.flags & (STEADY | ON_DONE)) ? 0 : is.value;
}

// The four coils by phase, in half steps: a bit each, coil 1 lowest.
static uint8_t coilsAt(uint8_t phase) {
  const uint8_t first = static_cast<uint8_t>(1 << (phase / 2));
  const uint8_t second = static_cast<uint8_t>(1 << ((phase / 2 + 1) % 4));
  return static_cast<uint8_t>(phase & 1 ? first | second : first);
}

// Levels of its lines; energised = 1 whatever the active level. Returns how many.
uint8_t Controller::levelsOf(uint8_t load, const Motion &is, uint16_t *levels) const {
  switch (kindOf(load)) {
    case LEVEL:
      if (!hasKind(LEVEL)) break;
      levels[0] = static_cast<uint16_t>((static_cast<uint32_t>(is.own) * 255 + 50) / 100);
      return 1;
    case FOLLOWER:
      if (!hasKind(FOLLOWER)) break;
      levels[0] = is.state == FORWARD;
      levels[1] = is.state == REVERSE;
      return 2;
    case OPPOSED: {
      if (!hasKind(OPPOSED)) break;
      const bool moving = is.state != STOP;
      if (loadU8(load, LOAD_DRIVE) == DRIVES_COILS) {
        const uint8_t phase = is.phase & 0x07;
        const bool off = !moving && !flagOf(load, HELD_AT_REST);
        const uint8_t bits =
            off ? 0 : coilsAt(flagOf(load, FULL_STEPS) ? static_cast<uint8_t>(phase | 1) : phase);
        for (uint8_t i = 0; i < 4; i++) levels[i] = (bits >> i) & 1;
        return 4;
      }
      levels[1] = is.state == REVERSE;
      if (loadU8(load, LOAD_DRIVE) == DRIVES_LINES) {
        levels[0] = is.state == FORWARD;
        return 2;
      }
      levels[0] = moving ? loadU16(load, LOAD_WIDE) : 0;
      levels[2] = moving;
      return flagOf(load, ENABLED) ? 3 : 2;
    }
    case CHOICE:
      if (!hasKind(CHOICE)) break;
      return 0;
    case MIRROR:
      if (!hasKind(MIRROR)) break;
      return 0;
    default: levels[0] = static_cast<uint16_t>(is.value); return 1;
  }
  return 0;
}

}  // namespace nolvi
