#include <fmt/format.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/placing.h"
#include "format/project_file.h"
#include "parts/catalogue.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo {

namespace {

using Json = nlohmann::ordered_json;
using Code = FileProblem::Code;

constexpr int deepestJson = 600;       // brackets; 64 levels of steps need far fewer
constexpr double farthestPitch = 500;  // from the middle of the bench

class Reader {
 public:
  explicit Reader(ReadResult& out) : out_(out), p_(out.project) {}

  void read(const Json& j) {
    if (!j.is_object() || !j.contains("format") || j["format"] != "ignavo-project")
      return problem("", Code::notAProject);
    const auto version = j.find("version");
    if (version == j.end()) return problem("version", Code::missing);
    if (!version->is_number_integer()) return problem("version", Code::wrongType, "a whole number");
    if (*version > 1) return problem("version", Code::newerVersion, version->dump());
    if (*version < 1) return problem("version", Code::outOfRange, "1");
    out_.readable = true;
    p_.title = text(j, "title", "", "Untitled");
    p_.about = text(j, "about", "", "");
    readSeed(j);
    list(j, "boards", limits::boards,
         [&](const Json& o, const std::string& at) { readBoard(o, at); });
    list(j, "breadboards", limits::breadboards,
         [&](const Json& o, const std::string& at) { readBreadboard(o, at); });
    list(j, "parts", limits::parts, [&](const Json& o, const std::string& at) { readPart(o, at); });
    checkLegs(j);
    list(j, "wires", limits::wires, [&](const Json& o, const std::string& at) { readWire(o, at); });
    list(j, "programs", limits::boards,
         [&](const Json& o, const std::string& at) { readProgram(o, at); });
    readTicks(j);
    readSettings(j);
    list(j, "meant", 10000, [&](const Json& o, const std::string& at) { readMeant(o, at); });
    keepUnknown(j, p_.extras,
                {"format", "version", "title", "about", "seed", "boards", "breadboards", "parts",
                 "wires", "programs", "ticks", "meant", "settings"});
    p_ = edits::assignIds(std::move(p_));
  }

 private:
  void problem(std::string path, Code code, std::string value = {}, std::string wanted = {}) {
    if (out_.problems.size() < 200)
      out_.problems.push_back({std::move(path), code, std::move(value), std::move(wanted)});
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
      problem(join(at, key), Code::wrongType, "a text");
      return otherwise;
    }
    return it->get<std::string>();
  }

  void readSeed(const Json& j) {
    const auto it = j.find("seed");
    if (it == j.end()) return;
    if (it->is_number_unsigned())
      p_.seed = it->get<std::uint64_t>();
    else
      problem("seed", Code::wrongType, "a whole number from 0");
  }

