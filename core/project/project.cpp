#include "project/project.h"

#include <string_view>

#include <algorithm>

namespace ignavo {

IGNAVO_VALUE_DEFINED(Part);
bool Part::operator==(const Part&) const = default;
IGNAVO_VALUE_DEFINED(Wire);
bool Wire::operator==(const Wire&) const = default;
IGNAVO_VALUE_DEFINED(Project);
bool Project::operator==(const Project&) const = default;

const Recording* Project::recording(const std::string& name) const {
  for (const auto& held : recordings)
    if (held->name == name) return &*held;
  return nullptr;
}

std::optional<Socket> Socket::parse(const std::string& text) {
  const auto dot = text.find('.');
  if (dot == std::string::npos || dot == 0 || dot + 1 == text.size()) return std::nullopt;
  return Socket{text.substr(0, dot), text.substr(dot + 1)};
}

const Leg* Part::leg(const std::string& legId) const {
  auto it = std::find_if(legs.begin(), legs.end(), [&](const Leg& l) { return l.id == legId; });
  return it == legs.end() ? nullptr : &*it;
}
Leg* Part::leg(const std::string& legId) {
  return const_cast<Leg*>(std::as_const(*this).leg(legId));
}

const PropValue* Part::prop(const std::string& key) const {
  for (const auto& [k, v] : props)
    if (k == key) return &v;
  return nullptr;
}

double Part::number(const std::string& key, double otherwise) const {
  const PropValue* v = prop(key);
  const double* d = v ? std::get_if<double>(v) : nullptr;
  return d ? *d : otherwise;
}

bool Part::truth(const std::string& key) const {
  const PropValue* v = prop(key);
  const bool* b = v ? std::get_if<bool>(v) : nullptr;
  return b && *b;
}

std::string Part::text(const std::string& key, const std::string& otherwise) const {
  const PropValue* v = prop(key);
  const std::string* s = v ? std::get_if<std::string>(v) : nullptr;
  return s ? *s : otherwise;
}

void Part::setProp(const std::string& key, PropValue value) {
  for (auto& [k, v] : props)
    if (k == key) {
      v = std::move(value);
      return;
    }
  props.emplace_back(key, std::move(value));
}

namespace {
template <typename T>
const T& plain(const T& t) {
  return t;
}
template <typename T>
const T& plain(const Cow<T>& t) {
  return *t;
}
template <typename List>
auto byId(const List& list, const std::string& id) -> decltype(&plain(list.front())) {
  // Ids differ at their end, if anywhere: most of them are told apart there.
  for (const auto& item : list) {
    const std::string& its = plain(item).id;
    if (its.size() == id.size() && (id.empty() || its.back() == id.back()) && its == id)
      return &plain(item);
  }
  return nullptr;
}
}  // namespace

const Part* Project::part(const std::string& id) const { return byId(*parts, id); }
const Wire* Project::wire(const std::string& id) const { return byId(*wires, id); }
const BoardItem* Project::board(const std::string& id) const { return byId(boards, id); }
const BreadboardItem* Project::breadboard(const std::string& id) const {
  return byId(breadboards, id);
}

const Program* Project::program(const std::string& boardId) const {
  for (const auto& p : programs)
    if (p->board == boardId) return &*p;
  return nullptr;
}

namespace {
const Step* stepIn(const Steps& steps, const std::string& id) {
  for (const Step& step : steps) {
    if (step.id == id) return &step;
    for (const auto& [key, body] : step.bodies)
      if (const Step* found = stepIn(body, id)) return found;
  }
  return nullptr;
}
}  // namespace

const Lane* Project::lane(const std::string& id) const {
  for (const auto& program : programs)
    for (const auto& lane : program->lanes)
      if (lane->id == id) return &*lane;
  return nullptr;
}

const Step* Project::step(const std::string& id) const {
  for (const auto& program : programs)
    for (const auto& lane : program->lanes)
      if (const Step* found = stepIn(lane->steps, id)) return found;
  return nullptr;
}

bool Project::hasId(const std::string& id) const {
  if (part(id) || wire(id) || board(id) || breadboard(id) || step(id)) return true;
  for (const auto& program : programs)
    for (const auto& lane : program->lanes)
      if (lane->id == id) return true;
  return false;
}

namespace {

// The numbers that stand behind a stem in the names that there are. Everything is looked at once
// and nothing is kept but the numbers: a text of thousands of parts asks for each of them.
class Numbers {
 public:
  explicit Numbers(std::string_view stem) : stem_(stem) {}

  void see(std::string_view name) {
    if (!name.starts_with(stem_)) return;
    name.remove_prefix(stem_.size());
    // Written otherwise ("led01"), or larger than any that is given, it is in nobody's way.
    std::size_t n = 0;
    if (name.empty() || name.size() > digits || name.front() == '0') return;
    for (const char c : name) {
      if (c < '0' || c > '9') return;
      n = n * 10 + static_cast<std::size_t>(c - '0');
    }
    if (n >= taken_.size()) taken_.resize(2 * n + 1);
    taken_[n] = 1;
  }
  std::string first(std::size_t n) const {
    while (n < taken_.size() && taken_[n]) ++n;
    return std::string(stem_) + std::to_string(n);
  }

 private:
  static constexpr std::size_t digits = 6;  // more things than that no project holds
  std::string_view stem_;
  std::vector<char> taken_;
};

}  // namespace

std::string freeId(const Project& p, const std::string& stem) {
  Numbers numbers(stem);
  for (const auto& part : *p.parts) numbers.see(part->id);
  for (const auto& wire : *p.wires) numbers.see(wire->id);
  for (const auto& board : p.boards) numbers.see(board.id);
  for (const auto& breadboard : p.breadboards) numbers.see(breadboard.id);
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) {
      numbers.see(lane->id);
      forEachStep(lane->steps, [&](const Step& s) { numbers.see(s.id); });
    }
  return numbers.first(1);
}

std::string freeName(const Project& p, const std::string& wanted) {
  const std::string stem = wanted + " ";
  Numbers numbers(stem);
  bool taken = false;
  for (const auto& part : *p.parts) {
    taken = taken || part->name == wanted;
    numbers.see(part->name);
  }
  return taken ? numbers.first(2) : wanted;
}

std::string freeNumber(const Project& p, const std::string& stem) {
  Numbers numbers(stem);
  for (const auto& part : *p.parts) numbers.see(part->name);
  return numbers.first(1);
}

Project emptyProject() {
  Project p;
  p.title = "Untitled";
  p.boards.push_back({"b1", "tern", {2, 3}, {}});
  p.breadboards.push_back({"bb", "half", {14, 2}, {}});
  Program program;
  program.board = "b1";
  Lane lane;
  lane.id = "l1";
  program.lanes.emplace_back(lane);
  p.programs.emplace_back(program);
  return p;
}

}  // namespace ignavo
