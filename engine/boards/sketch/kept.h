// What outlives a power cut: two copies in the memory of the board, written by turns, each with a
// count and a checksum, so that a cut while one is written leaves the other.
#ifndef NOLVI_KEPT_H
#define NOLVI_KEPT_H

#include <EEPROM.h>
#include <stdint.h>

namespace nolvi {

template <typename T>
class Kept {
 public:
  // Bytes that both copies take.
  static const uint16_t SIZE = 2 * (sizeof(T) + 3);

  explicit Kept(uint16_t at) : at_(at), last_(0), sequence_(0) {}

  // What was written last; false where nothing was, or all of it is spoilt.
  bool load(T &what) {
    bool any = false;
    for (uint8_t copy = 0; copy < 2; copy++) {
      const uint8_t sequence = EEPROM.read(place(copy));
      if (checksum(copy) != writtenSum(copy)) continue;
      if (any && static_cast<int8_t>(sequence - sequence_) < 0) continue;
      any = true;
      last_ = copy;
      sequence_ = sequence;
    }
    if (any) {
      uint8_t *to = reinterpret_cast<uint8_t *>(&what);
      for (uint16_t i = 0; i < sizeof(T); i++) to[i] = EEPROM.read(place(last_) + 1 + i);
    }
    return any;
  }

  void keep(const T &what) {
    const uint8_t *from = reinterpret_cast<const uint8_t *>(&what);
    last_ ^= 1;
    EEPROM.update(place(last_), ++sequence_);
    for (uint16_t i = 0; i < sizeof(T); i++) EEPROM.update(place(last_) + 1 + i, from[i]);
    const uint16_t sum = checksum(last_);
    EEPROM.update(sumAt(last_), static_cast<uint8_t>(sum >> 8));
    EEPROM.update(sumAt(last_) + 1, static_cast<uint8_t>(sum));
  }

 private:
  uint16_t at_;
  uint8_t last_;
  uint8_t sequence_;

  int place(uint8_t copy) const { return static_cast<int>(at_ + copy * (sizeof(T) + 3)); }
  int sumAt(uint8_t copy) const { return place(copy) + 1 + static_cast<int>(sizeof(T)); }
  uint16_t writtenSum(uint8_t copy) const {
    return static_cast<uint16_t>(EEPROM.read(sumAt(copy)) << 8 | EEPROM.read(sumAt(copy) + 1));
  }

  // CRC-16 of what stands in a copy (polynomial 0x1021, from 0xffff), so that neither new memory,
  // all ones, nor what another program left there is taken for ours.
  uint16_t checksum(uint8_t copy) const {
    uint16_t crc = 0xffff;
    for (uint16_t i = 0; i <= sizeof(T); i++) {
      crc = static_cast<uint16_t>(crc ^ EEPROM.read(place(copy) + static_cast<int>(i)) << 8);
      for (uint8_t bit = 0; bit < 8; bit++)
        crc = static_cast<uint16_t>(crc & 0x8000 ? crc << 1 ^ 0x1021 : crc << 1);
    }
    return crc;
  }
};

}  // namespace nolvi

#endif
