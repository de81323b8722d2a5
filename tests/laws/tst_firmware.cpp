#include <QtTest>
#include <functional>
#include <map>
#include <set>

#include "make/c_text.h"
#include "make/chip_program.h"
#include "posix_runner.h"
#include "program/compiled.h"
#include "program/expressions.h"
#include "program/signals.h"
#include "reference/cost_fields.h"
#include "run/comparison.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/demo_rows.h"
#include "support/named_circuits.h"
#include "support/random_programs.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

constexpr Nanoseconds millisecond = 1'000'000;
constexpr Nanoseconds length = 120 * millisecond;

// A bench on which nothing that a program reads is left open; with contacts that bounce, or do not.
Bench benchOf(bool bounces) {
  Project p = emptyProject();
  p = with(std::move(p), "lamp", "D4", "led", "Red lamp");
  p = with(std::move(p), "button", "D2", "button", "Call button");
  p = with(std::move(p), "light", "A0", "light-sensor", "Light sensor");
  for (const auto& part : *p.parts)
    if (part->type == "button") {
      const std::string id = part->id;
      p = edits::changePart(std::move(p), id,
                            [&](Part& b) { b.setProp("contacts", bounces ? "real" : "ideal"); });
      break;
    }
  Bench bench(std::move(p));
  return bench.pullUp("D5").pullUp("D7");
}

struct Case {
  Project project;
  std::string text;
  std::vector<Input> inputs;
};

Case caseOf(unsigned seed, bool plain) {
  RandomProgram writer(seed);
  Bench bench = benchOf(seed % 2 == 1);
  Case out;
  for (const std::string& name : RandomProgram::names()) bench.name(name);
  auto all = plain ? writer.plain() : writer.own();
  if (!plain)
    for (auto& lane : writer.lanes()) all.push_back(std::move(lane));
  // All that they keep is asked for: what nobody reads the compiler leaves out.
  const std::string reads =
      "if tally + mixed + share + variable \"at rest\" + (item tally of levels) + (item tally of "
      "gauge) > 2000000000\n  flip d12\nif flag\n  set d8 high\n";
  if (plain)
    all.front().second += reads;
  else
    all.emplace_back("Every 0.05", reads);
  for (const auto& [sign, steps] : all) {
    bench.lane(sign, steps);
    out.text += sign + ":\n" + steps;
  }
  out.project = bench;
  const std::string button = partNamed(out.project, "Call button");
  const std::string light = partNamed(out.project, "Light sensor");
  Nanoseconds at = 0;
  for (int n = 0; at < length; ++n) {
    at += (1 + writer.number(60)) * 250'000;
    Input in;
    in.at = at + 110'000;
    if (n % 5 == 4) {
      in.what = Input::What::setProp;
      in.id = light;
      in.key = "light";
      in.value = static_cast<double>(writer.number(101));
    } else if (n % 7 == 6) {
      in.what = Input::What::keyDown;
      in.key = n % 2 ? "space" : "a";
      out.inputs.push_back(in);
      in.what = Input::What::keyUp;
      in.at += 3 * millisecond;
    } else {
      in.what = n % 2 ? Input::What::release : Input::What::press;
      in.id = button;
    }
    out.inputs.push_back(in);
  }
  return out;
}

