#include "project/edits.h"

#include <algorithm>
#include <set>

namespace ignavo::edits {

Project addPart(Project p, Part part) {
  p.parts.edit().emplace_back(std::move(part));
  return p;
}

Project addWire(Project p, Wire wire) {
  p.wires.edit().emplace_back(std::move(wire));
  return p;
}

namespace {
template <typename List, typename Test>
bool any(const List& list, Test test) {
  return std::any_of(list.begin(), list.end(), test);
}
}  // namespace

Project remove(Project p, const std::vector<std::string>& ids) {
  const std::set<std::string> gone(ids.begin(), ids.end());
  const auto named = [&](const auto& item) { return gone.contains(item->id); };
  const auto namedPlain = [&](const auto& item) { return gone.contains(item.id); };
  const auto hangs = [&](const auto& w) {
    return gone.contains(w->id) || gone.contains(w->from.owner) || gone.contains(w->to.owner);
  };
  if (any(*p.wires, hangs)) std::erase_if(p.wires.edit(), hangs);
  if (any(*p.parts, named)) std::erase_if(p.parts.edit(), named);
  std::erase_if(p.boards, namedPlain);
  std::erase_if(p.breadboards, namedPlain);
  std::erase_if(p.programs, [&](const auto& pr) { return gone.contains(pr->board); });
  std::erase_if(p.keys, [&](const KeyTie& tie) { return gone.contains(tie.part); });
  std::erase_if(p.guesses, [&](const Guess& g) { return gone.contains(g.owner()); });
  // Legs that sat in a removed breadboard keep the part, lying on the mat.
  for (std::size_t i = 0; i < p.parts->size(); ++i) {
    const Part& part = *(*p.parts)[i];
    if (!any(part.legs, [&](const Leg& l) { return l.in && gone.contains(l.in->owner); })) continue;
    Part& edited = p.parts.edit()[i].edit();
    for (Leg& leg : edited.legs)
      if (leg.in && gone.contains(leg.in->owner)) leg.in.reset();
    if (!edited.at) edited.at = Point{2.0 + static_cast<double>(i % 12) * 3.0, 36};
  }
  return p;
}

namespace {
template <typename T, typename List>
void changeById(List& list, const std::string& id, const std::function<void(T&)>& change) {
  for (std::size_t i = 0; i < list->size(); ++i)
    if ((*list)[i]->id == id) {
      change(list.edit()[i].edit());
      return;
    }
}
}  // namespace

Project changePart(Project p, const std::string& id, const std::function<void(Part&)>& change) {
  changeById<Part>(p.parts, id, change);
  return p;
}

Project changeWire(Project p, const std::string& id, const std::function<void(Wire&)>& change) {
  changeById<Wire>(p.wires, id, change);
  return p;
}

namespace {
// A setting that says nothing any more is taken out.
Project changePin(Project p, const std::string& board, const std::string& pin,
                  const std::function<void(PinSetting&)>& change) {
  for (auto& program : p.programs) {
    if (program->board != board) continue;
    auto& pins = program.edit().pins;
    auto it = std::find_if(pins.begin(), pins.end(), [&](auto& s) { return s.pin == pin; });
    if (it == pins.end()) it = pins.insert(it, PinSetting{pin, {}, {}, {}});
    change(*it);
    if (*it == PinSetting{pin, {}, {}, {}}) pins.erase(it);
    return p;
  }
  return p;
}
}  // namespace

Project setPull(Project p, const std::string& board, const std::string& pin, bool up) {
  return changePin(std::move(p), board, pin, [&](PinSetting& s) { s.pull = up ? "up" : ""; });
}

Project setPinLabel(Project p, const std::string& board, const std::string& pin,
                    const std::string& label) {
  return changePin(std::move(p), board, pin, [&](PinSetting& s) { s.label = label; });
}

Project setPartsSurvive(Project p, bool survive) {
  p.settings.partsSurvive = survive;
  return p;
}

Project setTick(Project p, const std::string& tick, bool done) {
  std::erase(p.ticks, tick);
  if (done) p.ticks.push_back(tick);
  return p;
}

namespace {

// Finds the list that holds step `id`, within `steps`.
bool findIn(const Steps& steps, const std::string& id, StepPlace& place) {
  for (std::size_t i = 0; i < steps.size(); ++i) {
    if (steps[i].id == id) {
      place.index = i;
      return true;
    }
    for (const auto& [key, body] : steps[i].bodies) {
      StepPlace inner = place;
      inner.parent = steps[i].id;
      inner.body = key;
      if (findIn(body, id, inner)) {
        place = inner;
        return true;
      }
    }
  }
  return false;
}

Step* stepIn(Steps& steps, const std::string& id) {
  for (Step& s : steps) {
    if (s.id == id) return &s;
    for (auto& [key, body] : s.bodies)
      if (Step* found = stepIn(body, id)) return found;
  }
  return nullptr;
}

Lane* laneForEdit(Project& p, const std::string& id) {
  for (auto& program : p.programs)
    for (std::size_t i = 0; i < program->lanes.size(); ++i)
      if (program->lanes[i]->id == id) return &program.edit().lanes[i].edit();
  return nullptr;
}

Steps* listAt(Project& p, const StepPlace& place) {
  Lane* lane = laneForEdit(p, place.lane);
  if (!lane) return nullptr;
  if (place.parent.empty()) return &lane->steps;
  Step* parent = stepIn(lane->steps, place.parent);
  return parent ? parent->body(place.body) : nullptr;
}

// Hands out ids that the project does not use yet, without searching it again.
class Ids {
 public:
  explicit Ids(const Project& p) {
    for (const auto& program : p.programs)
      for (const auto& lane : program->lanes) {
        taken_.insert(lane->id);
        forEachStep(lane->steps, [&](const Step& s) { taken_.insert(s.id); });
      }
    for (const auto& part : *p.parts) taken_.insert(part->id);
    for (const auto& wire : *p.wires) taken_.insert(wire->id);
    for (const auto& b : p.boards) taken_.insert(b.id);
    for (const auto& b : p.breadboards) taken_.insert(b.id);
  }
  std::string next(const char* stem, int& counter) {
    for (;;) {
      std::string id = stem + std::to_string(++counter);
      if (taken_.insert(id).second) return id;
    }
  }
  void fill(Steps& steps, bool renew) {
    for (Step& s : steps) {
      if (renew || s.id.empty()) s.id = next("s", steps_);
      for (auto& [key, body] : s.bodies) fill(body, renew);
    }
  }
  int lanes_ = 0;
  int steps_ = 0;

