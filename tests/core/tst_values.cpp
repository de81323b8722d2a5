#include <QtTest>
#include <cmath>
#include <map>
#include <random>

#include "program/expressions.h"
#include "program/steps.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

constexpr std::int32_t least = INT32_MIN, most = INT32_MAX;

// Of an expression of plain numbers, as the page tells it.
struct Result {
  ValueType type = ValueType::whole;
  double value = 0;
  NumberFault fault = NumberFault::none;
};
Result resultOf(const std::string& typed) {
  const ParsedExpr read = parseExpr(typed, {});
  if (!read.value) qFatal("%s: %s", typed.c_str(), inWords(read.problem).c_str());
  const Expr& e = *read.value;
  const ValueType type = operandType(e);
  std::vector<Cell> cells;
  for (const Expr* o : operandsOf(e)) {
    // Only numbers and numbers with an operator of their own.
    if (o->shape == Expr::Shape::op) {
      const Result inner = resultOf(phraseOf(*o));
      const Cell is = inner.type == ValueType::real
                          ? Cell::of(static_cast<float>(inner.value))
                          : Cell::of(static_cast<std::int32_t>(inner.value));
      cells.push_back(converted(is, inner.type, type));
    } else {
      cells.push_back(converted(literal(o->number), typeOf(*o), type));
    }
  }
  const OperatorKind& kind = *operatorKind(e.text);
  Result out;
  out.type = typeOf(e);
  const Cell value = (type == ValueType::real ? kind.real : kind.whole)(cells.data(), out.fault);
  out.value = number(value, out.type);
  return out;
}

}  // namespace

