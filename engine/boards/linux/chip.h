// A Linux computer as a chip: pins by the character device of its lines, or as files of a tree
// where there is none.
#ifndef NOLVI_CHIP_H
#define NOLVI_CHIP_H

#include <stdint.h>
#include <string.h>

#define NOLVI_INTERRUPT

namespace nolvi {
namespace chip {

void begin();
// Since the start.
uint32_t ms();
uint32_t us();
// s since 1970.
uint32_t timeOfDay();
void rest();

void takeIn(uint8_t pin, bool pulledUp);
void putOut(uint8_t pin);
void write(uint8_t pin, bool high);
bool isHigh(uint8_t pin);

// It has no converter.
const int32_t COUNTS = 1024;
inline uint16_t measure(uint8_t) { return 0; }
// Whether somebody tells what sensors give, in the place of pins; and what a sensor does.
bool isTold();
bool told(uint8_t sensor, int32_t &first, int32_t &second);
// 0 to 255; Hz.
void dim(uint8_t pin, uint8_t width);
void step(uint8_t pin, uint16_t hz);
// No frames are heard here.
inline void watch(uint8_t) {}

// Nothing interrupts.
struct Quiet {
  Quiet() {}
};
template <uint16_t US>
inline void pause() {
  const uint32_t from = us();
  while (us() - from < US) {
  }
}

inline void readFlash(char *to, const uint8_t *from, uint16_t length) { memcpy(to, from, length); }

}  // namespace chip

void markBegins();

}  // namespace nolvi

#endif
