// Packed structures in frames: see structures.h.
#include "structures.h"

namespace nolvi {

// RFC 1055.
const uint8_t SLIP_END = 0xc0, SLIP_ESC = 0xdb, SLIP_ESC_END = 0xdc, SLIP_ESC_ESC = 0xdd;
const uint16_t LONGEST_FRAME = 256;
// Above what any load takes.
const int32_t MOST = 100000l;

static uint8_t kindOf(Place frame) { return u8(frame); }
static bool isStuffed(Place frame) {
  return kindOf(frame) == FRAME_SLIP || kindOf(frame) == FRAME_COBS;
}
static uint8_t checkBytes(Place frame) {
  return u8(static_cast<Place>(frame + FRAME_CHECK_BITS)) / 8;
}

// A cyclic redundancy check. Its numbers stand in the table as they are counted with: reflected
// ones mirrored, others at the upper end.
static uint32_t checkOf(Place frame, const char *payload, uint16_t length) {
  const uint32_t polynomial = u32(static_cast<Place>(frame + FRAME_POLYNOMIAL));
  const uint8_t bits = u8(static_cast<Place>(frame + FRAME_CHECK_BITS));
  const bool reflected = u8(static_cast<Place>(frame + FRAME_REFLECTED)) != 0;
  uint32_t rest = u32(static_cast<Place>(frame + FRAME_INIT));
  for (uint16_t i = 0; i < length; i++) {
    const uint32_t byte = static_cast<uint8_t>(payload[i]);
    rest ^= reflected ? byte : byte << 24;
    for (uint8_t bit = 0; bit < 8; bit++) {
      if (reflected)
        rest = (rest & 1) ? rest >> 1 ^ polynomial : rest >> 1;
      else
        rest = (rest & 0x80000000u) ? rest << 1 ^ polynomial : rest << 1;
    }
  }
  if (!reflected) rest = bits ? rest >> (32 - bits) : 0;
  return rest ^ u32(static_cast<Place>(frame + FRAME_XOR));
}

// A text that grows as far as there is room.
struct Growing {
  char *to;
  uint16_t room;
  uint16_t length;

