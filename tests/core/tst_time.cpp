#include <QtTest>
#include <random>

#include "check/finding.h"
#include "demos.h"
#include "format/project_file.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// Circuits that remember: what capacitors, motors and gates do in a run, and what too much
// does to parts and pins in time.
namespace {

int partIndex(const Project& p, const std::string& id) {
  for (std::size_t i = 0; i < p.parts->size(); ++i)
    if ((*p.parts)[i]->id == id) return static_cast<int>(i);
  return -1;
}

double rpm(Kernel& k, double seconds) {
  k.advance(static_cast<Nanoseconds>(seconds * 1e9));
  const int i = partIndex(*k.project(), "motor1");
  return k.snapshot().motion[static_cast<std::size_t>(i)].revolutionsPerMinute;
}

// Straight from the board's 5 V.
Bench motorAtFive() {
  return Bench().part("motor", "motor1", {"j20", "j21"}).wire("5V", "f20").wire("GND", "f21");
}

double brokeAt(const Kernel& k, const std::string& id) {
  for (const Event& h : k.events())
    if (h.what == Event::What::broke && h.id == id) return static_cast<double>(h.at) * 1e-9;
  return -1;
}

}  // namespace

class TestTime : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void motorNeedsAMomentToComeToSpeed() {
    Kernel k(shared(motorAtFive()));
    const double start = rpm(k, 0.0001), some = rpm(k, 0.060), full = rpm(k, 2);
    QVERIFY(start < 200);
    QVERIFY(std::abs(some / full - 0.63) < 0.02);
    // (5 V − 7 Ω · 70 mA) / 0.0045 in turns a minute.
    QVERIFY(std::abs(full - 9570) < 50);
    QVERIFY(k.powered());  // its start is no overload
  }
  void stalledMotorTripsTheSupply() {
    Kernel k(shared(motorAtFive().prop("motor1", "load", 100.0)));
    k.advance(second);
    QVERIFY(!k.powered());
    double at = -1;
    for (const Event& h : k.events())
      if (h.what == Event::What::tripped) at = static_cast<double>(h.at) * 1e-9;
    QVERIFY2(at > 0.100 && at < 0.105, qPrintable(QString::number(at)));
  }
  void editingWhileTheSupplyHasGivenUp() {
    // The motor of an edited circuit has not begun yet, and is edited again.
    const auto loaded = [](double load) { return motorAtFive().prop("motor1", "load", load); };
    Kernel k(shared(loaded(100)));
    k.advance(second / 5);
    for (const double load : {90.0, 80.0, 100.0}) {
      QVERIFY(!k.powered());
      k.inputNow(edited(loaded(load)));
      k.advance(k.now() + second / 100);
    }
    k.inputNow(edited(loaded(0)));
    QVERIFY(rpm(k, 4) > 9000);
    QVERIFY(k.powered());
  }
  void motorRunsOnWhenSwitchedOff() {
    Kernel k(shared(winch("set d9 high\nwait 1\nset d9 low\nwait 9\n")));
    const double full = rpm(k, 0.99), later = rpm(k, 1.03), rest = rpm(k, 3);
    QVERIFY(full > 9000);
    QVERIFY(later < 0.95 * full && later > 0.3 * full);
    QVERIFY(std::abs(rest) < 5);
  }
  void speedOnHalfTheTimeIsThatOfTheBareEquations() {
    // Euler's steps of a microsecond: 5 V through 7.15 Ω while on; else the diode's 0.75 V, and
    // nothing once the current is gone, which takes less than the millisecond that it is off.
    Kernel k(shared(winch(dimmed)));
    const double run = rpm(k, 1);
    double amps = 0, speed = 0;
    constexpr double h = 1e-6, torqueOf = 0.0045;
    for (int i = 0; i < 1'000'000; ++i) {
      const bool on = i % 2009 < 1004;
      const double volts = on ? 5 - 0.15 * amps : amps > 0 ? -0.75 : torqueOf * speed;
      amps = std::max(0.0, amps + h / 2e-3 * (volts - 7 * amps - torqueOf * speed));
      speed += h / 1.74e-7 * (torqueOf * amps - 3.15e-4 * std::tanh(speed / 10));
    }
    const double expected = speed * 60 / (2 * 3.14159265);
    QVERIFY2(std::abs(run / expected - 1) < 0.01,
             qPrintable(QString("%1 against %2").arg(run).arg(expected)));
  }
  void capacitorDelaysALevel() {
    // 10 kΩ and 10 µF: 0.6 of 5 V after 0.0916 s; then pressed, at once low; let go, again.
    Bench b;
    b.resistor("r1", 10e3, "c5", "c8")
        .part("capacitor", "c1", {"d8", "d12"})
        .prop("c1", "farads", 10e-6)
        .button("btn1", 20)
        .prop("btn1", "contacts", std::string("ideal"))
        .wire("5V", "a5")
        .wire("D2", "a8")
        .wire("GND", "a12")
        .wire("b8", "a20")
        .wire("GND2", "j22")
        .program("set d13 d2\n");
    Kernel k(shared(b));
    k.schedule(at(0.5, Input::What::press, "btn1"));
    k.schedule(at(0.6, Input::What::release, "btn1"));
    k.advance(second);
    const auto t = edgeTimes(k, "D2");
    QCOMPARE(t.size(), std::size_t(3));
    const double rise = -0.1 * std::log(0.4);
    QVERIFY2(std::abs(static_cast<double>(t[0]) * 1e-9 - rise) < 0.001,
             qPrintable(QString::number(t[0])));
    QVERIFY(t[1] >= 500'000'000 && t[1] < 500'050'000);
    QVERIFY(std::abs(static_cast<double>(t[2]) * 1e-9 - 0.6 - rise) < 0.001);
    // The program sees it as soon as it looks.
    const auto lamp = edgeTimes(k, "D13");
    QCOMPARE(lamp.size(), std::size_t(3));
    QVERIFY(lamp[0] >= t[0] && lamp[0] - t[0] < 30'000);
  }
  void capacitorThatEndsNowhereTakesNoCharge() {
    Kernel k(shared(Bench()
                        .part("capacitor", "c1", {"a5", "a7"})
                        .prop("c1", "farads", 1e-12)
                        .prop("c1", "electrolytic", true)
                        .wire("5V", "b7")));
    k.advance(20 * second);
    QVERIFY(k.snapshot().state.broken == std::vector<std::uint8_t>{0});
  }
  void gateKeepsItsChargeWhileNothingDrivesIt() {
    for (const bool pulledDown : {false, true}) {
      Bench b;
      b.part("nmos", "q1", {"a10", "a11", "a12"})
          .led("led1", "e5", "e11")
          .resistor("r1", 330, "c3", "c5")
          .button("btn1", 20)
          .wire("5V", "a3")
          .wire("b10", "a20")
          .wire("3V3", "j22")
          .wire("GND", "b12");
      if (pulledDown) b.resistor("r2", 10e3, "d10", "d14").wire("GND2", "a14");
      Kernel k(shared(b));
      const int lamp = partIndex(*k.project(), "led1");
      const auto amps = [&](double seconds) {
        k.advance(static_cast<Nanoseconds>(seconds * 1e9));
        return k.snapshot().reading.parts[static_cast<std::size_t>(lamp)].amps;
      };
      k.schedule(at(0.2, Input::What::press, "btn1"));
      k.schedule(at(0.4, Input::What::release, "btn1"));
      QVERIFY(amps(0.1) < 1e-6);
      QVERIFY(amps(0.3) > 5e-3);
      if (pulledDown)
        QVERIFY(amps(0.5) < 1e-6);
      else
        QVERIFY(amps(5) > 5e-3);
    }
  }
  void piezoSoundsAtTheFrequencyOfItsPin() {
    Kernel k(shared(Bench()
                        .part("piezo", "piezo1", {"e10", "e13"})
                        .wire("D5", "a10")
                        .wire("GND", "a13")
                        .program("set d5 high\nwait 0.001\nset d5 low\nwait 0.001\n")));
    k.advance(second);
    const double hertz = k.snapshot().motion[0].hertz;
    QVERIFY2(std::abs(hertz - 499.9) < 1, qPrintable(QString::number(hertz)));
    QVERIFY(k.periodsSkipped() > 300);  // what has settled repeats exactly
  }
  // What a step begins in the circuit goes on before the next step is complete.
  void quickStepsDoNotPassWhatTheyBegan() {
    for (const char* program : {"flip d5\n", "set d5 high\nwait 0.000002\nset d5 low\n"}) {
      const auto project = shared(Bench()
                                      .part("piezo", "piezo1", {"e10", "e13"})
                                      .wire("D5", "a10")
                                      .wire("GND", "a13")
                                      .program(program));
      Kernel whole(project), pieces(project);
      constexpr Nanoseconds end = second / 1000;
      whole.advance(end);
      while (pieces.now() < end) pieces.advance(pieces.now() + 100);
      QVERIFY(edges(whole.trace()) == edges(pieces.trace()));
    }
  }
  void stepsOfAdvanceDoNotMatterInTimeEither() {
    const auto project = shared(winch(dimmed).part("capacitor", "c1", {"g20", "g22"}));
    Kernel whole(project), pieces(project);
    whole.advance(second / 2);
    std::mt19937 random(4);
    while (pieces.now() < second / 2) {
      pieces.advance(std::min<Nanoseconds>(second / 2, pieces.now() + 1 + random() % 3'000'000));
      (void)pieces.snapshot();
    }
    QVERIFY(edges(whole.trace()) == edges(pieces.trace()));
    const auto again = Kernel::replay(project, whole.inputs(), second / 2);
    QVERIFY(edges(whole.trace()) == edges(again->trace()));
  }
  void aKnobTurnedDoesNotStopTheMotor() {
    Kernel k(shared(motorAtFive()));
    const double before = rpm(k, 0.050);
    k.inputNow(at(0, Input::What::setProp, "motor1", "load", 1.0));
    QVERIFY(std::abs(rpm(k, 0.0501) - before) < 0.02 * before);
    k.inputNow(at(0, Input::What::powerOff));
    k.inputNow(at(0, Input::What::powerOn));
    QVERIFY(rpm(k, 0.0505) < 0.05 * before);
  }

  void anArmTurnsAtItsPaceAndDrawsMoreMeanwhile() {
    // Pulses of 1.5 ms ask for 90°, and after a second those of 2 ms for 180°.
    const Project p = Bench()
                          .part("servo", "servo1", {"j2", "j3", "j4"})
                          .wire("D9", "f2")
                          .wire("5V", "f3")
                          .wire("GND", "f4")
                          .program(
                              "repeat 50 times\n  set d9 high\n  wait 0.0015\n  set d9 low\n  "
                              "wait 0.0185\nrepeat 50 times\n  set d9 high\n  wait 0.002\n  set "
                              "d9 low\n  wait 0.018\n");
    Kernel k(shared(p));
    const auto when = [&](double seconds) {
      k.advance(static_cast<Nanoseconds>(seconds * 1e9));
      return k.snapshot();
    };
    const auto near = [](double a, double b, double within) { return std::abs(a - b) <= within; };
    const Snapshot before = when(0.0014);
    QCOMPARE(before.motion[0].degrees, -1.0);
    QVERIFY(near(before.supplyAmps, 0.008, 0.0006));
    const Snapshot turning = when(0.0015 + 0.05);
    QVERIFY2(near(turning.motion[0].degrees, 30, 0.5),
             qPrintable(QString::number(turning.motion[0].degrees)));
    QVERIFY2(near(turning.supplyAmps, 0.150, 0.001),
             qPrintable(QString::number(turning.supplyAmps)));
    const Snapshot there = when(0.155);
    QVERIFY(near(there.motion[0].degrees, 90, 1) && near(there.supplyAmps, 0.008, 0.0006));
    QVERIFY(near(when(1.002 + 0.05).motion[0].degrees, 120, 1));
    // Without power it stays where it is.
    k.inputNow(at(0, Input::What::powerOff));
    QVERIFY(near(when(3).motion[0].degrees, 120, 1));
    QCOMPARE(k.snapshot().supplyAmps, 0.0);
  }
  void armsAreTheSameWhetherPeriodsAreSkippedOrNot() {
    const Project p = Bench()
                          .part("servo", "servo1", {"j2", "j3", "j4"})
                          .wire("D9", "f2")
                          .wire("5V", "f3")
                          .wire("GND", "f4")
                          .program("set d9 high\nwait 0.0013\nset d9 low\nwait 0.0187\n");
    Kernel fast(shared(p)), plain(shared(p));
    plain.allowSkipping(false);
    fast.advance(5 * second);
    plain.advance(5 * second);
    QVERIFY(fast.periodsSkipped() > 100);
    QVERIFY(edges(fast.trace()) == edges(plain.trace()));
    QCOMPARE(fast.snapshot().motion[0].degrees, plain.snapshot().motion[0].degrees);
  }
  void partsSurviveWhereThatIsSet() {
    Bench bench = beacon();
    bench.prop("r1", "ohms", 1.0).program("set d4 high\nwait 10");
    Project p = bench;
    const std::size_t found = check(p).findings.size();
    QVERIFY(found > 0);
    p = edits::setPartsSurvive(std::move(p), true);
    QCOMPARE(check(p).findings.size(), found);
    Kernel k(shared(p));
    k.advance(20 * second);
    QVERIFY(!k.isBroken("led1") && k.snapshot().light[1] > 0.9);
    // Set back while powered, it breaks after all.
    k.inputNow(edited(edits::setPartsSurvive(p, false)));
    k.advance(40 * second);
    QVERIFY(k.isBroken("led1"));
  }
  void lampBurnsAfterItsTime() {
    // A mean of 30 mA over 2 s: at 90 mA after 2 · 30 / 90 s.
    Kernel k(shared(Bench()
                        .led("led1", "a9", "a11", "green")
                        .wire("D4", "b9")
                        .wire("GND", "b11")
                        .program("set d4 high\n")));
    const Snapshot begin = (k.advance(1'000'000), k.snapshot());
    const double amps = begin.reading.parts[0].amps;
    QVERIFY2(amps > 0.085 && amps < 0.095, qPrintable(QString::number(amps)));
    k.advance(3 * second);
    QVERIFY2(std::abs(brokeAt(k, "led1") - 2 * 0.030 / amps) < 0.003,
             qPrintable(QString::number(brokeAt(k, "led1"))));
    QVERIFY(std::abs(k.snapshot().reading.parts[0].amps) < 1e-9);
    k.inputNow(at(0, Input::What::replace, "led1"));
    k.advance(3 * second + 1'000'000);
    QVERIFY(k.snapshot().reading.parts[0].amps > 0.085);
    // The new one has its own two thirds of a second.
    k.advance(3 * second + second / 2);
    QVERIFY(k.snapshot().reading.parts[0].amps > 0.085);
    k.advance(4 * second);
    QVERIFY(std::abs(k.snapshot().reading.parts[0].amps) < 1e-9);
  }
  void lampAtABatteryBurnsAtOnce() {
    Kernel k(shared(Bench().led("led1", "a9", "a11").part("battery", "bat1", {"b9", "b11"})));
    k.advance(second);
    QVERIFY2(brokeAt(k, "led1") > 0 && brokeAt(k, "led1") <= 0.002,
             qPrintable(QString::number(brokeAt(k, "led1"))));
  }
  void lampJustBelowItsLimitLives() {
    // 29 mA for a minute.
    Kernel k(shared(Bench()
                        .led("led1", "a9", "a11")
                        .resistor("r1", 100, "c9", "c5")
                        .wire("5V", "a5")
                        .wire("GND", "b11")));
    k.advance(60 * second);
    QVERIFY(k.snapshot().reading.parts[0].amps > 0.026);
    QCOMPARE(brokeAt(k, "led1"), -1.0);
  }
  void resistorSmokesAboveTwiceItsRating() {
    // 25 V² / R: 40 Ω takes 0.625 W of 0.25: the 1 s mean reaches 0.5 W after 0.8 s. 51 Ω lives.
    for (const double ohms : {40.0, 51.0}) {
      Kernel k(
          shared(Bench().resistor("r1", ohms, "a9", "a13").wire("5V", "b9").wire("GND", "b13")));
      k.advance(5 * second);
      const double expected = ohms < 45 ? 0.5 / (25 / ohms) : -1;
      QVERIFY2(std::abs(brokeAt(k, "r1") - expected) < 0.002,
               qPrintable(QString::number(brokeAt(k, "r1"))));
    }
  }
  void capacitorAgainstItsPlusIsDamaged() {
    for (const bool reversed : {false, true}) {
      Kernel k(shared(Bench()
                          .part("capacitor", "c1", {"a9", "a12"})
                          .prop("c1", "electrolytic", true)
                          .prop("c1", "farads", 1e-5)
                          .resistor("r1", 100, "c5", "c9")
                          .wire(reversed ? "GND" : "5V", "a5")
                          .wire(reversed ? "5V" : "GND", "b12")));
      k.advance(second);
      QCOMPARE(brokeAt(k, "c1") > 0, reversed);
    }
    Kernel k(shared(Bench()
                        .part("capacitor", "c1", {"a9", "a12"})
                        .prop("c1", "volts", 4.0)
                        .wire("5V", "b9")
                        .wire("GND", "b12")));
    k.advance(second);
    QVERIFY(brokeAt(k, "c1") > 0);
  }
  void pinGivesUpAfterFiveSecondsOfTooMuch() {
    // 25 Ω and 50 Ω: 67 mA; the mean over 5 s passes 40 mA after 3 s.
    Kernel k(shared(Bench()
                        .resistor("r1", 50, "a9", "a13")
                        .prop("r1", "watts", 1.0)
                        .wire("D4", "b9")
                        .wire("GND", "b13")
                        .program("set d4 high\n")));
    k.advance(2'900'000'000);
    QVERIFY(k.snapshot().reading.parts[0].amps > 0.066);
    k.advance(4 * second);
    QVERIFY2(std::abs(brokeAt(k, "b1.D4") - 3.0) < 0.005,
             qPrintable(QString::number(brokeAt(k, "b1.D4"))));
    QVERIFY(k.snapshot().reading.parts[0].amps < 1e-6);
    k.inputNow(at(0, Input::What::replace, "b1", "D4"));
    k.advance(4 * second + 1'000'000);
    QVERIFY(k.snapshot().reading.parts[0].amps > 0.066);
  }
};

QTEST_GUILESS_MAIN(TestTime)
#include "tst_time.moc"
