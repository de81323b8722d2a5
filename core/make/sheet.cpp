#include "make/sheet.h"

#include <algorithm>
#include <cctype>
#include <map>
#include <tuple>

#include "bench/breadboards.h"
#include "bench/identity.h"
#include "bench/placing.h"
#include "bench/wiring.h"
#include "parts/circuit.h"
#include "program/steps.h"

namespace ignavo {

namespace {

std::string capital(std::string s) {
  if (!s.empty()) s[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(s[0])));
  return s;
}

class Sheet {
 public:
  explicit Sheet(const Project& project)
      : p_(project), circuit_(project), identities_(project, circuit_.nets(), catalogue()) {}

  BuildSheet make(bool withReadings = true) {
    countItems();
    out_.groups = {{say_("Join the rails"), {}},
                   {say_("Place the parts"), {}},
                   {say_("Wire them up"), {}},
                   {say_("Power, last"), {}}};
    placeParts();
    layWires();
    std::erase_if(out_.groups, [](const SheetGroup& g) { return g.steps.empty(); });
    if (withReadings) readMeter();
    return std::move(out_);
  }

 private:
  static constexpr Say say_{"sheet"};

  void countItems() {
    std::map<std::tuple<int, std::string>, SheetItem> items;
    const auto add = [&](int order, const std::string& name, double ohms) {
      SheetItem& item = items[{order, name}];
      item.name = name;
      item.ohms = ohms;
      ++item.count;
    };
    for (const auto& b : p_.boards)
      if (const BoardKind* k = catalogue().boardKind(b.type)) add(0, k->label, 0);
    for (const auto& b : p_.breadboards)
      if (const BreadboardKind* k = breadboardKind(b.type)) add(1, k->name, 0);
    for (const auto& part : *p_.parts) {
      const PartKind* k = catalogue().partKind(part->type);
      if (!k) continue;
      const double ohms = k->passes ? part->number("ohms", 0) : 0;
      add(2 + k->buildRank,
          k->passes ? k->label + " " + k->shortText(*part) : capital(k->shortText(*part)), ohms);
    }
    for (const auto& [key, item] : items) out_.items.push_back(item);
    if (!p_.wires->empty())
      out_.items.push_back({static_cast<int>(p_.wires->size()), "Jumper wire", 0});
  }

  Point where(const Socket& s) const { return socketAt(p_, catalogue(), s).value_or(Point{}); }

  std::string placed(const Socket& s) const { return placeName(p_, s); }

  void placeParts() {
    std::vector<const Part*> parts;
    for (const auto& part : *p_.parts)
      if (part->legs.empty() || part->legs[0].in) parts.push_back(&*part);
    std::stable_sort(parts.begin(), parts.end(), [&](const Part* a, const Part* b) {
      const auto key = [&](const Part* p) {
        const Point at = where(*p->legs[0].in);
        return std::tuple(catalogue().partKind(p->type)->buildRank, at.y, at.x);
      };
      return key(a) < key(b);
    });
    for (const Part* part : parts) {
      const PartKind& kind = *catalogue().partKind(part->type);
      SheetStep step{"part:" + part->id, part->id, {}, {}};
      const std::string name = kind.passes ? kind.shortText(*part) : part->name;
      if (kind.print.polarised) {
        Place::Several legs;
        for (std::size_t l = 0; l < part->legs.size(); ++l) {
          const std::string& meaning = kind.print.legs[l].meaning;
          const Message leg("part", meaning.substr(0, meaning.find(',')), {});
          legs.push_back(part->legs[l].in ? say_("{} {}", leg, placed(*part->legs[l].in))
                                          : say_("{} free", leg));
        }
        step.text = say_("{}: {}", name, std::move(legs));
        step.hint = say_("The flat side of the rim is at the short leg.");
      } else if (!kind.print.joined.empty() && part->legs[2].in) {
        const std::string first = part->legs[0].in->point.substr(1),
                          second = part->legs[2].in->point.substr(1);
        step.text = p_.breadboards.size() > 1
                        ? say_("{}: across the trench of {}, {} and {}", name,
                               part->legs[0].in->owner, first, second)
                        : say_("{}: across the trench, {} and {}", name, first, second);
        step.hint = say_("The legs bend towards a–e and f–j.");
      } else {
        const std::string from = placed(*part->legs[0].in);
        step.text = part->legs[1].in ? say_("{}: {} → {}", name, from, placed(*part->legs[1].in))
                                     : say_("{}: {}, the other leg free", name, from);
        step.hint = say_("Either way round.");
      }
      out_.groups[1].steps.push_back(std::move(step));
    }
  }

