#include <QtTest>
#include <algorithm>
#include <functional>
#include <random>
#include <set>

#include "program/signals.h"
#include "program/steps.h"
#include "reference/step_walker.h"
#include "support/build.h"
#include "support/random_programs.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A call button on D2 with its pull-down, ideal contacts; A0 between two equal resistors; what
// no step sets is low.
Bench landing() {
  return Bench()
      .resistor("r4", 10000, "b1", "b29")
      .resistor("r5", 10000, "b2", "c29")
      .resistor("r6", 10000, "b5", "d29")
      .wire("D4", "a1")
      .wire("D5", "a2")
      .wire("D7", "a5")
      .wire("GND3", "a29")
      .button("btn1", 18)
      .prop("btn1", "contacts", std::string("ideal"))
      .resistor("r1", 10000, "c20", "c25")
      .wire("5V", "a18")
      .wire("D2", "a20")
      .wire("GND", "a25")
      .resistor("r2", 10000, "h3", "h7")
      .resistor("r3", 10000, "i7", "i11")
      .wire("3V3", "j3")
      .wire("A0", "j7")
      .wire("GND2", "j11");
}
constexpr double atA0 = 337 * 100.0 / 1023;  // percent: half of 3.3 V of 5 V, in stages

struct Case {
  Project project;
  std::vector<StepWalker::Event> events;
  std::string text;
};

Case caseOf(unsigned seed) {
  RandomProgram writer(seed);
  Bench bench = landing();
  Case out;
  for (const std::string& name : RandomProgram::names()) bench.name(name);
  auto all = writer.own();
  for (auto& lane : writer.lanes()) all.push_back(std::move(lane));
  for (const auto& [sign, text] : all) {
    out.text += sign + ":\n" + text;
    bench.lane(sign, text);
  }
  out.project = bench;
  // Presses at odd nanoseconds, so that nothing comes at the same moment as a step.
  Nanoseconds when = 0;
  for (bool down = true; when < 40'000'000; down = !down) {
    when += 300'001 + 2 * static_cast<Nanoseconds>(writer.number(4'000'000));
    out.events.push_back({when | 1, "D2", down});
  }
  when = 0;
  for (bool down = true; when < 40'000'000; down = !down) {
    when += 1'300'003 + 2 * static_cast<Nanoseconds>(writer.number(4'000'000));
    out.events.push_back({when | 1, writer.number(2) ? "key space" : "key a", down});
  }
  std::sort(out.events.begin(), out.events.end(),
            [](const auto& a, const auto& b) { return a.at < b.at; });
  return out;
}

std::vector<StepWalker::Edge> recorded(const Kernel& k, const char* pin) {
  std::vector<StepWalker::Edge> out;
  const int signal = k.trace().find(Signal::What::pinLevel, "b1", pin);
  if (signal < 0) return out;  // nothing uses it
  k.trace().forEachEdge(signal, -1, k.trace().end(), [&](const Edge& e) {
    out.push_back({e.at, e.value != 0});
    return true;
  });
  return out;
}

void press(Kernel& k, const std::vector<StepWalker::Event>& events) {
  for (const StepWalker::Event& e : events) {
    Input in;
    in.at = e.at;
    in.what = e.high ? Input::What::press : Input::What::release;
    in.id = "btn1";
    if (e.pin.starts_with("key ")) {
      in.what = e.high ? Input::What::keyDown : Input::What::keyUp;
      in.id.clear();
      in.key = e.pin.substr(4);
    }
    k.schedule(in);
  }
}

}  // namespace

