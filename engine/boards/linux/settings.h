// What a machine is told by its maker: "nolvi.conf", lines of "key = value".
#ifndef NOLVI_SETTINGS_H
#define NOLVI_SETTINGS_H

namespace nolvi {
namespace settings {

// Ends the program where the file cannot be read.
void read(const char *path);
// "" where it is not given. `of`: what it is for, where there are several: "serial bench = ...".
const char *get(const char *key, const char *of = "");
long number(const char *key, long otherwise);

// Ends the program with the reason.
[[noreturn]] void fail(const char *what, const char *why);

}  // namespace settings
}  // namespace nolvi

#endif
