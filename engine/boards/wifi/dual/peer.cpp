// Board to board by the radio of boards with Wi-Fi and low-energy Bluetooth.
#include "peer.h"

#include <esp_now.h>
#include <esp_wifi.h>

#include "chip.h"
#include "queue.h"
#include "radio.h"
#include "sizes.h"
#include "vendor.h"

#if NOLVI_PEER
namespace nolvi {
namespace peer {

static Heard heard;
static uint8_t to[6];
static portMUX_TYPE turn = portMUX_INITIALIZER_UNLOCKED;

// Another thread calls it.
static void keep(const uint8_t *bytes, int length) {
  portENTER_CRITICAL(&turn);
  heard.put(bytes, static_cast<uint16_t>(length));
  portEXIT_CRITICAL(&turn);
}
#if ESP_IDF_VERSION_MAJOR >= 5
static void came(const esp_now_recv_info_t *, const uint8_t *bytes, int length) {
  keep(bytes, length);
}
#else
static void came(const uint8_t *, const uint8_t *bytes, int length) { keep(bytes, length); }
#endif

void begin(const uint8_t *own, const uint8_t *other, uint8_t channel) {
  radio::begin();
  memcpy(to, other, sizeof to);
  esp_wifi_set_mac(WIFI_IF_STA, own);
  // A network that it is in says which channel.
  if (!NETWORK_COUNT) esp_wifi_set_channel(channel, WIFI_SECOND_CHAN_NONE);
  esp_now_init();
  esp_now_register_recv_cb(came);
  esp_now_peer_info_t info = {};
  memcpy(info.peer_addr, other, sizeof info.peer_addr);
  // 0 = the channel of now.
  info.channel = 0;
  info.ifidx = WIFI_IF_STA;
  esp_now_add_peer(&info);
}

int16_t receive(char *where, uint16_t most) {
  portENTER_CRITICAL(&turn);
  const int16_t length = heard.take(where, most);
  portEXIT_CRITICAL(&turn);
  return length;
}

void send(const char *from, uint16_t length) {
  esp_now_send(to, reinterpret_cast<const uint8_t *>(from), length);
}

}  // namespace peer
}  // namespace nolvi
#endif
