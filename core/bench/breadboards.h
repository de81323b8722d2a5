#pragma once
#include <optional>
#include <string>
#include <vector>

#include "project/project.h"

namespace ignavo {

// Rails in the order of the strips: left +, left −, right +, right −.
enum class Rail { leftPlus, leftMinus, rightPlus, rightMinus };

// One hole of a breadboard: a column a–j with a row, or a rail with a number.
struct Hole {
  int column = -1;  // 0 (a) … 9 (j); -1 in a rail
  int rail = -1;    // 0 … 3, as in Rail; -1 in a row
  int number = 0;   // row, or place in the rail; from 1
  bool operator==(const Hole&) const = default;
};

// A breadboard type as data. Lengths are in hole pitches from its upper left corner.
struct BreadboardKind {
  std::string type;
  std::string name;
  int rows = 0;
  int railHoles = 0;    // per rail; 0: no rails
  int railBreakAt = 0;  // holes after this one are a strip of their own; 0: no break
  double width = 0;
  double height = 0;
  std::string help;
  std::vector<std::string> stripNames = {};  // of each strip, made with the row

  // Strips are the pieces of metal inside: two per row, then the rails.
  int strips() const { return 2 * rows + 4 * railParts(); }
  int railParts() const { return railHoles == 0 ? 0 : (railBreakAt > 0 ? 2 : 1); }
  bool hasBreaks() const { return railParts() > 1; }
  bool isRail(int strip) const { return strip >= 2 * rows; }
  bool isPlusRail(int strip) const {
    return isRail(strip) && (strip - 2 * rows) / railParts() % 2 == 0;
  }
  int stripOf(const Hole& hole) const;
  std::vector<Hole> holesOf(int strip) const;
  // "row 14 left", "left − rail"; what people call the strip.
  const std::string& stripName(int strip) const;

  std::optional<Hole> parse(const std::string& address) const;
  std::string address(const Hole& hole) const;
  Point at(const Hole& hole) const;
  // The hole nearest to a point (in this board's own coordinates) within `within` pitches.
  std::optional<Hole> nearest(Point p, double within) const;
  std::vector<Hole> allHoles() const;
};

const std::vector<BreadboardKind>& breadboardKinds();
const BreadboardKind* breadboardKind(const std::string& type);

}  // namespace ignavo
