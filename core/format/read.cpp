#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/placing.h"
#include "format/file_words.h"
#include "format/files.h"
#include "format/input_language.h"
#include "format/json_reader.h"
#include "format/read_program.h"
#include "parts/catalogue.h"
#include "program/keys.h"
#include "project/edits.h"

namespace ignavo {

namespace {

using Code = FileProblem::Code;

constexpr int deepestJson = 600;  // brackets; 64 levels of steps need far fewer

class Reader : JsonReader {
 public:
  explicit Reader(ReadResult& out) : JsonReader(out.problems), out_(out), p_(out.project) {}

  void read(const Json& j) {
    if (!j.is_object() || !j.contains("format") || j["format"] != "ignavo-project")
      return problem("", Code::notAProject);
    const auto version = j.find("version");
    if (version == j.end()) return problem("version", Code::missing);
    if (!version->is_number_integer())
      return problem("version", Code::wrongType, fileSay("a whole number"));
    if (*version > 1) return problem("version", Code::newerVersion, version->dump());
    if (*version < 1) return problem("version", Code::outOfRange, "1");
    out_.readable = true;
    p_.title = text(j, "title", "", "Untitled");
    if (const auto about = j.find("about"); about != j.end() && about->is_string())
      p_.about = shown(about->get<std::string>(), "about", limits::aboutLetters, true);
    else if (about != j.end())
      problem("about", Code::wrongType, fileSay("a text"));
    readSeed(j);
    list(j, "boards", limits::boards,
         [&](const Json& o, const std::string& at) { readBoard(o, at); });
    list(j, "breadboards", limits::breadboards,
         [&](const Json& o, const std::string& at) { readBreadboard(o, at); });
    list(j, "parts", limits::parts, [&](const Json& o, const std::string& at) { readPart(o, at); });
    checkLegs(j);
    list(j, "wires", limits::wires, [&](const Json& o, const std::string& at) { readWire(o, at); });
    ProgramReader programs(*this, p_);
    list(j, "programs", limits::boards,
         [&](const Json& o, const std::string& at) { programs.read(o, at); });
    readTicks(j);
    readSettings(j);
    list(j, "meant", limits::meant,
         [&](const Json& o, const std::string& at) { readMeant(o, at); });
    readKeys(j);
    readGuesses(j);
    list(j, "recordings", limits::recordings,
         [&](const Json& o, const std::string& at) { readRecording(o, at); });
    keepUnknown(
        j, p_.extras,
        {"format", "version", "title", "about", "seed", "boards", "breadboards", "parts", "wires",
         "programs", "ticks", "meant", "keys", "guesses", "recordings", "settings"});
    p_ = edits::assignIds(std::move(p_));
  }

 private:
  void readSeed(const Json& j) {
    const auto it = j.find("seed");
    if (it == j.end()) return;
    if (it->is_number_unsigned())
      p_.seed = it->get<std::uint64_t>();
    else
      problem("seed", Code::wrongType, fileSay("a whole number from 0"));
  }

  bool readItem(const Json& j, const std::string& at, BoardItem& item) {
    item.id = id(j, at);
    item.type = text(j, "type", at, "", true);
    if (!j.contains("at")) {
      problem(at + ".at", Code::missing);
    } else if (const auto where = point(j["at"], at + ".at")) {
      item.at = *where;
    }
    keepUnknown(j, item.extras, {"id", "type", "at"});
    return !item.id.empty();
  }
  void readBoard(const Json& j, const std::string& at) {
    BoardItem item;
    if (!readItem(j, at, item)) return;
    if (!catalogue().boardKind(item.type))
      return problem(at + ".type", Code::unknownKind, item.type, fileSay("board"));
    p_.boards.push_back(std::move(item));
  }
  void readBreadboard(const Json& j, const std::string& at) {
    BreadboardItem item;
    if (!readItem(j, at, item)) return;
    if (!breadboardKind(item.type))
      return problem(at + ".type", Code::unknownKind, item.type, fileSay("breadboard"));
    p_.breadboards.push_back(std::move(item));
  }

