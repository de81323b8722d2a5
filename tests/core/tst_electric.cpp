#include <QtTest>
#include <random>

#include "electric/solver.h"
#include "reference/slow_solver.h"

using namespace ignavo::electric;

namespace {
const JunctionModel red = JunctionModel::through(1.90, 0.010, 2 * thermalVolts, 5);

// A random network of up to `parts` devices between a 5 V source and ground.
Network randomNetwork(std::mt19937& random, int parts, std::vector<Node>* terminals = nullptr) {
  Network n;
  const Node supply = n.addNode();
  n.addSource(supply, 5);
  std::vector<Node> nodes{0, supply};
  const int count = 2 + static_cast<int>(random() % static_cast<unsigned>(parts));
  for (int i = 0; i < count / 2 + 1; ++i) nodes.push_back(n.addNode());
  const auto pick = [&] { return nodes[random() % nodes.size()]; };
  std::uniform_real_distribution<double> decade(0, 6);
  for (int i = 0; i < count; ++i) {
    const Node a = pick(), b = pick();
    if (a == b) continue;
    if (random() % 3 == 0)
      n.addJunction(a, b, red);
    else
      n.addConductor(a, b, random() % 12 == 0 ? 0 : 1 / std::pow(10, decade(random)));
  }
  if (terminals) *terminals = nodes;
  return n;
}
// The same with batteries, transistors and motors among them.
Network randomActive(std::mt19937& random, int parts) {
  std::vector<Node> terminals;
  Network n = randomNetwork(random, parts, &terminals);
  const auto pick = [&] { return terminals[random() % terminals.size()]; };
  for (unsigned i = 0; i < 1 + random() % 3; ++i) {
    const Node a = pick(), b = pick(), c = pick();
    if (a == b || b == c || a == c) continue;
    switch (random() % 4) {
      case 0:
        n.addBattery(a, b, 1.5 * static_cast<double>(1 + random() % 6),
                     0.5 + static_cast<double>(random() % 60));
        break;
      case 1:
        n.addBipolar(a, b, c, {});
        break;
      case 2:
        n.addMosfet(a, b, c, {});
        break;
      default:
        n.addMotor(a, b, {});
    }
  }
  return n;
}
}  // namespace

