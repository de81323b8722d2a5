#include <QtTest>
#include <cmath>
#include <random>

#include "check/evidence.h"
#include "check/sweep.h"
#include "make/sheet.h"
#include "run/kernel.h"
#include "support/composed.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

std::size_t z(int i) { return static_cast<std::size_t>(i); }

bool near(double a, double b, double relative, double absolute) {
  return std::abs(a - b) <= absolute + relative * std::max(std::abs(a), std::abs(b));
}

int indexOf(const Project& p, const std::string& part) {
  for (std::size_t i = 0; i < p.parts->size(); ++i)
    if ((*p.parts)[i]->id == part) return static_cast<int>(i);
  return -1;
}

// Somebody does by hand what a pose says, and waits until everything has settled.
Snapshot doneByHand(const Project& p, const Circuit& circuit, const CircuitState& pose) {
  Project survives = p;
  survives.settings.partsSurvive = true;
  Kernel kernel(shared(survives));
  const double when = 0.1;
  for (std::size_t i = 0; i < pose.pins.size(); ++i) {
    if (pose.pins[i] != PinDrive::high && pose.pins[i] != PinDrive::low) continue;
    const CircuitPin& pin = circuit.pins()[i];
    kernel.schedule(at(when, Input::What::drivePin, pin.board, pin.name,
                       pose.pins[i] == PinDrive::high ? 100.0 : 0.0));
  }
  for (std::size_t i = 0; i < p.parts->size(); ++i) {
    const Part& part = *(*p.parts)[i];
    const PartKind& kind = *catalogue().partKind(part.type);
    if (kind.pressable && pose.pressed[i]) kernel.schedule(at(when, Input::What::press, part.id));
    const PropKind* knob = kind.knob.empty() ? nullptr : kind.prop(kind.knob);
    if (!knob || pose.turned[i] == Turned::asSet) continue;
    const double value = pose.turned[i] == Turned::min   ? knob->min
                         : pose.turned[i] == Turned::max ? knob->max
                                                         : (knob->min + knob->max) / 2;
    kernel.schedule(at(when, Input::What::setProp, part.id, kind.knob, value));
  }
  kernel.advance(3 * second);
  return kernel.snapshot();
}

// The combination of a switch is a property of it.
Project withSwitches(Project p, const Pose& pose) {
  for (const auto& [id, how] : pose)
    if (how == "left" || how == "right")
      p = edits::changePart(p, id, [&](Part& q) { q.setProp("position", how); });
  return p;
}

}  // namespace

