#include "make/program_runner.h"

namespace ignavo {

void LineCutter::add(const char* text, std::size_t length) {
  for (std::size_t i = 0; i < length; ++i) {
    if (text[i] != '\n') {
      rest_ += text[i];
      continue;
    }
    if (!rest_.empty() && rest_.back() == '\r') rest_.pop_back();
    if (line_) line_(rest_);
    rest_.clear();
  }
}

void LineCutter::finish() {
  if (!rest_.empty() && line_) line_(rest_);
  rest_.clear();
}

}  // namespace ignavo
