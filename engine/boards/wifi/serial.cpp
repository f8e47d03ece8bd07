// Serial ports of a board with Wi-Fi: the one that is also used for uploading, and others where the
// chip has them.
#include "serial.h"

#include <Arduino.h>

#include "network.h"
#include "phones.h"
#include "radio.h"

namespace nolvi {
namespace serial {

#ifndef ESP8266
static const uint8_t SEND_PIN = 1, RECEIVE_PIN = 3;
#endif
static HardwareSerial *ports[some(Limits::links)];

static bool isKind(uint8_t link, PortKind kind) { return u8(portPlace(link, PORT_KIND)) == kind; }

// Whether a link is on the first port: all are where there is no other.
static bool isFirst(uint8_t link) {
  if (isKind(link, BLUETOOTH_PORT) || isKind(link, LOW_ENERGY_PORT)) return false;
#ifdef ESP8266
  return !isWhole(link);
#else
  const uint8_t in = u8(portPlace(link, PORT_IN)), out = u8(portPlace(link, PORT_OUT));
  return !isWhole(link) && (in == NO_PIN || (in == RECEIVE_PIN && out == SEND_PIN));
#endif
}

bool usesFirst() {
#if NOLVI_SERIAL_BESIDE
  return true;
#endif
  for (uint8_t i = 0; i < countOf(LINKS); i++)
    if (isFirst(i)) return true;
  return false;
}

void begin(uint8_t link) {
#if NOLVI_BLUETOOTH
  if (isKind(link, BLUETOOTH_PORT)) return bluetooth::begin(link);
#endif
#if NOLVI_LOW_ENERGY
  if (isKind(link, LOW_ENERGY_PORT)) return low_energy::begin(link);
#endif
  const uint32_t baud = u32(portPlace(link, PORT_BAUD));
  ports[link] = &Serial;
#ifndef ESP8266
  static HardwareSerial others[] = {HardwareSerial(1), HardwareSerial(2)};
  static uint8_t taken = 0;
  if (!isFirst(link) && taken < 2) {
    ports[link] = &others[taken++];
    ports[link]->begin(baud, SERIAL_8N1, static_cast<int8_t>(u8(portPlace(link, PORT_IN))),
                       static_cast<int8_t>(u8(portPlace(link, PORT_OUT))));
    return;
  }
#endif
  Serial.begin(baud);
}

bool take(uint8_t link, uint8_t &byte) {
#if NOLVI_BLUETOOTH
  if (isKind(link, BLUETOOTH_PORT)) return bluetooth::take(byte);
#endif
#if NOLVI_LOW_ENERGY
  if (isKind(link, LOW_ENERGY_PORT)) return low_energy::take(byte);
#endif
  const int came = ports[link] && ports[link]->available() ? ports[link]->read() : -1;
  if (came < 0) return false;
  byte = static_cast<uint8_t>(came);
  return true;
}

void put(uint8_t link, uint8_t byte) {
#if NOLVI_BLUETOOTH
  if (isKind(link, BLUETOOTH_PORT)) return bluetooth::put(byte);
#endif
#if NOLVI_LOW_ENERGY
  if (isKind(link, LOW_ENERGY_PORT)) return low_energy::put(byte);
#endif
  if (ports[link]) ports[link]->write(byte);
}

bool isIdle(uint8_t) { return true; }
void serve(uint32_t now) {
  radio::serve(now);
#if NOLVI_BLUETOOTH
  bluetooth::serve(now);
#endif
#if NOLVI_LOW_ENERGY
  low_energy::serve(now);
#endif
}

}  // namespace serial
}  // namespace nolvi
