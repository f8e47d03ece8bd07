// Lines of load=value out of an answer over HTTP: see answers.h.
#include "answers.h"

#include "text.h"

namespace nolvi {

Answer::Answer(const char *text, uint16_t length, AnswerForm form)
    : text_(text), length_(length), at_(0), form_(form) {
  if (form_ == ANSWER_OBJECT && !isObject()) length_ = 0;
}

uint16_t Answer::next(char *line, uint16_t room) {
  switch (form_) {
    case ANSWER_OBJECT: return nextMember(line, room);
    case ANSWER_PAGE: return nextMark(line, room);
    default: return nextLine(line, room);
  }
}

uint16_t Answer::nextLine(char *line, uint16_t room) {
  while (at_ < length_) {
    Line to = {line, room, 0};
    while (at_ < length_ && text_[at_] != '\n') to.put(text_[at_++]);
    if (at_ < length_) at_++;
    if (to.length) return to.length;
  }
  return 0;
}

void Answer::skipSpace() {
  while (at_ < length_ &&
         (text_[at_] == ' ' || text_[at_] == '\n' || text_[at_] == '\r' || text_[at_] == '\t'))
    at_++;
}

// Goes behind a text where it stands here.
bool Answer::takes(const char *what) {
  const uint16_t size = lengthOf(what);
  for (uint16_t i = 0; i < size; i++)
    if (at_ + i >= length_ || text_[at_ + i] != what[i]) return false;
  at_ = static_cast<uint16_t>(at_ + size);
  return true;
}

static bool isBare(char c) {
  return isDigit(c) || (c >= 'a' && c <= 'z') || c == '-' || c == '+' || c == '.' || c == 'E';
}

// A member of an object, from its name to behind its value.
bool Answer::takesMember(Line &to) {
  for (uint8_t part = 0; part < 2; part++) {
    skipSpace();
    if (part && !takes(":")) return false;
    skipSpace();
    if (takes("\"")) {
      while (at_ < length_ && text_[at_] != '"') {
        if (text_[at_] == '\\') return false;
        to.put(text_[at_++]);
      }
      if (!takes("\"")) return false;
    } else {
      const uint16_t from = at_;
      while (part && at_ < length_ && isBare(text_[at_])) to.put(text_[at_++]);
      if (at_ == from) return false;
    }
    if (!part) to.put('=');
  }
  skipSpace();
  return true;
}

uint16_t Answer::nextMember(char *line, uint16_t room) {
  skipSpace();
  Line to = {line, room, 0};
  return (takes("{") || takes(",")) && takesMember(to) ? to.length : 0;
}

bool Answer::isObject() const {
  Answer rest = *this;
  rest.skipSpace();
  if (!rest.takes("{")) return false;
  rest.skipSpace();
  Line none = {0, 0, 0};
  bool ends = rest.takes("}");
  while (!ends) {
    if (!rest.takesMember(none)) return false;
    ends = rest.takes("}");
    if (!ends && !rest.takes(",")) return false;
  }
  rest.skipSpace();
  return rest.at_ == rest.length_;
}

// <b id="fan">on</b>
uint16_t Answer::nextMark(char *line, uint16_t room) {
  for (; at_ < length_; at_++) {
    const uint16_t from = at_;
    if (takes("<b id=\"")) {
      Line to = {line, room, 0};
      while (at_ < length_ && text_[at_] != '"') to.put(text_[at_++]);
      to.put('=');
      if (takes("\">")) {
        while (at_ < length_ && text_[at_] != '<') to.put(text_[at_++]);
        if (takes("</b>")) return to.length;
      }
    }
    at_ = from;
  }
  return 0;
}

}  // namespace nolvi