 private:
  std::set<std::string> taken_;
};

bool lacksId(const Steps& steps) {
  bool lacks = false;
  forEachStep(steps, [&](const Step& s) { lacks = lacks || s.id.empty(); });
  return lacks;
}

}  // namespace

StepPlace placeOf(const Project& p, const std::string& stepId) {
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) {
      StepPlace place;
      place.lane = lane->id;
      if (findIn(lane->steps, stepId, place)) return place;
    }
  return {};
}

Project insertSteps(Project p, const StepPlace& place, Steps steps) {
  Ids ids(p);
  bool clash = lacksId(steps);
  forEachStep(steps, [&](const Step& s) { clash = clash || p.step(s.id) != nullptr; });
  if (clash) ids.fill(steps, true);
  if (Steps* list = listAt(p, place)) {
    const auto at = std::min(place.index, list->size());
    list->insert(list->begin() + static_cast<std::ptrdiff_t>(at),
                 std::make_move_iterator(steps.begin()), std::make_move_iterator(steps.end()));
  }
  return p;
}

Project removeSteps(Project p, const std::vector<std::string>& ids) {
  for (const std::string& id : ids) {
    const StepPlace place = placeOf(p, id);
    if (place.lane.empty()) continue;
    if (Steps* list = listAt(p, place))
      list->erase(list->begin() + static_cast<std::ptrdiff_t>(place.index));
  }
  return p;
}

