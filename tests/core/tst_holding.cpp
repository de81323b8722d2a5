#include <QtTest>

#include "check/finding.h"
#include "explain/holding.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A button, and what pulls its pin the other way: each at a supply or ground.
Bench buttonOn(const std::string& buttonAt, const std::string& pulledTo) {
  return Bench()
      .button("btn1", 18)
      .resistor("r2", 10000, "c20", "c25")
      .wire(buttonAt, "a18")
      .wire("D2", "a20")
      .wire(pulledTo, "a25");
}

}  // namespace

// What holds a net at its level, and who says so.
class TestHolding : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void whatHoldsANet() {
    const Project p = buttonOn("5V", "GND").wire("D5", "a5").pullUp("D5");
    Circuit circuit(p);
    const auto held = [&](const Socket& socket, const CircuitState& state) {
      return QString::fromStdString(
          inWords(holdingOf(p, circuit, circuit.nets().of(socket), state).words));
    };
    CircuitState state = circuit.restState();
    QCOMPARE(held({"b1", "D2"}, state), QStringLiteral("r2 joins it to ground"));
    QCOMPARE(held({"b1", "D5"}, state),
             QStringLiteral("the pull-up inside the chip holds it high"));
    QCOMPARE(held({"bb", "j3"}, state), QStringLiteral("nothing holds it at a level"));
    QCOMPARE(held({"b1", "GND"}, state), QStringLiteral("it is joined to ground"));
    QCOMPARE(held({"b1", "5V"}, state), QStringLiteral("it is joined to a supply"));
    state.pressed[0] = 1;
    QCOMPARE(held({"b1", "D2"}, state), QStringLiteral("btn1 joins it to a supply"));
  }
  void whatDividesTheVolts() {
    const Project p = Bench()
                          .resistor("r1", 10000, "c14", "c20")
                          .resistor("r2", 22000, "d20", "d25")
                          .wire("5V", "a14")
                          .wire("A0", "a20")
                          .wire("GND", "a25");
    Circuit circuit(p);
    const Holding held =
        holdingOf(p, circuit, circuit.nets().of({"b1", "A0"}), circuit.restState(), "A0");
    QCOMPARE(held.to, Holding::To::both);
    QCOMPARE(QString::fromStdString(inWords(held.words)),
             QStringLiteral("r1 and r2 share the volts at A0 between them"));
    QCOMPARE(held.parts, (std::vector<std::string>{"r1", "r2"}));
  }
  // The check says what holds a pin in the same words.
  void theCheckSaysWhatHolds() {
    const Project p =
        buttonOn("GND", "5V").program("if d2 is high\n  set d13 high\notherwise\n  set d13 low\n");
    const auto findings = check(p).findings;
    QCOMPARE(findings.size(), std::size_t{1});
    QCOMPARE(findings[0].rule, std::string("active-low"));
    QVERIFY(inWords(findings[0].reason).starts_with("r2 joins D2 to a supply, and pressing"));
  }
};

QTEST_GUILESS_MAIN(TestHolding)
#include "tst_holding.moc"
