// Rows of the table beside those of loads: what each holds, by its offset.
#ifndef NOLVI_ROWS_H
#define NOLVI_ROWS_H

#include "table.h"

namespace nolvi {

enum InputAt : uint8_t {
  INPUT_KIND = 0,
  INPUT_LOAD = 1,
  INPUT_FLAGS = 2,
  INPUT_MOST = 3,
  INPUT_ASK = 4,
  INPUT_DEBOUNCE = 12,
  INPUT_LOCKOUT = 16,
  INPUT_DOUBLE = 20,
  INPUT_HOLD = 24,
  INPUT_TARGETS = 28,
  INPUT_SIZE = 36
};
enum InputKind : uint8_t { PUSH, POSITION, MOVEMENT };
enum InputFlag : uint8_t {
  ASKS_SCENE = 1,
  FOLLOWS_AT_START = 2,
  GESTURES = 4,
  HOLDS = 8,
  KNOWS_HOLD = 16
};
enum Gesture : uint8_t { SINGLE, DOUBLE, TRIPLE, HOLD, NO_GESTURE };

// A target: what one load is asked for, or a scene with what it sets; a box may say a scene by a
// code of its own, which stands before what it sets.
enum TargetKind : uint8_t { TARGET_LOAD, TARGET_SCENE, TARGET_SAID };
const uint8_t SET_SIZE = 8;  // load, ask

enum LinkAt : uint8_t {
  LINK_FLAGS = 0,
  LINK_LEAST = 2,
  LINK_EVERY = 6,
  LINK_QUEUE = 10,
  LINK_NUMBERED = 11,
  LINK_END = 15,
  LINK_LONGEST = 17,
  LINK_STYLE = 19,
  LINK_ERROR = 20,
  LINK_HELLO = 22,
  // Of a box, which nobody asks who it is: what it says (AskingAt).
  LINK_ASKING = 22,
  LINK_HELLO_AFTER = 24,
  LINK_COMMANDS = 26,
  LINK_COUNT = 28,
  LINK_PLACES = 30,
  LINK_PLACE_COUNT = 32,
  LINK_MESSAGES = 33,
  LINK_STARTS = 35,
  LINK_START_COUNT = 37,
  LINK_HEAD = 38,
  LINK_BETWEEN = 40,
  LINK_TAIL = 42,
  LINK_DONE = 44,
  LINK_AUTH = 46,
  LINK_TOLD_BEFORE = 48,
  LINK_TOLD_AFTER = 50,
  LINK_FRAME = 52,
  LINK_SIZE = 54
};
enum LinkFlag : uint16_t {
  BYTES = 1,
  STREAMS = 2,
  SENSES = 4,
  ANSWERS_ASKERS = 8,
  ON_CONNECT = 16,
  DATAGRAMS = 32,
  LOOSE_SPACES = 64,
  TIMES_BEHIND = 128,
  BY_BEGINNING = 256,
  BY_PART = 512,
  // Nothing ends a message: codes follow one another.
  CODES = 1024,
  // The wire from a board in front to the one behind it.
  BEHIND = 2048
};
// What stands behind a command: further words, members of an object, more of a route.
enum Style : uint8_t { NOTHING_BEHIND, WORDS, MEMBERS, ROUTE };

// What proves a command; `window`: how many may come late, or that each time is taken once.
enum AuthAt : uint8_t {
  AUTH_KIND = 0,
  AUTH_TAG = 1,
  AUTH_WINDOW = 2,
  AUTH_SECONDS = 3,
  AUTH_SECRET = 7
};
enum AuthKind : uint8_t { AUTH_NONE, AUTH_WORD, AUTH_COUNTER, AUTH_TIME, AUTH_CHALLENGE };

// Structures in frames, where numbers or proofs stand in them (structures.h). `FRAME_SIZED`:
// messages with a number that nothing ends, by what they begin with.
enum FrameAt : uint8_t {
  FRAME_KIND = 0,
  FRAME_NUMBER = 1,
  FRAME_TYPE = 2,
  FRAME_LITTLE = 3,
  FRAME_CHECK_BITS = 4,
  FRAME_REFLECTED = 5,
  FRAME_POLYNOMIAL = 6,
  FRAME_INIT = 10,
  FRAME_XOR = 14,
  FRAME_SIZED = 18,
  FRAME_SIZED_COUNT = 20
};
enum FrameKind : uint8_t { FRAME_NONE, FRAME_COUNTED, FRAME_SLIP, FRAME_COBS };
enum FieldType : uint8_t { TYPE_U8, TYPE_I8, TYPE_U16, TYPE_I16, TYPE_U32, TYPE_I32 };
const uint8_t SIZED_SIZE = 4;  // beginning, length of the whole

enum CommandAt : uint8_t {
  COMMAND_TEXT = 0,
  COMMAND_KIND = 2,
  COMMAND_LOAD = 3,
  COMMAND_ASK = 4,
  COMMAND_SIZE = 11
};
enum CommandKind : uint8_t {
  SETS,
  SETS_FRESH,
  SETS_SCENE,
  ASKS_STATE,
  ASKS_HELLO,
  STARTED,
  ASKS_READING,
  // A board in front tells a lamp of the one behind it.
  LIGHTS
};

enum PlaceAt : uint8_t {
  PLACE_LOAD = 0,
  PLACE_STEP = 1,
  PLACE_FRESH = 2,
  PLACE_BEFORE = 3,
  PLACE_AFTER = 5,
  PLACE_SIZE = 7
};

// A message of a load on a link: how it is told.
enum MessageAt : uint8_t {
  MESSAGE_FLAGS = 0,
  MESSAGE_REPORTS = 1,
  MESSAGE_ITEMS = 3,
  MESSAGE_NUMBER = 5,
  MESSAGE_SIZE = 13
};
enum MessageFlag : uint8_t { ACK = 1, CHANGES = 2, TELLS_NUMBERS = 4 };

enum ReadingAt : uint8_t {
  READING_LINK = 0,
  READING_SENSOR = 1,
  READING_DEAD_BAND = 2,
  READING_LEAST = 6,
  READING_EVERY = 10,
  READING_BEFORE = 14,
  READING_AFTER = 16,
  READING_ITEM = 18,
  READING_ITEM_AFTER = 20,
  READING_QUOTES = 22,
  READING_SIZE = 23
};
enum Quotes : uint8_t { BARE, QUOTED_WORDS, QUOTED_BUT_WHOLE };

// TOLD: by the board behind.
enum SensorKind : uint8_t { SILENT, CONTACT, FLOATS, CELSIUS, CALIBRATED, VOLTS, AXES, TOLD };
const uint8_t SENSOR_SIZE = 3;  // kind, data

const uint8_t RECEIVER_SIZE = 4;      // sensor, count, keys
const uint8_t RECEIVER_KEY_SIZE = 6;  // address, command, target
const uint8_t KNOB_SIZE = 4;          // sensor, load, counts, accelerated
const uint8_t STICK_SIZE = 16;        // sensor, dead zone, repeat, targets of five sides
const uint8_t END_SIZE = 3;           // sensor, load, direction
const uint8_t LAMP_SIZE = 6;          // shows, flags, links

enum RuleAt : uint8_t {
  RULE_SENSOR = 0,
  RULE_WHEN = 1,
  RULE_AT_START = 2,
  RULE_ENTER = 3,
  RULE_LEAVE = 7,
  RULE_FORM = 11,
  RULE_SETS = 12,
  RULE_SIZE = 14
};
enum When : uint8_t { ABOVE, BELOW, IS, MOVED };

// What a box says over its link, and how it believes what it hears. `ASKING_FLAGGED`: whether
// messages tell that it has just started, until something is heard or once.
enum AskingAt : uint8_t {
  ASKING_POLICY = 0,
  ASKING_RETRIES = 1,
  ASKING_FORGETS = 2,
  ASKING_FLAGGED = 3,
  ASKING_TIMEOUT = 4,
  ASKING_POLL = 8,
  ASKING_LEAST = 12,
  ASKING_QUESTION = 16,
  ASKING_STARTED = 18,
  ASKING_SAYS = 20,
  ASKING_SAY_COUNT = 22,
  ASKING_NUMBERS = 24,
  ASKING_NUMBER_COUNT = 26,
  ASKING_ANSWERS = 27,
  // How long after it was said a command is still signed, ms.
  ASKING_SIGNING = 28
};
enum Policy : uint8_t { ASSUMES, CONFIRMS, HEARS_ONLY };
enum Flagged : uint8_t { NOT_FLAGGED, FLAGGED_UNTIL_HEARD, FLAGGED_ONCE };
// What asks for something of a load, with the flag of a start and without.
enum SayAt : uint8_t { SAY_TEXT = 0, SAY_FRESH = 2, SAY_LOAD = 4, SAY_ASK = 5, SAY_SIZE = 12 };
// A message with a place for a number: of the load, or of steps. In structures `before` is all of
// it, and that with the flag of a start stands third.
enum SayNumberAt : uint8_t {
  SAY_NUMBER_LOAD = 0,
  SAY_NUMBER_STEP = 1,
  SAY_NUMBER_BEFORE = 2,
  SAY_NUMBER_AFTER = 4,
  SAY_NUMBER_FRESH = 6,
  SAY_NUMBER_SIZE = 8
};

inline Place inputRow(uint8_t i) { return row(firstOf(INPUTS), INPUT_SIZE, i); }
inline Place linkRow(uint8_t i) { return row(firstOf(LINKS), LINK_SIZE, i); }
inline uint16_t linkFlags(uint8_t i) { return u16(linkRow(i)); }
inline Place linkPlace(uint8_t i, LinkAt at) { return u16(static_cast<Place>(linkRow(i) + at)); }
// The structures of a link; 0 where messages are texts, or all of them are looked up whole.
inline Place frameOf(uint8_t i) { return Limits::frames ? linkPlace(i, LINK_FRAME) : 0; }
// The message of a load on a link; 0 = none.
inline Place messageOf(uint8_t link, uint8_t load) {
  return u16(static_cast<Place>(linkPlace(link, LINK_MESSAGES) + 2 * load));
}
inline Place stickTarget(uint8_t index, uint8_t way) {
  return u16(static_cast<Place>(row(firstOf(STICKS), STICK_SIZE, index) + 6 + 2 * way));
}
inline uint8_t messageFlags(Place message) { return message ? u8(message) : 0; }

}  // namespace nolvi

#endif
