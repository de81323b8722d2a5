#include <QtTest>
#include <cmath>
#include <random>
#include <set>

#include "check/finding.h"
#include "format/project_file.h"
#include "parts/circuit.h"
#include "run/kernel.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A random bench, silly ones included: anything plugged in anywhere.
Project randomBench(std::mt19937& random, int parts) {
  Bench bench;
  std::set<std::string> used;
  const auto hole = [&] {
    for (;;) {
      std::string h;
      if (random() % 5 == 0) {
        static const char* rails[] = {"lp", "ln", "rp", "rn"};
        h = rails[random() % 4] + std::to_string(random() % 25 + 1);
      } else {
        h = std::string(1, static_cast<char>('a' + random() % 10)) +
            std::to_string(random() % 12 + 1);
      }
      if (used.insert(h).second) return h;
    }
  };
  static const char* colours[] = {"red", "amber", "green", "blue", "white"};
  static const double ohms[] = {1, 10, 47, 100, 220, 1000, 10000, 1e6};
  for (int i = 0; i < parts; ++i) {
    const std::string n = std::to_string(i);
    switch (random() % 4) {
      case 0:
        bench.led("led" + n, hole(), hole(), colours[random() % 5]);
        break;
      case 1:
        bench.part("button", "btn" + n, {hole(), hole(), hole(), hole()});
        break;
      default:
        bench.resistor("r" + n, ohms[random() % 8], hole(), hole());
    }
  }
  std::set<std::string> pins;
  static const char* names[] = {"5V", "GND", "3V3", "GND2", "D2", "D3", "D4", "D5", "A0"};
  for (unsigned i = 0; i < 2 + random() % 6; ++i)
    if (const char* pin = names[random() % 9]; pins.insert(pin).second) bench.wire(pin, hole());
  for (unsigned i = 0; i < random() % 5; ++i) bench.wire(hole(), hole());
  static const char* programs[] = {"", "set d4 high\nwait 0.1\nset d4 low\nwait 0.1\n",
                                   "if d2 high\n  set d3 high\notherwise\n  set d3 low\n",
                                   "set d5 d2\nwait 0.01\n"};
  bench.program(programs[random() % 4]);
  if (random() % 3 == 0) bench.pullUp("D2");
  return bench;
}

// Every kind of part with any values, plugged in anywhere, and a few wires.
Project sillyBench(std::mt19937& random, int parts, int rows) {
  Project p = emptyProject();
  p.breadboards[0].type = "full";
  std::set<std::string> used;
  const auto hole = [&]() -> Socket {
    for (;;) {
      static const char* rails[] = {"lp", "ln", "rp", "rn"};
      const std::string h = random() % 6 == 0
                                ? rails[random() % 4] + std::to_string(random() % 50 + 1)
                                : std::string(1, static_cast<char>('a' + random() % 10)) +
                                      std::to_string(random() % static_cast<unsigned>(rows) + 1);
      if (used.insert(h).second) return {"bb", h};
    }
  };
  const auto& kinds = catalogue().parts();
  for (int i = 0; i < parts; ++i) {
    const PartKind& kind = *kinds[random() % kinds.size()];
    if (used.size() + kind.print.legs.size() > static_cast<std::size_t>(rows) * 9) break;
    Part part = newPart(p, kind);
    for (const PropKind& prop : kind.props) {
      if (prop.type == PropKind::Type::choice)
        part.setProp(prop.key, prop.choices[random() % prop.choices.size()]);
      else if (prop.type == PropKind::Type::truth)
        part.setProp(prop.key, random() % 2 == 0);
      else if (random() % 2)
        part.setProp(prop.key, random() % 4 == 0 ? prop.least
                               : random() % 3 == 0
                                   ? prop.most
                                   : std::clamp(prop.otherwise * static_cast<double>(random() % 9),
                                                prop.least, prop.most));
    }
    for (Leg& leg : part.legs)
      if (random() % 16) leg.in = hole();
    part.at = Point{50, 10};
    p = edits::addPart(std::move(p), std::move(part));
  }
  std::set<std::string> pins;
  static const char* names[] = {"5V", "GND", "3V3", "GND2", "VIN", "D2", "D3", "D4", "D5", "A0"};
  for (unsigned i = 0; i < 1 + random() % 8; ++i)
    if (const char* pin = names[random() % 10]; pins.insert(pin).second) {
      Wire w;
      w.id = freeId(p, "w");
      w.from = {"b1", pin};
      w.to = hole();
      p = edits::addWire(std::move(p), w);
    }
  return p;
}

CircuitState randomState(const Circuit& c, std::mt19937& random) {
  CircuitState s = c.restState();
  for (auto& turned : s.turned) turned = static_cast<Turned>(random() % turnedPlaces);
  for (auto& pin : s.pins) pin = static_cast<PinDrive>(random() % 4);
  for (auto& pressed : s.pressed) pressed = random() % 2;
  return s;
}

}  // namespace

