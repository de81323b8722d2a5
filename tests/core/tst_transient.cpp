#include <QtTest>
#include <random>

#include "electric/transient.h"
#include "reference/tiny_steps.h"

using namespace ignavo::electric;

namespace {

// Goes on for so long; calls visit(seconds since the begin) after each step.
template <typename Visit>
int run(Transient& t, double seconds, Visit&& visit) {
  double now = 0;
  int steps = 0;
  while (now < seconds - 1e-10) {
    const double h = t.propose(seconds - now);
    if (h <= 0) return -1;
    t.accept();
    now += h;
    ++steps;
    visit(now);
  }
  return steps;
}
int run(Transient& t, double seconds) {
  return run(t, seconds, [](double) {});
}

struct Rc {
  Network n;
  Node top = n.addNode(), middle = n.addNode();
  Rc(double ohms, double farads, double seriesOhms = 1e-6) {
    n.addSource(top, 5);
    n.addConductor(top, middle, 1 / ohms);
    n.addCapacitor(middle, 0, farads, seriesOhms);
  }
};

}  // namespace

class TestTransient : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void chargeOfACapacitor() {
    // 5·(1 − exp(−t / RC)) over nine decades of RC.
    for (const auto& [ohms, farads] : {std::pair{100.0, 1e-9}, std::pair{10e3, 1e-7},
                                       std::pair{1e3, 1e-3}, std::pair{1e6, 1e-5}}) {
      const double tau = ohms * farads;
      Rc rc(ohms, farads);
      Transient t(rc.n);
      QVERIFY(t.changed());
      double worst = 0;
      const int steps = run(t, 5 * tau, [&](double now) {
        const double exact = 5 * (1 - std::exp(-now / tau));
        worst = std::max(worst, std::abs(t.here().volt(rc.middle) - exact));
      });
      QVERIFY2(worst < 0.015, qPrintable(QString::number(worst)));
      QVERIFY2(steps > 5 && steps < 80, qPrintable(QString::number(steps)));
    }
  }
  // One capacitor and what is linear: exact at every step and in between, and once a junction
  // conducts it is no longer taken for that.
  void anExponentialIsExact() {
    std::mt19937 random(8);
    const auto decade = [&](double low, double high) {
      return std::pow(10, std::uniform_real_distribution<double>(low, high)(random));
    };
    for (int i = 0; i < 200; ++i) {
      const double ohms = decade(1, 6), farads = decade(-10, -3), across = decade(4, 7);
      Rc rc(ohms, farads, 0.1);
      rc.n.addConductor(rc.middle, 0, 1 / across);
      rc.n.addJunction(rc.middle, rc.top, JunctionModel::through(0.7, 0.01, thermalVolts, 0.1));
      const bool lit = i % 4 == 3;
      if (lit)
        rc.n.addJunction(rc.middle, 0, JunctionModel::through(1.9, 0.01, 2 * thermalVolts, 5));
      Transient t(rc.n);
      const double from = std::uniform_real_distribution<double>(0, 5)(random);
      t.setState({{from}, {}});
      QVERIFY(t.changed());
      const StateVariables goal = Transient::settled(rc.n, Solver(rc.n).solve(rc.n));
      t.easeTo(goal);
      const double inner = ohms * across / (ohms + across);
      const double to = 5 * across / (ohms + across), tau = (inner + 0.1) * farads;
      // Across the plates; outside, what the 0.1 Ω take is taken off.
      const auto plates = [&](double now) { return to + (from - to) * std::exp(-now / tau); };
      double now = 0, worst = 0;
      while (now < 12 * tau) {
        const double h = t.propose(12 * tau);
        QVERIFY(h > 0);
        for (const double share : {0.0, 0.2, 0.7, 1.0}) {
          const Blend blend = t.blendAt(share * h);
          const double volts =
              blend.here * t.here().volt(rc.middle) + blend.there * t.there().volt(rc.middle);
          const double at = plates(now + share * h);
          const double exact = at + (to - at) * 0.1 / (inner + 0.1);
          if (!lit) QCOMPARE(blend.before, 0);
          worst = std::max(worst, std::abs(volts - exact));
        }
        t.accept();
        now += h;
        worst = std::max(worst, std::abs(t.state().capacitorVolts[0] - plates(now)));
      }
      // Of the junction with its cathode at 5 V hardly anything is there.
      if (!lit) QVERIFY2(worst < 5 * 3e-5, qPrintable(QString("%1: %2").arg(i).arg(worst)));
      if (lit && to > 2) QVERIFY(worst > 0.01);
      if (!lit) QVERIFY(t.nearTo(goal));
    }
  }
  // In between two steps of any network: a parabola, as near as the steps.
  void betweenStepsItIsNearAsWell() {
    Network n;
    const Node top = n.addNode(), a = n.addNode(), b = n.addNode();
    n.addSource(top, 5);
    n.addConductor(top, a, 1e-3);
    n.addConductor(a, b, 1e-3);
    n.addCapacitor(a, 0, 1e-6, 0.1);
    n.addCapacitor(b, 0, 1e-6, 0.1);
    Transient t(n);
    QVERIFY(t.changed());
    double now = 0, line = 0, parabola = 0;
    std::vector<double> before;
    while (now < 0.01) {
      const double h = t.propose(0.01);
      const Blend blend = t.blendAt(h / 2);
      double volts = blend.here * t.here().volt(b) + blend.there * t.there().volt(b);
      if (!before.empty()) volts += blend.before * before[static_cast<std::size_t>(b)];
      Transient half(t);
      QVERIFY(half.go(h / 2));
      const double exact = half.here().volt(b);
      parabola = std::max(parabola, std::abs(volts - exact));
      line = std::max(line, std::abs((t.here().volt(b) + t.there().volt(b)) / 2 - exact));
      before = t.here().volts;
      t.accept();
      now += h;
    }
    QVERIFY2(parabola < 0.01 && parabola < line / 2,
             qPrintable(QString("%1 beside %2").arg(parabola).arg(line)));
  }
  void capacitorHoldsWhatNothingTakes() {
    Rc rc(1e3, 1e-6);
    Transient t(rc.n);
    t.setState({{3.0}, {}});
    t.network().conductors[0].siemens = 0;
    QVERIFY(t.changed());
    QVERIFY(run(t, 10) < 40);
    // Only the picosiemens to ground takes from it.
    QVERIFY(std::abs(t.here().volt(rc.middle) - 3.0 * std::exp(-10e-12 / 1e-6)) < 1e-4);
  }
  void chargeIsKept() {
    // What two capacitors share, each through its resistance, is what one had before.
    Network n;
    const Node a = n.addNode(), b = n.addNode();
    n.addCapacitor(a, 0, 1e-6, 1);
    n.addCapacitor(b, 0, 3e-6, 1);
    n.addConductor(a, b, 1e-3);
    Transient t(n);
    t.setState({{4.0, 0.0}, {}});
    QVERIFY(t.changed());
    QVERIFY(run(t, 0.02) > 0);
    QVERIFY(std::abs(t.here().volt(a) - 1.0) < 1e-3);
    QVERIFY(std::abs(t.here().volt(b) - 1.0) < 1e-3);
  }
  void aCopyGoesOnAlike() {
    // To the last bit, however the original goes on meanwhile: a motor switched by a transistor,
    // with its diode and a capacitor.
    Network n;
    const Node top = n.addNode(), low = n.addNode(), base = n.addNode();
    n.addSource(top, 9);
    n.addMotor(top, low, {});
    n.addJunction(low, top, JunctionModel::through(0.7, 0.01, 1.9 * thermalVolts, 0.1));
    n.addBipolar(low, base, 0, {});
    n.addConductor(top, base, 1e-3);
    n.addCapacitor(top, low, 1e-7, 0.1);
    Transient t(n);
    QVERIFY(t.changed());
    for (int step = 0; step < 60; ++step) {
      if (step % 20 == 19) {  // off or on again
        t.network().conductors[0].siemens = step % 40 == 39 ? 1e-3 : 0;
        QVERIFY(t.changed());
      }
      Transient copy(t);
      for (int k = 0; k < 5; ++k) {
        const double seconds = copy.propose(0.5);
        QVERIFY(seconds > 0);
        copy.accept();
      }
      Transient again(t);
      for (int k = 0; k < 5; ++k) {
        (void)again.propose(0.5);
        again.accept();
      }
      QCOMPARE(again.signature(), copy.signature());
      (void)t.propose(0.5);
      t.accept();
    }
  }
  void motorComesToSpeed() {
    // 63 % after 60 ms, as the table of models says, and in the end as the settled model.
    Network n;
    const Node top = n.addNode();
    n.addSource(top, 5);
    n.addMotor(top, 0, {});
    const MotorPoint settled = evaluate(MotorModel{}, 5.0);
    Transient t(n);
    QVERIFY(t.changed());
    QVERIFY(t.here().motors[0].amps < 3e-3);  // what its iron takes
    double most = 0;
    const double coilSeconds = 2e-3 / 7;
    run(t, coilSeconds);
    // The coil's own 0.29 ms: 63 % of 0.71 A.
    QVERIFY(std::abs(t.state().motors[0].amps - 5.0 / 7 * (1 - std::exp(-1.0))) < 0.005);
    run(t, 0.060 - coilSeconds, [&](double) { most = std::max(most, t.state().motors[0].amps); });
    QVERIFY(most > 0.65 && most < 0.72);
    const double share = t.state().motors[0].radiansPerSecond / settled.radiansPerSecond;
    QVERIFY2(std::abs(share - 0.63) < 0.02, qPrintable(QString::number(share)));
    QVERIFY(!t.nearTo(Transient::settled(n, Solver(n).solve(n))));
    const int steps = run(t, 1.0);
    QVERIFY2(steps > 0 && steps < 1000, qPrintable(QString::number(steps)));
    QVERIFY(t.nearTo(Transient::settled(n, Solver(n).solve(n))));
  }
  void coilThatIsCutOffMakesAPeak() {
    // Through a contact that opens: until its spark. With a diode across it: hardly anything.
    for (const bool diode : {false, true}) {
      Network n;
      const Node top = n.addNode(), low = n.addNode();
      n.addSource(top, 5);
      n.addMotor(top, low, {});
      const int contact = n.addConductor(low, 0, 20);
      if (diode)
        n.addJunction(low, top, JunctionModel::through(0.70, 0.010, 1.9 * thermalVolts, 0.1));
      Transient t(n);
      t.setState({{}, {{0.70, 0}}});
      t.network().conductors[static_cast<std::size_t>(contact)].siemens = 0;
      QVERIFY(t.changed());
      const double peak = t.here().volt(low);
      if (diode)
        QVERIFY2(peak > 5.7 && peak < 6.2, qPrintable(QString::number(peak)));
      else
        QVERIFY2(peak > 300 && peak < 320, qPrintable(QString::number(peak)));
      QVERIFY(run(t, 0.01) > 0);
      QVERIFY(std::abs(t.state().motors[0].amps) < 2e-3);
    }
  }
  void transistorBreaksThroughAtItsVolts() {
    Network n;
    const Node top = n.addNode(), drain = n.addNode();
    n.addSource(top, 5);
    n.addMotor(top, drain, {});
    n.addMosfet(drain, 0, 0, {});
    n.addJunction(drain, 0, JunctionModel::breakdown(60));
    Transient t(n);
    t.setState({{}, {{0.70, 0}}});
    QVERIFY(t.changed());
    QVERIFY(std::abs(t.here().volt(drain) - 60) < 1);
  }
  void agreesWithTinySteps() {
    // Against two thousand steps of explicit Euler, every node by bisection.
    std::mt19937 random(31);
    std::uniform_real_distribution<double> decade(0, 2);
    for (int i = 0; i < 6; ++i) {
      Network n;
      const Node top = n.addNode(), a = n.addNode(), b = n.addNode();
      n.addSource(top, 5);
      n.addConductor(top, a, 1e-2 / std::pow(10, decade(random)));
      n.addConductor(a, b, 1e-2 / std::pow(10, decade(random)));
      n.addCapacitor(a, 0, 1e-7 * std::pow(10, decade(random)), 50);
      n.addCapacitor(b, i % 2 ? a : 0, 1e-7 * std::pow(10, decade(random)), 50);
      if (i % 3 == 0) n.addConductor(b, 0, 1e-3);
      if (i % 3 == 1) n.addJunction(b, 0, JunctionModel::through(1.90, 0.010, 2 * thermalVolts, 5));
      const double seconds = 1e-3;
      Transient t(n);
      QVERIFY(t.changed());
      QVERIFY(run(t, seconds) > 0);
      const std::vector<double> slow = ignavo::test::afterTinySteps(n, seconds, 2000);
      for (std::size_t k = 0; k < 2; ++k)
        QVERIFY2(std::abs(t.state().capacitorVolts[k] - slow[k]) < 0.02,
                 qPrintable(QString("network %1: %2 against %3")
                                .arg(i)
                                .arg(t.state().capacitorVolts[k])
                                .arg(slow[k])));
    }
  }
  // Where a step of a motor ends is where its equations say, however long it is: near standstill,
  // where the friction changes its sign, the way there is bent.
  void aStepOfAMotorEndsWhereItsEquationsSay() {
    std::mt19937 random(11);
    const auto between = [&](double low, double high) {
      return std::uniform_real_distribution<>(low, high)(random);
    };
    MotorModel loaded;
    loaded.loadNewtonMetres = 8.7e-4;
    std::vector<std::tuple<MotorModel, MotorStep, double>> all{
        {loaded,
         {0.035836396, 1, {1.4120515e-11, 215.52001}, {1.2258367e-10, -6810.3448}},
         0.0540286689}};
    for (int i = 0; i < 20'000; ++i) {
      MotorModel m;
      m.loadNewtonMetres = i % 3 == 0 ? 0 : between(0, 2e-3);
      m.ohms = between(1, 30);
      m.kilogramSquareMetres *= between(0.2, 5);
      const MotorState from{between(-0.2, 0.2), between(-800, 800) * (i % 2 ? 1 : 0.05)};
      const double volts = between(-6, 6) * (i % 5 ? 1 : 0.02);
      all.push_back(
          {m,
           {std::pow(10, between(-7, -0.5)), i % 4 ? 1.0 : 0.5, from, ratesAt(m, from, volts)},
           volts});
    }
    for (const auto& [m, step, volts] : all) {
      const MotorState after = stateAfter(m, step, volts), rates = ratesAt(m, after, volts);
      const double speed = step.from.radiansPerSecond +
                           step.seconds * (step.weight * rates.radiansPerSecond +
                                           (1 - step.weight) * step.rates.radiansPerSecond);
      // An error of the speed is far larger in what it would have been to get there.
      const double torque = m.frictionNewtonMetres + m.loadNewtonMetres;
      const double steep = 1 + step.seconds / m.kilogramSquareMetres * torque / 10;
      QVERIFY2(std::abs(speed - after.radiansPerSecond) <=
                   steep * 1e-6 * (1 + std::abs(after.radiansPerSecond)),
               qPrintable(QString("%1 V for %2 s from %3: %4, the equations give %5")
                              .arg(volts)
                              .arg(step.seconds)
                              .arg(step.from.radiansPerSecond)
                              .arg(after.radiansPerSecond)
                              .arg(speed)));
    }
  }
  void currentsObeyKirchhoffAtEachStep() {
    std::mt19937 random(3);
    Rc rc(330, 1e-6, 0.1);
    rc.n.addMotor(rc.middle, 0, {});
    rc.n.addJunction(rc.middle, 0, JunctionModel::through(1.90, 0.010, 2 * thermalVolts, 5));
    Transient t(rc.n);
    for (int k = 0; k < 50; ++k) {
      t.network().conductors[0].siemens = random() % 2 ? 0.1 : 0;
      QVERIFY(t.changed());
      const double h = t.propose(1e-3);
      QVERIFY(h > 0);
      QVERIFY(kirchhoffError(t.network(), t.there()) < 1e-6);
      if (random() % 2)
        t.accept();
      else
        QVERIFY(t.go(h / 3));
    }
  }
};

QTEST_GUILESS_MAIN(TestTransient)
#include "tst_transient.moc"
