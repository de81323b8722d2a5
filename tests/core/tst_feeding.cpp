#include <QtTest>
#include <cmath>

#include "check/finding.h"
#include "electric/solver.h"
#include "parts/island_transient.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;
using What = Input::What;

namespace {

bool near(double is, double wanted, double within = 1e-3) {
  return std::abs(is - wanted) <= within;
}

// A circuit of which some boards have no cable.
class Unplugged {
 public:
  explicit Unplugged(const Bench& bench, const std::vector<std::string>& boards = {"b1"})
      : project_(bench.get()), circuit_(project_), state_(circuit_.restState()) {
    if (boards.empty()) return;
    for (const BoardItem& b : project_.boards)
      state_.unplugged.push_back(std::count(boards.begin(), boards.end(), b.id) > 0 ? 1 : 0);
  }
  Unplugged& drive(const std::string& board, const char* pin, PinDrive how) {
    state_.pins[index(board, pin)] = how;
    return *this;
  }
  Unplugged& press(const char* part) {
    state_.pressed[partIndex(part)] = 1;
    return *this;
  }
  double volts(const std::string& where) {
    const auto v = circuit_.solve(state_)
                       .nets[static_cast<std::size_t>(circuit_.nets().of(Bench::socket(where)))];
    return v ? *v : NAN;
  }
  double amps(const char* part) { return circuit_.solve(state_).parts[partIndex(part)].amps; }
  PinReading pin(const std::string& board, const char* name) {
    return circuit_.solve(state_).pins[index(board, name)];
  }
  CircuitReading reading() { return circuit_.solve(state_); }
  Circuit& circuit() { return circuit_; }
  const CircuitState& state() const { return state_; }

 private:
  std::size_t index(const std::string& board, const char* pin) {
    return static_cast<std::size_t>(circuit_.pinIndex(board, pin));
  }
  std::size_t partIndex(const std::string& id) {
    for (std::size_t i = 0; i < project_.parts->size(); ++i)
      if ((*project_.parts)[i]->id == id) return i;
    return 0;
  }
  Project project_;
  Circuit circuit_;
  CircuitState state_;
};

// A battery on a board's VIN, and 100 Ω on its 5V.
Bench onVin(const char* kind, double loadOhms = 100) {
  return Bench()
      .part("battery", "bat1", {"a1", "a3"})
      .prop("bat1", "kind", std::string(kind))
      .wire("VIN", "b1")
      .wire("GND", "b3")
      .wire("5V", "a10")
      .resistor("r1", loadOhms, "b10", "b15")
      .wire("GND2", "a15");
}

// b1's D4 feeds a lamp whose other end is b2's ground; a button could join the grounds.
Bench acrossBoards() {
  return Bench()
      .board("b2")
      .resistor("r1", 220, "a5", "a10")
      .led("led1", "b10", "b12")
      .wire("D4", "c5")
      .wire("b2.GND", "c12")
      .button("btn1", 20)
      .prop("btn1", "contacts", std::string("ideal"))
      .wire("b2.GND2", "a20")
      .wire("GND", "a22");
}

using Times = std::vector<int>;  // milliseconds

const char* blinkD4 = "set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n";

}  // namespace