// After a remedy the same is not found again.
bool mends(const Finding& f, const Project& after) {
  const CheckResult result = check(after);
  return std::none_of(result.findings.begin(), result.findings.end(), [&](const Finding& g) {
    const bool placed = f.parts.empty() && f.pins.empty();  // its title says where
    return g.rule == f.rule && g.parts == f.parts && g.pins == f.pins && g.severity >= f.severity &&
           (placed || f.rule == "rail-unfed" ? g.title == f.title : true);
  });
}

class TestCircuits : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // Whatever is plugged together is solved, or refused by name; never NaN.
  void everyBenchIsSolvedOrRefused() {
    std::mt19937 random(77);
    int solved = 0, shorted = 0;
    for (int i = 0; i < 1500; ++i) {
      const Project p = randomBench(random, 1 + static_cast<int>(random() % 14));
      Circuit c(p);
      for (int k = 0; k < 3; ++k) {
        const CircuitReading r = c.solve(randomState(c, random));
        if (r.shorted) {
          ++shorted;
          QVERIFY(!r.converged);
          continue;
        }
        QVERIFY2(r.converged || !r.unsolved.empty(), qPrintable(QString::number(i)));
        QVERIFY2(r.converged, qPrintable(QString("bench %1 was not solved").arg(i)));
        ++solved;
        for (const auto& v : r.nets)
          if (v) QVERIFY(std::isfinite(*v) && *v > -0.8 && *v < 5.8);
        for (const PartReading& part : r.parts)
          QVERIFY(std::isfinite(part.amps) && std::isfinite(part.watts) && part.watts > -1e-9);
      }
    }
    QVERIFY(solved > 3000);
    QVERIFY(shorted > 20);
  }
  // A hundred thousand benches of all kinds of parts, up to sixty of them: each
  // is solved or named, no figure is no number, and what flows into a net
  // flows out of it.
  void sillyBenchesToo() {
    std::mt19937 random(20261123);
    int solved = 0, refused = 0, shorted = 0, nets = 0;
    for (int i = 0; i < 100000; ++i) {
      const int most = i % 50 == 0 ? 60 : i % 5 == 0 ? 20 : 6;
      const int parts = 1 + static_cast<int>(random() % static_cast<unsigned>(most));
      const Project p = sillyBench(random, parts, std::max(4, parts));
      Circuit c(p);
      const CircuitReading r = c.solve(randomState(c, random));
      if (r.shorted) {
        ++shorted;
        continue;
      }
      if (!r.converged) {
        QVERIFY2(!r.unsolved.empty(), qPrintable(QString::number(i)));
        ++refused;
      } else {
        ++solved;
      }
      for (const auto& v : r.nets)
        if (v) QVERIFY2(std::isfinite(*v) && std::abs(*v) < 700, qPrintable(QString::number(i)));
      for (const PartReading& part : r.parts)
        QVERIFY2(std::isfinite(part.amps) && std::isfinite(part.watts),
                 qPrintable(QString::number(i)));
      if (!r.converged) continue;
      for (std::size_t n = 0; n < c.nets().all().size(); ++n) {
        const Net& net = c.nets().all()[n];
        if (c.supplyVolts(static_cast<int>(n)) || !net.pins.empty() || net.legs.empty()) continue;
        double sum = 0, largest = 0;
        for (const LegRef& leg : net.legs) {
          const auto& legs = r.parts[static_cast<std::size_t>(leg.part)].legs;
          if (legs.empty()) continue;
          const double amps = legs[static_cast<std::size_t>(leg.leg)];
          sum += amps;
          largest = std::max(largest, std::abs(amps));
        }
        ++nets;
        QVERIFY2(std::abs(sum) < 1e-8 + 1e-6 * largest,
                 qPrintable(QString("bench %1, net %2: %3 of %4 A")
                                .arg(i)
                                .arg(QString::fromStdString(net.name))
                                .arg(sum)
                                .arg(largest)));
      }
    }
    qInfo("%d solved, %d refused by name, %d shorted, %d nets", solved, refused, shorted, nets);
    QVERIFY(solved > 80000 && refused < 100 && shorted > 100);
  }
  // What flows into a net through its parts and pins flows out of it again.
  void currentsOfANetSumToZero() {
    std::mt19937 random(5);
    int checked = 0;
    for (int i = 0; i < 800; ++i) {
      const Project p = randomBench(random, 1 + static_cast<int>(random() % 8));
      Circuit c(p);
      const CircuitReading r = c.solve(randomState(c, random));
      if (!r.converged) continue;
      for (std::size_t n = 0; n < c.nets().all().size(); ++n) {
        const Net& net = c.nets().all()[n];
        if (c.supplyVolts(static_cast<int>(n)) || net.pins.size() > 1) continue;
        // Pins clamp beyond the supplies; those nets have a current that is not read out.
        if (!net.pins.empty() && r.nets[n] && (*r.nets[n] > 5.2 || *r.nets[n] < -0.2)) continue;
        double sum = 0;
        for (const LegRef& leg : net.legs) {
          const PartKind* kind = c.kindOf(leg.part);
          const PartReading& part = r.parts[static_cast<std::size_t>(leg.part)];
          if (kind->print.joined.empty()) {
            sum += leg.leg == 0 ? -part.amps : part.amps;
          } else {
            if (leg.leg == 0) sum -= part.amps;
            if (leg.leg == 2) sum += part.amps;
          }
        }
        for (const PinRef& pin : net.pins)
          for (std::size_t k = 0; k < c.pins().size(); ++k)
            if (c.pins()[k].ref == pin) sum += r.pins[k].amps;
        QVERIFY2(std::abs(sum) < 2e-7, qPrintable(QString("bench %1, net %2: %3 A")
                                                      .arg(i)
                                                      .arg(QString::fromStdString(net.name))
                                                      .arg(sum)));
        ++checked;
      }
    }
    QVERIFY(checked > 5000);
  }
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
        QCOMPARE(f.title, b.findings[k].title);
        QVERIFY(!f.title.empty() && !f.reason.empty() && !f.figures.empty());
        QVERIFY(!f.parts.empty() || !f.pins.empty() || !f.sockets.empty() || !f.steps.empty());
        for (const Figure& g : f.figures) QVERIFY(!std::isnan(g.value));
        for (const std::string& id : f.parts) QVERIFY(p.part(id));
        ++findings;
        for (const Remedy& r : f.remedies) {
          const ReadResult read = readProject(writeProject(r.after));
          QVERIFY2(read.sound(), read.problems.empty() ? "" : sentence(read.problems[0]).c_str());
          ++remedies;
          // Of a part with several loose legs it mends one.
          QVERIFY2(f.rule == "leg-loose" || mends(f, r.after),
                   qPrintable(QString("bench %1: “%2” does not mend “%3”")
                                  .arg(i)
                                  .arg(QString::fromStdString(r.title))
                                  .arg(QString::fromStdString(f.title))));
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
      if (Circuit(p).shorted()) continue;
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
  void sillyBenchesInTime() {
    // Whatever is on the table: a run ends, has no NaN, does not depend on how far it is asked
    // to go at once, and comes to rest where the solver says.
    std::mt19937 random(77);
    int rested = 0, moved = 0;
    for (int i = 0; i < 250; ++i) {
      const auto p = std::make_shared<const Project>(
          sillyBench(random, 2 + static_cast<int>(random() % 12), 14));
      Kernel whole(p), pieces(p);
      for (Kernel* k : {&whole, &pieces})
        for (const auto& part : *p->parts)
          if (part->type == "button") {
            Input in;
            in.what = Input::What::press;
            in.id = part->id;
            in.at = second / 100;
            k->schedule(in);
          }
      whole.advance(second / 20);
      while (pieces.now() < second / 20) {
        pieces.advance(std::min<Nanoseconds>(second / 20, pieces.now() + 1 + random() % 9'000'000));
        (void)pieces.snapshot();
      }
      const Snapshot a = whole.snapshot(), b = pieces.snapshot();
      QVERIFY(a.state == b.state);
      for (std::size_t n = 0; n < a.reading.nets.size(); ++n) {
        QVERIFY(a.reading.nets[n] == b.reading.nets[n]);
        QVERIFY(!a.reading.nets[n] || std::isfinite(*a.reading.nets[n]));
      }
      for (const PartReading& part : a.reading.parts)
        QVERIFY(std::isfinite(part.amps) && std::isfinite(part.watts));
      moved += std::any_of(p->parts->begin(), p->parts->end(),
                           [](const auto& part) { return part->type == "motor"; });
      // A long time later nothing moves any more, but for what a great resistance still charges.
      Circuit settled(*p);
      if (settled.shorted() || !whole.powered()) continue;
      whole.advance(20 * second);
      const Snapshot late = whole.snapshot();
      if (!whole.powered()) continue;
      const CircuitReading at = settled.solve(late.state);
      bool same = at.converged;
      for (std::size_t k = 0; same && k < at.parts.size(); ++k)
        same = std::abs(at.parts[k].amps - late.reading.parts[k].amps) <
               1e-5 + 0.01 * std::abs(at.parts[k].amps);
      rested += same;
    }
    QVERIFY2(moved > 20, qPrintable(QString::number(moved)));
    QVERIFY2(rested > 150, qPrintable(QString::number(rested)));
  }
};

QTEST_GUILESS_MAIN(TestCircuits)
#include "tst_circuits.moc"
