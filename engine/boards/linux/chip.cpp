// Lines, clock and sleep of a Linux computer. Lines are asked for by the character device of the
// kernel (linux/gpio.h, version 2), so that no library is needed.
#include "chip.h"

#include <errno.h>
#include <fcntl.h>
#include <linux/gpio.h>
#include <poll.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <time.h>
#include <unistd.h>

#include "board.h"
#include "settings.h"
#include "watch.h"

namespace nolvi {
namespace chip {

static const uint8_t NO_STATE = 2;
static struct {
  int file;  // a line that was asked for, or the file of one; -1 = none yet
  bool isOut;
  uint8_t high;  // as it was written last
  int width;     // as it was dimmed last; -1 = not
} pins[256];

static const char *tree = "";
static int device = -1;

// --- Clock ---

static uint32_t moved = 0;
// The clock stands; somebody tells what happens.
static bool still, controlled;

static uint64_t nowNs() {
  struct timespec at;
  clock_gettime(CLOCK_MONOTONIC, &at);
  return static_cast<uint64_t>(at.tv_sec) * 1000000000u + static_cast<uint64_t>(at.tv_nsec);
}
static uint64_t startNs;

uint32_t ms() { return still ? moved : static_cast<uint32_t>((nowNs() - startNs) / 1000000u); }
uint32_t us() { return static_cast<uint32_t>((nowNs() - startNs) / 1000u); }
uint32_t timeOfDay() {
  // Given in ms.
  if (still) return static_cast<uint32_t>((settings::number("epoch", 0) + moved) / 1000);
  return static_cast<uint32_t>(time(0));
}

// --- Lines ---

void begin() {
  for (auto &pin : pins) {
    pin.file = -1;
    pin.high = NO_STATE;
    pin.width = -1;
  }
  startNs = nowNs();
  still = settings::number("virtual", 0) != 0;
  controlled = still || settings::number("control", 0) != 0;
  tree = settings::get("tree");
  if (*tree) return;
  const char *const path = *settings::get("chip") ? settings::get("chip") : "/dev/gpiochip0";
  device = open(path, O_RDWR | O_CLOEXEC);
  if (device < 0) settings::fail(path, strerror(errno));
}

static int inTree(const char *what, uint8_t pin) {
  char path[300];
  snprintf(path, sizeof path, "%.200s/%s%u", tree, what, static_cast<unsigned>(pin));
  const int file = open(path, O_RDWR | O_CREAT | O_CLOEXEC, 0644);
  if (file < 0) settings::fail(path, strerror(errno));
  return file;
}

static void put(int file, const char *words) {
  const size_t length = strlen(words);
  if (pwrite(file, words, length, 0) != static_cast<ssize_t>(length) ||
      ftruncate(file, static_cast<off_t>(length)) != 0)
    settings::fail("a pin", strerror(errno));
}

// Asks the kernel for a line, or for the same one anew.
static void ask(uint8_t pin, uint64_t flags, bool high) {
  auto &is = pins[pin];
  char name[16];
  snprintf(name, sizeof name, "pin %u", static_cast<unsigned>(pin));
  struct gpio_v2_line_config config = {};
  config.flags = flags;
  if (flags & GPIO_V2_LINE_FLAG_OUTPUT) {
    config.num_attrs = 1;
    config.attrs[0].attr.id = GPIO_V2_LINE_ATTR_ID_OUTPUT_VALUES;
    config.attrs[0].attr.values = high;
    config.attrs[0].mask = 1;
  }
  if (is.file >= 0) {
    if (ioctl(is.file, GPIO_V2_LINE_SET_CONFIG_IOCTL, &config) < 0)
      settings::fail(name, strerror(errno));
    return;
  }
  struct gpio_v2_line_request request = {};
  // Pins of the board are lines of the chip, where nothing else is said.
  const char *const line = settings::get("line", name + 4);
  request.offsets[0] = *line ? static_cast<uint32_t>(atoi(line)) : pin;
  request.num_lines = 1;
  request.config = config;
  snprintf(request.consumer, sizeof request.consumer, "nolvi");
  if (ioctl(device, GPIO_V2_GET_LINE_IOCTL, &request) < 0) settings::fail(name, strerror(errno));
  is.file = request.fd;
  watch::add(is.file);
}

void takeIn(uint8_t pin, bool pulledUp) {
  auto &is = pins[pin];
  is.isOut = false;
  if (!*tree)
    return ask(pin,
               GPIO_V2_LINE_FLAG_INPUT | GPIO_V2_LINE_FLAG_EDGE_RISING |
                   GPIO_V2_LINE_FLAG_EDGE_FALLING |
                   (pulledUp ? GPIO_V2_LINE_FLAG_BIAS_PULL_UP : GPIO_V2_LINE_FLAG_BIAS_DISABLED),
               false);
  if (is.file >= 0) return;
  is.file = inTree("pin", pin);
  char had;
  if (pread(is.file, &had, 1, 0) == 0) put(is.file, pulledUp ? "1\n" : "0\n");
}

// The level first: it is the first thing that the line does.
void putOut(uint8_t pin) {
  auto &is = pins[pin];
  if (is.isOut) return;
  is.isOut = true;
  if (is.width >= 0) return;
  if (!*tree) return ask(pin, GPIO_V2_LINE_FLAG_OUTPUT, is.high == 1);
  if (is.file < 0) is.file = inTree("pin", pin);
  put(is.file, is.high == 1 ? "1\n" : "0\n");
}

void write(uint8_t pin, bool high) {
  auto &is = pins[pin];
  if (is.high == high) return;
  is.high = high;
  if (!is.isOut) return;
  if (*tree) return put(is.file, high ? "1\n" : "0\n");
  struct gpio_v2_line_values values = {high ? 1u : 0u, 1};
  if (ioctl(is.file, GPIO_V2_LINE_SET_VALUES_IOCTL, &values) < 0)
    settings::fail("a pin", strerror(errno));
}

bool isHigh(uint8_t pin) {
  const auto &is = pins[pin];
  if (is.file < 0) return false;
  if (*tree) {
    char level = '0';
    return pread(is.file, &level, 1, 0) == 1 && level == '1';
  }
  if (!is.isOut) {
    // What woke us is taken away, or it would wake us again.
    struct gpio_v2_line_event events[16];
    const int flags = fcntl(is.file, F_GETFL);
    if (flags >= 0 && !(flags & O_NONBLOCK)) fcntl(is.file, F_SETFL, flags | O_NONBLOCK);
    while (::read(is.file, events, sizeof events) > 0) {
    }
  }
  struct gpio_v2_line_values values = {0, 1};
  return ioctl(is.file, GPIO_V2_LINE_GET_VALUES_IOCTL, &values) == 0 && (values.bits & 1);
}

// --- Sensors that somebody tells of ---

static const unsigned MOST_SENSORS = 64;
static struct {
  bool isTold;
  int32_t first, second;
} sensors[MOST_SENSORS];

bool isTold() { return controlled; }
bool told(uint8_t sensor, int32_t &first, int32_t &second) {
  if (sensor >= MOST_SENSORS || !sensors[sensor].isTold) return false;
  first = sensors[sensor].first;
  second = sensors[sensor].second;
  return true;
}

// --- What dims and steps: by the files of the kernel's pulse width ---

static void putAt(const char *folder, const char *name, uint64_t number) {
  char path[300], words[24];
  snprintf(path, sizeof path, "%.250s/%s", folder, name);
  snprintf(words, sizeof words, "%llu\n", static_cast<unsigned long long>(number));
  const int file = open(path, O_WRONLY | O_CLOEXEC);
  if (file < 0) settings::fail(path, strerror(errno));
  const size_t length = strlen(words);
  const bool good = ::write(file, words, length) == static_cast<ssize_t>(length);
  close(file);
  if (!good) settings::fail(path, strerror(errno));
}

static void pulse(uint8_t pin, uint64_t periodNs, uint64_t widthNs) {
  char name[4];
  snprintf(name, sizeof name, "%u", static_cast<unsigned>(pin));
  const char *const folder = settings::get("pwm", name);
  if (!*folder) settings::fail("pwm", "a pin dims or steps, and nolvi.conf does not say where");
  if (!periodNs) return putAt(folder, "enable", 0);
  putAt(folder, "duty_cycle", 0);
  putAt(folder, "period", periodNs);
  putAt(folder, "duty_cycle", widthNs);
  putAt(folder, "enable", 1);
}

static void putNumber(const char *what, uint8_t pin, unsigned number) {
  const int file = inTree(what, pin);
  char words[16];
  snprintf(words, sizeof words, "%u\n", number);
  put(file, words);
  close(file);
}

void dim(uint8_t pin, uint8_t width) {
  if (pins[pin].width == width) return;
  pins[pin].width = width;
  if (*tree) return putNumber("pwm", pin, width);
  const uint64_t PERIOD_NS = 1000000;
  pulse(pin, PERIOD_NS, PERIOD_NS * width / 255);
}

void step(uint8_t pin, uint16_t hz) {
  if (pins[pin].width == hz) return;
  pins[pin].width = hz;
  if (*tree) return putNumber("hz", pin, hz);
  const uint64_t period = hz ? 1000000000u / hz : 0;
  pulse(pin, period, period / 2);
}

// --- Sleep ---

// In a tree nothing tells when a file changes.
static const int TREE_MS = 5, LONGEST_MS = 60000, LOOK_MS = 20;

static int untilDue() {
  Earliest due;
  dues(due);
  int most = *tree ? TREE_MS : LONGEST_MS;
  if (!due.armed) return most;
  const int32_t left = static_cast<int32_t>(due.due - ms());
  return left < 0 ? 0 : left < most ? left : most;
}

// Goes on to a time, from one thing that is due to the next.
static void moveTo(uint32_t to) {
  for (;;) {
    loopBoard();
    Earliest due;
    dues(due);
    if (!due.armed || !reached(to, due.due)) break;
    // What is due now was done in this round, or is never done.
    moved = reached(moved, due.due) ? moved + 1 : due.due;
    if (reached(moved, to)) break;
  }
  moved = to;
  for (int i = 0; i < 4; i++) loopBoard();
}

// "to MS" moves the clock, "pin PIN LEVEL" puts a level on a line of the tree, "sample SENSOR A B"
// tells what a sensor gives, "infrared SENSOR ADDRESS COMMAND REPEAT" what a receiver made of the
// marks of a remote. Each is answered with the time when all of it is done; "values" also with the
// value of each load.
static void takeLine() {
  char line[64];
  if (!fgets(line, sizeof line, stdin)) exit(0);
  unsigned to, pin, address, command, repeat;
  int level, first, second;
  if (sscanf(line, "to %u", &to) == 1) {
    moveTo(to);
  } else if (sscanf(line, "pin %u %d", &pin, &level) == 2 && *tree && pin < 256) {
    takeIn(static_cast<uint8_t>(pin), true);
    put(pins[pin].file, level ? "1\n" : "0\n");
    loopBoard();
  } else if (sscanf(line, "sample %u %d %d", &pin, &first, &second) == 3 && pin < MOST_SENSORS) {
    sensors[pin].isTold = true;
    sensors[pin].first = first;
    sensors[pin].second = second;
    loopBoard();
  } else if (sscanf(line, "infrared %u %u %u %u", &pin, &address, &command, &repeat) == 4 &&
             pin < MOST_SENSORS) {
    controller.infrared(ms(), static_cast<uint8_t>(pin), static_cast<uint16_t>(address),
                        static_cast<uint16_t>(command), repeat != 0);
    loopBoard();
  }
  printf("%u", ms());
  if (strcmp(line, "values\n") == 0)
    for (uint8_t i = 0; i < countOf(LOADS); i++) printf(" %d", controller.state.motion[i].value);
  printf("\n");
  fflush(stdout);
}

void rest() {
  if (!controlled) return watch::rest(untilDue());
  static bool begun = false;
  if (!begun) {
    watch::add(STDIN_FILENO);
    setvbuf(stdin, 0, _IONBF, 0);
    begun = true;
  }
  watch::rest(still ? LOOK_MS : untilDue());
  struct pollfd line = {STDIN_FILENO, POLLIN, 0};
  if (poll(&line, 1, 0) > 0) takeLine();
}

}  // namespace chip
}  // namespace nolvi
