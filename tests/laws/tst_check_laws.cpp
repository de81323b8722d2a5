#include <QtTest>
#include <cmath>

#include "bench/placing.h"
#include "check/sweep.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "support/random_benches.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// After a remedy the same is not found again.
bool mends(const Finding& f, const Project& after) {
  const CheckResult result = check(after);
  return std::none_of(result.findings.begin(), result.findings.end(), [&](const Finding& g) {
    const bool placed = f.parts.empty() && f.pins.empty();  // its title says where
    return g.rule == f.rule && g.parts == f.parts && g.pins == f.pins && g.severity >= f.severity &&
           (placed || f.rule == "rail-unfed" ? inWords(g.title) == inWords(f.title) : true);
  });
}

Project withProgram(Project p, std::size_t which) {
  static const char* programs[] = {
      "if d2 high\n  set d3 high\n  set d4 low\notherwise\n  set d4 not d3\nwait 0.1\nset d3 "
      "low\nset d5 high\nset d5 low\n",
      "set d4 high\nwait 0.4\nset d4 low\nset d5 high\nwait 0.4\nset d5 low\n",
      "set d3 high\nset d4 high\nset d5 high\nwait 30\n",
      "set d5 not d2\nwait 0.02\n",
      "dim d3 to level of a0\nwait 0.1\n",
      "if d2 high\n  flip d4\nwait 0.3\n",
      "if d3 high\n  set d3 low\n  set d4 high\n  wait 0.2\notherwise\n  set d5 high\n  set d4 "
      "low\n"};
  Lane lane;
  lane.trigger.on = "always";
  lane.steps = parseSteps(programs[which % std::size(programs)]).steps;
  return edits::assignIds(edits::addLane(std::move(p), "b1", std::move(lane)));
}

// Supply, ground and a pin or two end in the rows where parts are.
Project fed(Project p, std::mt19937& random) {
  std::vector<Socket> legs;
  for (const auto& part : *p.parts)
    for (const Leg& leg : part->legs)
      if (leg.in && leg.in->point.size() < 4 && leg.in->point[1] != 'p' && leg.in->point[1] != 'n')
        legs.push_back(*leg.in);
  for (const char* pin : {"5V", "GND", "GND3", "D4", "D5"}) {
    if (legs.empty()) break;
    const std::string row = legs[random() % legs.size()].point;
    const bool left = row[0] <= 'e';
    for (const char column : std::string(left ? "abcde" : "fghij")) {
      const Socket hole{"bb", column + row.substr(1)}, from{"b1", pin};
      const Occupancy taken = occupancy(p);
      if (taken.contains(hole) || taken.contains(from)) continue;
      Wire w;
      w.id = freeId(p, "w");
      w.from = from;
      w.to = hole;
      p = edits::addWire(std::move(p), w);
      break;
    }
  }
  return p;
}

// Capacitors as they are sold for breadboards: what a larger one takes again and again is no
// settled state.
Project withSmallCapacitors(Project p) {
  for (std::size_t i = 0; i < p.parts->size(); ++i)
    if (const std::string id = (*p.parts)[i]->id; (*p.parts)[i]->type == "capacitor")
      p = edits::changePart(std::move(p), id, [](Part& q) {
        q.setProp("farads", std::min(1e-3, q.number("farads", 1e-7)));
      });
  return p;
}

// Somebody plays with everything that can be pressed or turned, for some seconds.
void play(Kernel& kernel, const Project& p, std::mt19937& random, int seconds) {
  for (int turn = 0; turn < 4 * seconds; ++turn) {
    const double when = 0.01 + turn * 0.25;
    for (const auto& part : *p.parts) {
      const PartKind& kind = *catalogue().partKind(part->type);
      if (kind.pressable && random() % 3 == 0)
        kernel.schedule(
            at(when, random() % 4 ? Input::What::press : Input::What::release, part->id));
      if (!kind.thrownKey.empty() && random() % 3 == 0)
        kernel.schedule(at(when, Input::What::setProp, part->id, kind.thrownKey,
                           std::string(random() % 2 ? "left" : "right")));
      if (kind.senses && !kind.knob.empty() && random() % 3 == 0)
        for (const PropKind& prop : kind.props)
          if (prop.key == kind.knob)
            kernel.schedule(at(when, Input::What::setProp, part->id, kind.knob,
                               random() % 2 ? prop.min : prop.max));
    }
  }
  kernel.advance(seconds * second);
}

bool anyDanger(const CheckResult& result) {
  return std::any_of(result.findings.begin(), result.findings.end(),
                     [](const Finding& f) { return f.severity == Severity::danger; });
}