// What feeds boards: the cable, a supply input, a battery, another board.
class TestFeeding : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void aRegulatorKeepsFollowsAndLetsGo() {
    using namespace electric;
    // Volts in, volts pushed from outside through 1 Ω into a load of 50 Ω; what comes out.
    struct Case {
      double in, pushed, out, amps;
    };
    for (const Case& c : {Case{9, 0, 5, 0.1}, Case{6.1, 0, 5, 0.1}, Case{4, 0, 2.9, 0.058},
                          Case{1, 0, 0, 0}, Case{9, 7.14, 7, 0}, Case{4, 3.06, 3, 0}}) {
      Network n;
      const Node in = n.addNode(), out = n.addNode();
      n.addBattery(in, 0, c.in, 1e-3);
      if (c.pushed > 0) n.addBattery(out, 0, c.pushed, 1);
      n.addConductor(out, 0, 1.0 / 50);
      n.addRegulator(in, out, 0, {5, 1.1});
      const Solution s = Solver(n).solve(n);
      QVERIFY(s.converged);
      QVERIFY2(near(s.volt(out), c.out) && near(s.regulatorAmps[0], c.amps),
               qPrintable(QString("%1 V in: %2 V out, %3 A")
                              .arg(c.in)
                              .arg(s.volt(out))
                              .arg(s.regulatorAmps[0])));
      // What it gives it takes from its input.
      QVERIFY(near(s.batteryAmps[0], c.amps, 1e-5));
      QVERIFY(kirchhoffError(n, s) < 1e-6);
    }
    // One that is a source of its own, between two nodes that nothing holds.
    Network n;
    const Node minus = n.addNode(), plus = n.addNode();
    n.addRegulator(minus, plus, minus, {5, 0});
    n.addConductor(plus, 0, 1.0 / 300);
    n.addConductor(minus, 0, 1.0 / 200);
    const Solution s = Solver(n).solve(n);
    QVERIFY(s.converged && near(s.volt(plus), 3) && near(s.volt(minus), -2));
    QVERIFY(near(s.regulatorAmps[0], 0.010, 1e-6));
  }
  void vinFeedsABoardWithoutItsCable() {
    Unplugged nine(onVin("9v"));
    QVERIFY2(near(nine.volts("5V"), 5), qPrintable(QString::number(nine.volts("5V"))));
    QVERIFY(near(nine.volts("3V3"), 3.3));
    QVERIFY(near(std::abs(nine.amps("bat1")), 0.050, 1e-4));
    QVERIFY(near(nine.volts("VIN"), 9 - 0.050 * 1.7));
    QVERIFY(near(nine.pin("b1", "D4").supplyVolts, 5));
    QVERIFY(near(nine.circuit().boardVolts(0, nine.state()), 5));
    // Too little for all 5 V: what comes in less 1.1. Four cells of 1.5 V and 0.15 Ω.
    Unplugged four(onVin("4aa"));
    const double amps = (6 - 1.1) / (100 + 0.6);
    QVERIFY(near(four.volts("5V"), 100 * amps));
    QVERIFY(near(std::abs(four.amps("bat1")), amps, 1e-5));
    // With its cable, the battery gives nothing.
    Unplugged both(onVin("9v"), {});
    QVERIFY(near(both.volts("5V"), 5) && near(both.amps("bat1"), 0, 1e-6));
    QVERIFY(near(both.volts("VIN"), 9));
    // Without either, it has nothing.
    Unplugged none(Bench().wire("5V", "a10").resistor("r1", 100, "b10", "b15").wire("GND", "a15"));
    QVERIFY(!(none.volts("5V") > 1e-6));
  }
  void aBatteryOnASupplyPinFeedsIt() {
    const Bench cells = Bench()
                            .part("battery", "bat1", {"a1", "a3"})
                            .prop("bat1", "kind", std::string("3aa"))
                            .wire("5V", "b1")
                            .wire("GND", "b3");
    Unplugged u(cells);
    QVERIFY(near(u.volts("5V"), 4.5));
    QVERIFY(near(u.volts("3V3"), 3.3));
    u.drive("b1", "D4", PinDrive::high);
    QVERIFY(near(u.volts("D4"), 4.5));
    // From another board.
    Unplugged two(Bench()
                      .board("b2")
                      .wire("5V", "a1")
                      .wire("b2.5V", "b1")
                      .wire("GND", "a3")
                      .wire("b2.GND", "b3"),
                  {"b2"});
    QVERIFY(near(two.volts("b2.5V"), 5) && near(two.volts("b2.3V3"), 3.3));
    QVERIFY(near(two.circuit().boardVolts(1, two.state()), 5));
  }
  void theCableHoldsD0High() {
    const Bench pulled =
        Bench().wire("D0", "a1").resistor("r1", 10e3, "b1", "b5").wire("GND", "a5");
    Unplugged plugged(pulled, {});
    QVERIFY(near(plugged.volts("D0"), 5.0 * 10 / 11, 2e-3));
    QVERIFY(!plugged.pin("b1", "D0").floating);
    QVERIFY(near(plugged.amps("r1"), 5 / 11e3, 1e-6));
    // Nothing plugged in at all: still high, while its neighbour floats.
    Unplugged bare(Bench(), {});
    QVERIFY(near(*bare.pin("b1", "D0").volts, 5));
    QVERIFY(!bare.pin("b1", "D0").floating && bare.pin("b1", "D1").floating);
    // Without the cable nothing holds it.
    const Bench bench = onVin("9v");
    Unplugged off(bench);
    QVERIFY(off.pin("b1", "D0").floating);
    // Low, its pin takes what comes through 1 kΩ.
    plugged.drive("b1", "D0", PinDrive::low);
    QVERIFY(near(plugged.pin("b1", "D0").amps, -5.0 / 1025, 2e-5));
  }
  void aShortOfOneBoardIsItsOwn() {
    const Bench bench = Bench()
                            .board("b2")
                            .wire("b2.5V", "a1")
                            .wire("b2.GND", "b1")
                            .wire("D4", "a5")
                            .resistor("r1", 1000, "b5", "b9")
                            .wire("GND", "a9")
                            .wire("GND2", "c1");
    Unplugged u(bench, {});
    u.drive("b1", "D4", PinDrive::high);
    QVERIFY(u.circuit().shorted(1) && !u.circuit().shorted(0));
    QVERIFY(u.reading().shorted);
    QVERIFY(near(u.amps("r1"), 5.0 / 1025, 1e-5));
    QVERIFY(near(u.circuit().boardVolts(1, u.state()), 0));
    Kernel k(shared(bench.get()));
    k.advance(second);
    QVERIFY(k.snapshot().fed == (std::vector<std::uint8_t>{1, 0}));
    // The check says so once, and goes on with the other board.
    Bench more = bench;
    more.lane("always", blinkD4).led("led1", "c5", "c9");
    std::set<std::string> rules;
    for (const Finding& f : check(more.get()).findings) {
      rules.insert(f.rule);
      if (f.rule == "short-circuit")
        QCOMPARE(inWords(f.title), std::string("b2 5 V is joined to GND"));
    }
    QVERIFY(rules.count("short-circuit") && rules.count("led-overcurrent"));
  }
  void noCurrentFlowsToABoardWithoutCommonGround() {
    Unplugged apart(acrossBoards(), {});
    apart.drive("b1", "D4", PinDrive::high);
    QVERIFY(apart.reading().converged);
    QVERIFY(near(apart.amps("led1"), 0, 1e-6));
    Unplugged joined(acrossBoards(), {});
    joined.drive("b1", "D4", PinDrive::high).press("btn1");
    QVERIFY(near(joined.amps("led1"), 0.0125, 5e-4));
    QVERIFY(near(joined.pin("b2", "D4").groundVolts, 0, 1e-2));
    // What the second board does by itself it does all the same.
    Bench own = acrossBoards();
    own.wire("b2.D5", "j1").resistor("r2", 1000, "i1", "i5").wire("b2.GND3", "j5");
    for (const bool pressed : {false, true}) {
      Unplugged u(own, {});
      u.drive("b2", "D5", PinDrive::high);
      if (pressed) u.press("btn1");
      QVERIFY2(near(u.amps("r2"), 5.0 / 1025, 1e-5), qPrintable(QString::number(u.amps("r2"))));
      const PinReading pin = u.pin("b2", "D5");
      QVERIFY(near(*pin.volts - pin.groundVolts, 5.0 * 1000 / 1025) && near(pin.supplyVolts, 5));
      QVERIFY(!u.pin("b2", "D0").floating && u.pin("b2", "D6").floating);
      double given = 0;
      for (int i = 0; i < u.circuit().islandCount(); ++i)
        for (const auto& s : u.circuit().solveIsland(i, u.state()).supplies)
          if (s.board == 1) given += s.amps;
      QVERIFY(near(given, 5.0 / 1025, 1e-5));
    }
  }
  void aProgramOnAnotherGroundRuns() {
    Bench bench = acrossBoards();
    bench.wire("b2.D4", "j1").resistor("r2", 1000, "i1", "i5").wire("b2.GND3", "j5");
    bench.lane("always", blinkD4)
        .lane("always", "set d4 high\nwait 0.2\nset d4 low\nwait 0.2\n", "b2");
    Kernel k(shared(bench.get()));
    k.schedule(at(0.7, What::powerOff, "b2"));
    k.advance(1'100'000'000);
    QVERIFY(edgesOf(k, "b1") == (Times{0, 500, 1000}));
    QVERIFY(edgesOf(k, "b2") == (Times{0, 200, 400, 600, 700}) ||
            edgesOf(k, "b2") == (Times{0, 200, 400, 600}));
    QVERIFY(k.snapshot().fed == (std::vector<std::uint8_t>{1, 0}));
  }
  void aBoardGoesOnFromItsBattery() {
    Bench bench = onVin("9v");
    bench.program(blinkD4);
    Kernel k(shared(bench.get()));
    k.schedule(at(0.6, What::powerOff, "b1"));
    k.schedule(at(1.2, What::powerOn, "b1"));
    k.advance(1'700'000'000);
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000, 1500}));
    // With the one switch all is dark.
    k.inputNow(at(0, What::powerOff));
    k.advance(2 * second);
    QVERIFY(k.snapshot().fed == std::vector<std::uint8_t>{0});
  }
  // What takes its time beside it changes nothing of that.
  void itGoesOnWithACapacitorAndAMotorBesideIt() {
    for (const char* part : {"capacitor", "motor"}) {
      Bench bench = onVin("9v");
      bench.part(part, "x1", {"c10", "d15"}).program(blinkD4);
      Kernel k(shared(bench.get()));
      k.schedule(at(0.6, What::powerOff, "b1"));
      k.advance(1'700'000'000);
      QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000, 1500}));
    }
  }
  // A capacitor across the supply of a board that is lifted by what leads to it.
  void aCapacitorChargesToWhatIsAcrossIt() {
    Bench bench = acrossBoards();
    bench.wire("b2.5V", "j1")
        .part("capacitor", "c1", {"i1", "i5"})
        .prop("c1", "farads", 1e-5)
        .resistor("r2", 10e3, "h5", "h9")
        .wire("b2.GND3", "j9");
    const Project project = bench.get();
    Circuit circuit(project);
    CircuitState state = circuit.restState();
    state.pins[static_cast<std::size_t>(circuit.pinIndex("b1", "D4"))] = PinDrive::high;
    const auto lifted =
        circuit.solve(state).nets[static_cast<std::size_t>(circuit.nets().of({"b2", "GND"}))];
    QVERIFY(lifted && *lifted > 2);
    int part = 0;
    while ((*project.parts)[static_cast<std::size_t>(part)]->id != "c1") ++part;
    IslandTransient course(circuit, circuit.islandOfPart(part));
    course.change(state);
    double seconds = 0;
    for (; !course.settled() && seconds < 10; course.finishStep()) seconds += course.stepSeconds();
    QVERIFY2(course.settled() && seconds > 0.5, qPrintable(QString::number(seconds)));
    QVERIFY(near(course.memory().at(part).capacitorVolts.front(), 5, 1e-2));
  }
  void aTripLeavesTheBatteryToFeed() {
    // 5 Ω take an ampere: the cable gives up, the 9 V block goes on with what it has.
    Bench bench = onVin("9v", 7);
    bench.prop("r1", "watts", 10.0).program(blinkD4);
    Kernel k(shared(bench.get()));
    k.advance(1'100'000'000);
    const Snapshot s = k.snapshot();
    QVERIFY(s.tripped && s.fed == std::vector<std::uint8_t>{1});
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000}));
  }
  void aChipStopsWithTooLittleAndBeginsAnewWithEnough() {
    // A switch leads the battery to VIN.
    Bench bench = Bench()
                      .part("battery", "bat1", {"a1", "a3"})
                      .button("btn1", 20)
                      .prop("btn1", "contacts", std::string("ideal"))
                      .wire("c1", "a20")
                      .wire("a22", "VIN")
                      .wire("GND", "b3")
                      .program(blinkD4);
    Kernel k(shared(bench.get()));
    k.schedule(at(0, What::press, "btn1"));
    k.schedule(at(0.6, What::powerOff, "b1"));
    k.schedule(at(1.2, What::release, "btn1"));
    k.schedule(at(2.0, What::press, "btn1"));
    k.advance(1'900'000'000);
    QVERIFY(k.snapshot().fed == std::vector<std::uint8_t>{0});
    k.advance(2'700'000'000);
    QVERIFY(k.snapshot().fed == std::vector<std::uint8_t>{1});
    QCOMPARE(edgesOf(k, "b1"), (Times{0, 500, 1000, 1200, 2065, 2565}));
  }
  void twoBoardsOnOneRailShareWhatItTakes() {
    // 6 Ω take 0.83 A: more than one cable gives, less than two.
    const Bench bench = Bench()
                            .board("b2")
                            .wire("5V", "a1")
                            .wire("b2.5V", "b1")
                            .wire("GND", "a3")
                            .wire("b2.GND", "b3")
                            .resistor("r1", 6, "c1", "c3")
                            .prop("r1", "watts", 10.0);
    Kernel k(shared(bench.get()));
    k.advance(second);
    QVERIFY(!k.snapshot().tripped);
    for (const Finding& f : check(bench.get()).findings) QVERIFY(f.rule != "board-overload");
    // When one is off the other has all of it.
    k.inputNow(at(0, What::powerOff, "b2"));
    k.advance(2 * second);
    QVERIFY(k.snapshot().tripped);
  }
};

QTEST_APPLESS_MAIN(TestFeeding)
#include "tst_feeding.moc"
