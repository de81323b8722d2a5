#include "check/joins.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>
#include <queue>
#include <utility>

#include "bench/breadboards.h"
#include "bench/nets.h"
#include "parts/catalogue.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr int mostTakenOut = 3;

Project withoutWires(Project project) {
  project.wires = Cow<std::vector<Cow<Wire>>>();
  return project;
}

// What is metal without any wire, as nodes; the wires as ways between them.
class Metal {
 public:
  explicit Metal(const Project& project)
      : project_(project), nodes_(withoutWires(project), catalogue()) {
    for (const auto& wire : *project.wires)
      ways_.emplace_back(nodes_.of(wire->from), nodes_.of(wire->to));
    out_.resize(ways_.size());
  }
  void takeOut(int wire) { out_[static_cast<std::size_t>(wire)] = 1; }

  std::vector<int> nodesOf(const std::vector<Socket>& sockets) const {
    std::vector<int> out;
    for (const Socket& s : sockets)
      if (const int n = nodes_.of(s); n >= 0) out.push_back(n);
    return out;
  }

  // The wires of the shortest way; nothing when there is none.
  std::optional<std::vector<int>> way(const std::vector<int>& from,
                                      const std::vector<int>& to) const {
    const std::size_t count = nodes_.all().size();
    std::vector<int> by(count, -2);  // the wire that led there; -1: here it begins
    std::queue<int> next;
    for (int n : from)
      if (std::exchange(by[static_cast<std::size_t>(n)], -1) == -2) next.push(n);
    while (!next.empty()) {
      const int at = next.front();
      next.pop();
      if (std::find(to.begin(), to.end(), at) != to.end()) return back(at, by);
      for (std::size_t w = 0; w < ways_.size(); ++w) {
        const auto [a, b] = ways_[w];
        if (out_[w] || a < 0 || b < 0 || (a != at && b != at)) continue;
        const int other = a == at ? b : a;
        if (by[static_cast<std::size_t>(other)] != -2) continue;
        by[static_cast<std::size_t>(other)] = static_cast<int>(w);
        next.push(other);
      }
    }
    return std::nullopt;
  }

  // How badly things stand without this wire too; smaller is better.
  int harm(int without) const {
    std::vector<int> root(nodes_.all().size());
    std::iota(root.begin(), root.end(), 0);
    const auto find = [&](int n) {
      while (root[static_cast<std::size_t>(n)] != n) n = root[static_cast<std::size_t>(n)];
      return n;
    };
    for (std::size_t w = 0; w < ways_.size(); ++w)
      if (const auto [a, b] = ways_[w];
          !out_[w] && static_cast<int>(w) != without && a >= 0 && b >= 0)
        root[static_cast<std::size_t>(find(a))] = find(b);
    std::vector<Joined> joined(root.size());
    for (std::size_t n = 0; n < root.size(); ++n)
      add(nodes_.all()[n], joined[static_cast<std::size_t>(find(static_cast<int>(n)))]);
    int out = 0;
    for (const Joined& j : joined) {
      if (j.ground && !j.supply) out += wrongRail * j.plusRails;
      if (j.supply && !j.ground) out += wrongRail * j.minusRails;
      if (!j.ground && !j.supply && !j.pin) out += j.legs;
    }
    return out;
  }

 private:
  static constexpr int wrongRail = 100;  // worse than any number of legs that hang on nothing
  struct Joined {
    bool supply = false, ground = false, pin = false;
    int plusRails = 0, minusRails = 0, legs = 0;
  };

  std::vector<int> back(int at, const std::vector<int>& by) const {
    std::vector<int> out;
    for (int w = by[static_cast<std::size_t>(at)]; w >= 0; w = by[static_cast<std::size_t>(at)]) {
      out.push_back(w);
      const auto [a, b] = ways_[static_cast<std::size_t>(w)];
      at = at == a ? b : a;
    }
    std::reverse(out.begin(), out.end());
    return out;
  }

  void add(const Net& node, Joined& to) const {
    using Role = PinShape::Role;
    for (const PinRef& ref : node.pins) {
      const BoardItem& board = project_.boards[static_cast<std::size_t>(ref.board)];
      const Role role = catalogue().board(board.type)->pins[static_cast<std::size_t>(ref.pin)].role;
      to.ground = to.ground || role == Role::ground;
      to.pin = to.pin || role == Role::io;
      to.supply = to.supply || (role != Role::ground && role != Role::io);
    }
    for (const StripRef& s : node.strips) {
      const BreadboardKind* kind =
          breadboardKind(project_.breadboards[static_cast<std::size_t>(s.breadboard)].type);
      if (kind->isRail(s.strip)) ++(kind->isPlusRail(s.strip) ? to.plusRails : to.minusRails);
    }
    to.legs += static_cast<int>(node.legs.size());
  }

  const Project& project_;
  Nets nodes_;
  std::vector<std::pair<int, int>> ways_;
  std::vector<std::uint8_t> out_;
};

}  // namespace

std::vector<int> joiningWires(const Project& project, const std::vector<Socket>& from,
                              const std::vector<Socket>& to) {
  const Metal metal(project);
  return metal.way(metal.nodesOf(from), metal.nodesOf(to)).value_or(std::vector<int>());
}

std::optional<Remedy> remedies::takeOut(const Project& project, const std::vector<Socket>& from,
                                        const std::vector<Socket>& to) {
  Metal metal(project);
  const auto froms = metal.nodesOf(from), tos = metal.nodesOf(to);
  std::vector<std::string> taken;
  Message title;
  while (const auto way = metal.way(froms, tos)) {
    if (way->empty() || taken.size() == mostTakenOut) return std::nullopt;
    const int best = *std::min_element(way->begin(), way->end(), [&](int a, int b) {
      return std::pair(metal.harm(a), -a) < std::pair(metal.harm(b), -b);
    });
    metal.takeOut(best);
    const Wire& wire = *(*project.wires)[static_cast<std::size_t>(best)];
    taken.push_back(wire.id);
    title = say("Take out the wire from {} to {}", wire.from.point, wire.to.point);
  }
  if (taken.empty()) return std::nullopt;
  if (taken.size() > 1) title = say("Take out {} wires", taken.size());
  return Remedy{title, edits::remove(project, taken)};
}

}  // namespace ignavo
