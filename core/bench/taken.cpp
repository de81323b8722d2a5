#include "bench/taken.h"

#include <algorithm>

// What a project shares with the one that was looked at last is the same in both (see Cow). While
// things are only added at the end, each is looked at once; anything else is looked at anew.

namespace ignavo {

namespace {

template <typename Item>
bool beginsWith(const std::vector<Cow<Item>>& list, const std::vector<Cow<Item>>& beginning) {
  if (list.size() < beginning.size()) return false;
  for (std::size_t i = 0; i < beginning.size(); ++i)
    if (!list[i].sharesWith(beginning[i])) return false;
  return true;
}

template <typename Item>
bool beginsWith(const Cow<std::vector<Cow<Item>>>& list,
                const Cow<std::vector<Cow<Item>>>& beginning) {
  return list.sharesWith(beginning) || beginsWith(*list, *beginning);
}

bool beginsWithIds(const std::vector<BoardItem>& list, const std::vector<BoardItem>& beginning) {
  return list.size() >= beginning.size() &&
         std::equal(beginning.begin(), beginning.end(), list.begin(),
                    [](const BoardItem& a, const BoardItem& b) { return a.id == b.id; });
}

bool samePrograms(const Project& a, const Project& b) {
  return a.programs.size() == b.programs.size() && beginsWith(a.programs, b.programs);
}

}  // namespace

void Taken::forget() {
  seen_ = Project{};
  ids_.clear();
  names_.clear();
  firstIds_.clear();
  firstNames_.clear();
  ends_.clear();
  legs_.clear();
}

// Clips on legs take no socket: those of parts that are there or come later.
void Taken::add(const Part& part) {
  ids_.insert(part.id);
  names_.insert(part.name);
  for (const Leg& leg : part.legs)
    if (leg.in) legs_.emplace(*leg.in, Occupant{part.id, leg.id});
}

void Taken::add(const Wire& wire) {
  ids_.insert(wire.id);
  ends_.emplace(wire.to, Occupant{wire.id, "to"});
  ends_.emplace(wire.from, Occupant{wire.id, "from"});
}

void Taken::follow(const Project& project) {
  if (!beginsWith(project.parts, seen_.parts) || !beginsWith(project.wires, seen_.wires) ||
      !beginsWithIds(project.boards, seen_.boards) ||
      !beginsWithIds(project.breadboards, seen_.breadboards) || !samePrograms(project, seen_))
    forget();
  for (std::size_t i = seen_.parts->size(); i < project.parts->size(); ++i)
    add(*(*project.parts)[i]);
  for (std::size_t i = seen_.wires->size(); i < project.wires->size(); ++i)
    add(*(*project.wires)[i]);
  for (const BoardItem& board : project.boards) ids_.insert(board.id);
  for (const BreadboardItem& breadboard : project.breadboards) ids_.insert(breadboard.id);
  if (seen_.programs.empty())
    for (const auto& program : project.programs)
      for (const auto& lane : program->lanes) {
        ids_.insert(lane->id);
        forEachStep(lane->steps, [&](const Step& s) { ids_.insert(s.id); });
      }
  seen_ = project;
}

std::string Taken::numbered(const std::string& stem, std::size_t from, const Words& taken,
                            Firsts& firsts) {
  std::size_t& n = firsts.try_emplace(stem, from).first->second;
  while (taken.contains(stem + std::to_string(n))) ++n;
  return stem + std::to_string(n);
}

std::string Taken::freeId(const std::string& stem) { return numbered(stem, 1, ids_, firstIds_); }
std::string Taken::freeName(const std::string& wanted) {
  return names_.contains(wanted) ? numbered(wanted + " ", 2, names_, firstNames_) : wanted;
}
std::string Taken::freeNumber(const std::string& stem) {
  return numbered(stem, 1, names_, firstNames_);
}

std::optional<Occupant> Taken::occupantOf(const Socket& socket) const {
  const bool onTable = seen_.breadboard(socket.owner) || seen_.board(socket.owner);
  if (!onTable && seen_.part(socket.owner)) return std::nullopt;
  for (const Occupancy* there : {&ends_, &legs_})
    if (const auto found = there->find(socket); found != there->end()) return found->second;
  return std::nullopt;
}

}  // namespace ignavo
