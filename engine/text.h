// Texts of letters, and numbers as digits.
#ifndef NOLVI_TEXT_H
#define NOLVI_TEXT_H

#include <stdint.h>

namespace nolvi {

inline bool isDigit(char c) { return c >= '0' && c <= '9'; }

inline uint16_t lengthOf(const char *what) {
  uint16_t length = 0;
  while (what[length]) length++;
  return length;
}

// Whether so many characters of a text end with something.
inline bool endsWith(const char *text, uint16_t length, const char *what) {
  const uint16_t size = lengthOf(what);
  if (length < size) return false;
  for (uint16_t i = 0; i < size; i++)
    if (text[length - size + i] != what[i]) return false;
  return true;
}

const uint8_t MOST_DIGITS = 10;

// Digits of a number, the last first; returns how many.
inline uint8_t digitsOf(uint32_t number, char *digits) {
  uint8_t count = 0;
  do {
    digits[count++] = static_cast<char>('0' + number % 10);
    number /= 10;
  } while (number);
  return count;
}

inline uint32_t sizeOf(int32_t number) {
  return number < 0 ? 0u - static_cast<uint32_t>(number) : static_cast<uint32_t>(number);
}

}  // namespace nolvi

#endif
