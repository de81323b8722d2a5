#include <QtTest>
#include <random>
#include <set>

#include "bench/placing.h"
#include "check/remedies.h"
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
                                   turn % 2 ? prop.min : prop.max));
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
      const bool fine =
          std::none_of(kernel.events().begin(), kernel.events().end(), [](const Event& h) {
            return h.what == Event::What::broke || h.what == Event::What::tripped;
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
            QFAIL(qPrintable(fault.words + " · " + QString::fromStdString(inWords(r.title)) + "\n" +
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
  // A fault in the program, or a lamp beside another, on a bench that is sound without it: its
  // rule finds it, alone, and its first mend ends it and brings nothing up.
  void faultsOfStepsAreToldOnce_data() {
    QTest::addColumn<QString>("sound");
    QTest::addColumn<QString>("faulty");
    QTest::addColumn<QString>("rule");
    QTest::addColumn<bool>("loud");
    const QString copied = QStringLiteral(
        "Round and round:\n  if HELD\n    set %1 low\n    set TWO high\n    wait 0.25\n  "
        "otherwise\n    set ONE high\n    set TWO low\n");
    QTest::newRow("a copied step")
        << copied.arg("ONE") << copied.arg("PIN") << "pin-direction" << true;
    const QString flipping = QStringLiteral(
        "%1:\n  wait 0.02\n  if HELD\n    flip ONE\nRound and round:\n  set TWO high\n  wait "
        "1\n  set TWO low\n  wait 1\n");
    QTest::newRow("flips while held")
        << flipping.arg("Each time EDGE") << flipping.arg("Round and round") << "flips-while-held"
        << true;
    const QString switched = QStringLiteral(
        "Round and round:\n  if HELD\n    set ONE %1\n%2  wait 0.02\nRound and round:\n  set TWO "
        "high\n  wait 1\n  set TWO low\n  wait 1\n");
    QTest::newRow("never on") << switched.arg("low", "  otherwise\n    set ONE high\n")
                              << switched.arg("low", "") << "never-on" << true;
    const QString waiting = QStringLiteral(
        "%1    set ONE high\n    wait 0.5\n    set ONE low\nRound and round:\n  set TWO high\n"
        "  wait 1\n  set TWO low\n  wait 1\n");
    QTest::newRow("a press is missed")
        << waiting.arg("Round and round:\n  wait 0.05\n  if HELD\n")
        << waiting.arg("Round and round:\n  wait 1.5\n  if HELD\n") << "press-missed" << false;
    const QString both = QStringLiteral(
        "Round and round:\n  set ONE high\n  set TWO high\n  wait 1\n  set ONE low\n  set TWO "
        "low\n  wait 1\n");
    QTest::newRow("a lamp beside another") << both << both << "lamps-in-parallel" << true;
  }
  void faultsOfStepsAreToldOnce() {
    QFETCH(QString, sound);
    QFETCH(QString, faulty);
    QFETCH(QString, rule);
    QFETCH(bool, loud);
    std::mt19937 random(79);
    int planted = 0, offered = 0, mended = 0;
    for (int i = 0; i < 60; ++i) {
      const Signalled bench = signalledBench(random);
      if (!bench.made) continue;
      const auto filled = [&](QString text) {
        QString edge = QString::fromStdString(bench.held);
        edge.replace(" is ", " goes ");
        for (const auto& [name, with] : {std::pair{"HELD", QString::fromStdString(bench.held)},
                                         {"EDGE", edge},
                                         {"PIN", QString::fromStdString(bench.button)},
                                         {"ONE", QString::fromStdString(bench.first)},
                                         {"TWO", QString::fromStdString(bench.second)}})
          text.replace(name, with);
        return withLane(bench.project, text.toStdString());
      };
      const Project before = filled(sound);
      const CheckResult without = check(before);
      std::set<std::string> known;
      for (const Finding& f : without.findings) {
        if (f.severity != Severity::note) QFAIL(qPrintable(told(before, f)));
        known.insert(f.rule);
      }
      QVERIFY2(!known.contains(rule.toStdString()), qPrintable(rule));
      Project after = filled(faulty);
      if (rule == "lamps-in-parallel") {
        auto beside = withLampBeside(after, bench.first, random);
        if (!beside) continue;
        after = std::move(*beside);
      }
      ++planted;
      const CheckResult found = check(after);
      int told = 0;
      const Finding* first = nullptr;
      for (const Finding& f : found.findings) {
        if (f.rule == rule.toStdString() && !first) first = &f;
        told += f.severity != Severity::note || (!known.contains(f.rule) && !loud);
      }
      if (!first || told != 1) {
        std::string all;
        for (const Finding& f : found.findings) all += f.rule + ": " + inWords(f.title) + "\n";
        QFAIL(qPrintable(QString::fromStdString(all + writeWiring(after))));
      }
      if (first->remedies.empty()) continue;
      ++offered;
      const CheckResult then = check(first->remedies.front().after);
      const bool ended =
          std::none_of(then.findings.begin(), then.findings.end(), [&](const Finding& f) {
            return f.rule == rule.toStdString() || f.severity != Severity::note;
          });
      if (!ended) {
        std::string all = inWords(first->remedies.front().title) + "\n";
        for (const Finding& f : then.findings) all += f.rule + ": " + inWords(f.title) + "\n";
        QFAIL(qPrintable(QString::fromStdString(all + writeWiring(after))));
      }
      mended += ended;
    }
    qInfo("%d planted, %d with a mend", planted, offered);
    QVERIFY(planted > 30 && mended == offered && offered > planted / 2);
  }

 private:
  // A lamp of another colour between the legs of the one that hangs on a pin.
  static std::optional<Project> withLampBeside(const Project& p, const std::string& pin,
                                               std::mt19937& random) {
    const Circuit circuit(p);
    for (const auto& part : *p.parts) {
      if (part->type != "led" || pinLabel(p, circuit.nets(), "b1", pin) != part->name) continue;
      Part other = newPart(p, *catalogue().partKind("led"));
      other.setProp("colour", std::string(random() % 2 ? "blue" : "white"));
      return remedies::bridge(p, other, circuit.nets().of(*part->legs[0].in),
                              circuit.nets().of(*part->legs[1].in));
    }
    return std::nullopt;
  }
};

QTEST_GUILESS_MAIN(TestPlanted)
#include "tst_planted.moc"
