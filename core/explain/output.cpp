#include "explain/output.h"

#include <algorithm>

#include "parts/catalogue.h"
#include "program/facts.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

int placeOf(const Project& project, const std::string& part) {
  for (std::size_t p = 0; p < project.parts->size(); ++p)
    if ((*project.parts)[p]->id == part) return static_cast<int>(p);
  return -1;
}

const PartKind* showing(const Project& project, int part) {
  const PartKind* kind = part < 0 ? nullptr : catalogue().partKind(at(*project.parts, part)->type);
  return kind && kind->shows != Shows::nothing ? kind : nullptr;
}

const std::string& legOf(const PartKind& kind, int lamp) {
  return at(kind.print.legs, at(kind.lamps, lamp)).id;
}

// Is there something beside the one leg?
bool isJoined(const Nets& nets, const Socket& socket) {
  const int net = nets.of(socket);
  return net >= 0 && at(nets.all(), net).legs.size() + at(nets.all(), net).wires.size() > 1;
}

}  // namespace

std::optional<Output> outputNamed(const Project& project, const std::string& name) {
  for (std::size_t b = 0; b < project.boards.size(); ++b) {
    const BoardKind* kind = catalogue().boardKind(project.boards[b].type);
    if (project.boards[b].id == name && kind && !kind->lampPin.empty())
      return Output{-1, -1, static_cast<int>(b)};
  }
  if (const int part = placeOf(project, name); part >= 0)
    return showing(project, part) ? std::optional(Output{part}) : std::nullopt;
  const auto dot = name.rfind('.');
  if (dot == std::string::npos) return std::nullopt;
  const int part = placeOf(project, name.substr(0, dot));
  const PartKind* kind = showing(project, part);
  if (!kind || kind->lamps.size() < 2) return std::nullopt;
  for (int lamp = 0; lamp < static_cast<int>(kind->lamps.size()); ++lamp)
    if (legOf(*kind, lamp) == name.substr(dot + 1)) return Output{part, lamp};
  return std::nullopt;
}

std::vector<LampInside> lampsInside(const Project& project, const std::string& part) {
  std::vector<LampInside> out;
  const PartKind* kind = showing(project, placeOf(project, part));
  if (!kind || kind->lamps.size() < 2) return out;
  for (int lamp = 0; lamp < static_cast<int>(kind->lamps.size()); ++lamp)
    out.push_back(
        {part + "." + legOf(*kind, lamp), at(kind->print.legs, at(kind->lamps, lamp)).meaning});
  return out;
}

std::vector<std::string> lampsOf(const Project& project) {
  const Nets nets(project, catalogue());
  std::vector<std::string> out;
  for (const auto& part : *project.parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    if (!kind || kind->shows != Shows::light) continue;
    if (kind->lamps.size() == 1) out.push_back(part->id);
    for (int lamp = 0; kind->lamps.size() > 1 && lamp < static_cast<int>(kind->lamps.size());
         ++lamp)
      if (const auto& in = at(part->legs, at(kind->lamps, lamp)).in; in && isJoined(nets, *in))
        out.push_back(part->id + "." + legOf(*kind, lamp));
  }
  for (const BoardItem& board : project.boards) {
    const BoardKind* kind = catalogue().boardKind(board.type);
    const Program* program = project.program(board.id);
    if (!kind || !program) continue;
    const std::vector<PinUse> uses = pinUses(*program);
    if (std::any_of(uses.begin(), uses.end(), [&](const PinUse& use) {
          return use.pin == kind->lampPin && !use.writers.empty();
        }))
      out.push_back(board.id);
  }
  return out;
}

int lampSignal(const Trace& trace, const Project& project, const Output& output) {
  if (output.board >= 0) {
    const BoardItem& board = at(project.boards, output.board);
    return trace.find(Signal::What::pinLevel, board.id, catalogue().boardKind(board.type)->lampPin);
  }
  const Part& part = *at(*project.parts, output.part);
  const std::string leg =
      output.lamp < 0 ? "" : legOf(*catalogue().partKind(part.type), output.lamp);
  return trace.find(Signal::What::partAmps, part.id, leg);
}

std::string nameOf(const Project& project, const Output& output) {
  if (output.board >= 0)
    return project.boards.size() > 1 ? at(project.boards, output.board).id + "’s own lamp"
                                     : "Board’s own lamp";
  const Part& part = *at(*project.parts, output.part);
  if (output.lamp < 0) return part.name;
  return part.name + " (" + legOf(*catalogue().partKind(part.type), output.lamp) + ")";
}

}  // namespace ignavo
