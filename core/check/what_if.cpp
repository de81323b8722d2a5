#include "check/what_if.h"

#include <algorithm>
#include <cmath>

#include "check/sweep.h"

namespace ignavo {

namespace {

constexpr double flowsAmps = 1e-9;

int indexOf(const Project& project, const std::string& id) {
  for (std::size_t i = 0; i < project.parts->size(); ++i)
    if ((*project.parts)[i]->id == id) return static_cast<int>(i);
  return -1;
}

const WorstReading* readingOf(const CheckResult& check, const std::string& part) {
  for (const WorstReading& w : check.readings)
    if (w.part == part) return &w;
  return nullptr;
}

const PropKind* resistanceOf(const Part& part) {
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind || kind->senses) return nullptr;
  for (const PropKind& prop : kind->props)
    if (prop.unit == "Ω") return &prop;
  return nullptr;
}

// Two decades to either side, in values that are sold.
WhatIf ofResistance(const Part& part, const PropKind& prop) {
  WhatIf w{part.id, prop.key, part.name, "Ω", 0, 0, part.number(prop.key, prop.defaultValue),
           true,    {}};
  w.min = std::max(prop.min, w.now / 50);
  w.max = std::min(prop.max, w.now * 50);
  for (double decade = 0.1; decade <= w.max; decade *= 10)
    for (const double e : e24Decade())
      if (const double ohms = e * decade; ohms >= w.min * 0.999 && ohms <= w.max * 1.001)
        w.series.push_back(ohms);
  if (!w.series.empty()) w.min = w.series.front(), w.max = w.series.back();
  return w;
}

}  // namespace

std::vector<WhatIf> whatIfs(const Project& project, const CheckResult& check,
                            const std::string& id) {
  std::vector<WhatIf> out;
  const Part* part = project.part(id);
  const WorstReading* worst = part ? readingOf(check, id) : nullptr;
  if (!worst || std::abs(worst->amps) < flowsAmps) return out;
  const auto offer = [&](const Part& other) {
    const PropKind* prop = resistanceOf(other);
    const bool known =
        std::any_of(out.begin(), out.end(), [&](const WhatIf& w) { return w.part == other.id; });
    if (prop && !known) out.push_back(ofResistance(other, *prop));
  };
  offer(*part);
  for (const PathPoint& point : worst->path)
    if (const Part* other = project.part(point.part)) offer(*other);
  // The supply of the board at which its path begins.
  const Circuit circuit(project);
  const int net = worst->path.empty() ? -1 : worst->path.front().net;
  bool fed = net >= 0 && circuit.isSupplyNet(net);
  for (const CircuitPin& pin : circuit.pins()) fed = fed || (net >= 0 && pin.net == net);
  if (fed)
    for (const BoardItem& board : project.boards)
      if (const BoardKind* kind = catalogue().boardKind(board.type)) {
        out.push_back({"", "", "Supply", "V", 1.5, 12, kind->mainSupply().volts, false, {}});
        break;
      }
  return out;
}

Prediction::Prediction(const Project& project, const CheckResult& check, const std::string& id,
                       WhatIf what)
    : project_(project), what_(std::move(what)) {
  part_ = indexOf(project_, id);
  turned_ = indexOf(project_, what_.part);
  circuit_ = std::make_unique<Circuit>(project_);
  const WorstReading* worst = readingOf(check, id);
  state_ = worst ? stateOf(project_, *circuit_, worst->pose) : circuit_->restState();
  if (const PartKind* kind = part_ >= 0 ? circuit_->kindOf(part_) : nullptr)
    limitAmps_ = kind->ratedAmps;
}

Predicted Prediction::at(double value) {
  Predicted out;
  if (part_ < 0 || circuit_->anyShorted()) return out;
  Part turned;
  if (turned_ >= 0) {
    turned = *(*project_.parts)[static_cast<std::size_t>(turned_)];
    turned.setProp(what_.prop, value);
    circuit_->tryPart(turned_, turned);
  } else {
    circuit_->trySupply(value);
  }
  const int island = circuit_->islandOfPart(part_);
  const auto readingOfPart = [&](int index) -> const PartReading* {
    const auto& members = circuit_->island(island).parts;
    const auto it = std::find(members.begin(), members.end(), index);
    if (it == members.end()) return nullptr;
    return &circuit_->solveIsland(island, state_)
                .parts[static_cast<std::size_t>(it - members.begin())];
  };
  const IslandReading& r = circuit_->solveIsland(island, state_);
  const PartReading* own = readingOfPart(part_);
  if (!r.converged || !own) return out;
  out.solved = true;
  const PartKind* kind = circuit_->kindOf(part_);
  const Part& part = *(*project_.parts)[static_cast<std::size_t>(part_)];
  out.amps = std::abs(own->amps);
  out.volts = own->volts.value_or(0);
  if (kind->shows == Shows::light) {
    double most = 0;
    for (const double lamp : own->lamps) most = std::max(most, lamp);
    out.light = lightOf(most);
  }
  if (limitAmps_ > 0)
    out.share = out.amps / limitAmps_;
  else if (kind->ratedWatts)
    out.share = own->watts / kind->ratedWatts(part);
  if (turned_ >= 0 && turned_ != part_)
    if (const PartKind* other = circuit_->kindOf(turned_); other->ratedWatts)
      if (const PartReading* its = readingOfPart(turned_))
        out.restShare = its->watts / other->ratedWatts(turned);
  return out;
}

}  // namespace ignavo