// What the language has, each by itself: lanes as (sign, steps), and names.
struct Small {
  const char* name;
  std::vector<std::pair<const char*, const char*>> lanes;
  std::vector<const char*> names = {};
};
const std::vector<Small>& smallPrograms() {
  const char* const round = "Round and round";
  static const std::vector<Small> all{
      {"set", {{round, "set D4 high\nwait 0.1\nset D4 low\nwait 0.05\n"}}},
      {"set to a truth", {{round, "set D4 to D2 is low\nwait 0.01\n"}}},
      {"flip", {{round, "flip D4\nwait 0.03\n"}}},
      {"dim", {{round, "dim D3 to 30 %\nwait 0.1\ndim D3 to 100 %\nwait 0.1\n"}}},
      {"dim to a reading", {{round, "dim D3 to level of A0\nwait 0.05\n"}}},
      {"if", {{round, "if D2 is low\n  set D4 high\notherwise\n  set D4 low\nwait 0.01\n"}}},
      {"if, nested",
       {{round,
         "if D2 is low\n  if level of A0 > 50\n    flip D4\n  otherwise\n    flip "
         "D5\nwait 0.02\n"}}},
      {"repeat", {{round, "repeat 5 times\n  flip D4\n  wait 0.01\nwait 0.1\n"}}},
      {"repeat a variable",
       {{round, "add 1 to n\nrepeat n times\n  flip D4\n  wait 0.005\nwait 0.05\n"}},
       {"variable n is 0"}},
      {"repeat no times", {{round, "repeat 0 times\n  flip D4\nflip D5\nwait 0.05\n"}}},
      {"keep going round",
       {{"When power comes on", "wait 0.1\nkeep going round\n  flip D4\n  wait 0.03\n"}}},
      {"as long as",
       {{round, "as long as D2 is low\n  flip D4\n  wait 0.01\nset D4 low\nwait 0.01\n"}}},
      {"leave the loop",
       {{round,
         "repeat 9 times\n  flip D4\n  wait 0.01\n  if D2 is low\n    leave the "
         "loop\nwait 0.03\n"}}},
      {"end this lane", {{"When power comes on", "flip D4\nwait 0.1\nend this lane\nflip D4\n"}}},
      {"wait until",
       {{round, "wait until D2 is low\nset D4 high\nwait until D2 is high\nset D4 low\n"}}},
      {"wait until held", {{round, "wait until (D2 is low) held for 0.1 s\nflip D4\nwait 0.2\n"}}},
      {"a computed wait", {{round, "flip D4\nwait level of A0 ÷ 1000\n"}}},
      {"let and add",
       {{round, "add 3 to n\nif n > 20\n  let n be 0\n  flip D4\nwait 0.01\n"}},
       {"variable n is 0"}},
      {"wholes",
       {{round,
         "let n be (n × 7 + 3) - 2\nlet n be remainder of n ÷ 100\nif n > 50\n  flip "
         "D4\nif size of (n - 50) < 10\n  flip D5\nwait 0.01\n"}},
       {"variable n is 1"}},
      {"floats",
       {{round,
         "let x be x × 1.3 + 0.7\nif x > 50\n  let x be x ÷ 9\n  flip D4\nif round x = 3\n "
         " flip D5\nwait 0.01\n"}},
       {"variable x is 0.5"}},
      {"smaller and larger",
       {{round,
         "let n be smaller of n + 1 and 9\nif larger of n and 4 > 8\n  flip "
         "D4\n  let n be 0\nwait 0.01\n"}},
       {"variable n is 0"}},
      {"map", {{round, "dim D3 to map level of A0 from 20 … 80 to 0 … 100\nwait 0.05\n"}}},
      {"truths",
       {{round,
         "let lit be not lit\nset D4 to lit and D2 is low\nset D5 to lit or D2 is "
         "low\nwait 0.02\n"}},
       {"variable lit is false"}},
      {"a list",
       {{round,
         "add 1 to n\nif n > length of levels\n  let n be 1\nput n × 10 into item n of "
         "levels\nif item n of levels > 20\n  flip D4\nwait 0.02\n"}},
       {"variable n is 0", "list levels is 90, 70, 50, 30"}},
      {"random",
       {{round, "let n be random from 1 to 6\nif n > 3\n  flip D4\nwait 0.02\n"}},
       {"variable n is 0"}},
      {"division by zero",
       {{round, "let x be 5 ÷ n\nif x = 0\n  flip D4\nwait 0.05\n"}},
       {"variable n is 0", "variable x is 0.5"}},
      {"it wraps",
       {{round, "add 1000000007 to n\nif n < 0\n  flip D4\nwait 0.02\n"}},
       {"variable n is 0"}},
      {"two lanes", {{round, "flip D4\nwait 0.05\n"}, {round, "flip D5\nwait 0.07\n"}}},
      {"each time",
       {{"Each time D2 goes low", "flip D4\n"}, {"Each time D2 goes high", "flip D5\nwait 0.2\n"}}},
      {"every", {{"Every 0.03 s", "flip D4\n"}}},
      {"when held", {{"Each time (D2 is low) held for 0.1 s", "flip D4\n"}}},
      {"when tapped", {{"Each time (D2 is low) tapped within 0.2 s", "flip D4\n"}}},
      {"when struck", {{"When key a is struck", "flip D4\n"}}},
      {"a key that is held", {{"Every 0.02 s", "set D4 to key a held\n"}}},
      {"keeps a pin", {{"Keep D4 at flips on (D2 is low)", ""}}},
      {"keeps a level", {{"Keep the level of D3 at level of A0", ""}}},
      {"keeps a variable",
       {{"Keep the variable n at count (D2 is low) from 0 to 3", ""},
        {"Every 0.05 s", "if n > 1\n  flip D4\n"}},
       {"variable n is 0"}},
      {"a wave", {{"Keep D4 at wave of 7 Hz with 30 %", ""}}},
      // Behind a line of several turns it is found again from the number of the turn.
      {"a wave beside lines",
       {{"Keep D4 at wave of 333.3 Hz with 50 %", ""},
        {round, "log 2147483647 ÷ 2, \"moored\"\nwait 0.002\n"}}},
      // Behind it several of its times have come and gone.
      {"every, beside lines",
       {{"Every 0.0003 s", "flip D4\n"}, {round, "post 2147483647 ÷ 2 for 0.25\nwait 0.002\n"}}},
      {"a pulse", {{"Keep D4 at pulse of 0.1 s on (D2 is low)", ""}}},
      {"steady, at most every",
       {{"Keep D4 at flips on (((D2 is low) steady for 0.02) at most every 0.3)", ""}}},
      {"choose", {{"Keep the level of D3 at choose 80 if D2 is low else 20", ""}}},
      {"seconds", {{"Every 0.05 s", "set D4 to seconds since power-on > 0.5\n"}}},
      {"a tone", {{round, "tone of 200 Hz on D5 for 0.1 s\nwait 0.1\n"}}},
      {"silence", {{round, "tone of 100 Hz on D5\nwait 0.1\nsilence D5\nwait 0.1\n"}}},
      // Its edges make the work longer than a turn.
      {"work beside a tone",
       {{"When power comes on", "tone of 9000 Hz on D5\n"},
        {round, "let x be x ÷ 3 + x ÷ 5 + x ÷ 7 + x ÷ 9 + x ÷ 11 + 0.5\nflip D4\nwait 0.005\n"}},
       {"variable x is 0.5"}},
      {"a servo",
       {{round, "turn servo on D9 to 20 °\nwait 0.2\nturn servo on D9 to 90 °\nwait 0.2\n"}}},
      {"an own step",
       {{"Own step ring with times", "repeat times times\n  flip D4\n  wait 0.02\n"},
        {round, "ring with times 3\nwait 0.1\n"}}},
      // What nobody runs makes no float of a whole number.
      {"an own step that nothing runs",
       {{"Own step nod", "let n be 0.5\n"},
        {round, "let n be n × 70001\nif n < 0\n  flip D4\nwait 0.02\n"},
        {"Every 0.1 s", "flip D5\n"}},
       {"variable n is 3"}},
      // Compilers warn of what they see going round.
      {"written out, it goes round",
       {{"Every 0.05 s", "let n be (round 2147483647) × 2\nif n < 0\n  flip D4\nadd n to n\n"}},
       {"variable n is 0"}},
      {"log and post",
       {{"Every 0.2 s", "add 1 to n\nlog n, \"at the pier\"\npost \"ready\" for 1 s\n"}},
       {"variable n is 0"}},
  };
  return all;
}

}  // namespace

