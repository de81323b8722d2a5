#pragma once
#include <klu.h>

#include <vector>

#include "electric/elimination.h"

namespace ignavo::electric {

// The same system as an Elimination's, by KLU, which searches for pivots: for the
// rare circuits in which a fixed order of rows meets a pivot that is none.
class PivotedLu {
 public:
  // `last` as in Elimination. The elimination must outlive this.
  PivotedLu(const Elimination& pattern, std::vector<int> last);
  ~PivotedLu();
  PivotedLu(const PivotedLu&) = delete;
  PivotedLu& operator=(const PivotedLu&) = delete;

  // As Elimination::factor and solve; `values` are kept as they are.
  bool factor(const std::vector<double>& values, const Held& held);
  bool solve(const std::vector<double>& values, std::vector<double>& x,
             const std::vector<double>& given, std::vector<double>& delivered);

 private:
  const Elimination& pattern_;
  std::vector<int> last_;
  Held held_;
  std::vector<int> columns_, rows_;  // KLU wants them mutable
  std::vector<double> kept_;
  klu_common common_{};
  klu_symbolic* symbolic_ = nullptr;
  klu_numeric* numeric_ = nullptr;
};

}  // namespace ignavo::electric
