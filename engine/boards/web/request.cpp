// What a request over HTTP/1.1 holds (RFC 9112), as far as a board has to know it.
#include "request.h"

#include <string.h>

#include "text.h"

namespace nolvi {

static const uint16_t MOST_TARGET = Limits::request / 2;

static char lower(char c) { return static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c); }

// Whether a text of `length` begins with a word in small letters, in whatever letters it is.
static bool begins(const char *text, uint16_t length, const char *word) {
  uint16_t i = 0;
  for (; word[i]; i++)
    if (i >= length || lower(text[i]) != word[i]) return false;
  return true;
}
static bool is(const char *text, uint16_t length, const char *word) {
  return lengthOf(word) == length && begins(text, length, word);
}

static bool holds(const char *text, uint16_t length, const char *word) {
  for (uint16_t i = 0; i < length; i++)
    if (begins(text + i, static_cast<uint16_t>(length - i), word)) return true;
  return false;
}

static void keep(char *to, uint8_t most, const char *from, uint16_t length) {
  // What is too long is none of ours.
  const uint16_t kept = length < most ? length : 0;
  for (uint16_t i = 0; i < kept; i++) to[i] = lower(from[i]);
  to[kept] = 0;
}

void Request::clear() {
  stage_ = STAGE_LINE;
  method_ = METHOD_OTHER;
  type_ = BODY_NONE;
  wrong_ = 0;
  targetLength_ = 0;
  length_ = 0;
  left_ = 0;
  hasOrigin_ = hasSite_ = crossSite_ = hasMode_ = navigateMode_ = wantsPage_ = false;
  text_[0] = 0;
  host_[0] = 0;
  origin_[0] = 0;
}

void Request::fail(uint16_t status) {
  stage_ = STAGE_WRONG;
  wrong_ = status;
}

void Request::take(char c) {
  char *to = text_ + targetLength_;
  if (stage_ == STAGE_BODY) {
    to[length_++] = c;
    if (--left_ == 0) stage_ = STAGE_WHOLE;
    return;
  }
  if (stage_ != STAGE_LINE && stage_ != STAGE_HEADERS) return;
  if (c == '\n') {
    if (length_ && to[length_ - 1] == '\r') length_--;
    lineEnds();
    return;
  }
  if (targetLength_ + length_ + 1 < Limits::request) {
    to[length_++] = c;
    return;
  }
  // The end of a long header is passed over.
  if (stage_ == STAGE_LINE) fail(414);
}

void Request::lineEnds() {
  if (stage_ == STAGE_LINE) {
    // An empty line may come before the first.
    if (length_) firstLine();
  } else if (length_) {
    header();
  } else {
    headEnds();
  }
  length_ = 0;
}

// "GET /lamp/on HTTP/1.1"
void Request::firstLine() {
  uint16_t word = 0;
  while (word < length_ && text_[word] != ' ') word++;
  const uint16_t from = static_cast<uint16_t>(word + 1);
  uint16_t end = from;
  while (end < length_ && text_[end] != ' ') end++;
  if (end >= length_ || end == from ||
      !begins(text_ + end, static_cast<uint16_t>(length_ - end), " http/1."))
    return fail(400);
  const char *const METHODS[] = {"get", "post", "options", "head"};
  const Method ARE[] = {METHOD_GET, METHOD_POST, METHOD_OPTIONS, METHOD_HEAD};
  for (uint8_t i = 0; i < sizeof ARE / sizeof *ARE; i++)
    if (is(text_, word, METHODS[i])) method_ = ARE[i];
  const uint16_t length = static_cast<uint16_t>(end - from);
  if (text_[from] == '#') return fail(400);
  if (length > MOST_TARGET) return fail(414);
  memmove(text_, text_ + from, length);
  targetLength_ = length;
  stage_ = STAGE_HEADERS;
  shorten();
}

