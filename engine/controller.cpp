// Starts, power cuts and what falls due, in the order of docs/behaviour.md.
#include "controller.h"
#include "rows.h"

namespace nolvi {

void Controller::begin(Ms now) {
  state.now = now;
  together_ = false;
  writes_ = false;
  heardOn_ = NO_LINK;
  networkSaid_ = NETWORK_SILENT;
}

void Controller::finish(bool boots) { light(boots); }

// All but memory, starts and what is kept with them.
void Controller::rested() {
  state.running = false;
  state.isWriting = false;
  state.drawn = 0;
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    toRest(i, state.motion[i]);
    state.saveOwed[i] = false;
    state.saves[i].clear();
  }
  for (uint8_t i = 0; i < Limits::helds; i++)
    for (uint8_t h = 0; h < Limits::holders; h++) {
      state.holds[i][h].clear();
      state.byHand[i][h] = false;
    }
  for (uint8_t i = 0; i < countOf(INPUTS); i++) {
    Input &input = state.inputs[i];
    input.level = 1;
    input.pending.clear();
    input.locked.clear();
    input.run.count = 0;
    input.run.due.clear();
    input.run.hold.clear();
  }
  for (uint8_t i = 0; i < countOf(KNOBS); i++) {
    state.knobs[i].lines = 3;
    state.knobs[i].count = 0;
    state.knobs[i].fast.clear();
  }
  for (uint8_t i = 0; i < countOf(STICKS); i++) {
    state.sticks[i].way = WAY_UNKNOWN;
    state.sticks[i].due.clear();
  }
  for (uint8_t i = 0; i < countOf(LINKS); i++) restLink(i, false);
  for (uint8_t i = 0; i < countOf(SENSORS); i++) state.sampled[i] = false;
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    ToldReading &told = state.told[i];
    told.told = false;
    told.owed = false;
    told.freeAt.clear();
    told.every.clear();
  }
  for (uint8_t i = 0; i < countOf(RULES); i++) {
    state.rules[i].beyond = 2;
    state.rules[i].known = false;
    state.rules[i].way = 0;
  }
  for (uint8_t i = 0; i < countOf(LAMPS); i++) {
    state.lamps[i].on = false;
    state.lamps[i].due.clear();
  }
  restBox();
}

void Controller::forget() {
  state.now = 0;
  state.starts = 0;
  for (uint8_t i = 0; i < countOf(LOADS); i++) state.memory[i] = restOf(i);
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    for (uint8_t device = 0; device < 4; device++) {
      state.windows[i][device].highest = 0;
      state.windows[i][device].taken = 0;
    }
  rested();
}

void Controller::boot(Ms now, const Level *levels) {
  begin(now);
  rested();
  state.running = true;
  state.starts++;
  for (uint8_t i = 0; i < countOf(LOADS); i++) bootMotion(i, state.memory[i], state.motion[i]);
  for (uint8_t i = 0; i < countOf(INPUTS); i++) state.inputs[i].level = levels[i];
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    const bool senses = (linkFlags(i) & SENSES) != 0;
    state.links[i].up = !senses && !(linkFlags(i) & ANSWERS_ASKERS);
    if (!senses) state.links[i].every.in(u32(static_cast<Place>(linkRow(i) + LINK_EVERY)), now);
  }
  bootBehind();
  bootBox(levels);
  // A lever that decides does so before any line is driven: one write in all.
  openTogether();
  for (uint8_t i = 0; Limits::together && !isBox() && i < countOf(INPUTS); i++) {
    uint8_t load;
    Ask ask;
    const Asking asking = {static_cast<uint8_t>(countOf(LINKS) + i), true};
    if (leads(i, levels[i], load, ask)) set(load, ask, asking);
  }
  together_ = false;
  for (uint8_t i = 0; !isBox() && i < countOf(LOADS); i++) {
    drive(i, 0);
    if (Limits::together && touched_[i] && before_[i].lasting != lasting(i, state.motion[i]))
      keep(i);
  }
  if (isBox() && state.links[0].up) connectBox();
  finish(true);
}

void Controller::powerOff(Ms now) {
  begin(now);
  if (state.running) rested();
  finish(false);
}

void Controller::network(Ms now, bool up) {
  begin(now);
  networkSaid_ = up ? NETWORK_UP : NETWORK_DOWN;
  finish(false);
}

