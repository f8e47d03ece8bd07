// A board of lines, for tests: see lines.h.
#include "lines.h"

#include "../text.h"

namespace nolvi {

// The time of day when the time of the board was 0 is that of a bench.
static const uint32_t EPOCH_S = 1795896000;
static const uint8_t LONGEST_WORD = 8;

static void writeWords(const char *words) {
  while (*words) writeByte(*words++);
}

static void writeUnsigned(uint32_t number) {
  char digits[MOST_DIGITS];
  uint8_t count = digitsOf(number, digits);
  while (count) writeByte(digits[--count]);
}

static void writeDecimal(int32_t number) {
  if (number < 0) writeByte('-');
  writeUnsigned(sizeOf(number));
}

static char hexDigit(uint8_t value) {
  return static_cast<char>(value < 10 ? '0' + value : 'a' + value - 10);
}

static uint32_t clock = 0;

static void two(int32_t a, int32_t b) {
  writeDecimal(a);
  writeByte(' ');
  writeDecimal(b);
  writeByte('\n');
}
static void three(int32_t a, int32_t b, int32_t c) {
  writeDecimal(a);
  writeByte(' ');
  two(b, c);
}

void Board::pin(uint8_t load, uint8_t line, uint16_t level) {
  writeWords("pin ");
  three(load, line, level);
}
void Board::lamp(uint8_t lamp, Level level) {
  writeWords("lamp ");
  two(lamp, level);
}
void Board::save(uint8_t load, Value value) {
  writeWords("save ");
  two(load, value);
}
void Board::took(uint8_t) {}
void Board::begin(uint8_t link, uint16_t status) {
  writeWords("say ");
  writeDecimal(link);
  writeByte(' ');
  writeDecimal(status);
  writeByte(' ');
}
void Board::put(char c) {
  const uint8_t byte = static_cast<uint8_t>(c);
  writeByte(hexDigit(byte >> 4));
  writeByte(hexDigit(byte & 15));
}
void Board::end() { writeByte('\n'); }
uint32_t Board::clockS() { return clock; }

// What is left of the line that is read.
static bool lineEnds;

static int nextByte() {
  if (lineEnds) return '\n';
  const int byte = readByte();
  if (byte < 0 || byte == '\n') lineEnds = true;
  return byte;
}

// Numbers are of 64 bits: times go on where those of the board turn.
static int64_t readNumber() {
  int byte = nextByte();
  while (byte == ' ') byte = nextByte();
  const bool negative = byte == '-';
  if (negative) byte = nextByte();
  int64_t number = 0;
  for (; byte >= '0' && byte <= '9'; byte = nextByte()) number = number * 10 + (byte - '0');
  return negative ? -number : number;
}
static uint8_t readSmall() { return static_cast<uint8_t>(readNumber()); }

static int readHex() {
  uint8_t value = 0;
  for (uint8_t i = 0; i < 2; i++) {
    const int byte = nextByte();
    if (byte < 0 || byte == '\n') return -1;
    const char c = static_cast<char>(byte);
    const uint8_t digit = static_cast<uint8_t>(c <= '9' ? c - '0' : (c | 0x20) - 'a' + 10);
    value = static_cast<uint8_t>(value << 4 | digit);
  }
  return value;
}

int tableHex() { return readHex(); }

static Controller controller;
static char heard[Limits::heard];
static Level levels[Limits::inputs];

static uint16_t readText() {
  uint16_t length = 0;
  for (int byte = readHex(); byte >= 0; byte = readHex())
    if (length < Limits::heard) heard[length++] = static_cast<char>(byte);
  return length;
}

static bool is(const char *word, const char *what) {
  while (*word && *word == *what) {
    word++;
    what++;
  }
  return *word == *what;
}

static void handle(const char *word) {
  const int64_t time = readNumber();
  const Ms now = static_cast<Ms>(time);
  clock = EPOCH_S + static_cast<uint32_t>(time / 1000);
  if (is(word, "boot")) {
    for (uint8_t i = 0; i < countOf(INPUTS); i++) levels[i] = readSmall();
    controller.boot(now, levels);
  } else if (is(word, "off")) {
    controller.powerOff(now);
  } else if (is(word, "tick")) {
    controller.tick(now);
  } else if (is(word, "pin")) {
    const uint8_t input = readSmall();
    controller.pin(now, input, readSmall());
  } else if (is(word, "knob")) {
    const uint8_t knob = readSmall();
    const Level a = readSmall();
    controller.knob(now, knob, a, readSmall());
  } else if (is(word, "remote")) {
    const uint8_t sensor = readSmall();
    const uint16_t address = static_cast<uint16_t>(readNumber());
    const uint16_t command = static_cast<uint16_t>(readNumber());
    controller.infrared(now, sensor, address, command, readSmall() != 0);
  } else if (is(word, "hear")) {
    const uint8_t link = readSmall();
    const uint16_t length = readText();
    controller.received(now, link, heard, length);
  } else if (is(word, "reply")) {
    const Via via = static_cast<Via>(readSmall());
    const uint8_t about = readSmall();
    const uint16_t length = readText();
    controller.replied(now, via, about, heard, length);
  } else if (is(word, "up")) {
    controller.linkUp(now, readSmall());
  } else if (is(word, "down")) {
    controller.linkDown(now, readSmall());
  } else if (is(word, "network")) {
    controller.network(now, readSmall() != 0);
  } else if (is(word, "sent")) {
    controller.sent(now, readSmall());
  } else if (is(word, "sample")) {
    const uint8_t sensor = readSmall();
    const int32_t first = static_cast<int32_t>(readNumber());
    controller.sample(now, sensor, first, static_cast<int32_t>(readNumber()));
  } else if (is(word, "written")) {
    controller.memoryDone(now);
  }
}

static void tellDue() {
  const Earliest due = controller.nextDue();
  writeWords("due ");
  if (due.armed)
    writeUnsigned(due.due);
  else
    writeByte('-');
  for (uint8_t i = 0; i < countOf(LOADS); i++) {
    writeByte(' ');
    writeDecimal(controller.state.motion[i].value);
  }
  writeByte('\n');
}

void runLines() {
  for (;;) {
    char word[LONGEST_WORD + 1];
    uint8_t length = 0;
    lineEnds = false;
    int byte = nextByte();
    if (byte < 0) return;
    for (; byte >= 'a' && byte <= 'z'; byte = nextByte())
      if (length < LONGEST_WORD) word[length++] = static_cast<char>(byte);
    word[length] = 0;
    if (is(word, "table")) {
      takeTable();
      controller.forget();
    } else {
      handle(word);
      tellDue();
    }
    while (!lineEnds) nextByte();
  }
}

}  // namespace nolvi
