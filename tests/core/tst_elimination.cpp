#include <QtTest>
#include <cmath>
#include <random>

#include "electric/disjoint_set.h"
#include "electric/elimination.h"
#include "electric/pivoted_lu.h"

using namespace ignavo::electric;

namespace {

std::size_t z(int i) { return static_cast<std::size_t>(i); }

// A system as the page has it: dense, and solved by looking for the largest pivot.
struct Dense {
  int n = 0;
  std::vector<std::vector<double>> a;
  std::vector<double> b;

  std::vector<double> solved(const std::vector<int>& last, const Held& held,
                             const std::vector<double>& given) const {
    auto m = a;
    auto x = b;
    for (std::size_t k = 0; k < last.size(); ++k)
      if (held[k]) {  // its row only says what the unknown is
        m[z(last[k])].assign(z(n), 0.0);
        m[z(last[k])][z(last[k])] = 1;
        x[z(last[k])] = given[k];
      }
    for (std::size_t k = 0; k < z(n); ++k) {
      std::size_t best = k;
      for (std::size_t r = k; r < z(n); ++r)
        if (std::abs(m[r][k]) > std::abs(m[best][k])) best = r;
      std::swap(m[k], m[best]), std::swap(x[k], x[best]);
      for (std::size_t r = k + 1; r < z(n); ++r) {
        const double f = m[r][k] / m[k][k];
        for (std::size_t c = k; c < z(n); ++c) m[r][c] -= f * m[k][c];
        x[r] -= f * x[k];
      }
    }
    for (std::size_t k = z(n); k-- > 0;) {
      for (std::size_t c = k + 1; c < z(n); ++c) x[k] -= m[k][c] * x[c];
      x[k] /= m[k][k];
    }
    return x;
  }
  // What must flow into a row for these unknowns.
  double residual(int row, const std::vector<double>& x) const {
    double sum = -b[z(row)];
    for (std::size_t c = 0; c < z(n); ++c) sum += a[z(row)][c] * x[c];
    return sum;
  }
};

struct Case {
  Dense dense;
  Elimination::Entries entries;
  std::vector<int> last;
  std::vector<std::uint8_t> steady;
  Held held;
  std::vector<double> given;
};

// A network of conductances, some of them controlled from elsewhere, as a linearised
// transistor's is; sizes and shapes at random.
Case caseOf(std::mt19937& random) {
  const auto share = [&] { return static_cast<double>(random() % 10000) / 10000; };
  Case out;
  Dense& d = out.dense;
  d.n = 1 + static_cast<int>(random() % 30);
  d.a.assign(z(d.n), std::vector<double>(z(d.n), 0.0));
  d.b.assign(z(d.n), 0.0);
  for (int i = 0; i < d.n; ++i) out.entries[{i, i}] = 0;
  const auto conductance = [&](int p, int q, double siemens) {
    d.a[z(p)][z(p)] += siemens;
    if (p == q) return;
    d.a[z(q)][z(q)] += siemens;
    d.a[z(p)][z(q)] -= siemens;
    d.a[z(q)][z(p)] -= siemens;
    out.entries[{p, q}] = out.entries[{q, p}] = 0;
  };
  for (int k = 0, m = d.n + static_cast<int>(random() % 30); k < m; ++k) {
    const int p = static_cast<int>(random() % z(d.n)), q = static_cast<int>(random() % z(d.n));
    const double siemens = std::pow(10, 4 * share() - 4);
    conductance(p, q, siemens);
    // Not the same forth and back, though never more than the diagonal bears.
    if (p != q && random() % 3 == 0) d.a[z(p)][z(q)] += 0.5 * siemens * share();
  }
  for (int i = 0; i < d.n; ++i) {
    conductance(i, i, 1e-3 * (1 + share()));
    d.b[z(i)] = share() - 0.5;
    out.steady.push_back(random() % 2);
  }
  for (int i = 0; i < d.n; ++i)
    if (random() % 5 == 0) {
      out.last.push_back(i);
      out.held.push_back(random() % 2);
      out.given.push_back(5 * share());
      out.steady[z(i)] = false;
    }
  return out;
}

bool near(double a, double b) { return std::abs(a - b) <= 1e-8 * (1 + std::abs(a)); }

std::vector<double> valuesOf(const Case& c, const Elimination& e) {
  std::vector<double> values(e.entries(), 0.0);
  for (const auto& [key, unused] : c.entries)
    values[z(e.position(key.second, key.first))] = c.dense.a[z(key.second)][z(key.first)];
  return values;
}

}  // namespace

