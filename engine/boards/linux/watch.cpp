// Sleeps until something comes.
#include "watch.h"

#include <sys/epoll.h>

namespace nolvi {
namespace watch {

static int all = -1;
static bool isActive = false, isSoon = false;
static const int SOON_MS = 3;

void add(int file) {
  if (all < 0) all = epoll_create1(EPOLL_CLOEXEC);
  // Once for all that came: whoever looks takes everything, or is active and looks again.
  struct epoll_event event = {};
  event.events = EPOLLIN | EPOLLET | EPOLLRDHUP | EPOLLPRI;
  epoll_ctl(all, EPOLL_CTL_ADD, file, &event);
}

void active() { isActive = true; }
void soon() { isSoon = true; }

void rest(int ms) {
  if (isSoon && (ms < 0 || ms > SOON_MS)) ms = SOON_MS;
  if (isActive) ms = 0;
  isActive = isSoon = false;
  struct epoll_event came[16];
  if (all < 0) all = epoll_create1(EPOLL_CLOEXEC);
  if (epoll_wait(all, came, 16, ms) > 0) isActive = true;
}

}  // namespace watch
}  // namespace nolvi