Project changeStep(Project p, const std::string& id, const std::function<void(Step&)>& change) {
  const StepPlace place = placeOf(p, id);
  if (place.lane.empty()) return p;
  if (Steps* list = listAt(p, place)) change((*list)[place.index]);
  return p;
}

std::vector<std::string> outermost(const Project& p, const std::vector<std::string>& ids) {
  const std::set<std::string> wanted(ids.begin(), ids.end());
  std::vector<std::string> out;
  const std::function<void(const Steps&)> search = [&](const Steps& steps) {
    for (const Step& s : steps)
      if (wanted.count(s.id) != 0)
        out.push_back(s.id);
      else
        for (const auto& [key, body] : s.bodies) search(body);
  };
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) search(lane->steps);
  return out;
}

Project moveSteps(Project p, const std::vector<std::string>& ids, StepPlace place) {
  const std::vector<std::string> moving = outermost(p, ids);
  Steps moved;
  std::size_t before = 0;
  for (const std::string& id : moving) {
    const Step& held = *p.step(id);
    bool inside = place.parent == id;
    for (const auto& [key, body] : held.bodies)
      forEachStep(body, [&](const Step& s) { inside = inside || s.id == place.parent; });
    if (inside) return p;
    StepPlace from = placeOf(p, id);
    const bool earlier = from.index < place.index;
    from.index = place.index;
    if (from == place && earlier) ++before;
    moved.push_back(held);
  }
  place.index -= before;
  p = removeSteps(std::move(p), moving);
  return insertSteps(std::move(p), place, std::move(moved));
}

Project duplicateSteps(Project p, const std::vector<std::string>& ids,
                       std::vector<std::string>* copies) {
  const std::vector<std::string> held = outermost(p, ids);
  if (held.empty()) return p;
  Steps made;
  for (const std::string& id : held) made.push_back(*p.step(id));
  Ids(p).fill(made, true);
  if (copies)
    for (const Step& s : made) copies->push_back(s.id);
  StepPlace place = placeOf(p, held.back());
  ++place.index;
  return insertSteps(std::move(p), place, std::move(made));
}

namespace {
const Expr* inside(const Expr* e, const std::string& path, std::size_t slash) {
  constexpr std::size_t npos = std::string::npos;
  while (e && slash != npos) {
    const std::size_t next = path.find('/', slash + 1);
    const std::string key = path.substr(slash + 1, next == npos ? next : next - slash - 1);
    // What stands in a list is counted from 0.
    if (e->shape == Expr::Shape::list) {
      const std::size_t index = key.size() == 1 ? static_cast<std::size_t>(key[0] - '0') : npos;
      e = index < e->args.size() ? &e->args[index].second : nullptr;
    } else {
      e = e->arg(key);
    }
    slash = next;
  }
  return e;
}
const Expr* exprAt(const Trigger& trigger, const std::string& path) {
  const std::size_t slash = path.find('/');
  return inside(trigger.field(path.substr(0, slash)), path, slash);
}
}  // namespace

const Expr* exprAt(const Step& step, const std::string& path) {
  const std::size_t slash = path.find('/');
  return inside(step.field(path.substr(0, slash)), path, slash);
}

const Expr* exprAt(const Project& p, const std::string& owner, const std::string& path) {
  if (const Step* step = p.step(owner)) return exprAt(*step, path);
  const Lane* lane = p.lane(owner);
  return lane ? exprAt(lane->trigger, path) : nullptr;
}

Project clearField(Project p, const std::string& step, const std::string& key) {
  return changeStep(std::move(p), step, [&](Step& s) {
    std::erase_if(s.fields, [&](const auto& field) { return field.first == key; });
  });
}

