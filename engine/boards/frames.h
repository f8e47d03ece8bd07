// Frames of a remote, told by the time between the beginnings of two marks: 13.5 ms before a frame,
// 11.25 ms of a key that stays down, 1.125 ms of a 0, 2.25 ms of a 1, the least bit first.
#ifndef NOLVI_FRAMES_H
#define NOLVI_FRAMES_H

#include <stdint.h>

namespace nolvi {

// Fed by an interrupt at the beginning of each mark, asked by the loop.
class Frames {
 public:
  Frames() : last_(0), bits_(0), frame_(0), count_(0), came_(false), repeats_(false) {}

  // Within the interrupt itself, wherever the board keeps such.
  __attribute__((always_inline)) void mark(uint32_t us) {
    const uint32_t since = us - last_;
    last_ = us;
    if (between(since, 12500, 14500)) {
      bits_ = 0;
      count_ = 1;
    } else if (between(since, 10250, 12250)) {
      count_ = 0;
      repeats_ = true;
    } else if (count_ && (between(since, 800, 1500) || between(since, 1900, 2700))) {
      bits_ = bits_ >> 1 | (since > 1700 ? 0x80000000u : 0);
      if (++count_ <= BITS) return;
      frame_ = bits_;
      came_ = true;
      count_ = 0;
    } else {
      count_ = 0;
    }
  }

  // What came since it was asked last; interrupts are held off by the asker.
  bool take(uint32_t &frame) {
    const bool came = came_;
    frame = frame_;
    came_ = false;
    return came;
  }
  bool takeRepeat() {
    const bool repeats = repeats_;
    repeats_ = false;
    return repeats;
  }

 private:
  static const uint8_t BITS = 32;
  volatile uint32_t last_, bits_, frame_;
  volatile uint8_t count_;
  volatile bool came_, repeats_;

  static bool between(uint32_t us, uint32_t from, uint32_t to) { return us >= from && us < to; }
};

// A byte with its complement behind it, or two bytes.
inline uint16_t numberIn(uint16_t pair) {
  const uint8_t low = static_cast<uint8_t>(pair), high = static_cast<uint8_t>(pair >> 8);
  return (low ^ high) == 0xff ? low : pair;
}

}  // namespace nolvi

#endif
