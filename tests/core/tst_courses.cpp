#include <QtTest>
#include <random>

#include "run/kernel.h"
#include "run/lamp_light.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// What is on its way, against what the equations say: when levels change, what is measured, and
// what is drawn.
namespace {

std::string text(double value) { return QString::number(value, 'f', 6).toStdString(); }

constexpr double pinOhms = 25, leakOhms = 1e8, platesOhms = 0.1;

// A3 feeds a capacitor through a resistor, and A2 looks at it.
struct Charge {
  double ohms, farads;
  double share() const { return leakOhms / (leakOhms + ohms + pinOhms); }
  double full() const { return 5 * share(); }
  double tau() const { return ((ohms + pinOhms) * share() + platesOhms) * farads; }
  // Outside, from `from` towards `to` volts across its plates: a little comes at once.
  double secondsUntil(double volts, double from, double to) const {
    const double atOnce = platesOhms / (ohms + pinOhms + platesOhms);
    return tau() * (std::log((from - to) / (volts - to)) + std::log1p(-atOnce));
  }
  double charging(double seconds) const { return full() * (1 - std::exp(-seconds / tau())); }
  // What is charged ends in row 8.
  Bench parts() const {
    return Bench()
        .resistor("r1", ohms, "c5", "c8")
        .part("capacitor", "c1", {"d8", "d12"})
        .prop("c1", "farads", farads)
        .wire("A3", "a5")
        .wire("GND", "a12");
  }
  Bench bench(const std::string& program) const {
    return parts().wire("A2", "a8").program(program);
  }
};

bool near(double a, double b, double by) { return std::abs(a - b) <= by; }
QString beside(double a, double b) { return QString("%1 beside %2").arg(a, 0, 'g', 9).arg(b); }

double seconds(const Edge& e) { return inSeconds(e.at); }

}  // namespace

