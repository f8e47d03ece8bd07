// A controller: what it knows, and what it does with one event at a time. Each subject has a file
// of its own; `docs/behaviour.md` tells the behaviour, `core/controller` defines it.
#ifndef NOLVI_CONTROLLER_H
#define NOLVI_CONTROLLER_H

#include "sizes.h"

#include "clock.h"
#include "loads.h"
#include "rows.h"
#include "table.h"
#include "values.h"

namespace nolvi {

// Room for one where there is none.
constexpr uint8_t some(uint8_t count) { return count ? count : 1; }

typedef uint8_t Level;  // of a pin
// Links that were told something by a change, a bit each.
typedef uint32_t Told;

// A value, what its output has under way, and what came of the last wish.
struct Motion {
  Value value;
  uint8_t flags;  // by kind: Sources, Ends
  uint8_t state;  // opposed: the line that is driven; follower: the line that clicks
  uint8_t phase;  // opposed: where the coils stand; which line rests
  Value own;      // level: what is put out; follower: where the device stands, -1 = not known
  Timer timers[some(Limits::timers)];
#if NOLVI_TIMED
  Ms times[3];  // after, for, blink, as last given
#endif
};
// Sources of a switched output with timers, OR-ed, and what it does.
enum Source : uint8_t { STEADY = 1, ON_DONE = 2, BLINK_HIGH = 4, IS_ON = 8 };
enum TimerSlot : uint8_t {
  ON_DUE = 0,
  OFF_DUE = 1,
  BLINK_DUE = 2,
  FREE_AT = 3,
  TRIP = 4,
  PULSE_DUE = 0,
  RESTS_DUE = 0,
  RUN_DUE = 1,
  STEP_DUE = 2,
  RAMP_DUE = 0,
  CLICK_DUE = 0
};
enum EndFlag : uint8_t { FORWARD_END = 1, REVERSE_END = 2 };
enum Resting : uint8_t { RESTS_FORWARD = 0x10, RESTS_REVERSE = 0x20, RESTS_BOTH = 0x30 };
const Value STOP = 0, FORWARD = 1, REVERSE = 2;

// What of a motion is seen from outside: its value, what is kept of it, what stands on its lines.
const uint8_t MOST_LINES = 4;
struct Shown {
  Value value;
  Value lasting;
  uint16_t levels[MOST_LINES];
};

// What became of a wish.
struct Outcome {
  bool refused;
  bool tripped;
};

// Who asks.
struct Asking {
  uint8_t holder;
  bool byHand;
};

struct Run {
  uint8_t count;
  Ms last;
  Timer due;
  Timer hold;
};
struct Input {
  Level level;
  Level pendingLevel;
  Ms since;
  Timer pending;
  Timer locked;
  Run run;
};
struct Knob {
  uint8_t lines;
  int8_t count;
  Timer fast;
};
enum Way : uint8_t { WAY_REST, WAY_UP, WAY_DOWN, WAY_LEFT, WAY_RIGHT, WAY_UNKNOWN };
struct Stick {
  Way way;
  Timer due;
};
struct Lamp {
  bool on;
  Timer due;
};
struct Rule {
  uint8_t beyond;  // 0, 1, or 2 before the first reading
  bool known;
  int32_t last;
  int32_t way;
};
// A reading: hundredths, two of them, or a word.
enum Form : uint8_t { NUMBER, PAIR, WORD };
enum Word : uint8_t { WORD_OPEN, WORD_CLOSED, WORD_BROKEN };
// How each is said.
extern const char *const READING_WORDS[];
struct Reading {
  bool known;
  Form form;
  int32_t first;
  int32_t second;
};
struct Least {
  Timer freeAt;
  bool owed;
};
struct ToldReading {
  bool told;
  bool owed;
  Reading text;
  Timer freeAt;
  Timer every;
};
struct Seen {
  uint16_t number;
  Timer until;
};
// What waits for a link: the place of a load, READING + i, or one of these.
typedef int16_t Waiting;
const Waiting WAITS_READING = 0x1000, WAITS_STATE = 0x2000, WAITS_ERROR = 0x2001,
              WAITS_HELLO = 0x2002, WAITS_COUNT = 0x2003;
struct Link {
  bool up;
  bool busy;
  uint16_t length;  // of what is half-read
  char buffer[Limits::buffer];
  uint8_t seen;
  Seen numbers[some(Limits::seen)];
  uint8_t waiting;
  Waiting queue[some(Limits::queue)];
  uint32_t counts[some(Limits::queue)];  // told by what waits
  Least least[some(Limits::leasts)];
  Timer every;
  uint8_t adopts[(Limits::loads + 7) / 8];
};

const uint8_t NO_LINK = 0xff;
enum NetworkSaid : uint8_t { NETWORK_SILENT, NETWORK_UP, NETWORK_DOWN };

// Counts of one device that were taken: the highest, and those before it (bit i: highest - i).
struct Window {
  uint32_t highest;
  uint32_t taken;
};
// A number that the next command has to sign, as long as it is good.
struct Handed {
  uint32_t number;
  Timer until;
};
enum Tells : uint8_t { TELLS_NOTHING, TELLS_COUNT, TELLS_HANDED };
// What became of a proof. `length`: of the command without it. `told`: the count that it carried,
// or that its sender is told; `seconds` stand before the reason where there are some.
struct Proof {
  bool ok;
  const char *why;
  uint32_t seconds;
  Tells tells;
  uint32_t told;
  uint16_t length;
};
const uint8_t MEANS_NOTHING = 0xff;
// What a text means: a row of the table, or what stands in it as a number.
struct Meaning {
  bool known;
  uint8_t kind;
  uint8_t load;
  Ask ask;
  Place scene;
};

// What a board in front knows of the one behind it (mirrors.cpp).
struct Behind {
  bool up;
  // Something was passed on that was not asked after yet.
  bool said;
  // How often it started; numbers to sign are drawn by the starts of this board.
  uint32_t starts;
  // How often "who is there" was asked and answered; bit i: what was said before answer i (of 32)
  // was refused.
  uint32_t asked, answered, refused;
  // Links that wait to be told what became of a load, a bit each; and to be told of a refusal.
  uint32_t asking;
  bool refuses;
  uint32_t owed[some(hasKind(MIRROR) && !isBox() ? Limits::loads : 0)];
  // What was said of each sensor: a number, a pair, a word.
  Form forms[some(hasKind(MIRROR) && !isBox() ? Limits::sensors : 0)];
  Timer patience, settles, again;
  // A request is answered later: what it asked for, when the board behind has done it.
  bool holds;
  Meaning held;
};

// What a box believes of a load beside its value: what it waits for, and how often it asks again;
// by a step it asks for that once more. A finger that stays is told again.
struct Belief {
  Value asked;
  bool bySteps;
  Ask wish;
  uint8_t triesLeft;
  uint16_t number;
  Ms since;
  Timer due;
  Timer hold;
};
// What a box asks for: a key for a load, detents, or a scene that has a code. `presses`: a
// direction that runs already is stopped.
enum WishKind : uint8_t { WISH_KEY, WISH_DETENTS, WISH_SCENE };
struct Wish {
  WishKind kind;
  uint8_t load;
  bool presses;
  Ask ask;
  Place scene;
};
// A signed command that was not answered yet: what it asked for, with the flag of a start where
// that was said, and what answers it. `load`: ABOUT_SEVERAL where it was a scene.
const Value ANY_VALUE = -2;
struct Signed {
  uint8_t load;
  bool fresh;
  uint8_t tries;
  Ask ask;
  Place scene;
  uint16_t number;
  Value answer;
  Ms until;
};
// What a box knows (box.cpp).
// Where a box that asks for routes hears something: unasked, or as the answer to a command, to a
// question, or to what was refused.
enum Via : uint8_t { VIA_STREAM, VIA_COMMAND, VIA_ASK, VIA_REFUSED };
// What a request was about, where it was not one load.
const uint8_t ABOUT_SEVERAL = 0xff, ABOUT_STATE = 0xfe;
struct Box {
  // It has not told yet that it has just started.
  bool fresh;
  // What it says just now is about.
  uint8_t about;
  uint16_t number;
  Timer poll;
  Belief beliefs[some(isBox() ? Limits::loads : 0)];
  // What waits until it may be said, and when that is.
  uint8_t waiting;
  Wish queue[some(Limits::paced)];
  Timer free;
  // Signed and not answered, the oldest first.
  uint8_t pending;
  Signed asked[some(Limits::asked)];
  // Levers that lead were not told yet since the start, when they stood so.
  bool owes;
  Level levels[some(isBox() ? Limits::inputs : 0)];
};

// A command as it is put together (box.cpp).
class Said;

struct State {
  Ms now;
  bool running;
  uint32_t starts;
  Motion motion[some(Limits::loads)];
  Timer holds[some(Limits::helds)][some(Limits::holders)];
  bool byHand[some(Limits::helds)][some(Limits::holders)];
  Value memory[some(Limits::loads)];
  Value writing[some(Limits::loads)];
  bool isWriting;
  bool saveOwed[some(Limits::loads)];
  Timer saves[some(Limits::loads)];
  Input inputs[some(Limits::inputs)];
  Knob knobs[some(Limits::knobs)];
  Stick sticks[some(Limits::sticks)];
  Link links[some(Limits::links)];
  int32_t samples[some(Limits::sensors)][2];
  bool sampled[some(Limits::sensors)];
  ToldReading told[some(Limits::readings)];
  Rule rules[some(Limits::rules)];
  Lamp lamps[some(Limits::lamps)];
  // Kept over a power cut.
  Window windows[some(Limits::links)][4];
  Handed handed[some(Limits::links)];
  uint32_t drawn;
};

// What a controller does to the world; given by the board. There is one controller on a board, so
// that nothing has to be looked up to find it.
struct Board {
  // Level of a line: low or high, 0 to 255 where it dims, Hz where it steps.
  static void pin(uint8_t load, uint8_t line, uint16_t level);
  static void lamp(uint8_t lamp, Level level);
  static void save(uint8_t load, Value value);
  // What proved a command on a link was taken: to be kept before the command acts.
  static void took(uint8_t link);
  // A text on a link, character by character; over HTTP the answer to a request.
  static void begin(uint8_t link, uint16_t status);
  static void put(char c);
  static void end();
  // The time of day, s since 1970.
  static uint32_t clockS();
};

class Controller {
 public:
  Controller() : understands(false) { forget(); }

