#include <QtTest>
#include <random>

#include "check/faults.h"
#include "check/rule.h"
#include "explain/why.h"
#include "program/facts.h"
#include "project/edits.h"
#include "support/composed.h"
#include "support/demo_rows.h"
#include "support/random_benches.h"
#include "support/runs.h"
#include "support/twice.h"

using namespace ignavo;
using namespace ignavo::test;

// Why something is dark, on benches that nobody has seen: sound ones, and the same with one fault
// in the circuit or in the steps, run with the same presses.
namespace {

std::vector<Input> presses(const Project& p, std::mt19937& random) {
  std::vector<Input> out;
  for (const auto& part : *p.parts) {
    const PartKind& kind = *catalogue().partKind(part->type);
    double when = 0.1;
    for (int turn = 0; turn < 4;
         ++turn, when += 0.2 + 0.001 * static_cast<double>(random() % 900)) {
      if (kind.pressable)
        out.push_back(at(when, turn % 2 ? Input::What::release : Input::What::press, part->id));
      if (kind.senses && !kind.knob.empty())
        for (const PropKind& prop : kind.props)
          if (prop.key == kind.knob)
            out.push_back(at(when, Input::What::setProp, part->id, kind.knob,
                             turn % 2 ? prop.min : prop.max));
    }
  }
  return out;
}

struct Asked {
  explicit Asked(const Project& project, const std::vector<Input>& inputs)
      : kernel(shared(project)) {
    for (const Input& input : inputs) kernel.schedule(input);
    faults = faultsOf(check(project).findings);
    bare = faultsWithoutPrograms(project);
  }
  Snapshot goTo(double seconds) {
    kernel.advance(static_cast<Nanoseconds>(seconds * 1e9));
    return kernel.snapshot();
  }
  std::optional<Why> why(const Snapshot& now, const std::string& part) {
    return whyOf({now, kernel.trace(), kernel.events()}, part, faults, [&] { return bare; });
  }
  Kernel kernel;
  std::vector<Fault> faults, bare;
};

// Did every pin do the same up to there?
bool sameLevels(const Trace& a, const Trace& b, Nanoseconds until) {
  for (int s = 0; s < static_cast<int>(a.signals().size()); ++s) {
    const Signal& signal = a.signals()[static_cast<std::size_t>(s)];
    if (signal.what != Signal::What::pinLevel) continue;
    const int other = b.find(signal.what, signal.owner, signal.name);
    if (other < 0) continue;  // nothing hangs on it any more
    if (a.countEdges(s, -1, until) != b.countEdges(other, -1, until) ||
        std::abs(a.integral(s, 0, until) - b.integral(other, 0, until)) > 1e-9)
      return false;
  }
  return true;
}

QByteArray told(const Project& p, const Why& why, const QString& words) {
  return (why.part + ": " + inWords(why.sentence) + " [" + why.circuit.rule + "]\n" +
          words.toStdString() + "\n" + writeWiring(p))
      .c_str();
}

}  // namespace

class TestWhyLaws : public QObject {
  Q_OBJECT
  // What worked at a moment, and does not without the wire.
  static void askedAt(double seconds, Asked& before, Asked& after, int& blamed, int& byChance) {
    const Snapshot then = before.goTo(seconds), now = after.goTo(seconds);
    const Project& p = *now.project;
    // What reads at random has programs do what nobody planned.
    bool floats = false;
    for (std::size_t pin = 0; pin < now.reading.pins.size(); ++pin)
      for (const PinUse& use : pinUses(*p.programs[0]))
        floats = floats || (now.reading.pins[pin].floating && use.isRead() &&
                            programPins(p, "b1")[pin] == use.pin);
    for (const auto& part : *p.parts) {
      const auto was = before.why(then, part->id), is = after.why(now, part->id);
      if (!was || !was->look.works || is->look.works) continue;
      // An arm stands where it was sent, and says so.
      if (catalogue().partKind(part->type)->moves == Moves::angle && is->circuit.fine) continue;
      const QString told = QString::fromStdString(
          was->look.looks + " before, and without a wire: " + inWords(is->sentence));
      if (floats && !is->program.fine) {
        ++byChance;
        continue;
      }
      QVERIFY2(!is->circuit.fine, qPrintable(told));
      // What blinks may be dark just now by the program as well.
      if (was->look.looks != "blinking") QVERIFY2(is->program.fine, qPrintable(told));
      ++blamed;
    }
  }

