// SHA-256 and the keyed hash over it: see sha256.h.
#include "sha256.h"

#include "constants.h"

namespace nolvi {

static const uint32_t ROUNDS[64] NOLVI_CONSTANT = {
    0x428a2f98, 0x71374491, 0xb5c0fbcf, 0xe9b5dba5, 0x3956c25b, 0x59f111f1, 0x923f82a4, 0xab1c5ed5,
    0xd807aa98, 0x12835b01, 0x243185be, 0x550c7dc3, 0x72be5d74, 0x80deb1fe, 0x9bdc06a7, 0xc19bf174,
    0xe49b69c1, 0xefbe4786, 0x0fc19dc6, 0x240ca1cc, 0x2de92c6f, 0x4a7484aa, 0x5cb0a9dc, 0x76f988da,
    0x983e5152, 0xa831c66d, 0xb00327c8, 0xbf597fc7, 0xc6e00bf3, 0xd5a79147, 0x06ca6351, 0x14292967,
    0x27b70a85, 0x2e1b2138, 0x4d2c6dfc, 0x53380d13, 0x650a7354, 0x766a0abb, 0x81c2c92e, 0x92722c85,
    0xa2bfe8a1, 0xa81a664b, 0xc24b8b70, 0xc76c51a3, 0xd192e819, 0xd6990624, 0xf40e3585, 0x106aa070,
    0x19a4c116, 0x1e376c08, 0x2748774c, 0x34b0bcb5, 0x391c0cb3, 0x4ed8aa4a, 0x5b9cca4f, 0x682e6ff3,
    0x748f82ee, 0x78a5636f, 0x84c87814, 0x8cc70208, 0x90befffa, 0xa4506ceb, 0xbef9a3f7, 0xc67178f2};

static const uint32_t START[8] NOLVI_CONSTANT = {0x6a09e667, 0xbb67ae85, 0x3c6ef372, 0xa54ff53a,
                                                 0x510e527f, 0x9b05688c, 0x1f83d9ab, 0x5be0cd19};

static uint32_t turn(uint32_t word, uint8_t by) { return word >> by | word << (32 - by); }

Sha256::Sha256() : block_(), used_(0), length_(0) {
  for (uint8_t i = 0; i < 8; i++) state_[i] = constant32(&START[i]);
}

void Sha256::put(uint8_t byte) {
  block_[used_++] = byte;
  length_++;
  if (used_ == sizeof block_) work();
}

void Sha256::finish(uint8_t *hash) {
  const uint32_t bytes = length_;
  put(0x80);
  while (used_ != 56) put(0);
  // The length in bits, on eight bytes.
  for (uint8_t i = 0; i < 3; i++) put(0);
  put(static_cast<uint8_t>(bytes >> 29));
  const uint32_t bits = bytes << 3;
  for (uint8_t i = 0; i < 4; i++) put(static_cast<uint8_t>(bits >> (24 - 8 * i)));
  for (uint8_t i = 0; i < HASH_BYTES; i++)
    hash[i] = static_cast<uint8_t>(state_[i / 4] >> (24 - 8 * (i % 4)));
}

void Sha256::work() {
  uint32_t words[16];
  for (uint8_t i = 0; i < 16; i++) {
    words[i] = 0;
    for (uint8_t n = 0; n < 4; n++) words[i] = words[i] << 8 | block_[4 * i + n];
  }
  uint32_t s[8];
  for (uint8_t i = 0; i < 8; i++) s[i] = state_[i];
  for (uint8_t i = 0; i < 64; i++) {
    uint32_t &word = words[i % 16];
    if (i >= 16) {
      const uint32_t a = words[(i + 1) % 16], b = words[(i + 14) % 16];
      word += (turn(a, 7) ^ turn(a, 18) ^ a >> 3) + words[(i + 9) % 16] +
              (turn(b, 17) ^ turn(b, 19) ^ b >> 10);
    }
    const uint32_t e = s[4], a = s[0];
    const uint32_t t1 = s[7] + (turn(e, 6) ^ turn(e, 11) ^ turn(e, 25)) +
                        ((e & s[5]) ^ (~e & s[6])) + constant32(&ROUNDS[i]) + word;
    const uint32_t t2 =
        (turn(a, 2) ^ turn(a, 13) ^ turn(a, 22)) + ((a & s[1]) ^ (a & s[2]) ^ (s[1] & s[2]));
    for (uint8_t n = 7; n > 0; n--) s[n] = s[n - 1];
    s[4] += t1;
    s[0] = t1 + t2;
  }
  for (uint8_t i = 0; i < 8; i++) state_[i] += s[i];
  used_ = 0;
}

Hmac::Hmac(const uint8_t *key, uint8_t length) {
  for (uint8_t i = 0; i < sizeof key_; i++) {
    key_[i] = i < length ? key[i] : 0;
    inner_.put(key_[i] ^ 0x36);
  }
}

void Hmac::finish(uint8_t *hash) {
  inner_.finish(hash);
  Sha256 outer;
  for (uint8_t i = 0; i < sizeof key_; i++) outer.put(key_[i] ^ 0x5c);
  for (uint8_t i = 0; i < HASH_BYTES; i++) outer.put(hash[i]);
  outer.finish(hash);
}

}  // namespace nolvi
