#pragma once
#include <string>
#include <vector>

#include "bench/nets.h"
#include "bench/shapes.h"
#include "parts/kinds.h"

namespace ignavo {

// All part kinds and boards, in one explicit list (catalogue.cpp).
class Catalogue final : public Shapes {
 public:
  const BoardShape* board(const std::string& type) const override;
  const Footprint* part(const std::string& type) const override;

  const PartKind* partKind(const std::string& type) const;
  const BoardKind* boardKind(const std::string& type) const;
  const std::vector<const PartKind*>& parts() const;
  const std::vector<const BoardKind*>& boards() const;
  // Kinds with a label, a category or a search word that begins with `typed`.
  std::vector<const PartKind*> search(const std::string& typed) const;
};

const Catalogue& catalogue();

// A part of that kind with default properties, in no hole, with neither id nor name.
Part samplePart(const PartKind& kind);
// Its friendly name, of those that `names` (a Project, or what is Taken in one) does not have yet.
// Resistors are numbered, not named.
template <typename Names>
std::string newName(const PartKind& kind, const Part& part, Names& names) {
  const std::string name = kind.nameOf(part);
  return name == "R1" ? freeNumber(names, "R") : freeName(names, name);
}
// A sample with an id and a friendly name of its own.
Part newPart(const Project& project, const PartKind& kind);
// The pins of a board that its program can name, in the order of its edge.
std::vector<std::string> programPins(const Project& project, const std::string& board);
// Its place among the pins of all boards that programs can name, as Circuit::pins() counts them;
// -1: no such pin.
int programPinIndex(const Project& project, const std::string& board, const std::string& pin);
// What hangs on a pin, named from the circuit: "Red lamp", "Call button", or nothing.
std::string hangsOn(const Project& project, const Nets& nets, const std::string& board,
                    const std::string& pin);
// The same, or the label that the user gave the pin in its place.
std::string pinLabel(const Project& project, const Nets& nets, const std::string& board,
                     const std::string& pin);

}  // namespace ignavo