// Without an address before it, and without what a browser keeps for itself.
void Request::shorten() {
  uint16_t scheme = 0;
  while (scheme < targetLength_ && lower(text_[scheme]) >= 'a' && lower(text_[scheme]) <= 'z')
    scheme++;
  if (scheme && begins(text_ + scheme, static_cast<uint16_t>(targetLength_ - scheme), "://")) {
    uint16_t path = static_cast<uint16_t>(scheme + 3);
    while (path < targetLength_ && text_[path] != '/') path++;
    targetLength_ = static_cast<uint16_t>(targetLength_ - path);
    memmove(text_, text_ + path, targetLength_);
  }
  for (uint16_t i = 0; i < targetLength_; i++)
    if (text_[i] == '#') targetLength_ = i;
  if (!targetLength_) text_[targetLength_++] = '/';
  if (*text_ != '/') fail(400);
}

void Request::header() {
  const char *const line = text_ + targetLength_;
  uint16_t name = 0;
  while (name < length_ && line[name] != ':') name++;
  if (name == length_ || !name) return fail(400);
  uint16_t from = static_cast<uint16_t>(name + 1), end = length_;
  while (from < end && (line[from] == ' ' || line[from] == '\t')) from++;
  while (end > from && (line[end - 1] == ' ' || line[end - 1] == '\t')) end--;
  const char *const value = line + from;
  const uint16_t length = static_cast<uint16_t>(end - from);
  if (is(line, name, "host")) {
    // A second one is none; so are two origins together.
    if (!*host_) keep(host_, MOST_HOST, value, length);
  } else if (is(line, name, "origin")) {
    keep(origin_, MOST_HOST, value, static_cast<uint16_t>(hasOrigin_ ? 0 : length));
    hasOrigin_ = true;
  } else if (is(line, name, "sec-fetch-site")) {
    crossSite_ = !hasSite_ && is(value, length, "cross-site");
    hasSite_ = true;
  } else if (is(line, name, "sec-fetch-mode")) {
    navigateMode_ = !hasMode_ && is(value, length, "navigate");
    hasMode_ = true;
  } else if (is(line, name, "accept")) {
    wantsPage_ = wantsPage_ || holds(value, length, "text/html");
  } else if (is(line, name, "content-type")) {
    type_ = begins(value, length, "application/x-www-form-urlencoded") ? BODY_FORM
            : begins(value, length, "application/json")                ? BODY_JSON
                                                                       : BODY_NONE;
  } else if (is(line, name, "content-length")) {
    left_ = 0;
    for (uint16_t i = 0; i < length; i++) {
      if (!isDigit(value[i]) || i == 9) return fail(400);
      left_ = left_ * 10 + static_cast<uint32_t>(value[i] - '0');
    }
  } else if (is(line, name, "transfer-encoding")) {
    // How long its body becomes it does not say.
    fail(411);
  }
}

void Request::headEnds() {
  if (!left_) {
    stage_ = STAGE_WHOLE;
  } else if (targetLength_ + left_ + 1 >= Limits::request) {
    fail(413);
  } else {
    stage_ = STAGE_BODY;
  }
}

uint16_t Request::pathLength() const {
  uint16_t length = 0;
  while (length < targetLength_ && text_[length] != '?') length++;
  return length;
}

