// The environment of the boards with Wi-Fi: what of it has other names on the small one.
#ifndef NOLVI_VENDOR_H
#define NOLVI_VENDOR_H

#include <Arduino.h>

#ifdef ESP8266
#include <ESP8266WiFi.h>
#include <ESP8266mDNS.h>
#else
#include <ESPmDNS.h>
#include <WiFi.h>
#endif

namespace nolvi {

inline uint32_t numberOf(const IPAddress &address) {
  uint32_t number = 0;
  for (uint8_t i = 0; i < 4; i++) number = number << 8 | address[i];
  return number;
}

}  // namespace nolvi

#endif