  State state;
  // Whether something of what came was understood; for boards that speak to who asked last.
  bool understands;

  static Behind &behind();
  static bool isFront() { return hasKind(MIRROR) && !isBox(); }
  static Box &box();
  // Whether the board behind did what was asked before a count of `asked`.
  bool isAnswered(uint32_t ticket) const;
  void answerHeld(Ms now, uint8_t link, const Meaning &meaning, uint32_t ticket);

  // What a text means on a link: a kind of command, or nothing.
  static uint8_t means(uint8_t link, const char *text, uint16_t length);

  // Says a value without a name, and what a sensor tells; for pages. Whether it is a number, or
  // whether there is one.
  bool sayNumber(uint8_t link, uint8_t load) const;
  bool sayReading(uint8_t link, uint8_t sensor, bool &isNumber) const;

  // As before the first start.
  void forget();
  Earliest nextDue() const;

  void boot(Ms now, const Level *levels);
  void powerOff(Ms now);
  void tick(Ms now);
  void pin(Ms now, uint8_t input, Level level);
  void knob(Ms now, uint8_t knob, Level a, Level b);
  void infrared(Ms now, uint8_t sensor, uint16_t address, uint16_t command, bool repeat);
  void received(Ms now, uint8_t link, const char *text, uint16_t length);
  // To a box that asks for routes: an answer, or an event.
  void replied(Ms now, Via via, uint8_t about, const char *text, uint16_t length);
  void linkUp(Ms now, uint8_t link);
  void linkDown(Ms now, uint8_t link);
  void network(Ms now, bool up);
  void sent(Ms now, uint8_t link);
  void sample(Ms now, uint8_t sensor, int32_t first, int32_t second);
  void memoryDone(Ms now);