  template <typename Each>
  void list(const Json& j, const char* key, std::size_t most, Each each,
            const std::string& at = {}) {
    const auto it = j.find(key);
    if (it == j.end()) return;
    const std::string path = join(at, key);
    if (!it->is_array()) return problem(path, Code::wrongType, "a list");
    if (it->size() > most) return problem(path, Code::tooMany, std::to_string(most));
    for (std::size_t i = 0; i < it->size(); ++i) {
      const std::string place = fmt::format("{}[{}]", path, i);
      if (!(*it)[i].is_object())
        problem(place, Code::wrongType, "an object");
      else
        each((*it)[i], place);
    }
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
      problem(at, Code::wrongType, "a place [x, y]");
      return std::nullopt;
    }
    const Point p{j[0].get<double>(), j[1].get<double>()};
    if (!(std::abs(p.x) <= farthestPitch) || !(std::abs(p.y) <= farthestPitch)) {
      problem(at, Code::outOfRange, fmt::format("-{0} to {0}", farthestPitch));
      return std::nullopt;
    }
    return p;
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
      return problem(at + ".type", Code::unknownKind, item.type, "board");
    p_.boards.push_back(std::move(item));
  }
  void readBreadboard(const Json& j, const std::string& at) {
    BreadboardItem item;
    if (!readItem(j, at, item)) return;
    if (!breadboardKind(item.type))
      return problem(at + ".type", Code::unknownKind, item.type, "breadboard");
    p_.breadboards.push_back(std::move(item));
  }

  void readProps(const Json& j, const std::string& at, const PartKind& kind, Part& part) {
    for (const PropKind& prop : kind.props) {  // defaults first, in the catalogue's order
      if (prop.type == PropKind::Type::number) part.setProp(prop.key, prop.otherwise);
      if (prop.type == PropKind::Type::choice) part.setProp(prop.key, prop.choices.front());
      if (prop.type == PropKind::Type::truth) part.setProp(prop.key, false);
    }
    const auto it = j.find("props");
    if (it == j.end()) return;
    if (!it->is_object()) return problem(at + ".props", Code::wrongType, "an object");
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
          part.setProp(key, value.get<std::string>());
        else
          problem(path, Code::wrongType, "a number, a text or true / false");
      } else if (known->type == PropKind::Type::number) {
        if (!value.is_number()) {
          problem(path, Code::wrongType, "a number");
        } else if (const double v = value.get<double>(); !(v >= known->least && v <= known->most)) {
          problem(path, Code::outOfRange, fmt::format("{} to {}", known->least, known->most));
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
        problem(path, Code::wrongType, "true or false");
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
      if (j.contains("type")) problem(at + ".type", Code::unknownKind, part.type, "part");
      return;
    }
    readProps(j, at, *kind, part);
    for (const LegShape& leg : kind->print.legs) part.legs.push_back({leg.id, std::nullopt});
    if (const auto legs = j.find("legs"); legs != j.end()) {
      if (!legs->is_object())
        problem(at + ".legs", Code::wrongType, "an object");
      else
        for (const auto& [key, value] : legs->items()) {
          Leg* leg = part.leg(key);
          if (!leg)
            problem(at + ".legs." + key, Code::noLeg, key, part.type);
          else if (value.is_string())
            leg->in = socket(value.get<std::string>(), at + ".legs." + key);
          else if (!value.is_null())
            problem(at + ".legs." + key, Code::wrongType, "a hole or null");
        }
    }
    if (j.contains("at") && !j["at"].is_null()) part.at = point(j["at"], at + ".at");
    if (const auto turn = j.find("turn"); turn != j.end()) {
      if (turn->is_number_integer() && *turn >= 0 && *turn < 360 && turn->get<int>() % 90 == 0)
        part.turnDegrees = turn->get<int>();
      else
        problem(at + ".turn", Code::outOfRange, "0, 90, 180 or 270");
    }
    part.name = text(j, "name", at, kind->nameOf(part));
    if (const auto locked = j.find("locked"); locked != j.end()) {
      if (locked->is_boolean())
        part.locked = locked->get<bool>();
      else
        problem(at + ".locked", Code::wrongType, "true or false");
    }
    keepUnknown(j, part.extras, {"id", "type", "name", "props", "legs", "at", "turn", "locked"});
    partPaths_[part.id] = at;
    p_.parts.edit().emplace_back(std::move(part));
  }

  std::optional<Socket> socket(const std::string& value, const std::string& at) {
    auto s = Socket::parse(value);
    if (!s) problem(at, Code::badSocket, value);
    return s;
  }

  // Does this socket exist? Says what is wrong otherwise.
  bool exists(const Socket& s, const std::string& at) {
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
  bool take(const Socket& s, const std::string& who, const std::string& at) {
    if (p_.part(s.owner)) return true;
    const auto [it, free] = taken_.try_emplace(s, who);
    if (!free) problem(at, Code::taken, s.point, it->second);
    return free;
  }

  // Legs are checked when all parts are known, for clips lead to other parts.
  void checkLegs(const Json&) {
    for (std::size_t i = 0; i < p_.parts->size(); ++i) {
      const Part part = *(*p_.parts)[i];
      const std::string& at = partPaths_[part.id];
      bool anyOff = false;
      for (const Leg& leg : part.legs) {
        const std::string path = at + ".legs." + leg.id;
        if (leg.in && !(exists(*leg.in, path) && take(*leg.in, part.id, path)))
          p_.parts.edit()[i].edit().leg(leg.id)->in.reset();
        anyOff = anyOff || !leg.in;
      }
      const bool lies = std::none_of(part.legs.begin(), part.legs.end(),
                                     [](const Leg& l) { return l.in.has_value(); });
      if (lies && !part.at)
        p_.parts.edit()[i].edit().at = Point{2.0 + 3.0 * static_cast<double>(i % 10), 36};
      // A body with leads lies somewhere even when all of them are plugged in.
      const Footprint* print = catalogue().part(part.type);
      if (!lies && !part.at && print && print->leads) {
        std::vector<std::optional<Socket>> sockets;
        for (const Leg& leg : (*p_.parts)[i]->legs) sockets.push_back(leg.in);
        p_.parts.edit()[i].edit().at = restingPlace(p_, catalogue(), *print, sockets, part.id);
      }
    }
  }

  void readWire(const Json& j, const std::string& at) {
    Wire wire;
    wire.id = id(j, at);
    if (wire.id.empty()) return;
    const auto end = [&](const char* key) -> std::optional<Socket> {
      const std::string value = text(j, key, at, "", true);
      if (value.empty()) return std::nullopt;
      auto s = socket(value, join(at, key));
      if (!s || !exists(*s, join(at, key))) return std::nullopt;
      return s;
    };
    const auto from = end("from"), to = end("to");
    if (!from || !to) return;
    if (!take(*from, wire.id, at + ".from") || !take(*to, wire.id, at + ".to")) return;
    wire.from = *from;
    wire.to = *to;
    wire.colour = text(j, "colour", at, "auto");
    if (const auto bends = j.find("bends"); bends != j.end()) {
      if (!bends->is_array() || bends->size() > 64)
        problem(at + ".bends", Code::wrongType, "a list of at most 64 places");
      else
        for (std::size_t i = 0; i < bends->size(); ++i)
          if (const auto p = point((*bends)[i], fmt::format("{}.bends[{}]", at, i)))
            wire.bends.push_back(*p);
    }
    keepUnknown(j, wire.extras, {"id", "from", "to", "colour", "bends"});
    p_.wires.edit().emplace_back(std::move(wire));
  }

  void readProgram(const Json& j, const std::string& at) {
    Program program;
    program.board = text(j, "board", at, "", true);
    const BoardItem* board = p_.board(program.board);
    if (!board) {
      if (j.contains("board")) problem(at + ".board", Code::noSuchOwner, program.board);
      return;
    }
    if (p_.program(program.board)) return problem(at + ".board", Code::duplicateId, program.board);
    board_ = catalogue().boardKind(board->type);
    if (const auto pins = j.find("pins"); pins != j.end()) {
      if (!pins->is_object())
        problem(at + ".pins", Code::wrongType, "an object");
      else
        for (const auto& [pin, value] : pins->items()) {
          const std::string path = at + ".pins." + pin;
          if (!isPin(pin)) {
            problem(path, Code::noPin, pin, program.board);
            continue;
          }
          if (!value.is_object()) {
            problem(path, Code::wrongType, "an object");
            continue;
          }
          PinSetting setting{
              pin, text(value, "pull", path, ""), text(value, "label", path, ""), {}};
          if (!setting.pull.empty() && setting.pull != "up" && setting.pull != "none") {
            problem(path + ".pull", Code::notAChoice, setting.pull, "up, none");
            setting.pull.clear();
          }
          keepUnknown(value, setting.extras, {"pull", "label"});
          program.pins.push_back(std::move(setting));
        }
    }
    list(
        j, "lanes", limits::lanes,
        [&](const Json& o, const std::string& place) {
          if (auto lane = readLane(o, place)) program.lanes.emplace_back(std::move(*lane));
        },
        at);
    keepUnknown(j, program.extras, {"board", "pins", "lanes"});
    p_.programs.emplace_back(std::move(program));
  }

  bool isPin(const std::string& name) const {
    return board_ && std::any_of(board_->pins.begin(), board_->pins.end(), [&](const BoardPin& p) {
             return p.role == PinShape::Role::io && p.name == name;
           });
  }

  std::optional<Lane> readLane(const Json& j, const std::string& at) {
    Lane lane;
    if (j.contains("id")) lane.id = id(j, at);
    if (j.contains("signal")) {
      problem(at + ".signal", Code::unknownKind, "signal", "lane");
      return std::nullopt;
    }
    if (const auto t = j.find("trigger"); t == j.end()) {
      problem(at + ".trigger", Code::missing);
      return std::nullopt;
    } else if (!t->is_object()) {
      problem(at + ".trigger", Code::wrongType, "an object");
      return std::nullopt;
    } else {
      lane.trigger.on = text(*t, "on", at + ".trigger", "always", true);
      if (!triggerKind(lane.trigger.on)) {
        problem(at + ".trigger.on", Code::unknownKind, lane.trigger.on, "trigger");
        return std::nullopt;
      }
      if (triggerKind(lane.trigger.on)->edge == TriggerKind::Edge::none) {
        keepUnknown(*t, lane.trigger.extras, {"on"});
      } else {
        lane.trigger.pin = text(*t, "pin", at + ".trigger", "", true);
        if (!lane.trigger.pin.empty() && !isPin(lane.trigger.pin)) {
          problem(at + ".trigger.pin", Code::noPin, lane.trigger.pin, "this board");
          lane.trigger.pin.clear();
        }
        if (const std::string again = text(*t, "again", at + ".trigger", "ignore");
            again != "ignore")
          problem(at + ".trigger.again", Code::notAChoice, again, "ignore");
        keepUnknown(*t, lane.trigger.extras, {"on", "pin"});
      }
    }
    readSteps(j, "steps", at, lane.steps, 1);
    keepUnknown(j, lane.extras, {"id", "trigger", "steps"});
    return lane;
  }

  void readSteps(const Json& j, const char* key, const std::string& at, Steps& out, int depth) {
    if (depth > limits::nesting)
      return problem(join(at, key), Code::tooDeep, std::to_string(limits::nesting));
    list(
        j, key, limits::steps,
        [&](const Json& o, const std::string& place) {
          if (auto step = readStep(o, place, depth)) out.push_back(std::move(*step));
        },
        at);
  }

  std::optional<Step> readStep(const Json& j, const std::string& at, int depth) {
    if (++steps_ > limits::steps) {
      if (steps_ == limits::steps + 1) problem(at, Code::tooMany, std::to_string(limits::steps));
      return std::nullopt;
    }
    const std::string what = text(j, "do", at, "", true);
    const StepKind* kind = stepKind(what);
    if (!kind) {
      if (!what.empty()) problem(at + ".do", Code::unknownKind, what, "step");
      return std::nullopt;
    }
    Step step;
    step.kind = what;
    if (j.contains("id")) step.id = id(j, at);
    std::set<std::string> known{"id", "do"};
    for (const SlotKind& slot : kind->slots) {
      known.insert(slot.key);
      const auto it = j.find(slot.key);
      if (it == j.end()) {
        problem(at + "." + slot.key, Code::missing);
        step.fields.emplace_back(slot.key, slot.otherwise);
      } else {
        step.fields.emplace_back(slot.key, slotValue(*it, slot, at + "." + slot.key));
      }
    }
    for (const BodyKind& body : kind->bodies) {
      known.insert(body.key);
      step.bodies.emplace_back(body.key, Steps{});
      if (!j.contains(body.key) && !body.optional) problem(at + "." + body.key, Code::missing);
      readSteps(j, body.key.c_str(), at, step.bodies.back().second, depth + 1);
    }
    keepUnknown(j, step.extras, known);
    return step;
  }

  Expr slotValue(const Json& j, const SlotKind& slot, const std::string& at) {
    if (slot.type == SlotKind::Type::pin) {
      if (!j.is_string()) {
        problem(at, Code::wrongType, "the name of a pin");
        return slot.otherwise;
      }
      const auto name = j.get<std::string>();
      if (!name.empty() && !isPin(name)) {
        problem(at, Code::noPin, name, "this board");
        return slot.otherwise;
      }
      return Expr::of(name);
    }
    auto value = expression(j, at, 1);
    if (!value) return slot.otherwise;
    if (slot.type == SlotKind::Type::level && value->shape == Expr::Shape::text &&
        value->text != "high" && value->text != "low") {
      problem(at, Code::notAChoice, value->text, "high, low or a truth value");
      return slot.otherwise;
    }
    if (slot.type == SlotKind::Type::number) {
      if (value->shape == Expr::Shape::text || value->shape == Expr::Shape::truth) {
        problem(at, Code::wrongType, "a number");
        return slot.otherwise;
      }
      if (value->shape == Expr::Shape::number &&
          !(value->number >= slot.least && value->number <= slot.most)) {
        problem(at, Code::outOfRange, fmt::format("{} to {}", slot.least, slot.most));
        return slot.otherwise;
      }
    }
    return *value;
  }

  std::optional<Expr> expression(const Json& j, const std::string& at, int depth) {
    if (depth > limits::nesting) {
      problem(at, Code::tooDeep, std::to_string(limits::nesting));
      return std::nullopt;
    }
    if (j.is_number()) return Expr::of(j.get<double>());
    if (j.is_boolean()) return Expr::of(j.get<bool>());
    if (j.is_string()) return Expr::of(j.get<std::string>());
    if (!j.is_object()) {
      problem(at, Code::wrongType, "a value");
      return std::nullopt;
    }
    if (const auto get = j.find("get"); get != j.end()) {
      const GetterKind* getter = get->is_string() ? getterKind(get->get<std::string>()) : nullptr;
      if (!getter) {
        problem(at + ".get", Code::unknownKind,
                get->is_string() ? get->get<std::string>() : get->dump(), "value");
        return std::nullopt;
      }
      std::string pin = text(j, "pin", at, "", true);
      if (!pin.empty() && !isPin(pin)) {
        problem(at + ".pin", Code::noPin, pin, "this board");
        pin.clear();
      }
      Expr reading = Expr::readPin(std::move(pin));
      reading.text = getter->name;
      return reading;
    }
    if (const auto op = j.find("op"); op != j.end()) {
      const OperatorKind* kind = op->is_string() ? operatorKind(op->get<std::string>()) : nullptr;
      if (!kind) {
        problem(at + ".op", Code::unknownKind,
                op->is_string() ? op->get<std::string>() : op->dump(), "operator");
        return std::nullopt;
      }
      Expr e;
      e.shape = Expr::Shape::op;
      e.text = kind->name;
      for (int i = 0; i < kind->operands; ++i) {
        const char* key = i == 0 ? "a" : "b";
        if (!j.contains(key)) {
          problem(at + "." + key, Code::missing);
          return std::nullopt;
        }
        auto inner = expression(j[key], at + "." + key, depth + 1);
        if (!inner) return std::nullopt;
        e.args.emplace_back(key, std::move(*inner));
      }
      return e;
    }
    problem(at, Code::wrongType, "a value");
    return std::nullopt;
  }

  void readTicks(const Json& j) {
    const auto it = j.find("ticks");
    if (it == j.end()) return;
    if (!it->is_array()) return problem("ticks", Code::wrongType, "a list");
    for (std::size_t i = 0; i < it->size(); ++i)
      if ((*it)[i].is_string())
        p_.ticks.push_back((*it)[i].get<std::string>());
      else
        problem(fmt::format("ticks[{}]", i), Code::wrongType, "a text");
  }
  void readSettings(const Json& j) {
    const auto it = j.find("settings");
    if (it == j.end()) return;
    if (!it->is_object()) return problem("settings", Code::wrongType, "an object");
    if (const auto survive = it->find("partsSurvive"); survive != it->end()) {
      if (survive->is_boolean())
        p_.settings.partsSurvive = survive->get<bool>();
      else
        problem("settings.partsSurvive", Code::wrongType, "true or false");
    }
    keepUnknown(*it, p_.settings.extras, {"partsSurvive"});
  }
  void readMeant(const Json& j, const std::string& at) {
    Meant m{text(j, "rule", at, "", true), {}};
    if (j.contains("culprits") && j["culprits"].is_array())
      for (const Json& c : j["culprits"])
        if (c.is_string()) m.culprits.push_back(c.get<std::string>());
    std::sort(m.culprits.begin(), m.culprits.end());
    if (!m.rule.empty()) p_.meant.push_back(std::move(m));
  }

  ReadResult& out_;
  Project& p_;
  const BoardKind* board_ = nullptr;
  std::set<std::string> ids_;
  std::map<Socket, std::string> taken_;
  std::map<std::string, std::string> partPaths_;
  std::size_t steps_ = 0;
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
  try {
    Reader(out).read(Json::parse(text.begin(), text.end()));
  } catch (const nlohmann::json::exception& e) {
    out = {};
    std::string what = e.what();
    if (const auto colon = what.find("] "); colon != std::string::npos)
      what = what.substr(colon + 2);
    return fail(Code::notJson, what);
  }
  return out;
}

ReadResult readProjectFile(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  ReadResult out;
  std::ostringstream text;
  if (in) text << in.rdbuf();
  if (!in || in.bad() || text.fail()) {
    out.problems.push_back({{}, Code::cannotOpen, path, {}});
    return out;
  }
  return readProject(text.str());
}

}  // namespace ignavo
