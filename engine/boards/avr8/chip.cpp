// Chapters are those of the data sheet of the ATmega328P.
#include "chip.h"

#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/pgmspace.h>
#include <avr/sleep.h>
#include <util/atomic.h>

#include "sizes.h"

#if !NOLVI_ALONE
extern "C" {
unsigned long millis(void);
unsigned long micros(void);
}
#endif

namespace nolvi {
namespace chip {

typedef volatile uint8_t Register;

static Register &registerAt(uint8_t address) { return *reinterpret_cast<Register *>(address); }

// --- Pins (14): three registers a port, one behind the other ---

Place placeOf(uint8_t pin, PortRegister which) {
  const uint8_t first = pin < 8 ? 0x29 : pin < 14 ? 0x23 : 0x26;
  const uint8_t nth = static_cast<uint8_t>(pin < 8 ? pin : pin < 14 ? pin - 8 : pin - 14);
  const Place it = {&registerAt(static_cast<uint8_t>(first + which)),
                    static_cast<uint8_t>(1 << nth)};
  return it;
}

// Interrupts write pins of the same port.
static void put(uint8_t pin, PortRegister which, bool on) {
  const Place place = placeOf(pin, which);
  ATOMIC_BLOCK(ATOMIC_RESTORESTATE) { place.put(on); }
}

void takeIn(uint8_t pin, bool pulledUp) {
  put(pin, DIRECTION, false);
  put(pin, LEVELS, pulledUp);
}
void putOut(uint8_t pin) { put(pin, DIRECTION, true); }
void write(uint8_t pin, bool high) { put(pin, LEVELS, high); }
bool isHigh(uint8_t pin) { return placeOf(pin, IS).isHigh(); }

// --- Clock: timer 0 (15) turns round after 256 times 4 us ---

#if NOLVI_ALONE
static volatile uint32_t turns, millis_;
static volatile uint8_t part;

void begin() {
  // Some boot loaders leave the serial port with its pins.
  UCSR0B = 0;
  TCCR0A = 1 << WGM01 | 1 << WGM00;
  TCCR0B = 1 << CS01 | 1 << CS00;
  TIMSK0 = 1 << TOIE0;
  sei();
}
uint32_t ms() {
  uint32_t now;
  ATOMIC_BLOCK(ATOMIC_RESTORESTATE) { now = millis_; }
  return now;
}
uint32_t us() {
  uint32_t turned;
  uint8_t count;
  ATOMIC_BLOCK(ATOMIC_RESTORESTATE) {
    turned = turns;
    count = TCNT0;
    // It has just turned round, and nobody has counted that yet.
    if ((TIFR0 & 1 << TOV0) && count < 255) turned++;
  }
  return (turned << 8 | count) * 4;
}
#else
// The core has a clock already, on the same timer.
void begin() {}
uint32_t ms() { return millis(); }
uint32_t us() { return micros(); }
#endif

void rest() {
  set_sleep_mode(SLEEP_MODE_IDLE);
  sleep_enable();
  sleep_cpu();
  sleep_disable();
}

// --- Converter (24) ---

uint16_t measure(uint8_t pin) {
  ADMUX = static_cast<uint8_t>(1 << REFS0 | (pin - 14));
  ADCSRA = 1 << ADEN | 1 << ADSC | 1 << ADPS2 | 1 << ADPS1 | 1 << ADPS0;
  while (ADCSRA & 1 << ADSC) {
  }
  return ADC;
}

// --- Pins that dim (15 to 18): where the timer of each keeps its mode and its width ---

#if NOLVI_DIMS
struct Dims {
  uint8_t pin, mode, bit, width;
};
static const Dims DIMS[] PROGMEM = {{3, 0xb0, COM2B1, 0xb4},  {5, 0x44, COM0B1, 0x48},
                                    {6, 0x44, COM0A1, 0x47},  {9, 0x80, COM1A1, 0x88},
                                    {10, 0x80, COM1B1, 0x8a}, {11, 0xb0, COM2A1, 0xb3}};

const uint8_t FIRST = 0x80, SECOND = 0xb0;

void dim(uint8_t pin, uint8_t width) {
  for (uint8_t i = 0; i < sizeof DIMS / sizeof *DIMS; i++) {
    Dims it;
    memcpy_P(&it, &DIMS[i], sizeof it);
    if (it.pin != pin) continue;
    Register &mode = registerAt(it.mode);
    const uint8_t bit = static_cast<uint8_t>(1 << it.bit);
    // Timer 0 has its mode from the clock; the others count up and down, 490 times a second.
    if (it.mode == FIRST) TCCR1B = 1 << CS11 | 1 << CS10;
    if (it.mode == SECOND) TCCR2B = 1 << CS22;
    const uint8_t counts = mode | (it.mode == FIRST || it.mode == SECOND ? 1 : 0);
    if (width == 0 || width == 255) {
      mode = static_cast<uint8_t>(counts & ~bit);
      break;
    }
    // A width of 16 bits is written from its high byte on.
    if (it.mode == FIRST) registerAt(static_cast<uint8_t>(it.width + 1)) = 0;
    registerAt(it.width) = width;
    mode = static_cast<uint8_t>(counts | bit);
    return;
  }
  write(pin, width > 127);
}
#endif

// --- Steps: timer 2 (18) turns the pin round at each match ---

#if NOLVI_STEPS
static Place stepAt;
static uint8_t stepPin;

// There is one such timer: who steps last has it.
void step(uint8_t pin, uint16_t hz) {
  if (hz || pin == stepPin) TIMSK2 = 0;
  write(pin, false);
  if (!hz) return;
  stepPin = pin;
  uint32_t counts = F_CPU / 2 / hz;
  uint8_t prescaler = 1;
  // 1, 8, 32, 64, 128, 256, 1024.
  for (; counts > 256 && prescaler < 7; prescaler++)
    counts >>= prescaler == 1 ? 3 : prescaler == 2 || prescaler == 6 ? 2 : 1;
  stepAt = placeOf(pin, IS);
  TCCR2A = 1 << WGM21;
  TCNT2 = 0;
  OCR2A = static_cast<uint8_t>(counts > 256 ? 255 : counts - 1);
  TCCR2B = prescaler;
  TIMSK2 = 1 << OCIE2A;
}
#endif

// --- Interrupts of pins 2 and 3 (13) ---

#if NOLVI_RECEIVER
void watch(uint8_t pin) {
  const bool second = pin == 3;
  EICRA = static_cast<uint8_t>(second ? 1 << ISC11 : 1 << ISC01);
  EIMSK = static_cast<uint8_t>(second ? 1 << INT1 : 1 << INT0);
}
#endif

}  // namespace chip
}  // namespace nolvi

#if NOLVI_ALONE
// 1.024 ms: 3 of 125 parts of a ms beside a whole one.
ISR(TIMER0_OVF_vect) {
  using namespace nolvi::chip;
  turns++;
  uint8_t parts = static_cast<uint8_t>(part + 3);
  uint8_t passed = 1;
  if (parts >= 125) {
    parts = static_cast<uint8_t>(parts - 125);
    passed = 2;
  }
  part = parts;
  millis_ += passed;
}
#endif
#if NOLVI_STEPS
// Writing a bit to where a port is read turns its pin round.
ISR(TIMER2_COMPA_vect) { *nolvi::chip::stepAt.at = nolvi::chip::stepAt.bit; }
#endif
#if NOLVI_RECEIVER
ISR(INT0_vect) { nolvi::markBegins(); }
ISR(INT1_vect) { nolvi::markBegins(); }
#endif