// The simulator runs a compiled form; a second interpreter walks the steps themselves. Both
// must set every pin at the same nanosecond.
class TestTwoInterpreters : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void measuredLevelIsWhereTheTestTakesIt() {
    Kernel k(
        shared(landing().program("if level of A0 > 32\n  if level of A0 < 34\n    set d4 "
                                 "high\nwait 0.001")));
    k.advance(second / 100);
    QCOMPARE(recorded(k, "D4").size(), std::size_t(1));
  }
  void everyPinChangesAtTheSameNanosecond_data() {
    QTest::addColumn<int>("from");
    // More of them on demand.
    const int asked = qEnvironmentVariableIntValue("IGNAVO_PROGRAMS");
    for (int i = 0; i < std::max(asked, 2000) / 50; ++i)
      QTest::addRow("programs %d to %d", i * 50, i * 50 + 49) << i * 50;
  }
  void everyPinChangesAtTheSameNanosecond() {
    QFETCH(int, from);
    constexpr Nanoseconds until = 39'999'999;  // not at a turn
    std::size_t compared = 0, lines = 0;
    int missed = 0;
    for (int n = from; n < from + 50; ++n) {
      const Case c = caseOf(static_cast<unsigned>(n));
      Kernel kernel(shared(c.project));
      press(kernel, c.events);
      kernel.advance(until);
      StepWalker walker(*c.project.programs[0], c.events, {{"A0", atA0}});
      walker.walk(until);
      for (const char* pin : {"D4", "D5", "D7"}) {
        const std::vector<StepWalker::Edge>& expected = walker.edges(pin);
        const std::vector<StepWalker::Edge> got = recorded(kernel, pin);
        const auto [a, b] = std::mismatch(got.begin(), got.end(), expected.begin(), expected.end());
        QVERIFY2(a == got.end() && b == expected.end(),
                 qPrintable(QString("program %1, %2, edge %3: the run %4, the walk %5\n%6")
                                .arg(n)
                                .arg(pin)
                                .arg(a - got.begin())
                                .arg(a == got.end() ? -1 : a->at)
                                .arg(b == expected.end() ? -1 : b->at)
                                .arg(QString::fromStdString(c.text))));
        compared += got.size();
      }
      std::vector<StepWalker::Said> said;
      for (const SaidLine& line : kernel.said()) said.push_back({line.at, line.note, line.text});
      const auto [mine, other] =
          std::mismatch(said.begin(), said.end(), walker.said().begin(), walker.said().end());
      QVERIFY2(mine == said.end() && other == walker.said().end(),
               qPrintable(
                   QString("program %1: said at %2 “%3”, the walk at %4 “%5”\n%6")
                       .arg(n)
                       .arg(mine == said.end() ? -1 : mine->at)
                       .arg(QString::fromStdString(mine == said.end() ? "" : mine->text))
                       .arg(other == walker.said().end() ? -1 : other->at)
                       .arg(QString::fromStdString(other == walker.said().end() ? "" : other->text))
                       .arg(QString::fromStdString(c.text))));
      lines += said.size();
      const Snapshot end = kernel.snapshot();
      for (std::size_t lane = 0; lane < end.lanes.size(); ++lane) {
        QVERIFY2(end.lanes[lane].missed == walker.missed(lane),
                 qPrintable(QString("program %1, lane %2: %3 missed, the walk says %4\n%5")
                                .arg(n)
                                .arg(lane)
                                .arg(end.lanes[lane].missed)
                                .arg(walker.missed(lane))
                                .arg(QString::fromStdString(c.text))));
        missed += walker.missed(lane);
      }
    }
    QVERIFY2(compared > 150, qPrintable(QString::number(compared)));
    QVERIFY(missed > 0);
  }
  // Whole periods that are jumped over change nothing: long after the last press, and up to a late
  // one, everything is as if each turn had been run.
  void jumpedPeriodsChangeNothing_data() {
    QTest::addColumn<int>("from");
    for (int i = 0; i < 8; ++i) QTest::addRow("programs from %d", i * 25) << i * 25;
  }
  void jumpedPeriodsChangeNothing() {
    QFETCH(int, from);
    constexpr Nanoseconds until = 2 * second;
    std::size_t compared = 0;
    for (int n = from; n < from + 25; ++n) {
      Case c = caseOf(static_cast<unsigned>(n) + 90'000);
      c.events.push_back({1'700'000'001, "D2", true});
      c.events.push_back({1'700'100'001, "key space", true});
      Kernel skipping(shared(c.project)), plain(shared(c.project));
      plain.allowSkipping(false);
      for (Kernel* k : {&skipping, &plain}) {
        press(*k, c.events);
        k->advance(until);
      }
      const std::string a = edges(skipping.trace()), b = edges(plain.trace());
      const auto at = std::mismatch(a.begin(), a.end(), b.begin(), b.end()).first - a.begin();
      QVERIFY2(
          a == b,
          qPrintable(QString("program %1 at %2\n%3")
                         .arg(n)
                         .arg(QString::fromStdString(a.substr(
                             static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, at - 30)), 60)))
                         .arg(QString::fromStdString(c.text))));
      QCOMPARE(skipping.said().size(), plain.said().size());
      const Snapshot x = skipping.snapshot(), y = plain.snapshot();
      for (std::size_t lane = 0; lane < x.lanes.size(); ++lane)
        QCOMPARE(x.lanes[lane].missed, y.lanes[lane].missed);
      QVERIFY2(x.stepCounts == y.stepCounts, c.text.c_str());
      compared += b.size();
    }
    QVERIFY(compared > 1000);
  }
  // No row of the language goes uncompared: each stands in some of these programs.
  void everyKindStandsInThem() {
    std::set<std::string> stand, rows;
    const std::function<void(const Expr&)> look = [&](const Expr& e) {
      if (e.shape == Expr::Shape::op) stand.insert("operator " + e.text);
      if (e.shape == Expr::Shape::get) stand.insert("getter " + e.text);
      if (e.shape == Expr::Shape::sig) stand.insert("signal " + e.text);
      for (const auto& [key, inner] : e.args) look(inner);
    };
    for (unsigned n = 0; n < 400; ++n) {
      const Case c = caseOf(n);
      for (const auto& lane : c.project.programs[0]->lanes) {
        stand.insert("lane " + lane->trigger.on);
        for (const auto& [key, value] : lane->trigger.fields) look(value);
        forEachStep(lane->steps, [&](const Step& s) {
          stand.insert("step " + s.kind);
          for (const auto& [key, value] : s.fields) look(value);
        });
      }
    }
    for (const StepKind* k : stepKinds()) rows.insert("step " + k->kind);
    for (const TriggerKind& k : triggerKinds()) rows.insert("lane " + k.on);
    for (const OperatorKind& k : operatorKinds()) rows.insert("operator " + k.name);
    for (const GetterKind& k : getterKinds()) rows.insert("getter " + k.name);
    for (const SignalKind& k : signalKinds()) rows.insert("signal " + k.name);
    for (const std::string& row : rows) QVERIFY2(stand.contains(row), row.c_str());
  }
  // The walker itself, by hand, so that two equal mistakes are less likely.
  void theWalkerKeepsToThePage() {
    Lane blink;
    blink.steps = parseSteps("set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n").steps;
    Program program;
    program.lanes.emplace_back(blink);
    StepWalker walker(program, {});
    walker.walk(second * 2);
    // Freely: to set takes 2 cycles of 62.5 ns, so does to go round.
    QCOMPARE(walker.edges("D4").size(), std::size_t(4));
    QCOMPARE(walker.edges("D4")[0].at, 125);
    QCOMPARE(walker.edges("D4")[1].at, 500'000'250);
    QCOMPARE(walker.edges("D4")[2].at, 1'000'000'500);

    Lane twice;  // 4 cycles to begin, 7 each time it counts, 2 to flip: 13, 22, 31; 7 to leave
    twice.trigger.on = "power";
    twice.steps = parseSteps("repeat 3 times\n  flip d5\nset d7 high\n").steps;
    Program counted;
    counted.lanes.emplace_back(twice);
    StepWalker count(counted, {});
    count.walk(second);
    QCOMPARE(count.edges("D5").size(), std::size_t(3));
    QCOMPARE(count.edges("D5")[0].at, 812);
    QCOMPARE(count.edges("D5")[2].at, 1'937);
    QCOMPARE(count.edges("D7")[0].at, 2'500);

    // In turns: a step each, and a wait counts from the step before it.
    Program both;
    both.lanes.emplace_back(blink);
    both.lanes.emplace_back(twice);
    StepWalker turns(both, {});
    turns.walk(second * 2);
    QCOMPARE(turns.edges("D4").size(), std::size_t(4));
    QCOMPARE(turns.edges("D4")[0].at, 0);
    QCOMPARE(turns.edges("D4")[1].at, 500'000'000);
    QCOMPARE(turns.edges("D4")[3].at, 1'500'000'000);
    QCOMPARE(turns.edges("D5")[0].at, 250'000);
    QCOMPARE(turns.edges("D5")[2].at, 750'000);
    QCOMPARE(turns.edges("D7")[0].at, 1'000'000);
  }
};

QTEST_GUILESS_MAIN(TestTwoInterpreters)
#include "tst_two_interpreters.moc"