 private Q_SLOTS:
  // A wire is taken out of an example, be it on the way to a lamp or to what its program reads: the
  // circuit is to blame for what does nothing then, and the program is not.
  void missingWiresAreBlamed_data() { rowPerDemo(); }
  void missingWiresAreBlamed() {
    QFETCH(QString, name);
    const Project whole = *demoProject(name);
    std::vector<Input> inputs;
    for (const auto& part : *whole.parts)
      if (part->type == "button") inputs.push_back(at(0.6, Input::What::press, part->id));
    Asked before(whole, inputs);
    std::vector<std::unique_ptr<Asked>> without;
    for (const auto& wire : *whole.wires)
      without.push_back(std::make_unique<Asked>(edits::remove(whole, {wire->id}), inputs));
    int blamed = 0, byChance = 0;
    for (const double seconds : {0.3, 0.75, 0.9, 4.5})
      for (auto& after : without) askedAt(seconds, before, *after, blamed, byChance);
    qInfo("%d blamed, %d by chance", blamed, byChance);
    QVERIFY(blamed > 0);
    QVERIFY(byChance <= blamed / 4);
  }

  // A sound circuit is never to blame; what works has nothing to blame; and each verdict says
  // something.
  void soundBenchesAreNotBlamed() {
    std::mt19937 random(21);
    int asked = 0, dark = 0;
    std::size_t most = 0;
    for (int i = 0; i < 60; ++i) {
      Placed used;
      Project p = programmed(composedBench(random, 5, false, used), used, random);
      // Now and then a large one: several boards, up to forty parts.
      if (i % 6 == 0) p = twice(twice(p));
      most = std::max(most, p.parts->size());
      Asked run(p, presses(p, random));
      for (double seconds = 0.05; seconds < 3;
           seconds += 0.2 + 0.001 * static_cast<double>(random() % 300)) {
        const Snapshot now = run.goTo(seconds);
        for (const auto& part : *p.parts) {
          const auto why = run.why(now, part->id);
          if (!why) continue;
          ++asked;
          dark += why->look.works ? 0 : 1;
          if (!why->circuit.fine || (why->look.works && !why->program.fine) || !why->power)
            QFAIL(told(p, *why, QString::number(seconds)));
          QVERIFY(!why->circuit.words.empty() && !why->program.words.empty());
          QVERIFY(!why->sentence.empty());
          for (const std::string& step : why->program.steps)
            QVERIFY(p.step(step) || p.programs[0]->board == "b1");
        }
      }
    }
    qInfo("%d asked, %d of them dark, silent or still; up to %zu parts", asked, dark, most);
    QVERIFY(asked > 500 && dark > 100 && most >= 30);
  }
  // One fault in the circuit: what is dark where it would be lit without it, is dark for the
  // circuit, by a rule of the check; and the program is sound where the pins do the same.
  void faultsInTheCircuitAreBlamed() {
    std::mt19937 random(22);
    int blamed = 0;
    for (int i = 0; i < 500; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 3, false, used), used, random);
      if (sound.parts->empty()) continue;
      const Planted fault = plant(sound, random);
      // A wire on another pin may as well be a step that names another one.
      if (fault.words.isEmpty() || fault.words.contains(QStringLiteral(" on "))) continue;
      const std::vector<Input> inputs = presses(sound, random);
      Asked without(sound, inputs), with(fault.project, inputs);
      for (const double seconds : {0.31, 1.17}) {
        const Snapshot a = without.goTo(seconds), b = with.goTo(seconds);
        const bool samePins = sameLevels(without.kernel.trace(), with.kernel.trace(), a.now);
        for (const auto& part : *fault.project.parts) {
          if (!sound.part(part->id)) continue;
          const auto then = without.why(a, part->id);
          const auto now = with.why(b, part->id);
          if (!then || !now || !then->look.works || now->look.works) continue;
          ++blamed;
          if (samePins && (now->circuit.fine || !now->program.fine))
            QFAIL(told(fault.project, *now, fault.words));
          if (now->circuit.fine) continue;  // an input does otherwise
          if (!ruleOf(now->circuit.rule)) QFAIL(told(fault.project, *now, fault.words));
        }
      }
    }
    qInfo("%d blamed", blamed);
    QVERIFY(blamed > 60);
  }
  // One fault in the steps: a pin that is only set low, or another pin that is set in its place.
  void faultsInTheStepsAreBlamed() {
    std::mt19937 random(23);
    int blamed = 0;
    for (int i = 0; i < 200; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 3, false, used), used, random);
      if (sound.parts->empty()) continue;
      Project faulty = sound;
      const bool low = i % 2 == 0;
      for (auto& lane : faulty.programs[0].edit().lanes) {
        const auto change = [&](Steps& steps, const auto& again) -> void {
          for (Step& step : steps) {
            const auto pin = pinWritten(step);
            const LevelsGiven gives = levelsGiven(step);
            if (pin && *pin != "D13" && gives.high && !gives.low) {
              const std::string id = step.id;
              step = low ? settingStep(*pin, false) : settingStep("A5", true);
              step.id = id;
            }
            for (auto& [key, body] : step.bodies) again(body, again);
          }
        };
        change(lane.edit().steps, change);
      }
      const std::vector<Input> inputs = presses(sound, random);
      Asked without(sound, inputs), with(faulty, inputs);
      for (const double seconds : {0.31, 1.17}) {
        const Snapshot a = without.goTo(seconds), b = with.goTo(seconds);
        for (const auto& part : *faulty.parts) {
          const auto then = without.why(a, part->id);
          const auto now = with.why(b, part->id);
          if (!then || !now || !then->look.works || now->look.works) continue;
          ++blamed;
          if (!now->circuit.fine || now->program.fine)
            QFAIL(told(faulty, *now, low ? QStringLiteral("only low") : QStringLiteral("A5")));
        }
      }
    }
    qInfo("%d blamed", blamed);
    QVERIFY(blamed > 40);
  }
  // Anything plugged in anywhere: it is answered, by rules that there are, and whatever works has a
  // circuit that is fine. What is dark though its circuit would do is up to the program, or to a
  // button or knob that is named.
  void sillyBenchesAreAnswered() {
    std::mt19937 random(24);
    int asked = 0, circuits = 0;
    for (int i = 0; i < 150; ++i) {
      const Project p = i % 2 ? randomBench(random, 3 + i % 8)
                              : sillyBench(random, 4 + static_cast<int>(random() % 20), 30);
      Asked run(p, presses(p, random));
      for (const double seconds : {0.0, 0.15, 1.3}) {
        const Snapshot now = run.goTo(seconds);
        for (const auto& part : *p.parts) {
          const auto why = run.why(now, part->id);
          QCOMPARE(why.has_value(), catalogue().partKind(part->type)->shows != Shows::nothing);
          if (!why) continue;
          ++asked;
          const bool fine = why->circuit.fine;
          circuits += fine ? 0 : 1;
          const bool named = !why->circuit.parts.empty() || !why->program.fine || !why->power ||
                             why->look.works || why->look.flash > 0 || !why->program.pin.empty();
          if (fine != why->circuit.rule.empty() || (!fine && !ruleOf(why->circuit.rule)) ||
              (fine && !named) || why->sentence.empty())
            QFAIL(told(p, *why, QString::number(seconds)));
        }
      }
    }
    qInfo("%d asked, %d circuits to blame", asked, circuits);
    QVERIFY(asked > 500 && circuits > 100);
  }
};

QTEST_GUILESS_MAIN(TestWhyLaws)
#include "tst_why_laws.moc"
