#include "electric/pivoted_lu.h"

namespace ignavo::electric {

namespace {
std::size_t asIndex(int i) { return static_cast<std::size_t>(i); }
}  // namespace

PivotedLu::PivotedLu(const Elimination& pattern, std::vector<int> last)
    : pattern_(pattern),
      last_(std::move(last)),
      columns_(pattern.columns()),
      rows_(pattern.rows()) {
  klu_defaults(&common_);
  symbolic_ = klu_analyze(pattern_.size(), columns_.data(), rows_.data(), &common_);
}

PivotedLu::~PivotedLu() {
  if (numeric_) klu_free_numeric(&numeric_, &common_);
  if (symbolic_) klu_free_symbolic(&symbolic_, &common_);
}

bool PivotedLu::factor(const std::vector<double>& values, const Held& held) {
  held_ = held;
  kept_ = values;
  // A held row says no more than what its unknown is.
  std::vector<std::uint8_t> given(asIndex(pattern_.size()), false);
  for (std::size_t k = 0; k < last_.size(); ++k) given[asIndex(last_[k])] = held_[k];
  for (int c = 0; c < pattern_.size(); ++c)
    for (int k = columns_[asIndex(c)]; k < columns_[asIndex(c) + 1]; ++k)
      if (given[asIndex(rows_[asIndex(k)])]) kept_[asIndex(k)] = rows_[asIndex(k)] == c ? 1 : 0;
  if (numeric_) klu_free_numeric(&numeric_, &common_);
  numeric_ = klu_factor(columns_.data(), rows_.data(), kept_.data(), symbolic_, &common_);
  return numeric_ != nullptr;
}

bool PivotedLu::solve(const std::vector<double>& values, std::vector<double>& x,
                      const std::vector<double>& given, std::vector<double>& delivered) {
  delivered.assign(last_.size(), 0.0);
  for (std::size_t k = 0; k < last_.size(); ++k)
    if (held_[k]) {
      delivered[k] = -x[asIndex(last_[k])];
      x[asIndex(last_[k])] = given[k];
    }
  if (!klu_solve(symbolic_, numeric_, pattern_.size(), 1, x.data(), &common_)) return false;
  std::vector<double> flow(x.size(), 0.0);
  for (int c = 0; c < pattern_.size(); ++c)
    for (int k = columns_[asIndex(c)]; k < columns_[asIndex(c) + 1]; ++k)
      flow[asIndex(rows_[asIndex(k)])] += values[asIndex(k)] * x[asIndex(c)];
  for (std::size_t k = 0; k < last_.size(); ++k)
    if (held_[k]) delivered[k] += flow[asIndex(last_[k])];
  return true;
}

}  // namespace ignavo::electric