class TestElimination : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void solvesWhatADenseOneSolves() {
    std::mt19937 random(5);
    for (int round = 0; round < 2000; ++round) {
      const Case c = caseOf(random);
      const std::vector<double> expected = c.dense.solved(c.last, c.held, c.given);
      Elimination e(c.dense.n, c.entries, c.last, c.steady);
      std::vector<double> values = valuesOf(c, e), x = c.dense.b, delivered;
      QVERIFY(e.begin(values, x));
      QVERIFY(e.factor(values, c.held));
      e.solve(values, x, c.given, delivered);
      e.finish(values, x);
      for (int i = 0; i < c.dense.n; ++i)
        QVERIFY2(near(x[z(i)], expected[z(i)]),
                 qPrintable(QString("round %1, unknown %2 of %3: %4 and %5")
                                .arg(round)
                                .arg(i)
                                .arg(c.dense.n)
                                .arg(x[z(i)])
                                .arg(expected[z(i)])));
      for (std::size_t k = 0; k < c.last.size(); ++k)
        QVERIFY(near(delivered[k], c.held[k] ? c.dense.residual(c.last[k], expected) : 0.0));
    }
  }
  // What is kept of the steady rows serves the next iteration: other conductances among the
  // rest, another right-hand side.
  void steadyRowsAreEliminatedOnce() {
    std::mt19937 random(6);
    int kept = 0;
    for (int round = 0; round < 500; ++round) {
      Case c = caseOf(random);
      Elimination e(c.dense.n, c.entries, c.last, c.steady);
      std::vector<double> begun = valuesOf(c, e), rhs = c.dense.b, delivered;
      QVERIFY(e.begin(begun, rhs));
      std::vector<int> moving;
      for (int i = 0; i < c.dense.n; ++i) {
        if (!e.isSteady(i)) moving.push_back(i);
        // Only what was declared steady may be taken first.
        QVERIFY(!e.isSteady(i) || c.steady[z(i)]);
        kept += e.isSteady(i);
      }
      for (int turn = 0; turn < 3 && !moving.empty(); ++turn) {
        const int row = moving[random() % moving.size()];
        const double more = 1e-3 * static_cast<double>(1 + random() % 100);
        c.dense.a[z(row)][z(row)] += more;
        c.dense.b[z(row)] += more;
        begun[z(e.position(row, row))] += more;
        rhs[z(row)] += more;
        std::vector<double> values = begun, x = rhs;
        QVERIFY(e.factor(values, c.held));
        e.solve(values, x, c.given, delivered);
        e.finish(values, x);
        const std::vector<double> expected = c.dense.solved(c.last, c.held, c.given);
        for (int i = 0; i < c.dense.n; ++i) QVERIFY(near(x[z(i)], expected[z(i)]));
      }
    }
    QVERIFY(kept > 500);
  }
  void theOneThatSeeksPivotsSolvesTheSame() {
    std::mt19937 random(7);
    for (int round = 0; round < 500; ++round) {
      const Case c = caseOf(random);
      // It is handed the whole: no row is taken first.
      Elimination e(c.dense.n, c.entries, c.last, std::vector<std::uint8_t>(z(c.dense.n), false));
      const std::vector<double> values = valuesOf(c, e);
      PivotedLu lu(e, c.last);
      for (int turn = 0; turn < 2; ++turn) {  // held otherwise, from the same values
        Held held = c.held;
        for (auto& h : held) h = turn ? !h : h;
        std::vector<double> x = c.dense.b, delivered;
        QVERIFY(lu.factor(values, held));
        QVERIFY(lu.solve(values, x, c.given, delivered));
        const std::vector<double> expected = c.dense.solved(c.last, held, c.given);
        for (int i = 0; i < c.dense.n; ++i) QVERIFY(near(x[z(i)], expected[z(i)]));
        for (std::size_t k = 0; k < c.last.size(); ++k)
          if (held[k]) QVERIFY(near(delivered[k], c.dense.residual(c.last[k], expected)));
      }
    }
  }
  // A pivot that vanishes, or is no number, is said, never divided by.
  void aPivotThatIsNoneIsSaid() {
    const auto factored = [](double first, double second) {
      Elimination e(2, {{{0, 0}, 0}, {{1, 1}, 0}, {{0, 1}, 0}, {{1, 0}, 0}}, {}, {false, false});
      std::vector<double> values(e.entries(), 0.0);
      values[z(e.position(0, 0))] = first;
      values[z(e.position(1, 1))] = second;
      std::vector<double> rhs = {1, 1};
      return e.begin(values, rhs) && e.factor(values, {});
    };
    QVERIFY(factored(1, 2));
    QVERIFY(!factored(0, 2));
    QVERIFY(!factored(1, 0));
    QVERIFY(!factored(std::nan(""), 2));
    QVERIFY(!factored(1, HUGE_VAL));
    // A row that is steady says it at the beginning.
    Elimination e(1, {{{0, 0}, 0}}, {}, {true});
    std::vector<double> values = {0.0}, rhs = {1.0};
    QVERIFY(!e.begin(values, rhs));
  }
  // Zero on the diagonal, yet solvable: there only looking for pivots helps.
  void whereAFixedOrderFailsPivotsAreSought() {
    const Elimination::Entries entries = {{{0, 0}, 0}, {{1, 1}, 0}, {{0, 1}, 0}, {{1, 0}, 0}};
    Elimination e(2, entries, {}, {false, false});
    std::vector<double> values(e.entries(), 0.0);
    values[z(e.position(0, 1))] = 2;
    values[z(e.position(1, 0))] = 4;
    std::vector<double> tried = values;
    QVERIFY(!e.factor(tried, {}));
    PivotedLu lu(e, {});
    std::vector<double> x = {6, 8}, delivered;
    QVERIFY(lu.factor(values, {}));
    QVERIFY(lu.solve(values, x, {}, delivered));
    QVERIFY(near(x[0], 2) && near(x[1], 3));
    std::fill(values.begin(), values.end(), 0.0);
    QVERIFY(!lu.factor(values, {}));
  }
  void aPlaceOutsideIsNone() {
    Elimination e(1, {{{0, 0}, 0}}, {}, {false});
    QCOMPARE(e.position(-1, 0), -1);
    QCOMPARE(e.position(0, -1), -1);
    QCOMPARE(e.position(0, 0), 0);
  }
  void groupsAreWhatIsJoined() {
    std::mt19937 random(8);
    for (int round = 0; round < 300; ++round) {
      const int n = 1 + static_cast<int>(random() % 25);
      DisjointSet groups(z(n));
      std::vector<std::vector<std::uint8_t>> reach(z(n), std::vector<std::uint8_t>(z(n), false));
      for (int i = 0; i < n; ++i) reach[z(i)][z(i)] = true;
      for (unsigned k = 0; k < random() % 20; ++k) {
        const int a = static_cast<int>(random() % z(n)), b = static_cast<int>(random() % z(n));
        groups.join(a, b);
        reach[z(a)][z(b)] = reach[z(b)][z(a)] = true;
      }
      for (std::size_t k = 0; k < z(n); ++k)  // everything reached over everything
        for (std::size_t i = 0; i < z(n); ++i)
          for (std::size_t j = 0; j < z(n); ++j)
            if (reach[i][k] && reach[k][j]) reach[i][j] = true;
      for (int i = 0; i < n; ++i) {
        int lowest = n;
        for (int j = 0; j < n; ++j) {
          QCOMPARE(groups.of(i) == groups.of(j), bool(reach[z(i)][z(j)]));
          if (reach[z(i)][z(j)]) lowest = std::min(lowest, j);
        }
        QCOMPARE(groups.of(i), lowest);
      }
      groups.clear();
      for (int i = 0; i < n; ++i) QCOMPARE(groups.of(i), i);
    }
  }
};

QTEST_GUILESS_MAIN(TestElimination)
#include "tst_elimination.moc"
