// A request as it comes, a character at a time: what is asked for, and who asks.
#ifndef NOLVI_REQUEST_H
#define NOLVI_REQUEST_H

#include <stdint.h>

#include "sizes.h"

namespace nolvi {

enum Method : uint8_t { METHOD_GET, METHOD_POST, METHOD_OPTIONS, METHOD_HEAD, METHOD_OTHER };
enum BodyType : uint8_t { BODY_NONE, BODY_FORM, BODY_JSON };
// How far a request has come.
enum Stage : uint8_t { STAGE_LINE, STAGE_HEADERS, STAGE_BODY, STAGE_WHOLE, STAGE_WRONG };

class Request {
 public:
  Request() : text_() { clear(); }
  void clear();
  // One more character.
  void take(char c);

  Stage stage() const { return stage_; }
  // Why it is wrong, as a status: 400, 411, 413, 414 or 431.
  uint16_t wrong() const { return wrong_; }
  Method method() const { return method_; }

  // Where it is asked for: without address and fragment; as long as nothing else is taken.
  const char *target() const { return text_; }
  uint16_t targetLength() const { return targetLength_; }
  uint16_t pathLength() const;

  // The target with the parameters of the body behind it; false where the body is no flat object.
  bool withBody();

  // Whether it came to a name of this house; `own`: one more name of it, or "".
  bool isNamed(const char *own) const;
  // Whether a page of the world outside asks.
  bool isOutside(const char *own) const;
  // Whether a browser opens it for somebody to look at.
  bool navigates() const;

 private:
  static const uint8_t MOST_HOST = 72;

  Stage stage_;
  Method method_;
  BodyType type_;
  uint16_t wrong_;
  uint16_t targetLength_;
  // What is read now: a word of the first line, a header, or the body, behind the target.
  uint16_t length_;
  uint32_t left_;
  bool hasOrigin_, hasSite_, crossSite_, hasMode_, navigateMode_, wantsPage_;
  char host_[MOST_HOST];
  char origin_[MOST_HOST];
  char text_[Limits::request];

  void fail(uint16_t status);
  void lineEnds();
  void firstLine();
  void header();
  void headEnds();
  void shorten();
};

}  // namespace nolvi

#endif