static bool isSpace(char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n'; }

// Reads an object of JSON that holds texts, whole numbers, true and false.
class Flat {
 public:
  Flat(const char *text, uint16_t length, char *to)
      : text_(text), length_(length), to_(to), at_(0), put_(0), good_(true) {}

  // The members as "name=value", joined by "&"; their length, or -1 where it is no such object.
  int32_t read() {
    pass('{');
    bool any = false;
    while (good_ && peek() != '}') {
      if (any) {
        pass(',');
        put('&');
      }
      any = true;
      words();
      pass(':');
      put('=');
      if (peek() == '"')
        words();
      else
        bare();
    }
    pass('}');
    peek();
    return good_ && at_ == length_ ? put_ : -1;
  }

 private:
  const char *text_;
  uint16_t length_;
  char *to_;
  uint16_t at_, put_;
  bool good_;

  char peek() {
    while (at_ < length_ && isSpace(text_[at_])) at_++;
    return at_ < length_ ? text_[at_] : '\0';
  }
  void pass(char c) {
    if (peek() == c)
      at_++;
    else
      good_ = false;
  }
  // What is put never outruns what was read.
  void put(char c) { to_[put_++] = c; }

  void words() {
    pass('"');
    for (; good_; at_++) {
      if (at_ >= length_ || static_cast<uint8_t>(text_[at_]) < ' ') {
        good_ = false;
      } else if (text_[at_] == '"') {
        at_++;
        return;
      } else {
        if (text_[at_] == '\\' && at_ + 1 < length_) {
          at_++;
          const char c = text_[at_];
          if (c != '"' && c != '\\' && c != '/') good_ = false;
        }
        put(text_[at_]);
      }
    }
  }

  void bare() {
    const uint16_t from = at_;
    while (at_ < length_ && !isSpace(text_[at_]) && text_[at_] != ',' && text_[at_] != '}') at_++;
    const char *const it = text_ + from;
    const uint16_t length = static_cast<uint16_t>(at_ - from);
    good_ = good_ &&
            (isWhole(it, length) || exactly(it, length, "true") || exactly(it, length, "false"));
    for (uint16_t i = from; good_ && i < at_; i++) put(text_[i]);
  }

  static bool exactly(const char *it, uint16_t length, const char *word) {
    return lengthOf(word) == length && memcmp(it, word, length) == 0;
  }
  static bool isWhole(const char *it, uint16_t length) {
    const uint16_t first = length && *it == '-' ? 1 : 0;
    if (first == length || (it[first] == '0' && length > first + 1)) return false;
    for (uint16_t i = first; i < length; i++)
      if (!isDigit(it[i])) return false;
    return true;
  }
};

bool Request::withBody() {
  if (method_ != METHOD_POST || type_ == BODY_NONE) return true;
  char *const body = text_ + targetLength_;
  if (type_ == BODY_JSON && length_) {
    const int32_t length = Flat(body, length_, body).read();
    if (length < 0) return false;
    length_ = static_cast<uint16_t>(length);
  }
  if (!length_) return true;
  const char joint = pathLength() < targetLength_ ? '&' : '?';
  memmove(body + 1, body, length_);
  *body = joint;
  targetLength_ = static_cast<uint16_t>(targetLength_ + 1 + length_);
  length_ = 0;
  return true;
}

// --- Who asks ---

// Four numbers with dots.
static bool isQuad(const char *name, uint16_t length) {
  uint8_t numbers = 1, digits = 0;
  uint16_t number = 0;
  for (uint16_t i = 0; i < length; i++) {
    if (name[i] == '.') {
      if (!digits) return false;
      numbers++;
      digits = 0;
      number = 0;
    } else if (isDigit(name[i])) {
      number = static_cast<uint16_t>(number * 10 + (name[i] - '0'));
      if (++digits > 3 || number > 255) return false;
    } else {
      return false;
    }
  }
  return numbers == 4 && digits > 0;
}

// Addresses, localhost and .local are names of this house, and its own; a name from elsewhere that
// points here ("DNS rebinding") is none.
static bool isOfHouse(const char *host, const char *own) {
  uint16_t end = 0;
  if (*host == '[') {
    for (end = 1; host[end] && host[end] != ']'; end++) {
      const char c = host[end];
      if (!isDigit(c) && c != ':' && c != '.' && !(c >= 'a' && c <= 'f')) return false;
    }
    return host[end] == ']';
  }
  while (host[end] && host[end] != ':') end++;
  for (uint16_t i = end; host[i]; i++)
    if (i > end && !isDigit(host[i])) return false;
  return isQuad(host, end) || is(host, end, "localhost") ||
         (end > 6 && endsWith(host, end, ".local")) || (end && is(host, end, own));
}

bool Request::isNamed(const char *own) const { return isOfHouse(host_, own); }

bool Request::isOutside(const char *own) const {
  if (!hasOrigin_) return crossSite_ && !navigateMode_;
  if (strcmp(origin_, "null") == 0) return false;
  const char *const at = strstr(origin_, "://");
  if (!at) return true;
  char host[MOST_HOST];
  strcpy(host, at + 3);
  // The port that a scheme has by itself is not named.
  const char *const port = strncmp(origin_, "https", 5) == 0 ? ":443" : ":80";
  const uint16_t length = lengthOf(host);
  if (endsWith(host, length, port)) host[length - lengthOf(port)] = 0;
  return strcmp(host, host_) != 0 && !isOfHouse(host, own);
}

bool Request::navigates() const { return hasMode_ ? navigateMode_ : wantsPage_; }

}  // namespace nolvi
