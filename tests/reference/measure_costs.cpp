// Measures what steps, getters and operators cost on the chip's core, and prints
// core/program/cost_rows.h anew. What is too small to be had apart from how the compiler arranges
// what stands around it stays as it was counted in the listing.
#include <cstdio>

#include "posix_runner.h"
#include "reference/cost_rows.h"

using namespace ignavo;
using namespace ignavo::test;

int main() {
  PosixRunner runner;
  const CostBench bench;
  CostTable costs;
  for (const CostRow& row : costRows()) {
    const double value = bench.measured(row, costs, runner);
    const int was = CostBench::get(row, costs);
    std::fprintf(stderr, "%-14s%s %6d -> %8.1f\n", row.name.c_str(), row.real ? " (float)" : "",
                 was, value);
    if (value >= CostRow::least)
      costs = CostBench::changed(row, costs, static_cast<int>(std::lround(value)));
  }
  std::fputs(costRowsText(costs).c_str(), stdout);
  return 0;
}
