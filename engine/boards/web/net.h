// What a board with a network gives: connections that are numbered, and datagrams. Nothing here
// waits.
#ifndef NOLVI_NET_H
#define NOLVI_NET_H

#include <stdint.h>

#include "sizes.h"

namespace nolvi {
namespace net {

// Whether there is a network.
bool isUp();
// Begins to take connections on a port.
void listen(uint16_t port);
// Whether a connection waited, which is `client` from now on; `from`: the address it came from.
bool accept(uint8_t client, uint32_t &from);
// How many bytes came; 0 = none yet, -1 = nothing more will.
int16_t read(uint8_t client, char *to, uint16_t most);
// How many bytes were taken; 0 = no room yet, -1 = the other side has gone.
int16_t write(uint8_t client, const char *from, uint16_t length);
// Nothing more will be said; what was said still goes out.
void finish(uint8_t client);
// Whether it can be closed, though the other side has not gone: all has arrived there.
bool isTaken(uint8_t client);
void close(uint8_t client);

// Somebody who sends datagrams.
struct Sender {
  uint32_t address;
  uint16_t port;
};
// In place of a link: names that are asked for.
const uint8_t NAMES = Limits::links;
// Who is asked for names, where that is somebody else; 0 stays where nobody was told.
void nameServer(Sender &is);
// Begins to reach for whoever takes connections there; false = it cannot.
bool connect(uint8_t client, const Sender &to);
// Whether it is there: 1, 0 = not yet, -1 = it never will be.
int8_t isThere(uint8_t client);
// There is a network to be waited for.
void ready();
// Datagrams of a link are heard on a port; on 0, which any is, those of names.
void bind(uint8_t link, uint16_t port);
// The length of a datagram that came; -1 = none.
int16_t receive(uint8_t link, char *to, uint16_t most, Sender &from);
void send(uint8_t link, const char *from, uint16_t length, const Sender &to);

}  // namespace net
}  // namespace nolvi

#endif
