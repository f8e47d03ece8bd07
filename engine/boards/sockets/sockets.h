// What sockets need of the machine they are on.
#ifndef NOLVI_SOCKETS_H
#define NOLVI_SOCKETS_H

#include <stdint.h>

namespace nolvi {
namespace sockets {

// Of its own, in the order of the network; 0 = all that it has.
uint32_t address();
// The port that is listened on, where the machine has another one than the design.
uint16_t portFor(uint16_t port, const char *what);
void isOn(const char *what, uint16_t port);
// Whoever waits for the network begins to: nothing is listened on.
void ready();
// A socket is there now.
void opened(int file);
// Something came or went in this round; something could not go yet.
void active();
void soon();
// It cannot be done: errno says why.
void fail(const char *what);

}  // namespace sockets
}  // namespace nolvi

#endif