 private:
  // What several changes at once came from: each load once, at its first.
  bool together_;
  bool touched_[some(Limits::together ? Limits::loads : 0)];
  Shown before_[some(Limits::together ? Limits::loads : 0)];
  bool writes_;
  // The network or a link that the event is about, for lamps.
  uint8_t heardOn_;
  uint8_t networkSaid_;

  void begin(Ms now);
  void finish(bool boots);
  void rested();
  void linkTick(uint8_t link);

  // outputs.cpp: what an output does.
  void toRest(uint8_t load, Motion &is) const;
  void bootMotion(uint8_t load, Value saved, Motion &is);
  Outcome wanted(uint8_t load, Motion &is, const Ask &want, Asking asking);
  Outcome elapsed(uint8_t load, Motion &is);
  void ended(uint8_t load, Motion &is, Value direction, bool closed);
  bool waits(uint8_t load) const;
  bool waitsBox(uint8_t load) const;
  void dues(uint8_t load, Earliest &due) const;
  Value lasting(uint8_t load, const Motion &is) const;
  uint8_t levelsOf(uint8_t load, const Motion &is, uint16_t *levels) const;

  // switched.cpp, opposed.cpp
  void energised(uint8_t load, Motion &is);
  Outcome wantedTimed(uint8_t load, Motion &is, const Ask &want);
  Outcome elapsedTimed(uint8_t load, Motion &is);
  Outcome turned(uint8_t load, Motion &is, Value want);
  void started(uint8_t load, Motion &is, Value want);
  void stepped(uint8_t load, Motion &is);
  void nextClick(uint8_t load, Motion &is);

