#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench/nets.h"

namespace ignavo {

// The colour by which a pin, its wire, its steps and its trace are recognised.
// Values themselves stand in the application's theme; here they have names.
const std::vector<std::string>& identityNames();

// The name of the colour that people call so: "grey" is stone. Nothing: there is none.
std::optional<std::string> identityCalled(const std::string& word);

struct NetColour {
  enum class Kind { plain, pin, supply, ground } kind = Kind::plain;
  int index = 0;  // in identityNames(), counted on beyond its size (then striped)
  bool operator==(const NetColour&) const = default;
};

// Identity colours of all pins of a project, in the order in which wires first
// used them; pins that only the programs use follow.
class Identities {
 public:
  Identities() = default;
  Identities(const Project& project, const Nets& nets, const Shapes& shapes);

  NetColour ofNet(int net) const;
  // -1 when the pin has no colour yet.
  int ofPin(const std::string& board, const std::string& pin) const;
  // Colour of a wire: its own if the user gave it one, else that of its net.
  NetColour ofWire(const Wire& wire, const Nets& nets) const;
  // The first colour that no pin has.
  int firstFree() const;

 private:
  std::map<std::pair<std::string, std::string>, int> pins_;
  std::map<int, NetColour> nets_;
};

// "red", "black", or the identity name: how a wire is called on a build sheet.
std::string colourWord(const NetColour& colour);

}  // namespace ignavo
