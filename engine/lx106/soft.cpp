// Divisions and numbers with a point, which the small Wi-Fi core has in the memory of the real chip
// and not in its library: by hand, for the emulated one. Numbers of eight bytes are rounded to
// nearest even (IEEE 754); what is neither nought nor normal never comes.
#include <stdint.h>

namespace nolvi {

template <typename T>
struct Divided {
  T quotient, rest;
};

template <typename T>
static Divided<T> divided(T over, T by) {
  Divided<T> it = {0, 0};
  for (int bit = static_cast<int>(sizeof(T)) * 8 - 1; bit >= 0; bit--) {
    const bool carries = (it.rest >> (sizeof(T) * 8 - 1)) != 0;
    it.rest = static_cast<T>(it.rest << 1 | (over >> bit & 1));
    if (!carries && it.rest < by) continue;
    it.rest -= by;
    it.quotient |= static_cast<T>(1) << bit;
  }
  return it;
}

static uint32_t size(int32_t value) {
  return value < 0 ? 0u - static_cast<uint32_t>(value) : static_cast<uint32_t>(value);
}

// 32 by 32 bits, from parts of 16.
static uint64_t wide(uint32_t a, uint32_t b) {
  const uint32_t al = a & 0xffff, ah = a >> 16, bl = b & 0xffff, bh = b >> 16;
  uint64_t all = static_cast<uint64_t>(ah * bh) << 32;
  all += static_cast<uint64_t>(ah * bl) << 16;
  all += static_cast<uint64_t>(al * bh) << 16;
  return all + al * bl;
}

// A number as it is kept: sign, exponent, and 53 bits with three more behind for rounding.
const int BITS = 53, MORE = 3, BIAS = 1023;
const uint64_t HIDDEN = static_cast<uint64_t>(1) << (BITS - 1);

union Number {
  double value;
  uint64_t bits;
};

static uint64_t bitsOf(double value) {
  Number n;
  n.value = value;
  return n.bits;
}
static double valueOf(uint64_t bits) {
  Number n;
  n.bits = bits;
  return n.value;
}
static bool isNegative(uint64_t bits) { return bits >> 63 != 0; }
static int exponentOf(uint64_t bits) { return static_cast<int>(bits >> 52 & 0x7ff); }
static bool isNought(uint64_t bits) { return exponentOf(bits) == 0; }
static uint64_t fractionOf(uint64_t bits) { return (bits & (HIDDEN - 1)) | HIDDEN; }

// `fraction`: with its highest bit at BITS + MORE - 1; the lowest says whether anything is behind.
static double packed(bool negative, int exponent, uint64_t fraction) {
  const uint64_t behind = fraction & 7;
  fraction >>= MORE;
  if (behind > 4 || (behind == 4 && (fraction & 1))) fraction++;
  if (fraction >> BITS) {
    fraction >>= 1;
    exponent++;
  }
  const uint64_t sign = static_cast<uint64_t>(negative) << 63;
  if (exponent <= 0) return valueOf(sign);
  return valueOf(sign | static_cast<uint64_t>(exponent) << 52 | (fraction & (HIDDEN - 1)));
}

static double sum(uint64_t a, uint64_t b) {
  if (isNought(b)) return valueOf(isNought(a) ? a & b : a);
  if (isNought(a)) return valueOf(b);
  if ((a << 1) < (b << 1)) {
    const uint64_t other = a;
    a = b;
    b = other;
  }
  int exponent = exponentOf(a);
  const int apart = exponent - exponentOf(b);
  uint64_t most = fractionOf(a) << MORE, least = fractionOf(b) << MORE;
  const uint64_t shifted = apart > 60 ? 0 : least >> apart;
  least = shifted | (apart > 60 || (shifted << apart) != least ? 1 : 0);
  if (isNegative(a) == isNegative(b)) {
    most += least;
    if (most >> (BITS + MORE)) {
      most = most >> 1 | (most & 1);
      exponent++;
    }
  } else {
    most -= least;
    if (most == 0) return 0;
    for (; !(most >> (BITS + MORE - 1)); exponent--) most <<= 1;
  }
  return packed(isNegative(a), exponent, most);
}

static double product(uint64_t a, uint64_t b) {
  const bool negative = isNegative(a) != isNegative(b);
  if (isNought(a) || isNought(b)) return valueOf(static_cast<uint64_t>(negative) << 63);
  const uint64_t x = fractionOf(a), y = fractionOf(b);
  const uint32_t xl = static_cast<uint32_t>(x), xh = static_cast<uint32_t>(x >> 32);
  const uint32_t yl = static_cast<uint32_t>(y), yh = static_cast<uint32_t>(y >> 32);
  const uint64_t low = wide(xl, yl), middle = wide(xh, yl) + wide(xl, yh) + (low >> 32);
  const uint64_t high = wide(xh, yh) + (middle >> 32);
  const uint64_t lower = middle << 32 | (low & 0xffffffff);
  // 105 or 106 bits, of which 56 are kept.
  int exponent = exponentOf(a) + exponentOf(b) - BIAS;
  int beyond = 2 * BITS - 1 - (BITS + MORE);
  if (high >> (2 * BITS - 1 - 64)) {
    beyond++;
    exponent++;
  }
  const uint64_t rest = lower << (64 - beyond);
  return packed(negative, exponent, high << (64 - beyond) | lower >> beyond | (rest ? 1 : 0));
}

static double ratio(uint64_t a, uint64_t b) {
  const bool negative = isNegative(a) != isNegative(b);
  if (isNought(a)) return valueOf(static_cast<uint64_t>(negative) << 63);
  uint64_t over = fractionOf(a);
  const uint64_t by = fractionOf(b);
  int exponent = exponentOf(a) - exponentOf(b) + BIAS;
  if (over < by) {
    over <<= 1;
    exponent--;
  }
  uint64_t fraction = 0;
  for (int bit = 0; bit < BITS + MORE; bit++) {
    fraction <<= 1;
    if (over >= by) {
      over -= by;
      fraction |= 1;
    }
    over <<= 1;
  }
  return packed(negative, exponent, fraction | (over ? 1 : 0));
}

static double counted(bool negative, uint32_t count) {
  if (!count) return 0;
  uint64_t fraction = static_cast<uint64_t>(count) << MORE;
  int exponent = BIAS + BITS - 1;
  for (; !(fraction >> (BITS + MORE - 1)); exponent--) fraction <<= 1;
  return packed(negative, exponent, fraction);
}

static int32_t whole(uint64_t bits) {
  const int places = exponentOf(bits) - BIAS;
  if (places < 0) return 0;
  const uint32_t count = static_cast<uint32_t>(fractionOf(bits) >> (BITS - 1 - places));
  return static_cast<int32_t>(isNegative(bits) ? 0u - count : count);
}

}  // namespace nolvi

