#include <QtTest>

#include "check/what_if.h"
#include "project/edits.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

// What would come of another value.
class TestWhatIf : public QObject {
  Q_OBJECT
  static const WhatIf* named(const std::vector<WhatIf>& all, const std::string& part) {
    for (const WhatIf& w : all)
      if (w.part == part) return &w;
    return nullptr;
  }

 private Q_SLOTS:
  void aLampOffersItsResistorAndTheSupply() {
    const Project p = beacon().program(blink).get();
    const CheckResult r = check(p);
    const auto all = whatIfs(p, r, "led1");
    QCOMPARE(all.size(), std::size_t(2));
    QVERIFY(named(all, "r1") && named(all, ""));
    QCOMPARE(named(all, "r1")->now, 220.0);
    QVERIFY(named(all, "r1")->min <= 10 && named(all, "r1")->max >= 10e3);
    QCOMPARE(whatIfs(p, r, "r1").size(), std::size_t(2));
    QVERIFY(whatIfs(p, r, "nobody").empty());
  }
  void predictionsAreThoseOfTheCheck() {
    // Whatever is tried: what the check says once it is so.
    const Project p = beacon().program(blink).get();
    const CheckResult before = check(p);
    Prediction tried(p, before, "led1", *named(whatIfs(p, before, "led1"), "r1"));
    for (const double ohms : {47.0, 100.0, 220.0, 1000.0, 10e3}) {
      const Project q = edits::changePart(p, "r1", [&](Part& part) { part.setProp("ohms", ohms); });
      double amps = -1, share = 0;
      for (const WorstReading& w : check(q).readings)
        if (w.part == "led1") amps = w.amps, share = w.share;
      const Predicted got = tried.at(ohms);
      QVERIFY(got.solved);
      QVERIFY(std::abs(got.amps - amps) < 1e-9);
      QVERIFY(std::abs(got.share - share) < 1e-6);
      QVERIFY(std::abs(got.light - lightOf(amps)) < 1e-9);
    }
  }
  void moreOhmsLessCurrentAndMoreVoltsMore() {
    const Project p = beacon().program(blink).get();
    const CheckResult r = check(p);
    for (const WhatIf& what : whatIfs(p, r, "led1")) {
      Prediction tried(p, r, "led1", what);
      double last = what.part.empty() ? -1 : 1;
      for (int k = 0; k <= 20; ++k) {
        const double at = what.min * std::pow(what.max / what.min, k / 20.0);
        const double amps = tried.at(at).amps;
        QVERIFY(what.part.empty() ? amps >= last : amps < last);
        last = amps;
      }
      QVERIFY(std::abs(tried.at(what.now).amps - 0.01258) < 2e-4);
    }
  }
  void theResistorsOwnHeatIsToldAsWell() {
    const Project p = Bench()
                          .resistor("r1", 100, "a5", "a9")
                          .led("led1", "b9", "b11")
                          .wire("5V", "b5")
                          .wire("GND", "a11")
                          .get();
    const CheckResult r = check(p);
    Prediction tried(p, r, "led1", *named(whatIfs(p, r, "led1"), "r1"));
    // 0.19 A through 10 Ω: 0.36 W of 0.25.
    QVERIFY(tried.at(10).restShare > 1.2);
    QVERIFY(tried.at(220).restShare < 0.3);
  }
  void aBatteryOffersNoSupplyOfTheBoard() {
    const Project p = Bench()
                          .part("battery", "bat1", {"a1", "a3"})
                          .resistor("r1", 470, "b1", "b7")
                          .led("led1", "c7", "b3")
                          .get();
    const CheckResult r = check(p);
    const auto all = whatIfs(p, r, "led1");
    QVERIFY(named(all, "r1"));
    QVERIFY(!named(all, ""));
  }
};

QTEST_GUILESS_MAIN(TestWhatIf)
#include "tst_what_if.moc"
