// A board with Wi-Fi, by its environment: pins, clock, converter.
#ifndef NOLVI_CHIP_H
#define NOLVI_CHIP_H

#include <Arduino.h>
#include <stdint.h>
#include <string.h>

#define NOLVI_INTERRUPT IRAM_ATTR

namespace nolvi {
namespace chip {

inline void begin() {}
inline uint32_t ms() { return static_cast<uint32_t>(millis()); }
inline uint32_t us() { return static_cast<uint32_t>(micros()); }
// s since 1970; 0 where nobody told it.
uint32_t timeOfDay();
// Between two rounds the radio has its turn.
inline void rest() { yield(); }

void takeIn(uint8_t pin, bool pulledUp);
void putOut(uint8_t pin);
void write(uint8_t pin, bool high);
inline bool isHigh(uint8_t pin) { return digitalRead(pin) != 0; }

// While one stands, nothing interrupts.
struct Quiet {
  Quiet() { noInterrupts(); }
  ~Quiet() { interrupts(); }
};
template <uint16_t US>
inline void pause() {
  delayMicroseconds(US);
}

// Nobody but its pins tells what a sensor gives.
inline bool isTold() { return false; }
inline bool told(uint8_t, int32_t &, int32_t &) { return false; }

// What a converter counts to.
#ifdef ESP8266
const int32_t COUNTS = 1024;
#else
const int32_t COUNTS = 4096;
#endif
inline uint16_t measure(uint8_t pin) { return static_cast<uint16_t>(analogRead(pin)); }
// 0 to 255.
void dim(uint8_t pin, uint8_t width);
// Hz; 0 = none.
void step(uint8_t pin, uint16_t hz);
// Calls `markBegins` whenever the pin goes low.
void watch(uint8_t pin);

inline void readFlash(char *to, const uint8_t *from, uint16_t length) {
  memcpy_P(to, from, length);
}

}  // namespace chip

// Given by the board, called by an interrupt.
void markBegins();

}  // namespace nolvi

#endif
