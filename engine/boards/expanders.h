// Pins beside those of the board: shift registers in a row, and ports behind a two-wire bus whose
// pins are read where they are written high.
#ifndef NOLVI_EXPANDERS_H
#define NOLVI_EXPANDERS_H

#include "chip.h"
#include "wiring.h"

namespace nolvi {

// What stands on the pins of each, a bit a pin.
static uint32_t expanded[NOLVI_EXPANDERS ? NOLVI_EXPANDERS : 1];

static void lineLow(uint8_t pin) {
  chip::write(pin, false);
  chip::putOut(pin);
}

// The farthest register first, so that the first pins stay in the nearest.
static void shift(const ExpanderPins &at, uint32_t bits) {
  chip::write(at.latch, false);
  for (uint8_t n = at.count; n > 0; n--) {
    chip::write(at.data, (bits >> (n - 1) & 1) != 0);
    chip::write(at.clock, true);
    chip::write(at.clock, false);
  }
  chip::write(at.latch, true);
}

// The two wires are pulled up outside; whoever speaks pulls them down.
class TwoWire {
 public:
  explicit TwoWire(const ExpanderPins &at) : data_(at.data), clock_(at.clock) {
    lineLow(data_);
    lineLow(clock_);
  }
  ~TwoWire() {
    lineLow(data_);
    release(clock_);
    release(data_);
  }
  // The eight bits and whether they were taken.
  bool write(uint8_t byte) {
    for (uint8_t bit = 0; bit < 8; bit++, byte = static_cast<uint8_t>(byte << 1)) put(byte & 0x80);
    return !get();
  }
  uint8_t read(bool last) {
    uint8_t byte = 0;
    for (uint8_t bit = 0; bit < 8; bit++) byte = static_cast<uint8_t>(byte << 1 | get());
    put(last);
    return byte;
  }

 private:
  uint8_t data_, clock_;

  static void release(uint8_t pin) {
    chip::takeIn(pin, false);
    chip::pause<2>();
  }
  void put(bool bit) {
    if (bit)
      release(data_);
    else
      lineLow(data_);
    release(clock_);
    lineLow(clock_);
  }
  uint8_t get() {
    release(data_);
    release(clock_);
    const uint8_t bit = chip::isHigh(data_);
    lineLow(clock_);
    return bit;
  }
};

static void portWrite(const ExpanderPins &at, uint32_t bits) {
  TwoWire bus(at);
  if (!bus.write(static_cast<uint8_t>(at.address << 1))) return;
  for (uint8_t n = 0; n < at.count; n = static_cast<uint8_t>(n + 8))
    bus.write(static_cast<uint8_t>(bits >> n));
}

static uint32_t portRead(const ExpanderPins &at) {
  TwoWire bus(at);
  // Where nobody answers nothing is closed.
  if (!bus.write(static_cast<uint8_t>(at.address << 1 | 1))) return 0xffffffffu;
  uint32_t bits = 0;
  for (uint8_t n = 0; n < at.count; n = static_cast<uint8_t>(n + 8))
    bits |= static_cast<uint32_t>(bus.read(n + 8 >= at.count)) << n;
  return bits;
}

static uint8_t expanderCount() { return NOLVI_EXPANDERS ? u8(wiring(EXPANDER_COUNT)) : 0; }

// The expander that a pin is of.
static uint8_t expanderOf(uint8_t pin) {
  uint8_t nth = 0;
  while (nth + 1 < expanderCount() && pin >= expanderAt(static_cast<uint8_t>(nth + 1)).first) nth++;
  return nth;
}

static void writeExpander(uint8_t nth) {
  const ExpanderPins at = expanderAt(nth);
  if (at.address)
    portWrite(at, expanded[nth]);
  else
    shift(at, expanded[nth]);
}

// Registers are driven when the controller has written all its pins: until then they are held off.
static void beginExpanders() {
  for (uint8_t i = 0; i < expanderCount(); i++) {
    const ExpanderPins at = expanderAt(i);
    // Ports are high after power came, and read where they stay high.
    expanded[i] = at.address ? 0xffffffffu : 0;
    if (at.address) continue;
    const uint8_t pins[] = {at.data, at.clock, at.latch};
    for (uint8_t n = 0; n < 3; n++) chip::putOut(pins[n]);
  }
}

static void enableExpanders() {
  for (uint8_t i = 0; i < expanderCount(); i++) {
    const uint8_t enable = expanderAt(i).enable;
    if (enable != NO_PIN) lineLow(enable);
  }
}

static void setExpanded(uint8_t pin, bool high) {
  const uint8_t nth = expanderOf(pin);
  const uint32_t bit = static_cast<uint32_t>(1) << (pin - expanderAt(nth).first);
  expanded[nth] = high ? expanded[nth] | bit : expanded[nth] & ~bit;
  writeExpander(nth);
}

// As each port was read last.
static uint32_t portLevels[NOLVI_EXPANDERS ? NOLVI_EXPANDERS : 1];

static void readExpanders() {
  for (uint8_t i = 0; i < expanderCount(); i++) {
    const ExpanderPins at = expanderAt(i);
    if (at.address && at.read) portLevels[i] = portRead(at);
  }
}

static bool isExpandedHigh(uint8_t pin) {
  const uint8_t nth = expanderOf(pin);
  return (portLevels[nth] >> (pin - expanderAt(nth).first) & 1) != 0;
}

}  // namespace nolvi

#endif
