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

std::string partNamed(const Project& p, const std::string& name) {
  for (const auto& part : *p.parts)
    if (part->name == name) return part->id;
  return {};
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

  // Programs as odd as the language allows. Where they work hard the steps only know about how long
  // that takes, and now and then a turn more or less: of each kind these are told, and few.
  void doesWhatTheStepsDo_data() {
    QTest::addColumn<unsigned>("from");
    QTest::addColumn<bool>("plain");
    const int asked = std::max(200, qEnvironmentVariableIntValue("IGNAVO_FIRMWARES"));
    for (unsigned i = 0; i < static_cast<unsigned>(asked) / 25; ++i)
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
        const int most = race == Race::none ? all : all / 10;
        QVERIFY2(count <= most, nameOf(race));
      }
    }
  }

 private:
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
    for (const double work : {0.75, 0.85, 0.95, 1.05, 1.15, 1.25})
      if (!compared(plainly, bySteps(c, 0, work)).same()) return Race::work;
    return Race::unknown;
  }
  std::map<Race, int> inTurns_, freely_;

  static std::string told(const Comparison& c) {
    if (!c.first) return "the same";
    return c.first->pin + ": by the steps " + inWords(sentence(c.first->steps)) + ", as firmware " +
           inWords(sentence(c.first->firmware));
  }
  // Compiled without a word from the compiler, and run both ways.
  static Comparison comparison(const Project& project, const std::vector<Input>& inputs,
                               Nanoseconds until) {
    PosixRunner runner;
    const Firmware f = buildFirmware(project, "b1", runner);
    if (f.code != Firmware::Code::done || !f.messages.empty()) {
      QTest::qFail((f.messages + "\n" + cText(project, "b1").text).c_str(), __FILE__, __LINE__);
      return {};
    }
    const ChipPrograms code = {
        {"b1", std::make_shared<const ChipProgram>(chipProgramOf(project, "b1", f))}};
    return comparedRuns(std::make_shared<const Project>(project), code, inputs, until);
  }
};

QTEST_GUILESS_MAIN(TestFirmware)
#include "tst_firmware.moc"