  bool isRail(const Socket& s) const {
    const BreadboardItem* bb = p_.breadboard(s.owner);
    const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
    const auto hole = kind ? kind->parse(s.point) : std::nullopt;
    return hole && hole->rail >= 0;
  }
  // Number of a board pin along the edge, -1 for anything else.
  int pinOrder(const Socket& s, bool& supply) const {
    const BoardItem* board = p_.board(s.owner);
    const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
    if (!kind) return -1;
    const int i = kind->shape.pinIndex(s.point);
    supply =
        supply || (i >= 0 && kind->pins[static_cast<std::size_t>(i)].role != PinShape::Role::io);
    return i;
  }

  void layWires() {
    struct Row {
      int group;
      int order;
      SheetStep step;
    };
    std::vector<Row> rows;
    for (const auto& wire : *p_.wires) {
      bool supply = false;
      const int from = pinOrder(wire->from, supply), to = pinOrder(wire->to, supply);
      const int order = std::max(from, to);
      const int group = supply ? 3 : isRail(wire->from) && isRail(wire->to) ? 0 : 2;
      const std::string colour = capital(colourWord(identities_.ofWire(*wire, circuit_.nets())));
      const bool swap = to >= 0 && from < 0;
      SheetStep step{"wire:" + wire->id,
                     wire->id,
                     say_("{} wire: {} → {}", colour, placed(swap ? wire->to : wire->from),
                          placed(swap ? wire->from : wire->to)),
                     {}};
      rows.push_back({group, order, std::move(step)});
    }
    // Ground before 5 V, so that the supply is the very last wire.
    std::stable_sort(rows.begin(), rows.end(), [](const Row& a, const Row& b) {
      const auto key = [](const Row& r) {
        return std::pair(r.group, r.group == 3 ? -r.order : r.order);
      };
      return key(a) < key(b);
    });
    for (Row& row : rows)
      out_.groups[static_cast<std::size_t>(row.group)].steps.push_back(std::move(row.step));
  }

  // A free hole of the net for a probe, rails first.
  std::string probeHole(int net) const {
    const Occupancy taken = occupancy(p_);
    std::optional<Socket> found;
    for (const Socket& s : circuit_.nets().sockets(net, p_, catalogue()))
      if (p_.breadboard(s.owner) && !taken.contains(s) &&
          (!found || (isRail(s) && !isRail(*found))))
        found = s;
    return found ? placed(*found) : std::string();
  }
  // For the black probe, at one of a board's ground pins.
  std::string groundHole(int board) const {
    const auto& nets = circuit_.nets().all();
    for (std::size_t n = 0; n < nets.size(); ++n) {
      const auto& pins = nets[n].pins;
      const bool own =
          circuit_.isGroundNet(static_cast<int>(n)) &&
          std::any_of(pins.begin(), pins.end(), [&](const PinRef& p) { return p.board == board; });
      if (!own) continue;
      if (std::string hole = probeHole(static_cast<int>(n)); !hole.empty()) return hole;
    }
    return {};
  }

