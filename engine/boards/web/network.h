// What a board on a network knows of its links: part of the table, written by
// core/sides/program/network.ts.
#ifndef NOLVI_NETWORK_H
#define NOLVI_NETWORK_H

#include "wiring.h"

namespace nolvi {

enum NetworkAt : uint8_t {
  NETWORK_FLAGS = 0,
  NETWORK_PORT = 1,
  NETWORK_EVENTS = 3,
  // Of radio from board to board: twelve bytes, of this board and of the other.
  NETWORK_PEER = 3,
  // Of phones over the radio of the chip: a name, and what low energy needs (wifi/phones.h).
  NETWORK_PHONES = 3,
  NETWORK_ALIVE = 5,
  NETWORK_PAGE = 9,
  // Of a box, which has no page: where the board is that it asks, four bytes, and its name.
  NETWORK_TO = 9,
  NETWORK_ID = 11,
  NETWORK_PIECES = 13,
  NETWORK_PIECE_COUNT = 15,
  NETWORK_SIZE = 17
};
// AS_FORM, AS_JSON: of a box, whose parameters stand in the body of what it asks.
enum NetworkFlag : uint8_t {
  ANSWERS_MASK = 3,
  BY_POST = 4,
  ASKED_WHOLE = 8,
  TO_ALL = 16,
  AS_FORM = 32,
  AS_JSON = 64
};

// A piece of the page of the board. VALUE: the first text where a load has a value, else the
// second; NUMBER: a value without a name, between the two; READING: what a sensor tells and its
// unit, or what is said while it told nothing.
enum PieceAt : uint8_t {
  PIECE_KIND = 0,
  PIECE_OF = 1,
  PIECE_VALUE = 2,
  PIECE_FIRST = 4,
  PIECE_SECOND = 6,
  PIECE_SIZE = 8
};
enum PieceKind : uint8_t { PIECE_TEXT, PIECE_CHOICE, PIECE_NUMBER, PIECE_READING };

inline Place networkPlace(uint8_t link, NetworkAt what) {
  return static_cast<Place>(wired(NETWORK, NETWORK_SIZE, link) + what);
}

// Of a box: the address of the board that it asks; 0 = it is called by a name.
inline uint32_t askedAt(uint8_t link) {
  const Place at = u16(networkPlace(link, NETWORK_TO));
  uint32_t address = 0;
  for (uint8_t i = 0; i < 4; i++) address = address << 8 | u8(static_cast<Place>(at + i));
  return address;
}

// What it is called; "" = it is known by its address.
inline Place askedName(uint8_t link) {
  return u16(static_cast<Place>(u16(networkPlace(link, NETWORK_TO)) + 4));
}

inline void copyText(Place text, char *to) {
  const uint8_t count = textLength(text);
  for (uint8_t i = 0; i < count; i++) to[i] = textChar(text, i);
  to[count] = 0;
}
const uint16_t MOST_TEXT = 256;

// Whole messages go and come; else byte by byte.
inline bool isWhole(uint8_t link) {
  const uint8_t kind = u8(portPlace(link, PORT_KIND));
  return kind == HTTP_PORT || kind == UDP_PORT || kind == PEER_PORT;
}

}  // namespace nolvi

#endif