// Timers that are due: inputs, knobs, sticks, outputs, saves, readings, links.
void Controller::tick(Ms now) {
  begin(now);
  if (!state.running) return finish(false);
  for (uint8_t i = 0; i < countOf(INPUTS); i++) {
    Input &input = state.inputs[i];
    // A lock-out that is over is forgotten, or it would seem to lie ahead again after half a turn
    // of the clock; not while an edge from within it may still count.
    if (!input.pending.armed && input.locked.over(now)) input.locked.clear();
    if (input.pending.over(now))
      accept(i, input.pendingLevel, input.since);
    else if (input.run.count)
      settle(i);
  }
  for (uint8_t i = 0; i < countOf(KNOBS); i++)
    if (state.knobs[i].fast.over(now)) state.knobs[i].fast.clear();
  for (uint8_t i = 0; i < countOf(STICKS); i++) {
    const Stick &stick = state.sticks[i];
    if (stick.way != WAY_UNKNOWN && stick.due.over(now)) push(i, stickTarget(i, stick.way));
  }
  for (uint8_t i = 0; !isBox() && i < countOf(LOADS); i++) {
    Earliest due;
    dues(i, due);
    if (!due.armed || !reached(now, due.due)) continue;
    const Shown before = shown(i);
    const Outcome came = elapsed(i, state.motion[i]);
    become(i, before, came.tripped);
  }
  for (uint8_t i = 0; i < countOf(LOADS); i++)
    if (!isBox() && state.saves[i].over(now)) save(i);
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    ToldReading &told = state.told[i];
    const bool free = told.freeAt.over(now);
    if (free) told.freeAt.clear();
    if ((free && told.owed) || told.every.over(now)) tell(i);
  }
  for (uint8_t i = 0; !isBox() && i < countOf(LINKS); i++) linkTick(i);
  tickBehind();
  tickBox();
  finish(false);
}

void Controller::linkTick(uint8_t link) {
  Link &is = state.links[link];
  const Ms now = state.now;
  if (state.handed[link].until.over(now)) state.handed[link].until.clear();
  uint8_t kept = 0;
  for (uint8_t i = 0; i < is.seen; i++)
    if (!is.numbers[i].until.over(now)) is.numbers[kept++] = is.numbers[i];
  is.seen = kept;
  if (u32(static_cast<Place>(linkRow(link) + LINK_LEAST)))
    for (uint8_t load = 0; load < countOf(LOADS); load++) {
      Least &least = is.least[load];
      if (!least.freeAt.over(now)) continue;
      const bool owed = least.owed;
      least.freeAt.clear();
      least.owed = false;
      if (owed) tellLoad(link, load);
    }
  if (!is.every.over(now)) return;
  is.every.due += u32(static_cast<Place>(linkRow(link) + LINK_EVERY));
  sendState(link);
}

// When it next wants a tick.
Earliest Controller::nextDue() const {
  Earliest due;
  if (!state.running) return due;
  for (uint8_t i = 0; i < countOf(INPUTS); i++) {
    const Input &input = state.inputs[i];
    if (input.pending.armed)
      due.take(input.pending);
    else
      due.take(input.locked);
    const Earliest gesture = gestureDue(input);
    if (gesture.armed) due.take(gesture.due);
  }
  for (uint8_t i = 0; i < countOf(KNOBS); i++) due.take(state.knobs[i].fast);
  for (uint8_t i = 0; i < countOf(STICKS); i++) due.take(state.sticks[i].due);
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    dues(i, due);
    due.take(state.saves[i]);
  }
  for (uint8_t i = 0; i < countOf(READINGS); i++) {
    due.take(state.told[i].freeAt);
    due.take(state.told[i].every);
  }
  for (uint8_t i = 0; i < countOf(LAMPS); i++) due.take(state.lamps[i].due);
  if (isFront()) {
    due.take(behind().patience);
    due.take(behind().settles);
    due.take(behind().again);
  }
  if (isBox()) {
    due.take(box().poll);
    due.take(box().free);
    for (uint8_t i = 0; i < countOf(LOADS); i++) {
      due.take(box().beliefs[i].due);
      due.take(box().beliefs[i].hold);
    }
  }
  for (uint8_t i = 0; i < countOf(LINKS); i++) {
    const Link &link = state.links[i];
    due.take(link.every);
    due.take(state.handed[i].until);
    for (uint8_t l = 0; l < Limits::leasts; l++) due.take(link.least[l].freeAt);
    for (uint8_t n = 0; n < link.seen; n++) due.take(link.numbers[n].until);
  }
  return due;
}

}  // namespace nolvi
