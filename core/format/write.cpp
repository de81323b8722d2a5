#include <fmt/format.h>

#include "format/file_words.h"
#include "format/files.h"
#include "format/json_text.h"
#include "format/project_file.h"
#include "program/steps.h"
#include "text/plain.h"

namespace ignavo {

namespace {

std::string quoted(const std::string& s) { return quotedJson(s); }
std::string number(double v) { return fmt::format("{}", v); }
std::string place(Point p) { return "[" + number(p.x) + ", " + number(p.y) + "]"; }

// An object on one line, in the order in which keys are added.
class Row {
 public:
  Row& add(const std::string& key, const std::string& json) {
    text_ += (text_.empty() ? " " : ", ") + quoted(key) + ": " + json;
    return *this;
  }
  Row& extras(const Extras& extras) {
    for (const auto& [key, json] : extras) add(key, json);
    return *this;
  }
  std::string text() const { return text_.empty() ? "{}" : "{" + text_ + " }"; }

 private:
  std::string text_;
};

std::string prop(const PropValue& v) {
  if (const double* d = std::get_if<double>(&v)) return number(*d);
  if (const bool* b = std::get_if<bool>(&v)) return *b ? "true" : "false";
  return quoted(std::get<std::string>(v));
}

std::string boardItem(const BoardItem& b) {
  return Row()
      .add("id", quoted(b.id))
      .add("type", quoted(b.type))
      .add("at", place(b.at))
      .extras(b.extras)
      .text();
}

std::string part(const Part& p) {
  Row props, legs;
  for (const auto& [key, value] : p.props) props.add(key, prop(value));
  for (const Leg& leg : p.legs) legs.add(leg.id, leg.in ? quoted(leg.in->text()) : "null");
  Row row;
  row.add("id", quoted(p.id))
      .add("type", quoted(p.type))
      .add("name", quoted(p.name))
      .add("props", props.text())
      .add("legs", legs.text());
  if (p.at) row.add("at", place(*p.at));
  if (p.turnDegrees != 0) row.add("turn", std::to_string(p.turnDegrees));
  if (p.locked) row.add("locked", "true");
  return row.extras(p.extras).text();
}

std::string wire(const Wire& w) {
  std::string bends;
  for (const Point& b : w.bends) bends += (bends.empty() ? "" : ", ") + place(b);
  return Row()
      .add("id", quoted(w.id))
      .add("from", quoted(w.from.text()))
      .add("to", quoted(w.to.text()))
      .add("colour", quoted(w.colour))
      .add("bends", "[" + bends + "]")
      .extras(w.extras)
      .text();
}

std::string expression(const Expr& e) {
  switch (e.shape) {
    case Expr::Shape::number:
      return number(e.number);
    case Expr::Shape::truth:
      return e.truth ? "true" : "false";
    case Expr::Shape::text:
      return quoted(e.text);
    case Expr::Shape::list: {
      std::string out;
      for (const auto& [key, inner] : e.args) out += (out.empty() ? "" : ", ") + expression(inner);
      return "[" + out + "]";
    }
    default:
      break;
  }
  Row row;
  row.add(e.shape == Expr::Shape::get  ? "get"
          : e.shape == Expr::Shape::op ? "op"
                                       : "sig",
          quoted(e.text));
  for (const auto& [key, inner] : e.args) row.add(key, expression(inner));
  return row.text();
}

// Steps with steps inside are spread over several lines, others stand on one.
std::string steps(const Steps& list, int indent);

std::string step(const Step& s, int indent) {
  Row row;
  if (!s.id.empty()) row.add("id", quoted(s.id));
  row.add("do", quoted(s.kind));
  const StepKind* kind = stepKind(s.kind);
  for (const auto& [key, value] : s.fields) {
    const SlotKind* slot = kind ? kind->slot(key) : nullptr;
    Row given;  // to inputs, by name
    if (slot && slot->type == SlotKind::Type::inputs)
      for (const auto& [name, held] : value.args) given.add(name, expression(held));
    row.add(key, slot && slot->type == SlotKind::Type::inputs ? given.text() : expression(value));
  }
  for (const auto& [key, body] : s.bodies) row.add(key, steps(body, indent));
  return row.extras(s.extras).text();
}

std::string steps(const Steps& list, int indent) {
  if (list.empty()) return "[]";
  std::string out = "[";
  const std::string pad(static_cast<std::size_t>(indent) + 2, ' ');
  for (std::size_t i = 0; i < list.size(); ++i)
    out += (i ? ",\n" : "\n") + pad + step(list[i], indent + 2);
  return out + " ]";
}

std::string lane(const Lane& l) {
  Row row;
  if (!l.id.empty()) row.add("id", quoted(l.id));
  const TriggerKind* kind = triggerKind(l.trigger.on);
  if (kind && kind->keeps != TriggerKind::Keeps::nothing) {
    Row to, signal;
    if (kind->keeps == TriggerKind::Keeps::variable)
      to.add("var", expression(*l.trigger.field(variableKey)));
    else
      to.add("pin", quoted(l.trigger.pin))
          .add("as", kind->keeps == TriggerKind::Keeps::level ? "\"level\"" : "\"digital\"");
    signal.add("to", to.text()).add("from", expression(*l.trigger.field(keptKey)));
    return row.add("signal", signal.extras(l.trigger.extras).text()).extras(l.extras).text();
  }
  if (kind && kind->own)
    return row.add("name", expression(*l.trigger.field(ownNameKey)))
        .add("inputs", expression(*l.trigger.field(ownInputsKey)))
        .add("steps", steps(l.steps, 6))
        .extras(l.extras)
        .text();
  Row trigger;
  trigger.add("on", quoted(l.trigger.on));
  if (kind && kind->edge != TriggerKind::Edge::none) trigger.add("pin", quoted(l.trigger.pin));
  for (const auto& [key, value] : l.trigger.fields) trigger.add(key, expression(value));
  if (!l.trigger.again.empty()) trigger.add("again", quoted(l.trigger.again));
  row.add("trigger", trigger.extras(l.trigger.extras).text());
  return row.add("steps", steps(l.steps, 6)).extras(l.extras).text();
}

std::string numberList(const NumberList& l) {
  std::string items;
  for (const double item : l.items) items += (items.empty() ? "" : ", ") + number(item);
  return Row().add("name", quoted(l.name)).add("items", "[" + items + "]").extras(l.extras).text();
}

std::string variable(const Variable& v) {
  return Row()
      .add("name", quoted(v.name))
      .add("start", expression(v.start))
      .extras(v.extras)
      .text();
}

// Of a nanosecond, as seconds, to the last digit.
std::string secondsOf(std::int64_t nanoseconds) {
  constexpr std::int64_t second = 1'000'000'000;
  std::string out = fmt::format("{}.{:09}", nanoseconds / second, nanoseconds % second);
  out.erase(out.find_last_not_of('0') + 1);
  if (out.ends_with('.')) out.pop_back();
  return out;
}

std::string recording(const Recording& r) {
  std::string inputs;
  for (const RecordedInput& input : r.inputs)
    inputs += (inputs.empty() ? "\n      " : ",\n      ") +
              Row().add("at", secondsOf(input.at)).add("what", quoted(input.what)).text();
  return Row()
      .add("name", quoted(r.name))
      .add("inputs", "[" + inputs + (inputs.empty() ? "]" : " ]"))
      .extras(r.extras)
      .text();
}

std::string program(const Program& p) {
  Row pins;
  for (const PinSetting& s : p.pins) {
    Row setting;
    if (!s.pull.empty()) setting.add("pull", quoted(s.pull));
    if (!s.label.empty()) setting.add("label", quoted(s.label));
    pins.add(s.pin, setting.extras(s.extras).text());
  }
  std::string lanes, own;
  for (const auto& l : p.lanes) {
    std::string& list = l->trigger.on == ownTrigger ? own : lanes;
    list += (list.empty() ? "\n      " : ",\n      ") + lane(*l);
  }
  Row row;
  row.add("board", quoted(p.board)).add("pins", pins.text());
  std::string names;
  for (const Variable& v : p.variables) names += (names.empty() ? "" : ", ") + variable(v);
  if (!names.empty()) row.add("variables", "[" + names + "]");
  names.clear();
  for (const NumberList& l : p.lists) names += (names.empty() ? "" : ", ") + numberList(l);
  if (!names.empty()) row.add("lists", "[" + names + "]");
  row.extras(p.extras);
  row.add("lanes", "[" + lanes + (lanes.empty() ? "]" : " ]"));
  if (!own.empty()) row.add("own", "[" + own + " ]");
  return row.text();
}

template <typename List, typename One>
std::string list(const List& items, One one) {
  std::string out;
  for (const auto& i : items) out += (out.empty() ? "\n    " : ",\n    ") + one(i);
  return out.empty() ? "[]" : "[" + out + "\n  ]";
}

}  // namespace

std::string writeStep(const Step& s) { return step(s, 0); }
std::string writeSteps(const Steps& s) { return steps(s, 0); }
std::string writeLane(const Lane& l) { return lane(l); }
std::string writeVariable(const Variable& v) { return variable(v); }
std::string writeList(const NumberList& l) { return numberList(l); }

std::string writeProject(const Project& p) {
  std::string out = "{\n  \"format\": \"ignavo-project\",\n  \"version\": 1";
  const auto add = [&](const std::string& key, const std::string& json) {
    out += ",\n  " + quoted(key) + ": " + json;
  };
  add("title", quoted(p.title));
  add("about", quoted(p.about));
  add("seed", std::to_string(p.seed));
  add("boards", list(p.boards, boardItem));
  add("breadboards", list(p.breadboards, boardItem));
  add("parts", list(*p.parts, [](const auto& x) { return part(*x); }));
  add("wires", list(*p.wires, [](const auto& x) { return wire(*x); }));
  add("programs", list(p.programs, [](const auto& x) { return program(*x); }));
  if (!p.ticks.empty()) add("ticks", list(p.ticks, quoted));
  if (!p.meant.empty())
    add("meant", list(p.meant, [](const Suppression& m) {
          std::string ids;
          for (const std::string& c : m.culprits) ids += (ids.empty() ? "" : ", ") + quoted(c);
          return Row().add("rule", quoted(m.rule)).add("culprits", "[" + ids + "]").text();
        }));
  if (!p.keys.empty()) {
    Row row;
    for (const KeyTie& tie : p.keys) row.add(tie.key, quoted(tie.part));
    add("keys", row.text());
  }
  if (!p.guesses.empty()) {
    Row row;
    for (const Guess& guess : p.guesses) row.add(guess.part, quoted(guess.looks));
    add("guesses", row.text());
  }
  if (!p.recordings.empty())
    add("recordings", list(p.recordings, [](const auto& r) { return recording(*r); }));
  if (p.settings != Settings()) {
    Row row;
    if (p.settings.partsSurvive) row.add("partsSurvive", "true");
    add("settings", row.extras(p.settings.extras).text());
  }
  for (const auto& [key, json] : p.extras) add(key, json);
  return out + "\n}\n";
}

std::optional<FileProblem> saveProjectFile(const Project& project, const std::string& path,
                                           const std::optional<FileStamp>& seen, FileStamp* kept) {
  const std::string text = writeProject(project);
  const ReadResult back = readProject(text);
  if (!back.sound())
    return FileProblem{{}, FileProblem::Code::notReadBack, sentence(back.problems.front()), {}};
  if (auto why = replaceFile(path, text, seen)) return why;
  if (kept) *kept = stampOf(text);
  return std::nullopt;
}

std::optional<FileProblem> saveProjectFile(const Project& project, const std::string& path) {
  return saveProjectFile(project, path, std::nullopt);
}

namespace {

// What is quoted comes from the file: of any length, with anything in it.
Message quotable(Message message);
Place quotable(const Place& place) {
  constexpr std::size_t most = 200;
  if (const auto* text = std::get_if<std::string>(&place.what))
    return shortened(plainLine(*text), most);
  if (const auto* message = std::get_if<Message>(&place.what)) return quotable(*message);
  return place;
}
Message quotable(Message message) {
  for (Place& place : message.places) place = quotable(place);
  return message;
}

// What is wrong there, without the place.
Message whatIsWrong(const FileProblem& p) {
  const Say& say = fileSay;
  using What = FileProblem::Code;
  switch (p.code) {
    case What::cannotOpen:
      return say("“{}” cannot be opened", p.value);
    case What::cannotWrite:
      return say("cannot be written: {}", p.value);
    case What::tooLarge:
      return p.value.empty()
                 ? say("the file has more than {} bytes, the most that are read", limits::fileBytes)
                 : say("the file has {} bytes; {} are the most", p.value, limits::fileBytes);
    case What::notJson:
      return say("this is not JSON: {}", p.value);
    case What::notAProject:
      return say("this is not an Ignavo project");
    case What::newerVersion:
      return say("this project has format version {}; this program reads version 1", p.value);
    case What::missing:
      return say("is missing");
    case What::wrongType:
    case What::outOfRange:
      return say("must be {}", p.value);
    case What::unknownKind:
      return say("“{}” is not a {} that is known here", p.value, p.wanted);
    case What::notAChoice:
      return say("“{}” is none of {}", p.value, p.wanted);
    case What::noSuchOwner:
      return say("there is no “{}”", p.value);
    case What::noHole:
      return say("no hole \"{}\" on breadboard \"{}\"", p.value, p.wanted);
    case What::noPin:
      return p.wanted.empty() ? say("no pin \"{}\" on this board", p.value)
                              : say("no pin \"{}\" on {}", p.value, p.wanted);
    case What::noLeg:
      return say("no leg \"{}\" on \"{}\"", p.value, p.wanted);
    case What::badSocket:
      return say("\"{}\" is not a place such as bb.c14 or b1.D4", p.value);
    case What::taken:
      return say("\"{}\" is taken by \"{}\"", p.value, p.wanted);
    case What::duplicateId:
      return say("\"{}\" is there twice", p.value);
    case What::tooMany:
      return say("more than {}", p.value);
    case What::tooDeep:
      return say("nested deeper than {}", p.value);
    case What::tooLong:
      return say("has more than {} letters", p.value);
    case What::notAFile:
      return say("“{}” is no file", p.value);
    case What::readOnly:
      return say("“{}” may only be read; save it under another name", p.value);
    case What::changedBehind:
      return say("“{}” was changed by someone else since it was opened", p.value);
    case What::notReadBack:
      return p.wanted.empty()
                 ? say("what was written could not be read again: {}. The file is as it was",
                       p.value)
                 : say("what was written could not be read again: {}; what was to be saved is in "
                       "{}. The file is as it was",
                       p.value, p.wanted);
  }
  return {};
}

}  // namespace

Message sentence(const FileProblem& problem) {
  const Message what = whatIsWrong(problem);
  const bool ofAll = problem.path.empty() || problem.code == FileProblem::Code::newerVersion;
  return quotable(ofAll ? what : fileSay("{}: {}", problem.path, what));
}

namespace {
bool pathIn(const Steps& steps, const std::string& id, const std::string& at, std::string& out) {
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const std::string here = fmt::format("{}[{}]", at, i);
    if (steps[i].id == id) {
      out = here;
      return true;
    }
    for (const auto& [key, body] : steps[i].bodies)
      if (pathIn(body, id, here + "." + key, out)) return true;
  }
  return false;
}
}  // namespace

std::string stepPath(const Project& project, const std::string& stepId) {
  std::string out;
  for (std::size_t p = 0; p < project.programs.size(); ++p)
    for (std::size_t lanes = 0, own = 0; const auto& held : project.programs[p]->lanes) {
      const bool isOwn = held->trigger.on == ownTrigger;
      const std::string lane = isOwn ? fmt::format("programs[{}].own[{}]", p, own++)
                                     : fmt::format("programs[{}].lanes[{}]", p, lanes++);
      if (held->id == stepId) return lane;
      if (pathIn(held->steps, stepId, lane + ".steps", out)) return out;
    }
  return out;
}

}  // namespace ignavo