// What a program does by its steps, its firmware does, instruction by instruction, with the same
// circuit. And the compiler has nothing to say about the text.
class TestFirmware : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void demosDoWhatTheirStepsDo_data() { rowPerDemo(); }
  void demosDoWhatTheirStepsDo() {
    QFETCH(QString, name);
    const Project project = *demoProject(name);
    std::vector<Input> inputs;
    for (const auto& part : *project.parts)
      if (part->type == "button")
        for (const auto& [seconds, down] : {std::pair{0.5, true},
                                            {0.8, false},
                                            {1.5, true},
                                            {1.6, false},
                                            {2.2, true},
                                            {5.7, false}}) {
          Input in;
          in.at = static_cast<Nanoseconds>(seconds * 1e9) + 123'000;
          in.what = down ? Input::What::press : Input::What::release;
          in.id = part->id;
          inputs.push_back(in);
        }
    const Comparison done = comparison(project, inputs, 8 * second);
    if (QTest::currentTestFailed()) return;
    QVERIFY2(done.same(), told(done).c_str());
    QVERIFY(done.edges > 0);
    QVERIFY(done.largest < 2 * millisecond);
  }

  // Whatever the language has, by itself, with presses, a knob and a key.
  void eachThingDoesWhatItsStepsDo_data() {
    QTest::addColumn<int>("which");
    for (std::size_t i = 0; i < smallPrograms().size(); ++i)
      QTest::newRow(smallPrograms()[i].name) << static_cast<int>(i);
  }
  void eachThingDoesWhatItsStepsDo() {
    QFETCH(int, which);
    const Small& small = smallPrograms()[static_cast<std::size_t>(which)];
    Bench bench = benchOf(which % 2 == 1);
    for (const char* name : small.names) bench.name(name);
    for (const auto& [sign, steps] : small.lanes) bench.lane(sign, steps);
    const Project project = bench;
    std::vector<Input> inputs;
    const std::string button = partNamed(project, "Call button");
    for (const auto& [seconds, down] : {std::pair{0.1051, true},
                                        {0.2602, false},
                                        {0.4053, true},
                                        {0.4604, false},
                                        {0.8105, true},
                                        {1.1206, false}})
      inputs.push_back(at(seconds, down ? Input::What::press : Input::What::release, button));
    const std::string sensor = partNamed(project, "Light sensor");
    for (const auto& [seconds, light] : {std::pair{0.3001, 20.0}, {0.6002, 80.0}, {0.9003, 45.0}})
      inputs.push_back(at(seconds, Input::What::setProp, sensor, "light", light));
    inputs.push_back(at(0.2003, Input::What::keyDown, {}, "a"));
    inputs.push_back(at(0.3504, Input::What::keyUp, {}, "a"));
    std::stable_sort(inputs.begin(), inputs.end(),
                     [](const Input& a, const Input& b) { return a.at < b.at; });
    const Comparison done = comparison(project, inputs, 1'500 * millisecond);
    if (QTest::currentTestFailed()) return;
    QVERIFY2(done.same(), told(done).c_str());
    QVERIFY2(done.edges + done.lines > 0, "it does nothing");
  }

  // A pin that changes at the very cycle at which a timer does something comes before it.
  void aPressAtTheMomentOfATimer() {
    const Project project =
        benchOf(false)
            .lane("When power comes on", "dim D9 to 50 %\ndim D5 to 30 %\ntone of 3000 on D7\n")
            .lane("Each time D2 goes high", "flip D8\n");
    const ChipPrograms code = compiledFor(project);
    QVERIFY(!code.empty());
    Kernel kernel(std::make_shared<const Project>(project), RunSetup{code});
    const std::string button = partNamed(project, "Call button");
    kernel.advance(20 * millisecond);
    // Timers tick every 4 us; from where in the cycle of a tick is tried.
    for (int phase = 0; phase < 64; ++phase) {
      const Nanoseconds tick = 4'000, cycle = 125;  // two of them: 62.5 ns each
      Nanoseconds when = kernel.now() / tick * tick + tick + phase * cycle / 2;
      for (int k = 0; k < 300; ++k, when += tick)
        kernel.schedule({when, k % 2 == 0 ? Input::What::press : Input::What::release, button});
      kernel.advance(when + millisecond);
    }
    QVERIFY(kernel.now() > 100 * millisecond);
  }

  // With several pins that sound, and high, no edge is lost, and the program goes on.
  void highTonesOfSeveralPinsGoOn() {
    const Project project =
        benchOf(false)
            .lane("When power comes on",
                  "tone of 9999 Hz on D7\ntone of 3000 on D4\ntone of 2 on D5\ntone of 3 on D9\n")
            .lane("Every 0.1", "flip D8\n");
    const ChipPrograms code = compiledFor(project);
    QVERIFY(!code.empty());
    Kernel kernel(std::make_shared<const Project>(project), RunSetup{code});
    kernel.advance(second);
    const auto edgesOf = [&](const char* pin) {
      const Trace& trace = kernel.trace();
      return static_cast<int>(
          trace.countEdges(trace.find(Signal::What::pinLevel, "b1", pin), 0, second));
    };
    QVERIFY2(std::abs(edgesOf("D7") - 2 * 9999) < 100, qPrintable(QString::number(edgesOf("D7"))));
    QVERIFY2(std::abs(edgesOf("D4") - 2 * 3000) < 100, qPrintable(QString::number(edgesOf("D4"))));
    QVERIFY2(edgesOf("D8") >= 9, qPrintable(QString::number(edgesOf("D8"))));
  }

  // Programs as odd as the language allows. Where an input comes just when it is looked at, or,
  // freely, what is worked out takes about as long as it takes until then, a hair decides, and the
  // steps themselves go another way where either is a little other: these are races, told and few
  // of each kind. What is none is a fault.
  void doesWhatTheStepsDo_data() {
    QTest::addColumn<unsigned>("from");
    QTest::addColumn<bool>("plain");
    for (unsigned i = 0; i < static_cast<unsigned>(asked()) / 25; ++i)
      QTest::addRow("programs %u to %u, %s", i * 25, i * 25 + 24,
                    i % 4 == 3 ? "freely" : "in turns")
          << i * 25 << (i % 4 == 3);
  }
  void doesWhatTheStepsDo() {
    QFETCH(unsigned, from);
    QFETCH(bool, plain);
    std::int64_t edges = 0;
    for (unsigned seed = from; seed < from + 25; ++seed) {
      const Case c = caseOf(seed, plain);
      const Comparison done = comparison(c.project, c.inputs, length);
      if (QTest::currentTestFailed()) return;
      edges += done.edges;
      const Race race = done.same() ? Race::none : raceOf(c);
      ++(plain ? freely_ : inTurns_)[race];
      if (race == Race::none) continue;
      qInfo("program %u, %s: %s", seed, nameOf(race), told(done).c_str());
      if (qEnvironmentVariableIsSet("IGNAVO_SHOW")) qInfo("%s", c.text.c_str());
    }
    QVERIFY(edges > 100);
  }
  // Whatever the language has is among what is compared: a new kind joins here.
  void everyKindIsAmongThem() {
    std::set<std::string> used;
    const std::function<void(const Expr&)> look = [&](const Expr& e) {
      if (e.shape == Expr::Shape::get || e.shape == Expr::Shape::op || e.shape == Expr::Shape::sig)
        used.insert(e.text);
      for (const auto& [key, operand] : e.args) look(operand);
    };
    for (unsigned seed = 0; seed < 200; ++seed) {
      const Case c = caseOf(seed, seed / 25 % 4 == 3);
      for (const auto& lane : c.project.programs[0]->lanes) {
        used.insert(lane->trigger.on);
        for (const auto& [key, value] : lane->trigger.fields) look(value);
        forEachStep(lane->steps, [&](const Step& s) {
          used.insert(s.kind);
          for (const auto& [key, value] : s.fields) look(value);
        });
      }
    }
    std::vector<std::string> all;
    for (const StepKind* kind : stepKinds()) all.push_back(kind->kind);
    for (const TriggerKind& kind : triggerKinds()) all.push_back(kind.on);
    for (const SignalKind& kind : signalKinds()) all.push_back(kind.name);
    for (const OperatorKind& kind : operatorKinds()) all.push_back(kind.name);
    for (const GetterKind& kind : getterKinds()) all.push_back(kind.name);
    for (const std::string& name : all) QVERIFY2(used.count(name) != 0, name.c_str());
  }
  // Whoever is told and not compared is one of few.
  void racesAreFew() {
    for (auto* kinds : {&inTurns_, &freely_}) {
      int all = 0;
      for (const auto& [race, count] : *kinds) all += count;
      if (all == 0) continue;
      for (const auto& [race, count] : *kinds) {
        qInfo("%s: %d of %d %s", kinds == &freely_ ? "freely" : "in turns", count, all,
              nameOf(race));
        // What no race explains is a fault; but among many hundreds of odd programs there are some
        // through which the compiler sees further than the steps.
        const int unexplained = asked() > usual ? all / 50 : 0;
        // Turns are counted: how long the work really takes makes no difference to them, but where
        // tones leave next to no time.
        const int byWork = kinds == &inTurns_ ? all / 50 : all / 10;
        const int most = race == Race::none      ? all
                         : race == Race::unknown ? unexplained
                         : race == Race::work    ? byWork
                                                 : all / 10;
        QVERIFY2(count <= most, nameOf(race));
      }
    }
  }

 private:
  static constexpr int usual = 200;
  static int asked() { return std::max(usual, qEnvironmentVariableIntValue("IGNAVO_FIRMWARES")); }
  // Why a run by steps is none that can be compared: it becomes another one itself
  enum class Race {
    none,
    input,   // … where its inputs come a moment earlier or later
    work,    // … where what it works out takes a little less or more
    unknown  // it does not
  };
  static const char* nameOf(Race race) {
    return race == Race::none    ? "the same"
           : race == Race::input ? "races of inputs"
           : race == Race::work  ? "races of work"
                                 : "differences";
  }
  static RunRecord bySteps(const Case& c, Nanoseconds later, double work) {
    RunSetup setup{{}, true, scaled(work)};
    Kernel kernel(std::make_shared<const Project>(c.project), setup);
    for (Input input : c.inputs) {
      input.at += later;
      kernel.schedule(std::move(input));
    }
    kernel.advance(length);
    return kernel.record();
  }
  static CostTable scaled(double factor) {
    CostTable costs;
    for (const auto& [name, field] : costFields())
      costs.*field = static_cast<int>(std::lround(factor * costs.*field));
    for (int CostTable::*field :
         {&CostTable::round,         &CostTable::waveKnown,  &CostTable::edge,
          &CostTable::edgeAmongMore, &CostTable::edgePin,    &CostTable::tick,
          &CostTable::say,           &CostTable::sayLetter,  &CostTable::sayMoved,
          &CostTable::sayWhole,      &CostTable::sayDigit,   &CostTable::sayBehind,
          &CostTable::sayReal,       &CostTable::sayTenfold, &CostTable::sayDouble,
          &CostTable::sayHalf,       &CostTable::sayTenth,   &CostTable::sayTenthByte,
          &CostTable::sayTenthBit,   &CostTable::sayZero,    &CostTable::sayPlaced,
          &CostTable::sayNothing,    &CostTable::letter})
      costs.*field = static_cast<int>(std::lround(factor * costs.*field));
    for (CostTable::Operation& o : costs.operations) {
      o.whole = static_cast<int>(std::lround(factor * o.whole));
      o.real = static_cast<int>(std::lround(factor * o.real));
    }
    return costs;
  }
  static Race raceOf(const Case& c) {
    const RunRecord plainly = bySteps(c, 0, 1);
    for (const Nanoseconds later : {-100'000, -50'000, -20'000, 20'000, 50'000, 100'000})
      if (!compared(plainly, bySteps(c, later, 1)).same()) return Race::input;
    for (const double work : {0.98, 1.02, 0.96, 1.04, 0.93, 1.07, 0.9, 1.1})
      if (!compared(plainly, bySteps(c, 0, work)).same()) return Race::work;
    return Race::unknown;
  }
  std::map<Race, int> inTurns_, freely_;

  static std::string told(const Comparison& c) {
    if (!c.first) return "the same";
    return c.first->pin + ": by the steps " + inWords(sentence(c.first->steps)) + ", as firmware " +
           inWords(sentence(c.first->firmware));
  }
  // Compiled without a word from the compiler; else the test fails and there is none.
  static ChipPrograms compiledFor(const Project& project) {
    PosixRunner runner;
    const Firmware f = buildFirmware(project, "b1", runner);
    if (f.code != Firmware::Code::done || !f.messages.empty()) {
      QTest::qFail((f.messages + "\n" + cText(project, "b1").text).c_str(), __FILE__, __LINE__);
      return {};
    }
    return {{"b1", std::make_shared<const ChipProgram>(chipProgramOf(project, "b1", f))}};
  }
  // … and run both ways.
  static Comparison comparison(const Project& project, const std::vector<Input>& inputs,
                               Nanoseconds until) {
    const ChipPrograms code = compiledFor(project);
    if (code.empty()) return {};
    return comparedRuns(std::make_shared<const Project>(project), code, inputs, until);
  }
};

QTEST_GUILESS_MAIN(TestFirmware)
#include "tst_firmware.moc"
