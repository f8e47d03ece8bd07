// No design of its own: its settings name the file of a table. For tests.
#include "design.h"
#include "site.h"

namespace nolvi {

const uint8_t DESIGN[] = {0};
const uint32_t DESIGN_SIZE = 0;
const Page PAGES[] = {{"", "", DESIGN, 0}};
const uint8_t PAGE_COUNT = 0;
const char FIRST_PAGE[] = "";

}  // namespace nolvi
