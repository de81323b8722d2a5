#include <QtTest>
#include <cmath>

#include "parts/circuit.h"
#include "run/kernel.h"
#include "support/random_benches.h"

using namespace ignavo;
using namespace ignavo::test;

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
            if (c.pins()[k].ref == pin) {
              sum += r.pins[k].amps;
              if (const double ohms = c.pins()[k].shape().usbHighOhms; ohms > 0)
                sum += (r.pins[k].supplyVolts - r.pins[k].volts.value_or(0)) / ohms;
            }
        QVERIFY2(std::abs(sum) < 2e-7, qPrintable(QString("bench %1, net %2: %3 A")
                                                      .arg(i)
                                                      .arg(QString::fromStdString(net.name))
                                                      .arg(sum)));
        ++checked;
      }
    }
    QVERIFY(checked > 5000);
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
      if (settled.anyShorted() || !whole.powered()) continue;
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
