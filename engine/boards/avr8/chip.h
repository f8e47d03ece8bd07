// The chip of the 8-bit board, by its registers: pins, clock, converter, timers. Numbers of pins
// are those printed on the board: 0 to 13, and 14 to 19 for the analog ones.
#ifndef NOLVI_CHIP_H
#define NOLVI_CHIP_H

#include <avr/interrupt.h>
#include <avr/io.h>
#include <stdint.h>
#include <util/delay.h>

#define NOLVI_INTERRUPT

namespace nolvi {
namespace chip {

// Starts the clock, where nobody else has.
void begin();
// Since the start: ms; and us, which turn round after 71 minutes.
uint32_t ms();
uint32_t us();
// Sleeps until something comes; the clock does each 1.024 ms.
void rest();

void takeIn(uint8_t pin, bool pulledUp);
void putOut(uint8_t pin);
void write(uint8_t pin, bool high);
bool isHigh(uint8_t pin);

// A register of a port, and the bit of a pin in it.
enum PortRegister : uint8_t { IS, DIRECTION, LEVELS };
struct Place {
  volatile uint8_t *at;
  uint8_t bit;

  bool isHigh() const { return (*at & bit) != 0; }
  // Where no interrupt writes pins of the same port.
  void put(bool high) const { *at = static_cast<uint8_t>(high ? *at | bit : *at & ~bit); }
};
Place placeOf(uint8_t pin, PortRegister which);

// While one stands, nothing interrupts.
class Quiet {
 public:
  Quiet() : before_(SREG) { cli(); }
  ~Quiet() { SREG = before_; }

 private:
  uint8_t before_;
};
template <uint16_t US>
inline void pause() {
  _delay_us(US);
}
// It has no clock of the day.
inline uint32_t timeOfDay() { return 0; }

// Nobody but its pins tells what a sensor gives.
inline bool isTold() { return false; }
inline bool told(uint8_t, int32_t &, int32_t &) { return false; }

// What a converter counts to.
const int32_t COUNTS = 1024;
// At an analog pin, 0 to 1023, against the supply.
uint16_t measure(uint8_t pin);
// Dims a pin that can: 0 to 255.
void dim(uint8_t pin, uint8_t width);
// Steps on one pin, Hz (31 and more); 0 = none.
void step(uint8_t pin, uint16_t hz);
// Calls `markBegins` whenever pin 2 or 3 goes low.
void watch(uint8_t pin);

}  // namespace chip

// Given by the board, called by an interrupt.
void markBegins();

}  // namespace nolvi

#endif
