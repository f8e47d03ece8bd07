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
  NETWORK_ALIVE = 5,
  NETWORK_PAGE = 9,
  NETWORK_ID = 11,
  NETWORK_SIZE = 13
};
enum NetworkFlag : uint8_t { ANSWERS_MASK = 3, BY_POST = 4, ASKED_WHOLE = 8, TO_ALL = 16 };

inline Place networkPlace(uint8_t link, NetworkAt what) {
  return static_cast<Place>(wired(NETWORK, NETWORK_SIZE, link) + what);
}

// Whole messages go and come; else byte by byte.
inline bool isWhole(uint8_t link) {
  const uint8_t kind = u8(portPlace(link, PORT_KIND));
  return kind == HTTP_PORT || kind == UDP_PORT || kind == PEER_PORT;
}

}  // namespace nolvi

#endif
