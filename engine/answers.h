// What an answer over HTTP holds: lines of load=value, an object with a member for each, or a page
// with each in a mark of its own. Written after core/messages/answers.ts.
#ifndef NOLVI_ANSWERS_H
#define NOLVI_ANSWERS_H

#include <stdint.h>

namespace nolvi {

enum AnswerForm : uint8_t { ANSWER_LINES, ANSWER_OBJECT, ANSWER_PAGE };

class Answer {
 public:
  // An object that is none, or holds more than words and numbers, says nothing.
  Answer(const char *text, uint16_t length, AnswerForm form);
  // The next as a line, "fan=on"; returns its length, 0 = there is none.
  uint16_t next(char *line, uint16_t room);

 private:
  // What is written as long as there is room.
  struct Line {
    char *to;
    uint16_t room, length;

    void put(char c) {
      if (length < room) to[length++] = c;
    }
  };

  const char *text_;
  uint16_t length_, at_;
  AnswerForm form_;

  uint16_t nextLine(char *line, uint16_t room);
  uint16_t nextMember(char *line, uint16_t room);
  uint16_t nextMark(char *line, uint16_t room);
  bool takesMember(Line &to);
  bool isObject() const;
  void skipSpace();
  bool takes(const char *what);
};

}  // namespace nolvi

#endif