  // loads.cpp: from a wish to lines, memory and reports.
  Outcome set(uint8_t load, const Ask &ask, Asking asking);
  Told become(uint8_t load, const Shown &before, bool tripped);
  void openTogether();
  void closeTogether();
  Shown shown(uint8_t load) const;
  void drive(uint8_t load, const Shown *before);
  Told reportChange(uint8_t load, bool always);
  void keep(uint8_t load);
  void save(uint8_t load);

  // hands.cpp
  void accept(uint8_t index, Level level, Ms since);
  static bool leads(uint8_t index, Level level, uint8_t &load, Ask &ask);
  void does(Place target, Asking asking);
  void edge(uint8_t index, Level level, Ms since);
  void settle(uint8_t index);
  void complete(uint8_t index, uint8_t gesture);
  Earliest gestureDue(const Input &input) const;
  void steps(uint8_t load, Value detents);
  void push(uint8_t index, Place target);

  // readings.cpp
  Reading readingOf(uint8_t sensor) const;
  void straight(uint8_t sensor, int32_t x, int32_t y, double &ax, double &ay) const;
  bool crosses(uint8_t index, const Reading &reading);
  void moved(uint8_t index, const Reading &reading);
  void tell(uint8_t index);
  void point(uint8_t index, uint8_t sensor, int32_t first, int32_t second);

  // reports.cpp
  bool tellLoad(uint8_t link, uint8_t load);
  bool send(uint8_t link, Waiting what, uint32_t count = 0);
  bool emit(uint8_t link, Waiting what, uint32_t count);
  bool wait(uint8_t link, Waiting what, uint32_t count);
  void sendState(uint8_t link);
  bool write(uint8_t link, Waiting what, uint32_t count, bool dry) const;
  void writeCount(uint8_t link, uint32_t count) const;
  void writeUnsigned(uint32_t number) const;
  bool writeState(uint8_t link, bool dry) const;
  bool writeReport(uint8_t link, uint8_t load, bool item, bool dry) const;
  void writeStructure(uint8_t link, Place agreed, Value value) const;
  bool writeReading(uint8_t index, bool item, bool dry) const;
  void writeHello(uint8_t link) const;
  void writeText(Place text) const;
  void writeEnd(uint8_t link) const;
  void writeNumber(int32_t number) const;
  void writeHundredths(int32_t hundredths) const;
  void writeValue(const Reading &reading, Quotes quotes) const;
  bool unasked(uint8_t link) const;
  void restLink(uint8_t link, bool up);