extern "C" {

uint32_t __udivsi3(uint32_t a, uint32_t b) { return nolvi::divided(a, b).quotient; }
uint32_t __umodsi3(uint32_t a, uint32_t b) { return nolvi::divided(a, b).rest; }
int32_t __divsi3(int32_t a, int32_t b) {
  const uint32_t size = nolvi::divided(nolvi::size(a), nolvi::size(b)).quotient;
  return static_cast<int32_t>((a < 0) == (b < 0) ? size : 0u - size);
}
int32_t __modsi3(int32_t a, int32_t b) {
  const uint32_t rest = nolvi::divided(nolvi::size(a), nolvi::size(b)).rest;
  return static_cast<int32_t>(a < 0 ? 0u - rest : rest);
}
uint64_t __muldi3(uint64_t a, uint64_t b) {
  const uint32_t al = static_cast<uint32_t>(a), ah = static_cast<uint32_t>(a >> 32);
  const uint32_t bl = static_cast<uint32_t>(b), bh = static_cast<uint32_t>(b >> 32);
  return nolvi::wide(al, bl) + (static_cast<uint64_t>(ah * bl + al * bh) << 32);
}
int64_t __divdi3(int64_t a, int64_t b) {
  const uint64_t over = a < 0 ? 0u - static_cast<uint64_t>(a) : static_cast<uint64_t>(a);
  const uint64_t by = b < 0 ? 0u - static_cast<uint64_t>(b) : static_cast<uint64_t>(b);
  const uint64_t size = nolvi::divided(over, by).quotient;
  return static_cast<int64_t>((a < 0) == (b < 0) ? size : 0u - size);
}

double __adddf3(double a, double b) { return nolvi::sum(nolvi::bitsOf(a), nolvi::bitsOf(b)); }
double __subdf3(double a, double b) {
  return nolvi::sum(nolvi::bitsOf(a), nolvi::bitsOf(b) ^ static_cast<uint64_t>(1) << 63);
}
double __muldf3(double a, double b) { return nolvi::product(nolvi::bitsOf(a), nolvi::bitsOf(b)); }
double __divdf3(double a, double b) { return nolvi::ratio(nolvi::bitsOf(a), nolvi::bitsOf(b)); }
double __floatsidf(int32_t value) { return nolvi::counted(value < 0, nolvi::size(value)); }
double __floatunsidf(uint32_t value) { return nolvi::counted(false, value); }
int32_t __fixdfsi(double value) { return nolvi::whole(nolvi::bitsOf(value)); }
}