// The check, a single solve, the run and the build sheet come from one model: what one of them
// says, the others say too.
class TestOneModel : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void readingsAreWhatASolveOfTheirPoseGives() {
    std::mt19937 random(41);
    int compared = 0;
    for (int round = 0; round < 150; ++round) {
      Placed placed;
      Project p = composedBench(random, 5, round % 2, placed);
      if (round % 3) p = programmed(p, placed, random);
      const CheckResult result = check(p);
      Circuit circuit(p);
      for (const WorstReading& w : result.readings) {
        const CircuitReading r = circuit.solve(stateOf(p, circuit, w.pose));
        QVERIFY(r.converged);
        double volts = 0, amps = 0;
        if (const int part = indexOf(p, w.part); part >= 0) {
          volts = r.parts[z(part)].volts.value_or(0);
          amps = r.parts[z(part)].amps;
        } else {
          const int pin = circuit.pinIndex("b1", w.pin);
          QVERIFY2(pin >= 0, w.pin.c_str());
          volts = r.pins[z(pin)].volts.value_or(0);
          amps = r.pins[z(pin)].amps;
        }
        QVERIFY2(near(w.amps, amps, 1e-6, 1e-9) && near(w.volts, volts, 1e-6, 1e-6),
                 qPrintable(QString("%1: %2 A, %3 V; solved %4 A, %5 V\n%6")
                                .arg(QString::fromStdString(w.name))
                                .arg(w.amps)
                                .arg(w.volts)
                                .arg(amps)
                                .arg(volts)
                                .arg(QString::fromStdString(writeWiring(p)))));
        ++compared;
      }
    }
    QVERIFY2(compared > 500, qPrintable(QString::number(compared)));
  }
  void whatIsDoneByHandGivesTheSameReadings() {
    std::mt19937 random(42);
    int compared = 0;
    for (int round = 0; round < 60; ++round) {
      Placed placed;
      const Project p = composedBench(random, 3, false, placed);
      const CheckResult result = check(p);
      for (const WorstReading& w : result.readings) {
        const int part = indexOf(p, w.part);
        if (part < 0 || (*p.parts)[z(part)]->type == "servo") continue;  // it goes and rests
        const Project posed = withSwitches(p, w.pose);
        Circuit circuit(posed);
        const Snapshot s = doneByHand(posed, circuit, stateOf(posed, circuit, w.pose));
        const double amps = s.reading.parts[z(part)].amps;
        const double volts = s.reading.parts[z(part)].volts.value_or(0);
        // A motor comes to its speed within some parts in a thousand.
        QVERIFY2(near(w.amps, amps, 5e-3, 2e-6) && near(w.volts, volts, 5e-3, 2e-3),
                 qPrintable(QString("%1: checked %2 A, %3 V; run %4 A, %5 V\n%6")
                                .arg(QString::fromStdString(w.name))
                                .arg(w.amps)
                                .arg(w.volts)
                                .arg(amps)
                                .arg(volts)
                                .arg(QString::fromStdString(writeWiring(posed)))));
        ++compared;
      }
    }
    QVERIFY2(compared > 100, qPrintable(QString::number(compared)));
  }
  // What the build sheet says a meter reads is what a solve gives at that hole.
  void theSheetsReadingsAreSolved() {
    std::mt19937 random(43);
    int compared = 0;
    for (int round = 0; round < 80; ++round) {
      Placed placed;
      const Project p = programmed(composedBench(random, 4, false, placed), placed, random);
      if (p.boards.empty()) continue;
      const BuildSheet sheet = buildSheet(p);
      Circuit circuit(p);
      for (const MeterReading& m : sheet.readings) {
        const Socket at{"bb", m.hole};
        const int net = circuit.nets().of(at);
        QVERIFY2(net >= 0, m.hole.c_str());
        // Whatever the combination is that it names, the reading lies between the rails.
        QVERIFY(m.volts > -0.01 && m.volts < 5.01);
        if (!m.when.empty()) continue;
        const CircuitReading r = circuit.solve(circuit.restState());
        QVERIFY(near(m.volts, r.nets[z(net)].value_or(-1), 1e-6, 1e-6));
        ++compared;
      }
    }
    QVERIFY2(compared > 40, qPrintable(QString::number(compared)));
  }
  // What a finding shows as its evidence are the figures that it tells.
  void evidenceBearsFindingsOut() {
    std::mt19937 random(44);
    int seen = 0;
    for (int round = 0; round < 200; ++round) {
      Placed placed;
      const Project sound = programmed(composedBench(random, 3, false, placed), placed, random);
      if (sound.boards.empty() || sound.parts->empty()) continue;
      const Planted fault = plant(sound, random);
      if (fault.words.isEmpty()) continue;
      for (const Finding& f : check(fault.project).findings) {
        const std::vector<Evidence> all = evidenceOf(fault.project, f);
        QVERIFY2(!all.empty(), qPrintable(told(fault.project, f)));
        for (const Evidence& e : all) {
          QVERIFY(!e.words.empty());
          QVERIFY((e.part.empty() ? 0 : 1) + (e.socket ? 1 : 0) + (e.step.empty() ? 0 : 1) == 1);
          QVERIFY(inWords(e.words).find("nan") == std::string::npos);
        }
        ++seen;
      }
    }
    QVERIFY2(seen > 60, qPrintable(QString::number(seen)));
  }
};

QTEST_GUILESS_MAIN(TestOneModel)
#include "tst_one_model.moc"
