#include <QtTest>
#include <cmath>

#include "check/finding.h"
#include "format/wiring_language.h"
#include "parts/circuit.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// What a board's supply does beside others: it delivers, absorbs nothing, and lets go.
namespace {

// A 9 V block; its leads in two holes.
Bench battery(const std::string& plus, const std::string& minus) {
  Bench b;
  b.part("battery", "bat1", {plus, minus});
  return b;
}

class Solved {
 public:
  explicit Solved(const Bench& bench) : project_(bench.get()), circuit_(project_) {
    state_ = circuit_.restState();
  }
  Solved& high(const char* pin) { return drive(pin, PinDrive::high); }
  Solved& press(const char* part) {
    for (std::size_t i = 0; i < project_.parts->size(); ++i)
      if ((*project_.parts)[i]->id == part) state_.pressed[i] = 1;
    return *this;
  }
  double volts(const std::string& at) {
    const auto v = reading().nets[static_cast<std::size_t>(circuit_.nets().of(Bench::socket(at)))];
    return v ? *v : NAN;
  }
  double amps(const std::string& part) {
    for (std::size_t i = 0; i < project_.parts->size(); ++i)
      if ((*project_.parts)[i]->id == part) return reading().parts[i].amps;
    return NAN;
  }
  double pinAmps(const char* pin) { return pinReading(pin).amps; }
  PinReading pinReading(const char* pin) {
    return reading().pins[static_cast<std::size_t>(circuit_.pinIndex("b1", pin))];
  }
  CircuitReading reading() { return circuit_.solve(state_); }
  Circuit& circuit() { return circuit_; }
  const CircuitState& state() const { return state_; }

 private:
  Solved& drive(const char* pin, PinDrive how) {
    state_.pins[static_cast<std::size_t>(circuit_.pinIndex("b1", pin))] = how;
    return *this;
  }
  Project project_;
  Circuit circuit_;
  CircuitState state_;
};

bool near(double is, double wanted, double within) { return std::abs(is - wanted) <= within; }

// 5 V – 1 kΩ – A0 – 1 kΩ – 3.3 V.
Bench betweenSupplies() {
  return Bench()
      .wire("5V", "a1")
      .resistor("r1", 1000, "b1", "b5")
      .wire("A0", "a5")
      .resistor("r2", 1000, "c5", "c9")
      .wire("3V3", "a9");
}

}  // namespace

