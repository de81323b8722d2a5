#include <QtTest>

#include "check/shown_in_run.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// The moment at which a finding came true in a run.
class TestShownInRun : public QObject {
  Q_OBJECT

  static Bench lampAndButton() {
    return Bench()
        .led("led1", "i16", "i18")
        .wire("D4", "j16")
        .wire("j18", "GND")
        .button("btn1", 22)
        .resistor("r2", 10000, "c24", "c28")
        .wire("5V", "a22")
        .wire("D2", "a24")
        .wire("GND2", "a28");
  }
  static std::optional<Nanoseconds> shown(const Project& p, const Pose& pose,
                                          const std::vector<Input>& inputs, double seconds,
                                          Nanoseconds from = -1) {
    Kernel kernel(shared(p));
    for (const Input& input : inputs) kernel.schedule(input);
    kernel.advance(static_cast<Nanoseconds>(seconds * 1e9));
    Finding f;
    f.pose = pose;
    return firstShown(f, p, kernel.trace(), kernel.events(), from, kernel.now());
  }

 private Q_SLOTS:
  // What the check says of a lamp without a resistor comes true when its pin goes high.
  void aFindingOfTheCheckHasItsMoment() {
    const Project p = lampAndButton().program("wait 0.3\nset d4 high\nwait 9");
    const CheckResult result = check(p);
    QCOMPARE(QString::fromStdString(result.findings.at(0).rule), QStringLiteral("led-overcurrent"));
    Kernel kernel(shared(p));
    kernel.advance(second);
    const auto at =
        firstShown(result.findings[0], p, kernel.trace(), kernel.events(), -1, kernel.now());
    QVERIFY(at && std::abs(inSeconds(*at) - 0.3) < 1e-3);
  }
  void pinsAndButtonsTogether() {
    const Project p = lampAndButton().program("set d4 high\nwait 0.5\nset d4 low\nwait 0.5");
    const std::vector<Input> presses = {at(0.7, Input::What::press, "btn1"),
                                        at(1.2, Input::What::release, "btn1")};
    const Pose both = {{"D4", "high"}, {"btn1", "pressed"}};
    const auto together = shown(p, both, presses, 3);
    QVERIFY(together && std::abs(inSeconds(*together) - 1) < 1e-3);
    QCOMPARE(shown(p, both, {}, 3), std::nullopt);
    // Further on it does not come again; of an empty combination it is the beginning.
    QCOMPARE(shown(p, both, presses, 3, static_cast<Nanoseconds>(1.3e9)), std::nullopt);
    QCOMPARE(shown(p, {}, presses, 3), std::optional<Nanoseconds>(0));
    // At the beginning its pin is low yet.
    QCOMPARE(shown(p, {{"D4", "low"}, {"btn1", "released"}}, presses, 3),
             std::optional<Nanoseconds>(0));
    // What no run records is not looked for.
    QCOMPARE(shown(p, {{"pot1", "50 %"}}, presses, 3), std::nullopt);
  }
};

QTEST_GUILESS_MAIN(TestShownInRun)
#include "tst_shown_in_run.moc"
