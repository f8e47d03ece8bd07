// Pages that stand in the program, zipped: given by what is made for a design.
#ifndef NOLVI_SITE_H
#define NOLVI_SITE_H

#include <stdint.h>

namespace nolvi {

struct Page {
  const char *route;
  const char *type;
  const uint8_t *bytes;
  uint32_t length;
};
extern const Page PAGES[];
extern const uint8_t PAGE_COUNT;
// Where "/" leads; empty = nowhere.
extern const char FIRST_PAGE[];

}  // namespace nolvi

#endif