  void readProps(const Json& j, const std::string& at, const PartKind& kind, Part& part) {
    for (const PropKind& prop : kind.props) {  // defaults first, in the catalogue's order
      if (prop.type == PropKind::Type::number) part.setProp(prop.key, prop.defaultValue);
      if (prop.type == PropKind::Type::choice) part.setProp(prop.key, prop.choices.front());
      if (prop.type == PropKind::Type::truth) part.setProp(prop.key, false);
    }
    const auto it = j.find("props");
    if (it == j.end()) return;
    if (!it->is_object()) return problem(at + ".props", Code::wrongType, fileSay("an object"));
    for (const auto& [key, value] : it->items()) {
      const std::string path = at + ".props." + key;
      const auto known = std::find_if(kind.props.begin(), kind.props.end(),
                                      [&, k = key](const PropKind& p) { return p.key == k; });
      if (known == kind.props.end()) {  // kept as it is
        if (value.is_number())
          part.setProp(key, value.get<double>());
        else if (value.is_boolean())
          part.setProp(key, value.get<bool>());
        else if (value.is_string())
          part.setProp(key, shown(value.get<std::string>(), path, limits::textLetters, false));
        else
          problem(path, Code::wrongType, fileSay("a number, a text or true / false"));
      } else if (known->type == PropKind::Type::number) {
        if (!value.is_number()) {
          problem(path, Code::wrongType, fileSay("a number"));
        } else if (const double v = value.get<double>(); !(v >= known->min && v <= known->max)) {
          problem(path, Code::outOfRange, fmt::format("{} to {}", known->min, known->max));
        } else {
          part.setProp(key, v);
        }
      } else if (known->type == PropKind::Type::choice) {
        const std::string v = value.is_string() ? value.get<std::string>() : value.dump();
        if (std::find(known->choices.begin(), known->choices.end(), v) == known->choices.end())
          problem(path, Code::notAChoice, v, fmt::format("{}", fmt::join(known->choices, ", ")));
        else
          part.setProp(key, v);
      } else if (value.is_boolean()) {
        part.setProp(key, value.get<bool>());
      } else {
        problem(path, Code::wrongType, fileSay("true or false"));
      }
    }
  }

  void readPart(const Json& j, const std::string& at) {
    Part part;
    part.id = id(j, at);
    part.type = text(j, "type", at, "", true);
    if (part.id.empty()) return;
    const PartKind* kind = catalogue().partKind(part.type);
    if (!kind) {
      if (j.contains("type")) problem(at + ".type", Code::unknownKind, part.type, fileSay("part"));
      return;
    }
    readProps(j, at, *kind, part);
    for (const LegShape& leg : kind->print.legs) part.legs.push_back({leg.id, std::nullopt});
    if (const auto legs = j.find("legs"); legs != j.end()) {
      if (!legs->is_object())
        problem(at + ".legs", Code::wrongType, fileSay("an object"));
      else
        for (const auto& [key, value] : legs->items()) {
          Leg* leg = part.leg(key);
          if (!leg)
            problem(at + ".legs." + key, Code::noLeg, key, part.type);
          else if (value.is_string())
            leg->in = socket(value.get<std::string>(), {at, ".legs.", key});
          else if (!value.is_null())
            problem(at + ".legs." + key, Code::wrongType, fileSay("a hole or null"));
        }
    }
    if (j.contains("at") && !j["at"].is_null()) part.at = point(j["at"], at + ".at");
    if (const auto turn = j.find("turn"); turn != j.end()) {
      if (turn->is_number_integer() && *turn >= 0 && *turn < 360 && turn->get<int>() % 90 == 0)
        part.turnDegrees = turn->get<int>();
      else
        problem(at + ".turn", Code::outOfRange, "0, 90, 180 or 270");
    }
    const auto name = j.find("name");
    const bool named = name != j.end() && name->is_string();
    part.name = text(j, "name", at, named ? std::string() : kind->nameOf(part));
    if (const auto locked = j.find("locked"); locked != j.end()) {
      if (locked->is_boolean())
        part.locked = locked->get<bool>();
      else
        problem(at + ".locked", Code::wrongType, fileSay("true or false"));
    }
    keepUnknown(j, part.extras, {"id", "type", "name", "props", "legs", "at", "turn", "locked"});
    partPaths_[part.id] = at;
    p_.parts.edit().emplace_back(std::move(part));
  }

  // A place in the file, spelled out only where something is wrong there.
  struct In {
    const std::string& at;
    const char* group;  // ".", ".legs."
    std::string_view key;
    operator std::string() const { return at + group + std::string(key); }  // NOLINT: by intent
  };

  std::optional<Socket> socket(const std::string& value, const In& at) {
    auto s = Socket::parse(value);
    if (!s) problem(at, Code::badSocket, value);
    return s;
  }

