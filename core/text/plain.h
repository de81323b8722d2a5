#pragma once
#include <string>
#include <string_view>

// Texts that people or files bring, made safe to be shown anywhere: in a window, a terminal, a
// picture, a comment. Depends on nothing.
namespace ignavo {

// One line: line breaks, tabs and other control characters (C0, C1, DEL) become a space, runs of
// them one; what only turns the direction of writing (U+200E/F, U+202A–E, U+2066–9, U+061C) and
// what is no character (U+FEFF, U+FFFE/F, tags) is left out; bytes that are no UTF-8 become
// U+FFFD. What is plain already comes back as it was.
std::string plainLine(std::string_view text);
// The same of several lines: line breaks stay, as "\n".
std::string plainText(std::string_view text);
// Letters (code points) of UTF-8.
std::size_t letterCount(std::string_view text);
// At most so many letters, the last one "…" where some were left out.
std::string shortened(std::string_view text, std::size_t letters);

}  // namespace ignavo
