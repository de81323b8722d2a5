#pragma once
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "project/program_model.h"
#include "project/value.h"

namespace ignavo {

// A place on the bench, in hole pitches (2.54 mm), x to the right, y down.
struct Point {
  double x = 0;
  double y = 0;
  bool operator==(const Point&) const = default;
};
inline Point operator+(Point a, Point b) { return {a.x + b.x, a.y + b.y}; }
inline Point operator-(Point a, Point b) { return {a.x - b.x, a.y - b.y}; }

// Something that a leg or wire end can be in: `board.pin`, `breadboard.hole`
// or `part.leg` (a clip).
struct Socket {
  std::string owner;
  std::string point;
  std::string text() const { return owner + "." + point; }
  // "bb.c14" -> {bb, c14}; nothing when there is no dot or a side is empty.
  static std::optional<Socket> parse(const std::string& text);
  auto operator<=>(const Socket&) const = default;
};

struct BoardItem {
  std::string id;
  std::string type;
  Point at;
  Extras extras;
  bool operator==(const BoardItem&) const = default;
};
using BreadboardItem = BoardItem;

using PropValue = std::variant<double, bool, std::string>;

struct Leg {
  std::string id;
  std::optional<Socket> in;  // nothing: in no hole
  bool operator==(const Leg&) const = default;
};

struct Part {
  IGNAVO_VALUE(Part);

  std::string id;
  std::string type;
  std::string name;
  std::vector<std::pair<std::string, PropValue>> props;
  std::vector<Leg> legs;    // in the catalogue's order
  std::optional<Point> at;  // where it lies when a leg is in no hole
  int turnDegrees = 0;
  bool locked = false;  // is not moved, turned or removed by hand
  Extras extras;

  const Leg* leg(const std::string& legId) const;
  Leg* leg(const std::string& legId);
  const PropValue* prop(const std::string& key) const;
  double number(const std::string& key, double otherwise) const;
  std::string text(const std::string& key, const std::string& otherwise) const;
  bool truth(const std::string& key) const;  // false where there is none
  void setProp(const std::string& key, PropValue value);
  bool operator==(const Part&) const;
};

struct Wire {
  IGNAVO_VALUE(Wire);

  std::string id;
  Socket from;
  Socket to;
  std::string colour = "auto";
  std::vector<Point> bends;
  Extras extras;
  bool operator==(const Wire&) const;
};

// A finding that the user declared to be intended.
struct Suppression {
  std::string rule;
  std::vector<std::string> culprits;  // part, pin and step ids, sorted
  bool operator==(const Suppression&) const = default;
};

// What was done by hand in a run, to be done again: at which nanosecond from power-on, and what, as
// format/input_language.h has it ("press btn1").
struct RecordedInput {
  std::int64_t at = 0;
  std::string what;
  bool operator==(const RecordedInput&) const = default;
};
struct Recording {
  std::string name;                   // one of its own
  std::vector<RecordedInput> inputs;  // by time
  Extras extras;
  bool operator==(const Recording&) const = default;
};

// A key of the computer that presses a part.
struct KeyTie {
  std::string key;   // as program/keys.h names it
  std::string part;  // id
  bool operator==(const KeyTie&) const = default;
};

// What somebody expects of a lamp before the power comes on.
struct Guess {
  std::string part;   // id; "rgb1.red": of a lamp inside it; of a board: its own lamp
  std::string looks;  // "dark", "lit", "blinking"; "unsure"
  std::string owner() const { return part.substr(0, part.find('.')); }  // part or board
  bool operator==(const Guess&) const = default;
};

struct Settings {
  bool partsSurvive = false;  // nothing breaks in a run; what the check finds stays
  Extras extras;
  bool operator==(const Settings&) const = default;
};

// Everything that a file holds. A plain value: edits are functions from a
// Project to a Project, and copies share what did not change.
struct Project {
  IGNAVO_VALUE(Project);

  std::string title;
  std::string about;
  std::uint64_t seed = 1;
  std::vector<BoardItem> boards;
  std::vector<BreadboardItem> breadboards;
  Cow<std::vector<Cow<Part>>> parts;
  Cow<std::vector<Cow<Wire>>> wires;
  std::vector<Cow<Program>> programs;
  std::vector<std::string> ticks;  // build-sheet entries that are done
  std::vector<Suppression> meant;
  std::vector<KeyTie> keys;
  std::vector<Guess> guesses;
  std::vector<Cow<Recording>> recordings;
  Settings settings;
  Extras extras;

  const Part* part(const std::string& id) const;
  const Wire* wire(const std::string& id) const;
  const BoardItem* board(const std::string& id) const;
  const BreadboardItem* breadboard(const std::string& id) const;
  const Program* program(const std::string& boardId) const;
  const Step* step(const std::string& id) const;
  const Lane* lane(const std::string& id) const;
  const Recording* recording(const std::string& name) const;
  bool hasId(const std::string& id) const;
  bool operator==(const Project&) const;
};

// Limits that reading, editing and the window all keep.
namespace limits {
constexpr std::size_t fileBytes = std::size_t{8} * 1024 * 1024;
constexpr std::size_t parts = 2000;
constexpr std::size_t wires = 4000;
constexpr std::size_t boards = 8;
constexpr std::size_t breadboards = 16;
constexpr std::size_t lanes = 200;
constexpr std::size_t steps = 10000;
constexpr int nesting = 64;                  // of steps in steps, and of operators in operators
constexpr std::size_t bends = 64;            // of one wire
constexpr double farthestPitch = 500;        // of anything from the bench's corner, each way
constexpr std::size_t nameLetters = 60;      // of a part's name or a pin's label, typed by hand
constexpr std::size_t textLetters = 1000;    // of any text of one line
constexpr std::size_t aboutLetters = 10000;  // of what a project says of itself
constexpr std::size_t variables = 64;
constexpr std::size_t lists = 16;
constexpr std::size_t listItems = 100;
constexpr std::size_t meant = 10000;
constexpr std::size_t recordings = 50;
constexpr std::size_t recordedInputs = 10000;  // of one
constexpr double longestSeconds = 9e8;         // of a run, and of a recording: about 28 years
inline bool isPlace(Point p) {                 // false for what is no number
  return p.x >= -farthestPitch && p.x <= farthestPitch && p.y >= -farthestPitch &&
         p.y <= farthestPitch;
}
}  // namespace limits

// "led" -> "led1", "led2", … : the first id that nothing in `p` uses.
std::string freeId(const Project& p, const std::string& stem);
// "Red lamp" -> "Red lamp", "Red lamp 2", … : the first name no part has.
std::string freeName(const Project& p, const std::string& wanted);
// "R" -> "R1", "R2", …
std::string freeNumber(const Project& p, const std::string& stem);
// An empty project as a new window shows it: a board and a half breadboard.
Project emptyProject();

}  // namespace ignavo
