// Contacts, gestures, knobs, sticks and remotes: from an edge to what it asks for.
#include "controller.h"
#include "rows.h"

namespace nolvi {

// Whoever holds: links first, then hand controls, then remote, knob and stick, then rules.
static uint8_t holderOfInput(uint8_t index) { return static_cast<uint8_t>(countOf(LINKS) + index); }
static uint8_t holderOfKnob() { return static_cast<uint8_t>(holdersAt() - 2); }
static uint8_t inputU8(uint8_t index, InputAt at) {
  return u8(static_cast<Place>(inputRow(index) + at));
}
static Ms inputMs(uint8_t index, InputAt at) {
  return u32(static_cast<Place>(inputRow(index) + at));
}
static Place targetOf(uint8_t index, uint8_t gesture) {
  return u16(static_cast<Place>(inputRow(index) + INPUT_TARGETS + 2 * gesture));
}

void Controller::pin(Ms now, uint8_t index, Level level) {
  begin(now);
  if (state.running) {
    Input &input = state.inputs[index];
    const Ms debounce = inputMs(index, INPUT_DEBOUNCE);
    if (level == input.level) {
      input.pending.clear();
      settle(index);
    } else if (debounce == 0) {
      accept(index, level, now);
    } else if (!input.pending.armed || input.pendingLevel != level) {
      input.pendingLevel = level;
      input.since = now;
      input.pending.set(now + debounce);
    }
  }
  finish(false);
}

void Controller::accept(uint8_t index, Level level, Ms since) {
  Input &input = state.inputs[index];
  input.level = level;
  input.pending.clear();
  const uint8_t load = inputU8(index, INPUT_LOAD);
  const uint8_t kind = inputU8(index, INPUT_KIND);
  const uint8_t flags = inputU8(index, INPUT_FLAGS);
  const Asking asking = {holderOfInput(index), true};
  if (Limits::together && kind != PUSH && (flags & ASKS_SCENE)) {
    if (level == 0 || kind == MOVEMENT) does(targetOf(index, SINGLE), asking);
    return;
  }
  const Ask own = askAt(static_cast<Place>(inputRow(index) + INPUT_ASK));
  if (kind != PUSH) {
    if (kind == MOVEMENT && !isOf(load, HELD)) return does(targetOf(index, SINGLE), asking);
    const Value rest = restOf(load);
    set(load, level == 0 ? asked(load, rest, own) : valueAsk(rest), asking);
    return;
  }
  if (Limits::gestures && (flags & GESTURES)) return edge(index, level, since);
  if ((flags & HOLDS) && level == 1) set(load, valueAsk(0), asking);
  if (level == 1 || (input.locked.armed && !reached(since, input.locked.due))) return;
  input.locked.in(inputMs(index, INPUT_LOCKOUT), since);
  does(targetOf(index, SINGLE), asking);
}

// What a lever asks for at a start, where it decides then.
bool Controller::leads(uint8_t index, Level level, uint8_t &load, Ask &ask) {
  if (inputU8(index, INPUT_KIND) != POSITION || !(inputU8(index, INPUT_FLAGS) & FOLLOWS_AT_START))
    return false;
  load = inputU8(index, INPUT_LOAD);
  const Value rest = restOf(load);
  const Place own = static_cast<Place>(inputRow(index) + INPUT_ASK);
  ask = level == 0 ? asked(load, rest, askAt(own)) : valueAsk(rest);
  return true;
}

// A press for a direction that runs already stops it.
static Ask pressed(uint8_t load, Value current, const Ask &ask) {
  const Ask want = asked(load, current, ask);
  return isKind(load, OPPOSED) && want.kind == ASKS_VALUE && want.value == current
             ? valueAsk(restOf(load))
             : want;
}

// What somebody asked for: of one load, or a scene as one thing. No finger stays on what a scene
// holds, so that it ends by itself.
void Controller::does(Place target, Asking asking) {
  if (!target) return;
  if (isBox()) return offerTarget(target, true);
  const Place first = static_cast<Place>(target + 2);
  if (!Limits::together || u8(target) == TARGET_LOAD) {
    const uint8_t load = u8(first);
    const Ask ask = askAt(static_cast<Place>(first + 1));
    set(load, pressed(load, state.motion[load].value, ask), asking);
    return;
  }
  const Asking scene = {asking.holder, false};
  openTogether();
  const uint8_t count = u8(static_cast<Place>(target + 1));
  for (uint8_t i = 0; i < count; i++) {
    const Place at = row(first, SET_SIZE, i);
    set(u8(at), askAt(static_cast<Place>(at + 1)), scene);
  }
  closeTogether();
}

// When a row of presses is over, or a hold begins.
Earliest Controller::gestureDue(const Input &input) const {
  Earliest due;
  const Run &run = input.run;
  if (!Limits::gestures || !run.count) return due;
  if (input.pending.armed && (input.pendingLevel == 0 || run.hold.armed)) return due;
  if (run.hold.armed)
    due.take(run.hold);
  else
    due.take(run.due);
  return due;
}

// A debounced edge of a button that knows several gestures.
void Controller::edge(uint8_t index, Level level, Ms since) {
  Input &input = state.inputs[index];
  Run &run = input.run;
  if (level == 0 && !run.count && input.locked.armed && !reached(since, input.locked.due)) return;
  uint8_t done = NO_GESTURE;
  if (level == 0) {
    const uint8_t most = inputU8(index, INPUT_MOST);
    run.count++;
    run.last = since;
    run.due.clear();
    if (most > 1) run.due.set(since + inputMs(index, INPUT_DOUBLE));
    run.hold.clear();
    if (run.count == 1 && (inputU8(index, INPUT_FLAGS) & KNOWS_HOLD))
      run.hold.set(since + inputMs(index, INPUT_HOLD));
    if (run.count == most && most > 1) done = static_cast<uint8_t>(run.count - 1);
  } else if (run.count && run.hold.armed) {
    run.hold.clear();
    if (!run.due.armed) done = SINGLE;
  }
  if (done != NO_GESTURE)
    complete(index, done);
  else
    settle(index);
}

// Acts on what time alone completes.
void Controller::settle(uint8_t index) {
  const Input &input = state.inputs[index];
  const Earliest due = gestureDue(input);
  if (!due.armed || !reached(state.now, due.due)) return;
  complete(index, input.run.hold.armed ? static_cast<uint8_t>(HOLD)
                                       : static_cast<uint8_t>(input.run.count - 1));
}

void Controller::complete(uint8_t index, uint8_t done) {
  Input &input = state.inputs[index];
  const Ms lockout = inputMs(index, INPUT_LOCKOUT);
  const Ms until = input.run.last + lockout;
  const bool locks = lockout && input.run.count && !reached(state.now, until);
  input.run.count = 0;
  input.run.due.clear();
  input.run.hold.clear();
  input.locked.clear();
  if (locks) input.locked.set(until);
  const Asking asking = {holderOfInput(index), true};
  does(targetOf(index, done), asking);
}

// By former and new reading of the two lines of a knob: a quarter turn either way; 2 where no
// turning leads.
static const int8_t TURNS[4][4] = {{0, -1, 1, 2}, {1, 0, 2, -1}, {-1, 2, 0, 1}, {2, 1, -1, 0}};
const Ms FAST_MS = 40;

void Controller::knob(Ms now, uint8_t index, Level a, Level b) {
  begin(now);
  if (state.running) {
    const Place at = row(firstOf(KNOBS), KNOB_SIZE, index);
    Knob &is = state.knobs[index];
    const uint8_t lines = static_cast<uint8_t>(a * 2 + b);
    const int8_t turn = TURNS[is.lines][lines];
    const bool accelerated = u8(static_cast<Place>(at + 3)) != 0;
    is.lines = lines;
    if (turn == 1 || turn == -1) {
      is.count = static_cast<int8_t>(is.count + turn);
      const int8_t counts = static_cast<int8_t>(u8(static_cast<Place>(at + 2)));
      if (is.count >= counts || is.count <= -counts) {
        const Value by = accelerated && is.fast.armed ? 2 : 1;
        const Value detents = is.count > 0 ? by : static_cast<Value>(-by);
        is.count = 0;
        is.fast.clear();
        if (accelerated) is.fast.set(now + FAST_MS);
        steps(u8(static_cast<Place>(at + 1)), detents);
      }
    }
  }
  finish(false);
}

// Detents of a knob, up positive.
void Controller::steps(uint8_t load, Value detents) {
  if (isBox()) {
    const Wish wish = {WISH_DETENTS, load, false, stepsAsk(detents), 0};
    return offer(wish);
  }
  const Asking asking = {holderOfKnob(), false};
  openTogether();
  const Value way = detents > 0 ? 1 : -1;
  for (Value n = detents; n != 0; n = static_cast<Value>(n - way))
    set(load, asked(load, state.motion[load].value, stepsAsk(way)), asking);
  closeTogether();
}

// A side is no switch: what it asks for is asked for, though it may be so already.
void Controller::push(uint8_t index, Place target) {
  if (!target) return;
  const Asking asking = {holderOfKnob(), true};
  if (Limits::together && u8(target) != TARGET_LOAD) return does(target, asking);
  const uint8_t load = u8(static_cast<Place>(target + 2));
  const Ask ask = askAt(static_cast<Place>(target + 3));
  if (isBox())
    offerTarget(target, false);
  else
    set(load, asked(load, state.motion[load].value, ask), asking);
  // A step is asked for again and again while it points there.
  Stick &stick = state.sticks[index];
  const Ms repeat = u32(static_cast<Place>(row(firstOf(STICKS), STICK_SIZE, index) + 2));
  if (repeat && stick.way != WAY_REST && (ask.kind == ASKS_STEPS || ask.kind == ASKS_NEXT))
    stick.due.set(state.now + repeat);
}

void Controller::infrared(Ms now, uint8_t sensor, uint16_t address, uint16_t command, bool repeat) {
  begin(now);
  if (state.running)
    for (uint8_t i = 0; i < countOf(RECEIVERS); i++) {
      const Place receiver = row(firstOf(RECEIVERS), RECEIVER_SIZE, i);
      if (u8(receiver) != sensor) continue;
      const uint8_t count = u8(static_cast<Place>(receiver + 1));
      for (uint8_t k = 0; k < count; k++) {
        const Place key = row(u16(static_cast<Place>(receiver + 2)), RECEIVER_KEY_SIZE, k);
        if (u16(key) != address || u16(static_cast<Place>(key + 2)) != command) continue;
        const Place target = u16(static_cast<Place>(key + 4));
        const Asking asking = {holderOfKnob(), false};
        // A repeat frame counts for what is held and for levels; a scene is asked for once.
        const bool again = target && u8(target) == TARGET_LOAD &&
                           (isOf(u8(static_cast<Place>(target + 2)), HELD) ||
                            isOf(u8(static_cast<Place>(target + 2)), LEVEL));
        if (!repeat || again) does(target, asking);
        break;
      }
    }
  finish(false);
}

}  // namespace nolvi
