// Board to board by the radio of the small board with Wi-Fi.
#include "peer.h"

#include <espnow.h>

#include "chip.h"
#include "queue.h"
#include "radio.h"
#include "sizes.h"
#include "vendor.h"

extern "C" {
#include <user_interface.h>
}

#if NOLVI_PEER
namespace nolvi {
namespace peer {

static Heard heard;
static uint8_t to[6];

static void came(uint8_t *, uint8_t *bytes, uint8_t length) { heard.put(bytes, length); }

void begin(const uint8_t *own, const uint8_t *other, uint8_t channel) {
  radio::begin();
  uint8_t address[6];
  memcpy(address, own, sizeof address);
  memcpy(to, other, sizeof to);
  wifi_set_macaddr(STATION_IF, address);
  // A network that it is in says which channel.
  if (!NETWORK_COUNT) wifi_set_channel(channel);
  esp_now_init();
  esp_now_set_self_role(ESP_NOW_ROLE_COMBO);
  esp_now_register_recv_cb(came);
  esp_now_add_peer(to, ESP_NOW_ROLE_COMBO, channel, nullptr, 0);
}

int16_t receive(char *where, uint16_t most) {
  const chip::Quiet quiet;
  return heard.take(where, most);
}

void send(const char *from, uint16_t length) {
  uint8_t bytes[250];
  if (length > sizeof bytes) return;
  memcpy(bytes, from, length);
  esp_now_send(to, bytes, static_cast<uint8_t>(length));
}

}  // namespace peer
}  // namespace nolvi
#endif
