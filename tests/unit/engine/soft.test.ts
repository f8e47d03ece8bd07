/** Divisions and numbers by hand (engine/lx106/soft.cpp) against those of this machine. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { expect, it } from 'vitest'
import { canRun, has, run } from '../../fixtures/tools'

/** Names of the compiler's library, and what they are called where that has its own. */
const NAMES = [
  ...['udivsi3', 'umodsi3', 'divsi3', 'modsi3', 'muldi3', 'divdi3', 'adddf3', 'subdf3', 'muldf3'],
  ...['divdf3', 'floatsidf', 'floatunsidf', 'fixdfsi'],
].map(name => `-D__${name}=soft_${name}`)

const PROGRAM = `
#include <cstdint>
#include <cstdio>
#include <cstring>
extern "C" {
uint32_t soft_udivsi3(uint32_t, uint32_t); uint32_t soft_umodsi3(uint32_t, uint32_t);
int32_t soft_divsi3(int32_t, int32_t); int32_t soft_modsi3(int32_t, int32_t);
uint64_t soft_muldi3(uint64_t, uint64_t); int64_t soft_divdi3(int64_t, int64_t);
double soft_adddf3(double, double); double soft_subdf3(double, double);
double soft_muldf3(double, double); double soft_divdf3(double, double);
double soft_floatsidf(int32_t); double soft_floatunsidf(uint32_t); int32_t soft_fixdfsi(double);
}
static uint64_t state = 88172645463325252ull;
static uint64_t any() { state ^= state << 13; state ^= state >> 7; state ^= state << 17; return state; }
// Small and large ones, whole ones, halves, and close to one another.
static double number() {
  const uint64_t r = any();
  if (r % 7 == 0) return 0;
  if (r % 7 == 1) return static_cast<double>(static_cast<int32_t>(any())) / 2;
  if (r % 7 == 2) return static_cast<double>(static_cast<int64_t>(any() % 2001) - 1000);
  const uint64_t exponent = 1023 - 40 + any() % 80;
  const uint64_t bits = (any() << 63) | exponent << 52 | (any() >> 12);
  double value; memcpy(&value, &bits, 8); return value;
}
static int wrong = 0;
static void same(double is, double wanted, const char *what) {
  if (memcmp(&is, &wanted, 8) == 0 || (is == 0 && wanted == 0)) return;
  if (wrong++ < 5) printf("%s: %a, not %a\\n", what, is, wanted);
}
static void whole(int64_t is, int64_t wanted, const char *what) {
  if (is != wanted && wrong++ < 5) printf("%s: %lld, not %lld\\n", what, (long long)is, (long long)wanted);
}
int main() {
  for (int n = 0; n < 400000; n++) {
    const double a = number(), b = n % 3 ? number() : a * (1 + 1e-15 * (any() % 9));
    same(soft_adddf3(a, b), a + b, "+"); same(soft_subdf3(a, b), a - b, "-");
    same(soft_muldf3(a, b), a * b, "*"); if (b != 0) same(soft_divdf3(a, b), a / b, "/");
    const int32_t i = static_cast<int32_t>(any() >> (any() % 60)), k = static_cast<int32_t>(any() >> (any() % 60));
    const uint32_t u = static_cast<uint32_t>(i), v = static_cast<uint32_t>(k);
    same(soft_floatsidf(i), i, "float"); same(soft_floatunsidf(u), u, "unsigned");
    if (a > -2e9 && a < 2e9) whole(soft_fixdfsi(a), static_cast<int32_t>(a), "whole");
    if (v) { whole(soft_udivsi3(u, v), u / v, "udiv"); whole(soft_umodsi3(u, v), u % v, "umod"); }
    if (k && !(i == INT32_MIN && k == -1)) { whole(soft_divsi3(i, k), i / k, "div"); whole(soft_modsi3(i, k), i % k, "mod"); }
    const uint64_t x = any(), y = any() >> (any() % 60);
    whole(static_cast<int64_t>(soft_muldi3(x, y)), static_cast<int64_t>(x * y), "mul64");
    const int64_t p = static_cast<int64_t>(x), q = static_cast<int64_t>(y);
    if (q && q != -1) whole(soft_divdi3(p, q), p / q, "div64");
  }
  printf("%d\\n", wrong);
}
`

it.skipIf(!canRun('numbers by hand', { 'g++': has('g++') }))('are those of this machine', () => {
  const folder = mkdtempSync(join(tmpdir(), 'nolvi-soft-'))
  try {
    const main = join(folder, 'main.cpp')
    writeFileSync(main, PROGRAM)
    const built = join(folder, 'soft')
    const soft = resolve('engine/lx106/soft.cpp')
    run('g++', ['-O2', '-std=c++11', ...NAMES, main, soft, '-o', built])
    expect(run(built, []).trim()).toBe('0')
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
})
