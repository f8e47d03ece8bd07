// SHA-256 (FIPS 180-4) and the keyed hash over it (HMAC, RFC 2104).
#ifndef NOLVI_SHA256_H
#define NOLVI_SHA256_H

#include <stdint.h>

namespace nolvi {

const uint8_t HASH_BYTES = 32;

// Takes bytes one after another; sixteen words of work, no tables in memory that changes.
class Sha256 {
 public:
  Sha256();
  void put(uint8_t byte);
  // Fills 32 bytes; nothing may follow.
  void finish(uint8_t *hash);

 private:
  uint32_t state_[8];
  uint8_t block_[64];
  uint8_t used_;
  uint32_t length_;

  void work();
};

class Hmac {
 public:
  // `key(i)`: its bytes; at most 64 of them.
  Hmac(const uint8_t *key, uint8_t length);
  void put(uint8_t byte) { inner_.put(byte); }
  void finish(uint8_t *hash);

 private:
  uint8_t key_[64];
  Sha256 inner_;
};

}  // namespace nolvi

#endif
