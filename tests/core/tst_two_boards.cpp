#include <QtTest>

#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;
using What = Input::What;

namespace {

// Two boards beside each other, each with a lamp on its D4 that blinks; b2 at twice the pace.
Bench twoBeacons() {
  return Bench()
      .board("b2")
      .resistor("r1", 220, "a5", "a10")
      .led("led1", "b10", "b12")
      .wire("D4", "c5")
      .wire("GND", "c12")
      .resistor("r2", 220, "f5", "f10")
      .led("led2", "g10", "g12")
      .wire("b2.D4", "h5")
      .wire("b2.GND", "h12")
      .lane("always", "set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n")
      .lane("always", "set d4 high\nwait 0.25\nset d4 low\nwait 0.25\n", "b2");
}

using Times = std::vector<int>;  // milliseconds

}  // namespace

// What happens to one of two boards touches that one only.
class TestTwoBoards : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void eachRunsItsOwnProgram() {
    Kernel k(shared(twoBeacons()));
    k.advance(1'100'000'000);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 750, 1000}));
    const Snapshot s = k.snapshot();
    QVERIFY(s.light[1] > 0.5 && s.light[3] > 0.5);
    QCOMPARE(s.lanes.size(), std::size_t{2});
  }
  void periodsOfBothAreJumpedOver() {
    // Rounds of one length, begun at different times.
    const char* round = "set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n";
    const auto project =
        shared(Bench().board("b2").lane("always", round).lane("always", round, "b2"));
    Kernel quick(project), plain(project);
    for (Kernel* k : {&quick, &plain}) k->schedule(at(0.3, What::reset, "b2"));
    plain.allowSkipping(false);
    quick.advance(1000 * second);
    plain.advance(1000 * second);
    QVERIFY(quick.periodsSkipped() > 900);
    QVERIFY(edgesOf(quick, "b1") == edgesOf(plain, "b1"));
    QVERIFY(edgesOf(quick, "b2") == edgesOf(plain, "b2"));
    QCOMPARE(quick.snapshot().stepCounts, plain.snapshot().stepCounts);
  }
  void resetOfOne() {
    Kernel k(shared(twoBeacons()));
    k.schedule(at(0.6, What::reset, "b2"));
    k.advance(1'100'000'000);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 600, 600, 850}));
  }
  void powerOffOfOne() {
    Kernel k(shared(twoBeacons()));
    k.schedule(at(0.6, What::powerOff, "b2"));
    k.schedule(at(1.3, What::powerOn, "b2"));
    k.advance(second);
    const Snapshot off = k.snapshot();
    QVERIFY(off.powered);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 600}));
    k.advance(1'700'000'000);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000, 1500}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 600, 1300, 1550}));
    // The one switch cuts both.
    k.inputNow(at(0, What::powerOff));
    k.advance(1'800'000'000);
    QVERIFY(!k.snapshot().powered);
    QVERIFY(!k.snapshot().reading.pins[0].volts);
  }
  void tripOfOne() {
    // b2's 5 V is loaded with more than its cable gives, while a button is held.
    Kernel k(shared(twoBeacons()
                        .button("btn1", 20)
                        .prop("btn1", "contacts", std::string("ideal"))
                        .wire("b2.5V", "a20")
                        .resistor("r3", 5, "a22", "a27")
                        .prop("r3", "watts", 10.0)
                        .wire("b2.GND2", "b27")));
    k.schedule(at(0.6, What::press, "btn1"));
    k.schedule(at(1.2, What::release, "btn1"));
    k.advance(second);
    QVERIFY(k.snapshot().tripped);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 700}));
    k.advance(1'600'000'000);
    QVERIFY(!k.snapshot().tripped);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000, 1500}));
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 250, 500, 700, 1200, 1450}));
  }
  void onePinDrivesTheOther() {
    // b1's D7 is read by b2's D7, which follows it on its D4.
    const Project p = Bench()
                          .board("b2")
                          .wire("D7", "a5")
                          .wire("b2.D7", "b5")
                          .wire("GND", "a10")
                          .wire("b2.GND", "b10")
                          .lane("always", "set d7 high\nwait 0.3\nset d7 low\nwait 0.2\n")
                          .lane("Each time D7 goes high", "flip d4", "b2");
    Kernel k(shared(p));
    k.advance(1'900'000'000);
    QCOMPARE(edgesOf(k, "b2"), (Times{0, 500, 1000, 1500}));
  }
};

QTEST_APPLESS_MAIN(TestTwoBoards)
#include "tst_two_boards.moc"
