#include "bench/breadboards.h"

#include <charconv>
#include <cmath>

namespace ignavo {

namespace {

constexpr const char* railAddresses[] = {"lp", "ln", "rp", "rn"};
constexpr const char* railNames[] = {"left + rail", "left − rail", "right + rail", "right − rail"};
constexpr double firstRowY = 1.9;

// x of columns a–j and of the rails; boards without rails start three pitches further left.
double columnX(int column, bool rails) {
  const double x = column < 5 ? 4.0 + column : 11.0 + (column - 5);
  return rails ? x + 0.5 : x - 2.5;
}
constexpr double railX[] = {1.0, 2.0, 18.0, 19.0};

int railRow(int number) { return number + (number - 1) / 5; }

}  // namespace

int BreadboardKind::stripOf(const Hole& hole) const {
  if (hole.column >= 0) return 2 * (hole.number - 1) + (hole.column < 5 ? 0 : 1);
  const int part = railBreakAt > 0 && hole.number > railBreakAt ? 1 : 0;
  return 2 * rows + hole.rail * railParts() + part;
}

std::vector<Hole> BreadboardKind::holesOf(int strip) const {
  std::vector<Hole> holes;
  if (strip < 2 * rows) {
    const int first = strip % 2 == 0 ? 0 : 5;
    for (int c = first; c < first + 5; ++c) holes.push_back({c, -1, strip / 2 + 1});
    return holes;
  }
  const int rail = (strip - 2 * rows) / railParts();
  for (int n = 1; n <= railHoles; ++n)
    if (stripOf({-1, rail, n}) == strip) holes.push_back({-1, rail, n});
  return holes;
}

const std::string& BreadboardKind::stripName(int strip) const {
  return stripNames[static_cast<std::size_t>(strip)];
}

namespace {
std::string nameOfStrip(const BreadboardKind& kind, int strip) {
  const int rows = kind.rows;
  if (strip < 2 * rows)
    return "row " + std::to_string(strip / 2 + 1) + (strip % 2 == 0 ? " left" : " right");
  const int index = strip - 2 * rows;
  std::string text = railNames[index / kind.railParts()];
  if (kind.railParts() == 2) text += index % 2 == 0 ? ", upper half" : ", lower half";
  return text;
}
}  // namespace

std::optional<Hole> BreadboardKind::parse(const std::string& address) const {
  std::size_t digits = 1;
  Hole hole;
  if (address.size() >= 3 && railHoles > 0)
    for (int r = 0; r < 4; ++r)
      if (address.compare(0, 2, railAddresses[r]) == 0) {
        hole.rail = r;
        digits = 2;
      }
  if (hole.rail < 0) {
    if (address.size() < 2 || address[0] < 'a' || address[0] > 'j') return std::nullopt;
    hole.column = address[0] - 'a';
  }
  const char* end = address.data() + address.size();
  const char* start = address.data() + digits;
  if (*start == '0' || *start == '-' || *start == '+') return std::nullopt;
  const auto [stopped, error] = std::from_chars(start, end, hole.number);
  if (error != std::errc() || stopped != end) return std::nullopt;
  if (hole.number < 1 || hole.number > (hole.rail >= 0 ? railHoles : rows)) return std::nullopt;
  return hole;
}

std::string BreadboardKind::address(const Hole& hole) const {
  if (hole.rail >= 0) return railAddresses[hole.rail] + std::to_string(hole.number);
  return static_cast<char>('a' + hole.column) + std::to_string(hole.number);
}

Point BreadboardKind::at(const Hole& hole) const {
  if (hole.rail >= 0) return {railX[hole.rail], firstRowY + railRow(hole.number) - 1};
  return {columnX(hole.column, railHoles > 0), firstRowY + hole.number - 1};
}

std::vector<Hole> BreadboardKind::allHoles() const {
  std::vector<Hole> holes;
  for (int s = 0; s < strips(); ++s)
    for (const Hole& h : holesOf(s)) holes.push_back(h);
  return holes;
}

std::optional<Hole> BreadboardKind::nearest(Point p, double within) const {
  std::optional<Hole> best;
  double bestSquare = within * within;
  const auto offer = [&](const Hole& hole) {
    const Point d = at(hole) - p;
    const double square = d.x * d.x + d.y * d.y;
    if (square <= bestSquare) {
      bestSquare = square;
      best = hole;
    }
  };
  const int row = static_cast<int>(std::lround(p.y - firstRowY)) + 1;
  for (int r = row - 1; r <= row + 1; ++r)
    for (int c = 0; c < 10; ++c)
      if (r >= 1 && r <= rows) offer({c, -1, r});
  for (int rail = 0; rail < 4 && railHoles > 0; ++rail) {
    const int guess = static_cast<int>(std::lround((p.y - firstRowY) * 5.0 / 6.0)) + 1;
    for (int n = guess - 2; n <= guess + 2; ++n)
      if (n >= 1 && n <= railHoles) offer({-1, rail, n});
  }
  return best;
}

const std::vector<BreadboardKind>& breadboardKinds() {
  static const std::vector<BreadboardKind> kinds = [] {
    std::vector<BreadboardKind> made = {
        {"half", "Half breadboard", 30, 25, 0, 20, 33,
         "Thirty rows. In each row a–e are joined inside, and f–j; the trench separates them."},
        {"full", "Full breadboard", 63, 50, 25, 20, 66,
         "Sixty-three rows. Each rail is broken in the middle: bridge the halves with a wire."},
        {"mini", "Mini breadboard", 17, 0, 0, 14, 20, "Seventeen rows and no rails."},
    };
    for (BreadboardKind& kind : made)
      for (int s = 0; s < kind.strips(); ++s) kind.stripNames.push_back(nameOfStrip(kind, s));
    return made;
  }();
  return kinds;
}

const BreadboardKind* breadboardKind(const std::string& type) {
  for (const auto& kind : breadboardKinds())
    if (kind.type == type) return &kind;
  return nullptr;
}

}  // namespace ignavo