class TestCourses : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void levelsChangeWhenTheEquationsSay() {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> decade(0, 1);
    for (int i = 0; i < 60; ++i) {
      const Charge c{std::pow(10, 2.5 + 3 * decade(random)), std::pow(10, -7 + 2 * decade(random))};
      const double whole = 20 * c.tau();
      // Off again before it is full, and then when it is.
      const double part = c.secondsUntil(3.3, 0, c.full());
      Kernel k(
          shared(c.bench("set a3 high\nwait " + text(part) + "\nset a3 low\nwait " + text(whole) +
                         "\nset a3 high\nwait " + text(whole) + "\nset a3 low\nwait 1000 s\n")));
      k.advance(static_cast<Nanoseconds>(3 * whole * 1e9) + second);
      const std::vector<Edge> drive = pinEdges(k, "A3"), seen = pinEdges(k, "A2");
      QCOMPARE(seen.size(), std::size_t(4));
      QCOMPARE(drive.size(), std::size_t(4));
      const double held = seconds(drive[1]) - seconds(drive[0]);
      const double expected[] = {c.secondsUntil(3, 0, c.full()),
                                 c.secondsUntil(1.5, c.charging(held), 0),
                                 c.secondsUntil(3, 0, c.full()), c.secondsUntil(1.5, c.full(), 0)};
      for (std::size_t e = 0; e < 4; ++e) {
        const double took = seconds(seen[e]) - seconds(drive[e]);
        QVERIFY2(near(took, expected[e], 1e-4 * expected[e] + 2e-9),
                 qPrintable(QString("%1 Ω, %2 F, edge %3: ").arg(c.ohms).arg(c.farads).arg(e) +
                            beside(took, expected[e])));
      }
    }
  }
  void measuredOnTheWay() {
    // To within a step of 1024 of what was there as it was measured: some 12 µs and a reading's
    // time after a turn, the first of all later.
    const Charge c{47e3, 1e-6};
    Kernel k(
        shared(c.bench("set a3 high\nrepeat 40\n  wait 0.008\n"
                       "  log seconds, volts at a2\nwait 100 s\n")));
    k.advance(second);
    const double began = seconds(pinEdges(k, "A3").at(0));
    QCOMPARE(k.said().size(), std::size_t(40));
    for (const SaidLine& line : k.said()) {
      std::istringstream in(line.text);
      double now = 0, volts = 0;
      in >> now >> volts;
      const double least = c.charging(now - began - 0.0001),
                   most = c.charging(now - began + 0.0006);
      QVERIFY2(volts >= least - 0.006 && volts <= most + 0.006,
               qPrintable(QString("%1 s: %2").arg(now).arg(beside(volts, most))));
    }
  }
  void whatIsAskedForIsDrawnAsItGoes() {
    const Charge c{10e3, 1e-5};
    RunSetup setup;
    setup.probes = {{Signal::What::volts, "bb", "e8"}, {Signal::What::partAmps, "r1", {}}};
    Kernel k(shared(c.bench("set a3 high\nwait 0.4\nset a3 low\nwait 0.4\n")), setup);
    k.advance(second * 39 / 100);
    const double began = seconds(pinEdges(k, "A3").at(0));
    const int volts = k.trace().find(Signal::What::volts, "bb", "e8");
    const int amps = k.trace().find(Signal::What::partAmps, "r1", {});
    std::mt19937 random(9);
    for (int i = 0; i < 1000; ++i) {
      const auto moment = static_cast<Nanoseconds>(random() % 390'000'000);
      const double passed = inSeconds(moment) - began;
      if (passed < 0) continue;
      const double there = k.trace().valueAt(volts, moment),
                   flows = k.trace().valueAt(amps, moment);
      QVERIFY2(near(there, c.charging(passed), 0.015), qPrintable(beside(there, passed)));
      const double exact = (5 - c.charging(passed)) / (c.ohms + pinOhms);
      QVERIFY2(near(flows, exact, 2e-6 + 0.015 * exact), qPrintable(beside(flows, exact)));
    }
  }
  // Looking changes nothing: levels and programs do the same.
  void lookingCloselyChangesNothing() {
    const Bench bench =
        Charge{22e3, 1e-6}.bench("set a3 high\nwait 0.05\nset a3 low\nwait until a2 is low\n");
    RunSetup setup;
    setup.probes = {{Signal::What::volts, "bb", "e8"}, {Signal::What::partAmps, "r1", {}}};
    Kernel plainly(shared(bench)), closely(shared(bench), setup);
    for (Kernel* k : {&plainly, &closely}) k->advance(second);
    QVERIFY(pinEdges(plainly, "A2").size() > 20);
    QCOMPARE(pinEdges(closely, "A2"), pinEdges(plainly, "A2"));
    QCOMPARE(pinEdges(closely, "A3"), pinEdges(plainly, "A3"));
  }
  // One capacitor behind another, against Runge and Kutta's steps of a thousandth.
  void twoInARow() {
    const double rows[][4] = {{100e3, 1e-5, 100e3, 1e-5},
                              {10e3, 1e-5, 100e3, 1e-6},
                              {1e3, 1e-5, 47e3, 1e-7},
                              {4.7e3, 1e-6, 10e3, 1e-5}};
    for (const auto& [r1, c1, r2, c2] : rows) {
      Kernel k(shared(Charge{r1, c1}
                          .parts()
                          .resistor("r2", r2, "e8", "e16")
                          .part("capacitor", "c2", {"d16", "d20"})
                          .prop("c2", "farads", c2)
                          .wire("A2", "a16")
                          .wire("GND2", "a20")
                          .program("set a3 high\nwait 1000 s\n")));
      k.advance(20 * second);
      const double took = seconds(pinEdges(k, "A2").at(0)) - seconds(pinEdges(k, "A3").at(0));
      // Volts u across the plates; a and b outside them.
      const double g1 = 1 / (r1 + pinOhms), g2 = 1 / r2, plates = 1 / platesOhms;
      struct Volts {
        double u1, u2, b = 0;
      };
      const auto rates = [&, c1 = c1, c2 = c2](const Volts& v) {
        const double at1 = g1 + g2 + plates, at2 = g2 + plates + 1 / leakOhms;
        const double in1 = 5 * g1 + v.u1 * plates, in2 = v.u2 * plates;
        const double whole = at1 * at2 - g2 * g2;
        const double a = (in1 * at2 + g2 * in2) / whole, b = (at1 * in2 + g2 * in1) / whole;
        return Volts{(a - v.u1) * plates / c1, (b - v.u2) * plates / c2, b};
      };
      const double h = std::min({r1 * c1, r2 * c2, 1 / (g1 + g2) * c1}) / 1000;
      Volts v{0, 0};
      double now = 0, last = 0;
      for (; rates(v).b < 3; now += h) {
        last = rates(v).b;
        const auto after = [&](const Volts& rate, double by) {
          return Volts{v.u1 + by * rate.u1, v.u2 + by * rate.u2};
        };
        const Volts p = rates(v), q = rates(after(p, h / 2)), r = rates(after(q, h / 2)),
                    s = rates(after(r, h));
        v = {v.u1 + h / 6 * (p.u1 + 2 * q.u1 + 2 * r.u1 + s.u1),
             v.u2 + h / 6 * (p.u2 + 2 * q.u2 + 2 * r.u2 + s.u2)};
      }
      const double exact = now - h + h * (3 - last) / (rates(v).b - last);
      QVERIFY2(near(took, exact, 2e-3 * exact), qPrintable(beside(took, exact)));
    }
  }
  void aLampThatFadesIsLitAsLongAsItIsSeen() {
    // 470 µF behind 470 Ω keep it lit when the pin lets go. Steps of a tenth of a millisecond.
    Bench b = Bench()
                  .led("led1", "e8", "e12")
                  .resistor("r1", 470, "c5", "c8")
                  .part("capacitor", "c1", {"d5", "d16"})
                  .prop("c1", "farads", 470e-6)
                  .part("diode", "d1", {"a20", "a5"})
                  .wire("D4", "b20")
                  .wire("GND", "a12")
                  .wire("GND2", "a16")
                  .program("set d4 high\nwait 1\nset d4 low\nwait 100 s\n");
    Kernel k(shared(b));
    k.advance(8 * second);
    const int signal = k.trace().find(Signal::What::partAmps, "led1", {});
    const double lit = lampStatistics(k.trace(), signal).litSeconds;
    const double thermal = 2 * 0.02585;
    const double saturation = 0.01 / std::expm1((1.9 - 0.05) / thermal);
    const double dim = 0.02 * std::pow(0.04, 2.2);
    double volts = 0, now = 0;
    {
      // Where it stands after a second: the pin's 5 V less the diode's, as the run says.
      Kernel before(shared(b));
      before.advance(999'000'000);
      volts = *before.snapshot().reading.parts[2].volts;
    }
    for (double amps = 1; amps > dim; now += 1e-4) {
      double low = 0, high = 0.1;
      for (int i = 0; i < 60; ++i) {
        amps = (low + high) / 2;
        const double across = amps * (470 + 5 + 0.1) + thermal * std::log1p(amps / saturation);
        (across > volts ? high : low) = amps;
      }
      volts -= 1e-4 * amps / 470e-6;
    }
    // What is seen is the mean of 20 ms. At that end a millivolt is 2 % of the current, and that
    // 30 ms.
    QVERIFY2(near(lit, 1 + now + 0.01, 0.05), qPrintable(beside(lit, 1 + now)));
  }
};

QTEST_GUILESS_MAIN(TestCourses)
#include "tst_courses.moc"
