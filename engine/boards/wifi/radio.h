// The network of a board with Wi-Fi: joined, or its own.
#ifndef NOLVI_RADIO_H
#define NOLVI_RADIO_H

#include <stdint.h>

namespace nolvi {

struct Network {
  const char *name, *password;
};
// Given by design.cpp. Its own, whose name is "" where it opens none; those that it joins, in the
// order in which they are tried.
extern const Network OWN_NETWORK;
extern const Network NETWORKS[];
extern const uint8_t NETWORK_COUNT;
// What it is called there, without what stands behind the first dot; "" = nothing.
extern const char HOST_NAME[];

namespace radio {

// Begins to join; nothing waits for it.
void begin();
void serve(uint32_t now);
bool isUp();
// Of the network that was joined; 0 = none was told.
uint32_t nameServer();

}  // namespace radio

namespace serial {
// Whether a link has the port that everything else is told on.
bool usesFirst();
}  // namespace serial

}  // namespace nolvi

#endif
