#pragma once
#include <algorithm>
#include <string>

#include "make/c_text.h"

namespace ignavo {

// C text as it grows, line after line, indented by the braces that are open.
class CLines {
 public:
  void line(const std::string& text) {
    if (!text.empty()) out_.text += std::string(static_cast<std::size_t>(indent_) * 4, ' ') + text;
    out_.text += '\n';
    lines_ += 1 + static_cast<int>(std::count(text.begin(), text.end(), '\n'));
  }
  void open(const std::string& head) {  // "head {"
    line(head + " {");
    ++indent_;
  }
  void middle(const std::string& text) {  // "} text {"
    --indent_;
    line("} " + text + " {");
    ++indent_;
  }
  void close(const std::string& behind = {}) {
    --indent_;
    line("}" + behind);
  }
  int count() const { return lines_; }
  CText& out() { return out_; }

 private:
  CText out_;
  int indent_ = 0, lines_ = 0;
};

}  // namespace ignavo