class TestElectric : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void divider() {
    Network n;
    const Node top = n.addNode(), middle = n.addNode();
    n.addSource(top, 5);
    n.addConductor(top, middle, 1.0 / 1000);
    n.addConductor(middle, 0, 1.0 / 4000);
    const Solution s = Solver(n).solve(n);
    QVERIFY(s.converged);
    QVERIFY(std::abs(s.volt(middle) - 4.0) < 1e-7);
    QVERIFY(std::abs(s.sourceAmps[0] - 0.001) < 1e-9);
  }
  void bridge() {
    // Balanced Wheatstone bridge: nothing flows across.
    Network n;
    const Node top = n.addNode(), a = n.addNode(), b = n.addNode();
    n.addSource(top, 5);
    n.addConductor(top, a, 1e-3), n.addConductor(a, 0, 2e-3);
    n.addConductor(top, b, 1e-4), n.addConductor(b, 0, 2e-4);
    const int across = n.addConductor(a, b, 1e-2);
    const Solution s = Solver(n).solve(n);
    QVERIFY(std::abs(s.conductorAmps(n, across)) < 1e-9);
  }
  void ledLoadLine() {
    // At the current of the model's own point the whole part has its forward voltage.
    for (double ohms : {100.0, 220.0, 1000.0, 10000.0}) {
      Network n;
      const Node top = n.addNode(), led = n.addNode();
      n.addSource(top, 5);
      n.addConductor(top, led, 1 / ohms);
      n.addJunction(led, 0, red);
      const Solution s = Solver(n).solve(n);
      QVERIFY(s.converged);
      const double amps = s.junctionAmps[0];
      // Both sides of the load line: resistor and diode equation give the same voltage.
      const double vd =
          red.emissionVolts * std::log1p(amps / red.saturationAmps) + amps * red.seriesOhms;
      QVERIFY(std::abs(vd - s.volt(led)) < 1e-6);
      QVERIFY(std::abs((5 - amps * ohms) - s.volt(led)) < 1e-6);
    }
    const double vd = red.emissionVolts * std::log1p(0.010 / red.saturationAmps) + 0.010 * 5;
    QVERIFY(std::abs(vd - 1.90) < 1e-9);
  }
  void reversedJunctionBlocks() {
    Network n;
    const Node top = n.addNode(), led = n.addNode();
    n.addSource(top, 5);
    n.addConductor(top, led, 1e-2);
    n.addJunction(0, led, red);
    const Solution s = Solver(n).solve(n);
    QVERIFY(s.converged);
    QVERIFY(std::abs(s.junctionAmps[0]) < 1e-11);
    QVERIFY(std::abs(s.volt(led) - 5) < 1e-6);
  }
  void sourcesDeliverButDoNotAbsorb() {
    // 9 V through 100 Ω into a 5 V source: it lets itself be lifted.
    Network n;
    const Node five = n.addNode(), nine = n.addNode();
    n.addSource(five, 5);
    n.addSource(nine, 9);
    n.addConductor(nine, five, 1e-2);
    const Solution s = Solver(n).solve(n);
    QVERIFY(s.converged);
    QCOMPARE(s.sourceAmps[0], 0.0);
    QVERIFY(std::abs(s.volt(five) - 9) < 1e-6);
  }
  void batteryUnderLoad() {
    // A 9 V block of 1.7 Ω, shorted and into 88.3 Ω.
    for (double ohms : {0.001, 88.3}) {
      Network n;
      const Node plus = n.addNode();
      n.addBattery(plus, 0, 9, 1.7);
      n.addConductor(plus, 0, 1 / ohms);
      const Solution s = Solver(n).solve(n);
      QVERIFY(s.converged);
      QVERIFY(std::abs(s.batteryAmps[0] - 9 / (1.7 + ohms)) < 1e-6);
    }
  }
  void bipolarSaturatesAndAmplifies() {
    // 10 kΩ into the base: 200 times its current while the load leaves room, then saturation.
    const auto solve = [](double loadOhms) {
      Network n;
      const Node supply = n.addNode(), base = n.addNode(), collector = n.addNode();
      n.addSource(supply, 5);
      n.addConductor(supply, base, 1 / 10e3);
      n.addConductor(supply, collector, 1 / loadOhms);
      n.addBipolar(collector, base, 0, {});
      const Solution s = Solver(n).solve(n);
      return std::tuple(s.bipolarAmps[0].collector, s.bipolarAmps[0].base, s.volt(collector));
    };
    const auto [c, b, v] = solve(10);
    QVERIFY(std::abs(c / b - 200) < 0.5);
    QVERIFY(std::abs(b - (5 - 0.7) / 10e3) < 1e-5);
    const auto [cs, bs, vs] = solve(1000);
    QVERIFY(cs / bs < 20);
    QVERIFY(vs > 0 && vs < 0.1);
  }
  void mosfetHasItsResistanceWhenOn() {
    for (const auto& [gate, ohms] :
         {std::pair{5.0, 0.15}, std::pair{3.3, 0.30}, std::pair{1.5, 1e9}}) {
      Network n;
      const Node supply = n.addNode(), g = n.addNode(), drain = n.addNode();
      n.addSource(supply, 5);
      n.addSource(g, gate);
      n.addConductor(supply, drain, 1 / 1000.0);
      n.addMosfet(drain, g, 0, {});
      const Solution s = Solver(n).solve(n);
      QVERIFY(s.converged);
      if (ohms > 1e6)
        QVERIFY(s.mosfetAmps[0] < 1e-10);
      else
        QVERIFY(std::abs(s.volt(drain) / s.mosfetAmps[0] - ohms) < 0.01);
    }
  }
  void motorAtItsSteadySpeed() {
    const MotorPoint idle = evaluate(MotorModel{}, 5.0);
    QVERIFY(std::abs(idle.amps - 0.070) < 1e-4);
    QVERIFY(std::abs(idle.radiansPerSecond - (5 - 7 * 0.070) / 0.0045) < 1);
    MotorModel loaded;
    loaded.loadNewtonMetres = 2.90e-3;
    QVERIFY(std::abs(evaluate(loaded, 5.0).amps - 0.704) < 0.01);
    QVERIFY(std::abs(evaluate(loaded, 5.0).radiansPerSecond) < 40);
    for (double v : {0.01, 0.3, 2.0, 6.0}) {
      const MotorPoint p = evaluate(MotorModel{}, v), q = evaluate(MotorModel{}, v + 1e-5);
      QVERIFY(std::abs(7 * p.amps + 0.0045 * p.radiansPerSecond - v) < 1e-9);
      QVERIFY(std::abs((q.amps - p.amps) / 1e-5 - p.siemens) < 1e-4 + 0.01 * p.siemens);
      QCOMPARE(evaluate(MotorModel{}, -v).amps, -p.amps);
    }
  }
  void junctionsAnswerHoweverFarNewtonWanders() {
    // A transistor that pulls on a net with nothing but a leak asks for a million million volts
    // on the way. The current is then that of the series resistance.
    const auto lamp = JunctionModel::through(1.9, 0.010, 2 * thermalVolts, 5);
    const PreparedJunction junction(lamp);
    PreparedJunction::Near near;
    for (double volts = 1; volts < 1e16; volts *= 7) {
      for (const double v : {volts, volts * 1.1, -volts}) {
        const TwoTerminalPoint p = junction.at(v, 0, near);
        QVERIFY2(std::isfinite(p.amps) && p.siemens >= 0, qPrintable(QString::number(v)));
        if (v > 100) QVERIFY(std::abs(p.amps / (v / 5) - 1) < 0.03);
        if (v < 0) QVERIFY(std::abs(p.amps) < 1e-15);
      }
    }
  }
  void slopesAreThoseOfTheCurves() {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> volts(-1.0, 3.0);
    const double h = 1e-7;
    for (int i = 0; i < 500; ++i) {
      const double gs = volts(random), ds = volts(random);
      const MosfetPoint p = evaluate(MosfetModel{}, gs, ds, 1e-12);
      const double byDrain = (evaluate(MosfetModel{}, gs, ds + h, 1e-12).amps - p.amps) / h;
      const double byGate = (evaluate(MosfetModel{}, gs + h, ds, 1e-12).amps - p.amps) / h;
      QVERIFY(std::abs(byDrain - p.byDrain) < 1e-4 && std::abs(byGate - p.byGate) < 1e-4);
      const double be = volts(random) / 5, bc = volts(random) / 5;
      const BipolarPoint b = evaluate(BipolarModel{}, be, bc, 1e-12);
      const double cByBe =
          (evaluate(BipolarModel{}, be + h, bc, 1e-12).collectorAmps - b.collectorAmps) / h;
      QVERIFY(std::abs(cByBe - b.cByBe) < 1e-6 + 1e-3 * std::abs(b.cByBe));
    }
  }
  void lawsHoldWithBatteriesTransistorsAndMotors() {
    std::mt19937 random(43);
    for (int i = 0; i < 3000; ++i) {
      const Network n = randomActive(random, 40);
      const Solution s = Solver(n).solve(n);
      QVERIFY2(s.converged, qPrintable(QString("network %1").arg(i)));
      double most = 1e-3;
      for (double a : s.sourceAmps) most = std::max(most, a);
      for (double a : s.batteryAmps) most = std::max(most, std::abs(a));
      QVERIFY(kirchhoffError(n, s) <= std::max(1e-9, 1e-6 * most));
      QVERIFY2(std::abs(powerError(n, s)) <= std::max(1e-8, 2e-6 * most * 15),
               qPrintable(QString("network %1: %2 W at %3 A, kcl %4")
                              .arg(i)
                              .arg(powerError(n, s))
                              .arg(most)
                              .arg(kirchhoffError(n, s))));
    }
  }
  void activeDevicesAgreeWithTheSlowSolver() {
    std::mt19937 random(6);
    int compared = 0;
    for (int i = 0; i < 60; ++i) {
      const Network n = randomActive(random, 5);
      const Solution s = Solver(n).solve(n);
      // The slow one knows no source that lets itself be lifted.
      if (!s.converged || s.sourceAmps[0] <= 0) continue;
      const auto slow = ignavo::test::slowVolts(n, 1500);
      if (slow.empty()) continue;
      for (std::size_t k = 0; k < n.batteries.size(); ++k) {
        const Battery& e = n.batteries[k];
        const double b = (e.volts - slow[static_cast<std::size_t>(e.plus)] +
                          slow[static_cast<std::size_t>(e.minus)]) /
                         e.ohms;
        QVERIFY(std::abs(s.batteryAmps[k] - b) < 1e-5 + 1e-3 * std::abs(b));
        ++compared;
      }
      for (std::size_t k = 0; k < n.conductors.size(); ++k) {
        const Conductor& c = n.conductors[k];
        const double a = s.conductorAmps(n, static_cast<int>(k));
        const double b =
            c.siemens * (slow[static_cast<std::size_t>(c.a)] - slow[static_cast<std::size_t>(c.b)]);
        QVERIFY2(std::abs(a - b) < 1e-5 + 1e-3 * std::abs(a),
                 qPrintable(QString("network %1: %2 against %3").arg(i).arg(a).arg(b)));
        ++compared;
      }
    }
    QVERIFY(compared > 40);
  }
  void lawsHoldOnRandomNetworks() {
    std::mt19937 random(42);
    int solved = 0;
    for (int i = 0; i < 5000; ++i) {
      const Network n = randomNetwork(random, 60);
      Solver solver(n);
      const Solution s = solver.solve(n);
      QVERIFY2(s.converged, qPrintable(QString("network %1").arg(i)));
      for (double v : s.volts) QVERIFY(std::isfinite(v));
      double most = 1e-3;
      for (double a : s.sourceAmps) most = std::max(most, a);
      QVERIFY(kirchhoffError(n, s) <= std::max(1e-9, 1e-6 * most));
      QVERIFY(std::abs(powerError(n, s)) <= std::max(1e-8, 2e-6 * most * 5));
      ++solved;
    }
    QCOMPARE(solved, 5000);
  }
  void agreesWithTheSlowSolver() {
    std::mt19937 random(5);
    int compared = 0;
    for (int i = 0; i < 60; ++i) {
      const Network n = randomNetwork(random, 7);
      const Solution s = Solver(n).solve(n);
      QVERIFY(s.converged);
      const auto slow = ignavo::test::slowVolts(n);
      if (slow.empty()) continue;
      // Currents are what counts: nodes behind dark junctions are ill-defined.
      for (std::size_t k = 0; k < n.conductors.size(); ++k) {
        const Conductor& c = n.conductors[k];
        const double a = s.conductorAmps(n, static_cast<int>(k));
        const double b =
            c.siemens * (slow[static_cast<std::size_t>(c.a)] - slow[static_cast<std::size_t>(c.b)]);
        QVERIFY2(std::abs(a - b) < 1e-6 + 1e-4 * std::abs(a),
                 qPrintable(QString("network %1: %2 against %3").arg(i).arg(a).arg(b)));
        ++compared;
      }
    }
    QVERIFY(compared > 100);
  }
  void answersDoNotDependOnHistory() {
    std::mt19937 random(9);
    Network n = randomNetwork(random, 20);
    n.addConductor(1, 2, 1e-3);
    Solver used(n);
    for (int i = 0; i < 20; ++i) {
      n.conductors.back().siemens = i % 2 ? 1e-3 : 20;
      const Solution a = used.solve(n), b = Solver(n).solve(n);
      QVERIFY(a.volts == b.volts);
    }
  }
  void smallSignalResistance() {
    Network n;
    const Node top = n.addNode(), middle = n.addNode();
    n.addSource(top, 5);
    n.addConductor(top, middle, 1.0 / 30e3);
    n.addConductor(middle, 0, 1.0 / 60e3);
    Solver solver(n);
    (void)solver.solve(n);
    QVERIFY(std::abs(solver.resistanceAt(middle) - 20e3) < 1);
  }
};

QTEST_GUILESS_MAIN(TestElectric)
#include "tst_electric.moc"
