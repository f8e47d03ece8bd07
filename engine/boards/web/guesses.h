// Guessing is slowed: after five wrong proofs from one address there is a pause, each twice as long
// as the one before, up to an hour. A right one ends it.
#ifndef NOLVI_GUESSES_H
#define NOLVI_GUESSES_H

#include "clock.h"

namespace nolvi {

class Guesses {
 public:
  Guesses() : known_() {}

  // How long somebody has to wait, s, begun ones whole; 0 = not at all.
  uint32_t waits(uint32_t who, Ms now) const {
    for (uint8_t i = 0; i < MOST; i++) {
      const Guess &is = known_[i];
      if (is.count && is.who == who && is.until.armed && !is.until.over(now))
        return (is.until.due - now + 999) / 1000;
    }
    return 0;
  }

  void failed(uint32_t who, Ms now) {
    // Who makes up many addresses is forgotten oldest first.
    uint8_t at = 0;
    while (at < MOST - 1 && !(known_[at].count && known_[at].who == who)) at++;
    Guess is = known_[at];
    if (!is.count || is.who != who) is = Guess();
    is.who = who;
    if (is.count < 0xffff) is.count++;
    if (is.count % FREE == 0) {
      Ms pause = FIRST_MS;
      for (uint16_t n = FREE; n < is.count && pause < MOST_MS; n = static_cast<uint16_t>(n + FREE))
        pause *= 2;
      is.until.set(now + (pause < MOST_MS ? pause : MOST_MS));
    }
    for (; at > 0; at--) known_[at] = known_[at - 1];
    known_[0] = is;
  }

  void right(uint32_t who) {
    for (uint8_t i = 0; i < MOST; i++)
      if (known_[i].who == who) known_[i].count = 0;
  }

 private:
  static const uint8_t MOST = 8, FREE = 5;
  static const Ms FIRST_MS = 30000, MOST_MS = 3600000;
  struct Guess {
    uint32_t who;
    uint16_t count;
    Timer until;
    Guess() : who(0), count(0), until() {}
  };
  Guess known_[MOST];
};

}  // namespace nolvi

#endif
