#pragma once
#include <cstdint>
#include <map>
#include <utility>
#include <vector>

namespace ignavo::electric {

using Held = std::vector<std::uint8_t>;  // per row that may be held: is it?

// Sparse LU of a matrix whose pattern is symmetric, without a search for pivots:
// rows are taken in an order chosen once (least degree first; Markowitz 1957), and
// the whole elimination is laid out as lists of positions. Circuit matrices of
// conductances need no pivots; where a transistor makes one vanish, factor() says so.
//
// Rows that stay the same through a Newton iteration may come first: they are
// eliminated once, by begin(), and factor() goes on from there.
//
// Some rows may be `held`: their unknown is given, as the voltage of an ideal
// source is. They stand last in the order.
class Elimination {
 public:
  using Entries = std::map<std::pair<int, int>, int>;  // (column, row)
  // `last`: the rows that may be held, all different. `steady`: per row, may it come first?
  Elimination(int n, Entries entries, std::vector<int> last,
              const std::vector<std::uint8_t>& steady);

  int size() const { return n_; }
  // Place of an entry in the values; -1 where the row or the column is -1.
  int position(int row, int column) const;
  std::size_t entries() const { return rows_.size(); }
  // The filled pattern by columns, for a solver that searches pivots.
  const std::vector<int>& columns() const { return columns_; }
  const std::vector<int>& rows() const { return rows_; }

  // Eliminates the steady rows, of the right-hand side too. False when a pivot is zero or
  // no number.
  bool begin(std::vector<double>& values, std::vector<double>& rhs);
  // Factors the rest in place, likewise.
  bool factor(std::vector<double>& values, const Held& held);
  // Solves for all but the steady rows; x holds the right-hand side that begin() left. For a
  // held row the right-hand side stays what flows in there; `given` has its unknown.
  // delivered: per row in `last`, what must flow in from outside to hold it.
  void solve(const std::vector<double>& values, std::vector<double>& x,
             const std::vector<double>& given, std::vector<double>& delivered) const;
  // The steady rows' own unknowns, when the others are solved.
  void finish(const std::vector<double>& values, std::vector<double>& x) const {
    back(values, x, steady_, 0);
  }
  // What begin() does to a right-hand side, for a further one.
  void beginRhs(const std::vector<double>& values, std::vector<double>& x) const {
    forth(values, x, 0, steady_);
  }
  // Is this row eliminated by begin()?
  bool isSteady(int row) const { return steadyRow_[static_cast<std::size_t>(row)]; }

 private:
  struct Pivot {
    int row;
    int diagonal;
    int first, count;  // of the rows below, in others_, lowers_ and uppers_
    int targets;       // first of count × count positions in targets_
  };
  void order(Entries& entries, const std::vector<std::uint8_t>& steady);
  bool eliminate(double* values, std::size_t from, std::size_t to);
  void forth(const std::vector<double>& values, std::vector<double>& x, std::size_t from,
             std::size_t to) const;
  void back(const std::vector<double>& values, std::vector<double>& x, std::size_t from,
            std::size_t to) const;
  double pivotOf(const std::vector<double>& values, std::size_t k) const {
    return values[static_cast<std::size_t>(tail_[k * last_.size() + k])];
  }

  int n_;
  std::vector<int> last_;
  std::vector<Pivot> pivots_;
  std::size_t steady_ = 0;  // how many of them begin() does
  std::vector<std::uint8_t> steadyRow_;
  std::vector<int> others_, lowers_, uppers_, targets_;
  std::vector<int> tail_;  // positions of the last rows' own block, row by row
  std::vector<double> inverse_;
  Held held_;
  std::vector<int> columns_, rows_;
};

}  // namespace ignavo::electric
