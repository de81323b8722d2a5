#include <QtTest>
#include <random>

#include "bench/placing.h"
#include "demos.h"
#include "format/project_file.h"
#include "program/facts.h"
#include "program/signals.h"
#include "run/kernel.h"
#include "run/lamp_light.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Project demoProject(const char* name) { return readProject(demo(name)->text).project; }

}  // namespace

class TestRun : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // A pin that gave too much for too long is told of once, with what it gave.
  void aPinBurnsOnce() {
    Kernel kernel(shared(Bench()
                             .part("motor", "motor1", {"j13", "j16"})
                             .wire("D4", "g13")
                             .wire("g16", "GND")
                             .program("set d4 high\nwait 1")));
    kernel.advance(2 * second);
    int told = 0;
    for (const Event& event : kernel.events())
      if (event.what == Event::What::broke) {
        ++told;
        QVERIFY(event.id == "b1.D4" && event.figure > 0.04);
      }
    QCOMPARE(told, 1);
  }
  // A knob that is turned changes nothing of what a program does: a lane that has ended stays so.
  void turningAKnobStartsNothing() {
    for (const bool plain : {true, false}) {
      Bench bench = beacon().program("flip d4\nwait 0.01\nend this lane");
      if (!plain) bench.lane("Every 0.5", "set d12 low");
      Kernel k(shared(bench));
      k.advance(50'000'000);
      QCOMPARE(edgeTimes(k, "D4").size(), std::size_t(1));
      Input turn;
      turn.what = Input::What::setProp;
      turn.id = "r1";
      turn.key = "ohms";
      turn.value = 330.0;
      k.inputNow(turn);
      k.advance(second);
      QCOMPARE(edgeTimes(k, "D4").size(), std::size_t(1));
    }
  }
  void blinkTakesItsTime() {
    Kernel k(shared(beacon().program(blink)));
    k.advance(3 * second);
    const auto t = edgeTimes(k, "D4");
    // 2 cycles of 62.5 ns to set, 2 to go round; waits begin when those have passed.
    QCOMPARE(t.size(), std::size_t(6));
    QCOMPARE(t[0], 125);
    QCOMPARE(t[1], 125 + 500'000'000 + 125);
    QCOMPARE(t[2] - t[0], 1'000'000'000 + 3 * 125);
  }
  void lampShowsTheModelledLight() {
    Kernel k(shared(beacon().program(blink)));
    k.advance(second / 4);
    const Snapshot s = k.snapshot();
    const double amps = s.reading.parts[1].amps;
    QVERIFY(std::abs(s.light[1] - std::pow(amps / 0.020, 1 / 2.2)) < 1e-6);
    k.advance(second * 3 / 4);
    QVERIFY(k.snapshot().light[1] < 1e-6);
    k.advance(10 * second);
    const LampStatistics l =
        lampStatistics(k.trace(), k.trace().find(Signal::What::partAmps, "led1", ""));
    QCOMPARE(l.flashes, 10);
    QVERIFY(std::abs(l.peakAmps - amps) < 1e-6);
    QVERIFY(l.litSeconds > 5.0 && l.litSeconds < 5.25);
  }
  void aLampThatIsLitFromTheStartIsLitAllTheTime() {
    // Straight from 5 V: no edge ever, but for the first 20 ms in which the eye follows.
    Kernel k(shared(Bench()
                        .resistor("r1", 330, "c9", "h9")
                        .led("led1", "i9", "i11")
                        .wire("5V", "a9")
                        .wire("GND", "j11")));
    k.advance(4 * second);
    const int signal = k.trace().find(Signal::What::partAmps, "led1", "");
    const LampStatistics l = lampStatistics(k.trace(), signal);
    QVERIFY(std::abs(l.lightMean - l.lightAtEnd) < 0.005);
    QVERIFY(l.litSeconds > 3.98);
    QCOMPARE(l.flashes, 1);
  }
  void withoutWaitsTheLampIsHalfLit() {
    Kernel k(shared(beacon().program("set d4 high\nset d4 low\n")));
    k.advance(second);
    const auto t = edgeTimes(k, "D4");
    QVERIFY(t.size() > 5'000'000);  // 6 cycles of 62.5 ns a round, 2 of them high
    const double full = 0.01255;
    const double light = k.snapshot().light[1];
    QVERIFY(std::abs(light - std::pow(full / 3 / 0.020, 1 / 2.2)) < 0.01);
    QVERIFY(k.trace().storedEdges() < 2000);  // periodic stretches are stored once
  }
  void stepsOfAdvanceDoNotMatter_data() {
    QTest::addColumn<QString>("demo");
    for (const Demo& d : demos()) QTest::newRow(d.name.c_str()) << QString::fromStdString(d.name);
  }
  void stepsOfAdvanceDoNotMatter() {
    QFETCH(QString, demo);
    const auto project = shared(demoProject(qPrintable(demo)));
    const auto press = [&](Kernel& k) {
      if (!project->part("btn1")) return;
      k.schedule(at(0.7, Input::What::press, "btn1"));
      k.schedule(at(1.9, Input::What::release, "btn1"));
    };
    Kernel whole(project), plain(project), pieces(project);
    for (Kernel* k : {&whole, &plain, &pieces}) press(*k);
    whole.advance(4 * second);
    plain.allowSkipping(false);
    plain.advance(4 * second);
    std::mt19937 random(3);
    while (pieces.now() < 4 * second)
      pieces.advance(std::min<Nanoseconds>(4 * second, pieces.now() + 1 + random() % 30'000'000));
    const std::string expected = edges(plain.trace());
    QVERIFY(expected.size() > 20);
    QVERIFY(edges(whole.trace()) == expected);
    QVERIFY(edges(pieces.trace()) == expected);
    QVERIFY(whole.snapshot().stepCounts == plain.snapshot().stepCounts);
    // Statistics of folded and of written-out traces agree.
    for (std::size_t s = 0; s < plain.trace().signals().size(); ++s) {
      const int i = static_cast<int>(s);
      QVERIFY(std::abs(whole.trace().integral(i, 0, 4 * second) -
                       plain.trace().integral(i, 0, 4 * second)) < 1e-6);
      QCOMPARE(whole.trace().countEdges(i, -1, 4 * second),
               plain.trace().countEdges(i, -1, 4 * second));
      const LampStatistics a = lampStatistics(whole.trace(), i),
                           b = lampStatistics(plain.trace(), i);
      QCOMPARE(a.flashes, b.flashes);
      QVERIFY2(std::abs(a.litSeconds - b.litSeconds) < 1e-6 &&
                   std::abs(a.lightMean - b.lightMean) < 1e-6,
               qPrintable(QString("%1 %2: lit %3 and %4 s, light %5 and %6")
                              .arg(QString::fromStdString(plain.trace().signals()[s].owner),
                                   QString::fromStdString(plain.trace().signals()[s].name))
                              .arg(a.litSeconds, 0, 'g', 12)
                              .arg(b.litSeconds, 0, 'g', 12)
                              .arg(a.lightMean, 0, 'g', 12)
                              .arg(b.lightMean, 0, 'g', 12)));
    }
  }
  // Who asks for the time is never twice in the same state.
  void theTimeIsNotSkipped_data() {
    QTest::addColumn<QString>("sign");
    QTest::addColumn<QString>("steps");
    QTest::newRow("kept") << "Keep D12 at seconds since power-on > 10"
                          << "";
    QTest::newRow("started") << "Each time seconds since power-on > 10"
                             << "set d12 high";
    QTest::newRow("asked") << "always"
                           << "if seconds since power-on > 10\n  set d12 high\nwait 0.1";
    QTest::newRow("followed") << "Each time (seconds since power-on > 9) held for 1"
                              << "set d12 high";
    QTest::newRow("counted") << "Keep the variable n at count (wave of 1 Hz with 50 %) from 0 to 10"
                             << "";
  }
  void theTimeIsNotSkipped() {
    QFETCH(QString, sign);
    QFETCH(QString, steps);
    Bench bench = beacon().lane("always", "flip d4\nwait 0.25");
    bench.name("variable n is 0").lane(sign.toStdString(), steps.toStdString());
    if (steps.isEmpty() && sign.contains("variable")) bench.lane("Keep D12 at n ≥ 10", "");
    Kernel k(shared(bench));
    k.advance(30 * second);
    const std::vector<int> edges = edgesOf(k, "b1", "D12");
    QVERIFY(!edges.empty());
    QVERIFY2(std::abs(edges.front() - 10'000) <= 100, qPrintable(QString::number(edges.front())));
  }
  void randomProgramsSkipExactly() {
    std::mt19937 random(8);
    const char* lines[] = {"set d4 high",
                           "set d4 low",
                           "wait 0.01",
                           "wait 0.003",
                           "wait 0.0005",
                           "repeat 3 times\n  set d4 high\n  wait 0.002\n  set d4 low",
                           "if d4 high\n  wait 0.001\notherwise\n  set d4 high",
                           "set d5 d4"};
    for (int round = 0; round < 60; ++round) {
      Bench bench = beacon();
      const int lanes = 1 + static_cast<int>(random() % 3);
      for (int l = 0; l < lanes; ++l) {
        std::string text;
        for (unsigned i = 0; i < 1 + random() % 5; ++i)
          text += std::string(lines[random() % 8]) + "\n";
        bench.lane(random() % 4 ? "always" : "power", text + "wait 0.001\n");
      }
      const auto project = shared(bench.get());
      Kernel fast(project), plain(project);
      plain.allowSkipping(false);
      fast.advance(second / 3);
      plain.advance(second / 3);
      QVERIFY2(edges(fast.trace()) == edges(plain.trace()),
               qPrintable(QString("round %1").arg(round)));
    }
  }
  void sameSeedSameTrace() {
    Project p = demoProject("berth-signals");
    const auto run = [](const Project& q) {
      Kernel k(shared(q));
      for (int i = 0; i < 6; ++i)
        k.schedule(at(0.3 * i + 0.1, i % 2 ? Input::What::release : Input::What::press, "btn1"));
      k.advance(3 * second);
      return edges(k.trace());
    };
    QVERIFY(run(p) == run(p));
    Project q = p;
    q.seed = 2;
    QVERIFY(run(q) != run(p));  // other bounces
  }
  void realContactsBounceIdealOnesDoNot() {
    const Bench bench = Bench()
                            .button("btn1", 18)
                            .resistor("r1", 10000, "c20", "c25")
                            .wire("5V", "a18")
                            .wire("D2", "a20")
                            .wire("GND", "a25")
                            .program("if d2 high\n  wait 0.001\n");
    int most = 0;
    Kernel real(shared(bench));
    for (int i = 0; i < 40; ++i)
      real.schedule(at(0.1 * (i + 1), i % 2 ? Input::What::release : Input::What::press, "btn1"));
    real.advance(5 * second);
    const auto t = edgeTimes(real, "D2");
    for (int i = 0; i < 40; ++i) {
      const Nanoseconds from = static_cast<Nanoseconds>(0.1 * (i + 1) * 1e9);
      int n = 0;
      for (Nanoseconds e : t)
        if (e >= from && e < from + 90'000'000) {
          QVERIFY(e - from <= 3'000'000);
          ++n;
        }
      QVERIFY(n == 1 || n == 3 || n == 5);
      most = std::max(most, n);
    }
    QCOMPARE(most, 5);
    Bench ideal = bench;
    Kernel clean(shared(ideal.prop("btn1", "contacts", std::string("ideal"))));
    clean.schedule(at(0.1, Input::What::press, "btn1"));
    clean.advance(second);
    QCOMPARE(edgeTimes(clean, "D2").size(), std::size_t(1));
  }
  // A press is overlooked where a program looks at its pin, and did not while it lasted.
  void pressesThatNothingLookedAt_data() {
    QTest::addColumn<QString>("sign");
    QTest::addColumn<QString>("steps");
    QTest::addColumn<int>("overlooked");  // of one press of 0.2 s
    QTest::newRow("in a wait") << "Round and round"
                               << "if d2 is high\n  flip d4\nwait 1\n"
                               << 1;
    QTest::newRow("looked at often") << "Round and round"
                                     << "if d2 is high\n  flip d4\nwait 0.1\n"
                                     << 0;
    QTest::newRow("without waits") << "Round and round"
                                   << "set d4 to d2 is high\n"
                                   << 0;
    QTest::newRow("waited for") << "Round and round"
                                << "wait until d2 is high\nflip d4\nwait until d2 is low\n"
                                << 0;
    QTest::newRow("waited for, once it is over") << "When power comes on"
                                                 << "wait 2\nwait until d2 is high\nflip d4\n"
                                                 << 1;
    QTest::newRow("it starts a lane") << "Each time d2 goes high"
                                      << "flip d4\nwait 9\n"
                                      << 0;
    QTest::newRow("in a test that starts a lane") << "Each time (d2 is high) held for 1 s"
                                                  << "flip d4\n"
                                                  << 0;
    QTest::newRow("kept") << "Keep d4 at d2 is high"
                          << "" << 0;
    QTest::newRow("nobody reads it") << "Round and round"
                                     << "flip d4\nwait 1\n"
                                     << 0;
    QTest::newRow("over and done") << "When power comes on"
                                   << "if d2 is high\n  flip d4\n"
                                   << 1;
  }
  void pressesThatNothingLookedAt() {
    QFETCH(QString, sign);
    QFETCH(QString, steps);
    QFETCH(int, overlooked);
    const Project p = Bench()
                          .button("btn1", 20)
                          .resistor("r2", 10000, "c22", "ln20")
                          .wire("5V", "a20")
                          .wire("D2", "a22")
                          .wire("GND", "ln1")
                          .lane(sign.toStdString(), steps.toStdString());
    Kernel kernel(shared(p));
    kernel.schedule(at(1.3, Input::What::press, "btn1"));
    kernel.schedule(at(1.5, Input::What::release, "btn1"));
    kernel.advance(3 * second);
    std::vector<Event> found;
    for (const Event& e : kernel.events())
      if (e.what == Event::What::overlooked) found.push_back(e);
    QCOMPARE(static_cast<int>(found.size()), overlooked);
    for (const Event& e : found) {
      QCOMPARE(e.at, Nanoseconds{1'500'000'000});
      QCOMPARE(e.figure, 0.2);
      QCOMPARE(e.id, std::string("btn1"));
    }
  }

  void lanesRunBesideEachOther() {
    Bench bench = beacon()
                      .resistor("r2", 220, "c14", "h14")
                      .led("led2", "i14", "i16")
                      .wire("D5", "a14")
                      .wire("j16", "rn14");
    bench.lane("always", "set d4 high\nwait 0.1\nset d4 low\nwait 0.1")
        .lane("power", "set d5 high\nwait 0.25\nset d5 low");
    Kernel k(shared(bench));
    k.advance(second);
    QVERIFY(edgeTimes(k, "D4").size() >= 9);
    const auto d5 = edgeTimes(k, "D5");
    QCOMPARE(d5.size(), std::size_t(2));
    QVERIFY(std::abs(static_cast<double>(d5[1] - d5[0]) * 1e-9 - 0.25) < 1e-4);
    QVERIFY(k.snapshot().lanes[1].over);
  }
  void tooMuchCurrentBurnsTheLamp() {
    // 47 Ω: about 40 mA. The mean of two seconds exceeds 30 mA after 1.5 s.
    Bench bench = beacon();
    bench.prop("r1", "ohms", 47.0).program("set d4 high\nwait 10");
    Kernel k(shared(bench));
    k.advance(second / 100);
    const double amps = k.snapshot().reading.parts[1].amps;
    QVERIFY(amps > 0.035 && amps < 0.045);
    k.advance(5 * second);
    QVERIFY(k.isBroken("led1"));
    const auto it = std::find_if(k.events().begin(), k.events().end(),
                                 [](const Event& h) { return h.what == Event::What::broke; });
    QVERIFY(it != k.events().end());
    QVERIFY(std::abs(static_cast<double>(it->at) * 1e-9 - 2 * 0.030 / amps) < 0.01);
    QVERIFY(k.snapshot().light[1] < 1e-6);
    Input in = at(0, Input::What::replace, "led1");
    k.inputNow(in);
    k.advance(k.now() + second / 10);
    QVERIFY(!k.isBroken("led1") && k.snapshot().light[1] > 0.9);
    // 25 mA for ever does no harm.
    Kernel warm(shared(Bench(bench).prop("r1", "ohms", 100.0)));
    warm.advance(20 * second);
    QVERIFY(!warm.isBroken("led1"));
  }
  void shortCircuitSwitchesTheSupplyOff() {
    Bench bench = beacon().button("btn1", 20).wire("5V", "a20").wire("GND2", "a22").program(blink);
    bench.prop("btn1", "contacts", std::string("ideal"));
    Kernel k(shared(bench));
    k.schedule(at(1, Input::What::press, "btn1"));
    k.schedule(at(2, Input::What::release, "btn1"));
    k.advance(second * 105 / 100);
    QVERIFY(!k.snapshot().tripped);
    k.advance(second * 12 / 10);
    QVERIFY(k.snapshot().tripped);  // 0.1 s later
    QVERIFY(!k.powered());
    k.advance(3 * second);
    QVERIFY(!k.snapshot().tripped && k.powered());
    QVERIFY(edgeTimes(k, "D4").back() > 2 * second);
  }
  void valuesChangeWhilePowered() {
    const Project p = beacon().program(blink);
    Kernel k(shared(p));
    k.advance(second / 10);  // in the first wait
    const std::string wait = p.programs[0]->lanes[0]->steps[1].id;
    k.inputNow(edited(edits::setExpr(p, wait, "seconds", Expr::of(2.0))));
    k.advance(3 * second);
    const auto t = edgeTimes(k, "D4");
    QCOMPARE(t[1], 125 + 2 * second + 125);  // counted from when the wait began
    // A shorter one ends at once.
    Kernel s(shared(p));
    s.advance(second / 10);
    s.inputNow(edited(edits::setExpr(p, wait, "seconds", Expr::of(0.05))));
    s.advance(second);
    QVERIFY(edgeTimes(s, "D4")[1] < second / 10 + 100'000);
  }
  void wiringChangesWhilePowered() {
    const Project p = beacon().program(blink);
    Kernel k(shared(p));
    k.advance(second / 4);
    k.inputNow(edited(edits::changePart(p, "led1", [](Part& q) { q = flipped(q, catalogue()); })));
    k.advance(second * 3 / 10);
    QVERIFY(k.snapshot().light[1] < 1e-3);
    k.inputNow(edited(p));
    k.advance(second * 35 / 100);
    QVERIFY(k.snapshot().light[1] > 0.5);
    QCOMPARE(edgeTimes(k, "D4").size(), std::size_t(1));  // the program did not begin again
  }
  void lookingBackIsTheSameMoment() {
    const auto project = shared(demoProject("berth-signals"));
    Kernel k(project);
    k.advance(second / 2);
    k.inputNow(at(0, Input::What::press, "btn1"));
    std::vector<std::pair<Nanoseconds, Snapshot>> seen;
    for (int i = 1; i <= 20; ++i) {
      k.advance(k.now() + 77'000'003);
      if (i == 12) k.inputNow(at(0, Input::What::release, "btn1"));
      seen.emplace_back(k.now(), k.snapshot());
    }
    for (const auto& [when, then] : seen) {
      const Snapshot again = Kernel::replay(project, k.inputs(), when)->snapshot();
      QVERIFY(again.state == then.state && again.levels == then.levels &&
              again.light == then.light);
      QVERIFY(again.lanes[0].step == then.lanes[0].step &&
              again.lanes[0].waitLeft == then.lanes[0].waitLeft);
    }
  }
  void resetPowerAndHand() {
    Kernel k(shared(beacon().program(blink)));
    k.advance(second / 4);
    k.inputNow(at(0, Input::What::powerOff));
    k.advance(second);
    QVERIFY(!k.snapshot().powered && k.snapshot().light[1] == 0);
    k.inputNow(at(0, Input::What::powerOn));
    k.advance(second * 11 / 10);
    QVERIFY(k.snapshot().light[1] > 0.5);
    k.inputNow(at(0, Input::What::reset));
    k.advance(second * 2);
    Kernel bare(shared(beacon()));
    Input hand = at(0.5, Input::What::drivePin, "b1");
    hand.key = "D4";
    hand.value = 100.0;
    bare.schedule(hand);
    bare.advance(second);
    QVERIFY(bare.snapshot().light[1] > 0.5);
    QCOMPARE(bare.direction("b1", "D4"), std::string("output"));
  }
  void aFloatingPinReadsAtRandomButTheSameEachTime() {
    const Bench bench =
        beacon()
            .wire("D2", "a20")
            .program("if d2 high\n  set d4 high\notherwise\n  set d4 low\nwait 0.003\n");
    const auto run = [&](Nanoseconds piece) {
      Kernel k(shared(bench));
      while (k.now() < second) k.advance(k.now() + piece);
      return edges(k.trace());
    };
    const std::string once = run(second);
    QVERIFY(std::count(once.begin(), once.end(), '\n') > 40);
    QVERIFY(run(7'000'000) == once);
  }
  // What stands along the thread of a lane that keeps something, and of a test that starts one.
  void partsOfSignalsAreShown() {
    Kernel k(shared(beacon()
                        .button("btn1", 20)
                        .wire("D2", "a20")
                        .wire("5V", "a22")
                        .resistor("r9", 10000, "b20", "-20")
                        .lane("Keep D9 at choose 70 if (flips on (D2 held for 0.5 s)) else 0", "")
                        .lane("Each time not D2", "wait 1")));
    const auto parts = [&](std::size_t lane) {
      QStringList out;
      const Snapshot now = k.snapshot();
      for (const LaneView::Part& part : now.lanes[lane].parts) {
        out << QString("%1=%2").arg(QString::fromStdString(part.path)).arg(part.value.number);
        if (part.left) out.back() += QString(" %1").arg(static_cast<double>(*part.left) * 1e-9);
      }
      return out.join(", ");
    };
    k.advance(second);
    QCOMPARE(parts(0), QString("if/on/of=0, if/on=0, if=0, =0"));
    k.inputNow({0, Input::What::press, "btn1"});
    k.advance(k.now() + second / 5);
    QVERIFY2(parts(0).startsWith("if/on/of=1, if/on=0 0.3"), qPrintable(parts(0)));
    k.advance(k.now() + second / 2);
    QCOMPARE(parts(0), QString("if/on/of=1, if/on=1, if=1, =70"));
    QCOMPARE(parts(1), QString("a=1, =0"));
  }
  // Each signal operator has a line of its own on request: what its thread shows at every moment;
  // and whether they are recorded or not, everything else is as it is.
  void operatorsAreRecorded_data() {
    QTest::addColumn<QString>("sign");
    for (const char* sign :
         {"Keep D9 at flips on (rise of D2 at most every 0.05)", "Keep D9 at D2 held for 0.03",
          "Keep D9 at flips on (D2 tapped within 0.06)",
          "Keep the level of D9 at choose 70 if (flips on (D2 steady for 0.02)) else 0",
          "Keep D9 at (count D2 from 0 to 3) > 1", "Keep D9 at pulse of 0.04 on (fall of D2)",
          "Keep D9 at (wave of 7 Hz with 30 %) and (D2 steady for 0.01)",
          "Each time (D2 held for 0.05) or (flips on D2)"})
      QTest::newRow(sign) << sign;
  }
  void operatorsAreRecorded() {
    QFETCH(QString, sign);
    const Project project = beacon()
                                .button("btn1", 20)
                                .wire("D2", "a20")
                                .wire("5V", "a22")
                                .resistor("r9", 10000, "b20", "-20")
                                .lane(sign.toStdString(), sign.startsWith("Each") ? "flip d9" : "");
    const Lane& lane = *project.programs[0]->lanes.back();
    RunSetup asked;
    const Expr* whole = sensedBy(lane.trigger);
    forEachOperator(*whole, [&](const std::string& path, const Expr&) {
      asked.probes.push_back({Signal::What::kept, "b1", operatorName(lane.id, path)});
    });
    QVERIFY(!asked.probes.empty());
    Kernel k(shared(Project(project)), asked), plain(shared(Project(project)));
    std::mt19937 random(17);
    std::vector<Input> presses;
    for (double t = 0.05; t < 1.5; t += 0.005 + static_cast<double>(random() % 90) / 1000)
      presses.push_back(
          at(t, presses.size() % 2 == 0 ? Input::What::press : Input::What::release, "btn1"));
    for (const Input& press : presses) k.schedule(press), plain.schedule(press);
    std::int64_t compared = 0, changes = 0;
    for (Nanoseconds turn = 250'000; turn < second * 3 / 2; turn += 250'000) {
      // Behind the work of each turn.
      k.advance(turn + 200'000);
      const Snapshot now = k.snapshot();
      for (const Signal& probe : asked.probes) {
        const int signal = k.trace().find(probe.what, probe.owner, probe.name);
        QVERIFY(signal >= 0);
        const auto view = std::find_if(now.lanes.begin(), now.lanes.end(),
                                       [&](const LaneView& v) { return v.id == lane.id; });
        for (const LaneView::Part& part : view->parts)
          if (operatorName(lane.id, part.path) == probe.name) {
            QCOMPARE(k.trace().valueAt(signal, turn + 200'000),
                     static_cast<float>(part.value.number));
            ++compared;
          }
      }
    }
    QVERIFY(compared > 4000);
    for (const Signal& probe : asked.probes)
      changes +=
          k.trace().countEdges(k.trace().find(probe.what, probe.owner, probe.name), 0, second);
    QVERIFY2(changes > 1, QByteArray::number(changes).constData());
    plain.advance(k.now());
    const int pin = k.trace().find(Signal::What::pinLevel, "b1", "D9");
    QVERIFY(pin >= 0 && pin == plain.trace().find(Signal::What::pinLevel, "b1", "D9"));
    std::vector<Edge> ours, theirs;
    const auto gather = [](std::vector<Edge>& into) {
      return [&into](const Edge& e) { return into.push_back(e), true; };
    };
    k.trace().forEachEdge(pin, -1, k.now(), gather(ours));
    plain.trace().forEachEdge(pin, -1, k.now(), gather(theirs));
    QVERIFY(ours == theirs);
  }
  // However often one looks, the run is the same: looking at what stands on a thread reads no pin
  // for the program, also where a pin has no fixed level.
  void lookingChangesNothing() {
    const auto run = [](bool looks) {
      Kernel k(shared(beacon()
                          .lane("Keep D4 at flips on D2", "")
                          .lane("Keep the level of D9 at level of A0", "")
                          .lane("Each time level of A1 > 50", "flip d12")));
      for (int n = 1; n <= 5000; ++n) {
        k.advance(static_cast<Nanoseconds>(n) * 137'777);
        if (looks) (void)k.snapshot();
      }
      std::vector<std::pair<Nanoseconds, float>> edges;
      for (std::size_t s = 0; s < k.trace().signals().size(); ++s)
        k.trace().forEachEdge(static_cast<int>(s), -1, k.trace().end(), [&](const Edge& e) {
          edges.emplace_back(e.at, e.value);
          return true;
        });
      return edges;
    };
    const auto alone = run(false);
    QVERIFY(alone.size() > 50);
    QVERIFY(run(true) == alone);
  }
  // Which item of a list was asked for last, also one that is not there.
  void readsOfListsAreShown() {
    Kernel k(shared(beacon()
                        .name("list levels is 90, 70, 50")
                        .name("variable n is 0")
                        .lane("always", "add 1 to n\ndim d9 to item n of levels\nwait 1")));
    const auto reads = [&] {
      const Snapshot now = k.snapshot();
      return now.reads.size() == 1 && now.reads[0].list == "levels" ? now.reads[0].position : -99;
    };
    QCOMPARE(reads(), -99);
    for (const int expected : {1, 2, 3, 4, 5}) {
      k.advance(expected * second - second / 2);
      QCOMPARE(reads(), expected);
    }
  }
  void oneStepIsOneStep() {
    Kernel k(shared(beacon().program(blink)));
    using What = Kernel::Stepped::What;
    QVERIFY(k.stepOnce().what == What::step);
    QCOMPARE(k.now(), 125);
    k.stepOnce();  // into the wait
    k.stepOnce();
    QCOMPARE(k.now(), 125 + 500'000'000 + 125);
  }
  // However long a lane waits, one step goes a second at most.
  void oneStepNeverJumpsFar() {
    using What = Kernel::Stepped::What;
    Kernel waits(shared(beacon().program("wait 3600 s\nset d4 high")));
    QVERIFY(waits.stepOnce().what == What::step);  // into the wait
    const Kernel::Stepped on = waits.stepOnce();
    QVERIFY(on.what == What::oneSecond);
    QVERIFY(waits.now() <= second + 10'000);
    QVERIFY(std::abs(static_cast<double>(on.untilStep) - 3599e9) < 1e6);
    // Nothing will ever come: time stands.
    Kernel over(shared(beacon().lane("power", "set d4 high")));
    while (over.stepOnce().what == What::step) {
    }
    const Nanoseconds then = over.now();
    const Kernel::Stepped none = over.stepOnce();
    QVERIFY(none.what == What::nothing && none.untilStep == never);
    QCOMPARE(over.now(), then);
    // A press that is under way is an event, and its bounces are as well.
    Kernel pressed(
        shared(beacon().button("btn1", 20).wire("D2", "a20").wire("5V", "a22").lane("power", "")));
    while (pressed.stepOnce().what == What::step) {
    }
    pressed.inputNow({0, Input::What::press, "btn1"});
    QVERIFY(pressed.stepOnce().what == What::event);
    QCOMPARE(pressed.now(), pressed.inputs().back().at);
  }
};

QTEST_GUILESS_MAIN(TestRun)
#include "tst_run.moc"