class TestSupplies : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void aSupplyTakesBackWhatOthersTakeFromIt() {
    Bench loaded = betweenSupplies().resistor("r3", 100, "d9", "d20").wire("GND", "a20");
    Solved s(loaded);
    QVERIFY2(near(s.volts("a5"), 4.15, 0.001), qPrintable(QString::number(s.volts("a5"))));
    QVERIFY(near(s.volts("a9"), 3.3, 1e-9));
    // With nothing else at it the 3.3 V are lifted: no current flows at all.
    Solved alone(betweenSupplies());
    QVERIFY(near(alone.volts("a9"), 5, 0.001));
    QVERIFY(near(alone.amps("r1"), 0, 1e-6));
  }
  void aPinIsHeldByASupplyThatOthersLoad() {
    Bench b = battery("f1", "f9")
                  .wire("GND", "g9")
                  .resistor("r1", 3e6, "g1", "g5")
                  .wire("D3", "h5")
                  .wire("D4", "a20")
                  .resistor("r2", 220, "b20", "f20")
                  .led("led1", "g20", "g22")
                  .wire("GND2", "h22");
    QVERIFY(near(Solved(b).high("D3").high("D4").volts("h5"), 5.0, 0.0005));
    // With nothing that takes the microamps the whole supply is lifted.
    QVERIFY(Solved(b).high("D3").volts("h5") > 8);
  }
  void theProtectionOfAPinLiftsNothingThatIsLoaded() {
    Bench b = battery("f1", "f9")
                  .wire("GND", "g9")
                  .resistor("r1", 10e3, "g1", "g5")
                  .wire("A0", "h5")
                  .wire("5V", "a20")
                  .resistor("r2", 100, "b20", "b25")
                  .wire("GND2", "a25");
    Solved s(b);
    QVERIFY2(near(s.volts("h5"), 5.60, 0.02), qPrintable(QString::number(s.volts("h5"))));
    QVERIFY(near(s.amps("r1"), 0.34e-3, 0.01e-3));
    QVERIFY(near(s.pinAmps("A0"), -0.34e-3, 0.01e-3));  // into the pin
  }
  void aBatteryStraightOnTheSupplyLiftsIt() {
    Bench b =
        battery("a1", "a9").wire("5V", "b1").wire("GND", "b9").resistor("r1", 1000, "c1", "c9");
    Solved s(b);
    QVERIFY2(near(s.volts("a1"), 8.985, 0.001), qPrintable(QString::number(s.volts("a1"))));
    QVERIFY(near(s.amps("r1"), 8.985e-3, 1e-6));
    QVERIFY(near(std::abs(s.amps("bat1")), 8.985e-3, 1e-6));
    // The check, which sweeps, says the same.
    bool told = false;
    for (const Finding& f : check(b).findings) told = told || f.rule == "over-voltage";
    QVERIFY(told);
    // Two supplies of which one is lifted: the other one holds.
    QVERIFY(near(Solved(b.wire("3V3", "a20").resistor("r2", 330, "b20", "b25").wire("GND2", "a25"))
                     .volts("a20"),
                 3.3, 1e-6));
  }
  void aPinsAmpsIncludeItsProtection() {
    const auto reversed = [](double ohms) {
      return battery("f9", "f1")
          .wire("GND", "g9")
          .resistor("r1", ohms, "g1", "g5")
          .prop("r1", "watts", 10.0)
          .wire("D2", "h5");
    };
    Solved gently(reversed(1000));
    QVERIFY2(near(gently.pinAmps("D2"), 8.3e-3, 0.1e-3),
             qPrintable(QString::number(gently.pinAmps("D2"))));
    Solved hard(reversed(10));
    QVERIFY2(near(hard.pinAmps("D2"), 0.646, 0.02),
             qPrintable(QString::number(hard.pinAmps("D2"))));
    // What goes in comes out: the pin's amps are those of its resistor.
    QVERIFY(near(hard.pinAmps("D2"), std::abs(hard.amps("r1")), 1e-6));
    QStringList rules;
    for (const Finding& f : check(reversed(10)).findings)
      if (f.severity == Severity::danger) rules << QString::fromStdString(f.rule);
    QCOMPARE(rules, QStringList{"pin-overload"});
    Kernel k(shared(reversed(10)));
    k.advance(8 * second);
    QVERIFY(std::any_of(k.events().begin(), k.events().end(), [](const Event& h) {
      return h.what == Event::What::broke && h.id == "b1.D2";
    }));
  }
  // A battery feeds whatever it feeds, also when the board's supply has given up.
  void batteriesFeedOnWhenTheBoardTrips() {
    Bench b = battery("f1", "f9")
                  .resistor("r1", 470, "g1", "g5")
                  .led("led1", "h5", "h9")
                  .wire("5V", "a20")
                  .resistor("r2", 5, "b20", "b25")  // an ampere
                  .wire("GND", "a25");
    Kernel k(shared(b));
    const auto light = [&] {
      const Snapshot s = k.snapshot();
      return s.light[2];
    };
    k.advance(second / 20);
    QVERIFY(!k.snapshot().tripped);
    k.advance(second);
    QVERIFY(k.snapshot().tripped);
    QVERIFY(light() > 0.5);
    const Snapshot s = k.snapshot();
    QVERIFY(near(s.reading.parts[3].amps, 0, 1e-6));  // the board gives nothing
    QVERIFY(s.reading.parts[2].amps > 0.01);
    // The one switch cuts all of it.
    k.inputNow({0, Input::What::powerOff});
    k.advance(2 * second);
    QVERIFY(light() < 0.01);
    k.inputNow({0, Input::What::powerOn});
    k.advance(2 * second + second / 20);
    QVERIFY(light() > 0.3);
  }
  // A board that has given up reads no levels. What a battery keeps charged on its pins meanwhile
  // is not followed any closer than it wants: ten minutes of it are nothing.
  void aTrippedBoardFollowsNoLevels() {
    const Project p =
        readWiring(
            "board tern\nbreadboard full\npiezo b2 lp37\nbutton g2 - h2 f4\nmosfet j1 rp9 b4\n"
            "piezo i3 lp9\n3aa battery d4 d3 at 50 10\nwire GND2 b3\nwire GND rp16\n"
            "wire D4 c3\nwire 5V a4\nwire GND3 f2\nwire D5 c4\n"
            "Round and round:\n  set D5 not D2\n  wait 0.02\n")
            .project;
    QCOMPARE(p.parts->size(), std::size_t(5));
    Kernel k(shared(p));
    constexpr Nanoseconds tenMinutes = 600 * second;
    k.advance(tenMinutes);
    QVERIFY(k.snapshot().tripped);
    QCOMPARE(k.snapshot().now, tenMinutes);
    for (const std::uint8_t level : k.snapshot().levels) QVERIFY(!level);
  }
  // The chip measures against its own supply, wherever that stands.
  void readingsAreSharesOfTheRealSupply() {
    Bench b = battery("a1", "a9")  // straight on 5V: it stands near 9 V
                  .wire("5V", "b1")
                  .wire("GND", "b9")
                  .resistor("r1", 1000, "c1", "c5")
                  .resistor("r2", 1000, "d5", "d9")
                  .wire("A0", "a5")
                  .program("if a0 > 52\n  set d13 high\nif a0 < 48\n  set d12 high\nwait 0.1");
    Kernel k(shared(b));
    k.advance(second / 2);
    const Snapshot s = k.snapshot();
    const Circuit c(*k.project());
    QVERIFY(s.levels[static_cast<std::size_t>(c.pinIndex("b1", "D13"))] == 0);
    QVERIFY(s.levels[static_cast<std::size_t>(c.pinIndex("b1", "D12"))] == 0);
  }
  void anOpenLegReadsWhatItsPartPassesOn() {
    Bench b = Bench().wire("5V", "a1").led("led1", "b1", "b9");
    QVERIFY2(near(Solved(b).volts("a9"), 5, 0.01),
             qPrintable(QString::number(Solved(b).volts("a9"))));
    Bench r = Bench().wire("5V", "a1").resistor("r1", 1e6, "b1", "b9");
    QVERIFY(near(Solved(r).volts("a9"), 5, 0.001));
    QVERIFY(std::isnan(Solved(r).volts("a20")));  // an empty row has none
  }
  // Less than an ohm across a supply is a short circuit, of whatever it is made.
  void aShortIsFoundThroughContactsAndResistorsTogether() {
    Bench held = Bench().wire("5V", "a18").button("btn1", 18).wire("GND", "a20");
    QVERIFY(!Solved(held).reading().shorted);
    const CircuitReading pressed = Solved(held).press("btn1").reading();
    QVERIFY(pressed.shorted && !pressed.converged);
    QCOMPARE(pressed.shortedSupply, std::string("5 V"));
    const auto sideBySide = [](const char* supply, double ohms) {
      return Bench()
          .wire(supply, "a1")
          .wire("GND", "a9")
          .resistor("r1", ohms, "b1", "b9")
          .resistor("r2", ohms, "c1", "c9");
    };
    QCOMPARE(Solved(sideBySide("3V3", 1.5)).reading().shortedSupply, std::string("3.3 V"));
    QVERIFY(!Solved(sideBySide("5V", 2.1)).reading().shorted);
    // A wire from 3.3 V to ground is one of 3.3 V.
    QCOMPARE(Solved(Bench().wire("3V3", "GND")).reading().shortedSupply, std::string("3.3 V"));
  }
  // 5 V over 100 Ω and the pin's own 25 Ω: exactly 40 mA.
  void exactlyTheLimitIsNotMore() {
    Bench b = Bench().wire("D4", "a1").resistor("r1", 100, "b1", "b9").wire("GND", "a9");
    b.program("set d4 high\nwait 1");
    QVERIFY(near(Solved(b).high("D4").pinAmps("D4"), 0.040, 1e-9));
    for (const Finding& f : check(b).findings)
      QVERIFY2(f.rule != "pin-overload" || f.severity != Severity::danger,
               inWords(f.title).c_str());
    Kernel k(shared(b));
    k.advance(30 * second);
    QVERIFY(!k.isBroken("r1"));
    QVERIFY(k.snapshot()
                .state.pins[static_cast<std::size_t>(Circuit(*k.project()).pinIndex("b1", "D4"))] !=
            PinDrive::burnt);
  }
  // Whatever is plugged together: what flows out of all supplies flows into the circuit, and none
  // is given anything back that it keeps.
  void noSupplyAbsorbsAnything() {
    std::mt19937 random(1711);
    int joined = 0;
    for (int round = 0; round < 400; ++round) {
      Bench b;
      std::set<std::string> used;
      const auto hole = [&] {
        for (;;) {
          std::string h = std::string(1, static_cast<char>('a' + random() % 10)) +
                          std::to_string(random() % 6 + 1);
          if (used.insert(h).second) return h;
        }
      };
      const int parts = 2 + static_cast<int>(random() % 5);
      for (int k = 0; k < parts; ++k) {
        const std::string id = "p" + std::to_string(k);
        if (random() % 4 == 0)
          b.part("battery", id, {hole(), hole()});
        else if (random() % 3 == 0)
          b.led(id, hole(), hole());
        else
          b.resistor(id, std::pow(10, 1 + static_cast<double>(random() % 50) / 10), hole(), hole());
      }
      for (const char* pin : {"5V", "3V3", "GND", "D3", "D4", "A0"})
        if (random() % 4) b.wire(pin, hole());
      Solved s(b);
      if (random() % 2) s.high("D3");
      const CircuitReading r = s.reading();
      if (r.shorted || !r.converged) continue;
      std::map<int, double> taken;
      for (int i = 0; i < s.circuit().islandCount(); ++i)
        for (const auto& supply : s.circuit().solveIsland(i, s.state()).supplies)
          taken[supply.net] += supply.amps;
      for (const auto& [net, amps] : taken) {
        const double stands = r.nets[static_cast<std::size_t>(net)].value_or(0);
        const double nominal = *s.circuit().supplyVolts(net);
        QVERIFY2(amps > -1e-9, qPrintable(QString("round %1: %2 A").arg(round).arg(amps)));
        QVERIFY2(stands > nominal - 1e-6, qPrintable(QString::number(round)));
        if (stands > nominal + 1e-6) {
          ++joined;
          QVERIFY(amps < 1e-9);
        }
      }
    }
    QVERIFY2(joined > 20, qPrintable(QString::number(joined)));
  }
};

QTEST_GUILESS_MAIN(TestSupplies)
#include "tst_supplies.moc"
