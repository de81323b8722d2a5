#include "parts/composer.h"

#include <algorithm>
#include <cmath>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/wiring.h"
#include "project/edits.h"

namespace ignavo {

namespace {
constexpr Say say("small circuit");
}

namespace {

using Role = PinShape::Role;

// A rail that is joined to nothing, so that it may be fed.
bool idle(const Nets& nets, int net) {
  const Net& n = nets.all()[static_cast<std::size_t>(net)];
  return n.pins.empty() && n.legs.empty();
}

}  // namespace

Composer::Composer(const Project& project, std::string board, std::string pin)
    : project_(project), board_(std::move(board)), pin_(std::move(pin)) {
  if (!pin_.empty() && !canWire(project_, catalogue(), {board_, pin_}).clear())
    fail(say("A wire is plugged into {} already", pin_));
}

void Composer::fail(Message why) {
  if (problem_.empty()) problem_ = std::move(why);
}

void Composer::rows(int count) {
  const Nets nets(project_, catalogue());
  const auto pinAt = socketAt(project_, catalogue(), {board_, pin_});
  double best = 1e18;
  for (const BreadboardItem& bb : project_.breadboards) {
    const BreadboardKind* kind = breadboardKind(bb.type);
    if (!kind) continue;
    const auto free = [&](int row) {
      if (row < 1 || row > kind->rows) return true;  // beyond the edge nothing is in the way
      for (const char* column : {"a", "f"}) {
        const int net = nets.of({bb.id, column + std::to_string(row)});
        if (nets.all()[static_cast<std::size_t>(net)].used()) return false;
      }
      return true;
    };
    for (int row = 1; row + count - 1 <= kind->rows; ++row) {
      bool all = true;
      for (int k = 0; k < count && all; ++k) all = free(row + k);
      if (!all) continue;
      // A blank row above and below looks tidier, and so does a short wire.
      const Point at = bb.at + kind->at({0, -1, row});
      double cost = pinAt ? std::abs(at.y - pinAt->y) + 0.5 * std::abs(at.x - pinAt->x) : row;
      if (!free(row - 1)) cost += 4;
      if (!free(row + count)) cost += 4;
      if (cost >= best) continue;
      best = cost;
      breadboard_ = bb.id;
      row_ = row;
    }
  }
  if (best > 1e17) fail(say("There are not {} free rows together on a breadboard", count));
}

std::optional<Socket> Composer::hole(const std::string& relative) {
  if (!problem_.empty()) return std::nullopt;
  const int row = row_ + std::stoi(relative.substr(1));
  return Socket{breadboard_, relative.substr(0, 1) + std::to_string(row)};
}

void Composer::part(const std::string& type, const std::vector<std::string>& holes,
                    const std::vector<std::pair<std::string, PropValue>>& props) {
  if (!problem_.empty()) return;
  const PartKind* kind = catalogue().partKind(type);
  Part part = newPart(project_, *kind);
  for (const auto& [key, value] : props) part.setProp(key, value);
  if (!kind->passes) part.name = freeName(project_, kind->nameOf(part));
  std::vector<std::optional<Socket>> sockets;
  for (const std::string& h : holes) sockets.push_back(hole(h));
  ids_.push_back(part.id);
  Arranged a = placed(project_, catalogue(), std::move(part), sockets);
  if (!a.clear()) return fail(sentence(a.obstacle, project_, catalogue(), type));
  project_ = std::move(a.project);
}

void Composer::lay(const Socket& from, const Socket& to) {
  for (const Socket* end : {&from, &to})
    if (const Obstacle o = canWire(project_, catalogue(), *end); !o.clear())
      return fail(sentence(o, project_, catalogue()));
  project_ = withWire(project_, catalogue(), from, to);
  ids_.push_back((*project_.wires).back()->id);
}

void Composer::wireFromPin(const std::string& to) {
  if (const auto end = hole(to); end && !pin_.empty()) lay({board_, pin_}, *end);
}

void Composer::wire(const std::string& from, const std::string& to) {
  const auto a = hole(from), b = hole(to);
  if (a && b) lay(*a, *b);
}

const BoardKind* Composer::kind() const {
  const BoardItem* board = project_.board(board_);
  return board ? catalogue().boardKind(board->type) : nullptr;
}

// The supply that the pin lives on.
const SupplyKind* Composer::ownSupply() const {
  const BoardKind* k = kind();
  const BoardPin* pin = k ? k->pin(pin_) : nullptr;
  return !k ? nullptr : pin ? k->supply(pin->supply) : &k->mainSupply();
}

bool Composer::feeds(const BoardPin& pin, bool plus) const {
  const SupplyKind* own = ownSupply();
  return plus ? own && pin.role == Role::supply && pin.name == own->pin : pin.role == Role::ground;
}

// Is a net joined to the board's supply (plus) or to its ground?
bool Composer::fed(const Nets& nets, int net, bool plus) const {
  if (net < 0 || !kind()) return false;
  const auto& pins = nets.all()[static_cast<std::size_t>(net)].pins;
  return std::any_of(pins.begin(), pins.end(), [&](const PinRef& p) {
    return project_.boards[static_cast<std::size_t>(p.board)].id == board_ &&
           feeds(kind()->pins[static_cast<std::size_t>(p.pin)], plus);
  });
}

std::optional<Socket> Composer::freePin(bool plus) const {
  if (!kind()) return std::nullopt;
  for (const BoardPin& pin : kind()->pins)
    if (feeds(pin, plus) && canWire(project_, catalogue(), {board_, pin.name}).clear())
      return Socket{board_, pin.name};
  return std::nullopt;
}

// The nearest free hole of any rail that is fed already, on whichever breadboard; of any row, where
// there is no such rail.
std::optional<Socket> Composer::fedHole(bool plus, Point near) const {
  const Nets nets(project_, catalogue());
  std::optional<Socket> best;
  double least = 1e9;
  const auto offer = [&](const Socket& s) {
    const Point at = *socketAt(project_, catalogue(), s);
    const double far = std::hypot(at.x - near.x, at.y - near.y);
    if (far >= least || !fed(nets, nets.of(s), plus)) return;
    if (canWire(project_, catalogue(), s).clear()) least = far, best = s;
  };
  const auto offerColumn = [&](const BreadboardItem& bb, const std::string& column, int count) {
    for (int k = 1; k <= count; ++k) offer({bb.id, column + std::to_string(k)});
  };
  for (const BreadboardItem& bb : project_.breadboards)
    for (const std::string side : {"l", "r"})
      if (const BreadboardKind* kind = breadboardKind(bb.type))
        offerColumn(bb, side + (plus ? "p" : "n"), kind->railHoles);
  if (best) return best;
  for (const BreadboardItem& bb : project_.breadboards)
    for (char column = 'a'; column <= 'j'; ++column)
      if (const BreadboardKind* kind = breadboardKind(bb.type))
        offerColumn(bb, {column}, kind->rows);
  return best;
}

// A free hole of the rail on that side, which is fed first if it is not yet.
std::optional<Socket> Composer::fedRail(bool plus, bool left, Point near) {
  const BreadboardItem* bb = project_.breadboard(breadboard_);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  if (!kind || kind->railHoles == 0) return std::nullopt;
  const Point origin = bb->at;  // `bb` itself does not outlive the wires that are laid below
  const std::string rail = std::string(left ? "l" : "r") + (plus ? "p" : "n");
  const auto nearestIn = [&](const std::string& name, double y, int part) -> std::optional<Socket> {
    std::optional<Socket> best;
    double least = 1e9;
    for (int k = 1; k <= kind->railHoles; ++k) {
      const bool second = kind->railBreakAt > 0 && k > kind->railBreakAt;
      if (part >= 0 && second != (part == 1)) continue;
      const Socket s{breadboard_, name + std::to_string(k)};
      const double d = std::abs((origin + kind->at(*kind->parse(s.point))).y - y);
      if (canWire(project_, catalogue(), s).clear() && d < least) least = d, best = s;
    }
    return best;
  };
  // The piece of rail beside the rows, where rails are broken in the middle.
  const auto here = nearestIn(rail, near.y, -1);
  if (!here) return std::nullopt;
  const int at = std::stoi(here->point.substr(2));
  const int piece = kind->railBreakAt > 0 && at > kind->railBreakAt ? 1 : 0;
  const Nets nets(project_, catalogue());
  if (fed(nets, nets.of(*here), plus)) return here;
  if (!idle(nets, nets.of(*here))) return std::nullopt;
  // From the rail of the other side, if that is fed; else from the board.
  const std::string other = std::string(left ? "r" : "l") + (plus ? "p" : "n");
  const Socket probe{breadboard_, other + std::to_string(piece == 1 ? kind->railHoles : 1)};
  // Across at the lower end of that piece, plus above minus.
  const int lowest = piece == 0 && kind->railBreakAt > 0 ? kind->railBreakAt : kind->railHoles;
  const Socket end{breadboard_, other + std::to_string(lowest - (plus ? 1 : 0))};
  const double bottom = (origin + kind->at(*kind->parse(end.point))).y;
  if (fed(nets, nets.of(probe), plus)) {
    const auto a = nearestIn(other, bottom, piece);
    const auto b = nearestIn(rail, bottom, piece);
    if (!a || !b) return std::nullopt;
    lay(*a, *b);
    return nearestIn(rail, near.y, piece);
  }
  if (const auto pin = freePin(plus)) {
    // To the rail next to the board first, then across.
    const double pinY = socketAt(project_, catalogue(), *pin)->y;
    const auto first = nearestIn(std::string("l") + (plus ? "p" : "n"), pinY, piece);
    if (!first) return std::nullopt;
    lay(*pin, *first);
    return left ? nearestIn(rail, near.y, piece) : fedRail(plus, left, near);
  }
  // From another piece of rail, or from another breadboard.
  const auto from = fedHole(plus, *socketAt(project_, catalogue(), *here));
  if (!from) return std::nullopt;
  const auto to = nearestIn(rail, socketAt(project_, catalogue(), *from)->y, piece);
  if (!to) return std::nullopt;
  lay(*from, *to);
  return nearestIn(rail, near.y, piece);
}

void Composer::join(const std::string& to, bool plus) {
  const auto end = hole(to);
  if (!end) return;
  const Point at = *socketAt(project_, catalogue(), *end);
  const bool left = to[0] < 'f';
  if (const auto rail = fedRail(plus, left, at)) return lay(*end, *rail);
  if (!problem_.empty()) return;
  if (const auto rail = fedRail(plus, !left, at)) return lay(*end, *rail);
  if (!problem_.empty()) return;
  if (const auto pin = freePin(plus)) return lay(*pin, *end);
  if (const auto rail = fedHole(plus, at)) return lay(*rail, *end);
  const SupplyKind* own = ownSupply();
  fail(say("No free hole is joined to {}", plus && own ? own->label : "GND"));
}

void Composer::ground(const std::string& to) { join(to, false); }
void Composer::supply(const std::string& to) { join(to, true); }

void Composer::pullUp() {
  if (problem_.empty()) project_ = edits::setPull(std::move(project_), board_, pin_, true);
}

}  // namespace ignavo
