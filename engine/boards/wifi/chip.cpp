// Pins of a board with Wi-Fi.
#include "chip.h"

#include <time.h>

#include "sizes.h"

namespace nolvi {
namespace chip {

static uint8_t levels[64];

// Some take no level before they are outputs: it follows at once.
void putOut(uint8_t pin) {
  digitalWrite(pin, levels[pin]);
  pinMode(pin, OUTPUT);
  digitalWrite(pin, levels[pin]);
}

void write(uint8_t pin, bool high) {
  levels[pin] = high ? 1 : 0;
  digitalWrite(pin, levels[pin]);
}

void takeIn(uint8_t pin, bool pulledUp) { pinMode(pin, pulledUp ? INPUT_PULLUP : INPUT); }

void dim(uint8_t pin, uint8_t width) {
#ifdef ESP8266
  analogWriteRange(255);
#endif
  analogWrite(pin, width);
}

void step(uint8_t pin, uint16_t hz) {
  if (hz)
    tone(pin, hz);
  else
    noTone(pin);
}

#if NOLVI_RECEIVER
void watch(uint8_t pin) { attachInterrupt(digitalPinToInterrupt(pin), markBegins, FALLING); }
#endif

uint32_t timeOfDay() {
  const time_t now = time(nullptr);
  // Before it was told, it counts from its start.
  const time_t TOLD = 1600000000;
  return now > TOLD ? static_cast<uint32_t>(now) : 0;
}

}  // namespace chip
}  // namespace nolvi
