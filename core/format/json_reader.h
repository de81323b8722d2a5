#pragma once
#include <fmt/format.h>

#include <cmath>
#include <set>
#include <unordered_set>

#include "format/file_words.h"
#include "format/json.h"
#include "format/project_file.h"
#include "text/plain.h"

namespace ignavo {

// Takes values out of JSON and writes down what is wrong with them, with its place. For the
// readers of the project file; `at` is the place of the object that is read.
class JsonReader {
 public:
  using Code = FileProblem::Code;
  explicit JsonReader(std::vector<FileProblem>& problems) : problems_(problems) {}

  void problem(std::string path, Code code, Message value = {}, Message wanted = {}) {
    constexpr std::size_t mostProblems = 200;
    if (problems_.size() < mostProblems)
      problems_.push_back({std::move(path), code, std::move(value), std::move(wanted)});
  }
  static std::string join(const std::string& at, const std::string& key) {
    return at.empty() ? key : at + "." + key;
  }
  static void keepUnknown(const Json& j, Extras& extras, const std::set<std::string>& known) {
    for (const auto& [key, value] : j.items())
      if (!known.contains(key)) extras.emplace_back(key, value.dump());
  }

  std::string text(const Json& j, const char* key, const std::string& at, std::string otherwise,
                   bool needed = false) {
    const auto it = j.find(key);
    if (it == j.end()) {
      if (needed) problem(join(at, key), Code::missing);
      return otherwise;
    }
    if (!it->is_string()) {
      problem(join(at, key), Code::wrongType, fileSay("a text"));
      return otherwise;
    }
    return shown(it->get<std::string>(), join(at, key), limits::textLetters, false);
  }
  // A text as it may be shown: control characters and direction marks left out, and cut where it
  // is longer than any text may be.
  std::string shown(const std::string& raw, const std::string& at, std::size_t most, bool lines) {
    std::string text = lines ? plainText(raw) : plainLine(raw);
    if (text.size() <= most || letterCount(text) <= most) return text;
    problem(at, Code::tooLong, std::to_string(most));
    return shortened(text, most);
  }

  template <typename Each>
  void list(const Json& j, const char* key, std::size_t most, Each each,
            const std::string& at = {}) {
    const auto it = j.find(key);
    if (it == j.end()) return;
    const std::string path = join(at, key);
    if (!it->is_array()) return problem(path, Code::wrongType, fileSay("a list"));
    if (it->size() > most) return problem(path, Code::tooMany, std::to_string(most));
    for (std::size_t i = 0; i < it->size(); ++i) {
      const std::string place = fmt::format("{}[{}]", path, i);
      if (!(*it)[i].is_object())
        problem(place, Code::wrongType, fileSay("an object"));
      else
        each((*it)[i], place);
    }
  }

  // A text that must be there, even an empty one; nothing when that was reported.
  std::optional<std::string> needed(const Json& j, const char* key, const std::string& at) {
    const auto it = j.find(key);
    if (it != j.end() && it->is_string()) return it->get<std::string>();
    problem(join(at, key), it == j.end() ? Code::missing : Code::wrongType,
            it == j.end() ? "" : "a text");
    return std::nullopt;
  }

  // An id that nothing else has; empty when it cannot be used.
  std::string id(const Json& j, const std::string& at) {
    std::string value = text(j, "id", at, "", true);
    if (value.empty() || value.find('.') != std::string::npos) {
      if (j.contains("id") && j["id"].is_string())
        problem(at + ".id", Code::outOfRange, "a name without dots");
      return {};
    }
    if (!ids_.insert(value).second) {
      problem(at + ".id", Code::duplicateId, value);
      return {};
    }
    return value;
  }

  std::optional<Point> point(const Json& j, const std::string& at) {
    if (!j.is_array() || j.size() != 2 || !j[0].is_number() || !j[1].is_number()) {
      problem(at, Code::wrongType, fileSay("a place [x, y]"));
      return std::nullopt;
    }
    const Point p{j[0].get<double>(), j[1].get<double>()};
    if (!limits::isPlace(p)) {
      problem(at, Code::outOfRange, fmt::format("-{0} to {0}", limits::farthestPitch));
      return std::nullopt;
    }
    return p;
  }

 private:
  std::vector<FileProblem>& problems_;
  std::unordered_set<std::string> ids_;
};

}  // namespace ignavo
