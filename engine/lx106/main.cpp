// The board of lines on the core of the small Wi-Fi boards (lx106), in an emulated machine that
// reads, writes and ends for it.
#include "../lines/held.h"

extern "C" {
void runLx106() __attribute__((noreturn));
extern void (*constructorsBegin[])();
extern void (*constructorsEnd[])();
}

namespace nolvi {

enum Call : int { EXIT = 1, READ = 3, WRITE = 4 };

static int call(int number, int first, char *at, int count) {
  register int a2 asm("a2") = number;
  register int a3 asm("a3") = first;
  register char *a4 asm("a4") = at;
  register int a5 asm("a5") = count;
  asm volatile("simcall" : "+r"(a2), "+r"(a3) : "r"(a4), "r"(a5) : "memory");
  return a2;
}

static char came[4096], goes[4096];
static int first = 0, last = 0, waits = 0;

int readByte() {
  if (first == last) {
    first = 0;
    last = call(READ, 0, came, sizeof came);
    if (last <= 0) {
      last = 0;
      return -1;
    }
  }
  return static_cast<uint8_t>(came[first++]);
}

static void flush() {
  if (waits) call(WRITE, 1, goes, waits);
  waits = 0;
}

void writeByte(char c) {
  goes[waits++] = c;
  if (waits == sizeof goes) flush();
}

static void run() __attribute__((noinline, noreturn));
static void run() {
  for (void (**it)() = constructorsBegin; it != constructorsEnd; it++) (*it)();
  runLines();
  flush();
  call(EXIT, 0, 0, 0);
  for (;;) {
  }
}

}  // namespace nolvi

// The machine starts here. Memory ends at 64 MB; the stack grows down from there.
asm(".section .start, \"ax\"\n"
    ".global _start\n"
    "_start: j 1f\n"
    ".align 4\n"
    ".literal_position\n"
    "1: movi sp, 0x63fffff0\n"
    "movi a0, runLx106\n"
    "jx a0\n"
    ".text\n");

void runLx106() { nolvi::run(); }
