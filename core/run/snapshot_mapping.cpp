#include "run/snapshot_mapping.h"

#include <algorithm>

#include "parts/catalogue.h"

namespace ignavo {

namespace {

constexpr int absent = -1;
constexpr int apart = -2;  // what was more than one

// The place of each of `to` among `from`, by what `same` tells.
template <typename Row, typename Same>
std::vector<int> places(const Row& from, const Row& to, Same&& same) {
  std::vector<int> out;
  for (const auto& x : to) {
    const auto was =
        std::find_if(from.begin(), from.end(), [&](const auto& y) { return same(x, y); });
    out.push_back(was == from.end() ? absent : static_cast<int>(was - from.begin()));
  }
  return out;
}

template <typename T>
std::vector<T> moved(const std::vector<T>& row, const std::vector<int>& from) {
  std::vector<T> out;
  out.reserve(from.size());
  for (const int place : from) {
    const auto i = static_cast<std::size_t>(place);
    out.push_back(place >= 0 && i < row.size() ? row[i] : T());
  }
  return out;
}

bool alike(const BoardItem& x, const BoardItem& y) { return x.id == y.id && x.type == y.type; }
bool alike(const Part& x, const Part& y) {
  return x.id == y.id && x.type == y.type && x.legs == y.legs;
}

bool alike(const Wire& x, const Wire& y) {
  return x.id == y.id && x.from == y.from && x.to == y.to;
}

const BoardItem& itemOf(const BoardItem& item) { return item; }
template <typename T>
const T& itemOf(const Cow<T>& item) {
  return *item;
}

// Ids of what stands in `a` and not like that in `b`.
std::set<std::string> onlyIn(const Project& a, const Project& b) {
  std::set<std::string> out;
  const auto gather = [&](const auto& these, const auto& those) {
    for (const auto& x : these)
      if (std::none_of(those.begin(), those.end(),
                       [&](const auto& y) { return alike(itemOf(x), itemOf(y)); }))
        out.insert(itemOf(x).id);
  };
  gather(a.boards, b.boards);
  gather(a.breadboards, b.breadboards);
  gather(*a.parts, *b.parts);
  gather(*a.wires, *b.wires);
  return out;
}

}  // namespace

bool standsAlike(const Project& a, const Project& b) {
  const auto same = [](const BoardItem& x, const BoardItem& y) { return alike(x, y); };
  if (!(a.wires == b.wires) || a.parts->size() != b.parts->size() ||
      !std::equal(a.boards.begin(), a.boards.end(), b.boards.begin(), b.boards.end(), same) ||
      !std::equal(a.breadboards.begin(), a.breadboards.end(), b.breadboards.begin(),
                  b.breadboards.end(), same))
    return false;
  return a.parts.sharesWith(b.parts) ||
         std::equal(a.parts->begin(), a.parts->end(), b.parts->begin(),
                    [](const auto& x, const auto& y) { return alike(*x, *y); });
}

SnapshotMapping::SnapshotMapping(const Project& from, const Project& to)
    : identity_(standsAlike(from, to)) {
  if (identity_) return;
  notThen_ = onlyIn(to, from);
  notNow_ = onlyIn(from, to);
  parts_ = places(*from.parts, *to.parts, [](const auto& x, const auto& y) {
    return x->id == y->id && x->type == y->type;
  });
  boards_ = places(from.boards, to.boards,
                   [](const auto& x, const auto& y) { return x.id == y.id && x.type == y.type; });
  const Circuit before(from), now(to);
  pins_ = places(before.pins(), now.pins(), [](const CircuitPin& x, const CircuitPin& y) {
    return x.board == y.board && x.name == y.name;
  });
  for (int net = 0; net < static_cast<int>(now.nets().all().size()); ++net) {
    int was = absent;
    for (const Socket& socket : now.nets().sockets(net, to, catalogue())) {
      const int then = before.nets().of(socket);
      if (then < 0 || then == was) continue;
      was = was == absent ? then : apart;
    }
    nets_.push_back(was);
  }
}

Snapshot SnapshotMapping::mapped(const Snapshot& moment) const {
  if (identity_) return moment;
  Snapshot out = moment;
  out.fed = moved(moment.fed, boards_);
  out.boardLight = moved(moment.boardLight, boards_);
  out.levels = moved(moment.levels, pins_);
  out.light = moved(moment.light, parts_);
  out.lamps = moved(moment.lamps, parts_);
  out.motion = moved(moment.motion, parts_);
  out.state.pins = moved(moment.state.pins, pins_);
  out.state.pressed = moved(moment.state.pressed, parts_);
  out.state.broken = moved(moment.state.broken, parts_);
  out.state.turned = moved(moment.state.turned, parts_);
  if (!moment.state.unplugged.empty()) out.state.unplugged = moved(moment.state.unplugged, boards_);
  out.reading.nets = moved(moment.reading.nets, nets_);
  out.reading.parts = moved(moment.reading.parts, parts_);
  out.reading.pins = moved(moment.reading.pins, pins_);
  return out;
}

}  // namespace ignavo
