// Bytes that come and go: by the port of the chip, or bit by bit.
#include "ports.h"

#include <avr/interrupt.h>
#include <avr/io.h>
#include <util/atomic.h>
#include <util/delay_basic.h>

#include "chip.h"
#include "sizes.h"
#include "wiring.h"

namespace nolvi {

// Written at one end by an interrupt, read at the other by the loop, or the other way round.
template <uint8_t SIZE>
class Ring {
 public:
  Ring() : bytes_(), first_(0), last_(0) {}
  // False where it is full.
  bool put(uint8_t byte) {
    const uint8_t next = static_cast<uint8_t>((last_ + 1) % SIZE);
    if (next == first_) return false;
    bytes_[last_] = byte;
    last_ = next;
    return true;
  }
  bool take(uint8_t &byte) {
    if (isEmpty()) return false;
    byte = bytes_[first_];
    first_ = static_cast<uint8_t>((first_ + 1) % SIZE);
    return true;
  }
  bool isEmpty() const { return first_ == last_; }

 private:
  volatile uint8_t bytes_[SIZE];
  volatile uint8_t first_, last_;
};

#if NOLVI_OWN_PORT
// --- The port of the chip (data sheet, 20) ---

namespace own {

static Ring<64> heard;
static Ring<NOLVI_ALONE ? 32 : 64> said;

void begin(uint32_t baud) {
  // At twice the speed it meets more rates; rounded to the nearest.
  UCSR0A = 1 << U2X0;
  UBRR0 = static_cast<uint16_t>((F_CPU / 4 / baud - 1) / 2);
  UCSR0C = 1 << UCSZ01 | 1 << UCSZ00;
  UCSR0B = 1 << RXCIE0 | 1 << RXEN0 | 1 << TXEN0;
}

void put(uint8_t byte) {
  while (!said.put(byte)) {
  }
  ATOMIC_BLOCK(ATOMIC_RESTORESTATE) { UCSR0B |= 1 << UDRIE0; }
}

bool take(uint8_t &byte) { return heard.take(byte); }
bool isIdle() { return said.isEmpty(); }

}  // namespace own
#endif

#if NOLVI_SOFT_WIRE
// --- Bits that are counted out ---

namespace soft {

static Ring<NOLVI_ALONE ? 32 : 64> heard;
// Where its pins are read and written: looking that up would take longer than the rest of a bit.
static chip::Place in_, out_;
// The interrupt of the pin, by port.
static uint8_t interrupt_;
// Of a bit, and to the middle of the first, in rounds of a loop of four cycles.
static uint16_t saysRounds, hearsRounds, firstRounds;

// Cycles that go by beside waiting: between two bits that are said, or heard, and from the edge of
// a start bit to where its byte is waited for.
static const uint16_t SAYS = 38, HEARS = 20, TO_FIRST = 90;

static uint16_t rounds(uint32_t cycles, uint16_t spent) {
  return cycles > static_cast<uint32_t>(spent) + 4 ? static_cast<uint16_t>((cycles - spent) / 4)
                                                   : 1;
}

// What changed meanwhile is over.
static void listen() {
  PCIFR = interrupt_;
  PCICR = interrupt_;
}

void begin(uint8_t in, uint8_t out, uint32_t baud) {
  const uint32_t bit = F_CPU / baud;
  in_ = chip::placeOf(in, chip::IS);
  out_ = chip::placeOf(out, chip::LEVELS);
  saysRounds = rounds(bit, SAYS);
  hearsRounds = rounds(bit, HEARS);
  firstRounds = rounds(bit + bit / 2, TO_FIRST);
  chip::write(out, true);
  chip::putOut(out);
  chip::takeIn(in, true);
  // Interrupts of a pin that changes (13): one a port.
  const uint8_t port = static_cast<uint8_t>(in < 8 ? 2 : in < 14 ? 0 : 1);
  const uint8_t nth = static_cast<uint8_t>(in < 8 ? in : in < 14 ? in - 8 : in - 14);
  (&PCMSK0)[port] = static_cast<uint8_t>(1 << nth);
  interrupt_ = static_cast<uint8_t>(1 << port);
  listen();
}

// Nothing is heard meanwhile; clock and port go on, and take some us of a bit at most.
void put(uint8_t byte) {
  PCICR = 0;
  out_.put(false);
  _delay_loop_2(saysRounds);
  for (uint8_t n = 0; n < 8; n++) {
    out_.put((byte & 1) != 0);
    byte = static_cast<uint8_t>(byte >> 1);
    _delay_loop_2(saysRounds);
  }
  out_.put(true);
  _delay_loop_2(saysRounds);
  listen();
}

bool take(uint8_t &byte) { return heard.take(byte); }

// A start bit has begun, or some edge of a byte that was not heard. Other interrupts go on.
static void edge() {
  if (in_.isHigh()) return;
  PCICR = 0;
  sei();
  uint8_t byte = 0;
  _delay_loop_2(firstRounds);
  for (uint8_t n = 0; n < 8; n++) {
    byte = static_cast<uint8_t>(byte >> 1 | (in_.isHigh() ? 0x80 : 0));
    _delay_loop_2(hearsRounds);
  }
  // In the middle of the stop bit.
  if (in_.isHigh()) heard.put(byte);
  cli();
  listen();
}

}  // namespace soft
#endif

// --- Of a link ---

static bool isOwn(uint8_t link) {
  return NOLVI_OWN_PORT && (!NOLVI_SOFT_WIRE || u8(portPlace(link, PORT_KIND)) == OWN_PORT);
}

namespace port {

void begin(uint8_t link) {
  const uint32_t baud = u32(portPlace(link, PORT_BAUD));
  if (isOwn(link))
    own::begin(baud);
  else
    soft::begin(u8(portPlace(link, PORT_IN)), u8(portPlace(link, PORT_OUT)), baud);
}

bool take(uint8_t link, uint8_t &byte) { return isOwn(link) ? own::take(byte) : soft::take(byte); }
bool isIdle(uint8_t link) { return !isOwn(link) || own::isIdle(); }

}  // namespace port

static uint8_t speaks;

void Board::begin(uint8_t link, uint16_t) { speaks = link; }
void Board::put(char c) {
  const uint8_t byte = static_cast<uint8_t>(c);
  if (isOwn(speaks))
    own::put(byte);
  else
    soft::put(byte);
}
void Board::end() {}

}  // namespace nolvi

#if NOLVI_OWN_PORT
// A byte that finds no room is lost.
ISR(USART_RX_vect) {
  const uint8_t byte = UDR0;
  nolvi::own::heard.put(byte);
}
ISR(USART_UDRE_vect) {
  uint8_t byte;
  if (nolvi::own::said.take(byte))
    UDR0 = byte;
  else
    UCSR0B &= static_cast<uint8_t>(~(1 << UDRIE0));
}
#endif
#if NOLVI_SOFT_WIRE
ISR(PCINT0_vect) { nolvi::soft::edge(); }
ISR(PCINT1_vect) { nolvi::soft::edge(); }
ISR(PCINT2_vect) { nolvi::soft::edge(); }
#endif