  // Does this socket exist? Says what is wrong otherwise.
  bool exists(const Socket& s, const In& at) {
    if (const BreadboardItem* bb = p_.breadboard(s.owner)) {
      if (breadboardKind(bb->type)->parse(s.point)) return true;
      problem(at, Code::noHole, s.point, s.owner);
    } else if (const BoardItem* board = p_.board(s.owner)) {
      if (catalogue().board(board->type)->pinIndex(s.point) >= 0) return true;
      problem(at, Code::noPin, s.point, s.owner);
    } else if (const Part* part = p_.part(s.owner)) {
      if (part->leg(s.point)) return true;
      problem(at, Code::noLeg, s.point, s.owner);
    } else {
      problem(at, Code::noSuchOwner, s.owner);
    }
    return false;
  }
  // Takes the socket for `who`; false when something is in it.
  bool take(const Socket& s, const std::string& who, const In& at) {
    if (partPaths_.contains(s.owner)) return true;  // a clip
    const auto [it, free] = taken_.try_emplace(s, who);
    if (!free) problem(at, Code::taken, s.point, it->second);
    return free;
  }

  // Legs are checked when all parts are known, for clips lead to other parts.
  void checkLegs(const Json&) {
    for (std::size_t i = 0; i < p_.parts->size(); ++i) {
      Part& part = p_.parts.edit()[i].edit();
      const std::string& at = partPaths_[part.id];
      const bool lies = std::none_of(part.legs.begin(), part.legs.end(),
                                     [](const Leg& l) { return l.in.has_value(); });
      for (Leg& leg : part.legs) {
        const In path{at, ".legs.", leg.id};
        if (leg.in && !(exists(*leg.in, path) && take(*leg.in, part.id, path))) leg.in.reset();
      }
      if (lies && !part.at) part.at = Point{2.0 + 3.0 * static_cast<double>(i % 10), 36};
      // A body with leads lies somewhere even when all of them are plugged in.
      const Footprint* print = catalogue().part(part.type);
      if (!lies && !part.at && print && print->leads) {
        std::vector<std::optional<Socket>> sockets;
        for (const Leg& leg : part.legs) sockets.push_back(leg.in);
        part.at = restingPlace(p_, catalogue(), *print, sockets, part.id);
      }
    }
  }

  void readWire(const Json& j, const std::string& at) {
    Wire wire;
    wire.id = id(j, at);
    if (wire.id.empty()) return;
    const auto end = [&](const char* key) -> std::optional<Socket> {
      const auto value = needed(j, key, at);
      const In path{at, ".", key};
      auto s = value ? socket(*value, path) : std::nullopt;
      if (!s || !exists(*s, path)) return std::nullopt;
      return s;
    };
    const auto from = end("from"), to = end("to");
    if (!from || !to) return;
    if (!take(*from, wire.id, {at, ".", "from"}) || !take(*to, wire.id, {at, ".", "to"})) return;
    wire.from = *from;
    wire.to = *to;
    wire.colour = text(j, "colour", at, "auto");
    if (const auto bends = j.find("bends"); bends != j.end()) {
      if (!bends->is_array() || bends->size() > limits::bends)
        problem(at + ".bends", Code::wrongType,
                fileSay("a list of at most {} places", limits::bends));
      else
        for (std::size_t i = 0; i < bends->size(); ++i)
          if (const auto p = point((*bends)[i], fmt::format("{}.bends[{}]", at, i)))
            wire.bends.push_back(*p);
    }
    keepUnknown(j, wire.extras, {"id", "from", "to", "colour", "bends"});
    p_.wires.edit().emplace_back(std::move(wire));
  }

  void readTicks(const Json& j) {
    const auto it = j.find("ticks");
    if (it == j.end()) return;
    if (!it->is_array()) return problem("ticks", Code::wrongType, fileSay("a list"));
    for (std::size_t i = 0; i < it->size(); ++i)
      if ((*it)[i].is_string())
        p_.ticks.push_back((*it)[i].get<std::string>());
      else
        problem(fmt::format("ticks[{}]", i), Code::wrongType, fileSay("a text"));
  }
  void readSettings(const Json& j) {
    const auto it = j.find("settings");
    if (it == j.end()) return;
    if (!it->is_object()) return problem("settings", Code::wrongType, fileSay("an object"));
    if (const auto survive = it->find("partsSurvive"); survive != it->end()) {
      if (survive->is_boolean())
        p_.settings.partsSurvive = survive->get<bool>();
      else
        problem("settings.partsSurvive", Code::wrongType, fileSay("true or false"));
    }
    keepUnknown(*it, p_.settings.extras, {"partsSurvive"});
  }
  void readMeant(const Json& j, const std::string& at) {
    Suppression m{text(j, "rule", at, "", true), {}};
    if (j.contains("culprits") && j["culprits"].is_array())
      for (const Json& c : j["culprits"])
        if (c.is_string()) m.culprits.push_back(c.get<std::string>());
    std::sort(m.culprits.begin(), m.culprits.end());
    m.culprits.erase(std::unique(m.culprits.begin(), m.culprits.end()), m.culprits.end());
    if (!m.rule.empty()) p_.meant.push_back(std::move(m));
  }

