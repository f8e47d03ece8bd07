// Joins networks one after another until one takes the board in, beside its own.
#include "radio.h"

#include "net.h"
#include "sizes.h"
#include "vendor.h"

namespace nolvi {
namespace radio {

// How long one network is tried, ms.
static const uint32_t TRIES_MS = 15000;
static uint8_t tried = 0;
static uint32_t since = 0;
static bool begun = false, joined = false;

static void say(const char *what, const IPAddress &address) {
  if (serial::usesFirst()) return;
  Serial.print(what);
  Serial.print(": http://");
  Serial.println(address);
}

static void join(uint32_t now) {
  since = now;
  if (!NETWORK_COUNT) return;
  const Network &to = NETWORKS[tried % NETWORK_COUNT];
  tried++;
  WiFi.begin(to.name, *to.password ? to.password : nullptr);
}

void begin() {
  if (begun) return;
  begun = true;
  if (!serial::usesFirst()) Serial.begin(115200);
  const bool own = *OWN_NETWORK.name != 0;
  WiFi.persistent(false);
  // Routers know their boards by it. One environment takes it before the mode, the other after.
  if (*HOST_NAME) WiFi.setHostname(HOST_NAME);
    // What is said from board to board is said by the side that joins.
#if NOLVI_PEER || NOLVI_PEER_BESIDE
  const bool joins = true;
#else
  const bool joins = NETWORK_COUNT > 0;
#endif
  WiFi.mode(own ? (joins ? WIFI_AP_STA : WIFI_AP) : WIFI_STA);
  if (*HOST_NAME) WiFi.setHostname(HOST_NAME);
  if (own) {
    WiFi.softAP(OWN_NETWORK.name, *OWN_NETWORK.password ? OWN_NETWORK.password : nullptr);
    say(OWN_NETWORK.name, WiFi.softAPIP());
  }
  if (*HOST_NAME && !NETWORK_COUNT) MDNS.begin(HOST_NAME);
  join(static_cast<uint32_t>(millis()));
}

// The name is told anew in each network that takes it in.
static void wasJoined() {
  say("joined", WiFi.localIP());
  if (*HOST_NAME) MDNS.begin(HOST_NAME);
}

void serve(uint32_t now) {
  if (!begun) return;
#ifdef ESP8266
  if (*HOST_NAME) MDNS.update();
#endif
  const bool is = WiFi.status() == WL_CONNECTED;
  if (is && !joined) wasJoined();
  // What was lost is joined again by the environment for a while, then all are tried.
  if (is || joined) since = now;
  joined = is;
  if (!is && NETWORK_COUNT && now - since >= TRIES_MS) join(now);
}

bool isUp() { return *OWN_NETWORK.name != 0 || joined; }

uint32_t nameServer() { return numberOf(WiFi.dnsIP()); }

}  // namespace radio

bool net::isUp() { return radio::isUp(); }
void net::nameServer(Sender &is) {
  if (!is.address) is.address = radio::nameServer();
}

}  // namespace nolvi
