#pragma once
#include <map>
#include <set>
#include <string>
#include <vector>

#include "bench/breadboards.h"
#include "parts/catalogue.h"

namespace ignavo::test {

// A deliberately simple second netlist: every socket by name, joined by what
// is written on the page, flooded until nothing more is reached.
class FloodNets {
 public:
  explicit FloodNets(const Project& p) {
    for (const BreadboardItem& bb : p.breadboards) {
      const BreadboardKind* kind = breadboardKind(bb.type);
      std::map<std::string, std::string> first;  // strip, told by the address alone
      for (const Hole& hole : kind->allHoles()) {
        const std::string name = bb.id + "." + kind->address(hole);
        std::string strip;
        if (hole.rail >= 0)
          strip = "rail" + std::to_string(hole.rail) +
                  (bb.type == "full" && hole.number > 25 ? "lower" : "upper");
        else
          strip = std::to_string(hole.number) + (hole.column < 5 ? "left" : "right");
        const auto [it, fresh] = first.try_emplace(strip, name);
        if (!fresh) join(name, it->second);
        joined_[name];
      }
    }
    for (const BoardItem& b : p.boards)
      for (const PinShape& pin : catalogue().board(b.type)->pins) joined_[b.id + "." + pin.name];
    for (const auto& part : *p.parts) {
      for (const Leg& leg : part->legs) {
        joined_[part->id + "." + leg.id];
        if (leg.in) join(part->id + "." + leg.id, leg.in->text());
      }
      if (part->type == "button") join(part->id + ".1a", part->id + ".1b");
      if (part->type == "button") join(part->id + ".2a", part->id + ".2b");
      if (part->type == "number-display") join(part->id + ".k1", part->id + ".k2");
    }
    for (const auto& wire : *p.wires) join(wire->from.text(), wire->to.text());
  }
  std::set<std::string> reachedFrom(const std::string& start) const {
    std::set<std::string> seen{start};
    std::vector<std::string> open{start};
    while (!open.empty()) {
      const std::string now = open.back();
      open.pop_back();
      for (const std::string& next : joined_.at(now))
        if (seen.insert(next).second) open.push_back(next);
    }
    return seen;
  }
  const std::map<std::string, std::set<std::string>>& sockets() const { return joined_; }

 private:
  void join(const std::string& a, const std::string& b) {
    joined_[a].insert(b);
    joined_[b].insert(a);
  }
  std::map<std::string, std::set<std::string>> joined_;
};

}  // namespace ignavo::test
