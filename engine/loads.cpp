// What loads are told, what they come to, what stands on their lines and what is kept.
#include "controller.h"
#include "rows.h"

namespace nolvi {

Outcome Controller::set(uint8_t load, const Ask &ask, Asking asking) {
  if (isBox()) {
    offerKey(load, ask, false);
    const Outcome none = {false, false};
    return none;
  }
  const Shown before = shown(load);
  const Outcome came = wanted(load, state.motion[load], ask, asking);
  // What is refused may still have been due.
  become(load, before, came.tripped);
  return came;
}

// Takes over what an output came to: lines, then memory, then reports.
Told Controller::become(uint8_t load, const Shown &before, bool tripped) {
  // Of its own a box has none.
  if (isBox()) return 0;
  const Motion &is = state.motion[load];
  if (Limits::together && together_) {
    if (!touched_[load]) {
      touched_[load] = true;
      before_[load] = before;
    }
    return 0;
  }
  drive(load, &before);
  if (lasting(load, is) != before.lasting) keep(load);
  return is.value == before.value ? 0 : reportChange(load, tripped);
}

Shown Controller::shown(uint8_t load) const {
  const Motion &is = state.motion[load];
  Shown it;
  it.value = is.value;
  it.lasting = lasting(load, is);
  levelsOf(load, is, it.levels);
  return it;
}

// Several loads as one thing: each line is written once, each value reported once.
void Controller::openTogether() {
  if (!Limits::together || isBox()) return;
  together_ = true;
  for (uint8_t i = 0; i < countOf(LOADS); i++) touched_[i] = false;
}

void Controller::closeTogether() {
  if (!Limits::together || isBox()) return;
  together_ = false;
  const uint8_t count = countOf(LOADS);
  for (uint8_t i = 0; i < count; i++)
    if (touched_[i]) drive(i, &before_[i]);
  for (uint8_t i = 0; i < count; i++)
    if (touched_[i] && before_[i].lasting != lasting(i, state.motion[i])) keep(i);
  for (uint8_t i = 0; i < count; i++)
    // Nothing trips here: only time does that.
    if (touched_[i] && before_[i].value != state.motion[i].value) reportChange(i, false);
}

// What switched itself off is told also where changes are not reported.
Told Controller::reportChange(uint8_t load, bool always) {
  Told told = 0;
  for (uint8_t link = 0; link < countOf(LINKS); link++) {
    const Place message = messageOf(link, load);
    if (!message || !((messageFlags(message) & CHANGES) || always) || !unasked(link)) continue;
    if (tellLoad(link, load)) told |= static_cast<Told>(1) << link;
  }
  return told;
}

// From energised to what stands on the pin.
static uint16_t electrical(uint8_t load, uint8_t line, uint16_t energised) {
  if (isKind(load, OPPOSED) && loadU8(load, LOAD_DRIVE) == DRIVES_STEPPER)
    return line == 2 ? !energised : energised;
  if (flagOf(load, ACTIVE_HIGH)) return energised;
  return isKind(load, LEVEL) ? static_cast<uint16_t>(255 - energised) : !energised;
}

// Lines that fall are written before lines that rise, so that opposed ones are never on together.
void Controller::drive(uint8_t load, const Shown *before) {
  uint16_t are[MOST_LINES];
  const uint8_t count = levelsOf(load, state.motion[load], are);
  for (uint8_t rising = 0; rising < 2; rising++)
    for (uint8_t line = 0; line < count; line++) {
      const uint16_t was = before ? before->levels[line] : 0;
      if (before && was == are[line]) continue;
      if ((are[line] > was) == (rising == 1))
        Board::pin(load, line, electrical(load, line, are[line]));
    }
}

// Plans when the value is saved, where it is.
void Controller::keep(uint8_t load) {
  if (loadU8(load, LOAD_POWER_UP) != STARTS_LAST) return;
  const Ms delay = u32(static_cast<Place>(loadRow(load) + LOAD_SAVE_MS));
  state.saves[load].set(state.now + delay);
  if (delay == 0) save(load);
}

// Begins to write a value, or leaves it for later while another write is under way.
void Controller::save(uint8_t load) {
  const Value value = lasting(load, state.motion[load]);
  state.saves[load].clear();
  if (state.isWriting && !writes_) {
    state.saveOwed[load] = true;
    return;
  }
  if ((state.isWriting ? state.writing : state.memory)[load] == value) return;
  writes_ = true;
  if (!state.isWriting)
    for (uint8_t i = 0; i < countOf(LOADS); i++) state.writing[i] = state.memory[i];
  state.isWriting = true;
  state.writing[load] = value;
  Board::save(load, value);
}

void Controller::memoryDone(Ms now) {
  begin(now);
  if (state.running) {
    if (state.isWriting)
      for (uint8_t i = 0; i < countOf(LOADS); i++) state.memory[i] = state.writing[i];
    state.isWriting = false;
    for (uint8_t i = 0; i < countOf(LOADS); i++)
      if (state.saveOwed[i]) {
        state.saveOwed[i] = false;
        save(i);
      }
  }
  finish(false);
}

}  // namespace nolvi
