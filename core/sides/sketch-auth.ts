/**
 * The part of the sketch that looks at proofs, after `core/messages/sealing.ts`: a fixed word or
 * PIN behind a command, or a counter with HMAC-SHA-256 (FIPS 180-4, FIPS 198-1). A schedule of
 * sixteen words keeps it within the memory of a small board.
 */
export const AUTH_CODE = `static const char SECRET_TEXT[] PROGMEM = SECRET;
#define SECRET_LENGTH (sizeof SECRET_TEXT - 1)

#if AUTH == 3
static const uint32_t ROUNDS[64] PROGMEM = {
  0x428a2f98, 0x71374491, 0xb5c0fbcf, 0xe9b5dba5, 0x3956c25b, 0x59f111f1, 0x923f82a4, 0xab1c5ed5, 0xd807aa98, 0x12835b01, 0x243185be, 0x550c7dc3, 0x72be5d74, 0x80deb1fe, 0x9bdc06a7, 0xc19bf174,
  0xe49b69c1, 0xefbe4786, 0x0fc19dc6, 0x240ca1cc, 0x2de92c6f, 0x4a7484aa, 0x5cb0a9dc, 0x76f988da, 0x983e5152, 0xa831c66d, 0xb00327c8, 0xbf597fc7, 0xc6e00bf3, 0xd5a79147, 0x06ca6351, 0x14292967,
  0x27b70a85, 0x2e1b2138, 0x4d2c6dfc, 0x53380d13, 0x650a7354, 0x766a0abb, 0x81c2c92e, 0x92722c85, 0xa2bfe8a1, 0xa81a664b, 0xc24b8b70, 0xc76c51a3, 0xd192e819, 0xd6990624, 0xf40e3585, 0x106aa070,
  0x19a4c116, 0x1e376c08, 0x2748774c, 0x34b0bcb5, 0x391c0cb3, 0x4ed8aa4a, 0x5b9cca4f, 0x682e6ff3, 0x748f82ee, 0x78a5636f, 0x84c87814, 0x8cc70208, 0x90befffa, 0xa4506ceb, 0xbef9a3f7, 0xc67178f2
};
struct Sha { uint32_t h[8]; uint8_t block[64]; uint16_t length; };

static uint32_t turned(uint32_t x, uint8_t by) { return (x >> by) | (x << (32 - by)); }

static void shaBlock(Sha &s) {
  uint32_t w[16], v[8];
  for (uint8_t i = 0; i < 16; i++) w[i] = (uint32_t)s.block[4 * i] << 24 | (uint32_t)s.block[4 * i + 1] << 16 | (uint32_t)s.block[4 * i + 2] << 8 | s.block[4 * i + 3];
  memcpy(v, s.h, sizeof v);
  for (uint8_t i = 0; i < 64; i++) {
    if (i >= 16) {
      uint32_t a = w[(i + 1) & 15], b = w[(i + 14) & 15];
      w[i & 15] += (turned(a, 7) ^ turned(a, 18) ^ (a >> 3)) + w[(i + 9) & 15] + (turned(b, 17) ^ turned(b, 19) ^ (b >> 10));
    }
    uint32_t t = v[7] + (turned(v[4], 6) ^ turned(v[4], 11) ^ turned(v[4], 25)) + ((v[4] & v[5]) ^ (~v[4] & v[6])) + pgm_read_dword(&ROUNDS[i]) + w[i & 15];
    uint32_t u = (turned(v[0], 2) ^ turned(v[0], 13) ^ turned(v[0], 22)) + ((v[0] & v[1]) ^ (v[0] & v[2]) ^ (v[1] & v[2]));
    for (uint8_t j = 7; j; j--) v[j] = v[j - 1];
    v[4] += t;
    v[0] = t + u;
  }
  for (uint8_t i = 0; i < 8; i++) s.h[i] += v[i];
}

static void shaStart(Sha &s) {
  static const uint32_t START[8] PROGMEM = { 0x6a09e667, 0xbb67ae85, 0x3c6ef372, 0xa54ff53a, 0x510e527f, 0x9b05688c, 0x1f83d9ab, 0x5be0cd19 };
  memcpy_P(s.h, START, sizeof s.h);
  s.length = 0;
}

static void shaAdd(Sha &s, uint8_t byte) {
  s.block[s.length++ & 63] = byte;
  if ((s.length & 63) == 0) shaBlock(s);
}

static void shaEnd(Sha &s, uint8_t *out) {
  uint32_t bits = (uint32_t)s.length * 8;
  shaAdd(s, 0x80);
  while ((s.length & 63) != 60) shaAdd(s, 0);
  for (uint8_t i = 0; i < 4; i++) shaAdd(s, bits >> (24 - 8 * i));
  for (uint8_t i = 0; i < 32; i++) out[i] = s.h[i >> 2] >> (24 - 8 * (i & 3));
}

static void hmac(uint32_t counter, const char *text, uint8_t count, uint8_t *out) {
  Sha s;
  uint8_t inner[32];
  for (uint8_t pass = 0; pass < 2; pass++) {
    shaStart(s);
    for (uint8_t i = 0; i < 64; i++) shaAdd(s, (i < SECRET_LENGTH ? pgm_read_byte(&SECRET_TEXT[i]) : 0) ^ (pass ? 0x5c : 0x36));
    if (pass) for (uint8_t i = 0; i < 32; i++) shaAdd(s, inner[i]);
    else {
      for (uint8_t i = 0; i < 4; i++) shaAdd(s, counter >> (24 - 8 * i));
      for (uint8_t i = 0; i < count; i++) shaAdd(s, text[i]);
    }
    shaEnd(s, pass ? out : inner);
  }
}

// Two bits of a counter say which device counts. Of each: the highest count, and which of those before it were taken. As the values, in two copies.
#define DEVICES 4
#define MOST_AHEAD 4096
struct Guard { uint32_t highest[DEVICES], taken[DEVICES]; uint8_t sequence, crc; };
#define GUARD_AT (2 * sizeof(Slot) + 4)
static Guard guard, next;
static uint8_t guardIndex;

static void loadGuard() { guardIndex = readNewer(GUARD_AT, guard); }

// Before the command acts: a cut in between loses a command, and never takes one twice.
static void taken() {
  guard = next;
  writeOther(GUARD_AT, guard, guardIndex);
}

// A command that proves itself but for its count is told the counter that was taken last; 0: nothing to tell.
static bool tells;
static uint32_t told;

static bool fresh(uint32_t counter) {
  next = guard;
  uint8_t device = counter >> 30;
  uint32_t count = counter & 0x3FFFFFFF, highest = guard.highest[device];
  if (count == 0) return false;
  told = (uint32_t)device << 30 | highest;
  if (count > highest) {
    uint32_t ahead = count - highest;
    if (ahead > MOST_AHEAD) { tells = true; return false; }
    next.taken[device] = (ahead > 31 ? 0 : guard.taken[device] << ahead) | 1;
    next.highest[device] = count;
    return true;
  }
  uint32_t behind = highest - count;
  if (behind > WINDOW || (guard.taken[device] >> behind & 1)) { tells = true; return false; }
  next.taken[device] |= (uint32_t)1 << behind;
  return true;
}

static void tellCounter() {
#if LOOSE_SPACES
  PORT.print("{\\"#\\":");
  PORT.print(told);
  PORT.print("}");
#else
  PORT.print(MARK "#");
  PORT.print(told);
#endif
  PORT.write((const uint8_t *)END, END_LENGTH);
}

static bool endsWith(uint8_t end, const char *text, uint8_t count) { return end >= count && memcmp(buffer + end - count, text, count) == 0; }

// Length of the bare command where counter and tag behind it prove it; 0 where they do not.
static uint8_t unsealed(uint8_t body) {
#if LOOSE_SPACES
  if (!endsWith(body, "\\"}", 2)) return 0;
  body -= 2;
#endif
  if (body < 2 * TAG_BYTES) return 0;
  uint8_t at = body - 2 * TAG_BYTES, tag[TAG_BYTES];
  for (uint8_t i = 0; i < TAG_BYTES; i++) {
    tag[i] = 0;
    for (uint8_t j = 0; j < 2; j++) {
      char c = buffer[at + 2 * i + j];
      if (c >= '0' && c <= '9') c -= '0';
      else if (c >= 'A' && c <= 'F') c -= 'A' - 10;
      else return 0;
      tag[i] = tag[i] << 4 | c;
    }
  }
#if LOOSE_SPACES
  const char *before = ",\\"n\\":", *behind = ",\\"tag\\":\\"";
#else
  const char *before = " ", *behind = ".";
#endif
  if (!endsWith(at, behind, strlen(behind))) return 0;
  at -= strlen(behind);
  uint64_t counter = 0, unit = 1;
  uint8_t digits = 0;
  for (; at && digits < 10 && buffer[at - 1] >= '0' && buffer[at - 1] <= '9'; digits++, unit *= 10) counter += unit * (buffer[--at] - '0');
  if (!digits || counter > 0xFFFFFFFF || !endsWith(at, before, strlen(before))) return 0;
  at -= strlen(before);
#if LOOSE_SPACES
  buffer[at++] = '}';
#endif
  uint8_t whole[32], differs = 0;
  hmac(counter, buffer, at, whole);
  for (uint8_t i = 0; i < TAG_BYTES; i++) differs |= whole[i] ^ tag[i];
  return differs || !fresh(counter) ? 0 : at;
}
#else
static void taken() {}

// Length of the bare command where the word stands behind it; 0 where it does not. Takes as long for a wrong word.
static uint8_t unsealed(uint8_t body) {
#if LOOSE_SPACES
  static const char BEFORE[] = ",\\"key\\":\\"", BEHIND[] = "\\"}";
#else
  static const char BEFORE[] = " ", BEHIND[] = "";
#endif
  uint8_t around = sizeof BEFORE - 1 + sizeof BEHIND - 1;
  if (body < around + SECRET_LENGTH) return 0;
  uint8_t at = body - around - SECRET_LENGTH, differs = memcmp(buffer + at, BEFORE, sizeof BEFORE - 1) != 0 || memcmp(buffer + body - (sizeof BEHIND - 1), BEHIND, sizeof BEHIND - 1) != 0;
  for (uint8_t i = 0; i < SECRET_LENGTH; i++) differs |= buffer[at + sizeof BEFORE - 1 + i] ^ pgm_read_byte(&SECRET_TEXT[i]);
#if LOOSE_SPACES
  buffer[at++] = '}';
#endif
  return differs ? 0 : at;
}
#endif`
