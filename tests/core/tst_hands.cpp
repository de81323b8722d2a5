#include <QtTest>
#include <random>

#include "demos.h"
#include "format/input_language.h"
#include "format/project_file.h"
#include "format/trace_text.h"
#include "run/by_hand.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Input hold(double seconds, const char* pin, double percent) {
  return at(seconds, Input::What::drivePin, "b1", pin, percent);
}
Input letGo(double seconds, const char* pin) {
  return at(seconds, Input::What::freePin, "b1", pin);
}
double light(Kernel& kernel, std::size_t part = 1) { return kernel.snapshot().light[part]; }

}  // namespace

// Pins that are taken over by hand, with and without a program, and what can be probed beside.
class TestHands : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // With no program at all: the first thing that one does with a lamp that is wired.
  void aLampIsLitByHand() {
    Kernel k(shared(beacon()));
    k.schedule(hold(0.1, "D4", 100));
    k.schedule(hold(0.5, "D4", 0));
    k.schedule(letGo(0.6, "D4"));
    k.advance(second / 20);
    QVERIFY(light(k) == 0 && k.snapshot().held.empty());
    k.advance(second * 3 / 10);
    QVERIFY(light(k) > 0.7);
    QCOMPARE(k.snapshot().held, (std::vector<Snapshot::HeldPin>{{"b1", "D4", 100}}));
    QCOMPARE(k.direction("b1", "D4"), std::string("output"));
    k.advance(second * 55 / 100);
    QVERIFY(light(k) == 0);
    QCOMPARE(k.snapshot().held, (std::vector<Snapshot::HeldPin>{{"b1", "D4", 0}}));
    k.advance(second);
    QVERIFY(k.snapshot().held.empty());
    QCOMPARE(k.direction("b1", "D4"), std::string("input"));
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{100, 500}));
  }
  // A level is a square wave of 977 Hz, on any pin, whatever its chip can do.
  void aLevelIsASquareWave_data() {
    QTest::addColumn<double>("percent");
    for (const double percent : {0.0, 0.1, 0.4, 10.0, 30.0, 50.0, 99.0, 99.7, 99.9, 100.0})
      QTest::addRow("%g %%", percent) << percent;
  }
  void aLevelIsASquareWave() {
    QFETCH(double, percent);
    Kernel k(shared(beacon()));
    k.schedule(hold(0, "D4", percent));
    k.advance(1'024'000'000);
    const int d4 = k.trace().find(Signal::What::pinLevel, "b1", "D4");
    const double share = static_cast<double>(std::lround(percent * 2.56)) / 256;
    const std::int64_t edges = k.trace().countEdges(d4, 0, k.now());
    if (share == 0 || share == 1)
      QVERIFY(edges <= 1);
    else
      QVERIFY(std::abs(edges - 2000) <= 2);
    QVERIFY(std::abs(k.trace().integral(d4, 0, k.now()) - share * 1.024) < 0.002);
  }
  // The hand is stronger than the program, over a reset as well; let go, the program goes on.
  void theHandIsStrongerThanTheProgram() {
    Kernel k(shared(beacon().program("set d4 high\nwait 0.1\nset d4 low\nwait 0.1\n")));
    k.schedule(hold(0.25, "D4", 0));
    k.schedule(at(0.5, Input::What::reset));
    k.schedule(letGo(1.05, "D4"));
    k.advance(second * 13 / 10);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{0, 100, 200, 250, 1100, 1200}));
  }
  // Where nothing hangs on it, it is seen all the same; several at once; an edit lets none go.
  void anyPinsAreHeld() {
    Kernel k(shared(beacon()));
    k.schedule(hold(0.1, "D9", 100));
    k.schedule(hold(0.2, "A3", 25));
    k.schedule(hold(0.2, "D4", 100));
    k.advance(second / 2);
    QVERIFY(k.trace().find(Signal::What::pinLevel, "b1", "D9") >= 0);
    QCOMPARE(edgesOf(k, "b1", "D9"), (std::vector<int>{100}));
    QVERIFY(edgesOf(k, "b1", "A3").size() > 400);
    Project other = *k.project();
    other.parts.edit()[0].edit().setProp("ohms", 1000.0);
    Input edit = edited(std::move(other));
    edit.at = second / 2;
    k.schedule(std::move(edit));
    k.advance(second);
    QCOMPARE(k.snapshot().held.size(), std::size_t(3));
    QVERIFY(edgesOf(k, "b1", "A3").size() > 1200);
    QVERIFY(light(k) > 0.2);
    k.schedule(at(1.1, Input::What::powerOff));
    k.advance(second * 2);
    QVERIFY(light(k) == 0);
  }
  // The same in pieces and looked back at; a level that is dragged keeps its beat.
  void itIsTheSameEveryTime() {
    const auto run = [&](Nanoseconds piece, bool skipping) {
      auto k = std::make_unique<Kernel>(shared(beacon()));
      k->allowSkipping(skipping);
      for (int n = 0; n < 90; ++n) k->schedule(hold(0.05 + n * 0.0013, "D4", 1 + n));
      while (k->now() < second) k->advance(std::min(second, k->now() + piece));
      return k;
    };
    const auto once = run(second, true);
    QVERIFY(edges(once->trace()) == edges(run(7'777'777, true)->trace()));
    QVERIFY(edges(once->trace()) == edges(run(second, false)->trace()));
    const Snapshot then = once->lookBack(second / 10);
    QCOMPARE(then.held.size(), std::size_t(1));
    QVERIFY(std::abs(then.held[0].percent - 39) < 0.5);
    // Rises come a period apart, however it is dragged.
    const int d4 = once->trace().find(Signal::What::pinLevel, "b1", "D4");
    Nanoseconds last = -1;
    once->trace().forEachEdge(d4, 0, second, [&](const Edge& e) {
      if (e.value == 0) return true;
      if (last >= 0) [&] { QCOMPARE(e.at - last, Nanoseconds{1'024'000}); }();
      last = e.at;
      return !QTest::currentTestFailed();
    });
  }
  // Held for a day, it costs nothing.
  void aHeldLevelIsJumpedOver() {
    Kernel k(shared(beacon()));
    k.schedule(hold(0.5, "D4", 40));
    k.advance(86'400 * second);
    QVERIFY(k.periodsSkipped() > 80'000'000);
    QVERIFY(k.trace().storedEdges() < 100'000);
    const int d4 = k.trace().find(Signal::What::pinLevel, "b1", "D4");
    QVERIFY(std::abs(k.trace().integral(d4, 0, k.now()) / 86'400 - 102 / 256.0) < 1e-4);
  }
  // ---- as it is written
  void whatHappensIsWrittenAndRead_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("back");
    const auto row = [](const char* text, const char* back = nullptr) {
      QTest::newRow(text) << text << QString::fromUtf8(back ? back : text);
    };
    row("press btn1");
    row("release btn1");
    row("set r1.ohms=330");
    row("set led1.color=green", "set led1.colour=green");
    row("pin D4=high", "pin b1.D4=high");
    row("pin b1.D4=low");
    row("pin D4=30%", "pin b1.D4=30%");
    row("pin D4=0.5%", "pin b1.D4=0.5%");
    row("pin D4=100%", "pin b1.D4=high");
    row("pin A0=free", "pin b1.A0=free");
    row("reset");
    row("reset b1");
    row("power off");
    row("power on b1");
    row("key-down space");
    row("key-up a");
    for (const char* bad : {"",
                            "press",
                            "press r1",
                            "press btn9",
                            "pin D4",
                            "pin D4=",
                            "pin D4=maybe",
                            "pin D4=120%",
                            "pin D4=-1%",
                            "pin D4=%",
                            "pin D4=nan%",
                            "pin 5V=high",
                            "pin b9.D4=high",
                            "set r1.ohms",
                            "set r1.ohms=many",
                            "set r1.ohms=nan",
                            "reset b9",
                            "power",
                            "power sideways",
                            "key-down",
                            "press btn1 ",
                            "Press btn1",
                            "jump"})
      QTest::newRow(qPrintable(QString("not: %1").arg(bad))) << bad << "";
  }
  void whatHappensIsWrittenAndRead() {
    QFETCH(QString, text);
    QFETCH(QString, back);
    const Project p = beacon().button("btn1", 20);
    const auto input = readInput(p, text.toStdString());
    QCOMPARE(input.has_value(), !back.isEmpty());
    if (!input) return;
    QCOMPARE(QString::fromStdString(inputText(*input)), back);
    QCOMPARE(inputText(*readInput(p, inputText(*input))), inputText(*input));
  }
  // ---- done once more
  // What was done by hand, done again on the same project, gives the same run, to the last edge.
  void whatWasDoneIsDoneAgain_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 20; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void whatWasDoneIsDoneAgain() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    Project project = readProject(demo(seed % 2 ? "ferry-call-bell" : "dusk-lamp")->text).project;
    const auto begun = shared(project);
    Kernel kernel(begun);
    for (int n = 0; n < 30; ++n) {
      kernel.advance(kernel.now() + random() % 200'000'000);
      Input in;
      switch (random() % 6) {
        case 0:
          in = at(0, Input::What::press, "btn1");
          break;
        case 1:
          in = at(0, Input::What::release, "btn1");
          break;
        case 2:
          in = hold(0, "D3", static_cast<double>(random() % 101));
          break;
        case 3:
          in = letGo(0, "D3");
          break;
        case 4:
          in = at(0, Input::What::reset);
          break;
        default:  // a sensor is turned, where there is one: the document is another one
          if (seed % 2) continue;
          for (auto& part : project.parts.edit())
            if (part->type == "light-sensor")
              part.edit().setProp("light", static_cast<double>(random() % 101));
          in = edited(project);
      }
      kernel.inputNow(in);
    }
    kernel.advance(kernel.now() + second / 4);
    const RunRecord record = kernel.record();
    const auto replay = [&](const Project& on) {
      auto again = std::make_unique<Kernel>(shared(asAtPowerOn(on, *record.project)));
      for (Input& input : doneByHand(record)) again->schedule(std::move(input));
      again->advance(record.now);
      return again;
    };
    QVERIFY(asAtPowerOn(project, *begun) == *begun);
    QVERIFY(differsByHandOnly(*begun, project));
    const auto same = replay(project);
    QVERIFY(edges(same->trace()) == edges(kernel.trace()));
    QVERIFY(*same->project() == *kernel.project());
    // On a changed one it is what one would have had with that from the beginning.
    Project changed = project;
    changed.parts.edit()[0].edit().setProp("ohms", 4700.0);
    QVERIFY(!differsByHandOnly(project, changed));
    Project fresh = *begun;
    fresh.parts.edit()[0].edit().setProp("ohms", 4700.0);
    const auto turned = replay(changed);
    QVERIFY(*turned->firstProject() == fresh);
    QVERIFY(*turned->project() == changed);
  }
  // ---- probes
  // The step that a lane is at, by steps in turns and freely; as if nobody looked, else.
  void lanesTellTheStepTheyAreAt() {
    const Project project = Bench(emptyProject())
                                .lane("Every 0.1", "flip d4\nif d4\n  flip d5\nwait 0.02\n")
                                .lane("Round and round", "flip d6\nwait 0.03\n");
    const auto& lanes = project.programs[0]->lanes;
    RunSetup setup;
    setup.probes = {{Signal::What::step, "b1", lanes[0]->id},
                    {Signal::What::step, "b1", lanes[1]->id},
                    {Signal::What::step, "b1", "nobody"}};
    Kernel probed(shared(project), setup), plainly(shared(project));
    probed.advance(second);
    plainly.advance(second);
    const auto at = [&](int lane, double seconds) {
      const Trace& t = probed.trace();
      return t.valueAt(t.find(Signal::What::step, "b1", lanes[static_cast<std::size_t>(lane)]->id),
                       static_cast<Nanoseconds>(seconds * 1e9));
    };
    QCOMPARE(at(0, 0.05), 0.0F);  // not started yet
    QCOMPARE(at(0, 0.11), 4.0F);  // its wait, behind the step inside
    QCOMPARE(at(0, 0.15), 0.0F);  // at rest
    QCOMPARE(at(0, 0.2101), 4.0F);
    QCOMPARE(at(1, 0.01), 2.0F);
    QCOMPARE(probed.trace().find(Signal::What::step, "b1", "nobody"), -1);
    for (const char* pin : {"D4", "D5", "D6"}) {
      const auto edges = [&](const Kernel& k) {
        return k.trace().countEdges(k.trace().find(Signal::What::pinLevel, "b1", pin), -1, second);
      };
      QCOMPARE(edges(probed), edges(plainly));
    }
  }
  void voltsAndAmpsAreProbed() {
    RunSetup setup;
    setup.probes = {{Signal::What::volts, "bb", "g9"},   {Signal::What::volts, "b1", "5V"},
                    {Signal::What::volts, "bb", "a29"},  {Signal::What::partVolts, "led1", {}},
                    {Signal::What::partAmps, "r1", {}},  {Signal::What::partAmps, "led1", {}},
                    {Signal::What::volts, "bb", "k99"},  {Signal::What::partVolts, "nobody", {}},
                    {Signal::What::pinLevel, "b1", "D9"}};
    Kernel k(shared(beacon()), setup);
    k.schedule(hold(0.1, "D4", 100));
    k.schedule(at(0.8, Input::What::powerOff));
    k.advance(second);
    const Trace& t = k.trace();
    const auto value = [&](Signal::What what, const char* owner, const char* name, double seconds) {
      const int signal = t.find(what, owner, name);
      return signal < 0 ? -99.0 : t.valueAt(signal, static_cast<Nanoseconds>(seconds * 1e9));
    };
    const double amps = value(Signal::What::partAmps, "r1", "", 0.5);
    QVERIFY(amps > 0.01 && amps < 0.02);
    QCOMPARE(value(Signal::What::partAmps, "led1", "", 0.5), amps);
    QVERIFY(std::abs(value(Signal::What::partVolts, "led1", "", 0.5) - 1.9) < 0.1);
    QVERIFY(std::abs(value(Signal::What::volts, "bb", "g9", 0.5) -
                     value(Signal::What::partVolts, "led1", "", 0.5)) < 1e-3);
    QCOMPARE(value(Signal::What::volts, "b1", "5V", 0.5), 5.0);
    // What hangs on nothing has no voltage, and nothing has without power.
    QVERIFY(std::isnan(value(Signal::What::volts, "bb", "a29", 0.5)));
    QVERIFY(std::isnan(value(Signal::What::volts, "b1", "5V", 0.9)));
    QVERIFY(std::isnan(value(Signal::What::volts, "bb", "g9", 0.9)));
    QVERIFY(t.find(Signal::What::pinLevel, "b1", "D9") >= 0);
    QVERIFY(t.find(Signal::What::volts, "bb", "k99") < 0);
    QVERIFY(t.find(Signal::What::partVolts, "nobody", "") < 0);
    // Nothing changes by being looked at.
    Kernel bare(shared(beacon()));
    bare.schedule(hold(0.1, "D4", 100));
    bare.schedule(at(0.8, Input::What::powerOff));
    bare.advance(second);
    QCOMPARE(edgesOf(bare, "b1"), edgesOf(k, "b1"));
    // In a table what has no voltage is empty.
    QVERIFY(csvText(t).find(",,") != std::string::npos);
    QVERIFY(csvText(t).find("nan") == std::string::npos);
  }
};

QTEST_GUILESS_MAIN(TestHands)
#include "tst_hands.moc"
