// A digital thermometer on one line that is pulled up: whoever speaks pulls it down. It stands
// alone on its line, tells sixteenths of a degree, and closes with a checksum.
#ifndef NOLVI_THERMOMETER_H
#define NOLVI_THERMOMETER_H

#include "chip.h"

namespace nolvi {

class Thermometer {
 public:
  // Whether one answers at all.
  static bool present(uint8_t pin) {
    down(pin);
    chip::pause<480>();
    chip::takeIn(pin, false);
    chip::pause<70>();
    const bool there = !chip::isHigh(pin);
    chip::pause<410>();
    return there;
  }

  // It measures for up to MEASURES_MS.
  static void measure(uint8_t pin) {
    if (!present(pin)) return;
    write(pin, TO_ALL);
    write(pin, MEASURE);
  }

  // Tenths of a degree; false where nothing answers, or what came is spoilt.
  static bool read(uint8_t pin, int32_t &tenths) {
    if (!present(pin)) return false;
    write(pin, TO_ALL);
    write(pin, READ);
    uint8_t bytes[9], crc = 0;
    for (uint8_t i = 0; i < sizeof bytes; i++) {
      bytes[i] = 0;
      for (uint8_t bit = 0; bit < 8; bit++)
        bytes[i] = static_cast<uint8_t>(bytes[i] >> 1 | (readBit(pin) ? 0x80 : 0));
      crc = checked(crc, bytes[i]);
    }
    if (crc != 0 || bytes[4] == 0) return false;
    const int32_t sixteenths =
        static_cast<int16_t>(static_cast<uint16_t>(bytes[1]) << 8 | bytes[0]);
    // Rounded half up.
    tenths = (sixteenths * 10 + 8) >> 4;
    return true;
  }

  static const uint16_t MEASURES_MS = 750;

 private:
  static const uint8_t TO_ALL = 0xcc, MEASURE = 0x44, READ = 0xbe;

  static void down(uint8_t pin) {
    chip::write(pin, false);
    chip::putOut(pin);
  }

  // Within a slot of 70 us nothing may come between.
  static void write(uint8_t pin, uint8_t byte) {
    for (uint8_t bit = 0; bit < 8; bit++, byte = static_cast<uint8_t>(byte >> 1)) {
      {
        const chip::Quiet quiet;
        down(pin);
        chip::pause<3>();
        if (!(byte & 1)) chip::pause<57>();
        chip::takeIn(pin, false);
      }
      chip::pause<10>();
      if (byte & 1) chip::pause<55>();
    }
  }

  static bool readBit(uint8_t pin) {
    bool bit;
    {
      const chip::Quiet quiet;
      down(pin);
      chip::pause<2>();
      chip::takeIn(pin, false);
      chip::pause<3>();
      bit = chip::isHigh(pin);
    }
    chip::pause<60>();
    return bit;
  }

  // CRC-8 with x^8 + x^5 + x^4 + 1, the least bit first; 0 behind the checksum itself.
  static uint8_t checked(uint8_t crc, uint8_t byte) {
    crc = static_cast<uint8_t>(crc ^ byte);
    for (uint8_t bit = 0; bit < 8; bit++)
      crc = static_cast<uint8_t>(crc & 1 ? crc >> 1 ^ 0x8c : crc >> 1);
    return crc;
  }
};

}  // namespace nolvi

#endif
