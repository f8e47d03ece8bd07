// Messages that came by radio, from whatever heard them to the loop.
#ifndef NOLVI_QUEUE_H
#define NOLVI_QUEUE_H

#include <stdint.h>
#include <string.h>

namespace nolvi {

class Heard {
 public:
  Heard() : first_(0), count_(0) {}

  // Called by the radio; one that finds no room is lost, as one that collides.
  void put(const uint8_t *bytes, uint16_t length) {
    if (count_ == PLACES || length > LONGEST) return;
    Message &to = messages_[(first_ + count_) % PLACES];
    to.length = static_cast<uint8_t>(length);
    memcpy(to.bytes, bytes, length);
    count_++;
  }
  int16_t take(char *to, uint16_t most) {
    if (!count_) return -1;
    const Message &from = messages_[first_];
    const uint8_t length = from.length < most ? from.length : static_cast<uint8_t>(most);
    memcpy(to, from.bytes, length);
    first_ = static_cast<uint8_t>((first_ + 1) % PLACES);
    count_--;
    return length;
  }

 private:
  static const uint8_t PLACES = 4, LONGEST = 250;
  struct Message {
    uint8_t length;
    uint8_t bytes[LONGEST];
  };
  Message messages_[PLACES];
  volatile uint8_t first_, count_;
};

}  // namespace nolvi

#endif
