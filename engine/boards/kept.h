// What outlives a power cut: two copies in the memory of the board, written by turns, each with a
// count and a checksum, so that a cut while one is written leaves the other.
#ifndef NOLVI_KEPT_H
#define NOLVI_KEPT_H

#include <stdint.h>

#include "memory.h"

namespace nolvi {

template <typename T>
class Kept {
 public:
  // Bytes that both copies take.
  static const uint16_t SIZE = 2 * (sizeof(T) + 3);

  // `key`: of what it is; what was kept of something else is not found.
  explicit Kept(uint16_t at, uint16_t key = 0) : at_(at), key_(key), last_(0), sequence_(0) {}

  // What was written last; false where nothing was, or all of it is spoilt.
  bool load(T &what) {
    bool any = false;
    for (uint8_t copy = 0; copy < 2; copy++) {
      const uint8_t sequence = readKept(place(copy));
      if (checksum(copy) != writtenSum(copy)) continue;
      if (any && static_cast<int8_t>(sequence - sequence_) < 0) continue;
      any = true;
      last_ = copy;
      sequence_ = sequence;
    }
    if (any) {
      uint8_t *to = reinterpret_cast<uint8_t *>(&what);
      for (uint16_t i = 0; i < sizeof(T); i++)
        to[i] = readKept(static_cast<uint16_t>(place(last_) + 1 + i));
    }
    return any;
  }

  void keep(const T &what) {
    const uint8_t *from = reinterpret_cast<const uint8_t *>(&what);
    last_ ^= 1;
    writeKept(place(last_), ++sequence_);
    for (uint16_t i = 0; i < sizeof(T); i++)
      writeKept(static_cast<uint16_t>(place(last_) + 1 + i), from[i]);
    const uint16_t sum = checksum(last_);
    writeKept(sumAt(last_), static_cast<uint8_t>(sum >> 8));
    writeKept(static_cast<uint16_t>(sumAt(last_) + 1), static_cast<uint8_t>(sum));
    settleKept();
  }

 private:
  uint16_t at_, key_;
  uint8_t last_;
  uint8_t sequence_;

  uint16_t place(uint8_t copy) const { return static_cast<uint16_t>(at_ + copy * (sizeof(T) + 3)); }
  uint16_t sumAt(uint8_t copy) const { return static_cast<uint16_t>(place(copy) + 1 + sizeof(T)); }
  uint16_t writtenSum(uint8_t copy) const {
    return static_cast<uint16_t>(readKept(sumAt(copy)) << 8 |
                                 readKept(static_cast<uint16_t>(sumAt(copy) + 1)));
  }

  // CRC-16 of what stands in a copy (polynomial 0x1021, from 0xffff and the key), so that
  // neither new memory, all ones, nor what another program left there is taken for ours.
  uint16_t checksum(uint8_t copy) const {
    uint16_t crc = static_cast<uint16_t>(0xffff ^ key_);
    for (uint16_t i = 0; i <= sizeof(T); i++) {
      crc = static_cast<uint16_t>(crc ^ readKept(static_cast<uint16_t>(place(copy) + i)) << 8);
      for (uint8_t bit = 0; bit < 8; bit++)
        crc = static_cast<uint16_t>(crc & 0x8000 ? crc << 1 ^ 0x1021 : crc << 1);
    }
    return crc;
  }
};

}  // namespace nolvi

#endif
