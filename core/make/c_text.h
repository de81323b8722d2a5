#pragma once
#include <string>
#include <vector>

#include "project/project.h"

namespace ignavo {

// A board's program as C, with the lines that belong to each step.
struct CText {
  std::string text;
  struct Span {
    std::string step;
    int first = 0;  // line numbers from 1
    int last = 0;
  };
  std::vector<Span> spans;  // outer steps before inner ones
  // What only knows the chip: headers, pins, clock, helpers. The program itself is the rest.
  struct Lines {
    int first = 0, last = 0;
    bool operator==(const Lines&) const = default;
  };
  std::vector<Lines> machinery;
  std::vector<std::string> texts;  // that variables hold, by number
};

// Plain C for avr-gcc and avr-libc. One lane gives straight structured code,
// several give small cooperative tasks. An unknown board gives an empty text.
CText cText(const Project& project, const std::string& board);

// User text made safe for a comment: no end of comment, no line breaks.
std::string commentSafe(const std::string& text);

}  // namespace ignavo
