// Phones over the Bluetooth of the chip itself: a stream as of a serial port, and a service of low
// energy with a characteristic to write to and one to hear. Boards without it have none of it.
#ifndef NOLVI_PHONES_H
#define NOLVI_PHONES_H

#include "network.h"
#include "sizes.h"

namespace nolvi {

enum PhonesAt : uint8_t {
  PHONES_NAME = 0,
  // Of low energy alone.
  PHONES_SERVICE = 2,
  PHONES_WRITE = 4,
  PHONES_HEAR = 6,
  PHONES_PACKET = 8,
  PHONES_CLIENTS = 10
};
inline Place phonesPlace(uint8_t link, PhonesAt what) {
  return static_cast<Place>(u16(networkPlace(link, NETWORK_PHONES)) + what);
}

// Bytes on their way between a radio and the loop.
class Bytes {
 public:
  Bytes() : bytes_(), first_(0), count_(0) {}
  // One that finds no room is lost, as on a serial port.
  void put(uint8_t byte) {
    if (count_ < ROOM) bytes_[(first_ + count_++) % ROOM] = byte;
  }
  bool take(uint8_t &byte) {
    if (!count_) return false;
    byte = bytes_[first_];
    first_ = static_cast<uint16_t>((first_ + 1) % ROOM);
    count_--;
    return true;
  }
  // Up to so many at once.
  uint16_t take(uint8_t *to, uint16_t most) {
    uint16_t taken = 0;
    while (taken < most && take(to[taken])) taken++;
    return taken;
  }
  bool isFull() const { return count_ == ROOM; }

 private:
  static const uint16_t ROOM = 512;
  uint8_t bytes_[ROOM];
  uint16_t first_, count_;
};

namespace bluetooth {
void begin(uint8_t link);
bool take(uint8_t &byte);
void put(uint8_t byte);
// Says what was put, and tells who comes and goes.
void serve(uint32_t now);
}  // namespace bluetooth

namespace low_energy {
void begin(uint8_t link);
bool take(uint8_t &byte);
void put(uint8_t byte);
void serve(uint32_t now);
}  // namespace low_energy

}  // namespace nolvi

#endif
