// Settings of a machine, line by line.
#include "settings.h"

#include <ctype.h>
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

namespace nolvi {
namespace settings {

static const int MOST = 128, LONGEST = 256;
static struct { char key[LONGEST], value[LONGEST]; } all[MOST];
static int count = 0;
static const char *file = "nolvi.conf";

void fail(const char *what, const char *why) {
  fprintf(stderr, "nolvi: %s: %s\n", what, why);
  exit(1);
}

// Without what stands around it, and one space between words.
static void tidy(const char *from, const char *end, char *to) {
  char *const first = to;
  for (; from < end; from++) {
    if (!isspace(static_cast<unsigned char>(*from)))
      *to++ = *from;
    else if (to > first && to[-1] != ' ')
      *to++ = ' ';
  }
  if (to > first && to[-1] == ' ') to--;
  *to = 0;
}

static void take(const char *line, int nth) {
  const char *text = line;
  while (isspace(static_cast<unsigned char>(*text))) text++;
  if (!*text || *text == '#') return;
  char place[LONGEST];
  snprintf(place, sizeof place, "%.200s, line %d", file, nth);
  const char *const equals = strchr(text, '=');
  if (!equals) fail(place, "a line is \"key = value\"");
  if (count == MOST) fail(place, "that are too many");
  tidy(text, equals, all[count].key);
  // A secret may hold spaces.
  const char *value = equals + 1;
  while (*value == ' ' || *value == '\t') value++;
  snprintf(all[count].value, LONGEST, "%s", value);
  char *end = all[count].value + strlen(all[count].value);
  while (end > all[count].value && isspace(static_cast<unsigned char>(end[-1]))) *--end = 0;
  count++;
}

void read(const char *path) {
  file = path;
  FILE *const from = fopen(path, "r");
  if (!from) fail(path, strerror(errno));
  char line[LONGEST];
  for (int nth = 1; fgets(line, sizeof line, from); nth++) take(line, nth);
  fclose(from);
}

const char *get(const char *key, const char *of) {
  char whole[LONGEST];
  snprintf(whole, sizeof whole, "%s%s%s", key, *of ? " " : "", of);
  for (int i = 0; i < count; i++)
    if (strcmp(all[i].key, whole) == 0) return all[i].value;
  return "";
}

long number(const char *key, long otherwise) {
  const char *const value = get(key);
  if (!*value) return otherwise;
  char *end;
  const long it = strtol(value, &end, 10);
  if (*end) fail(key, "that is no number");
  return it;
}

}  // namespace settings
}  // namespace nolvi