bool anyOf(const CheckResult& result, const char* rule) {
  return std::any_of(result.findings.begin(), result.findings.end(),
                     [&](const Finding& f) { return f.rule == rule; });
}

}  // namespace

// What the check says of benches that nobody thought of.
class TestCheckLaws : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // The check never crashes, is the same twice, and its remedies are sound projects that mend.
  void checkIsSteadyOnAnything() {
    std::mt19937 random(19);
    int findings = 0, remedies = 0;
    for (int i = 0; i < 500; ++i) {
      const int parts = 1 + static_cast<int>(random() % 10);
      Project p = i % 2 ? randomBench(random, parts) : sillyBench(random, parts, 8);
      if (i % 4 == 0) {
        Lane lane;
        lane.trigger.on = "always";
        lane.steps = parseSteps(
                         "if d2 high\n  set d3 high\n  set d4 low\notherwise\n  set d4 "
                         "not d3\nwait 0.1\nset d3 low\nset d5 high\nset d5 low\n")
                         .steps;
        p = edits::assignIds(edits::addLane(std::move(p), "b1", std::move(lane)));
      }
      const CheckResult a = check(p), b = check(p);
      QCOMPARE(a.findings.size(), b.findings.size());
      for (std::size_t k = 0; k < a.findings.size(); ++k) {
        const Finding& f = a.findings[k];
        QCOMPARE(inWords(f.title), inWords(b.findings[k].title));
        QVERIFY(!inWords(f.title).empty() && !inWords(f.reason).empty() && !f.figures.empty());
        QVERIFY(!f.parts.empty() || !f.pins.empty() || !f.sockets.empty() || !f.steps.empty());
        for (const Figure& g : f.figures) QVERIFY(!std::isnan(g.value));
        for (const std::string& id : f.parts) QVERIFY(p.part(id));
        ++findings;
        for (const Remedy& r : f.remedies) {
          const ReadResult read = readProject(writeProject(r.after));
          QVERIFY2(read.sound(),
                   read.problems.empty() ? "" : inWords(sentence(read.problems[0])).c_str());
          ++remedies;
          // Of a part with several loose legs it mends one.
          QVERIFY2(f.rule == "leg-loose" || mends(f, r.after),
                   qPrintable(QString("bench %1: “%2” does not mend “%3”")
                                  .arg(i)
                                  .arg(QString::fromStdString(inWords(r.title)))
                                  .arg(QString::fromStdString(inWords(f.title)))));
        }
        if (k > 0) QVERIFY(a.findings[k - 1].severity >= f.severity);
      }
      for (const WorstReading& r : a.readings)
        QVERIFY2(std::isfinite(r.volts) && std::isfinite(r.amps) && r.share >= 0,
                 qPrintable(QString("bench %1, %2: %3 V, %4 A, %5 of %6")
                                .arg(i)
                                .arg(QString::fromStdString(r.name))
                                .arg(r.volts)
                                .arg(r.amps)
                                .arg(r.share)
                                .arg(QString::fromStdString(r.limit))));
    }
    QVERIFY(findings > 300 && remedies > 1000);
  }
  // The run uses the same solutions as the check: no lamp ever carries more than its worst reading.
  void theRunStaysWithinTheCheck() {
    std::mt19937 random(2);
    int compared = 0;
    for (int i = 0; i < 150; ++i) {
      const Project p = randomBench(random, 1 + static_cast<int>(random() % 6));
      if (Circuit(p).anyShorted()) continue;
      const CheckResult checked = check(p);
      bool programmed = p.programs[0]->hasSteps();
      if (!programmed || checked.sampled) continue;
      if (std::any_of(checked.findings.begin(), checked.findings.end(),
                      [](const Finding& f) { return f.rule == "short-circuit"; }))
        continue;
      Kernel kernel(std::make_shared<const Project>(p));
      int turn = 0;
      for (const auto& part : *p.parts)
        if (part->type == "button") {
          Input in;
          in.what = Input::What::press;
          in.id = part->id;
          in.at = ++turn * second / 10;
          kernel.schedule(in);
        }
      kernel.advance(second);
      for (const WorstReading& w : checked.readings) {
        const int s = w.part.empty() ? -1 : kernel.trace().find(Signal::What::partAmps, w.part, {});
        if (s < 0) continue;
        QVERIFY2(kernel.trace().highest(s) <= std::max(0.0, w.amps) + 1e-6, w.name.c_str());
        ++compared;
      }
    }
    QVERIFY(compared > 30);
  }
  // A sweep goes on from the combination before; what it finds is what one finds from nothing,
  // and its peaks are the largest of all that it kept.
  void theSweepFindsWhatColdSolvesFind() {
    std::mt19937 random(41);
    int poses = 0;
    const auto same = [](double a, double b) {
      return std::abs(a - b) <= 1e-8 + 1e-6 * std::max(std::abs(a), std::abs(b));
    };
    for (int i = 0; i < 250; ++i) {
      Project p = sillyBench(random, 2 + static_cast<int>(random() % 7), 5);
      if (i % 2) p = withProgram(std::move(p), random());
      Circuit warm(p);
      const Sweep sweep(p, warm);
      if (warm.anyShorted() || sweep.sampled()) continue;
      Circuit cold(p);
      for (int island = 0; island < warm.islandCount(); ++island) {
        const auto& members = warm.island(island).parts;
        std::vector<double> most(members.size(), 0), hottest(members.size(), 0);
        for (const SweptPose& pose : sweep.posesOf(island)) {
          const IslandReading found = warm.solveIsland(island, pose.state);
          const IslandReading& fresh = cold.solveIsland(island, pose.state);
          QVERIFY(fresh.converged);
          ++poses;
          for (std::size_t k = 0; k < members.size(); ++k) {
            QVERIFY2(same(found.parts[k].amps, fresh.parts[k].amps),
                     qPrintable(QString("bench %1: %2 A, cold %3 A")
                                    .arg(i)
                                    .arg(found.parts[k].amps)
                                    .arg(fresh.parts[k].amps)));
            most[k] = std::max(most[k], std::abs(fresh.parts[k].amps));
            hottest[k] = std::max(hottest[k], fresh.parts[k].watts);
          }
        }
        for (std::size_t k = 0; k < members.size(); ++k) {
          const PartSweep& swept = sweep.part(members[k]);
          const double peak = std::max(swept.amps.seen ? swept.amps.value : 0,
                                       swept.reverseAmps.seen ? swept.reverseAmps.value : 0);
          QVERIFY2(same(peak, most[k]), qPrintable(QString("bench %1").arg(i)));
          QVERIFY(same(std::max(0.0, swept.watts.value), hottest[k]));
          // The state that is kept with a peak is one that has it.
          if (swept.watts.seen && swept.watts.value > 1e-6) {
            const IslandReading& r = cold.solveIsland(island, swept.watts.state);
            QVERIFY(same(r.parts[k].watts, swept.watts.value));
          }
        }
      }
    }
    QVERIFY2(poses > 3000, qPrintable(QString::number(poses)));
  }
  // Whatever breaks or trips the supply in a run, however one plays with it, the check has
  // called a danger before.
  void whatBreaksWasFound() {
    std::mt19937 random(31);
    int broken = 0, tripped = 0, whole = 0;
    for (int i = 0; i < 700; ++i) {
      const int parts = 1 + static_cast<int>(random() % 8);
      Project p = i % 3 ? sillyBench(random, parts, 3 + static_cast<int>(random() % 4))
                        : randomBench(random, parts);
      if (i % 3) p = withProgram(withSmallCapacitors(fed(std::move(p), random)), random());
      const CheckResult checked = check(p);
      if (checked.sampled || !checked.unsolved.empty()) continue;
      Kernel kernel(shared(p));
      play(kernel, p, random, 3);
      // A motor may take more for its start, which is no fault.
      const bool starts = std::any_of(p.parts->begin(), p.parts->end(), [](const auto& part) {
        return catalogue().partKind(part->type)->moves != Moves::nothing;
      });
      bool said = true, trip = false, broke = false;
      std::string what;
      for (const Event& h : kernel.events()) {
        if (h.what == Event::What::broke) broke = true, what = h.id + " broke";
        if (h.what == Event::What::tripped && !starts) trip = true, what = "the supply tripped";
      }
      if (broke) said = anyDanger(checked);
      if (trip && !broke) said = anyDanger(checked) || anyOf(checked, "board-overload");
      broken += broke;
      tripped += trip;
      whole += !broke && !trip;
      if (!said)
        QFAIL(qPrintable(  // the whole project, to be looked at
            QString("bench %1: %2\n%3")
                .arg(i)
                .arg(QString::fromStdString(what))
                .arg(QString::fromStdString(writeWiring(p)))));
    }
    qInfo("%d broke something, %d tripped the supply, %d did neither", broken, tripped, whole);
    QVERIFY(broken > 60 && tripped > 60 && whole > 300);
  }
};

QTEST_GUILESS_MAIN(TestCheckLaws)
#include "tst_check_laws.moc"
