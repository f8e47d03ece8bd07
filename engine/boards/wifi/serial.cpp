// Serial ports of a board with Wi-Fi: the one that is also used for uploading, and others where the
// chip has them.
#include "serial.h"

#include <Arduino.h>

#include "network.h"
#include "radio.h"

namespace nolvi {
namespace serial {

static const uint8_t SEND_PIN = 1, RECEIVE_PIN = 3;
static HardwareSerial *ports[some(Limits::links)];

bool usesFirst() {
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    if (!isWhole(i) && ports[i] == &Serial) return true;
  return false;
}

void begin(uint8_t link) {
  const uint32_t baud = u32(portPlace(link, PORT_BAUD));
  const uint8_t in = u8(portPlace(link, PORT_IN)), out = u8(portPlace(link, PORT_OUT));
  ports[link] = &Serial;
#ifndef ESP8266
  static uint8_t taken = 0;
  if (in != NO_PIN && (in != RECEIVE_PIN || out != SEND_PIN) && taken < 2) {
    static HardwareSerial others[] = {HardwareSerial(1), HardwareSerial(2)};
    ports[link] = &others[taken++];
    ports[link]->begin(baud, SERIAL_8N1, static_cast<int8_t>(in), static_cast<int8_t>(out));
    return;
  }
#else
  (void)in;
  (void)out;
#endif
  Serial.begin(baud);
}

bool take(uint8_t link, uint8_t &byte) {
  const int came = ports[link] && ports[link]->available() ? ports[link]->read() : -1;
  if (came < 0) return false;
  byte = static_cast<uint8_t>(came);
  return true;
}

void put(uint8_t link, uint8_t byte) {
  if (ports[link]) ports[link]->write(byte);
}

bool isIdle(uint8_t) { return true; }
void serve(uint32_t now) { radio::serve(now); }

}  // namespace serial
}  // namespace nolvi