  // hearing.cpp
  void hearChar(uint8_t link, char c);
  void hearCode(uint8_t link, char c);
  void hear(uint8_t link, const char *body, uint16_t length);
  int32_t commandNumber(uint8_t link, char *text, uint16_t &length);
  bool command(uint8_t link, uint8_t load, const Ask &ask);
  void acknowledge(uint8_t link, uint8_t load);
  bool isNew(uint8_t link, uint16_t number);
  void request(uint8_t link, const char *text, uint16_t length);
  void answer(uint8_t link, uint16_t status, const char *words) const;
  void readingAlone(uint8_t link, uint8_t sensor) const;
  void answerCommand(uint8_t link, const Meaning &meaning, bool refused);

  // mirrors.cpp
  static uint8_t wireBehind();
  void passOn(uint8_t wire, Place text, const Ask &ask) const;
  void passNumber(uint8_t wire, uint8_t load, Value value);
  void forward(uint8_t link, uint8_t load, const Ask &ask);
  void askBehind(bool whole);
  void bootBehind();
  void tickBehind();
  void answeredBehind();
  void doneBehind();
  void hearBehind(uint8_t wire, const char *said, uint16_t length);
  void mirror(uint8_t load, Value value);
  bool hearReading(uint8_t wire, uint8_t end, const char *said, uint16_t length);
  Reading toldBehind(uint8_t sensor) const;
  void lightBehind(uint8_t lamp) const;
  void say(const char *words) const;

  // box.cpp
  void restBox();
  void bootBox(const Level *levels);
  void connectBox();
  void disconnectBox();
  void tickBox();
  void offer(const Wish &wish);
  void offerKey(uint8_t load, const Ask &ask, bool presses);
  void offerTarget(Place target, bool presses);
  void queueWish(const Wish &wish);
  bool sayNext();
  void sayWish(const Wish &wish);
  void sayScene(Place scene);
  void askFor(uint8_t load, const Ask &ask);
  bool sayAsk(uint8_t load, const Ask &ask, uint16_t number, Value answer);
  bool say(const Signed &what, bool again);
  void saySealed(Said &what);
  void sayWhole(Place text);
  uint16_t freshNumber();
  void believe(uint8_t load, Value value, bool bySteps, const Ask &ask, uint16_t number);
  void hearBox(const char *said, uint16_t length);
  void takeBox(uint8_t load, Value value, bool answers);
  void refusedBox(uint8_t about);
  bool recounted(uint8_t about, uint32_t count);
  static bool countIn(const char *said, uint16_t length, uint32_t &count);
  void toldLine(Via via, const char *line, uint16_t length);
  void refusedRoute(uint8_t about, const char *text, uint16_t length);
  static Meaning reported(uint8_t link, const char *text, uint16_t length);

  Proof understood(uint8_t link, char *text, uint16_t &length, Meaning &meaning, bool &fresh);
  bool numbered(uint8_t link, char *text, uint16_t &length, Meaning &meaning, bool &fresh);

  // sealing.cpp: what proves a command. The text is shortened to the bare command.
  Proof proved(uint8_t link, char *text, uint16_t length);
  Proof weighed(uint8_t link, uint32_t count, const uint8_t *tag, const char *body,
                uint16_t length);
  Proof structureProof(uint8_t link, char *text, uint16_t length);
  Proof counterProof(uint8_t link, uint32_t counter, uint16_t length);
  Proof timeProof(uint8_t link, uint32_t time, uint16_t length);
  void taken(uint8_t link, const Proof &proof);
  uint32_t handedOut(uint8_t link);
  uint32_t countTold(uint8_t link, const Proof &proof);

  // lamps.cpp
  void light(bool boots);
  void tellLamp(uint8_t lamp, bool on);
};

}  // namespace nolvi

#endif
