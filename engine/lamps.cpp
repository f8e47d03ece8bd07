// Lamps that nobody switches: they show a link, the network, or that something is waited for.
#include "controller.h"
#include "rows.h"

namespace nolvi {

const Ms FLASH_MS = 100;
// A board in front tells each second; where it does not, nobody knows.
const Ms TOLD_MS = 3000;
enum Shows : uint8_t { SHOWS_LINK, SHOWS_NETWORK, SHOWS_WAITING, SHOWS_TOLD };

void Controller::tellLamp(uint8_t lamp, bool on) {
  if (lamp >= countOf(LAMPS)) return;
  if (on)
    state.lamps[lamp].due.set(state.now + TOLD_MS);
  else
    state.lamps[lamp].due.clear();
}

// Lamps follow what is so after the event; a start drives them all.
void Controller::light(bool boots) {
  for (uint8_t i = 0; i < countOf(LAMPS); i++) {
    const Place at = row(firstOf(LAMPS), LAMP_SIZE, i);
    const uint32_t links = u32(static_cast<Place>(at + 2));
    Lamp &lamp = state.lamps[i];
    const bool was = lamp.on;
    if (!state.running) {
      lamp.on = false;
      lamp.due.clear();
      continue;
    }
    switch (u8(at)) {
      case SHOWS_NETWORK:
        if (networkSaid_) lamp.on = networkSaid_ == NETWORK_UP;
        break;
      case SHOWS_TOLD:
        if (lamp.due.over(state.now)) lamp.due.clear();
        lamp.on = lamp.due.armed;
        break;
      case SHOWS_WAITING:
        lamp.on = false;
        for (uint8_t load = 0; load < countOf(LOADS); load++)
          lamp.on = lamp.on || waits(load) || waitsBox(load);
        break;
      default: {
        bool senses = false, up = false;
        for (uint8_t link = 0; link < countOf(LINKS); link++) {
          if (!((links >> link) & 1)) continue;
          senses = senses || (linkFlags(link) & SENSES);
          up = up || state.links[link].up;
        }
        if (senses) {
          lamp.on = up;
        } else if (heardOn_ < countOf(LINKS) && ((links >> heardOn_) & 1)) {
          lamp.on = true;
          lamp.due.set(state.now + FLASH_MS);
        } else if (lamp.due.over(state.now)) {
          lamp.on = false;
          lamp.due.clear();
        }
      }
    }
    if (lamp.on == was && !boots) continue;
    if (isFront()) {
      lightBehind(i);
      continue;
    }
    const bool activeHigh = u8(static_cast<Place>(at + 1)) != 0;
    Board::lamp(i, lamp.on == activeHigh);
  }
}

}  // namespace nolvi
