#pragma once
#include <string>

namespace ignavo {

// A text as JSON writes it, in quotation marks; what is no UTF-8 becomes U+FFFD.
std::string quotedJson(const std::string& text);

}  // namespace ignavo
