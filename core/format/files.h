#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

#include "format/project_file.h"

namespace ignavo {

// What a file held: two that are alike hold the same bytes, as far as anybody will ever see.
struct FileStamp {
  std::uint64_t bytes = 0;
  std::uint64_t hash = 0;  // FNV-1a, 64 bits
  bool operator==(const FileStamp&) const = default;
};
FileStamp stampOf(std::string_view text);

struct TextFile {
  std::string text;
  std::optional<FileProblem> problem;
};
// Reads a file of at most `most` bytes: more are told before they are read, and an input without
// an end is left at that point.
TextFile readTextFile(const std::string& path, std::uint64_t most);

// Replaces a file by `text`, whole or not at all: written beside it under a name that nobody has,
// made exclusively and flushed, then renamed over it. Mode, owner, further names (hard links) and
// symbolic links are kept. Refuses what is no ordinary file, what may only be read, and with
// `seen`, what holds something else than that by now.
std::optional<FileProblem> replaceFile(const std::string& path, std::string_view text,
                                       const std::optional<FileStamp>& seen = {});

}  // namespace ignavo
