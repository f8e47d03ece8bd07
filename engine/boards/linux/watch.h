// What the machine waits for between two rounds.
#ifndef NOLVI_WATCH_H
#define NOLVI_WATCH_H

namespace nolvi {
namespace watch {

// Wakes when something comes there; forgotten when it is closed.
void add(int file);
// Something was done in this round: there may be more.
void active();
// Something could not be done: it is tried again soon.
void soon();
// Waits so many ms at most, -1 = until something comes.
void rest(int ms);

}  // namespace watch
}  // namespace nolvi

#endif
