// Serial Bluetooth of the chip: one phone at a time, which pairs with it.
#include "phones.h"

#if NOLVI_BLUETOOTH
#include <BluetoothSerial.h>

#include "board.h"

namespace nolvi {
namespace bluetooth {

static BluetoothSerial stream;
static Bytes said;
static uint8_t own;
static bool isThere = false;

void begin(uint8_t link) {
  own = link;
  char name[MOST_TEXT];
  copyText(u16(phonesPlace(link, PHONES_NAME)), name);
  stream.begin(name);
}

bool take(uint8_t &byte) {
  const int came = stream.available() ? stream.read() : -1;
  if (came < 0) return false;
  byte = static_cast<uint8_t>(came);
  return true;
}

static void say() {
  uint8_t bytes[128];
  while (const uint16_t count = said.take(bytes, sizeof bytes))
    if (isThere) stream.write(bytes, count);
}

void put(uint8_t byte) {
  if (said.isFull()) say();
  said.put(byte);
}

void serve(uint32_t now) {
  const bool is = stream.hasClient();
  if (is != isThere) {
    isThere = is;
    if (is)
      controller.linkUp(now, own);
    else
      controller.linkDown(now, own);
  }
  say();
}

}  // namespace bluetooth
}  // namespace nolvi
#endif