  void put(uint8_t byte) {
    if (length < room) to[length] = static_cast<char>(byte);
    length++;
  }
  void set(uint16_t at, uint8_t byte) {
    if (at < room) to[at] = static_cast<char>(byte);
  }
};

uint16_t framed(Place frame, const char *payload, uint16_t length, char *to, uint16_t room) {
  const uint8_t kind = kindOf(frame);
  const uint16_t whole = static_cast<uint16_t>(length + checkBytes(frame));
  uint32_t check = checkOf(frame, payload, length);
  Growing out = {to, room, 0};
  // Of the bytes without a zero: where their count stands, and the count with itself.
  uint16_t countAt = 0;
  uint8_t count = 1;
  if (kind == FRAME_COUNTED) out.put(static_cast<uint8_t>(whole));
  if (kind == FRAME_COBS) out.put(0);
  for (uint16_t i = 0; i < whole; i++) {
    const uint8_t byte =
        i < length ? static_cast<uint8_t>(payload[i]) : static_cast<uint8_t>(check);
    if (i >= length) check >>= 8;
    if (kind == FRAME_SLIP && (byte == SLIP_END || byte == SLIP_ESC)) {
      out.put(SLIP_ESC);
      out.put(byte == SLIP_END ? SLIP_ESC_END : SLIP_ESC_ESC);
      continue;
    }
    if (kind != FRAME_COBS) {
      out.put(byte);
      continue;
    }
    if (byte) {
      out.put(byte);
      count++;
      if (count < 0xff) continue;
    }
    out.set(countAt, count);
    count = 1;
    countAt = out.length;
    // A full block at the very end needs no empty one after it.
    if (!byte || i + 1 < whole) out.put(0);
  }
  if (kind == FRAME_COBS && countAt < out.length) out.set(countAt, count);
  return out.length > room ? NO_FRAME : out.length;
}

// Without its escapes; returns the length.
static uint16_t unescaped(const char *body, uint16_t length, char *to) {
  uint16_t count = 0;
  for (uint16_t i = 0; i < length; i++) {
    uint8_t byte = static_cast<uint8_t>(body[i]);
    if (byte == SLIP_ESC) {
      const uint8_t next = ++i < length ? static_cast<uint8_t>(body[i]) : 0;
      if (next != SLIP_ESC_END && next != SLIP_ESC_ESC) return NO_FRAME;
      byte = next == SLIP_ESC_END ? SLIP_END : SLIP_ESC;
    }
    to[count++] = static_cast<char>(byte);
  }
  return count;
}

// With its zeros again; returns the length.
static uint16_t unstuffed(const char *body, uint16_t length, char *to) {
  uint16_t count = 0;
  for (uint16_t i = 0; i < length;) {
    const uint8_t block = static_cast<uint8_t>(body[i]);
    if (!block || i + block > length) return NO_FRAME;
    for (uint8_t n = 1; n < block; n++) to[count++] = body[i + n];
    i = static_cast<uint16_t>(i + block);
    if (block < 0xff && i < length) to[count++] = 0;
  }
  return count;
}

uint16_t unframed(Place frame, const char *body, uint16_t length, char *payload) {
  if (!isStuffed(frame) || !length || length > LONGEST_FRAME) return NO_FRAME;
  const uint16_t whole = kindOf(frame) == FRAME_SLIP ? unescaped(body, length, payload)
                                                     : unstuffed(body, length, payload);
  const uint8_t bytes = checkBytes(frame);
  if (whole == NO_FRAME || !bytes) return whole;
  if (whole <= bytes) return NO_FRAME;
  const uint16_t size = static_cast<uint16_t>(whole - bytes);
  const uint32_t check = checkOf(frame, payload, size);
  for (uint8_t i = 0; i < bytes; i++)
    if (static_cast<uint8_t>(payload[size + i]) != static_cast<uint8_t>(check >> (8 * i)))
      return NO_FRAME;
  return size;
}

static uint8_t typeOf(Place frame) { return u8(static_cast<Place>(frame + FRAME_TYPE)); }
static uint8_t numberAt(Place frame) { return u8(static_cast<Place>(frame + FRAME_NUMBER)); }
static uint8_t widthOf(uint8_t type) { return type < TYPE_U16 ? 1 : type < TYPE_U32 ? 2 : 4; }
// Where a byte of the number stands, the least one first.
static uint8_t placeOf(Place frame, uint8_t nth) {
  const uint8_t width = widthOf(typeOf(frame));
  const bool little = u8(static_cast<Place>(frame + FRAME_LITTLE)) != 0;
  return static_cast<uint8_t>(numberAt(frame) + (little ? nth : width - 1 - nth));
}

// What is more than any load takes is as much as another, and so is what is less.
static int32_t readNumber(Place frame, const char *payload) {
  const uint8_t type = typeOf(frame);
  uint32_t bits = 0;
  for (uint8_t i = widthOf(type); i-- > 0;)
    bits = bits << 8 | static_cast<uint8_t>(payload[placeOf(frame, i)]);
  if (type == TYPE_I8) return static_cast<int8_t>(bits);
  if (type == TYPE_I16) return static_cast<int16_t>(bits);
  if (type == TYPE_I32 && (bits >> 31)) return -1;
  return bits > static_cast<uint32_t>(MOST) ? MOST : static_cast<int32_t>(bits);
}

bool structureNumber(Place frame, Place agreed, const char *body, uint16_t length,
                     int32_t &number) {
  const uint8_t size = textLength(agreed);
  char payload[Limits::buffer + 1];
  if (isStuffed(frame)) {
    if (unframed(frame, body, length, payload) != size) return false;
  } else {
    const uint8_t from = kindOf(frame) == FRAME_COUNTED ? 1 : 0;
    if (length < from + size) return false;
    for (uint8_t i = 0; i < size; i++) payload[i] = body[from + i];
  }
  const uint8_t at = numberAt(frame);
  const uint8_t end = static_cast<uint8_t>(at + widthOf(typeOf(frame)));
  for (uint8_t i = 0; i < size; i++)
    if ((i < at || i >= end) && payload[i] != textChar(agreed, i)) return false;
  // Said in another way than it is written, it is another message.
  char again[Limits::buffer + 1];
  if (framed(frame, payload, size, again, Limits::buffer) != length) return false;
  for (uint16_t i = 0; i < length; i++)
    if (again[i] != body[i]) return false;
  number = readNumber(frame, payload);
  return true;
}

uint16_t withNumber(Place agreed, Place frame, int32_t number, char *payload) {
  const uint8_t size = textLength(agreed);
  const uint8_t width = widthOf(typeOf(frame));
  for (uint8_t i = 0; i < size; i++) payload[i] = textChar(agreed, i);
  uint32_t bits = static_cast<uint32_t>(number);
  for (uint8_t i = 0; i < width; i++, bits >>= 8)
    payload[placeOf(frame, i)] = static_cast<char>(bits & 0xff);
  return size;
}

}  // namespace nolvi