class TestValues : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void whatIsWholeAndWhatIsNot_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<bool>("whole");
    QTest::addColumn<double>("value");
    const auto row = [](const char* typed, bool whole, double value) {
      QTest::newRow(typed) << typed << whole << value;
    };
    row("300 × 200", true, 60000);
    row("-30000 - 10000", true, -40000);
    row("1 + 2", true, 3);
    row("1 + 2.5", false, 3.5);
    row("7 ÷ 2", false, 3.5);
    row("6 ÷ 2", false, 3);
    row("6 ÷ 0", false, 0);
    row("remainder of 7 ÷ 3", true, 1);
    row("remainder of -7 ÷ 3", true, 2);
    row("remainder of 7 ÷ -3", true, -2);
    row("remainder of -7 ÷ -3", true, -1);
    row("remainder of 7.5 ÷ 2", false, 1.5);
    row("remainder of -7.5 ÷ 2", false, 0.5);
    row("remainder of 7 ÷ 0", true, 0);
    row("round 2.5", true, 3);
    row("round -2.5", true, -3);
    row("round 0.49999997", true, 0);
    row("round 8388609.5", true, 8388610);
    row("round 3e9", true, most);
    row("round -3e9", true, least);
    row("size of -5", true, 5);
    row("size of -5.5", false, 5.5);
    row("smaller of 3 and 4", true, 3);
    row("larger of 3 and 4.5", false, 4.5);
    row("map 5 from 0 … 10 to 0 … 100", false, 50);
    row("map 20 from 0 … 10 to 0 … 100", false, 200);
    row("map 5 from 3 … 3 to 7 … 9", false, 7);
    row("2147483647 + 1", true, least);
    row("16777217 + 0.0", true, 16777217);
    row("16777217 + 0.5", false, 16777216);
  }
  void whatIsWholeAndWhatIsNot() {
    QFETCH(QString, typed);
    QFETCH(bool, whole);
    QFETCH(double, value);
    const Result r = resultOf(typed.toStdString());
    QCOMPARE(r.type, whole ? ValueType::whole : ValueType::real);
    QCOMPARE(r.value, value);
  }
  void floatsAreFloats() {
    QCOMPARE(resultOf("0.1 + 0.2").value, static_cast<double>(0.1F + 0.2F));
    // By doubles it would be less than 0.1, by a tolerance equal to it.
    QVERIFY(0.3F - 0.2F > 0.1F);
    const ParsedExpr read = parseExpr("0.3 - 0.2 < 0.1", {});
    QVERIFY(read.value);
    const double left = resultOf("0.3 - 0.2").value;
    QVERIFY(!(left < static_cast<double>(0.1F)));
    QCOMPARE(phraseOf(Expr::of(0.1)), std::string("0.1"));
    QCOMPARE(phraseOf(Expr::of(0.1000000001)), std::string("0.1"));
    QCOMPARE(phraseOf(Expr::of(16777217.0)), std::string("16777217"));
  }
  void whatWrapsOrDividesByZeroIsReported() {
    QCOMPARE(resultOf("2147483647 + 1").fault, NumberFault::wrapped);
    QCOMPARE(resultOf("100000 × 100000").fault, NumberFault::wrapped);
    QCOMPARE(resultOf("-2147483648 - 1").fault, NumberFault::wrapped);
    QCOMPARE(resultOf("size of -2147483648").fault, NumberFault::wrapped);
    QCOMPARE(resultOf("1 ÷ 0").fault, NumberFault::dividedByZero);
    QCOMPARE(resultOf("remainder of 1 ÷ 0").fault, NumberFault::dividedByZero);
    QCOMPARE(resultOf("map 1 from 2 … 2 to 0 … 1").fault, NumberFault::dividedByZero);
    for (const char* fine : {"2147483647 + 0", "46340 × 46340", "remainder of -2147483648 ÷ -1",
                             "1 ÷ 3", "1e30 × 1e30"})
      QCOMPARE(resultOf(fine).fault, NumberFault::none);
  }
  // What wholes give is what exact numbers give, taken round 2³².
  void wholesAgreeWithWideOnes() {
    std::mt19937 random(16);
    const auto some = [&]() -> std::int32_t {
      const auto any = static_cast<std::int32_t>(random());
      return random() % 3 == 0 ? any : random() % 2 ? any % 100 : any % 70000;
    };
    int wrapped = 0;
    for (int i = 0; i < 20000; ++i) {
      const std::int64_t a = some(), b = some();
      const auto x = static_cast<std::int32_t>(a), y = static_cast<std::int32_t>(b);
      const auto agrees = [&](auto&& calculate, std::int64_t exact) {
        NumberFault fault = NumberFault::none;
        const std::int32_t got = calculate(x, y, fault);
        wrapped += fault == NumberFault::wrapped;
        return static_cast<std::uint32_t>(got) == static_cast<std::uint32_t>(exact) &&
               (fault == NumberFault::wrapped) == (got != exact);
      };
      QVERIFY(agrees(whole::sum, a + b));
      QVERIFY(agrees(whole::difference, a - b));
      QVERIFY(agrees(whole::product, a * b));
      NumberFault none = NumberFault::none;
      const std::int64_t rest = whole::remainder(x, y, none);
      if (b == 0) continue;
      QVERIFY((a - rest) % b == 0 && std::abs(rest) < std::abs(b));
      QVERIFY(rest == 0 || (rest < 0) == (b < 0));
    }
    QVERIFY(wrapped > 1000);
  }
  void roundingIsToTheNearest() {
    std::mt19937 random(17);
    for (int i = 0; i < 20000; ++i) {
      const float x = std::bit_cast<float>(static_cast<std::uint32_t>(random()));
      if (std::isnan(x)) {
        QCOMPARE(rounded(x), 0);
        continue;
      }
      const double exact =
          std::clamp(std::round(static_cast<double>(x)), -2147483648.0, 2147483647.0);
      QCOMPARE(static_cast<double>(rounded(x)), exact);
    }
  }
  void randomNumbersKeepTheirEnds() {
    std::uint32_t dice = diceOf(1, "l1");
    QVERIFY(dice != 0 && dice != diceOf(1, "l2") && dice != diceOf(2, "l1"));
    std::map<std::int32_t, int> seen;
    for (int i = 0; i < 6000; ++i) ++seen[thrown(dice, i % 2 ? 1 : 6, i % 2 ? 6 : 1)];
    QCOMPARE(seen.size(), std::size_t(6));
    QVERIFY(seen.begin()->first == 1 && seen.rbegin()->first == 6);
    for (const auto& [value, times] : seen) QVERIFY2(times > 850 && times < 1150, "not fair");
    for (int i = 0; i < 100; ++i) QCOMPARE(thrown(dice, 7, 7), 7);
    // From one end of all numbers to the other it is the next one itself.
    std::uint32_t before = dice, after = dice;
    (void)thrown(after, 0, 1);
    QCOMPARE(static_cast<std::uint32_t>(thrown(before, least, most)),
             static_cast<std::uint32_t>(least) + after);
    for (const char* typed :
         {"random from 1 to 6", "random 1 to 6", "random number between 1 and 6",
          "Random from 1 … 6", "random 1, 6"}) {
      const ParsedExpr read = parseExpr(typed, {});
      QVERIFY2(read.value, typed);
      QCOMPARE(phraseOf(*read.value), std::string("random from 1 to 6"));
    }
  }
  void phrasesComeBack() {
    std::mt19937 random(18);
    const auto value = [&](auto&& self, int depth) -> Expr {
      static const double numbers[] = {0, 1, 2.5, -3, 0.1, 1e-7, 30000, 1e10};
      if (depth == 0 || random() % 3 == 0) return Expr::of(numbers[random() % 8]);
      Expr e;
      if (random() % 6 == 0) {
        e.shape = Expr::Shape::get;
        e.text = "random";
        e.args = {{"from", self(self, depth - 1)}, {"to", self(self, depth - 1)}};
        return e;
      }
      e.shape = Expr::Shape::op;
      const auto& kinds = operatorKinds();
      const OperatorKind& kind = kinds[random() % kinds.size()];
      e.text = kind.name;
      for (const std::string& key : kind.operands()) {
        Expr operand = self(self, depth - 1);
        if (isRange(key)) {
          Expr range;
          range.shape = Expr::Shape::list;
          range.args = {{"", std::move(operand)}, {"", self(self, depth - 1)}};
          operand = std::move(range);
        }
        e.args.emplace_back(key, std::move(operand));
      }
      return e;
    };
    for (int i = 0; i < 3000; ++i) {
      const Expr e = value(value, 4);
      const std::string phrase = phraseOf(e);
      const ParsedExpr read = parseExpr(phrase, {});
      QVERIFY2(read.value, (phrase + ": " + inWords(read.problem)).c_str());
      QCOMPARE(phraseOf(*read.value), phrase);
      QVERIFY2(*read.value == e, phrase.c_str());
    }
  }
  // The first of each kind, with its step; the board goes on.
  void faultsAreReportedWithTheirStep() {
    const Bench b = beacon().lane(
        "always",
        "set d4 1 ÷ 0 > 1\nrepeat 2147483647 + 1 times\n  flip d4\nset d4 high\nwait 0.1");
    Kernel kernel(shared(b));
    kernel.advance(second);
    const auto faults = kernel.snapshot().faults;
    QCOMPARE(faults.size(), std::size_t(2));
    QCOMPARE(faults[0].what, NumberFault::dividedByZero);
    QCOMPARE(faults[1].what, NumberFault::wrapped);
    const Project& p = b;
    QCOMPARE(faults[0].step, p.programs[0]->lanes[0]->steps[0].id);
    QCOMPARE(faults[1].step, p.programs[0]->lanes[0]->steps[1].id);
    QCOMPARE(faults[0].board, std::string("b1"));
    QVERIFY(faults[0].at < faults[1].at && faults[1].at < second / 10);
  }
};

QTEST_GUILESS_MAIN(TestValues)
#include "tst_values.moc"
