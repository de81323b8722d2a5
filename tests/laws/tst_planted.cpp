#include <QtTest>
#include <random>
#include <set>

#include "support/composed.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// The check on benches that are sound, and on the same with one fault planted.
class TestPlanted : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // A false alarm is a defect: a bench with a program that uses it is sound, and so it is
  // before there is a program.
  void composedCircuitsAreSound() {
    std::mt19937 random(8);
    std::size_t placed = 0;
    for (int i = 0; i < 500; ++i) {
      Placed used;
      const Project p = composedBench(random, 6, i % 2, used);
      placed += used.size();
      const Project with = programmed(p, used, random);
      QVERIFY(!with.boards.empty());
      for (const Project& q : {p, with})
        for (const Finding& f : check(q).findings)
          if (f.severity != Severity::note) QFAIL(qPrintable(told(q, f)));
    }
    QVERIFY2(placed > 1000, qPrintable(QString::number(placed)));
  }
  // What the check calls sound works: in a run in which everything is pressed and turned, each
  // lamp lights, each motor turns, each sounder is heard, and nothing breaks.
  void soundBenchesWork() {
    std::mt19937 random(15);
    int shown = 0;
    for (int i = 0; i < 60; ++i) {
      Placed used;
      const Project p = programmed(composedBench(random, 4, false, used), used, random);
      Kernel kernel(shared(p));
      std::set<std::string> waiting;
      for (const auto& part : *p.parts)
        if (catalogue().partKind(part->type)->shows != Shows::nothing) waiting.insert(part->id);
      const std::size_t all = waiting.size();
      for (int turn = 0; turn < 10; ++turn)
        for (const auto& part : *p.parts) {
          const PartKind& kind = *catalogue().partKind(part->type);
          const double when = 0.2 + 0.8 * turn;
          if (kind.pressable)
            kernel.schedule(
                at(when, turn % 2 ? Input::What::release : Input::What::press, part->id));
          if (kind.senses && !kind.knob.empty())
            for (const PropKind& prop : kind.props)
              if (prop.key == kind.knob)
                kernel.schedule(at(when, Input::What::setProp, part->id, kind.knob,
                                   turn % 2 ? prop.least : prop.most));
        }
      for (int tick = 0; tick < 400; ++tick) {
        kernel.advance((tick + 1) * (second / 50));
        const Snapshot s = kernel.snapshot();
        for (std::size_t k = 0; k < s.project->parts->size(); ++k) {
          const Motion& m = s.motion[k];
          if (s.light[k] > litLight || m.hertz > 0 || std::abs(m.revolutionsPerMinute) > 100 ||
              m.degrees > 0)
            waiting.erase((*s.project->parts)[k]->id);
        }
      }
      const bool fine = std::none_of(
          kernel.happenings().begin(), kernel.happenings().end(), [](const Happening& h) {
            return h.what == Happening::What::broke || h.what == Happening::What::tripped;
          });
      if (!fine) QFAIL(writeWiring(p).c_str());
      if (!waiting.empty()) QFAIL((*waiting.begin() + "\n" + writeWiring(p)).c_str());
      shown += static_cast<int>(all);
    }
    QVERIFY2(shown > 40, qPrintable(QString::number(shown)));
  }
  // One fault, somewhere: it is found, and told once.
  void plantedFaultsAreFound() {
    std::mt19937 random(77);
    int planted = 0, loud = 0;
    for (int i = 0; i < 1500; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 3, false, used), used, random);
      if (sound.parts->empty()) continue;
      const Planted fault = plant(sound, random);
      if (fault.words.isEmpty()) continue;
      // A sensor with an unsuitable partner still moves its pin a little, and a gate that a pin
      // drives needs no resistor.
      if (fault.words.contains(QStringLiteral(" of ")) &&
          std::any_of(used.begin(), used.end(), [](const auto& u) {
            return u.first->needs == SmallCircuit::Needs::analog || u.first->id == "motor";
          }))
        continue;
      // A wire that only doubles another one is no fault.
      const bool values = fault.words.contains(QStringLiteral(" of ")) ||
                          fault.words.contains(QStringLiteral(" turned"));
      if (!values && sameCircuit(sound, fault.project)) continue;
      const CheckResult result = check(fault.project);
      ++planted;
      const auto count =
          std::count_if(result.findings.begin(), result.findings.end(),
                        [](const Finding& f) { return f.severity != Severity::note; });
      loud += static_cast<int>(count);
      if (count == 0)
        QFAIL(qPrintable(fault.words + "\n" + QString::fromStdString(writeWiring(fault.project))));
    }
    qInfo("%d faults, %.3f findings each, notes apart", planted,
          loud / static_cast<double>(planted));
    QVERIFY(planted > 500);
    QVERIFY(loud < 1.02 * planted);
  }
  // What is offered does no harm, and clicking it leads somewhere: it brings no danger, and
  // most faults are gone after a click or two.
  void remediesMendWhatWasPlanted() {
    std::mt19937 random(78);
    constexpr int mostClicks = 3;
    int planted = 0, mended = 0, offered = 0;
    const auto worst = [](const CheckResult& r) {
      return r.findings.empty() ? -1 : static_cast<int>(r.findings.front().severity);
    };
    const int danger = static_cast<int>(Severity::danger);
    for (int i = 0; i < 400; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 3, false, used), used, random);
      if (sound.parts->empty()) continue;
      const Planted fault = plant(sound, random);
      if (fault.words.isEmpty()) continue;
      CheckResult now = check(fault.project);
      if (worst(now) <= static_cast<int>(Severity::note)) continue;
      ++planted;
      for (const Finding& f : now.findings)
        for (const Remedy& r : f.remedies) {
          ++offered;
          if (worst(check(r.after)) == danger && worst(now) != danger)
            QFAIL(qPrintable(fault.words + " · " + QString::fromStdString(r.title) + "\n" +
                             told(fault.project, f)));
        }
      for (int click = 0; click < mostClicks && worst(now) > static_cast<int>(Severity::note) &&
                          !now.findings.front().remedies.empty();
           ++click)
        now = check(now.findings.front().remedies.front().after);
      mended += worst(now) <= static_cast<int>(Severity::note);
    }
    qInfo("%d faults, %d remedies, %d mended", planted, offered, mended);
    QVERIFY(planted > 150 && mended > 0.95 * planted);
  }
};

QTEST_GUILESS_MAIN(TestPlanted)
#include "tst_planted.moc"
