// The design as a table of bytes, written by core/sides/program/tables.ts. Numbers stand most
// significant byte first. Offsets are 16 bits; 0 stands for "none".
#ifndef NOLVI_TABLE_H
#define NOLVI_TABLE_H

#include <stdint.h>

#include "sizes.h"

namespace nolvi {

typedef uint16_t Place;

// One byte of the table; program memory where the board has such. Given by the board.
uint8_t tableByte(Place at);

inline uint8_t u8(Place at) { return tableByte(at); }
inline uint16_t u16(Place at) {
  return static_cast<uint16_t>(static_cast<uint16_t>(tableByte(at)) << 8 |
                               tableByte(static_cast<Place>(at + 1)));
}
inline int16_t i16(Place at) { return static_cast<int16_t>(u16(at)); }
inline uint32_t u32(Place at) {
  return static_cast<uint32_t>(u16(at)) << 16 | u16(static_cast<Place>(at + 2));
}
inline int32_t i32(Place at) { return static_cast<int32_t>(u32(at)); }

inline Place row(Place first, uint8_t size, uint16_t nth) {
  return static_cast<Place>(first + static_cast<uint16_t>(size * nth));
}

// A text: its length, then its bytes.
inline uint8_t textLength(Place text) { return text ? u8(text) : 0; }
inline char textChar(Place text, uint8_t nth) {
  return static_cast<char>(u8(static_cast<Place>(text + 1 + nth)));
}

// Whether its first characters are those.
inline bool textBegins(Place text, const char *said, uint16_t count) {
  for (uint16_t i = 0; i < count; i++)
    if (textChar(text, static_cast<uint8_t>(i)) != said[i]) return false;
  return true;
}
inline bool textIs(Place text, const char *said, uint16_t length) {
  return textLength(text) == length && textBegins(text, said, length);
}

// Where the rows of each kind begin, and how many there are.
enum Section : uint8_t {
  LOADS,
  INPUTS,
  LINKS,
  READINGS,
  RECEIVERS,
  KNOBS,
  STICKS,
  RULES,
  ENDS,
  LAMPS,
  SENSORS,
  SECTIONS
};
const Place MAGIC_BYTES = 4;
const uint8_t SECTION_SIZE = 3;
// What a board has no room for is not there, and what would have looked at it goes with it.
inline bool hasRoom(Section s) {
  return s == INPUTS      ? Limits::inputs > 0
         : s == LINKS     ? Limits::links > 0
         : s == READINGS  ? Limits::readings > 0
         : s == RECEIVERS ? Limits::remotes
         : s == KNOBS     ? Limits::knobs > 0
         : s == STICKS    ? Limits::sticks > 0
         : s == RULES     ? Limits::rules > 0
         : s == ENDS      ? Limits::ends
         : s == LAMPS     ? Limits::lamps > 0
         : s == SENSORS   ? Limits::sensors > 0
                          : true;
}
inline uint8_t countOf(Section s) { return hasRoom(s) ? u8(row(MAGIC_BYTES, SECTION_SIZE, s)) : 0; }
inline Place firstOf(Section s) {
  return u16(static_cast<Place>(row(MAGIC_BYTES, SECTION_SIZE, s) + 1));
}
inline uint8_t holdersAt() { return u8(row(MAGIC_BYTES, SECTION_SIZE, SECTIONS)); }
// What the board itself has to know of the design; 0 = nothing.
inline Place boardAt() {
  return u16(static_cast<Place>(row(MAGIC_BYTES, SECTION_SIZE, SECTIONS) + 1));
}

}  // namespace nolvi

#endif