  // The volts of a net above the ground of a board.
  void read(int board, const Message& when, int net, const CircuitState& state) {
    const std::string hole = probeHole(net);
    const std::string& black = blacks_[static_cast<std::size_t>(board)];
    out_.groundMissing = out_.groundMissing || (!hole.empty() && black.empty());
    if (hole.empty() || black.empty()) return;
    const CircuitReading r = circuit_.solve(state);
    const auto volts = r.nets[static_cast<std::size_t>(net)];
    if (!r.converged || !volts) return;
    double ground = 0;
    for (std::size_t p = 0; p < circuit_.pins().size(); ++p)
      if (circuit_.pins()[p].ref.board == board) ground = r.pins[p].groundVolts;
    out_.readings.push_back({hole, black, when, *volts - ground});
  }

  void readMeter() {
    if (circuit_.anyShorted()) return;
    const CircuitState state = circuit_.restState();
    for (int b = 0; b < static_cast<int>(p_.boards.size()); ++b) blacks_.push_back(groundHole(b));
    for (int b = 0; b < static_cast<int>(p_.boards.size()); ++b) {
      for (const BoardSupply& supply : circuit_.supplies())
        if (supply.board == b &&
            circuit_.nets().all()[static_cast<std::size_t>(supply.net)].pins.size() == 1)
          read(b, {}, supply.net, state);
      readPins(b, state);
    }
  }

  void readPins(int board, const CircuitState& state) {
    const BoardItem& item = p_.boards[static_cast<std::size_t>(board)];
    const Program* program = p_.program(item.id);
    const std::vector<PinUse> uses = program ? pinUses(*program) : std::vector<PinUse>();
    for (std::size_t i = 0; i < circuit_.pins().size(); ++i) {
      const CircuitPin& pin = circuit_.pins()[i];
      const auto use = std::find_if(uses.begin(), uses.end(),
                                    [&](const PinUse& u) { return u.pin == pin.name; });
      if (pin.ref.board != board || use == uses.end()) continue;
      if (!use->writers.empty()) {
        CircuitState high = state;
        high.pins[i] = PinDrive::high;
        const Message when = say_("while {} is high", placed({item.id, pin.name}));
        read(board, when, pin.net, high);
        // And behind the resistor, where a lamp begins.
        for (int part : circuit_.island(pin.island).parts) {
          const PartKind* kind = circuit_.kindOf(part);
          const int net =
              kind && kind->print.polarised ? circuit_.nets().ofLeg({part, 0}) : pin.net;
          if (net != pin.net && !circuit_.supplyVolts(net)) read(board, when, net, high);
        }
      } else {
        for (int part : circuit_.island(pin.island).parts) {
          const PartKind* kind = circuit_.kindOf(part);
          if (!kind || !kind->pressable) continue;
          const std::string& name = (*p_.parts)[static_cast<std::size_t>(part)]->name;
          CircuitState held = state;
          held.pressed[static_cast<std::size_t>(part)] = 1;
          read(board, say_("{} up", name), pin.net, state);
          read(board, say_("{} held", name), pin.net, held);
        }
      }
    }
  }

  const Project& p_;
  Circuit circuit_;
  Identities identities_;
  std::vector<std::string> blacks_;  // per board
  BuildSheet out_;
};

}  // namespace

int BuildSheet::stepCount() const {
  int n = 0;
  for (const SheetGroup& g : groups) n += static_cast<int>(g.steps.size());
  return n;
}

int BuildSheet::doneCount(const Project& project) const {
  int n = 0;
  for (const SheetGroup& g : groups)
    for (const SheetStep& s : g.steps)
      n += std::find(project.ticks.begin(), project.ticks.end(), s.tick) != project.ticks.end() ? 1
                                                                                                : 0;
  return n;
}

BuildSheet buildSheet(const Project& project) { return Sheet(project).make(); }

SheetProgress sheetProgress(const Project& project) {
  const BuildSheet sheet = Sheet(project).make(false);
  return {sheet.stepCount(), sheet.doneCount(project)};
}

}  // namespace ignavo
