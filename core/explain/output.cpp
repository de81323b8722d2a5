#include "explain/output.h"

#include "parts/catalogue.h"
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

std::vector<std::string> lampsInside(const Project& project, const std::string& part) {
  std::vector<std::string> out;
  const PartKind* kind = showing(project, placeOf(project, part));
  if (!kind || kind->lamps.size() < 2) return out;
  for (int lamp = 0; lamp < static_cast<int>(kind->lamps.size()); ++lamp)
    out.push_back(legOf(*kind, lamp));
  return out;
}

std::string nameOf(const Project& project, const Output& output) {
  if (output.board >= 0)
    return project.boards.size() > 1 ? at(project.boards, output.board).id + "’s own lamp"
                                     : "The board’s own lamp";
  const Part& part = *at(*project.parts, output.part);
  if (output.lamp < 0) return part.name;
  return part.name + " (" + legOf(*catalogue().partKind(part.type), output.lamp) + ")";
}

}  // namespace ignavo