Project setExpr(Project p, const std::string& owner, const std::string& path, const Expr& value) {
  const bool whole = path.find('/') == std::string::npos;
  if (p.lane(owner))
    return changeLane(std::move(p), owner, [&](Lane& lane) {
      if (path == pinKey)
        lane.trigger.pin = value.text;
      else if (const Expr* e = exprAt(lane.trigger, path))
        const_cast<Expr&>(*e) = value;
      else if (whole)
        lane.trigger.setField(path, value);
    });
  return changeStep(std::move(p), owner, [&](Step& s) {
    if (const Expr* e = exprAt(s, path))
      const_cast<Expr&>(*e) = value;
    else if (whole)
      s.setField(path, value);
  });
}

namespace {
// Made where the board has none; null: there is no such board.
Program* programForEdit(Project& p, const std::string& board) {
  auto program = std::find_if(p.programs.begin(), p.programs.end(),
                              [&](const auto& each) { return each->board == board; });
  if (program == p.programs.end()) {
    if (!p.board(board)) return nullptr;
    Program first;
    first.board = board;
    program = p.programs.insert(p.programs.end(), std::move(first));
  }
  return &program->edit();
}
}  // namespace

Project addLane(Project p, const std::string& board, Lane lane) {
  Program* program = programForEdit(p, board);
  if (!program) return p;
  program->lanes.emplace_back(std::move(lane));
  return assignIds(ownStepsLast(std::move(p)));
}

Project ownStepsLast(Project p) {
  const auto other = [](const auto& lane) { return lane->trigger.on != ownTrigger; };
  for (auto& program : p.programs)
    if (!std::is_partitioned(program->lanes.begin(), program->lanes.end(), other)) {
      auto& lanes = program.edit().lanes;
      std::stable_partition(lanes.begin(), lanes.end(), other);
    }
  return p;
}

Project setVariables(Project p, const std::string& board, std::vector<Variable> variables) {
  if (Program* program = programForEdit(p, board)) program->variables = std::move(variables);
  return p;
}

Project setLists(Project p, const std::string& board, std::vector<NumberList> lists) {
  if (Program* program = programForEdit(p, board)) program->lists = std::move(lists);
  return p;
}

Project changeLane(Project p, const std::string& id, const std::function<void(Lane&)>& change) {
  if (Lane* lane = laneForEdit(p, id)) change(*lane);
  return p;
}

Project keepRecording(Project p, Recording recording) {
  p = forgetRecording(std::move(p), recording.name);
  p.recordings.emplace_back(std::move(recording));
  return p;
}

Project forgetRecording(Project p, const std::string& name) {
  std::erase_if(p.recordings, [&](const auto& held) { return held->name == name; });
  return p;
}

Project tieKey(Project p, const std::string& key, const std::string& part) {
  std::erase_if(p.keys, [&](const KeyTie& tie) { return tie.key == key; });
  if (!part.empty()) p.keys.push_back({key, part});
  return p;
}

Project guess(Project p, const std::string& part, const std::string& looks) {
  std::erase_if(p.guesses, [&](const Guess& g) { return g.part == part; });
  if (!looks.empty()) p.guesses.push_back({part, looks});
  return p;
}

Project removeLane(Project p, const std::string& id) {
  for (auto& program : p.programs)
    if (any(program->lanes, [&](const auto& l) { return l->id == id; }))
      std::erase_if(program.edit().lanes, [&](const auto& l) { return l->id == id; });
  return p;
}

Project assignIds(Project p) {
  Ids ids(p);
  for (auto& program : p.programs)
    for (std::size_t i = 0; i < program->lanes.size(); ++i) {
      const Lane& lane = *program->lanes[i];
      if (!lane.id.empty() && !lacksId(lane.steps)) continue;
      Lane& edited = program.edit().lanes[i].edit();
      if (edited.id.empty()) edited.id = ids.next("l", ids.lanes_);
      ids.fill(edited.steps, false);
    }
  return p;
}

}  // namespace ignavo::edits