  // A key of the computer, and the part that it presses.
  void readKeys(const Json& j) {
    const auto it = j.find("keys");
    if (it == j.end()) return;
    if (!it->is_object()) return problem("keys", Code::wrongType, fileSay("an object"));
    for (const auto& [key, part] : it->items()) {
      const std::string at = "keys." + plainLine(key), named = keyOf(key);
      if (named.empty())
        problem(at, Code::notAChoice, plainLine(key), fileSay("the keys of a computer"));
      else if (!part.is_string())
        problem(at, Code::wrongType, fileSay("a text"));
      else if (!isPressable(p_, part.get<std::string>()))
        problem(at, Code::notAChoice, plainLine(part.get<std::string>()),
                fileSay("the parts that can be pressed"));
      else
        p_.keys.push_back({named, part.get<std::string>()});
    }
  }

  void readGuesses(const Json& j) {
    const auto it = j.find("guesses");
    if (it == j.end()) return;
    if (!it->is_object()) return problem("guesses", Code::wrongType, fileSay("an object"));
    for (const auto& [part, looks] : it->items()) {
      const std::string at = "guesses." + plainLine(part);
      if (!looks.is_string())
        problem(at, Code::wrongType, fileSay("a text"));
      else if (const auto& said = looks.get<std::string>(); !guessable().contains(said))
        problem(at, Code::notAChoice, plainLine(said), fileSay("dark, lit, blinking, unsure"));
      else if (const std::string of = Guess{part, said}.owner(); !p_.part(of) && !p_.board(of))
        problem(at, Code::notAChoice, plainLine(part), fileSay("the parts of the project"));
      else
        p_.guesses.push_back({part, said});
    }
  }
  static const std::set<std::string>& guessable() {
    static const std::set<std::string> all = {"dark", "lit", "blinking", "unsure"};
    return all;
  }

  void readRecording(const Json& j, const std::string& at) {
    Recording out;
    out.name = text(j, "name", at, "", true);
    if (out.name.empty()) return;
    if (p_.recording(out.name)) return problem(at + ".name", Code::duplicateId, out.name);
    list(
        j, "inputs", limits::recordedInputs,
        [&](const Json& o, const std::string& place) {
          const auto when = o.find("at");
          if (when == o.end()) return problem(place + ".at", Code::missing);
          const double seconds = when->is_number() ? when->get<double>() : -1;
          if (!(seconds >= 0 && seconds <= limits::longestSeconds))
            return problem(
                place + ".at", Code::outOfRange,
                fileSay("a time from 0 to {} s", static_cast<int>(limits::longestSeconds)));
          const std::string what = text(o, "what", place, "", true);
          if (what.empty()) return;
          // Whether it can happen here is for whoever replays it: parts come and go.
          out.inputs.push_back({std::llround(seconds * 1e9), what});
        },
        at);
    std::stable_sort(out.inputs.begin(), out.inputs.end(),
                     [](const RecordedInput& a, const RecordedInput& b) { return a.at < b.at; });
    keepUnknown(j, out.extras, {"name", "inputs"});
    p_.recordings.emplace_back(std::move(out));
  }

  ReadResult& out_;
  Project& p_;
  std::map<Socket, std::string> taken_;
  std::map<std::string, std::string> partPaths_;
};

// Brackets deeper than any project needs are refused before anything recurses.
bool tooDeep(std::string_view text) {
  int depth = 0;
  bool inText = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (inText) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        inText = false;
    } else if (c == '"') {
      inText = true;
    } else if (c == '{' || c == '[') {
      if (++depth > deepestJson) return true;
    } else if (c == '}' || c == ']') {
      --depth;
    }
  }
  return false;
}

}  // namespace

ReadResult readProject(std::string_view text) {
  ReadResult out;
  const auto fail = [&](Code code, std::string value = {}) {
    out.problems.push_back({{}, code, std::move(value), {}});
    return out;
  };
  if (text.size() > limits::fileBytes) return fail(Code::tooLarge, std::to_string(text.size()));
  if (tooDeep(text)) return fail(Code::tooDeep, std::to_string(limits::nesting));
  std::string why;
  const std::optional<Json> json = parseJson(text, why);
  if (!json) return fail(Code::notJson, why);
  Reader(out).read(*json);
  return out;
}

ReadResult readProjectFile(const std::string& path) {
  const TextFile file = readTextFile(path, limits::fileBytes);
  if (!file.problem) return readProject(file.text);
  ReadResult out;
  out.problems.push_back(*file.problem);
  return out;
}

}  // namespace ignavo
