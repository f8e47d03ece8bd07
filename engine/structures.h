// Packed structures in frames, where numbers or proofs stand in them; other messages of theirs are
// looked up whole, as texts of any kind are. Written after core/design/dialects/packed.ts.
#ifndef NOLVI_STRUCTURES_H
#define NOLVI_STRUCTURES_H

#include "rows.h"

namespace nolvi {

// A text that is none, or that has no room.
const uint16_t NO_FRAME = 0xffff;

// The frame around a payload, without its end; returns its length.
uint16_t framed(Place frame, const char *payload, uint16_t length, char *to, uint16_t room);

// What a frame with an end holds, where its check is right; returns its length.
uint16_t unframed(Place frame, const char *body, uint16_t length, char *payload);

// The number within a structure that holds what is agreed everywhere else.
bool structureNumber(Place frame, Place agreed, const char *body, uint16_t length, int32_t &number);

// A structure with a number in its place; returns its length.
uint16_t withNumber(Place agreed, Place frame, int32_t number, char *payload);

}  // namespace nolvi

#endif
