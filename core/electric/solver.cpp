#include "electric/solver.h"

#include <algorithm>
#include <cmath>

#include "electric/balance.h"
#include "electric/newton.h"

namespace ignavo::electric {

namespace tol = tolerances;

Solver::Solver(const Network& network) : work_(std::make_unique<Newton>(network)) {}
Solver::Solver(const Solver& other) : work_(std::make_unique<Newton>(*other.work_)) {}
Solver::~Solver() = default;
Solver::Solver(Solver&&) noexcept = default;
Solver& Solver::operator=(Solver&&) noexcept = default;

int Solver::unknowns() const { return work_->n; }

// Sources that would have to absorb current are switched off, and on again
// when their node sinks below their voltage; each round changes the set.
void Solver::settleSources(const Network& network, bool fromRest, Solution& s) {
  Newton& w = *work_;
  int iterations = 0;
  if (fromRest || w.sourceOn.size() != network.sources.size())
    w.sourceOn.assign(network.sources.size(), true);
  using Gives = Source::Gives;
  for (std::size_t k = 0; k < network.sources.size(); ++k)
    if (network.sources[k].gives != Gives::delivers)
      w.sourceOn[k] = network.sources[k].gives == Gives::bothWays;
  if (!fromRest) w.restWhatHangs(network);
  // The search for pivots is slow: where Newton only wandered, it is over.
  w.searching = w.searching && w.singular;
  for (std::size_t round = 0; round <= 2 * network.sources.size(); ++round) {
    const bool ok = w.n == 0 || (!fromRest && w.iterate(network, iterations)) ||
                    w.converge(network, iterations);
    w.read(network, ok, iterations, s);
    if (!ok) return;
    bool changed = false;
    for (std::size_t k = 0; k < network.sources.size(); ++k) {
      const Source& source = network.sources[k];
      if (source.gives != Gives::delivers) continue;
      if (w.sourceOn[k] && s.sourceAmps[k] < -tol::absorbedAmps * (1 + 1e3 * source.volts)) {
        w.sourceOn[k] = false;
        changed = true;
      } else if (!w.sourceOn[k] && s.volt(source.plus) < source.volts - tol::sunkVolts) {
        w.sourceOn[k] = true;
        changed = true;
      }
    }
    if (!changed) break;
  }
  double largest = 0;
  for (double a : s.sourceAmps) largest = std::max(largest, std::abs(a));
  s.converged = imbalance(network, s, false, w.sums) <=
                std::max(tol::kirchhoffAmps, tol::kirchhoffRelative * largest);
}

Solution Solver::solve(const Network& network) {
  Solution s;
  settleSources(network, true, s);
  return s;
}

void Solver::solveOn(const Network& network, Solution& out) {
  settleSources(network, false, out);
  if (!out.converged) settleSources(network, true, out);
}

void Solver::beginAt(const Network& network, const std::vector<double>& volts) {
  Newton& w = *work_;
  std::copy(volts.begin() + 1, volts.end(), w.x.begin());
  double moved = 0;
  bool cut = false;
  w.share = 1;
  w.followJunctions(network, moved, cut);
}

Solution Solver::solutionAt(const Network& network, const std::vector<double>& volts,
                            const std::vector<double>& sourceAmps) {
  Solution s;
  std::copy(volts.begin() + 1, volts.end(), work_->x.begin());
  work_->onLines = false;
  work_->sourceOn.assign(network.sources.size(), true);
  work_->delivered = sourceAmps;
  work_->read(network, true, 0, s);
  return s;
}

double Solver::resistanceBetween(Node a, Node b) const {
  Newton& w = *work_;
  if (a == b || !w.factored) return 0;
  std::vector<double> unit(static_cast<std::size_t>(w.n), 0.0), delivered;
  const std::vector<double> none(w.sourceRows.size(), 0.0);
  Newton::inject(unit, b, a, 1);
  if (w.searching) {
    w.pivoted->solve(w.values, unit, none, delivered);
  } else {
    w.order->beginRhs(w.values, unit);
    w.order->solve(w.values, unit, none, delivered);
    w.order->finish(w.values, unit);
  }
  const auto volts = [&](Node n) { return n > 0 ? unit[static_cast<std::size_t>(n - 1)] : 0.0; };
  return volts(a) - volts(b);
}

void Solver::iterateOnce(const Network& network) {
  double moved = 0;
  bool cut = false;
  work_->step(network, moved, cut);
  work_->relinearise(network);
}

}  // namespace ignavo::electric
