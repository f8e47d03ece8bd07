// What sockets need of a board with Wi-Fi that has them.
#include "radio.h"
#include "sockets.h"
#include "vendor.h"

namespace nolvi {
namespace sockets {

uint32_t address() { return 0; }
uint16_t portFor(uint16_t port, const char *) {
  radio::begin();
  return port;
}
void ready() { radio::begin(); }
void isOn(const char *, uint16_t) {}
void opened(int) {}
// Round follows upon round here.
void active() {}
void soon() {}
// Nothing is taken that it could need: it begins anew.
void fail(const char *what) {
  if (!serial::usesFirst()) Serial.println(what);
  ESP.restart();
}

}  // namespace sockets
}  // namespace nolvi
