#pragma once
#include <cstdint>
#include <map>
#include <utility>
#include <vector>

namespace ignavo::electric {

// Sparse LU of a matrix whose pattern is symmetric, without a search for pivots:
// rows are taken in an order chosen once (least degree first; Markowitz 1957), and
// the whole elimination is laid out as lists of positions. Circuit matrices of
// conductances need no pivots; where a transistor makes one vanish, factor() says so.
//
// Some rows may be `held`: their unknown is given, as the voltage of an ideal
// source is. They stand last in the order.
class Elimination {
 public:
  using Entries = std::map<std::pair<int, int>, int>;  // (column, row)
  // `last`: the rows that may be held, all different.
  Elimination(int n, Entries entries, std::vector<int> last);

  int size() const { return n_; }
  // Place of an entry in the values; -1 where the row or the column is -1.
  int position(int row, int column) const;
  std::size_t entries() const { return rows_.size(); }
  // The filled pattern by columns, for a solver that searches pivots.
  const std::vector<int>& columns() const { return columns_; }
  const std::vector<int>& rows() const { return rows_; }

  // Factors in place. False when a pivot is zero or no number.
  bool factor(std::vector<double>& values, const std::vector<bool>& held);
  // Solves with factored values; x holds the right-hand side at first. For a held
  // row the right-hand side stays what flows in there; `given` has its unknown.
  // delivered: per row in `last`, what must flow in from outside to hold it.
  void solve(const std::vector<double>& values, std::vector<double>& x,
             const std::vector<double>& given, std::vector<double>& delivered) const;

 private:
  struct Pivot {
    int row;
    int diagonal;
    int first, count;  // of the rows below, in others_, lowers_ and uppers_
    int targets;       // first of count × count positions in targets_
  };
  void order(Entries& entries);
  double pivotOf(const std::vector<double>& values, std::size_t k) const {
    return values[static_cast<std::size_t>(tail_[k * last_.size() + k])];
  }

  int n_;
  std::vector<int> last_;
  std::vector<Pivot> pivots_;
  std::vector<int> others_, lowers_, uppers_, targets_;
  std::vector<int> tail_;  // positions of the last rows' own block, row by row
  std::vector<double> inverse_;
  std::vector<bool> held_;
  std::vector<int> columns_, rows_;
  Entries place_;
};

}  // namespace ignavo::electric
