#include "parts/catalogue.h"

#include <algorithm>
#include <cctype>

#include "parts/list.h"

namespace ignavo {

const std::vector<const PartKind*>& Catalogue::parts() const {
  static const std::vector<const PartKind*> all = {
      &ledKind(),           &resistorKind(),    &buttonKind(),     &piezoKind(), &rgbLedKind(),
      &numberDisplayKind(), &buzzerKind(),      &motorKind(),      &servoKind(), &switchKind(),
      &potKind(),           &lightSensorKind(), &tempSensorKind(), &diodeKind(), &npnKind(),
      &nmosKind(),          &capacitorKind(),   &batteryKind(),    &meterKind()};
  return all;
}

const std::vector<const BoardKind*>& Catalogue::boards() const {
  static const std::vector<const BoardKind*> all = {&ternKind()};
  return all;
}

const PartKind* Catalogue::partKind(const std::string& type) const {
  for (const PartKind* k : parts())
    if (k->type == type) return k;
  return nullptr;
}

const BoardKind* Catalogue::boardKind(const std::string& type) const {
  for (const BoardKind* k : boards())
    if (k->type == type) return k;
  return nullptr;
}

const BoardShape* Catalogue::board(const std::string& type) const {
  const BoardKind* k = boardKind(type);
  return k ? &k->shape : nullptr;
}

const Footprint* Catalogue::part(const std::string& type) const {
  const PartKind* k = partKind(type);
  return k ? &k->print : nullptr;
}

namespace {
std::string lower(std::string s) {
  std::transform(s.begin(), s.end(), s.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return s;
}
}  // namespace

std::vector<const PartKind*> Catalogue::search(const std::string& typed) const {
  const std::string wanted = lower(typed);
  std::vector<const PartKind*> found;
  for (const PartKind* k : parts()) {
    std::vector<std::string> words = k->words;
    words.insert(words.end(), {lower(k->label), lower(k->category), k->type});
    if (std::any_of(words.begin(), words.end(),
                    [&](const std::string& w) { return w.starts_with(wanted); }))
      found.push_back(k);
  }
  return found;
}

const Catalogue& catalogue() {
  static const Catalogue all;
  return all;
}

Part samplePart(const PartKind& kind) {
  Part part;
  part.type = kind.type;
  for (const PropKind& prop : kind.props) {
    if (prop.type == PropKind::Type::number)
      part.setProp(prop.key, prop.defaultValue);
    else if (prop.type == PropKind::Type::choice)
      part.setProp(prop.key, prop.choices.front());
    else
      part.setProp(prop.key, false);
  }
  for (const LegShape& leg : kind.print.legs) part.legs.push_back({leg.id, std::nullopt});
  return part;
}

Part newPart(const Project& project, const PartKind& kind) {
  Part part = samplePart(kind);
  part.id = freeId(project, kind.idStem);
  part.name = newName(kind, part, project);
  return part;
}

namespace {

// Walks from a net through resistors to the first lamp, button or other part
// that people would name; supply nets end the walk.
std::string namedBehind(const Project& project, const Nets& nets, int start) {
  std::vector<int> seen{start};
  std::string resistor;
  for (std::size_t i = 0; i < seen.size(); ++i) {
    for (const LegRef& leg : nets.all()[static_cast<std::size_t>(seen[i])].legs) {
      const Part& part = *(*project.parts)[static_cast<std::size_t>(leg.part)];
      const PartKind* kind = catalogue().partKind(part.type);
      if (!kind || !kind->passes) return part.name;
      if (resistor.empty()) resistor = part.name;
      const int next = nets.ofLeg({leg.part, 1 - leg.leg});
      const Net& net = nets.all()[static_cast<std::size_t>(next)];
      if (net.pins.empty() && std::find(seen.begin(), seen.end(), next) == seen.end())
        seen.push_back(next);
    }
  }
  return resistor;
}

}  // namespace

std::string pinLabel(const Project& project, const Nets& nets, const std::string& board,
                     const std::string& pin) {
  const Program* program = project.program(board);
  const std::string given = program ? program->labelOf(pin) : std::string();
  return given.empty() ? hangsOn(project, nets, board, pin) : given;
}

std::vector<std::string> programPins(const Project& project, const std::string& board) {
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  std::vector<std::string> out;
  if (kind)
    for (const BoardPin& pin : kind->pins)
      if (pin.role == PinShape::Role::io) out.push_back(pin.name);
  return out;
}

int programPinIndex(const Project& project, const std::string& board, const std::string& pin) {
  int before = 0;
  for (const BoardItem& item : project.boards) {
    const std::vector<std::string> pins = programPins(project, item.id);
    const auto at = std::find(pins.begin(), pins.end(), pin) - pins.begin();
    if (item.id == board)
      return static_cast<std::size_t>(at) < pins.size() ? before + static_cast<int>(at) : -1;
    before += static_cast<int>(pins.size());
  }
  return -1;
}

std::string hangsOn(const Project& project, const Nets& nets, const std::string& board,
                    const std::string& pin) {
  const int net = nets.of({board, pin});
  if (net < 0) return {};
  std::string name = namedBehind(project, nets, net);
  if (name.empty()) {
    const BoardItem* item = project.board(board);
    const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
    if (kind && kind->lampPin == pin) name = "board’s own lamp";
  }
  return name;
}

}  // namespace ignavo
