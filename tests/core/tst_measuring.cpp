#include <QtTest>

#include "parts/measuring.h"
#include "parts/wire_amps.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

// What the meter and the clamp read.
namespace {

struct Table {
  Project project;
  Circuit circuit;
  CircuitState state;
  explicit Table(const Bench& bench)
      : project(bench.get()), circuit(project), state(circuit.restState()) {}
  Table& pin(const char* name, PinDrive drive) {
    state.pins[static_cast<std::size_t>(circuit.pinIndex("b1", name))] = drive;
    return *this;
  }
  Table& press(int part) {
    state.pressed[static_cast<std::size_t>(part)] = 1;
    return *this;
  }
  std::optional<double> ohms(const char* a, const char* b) {
    return ohmsBetween(project, circuit, state, Bench::socket(a), Bench::socket(b));
  }
  std::optional<double> volts(const char* a, const char* b) {
    return voltsBetween(circuit.nets(), circuit.solve(state), Bench::socket(a), Bench::socket(b));
  }
  double wire(std::size_t index) {
    return WireMetal(project, circuit).amps(circuit.solve(state))[index];
  }
};

bool near(double a, double b, double within) { return std::abs(a - b) <= within; }

}  // namespace

class TestMeter : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void voltsAreDifferences() {
    Table t(beacon());
    t.pin("D4", PinDrive::high);
    const double lamp = *t.volts("i9", "i11");
    QVERIFY(lamp > 1.8 && lamp < 2.0);
    QVERIFY(near(*t.volts("i11", "i9"), -lamp, 1e-12));
    QVERIFY(near(*t.volts("a9", "GND"), *t.volts("a9", "h9") + *t.volts("h9", "GND"), 1e-9));
    QCOMPARE(*t.volts("a9", "b9"), 0.0);
    QVERIFY(!t.volts("a1", "GND"));  // nothing is plugged in there
  }
  void ohmsOfResistorsAndContacts() {
    Table t(Bench()
                .resistor("r1", 1000, "a1", "a5")
                .resistor("r2", 1000, "b1", "b5")
                .resistor("r3", 220, "c5", "c9")
                .button("btn1", 20)
                .led("led1", "a12", "a15")
                .part("battery", "bat1", {"d1", "d9"}));
    QVERIFY(near(*t.ohms("a1", "a5"), 500, 0.01));
    QVERIFY(near(*t.ohms("e1", "e9"), 720, 0.01));  // and the battery does not disturb it
    QVERIFY(near(*t.ohms("e9", "e1"), 720, 0.01));
    QCOMPARE(*t.ohms("a1", "d1"), 0.0);
    QVERIFY(!t.ohms("e20", "e22"));
    QVERIFY(!t.ohms("a12", "a15"));  // a lamp does not light, either way
    QVERIFY(!t.ohms("a15", "a12"));
    t.press(3);
    QVERIFY(near(*t.ohms("e20", "e22"), 0.05, 1e-6));
  }
  void ohmsOfMotorAndBrokenPart() {
    Table t(Bench().part("motor", "motor1", {"a1", "a5"}).resistor("r1", 220, "a9", "a13"));
    const double motor = *t.ohms("a1", "a5");
    QVERIFY2(motor >= 7 && motor < 8, qPrintable(QString::number(motor)));
    t.state.broken[1] = 1;
    QVERIFY(!t.ohms("a9", "a13"));
  }
  void clampReadsTheWireOnTheWay() {
    // D4 → resistor → lamp → right rail → left rail → GND: the same current in each wire.
    Table t(beacon());
    t.pin("D4", PinDrive::high);
    const double amps = t.circuit.solve(t.state).parts[1].amps;
    QVERIFY(amps > 0.010);
    // Wires as the beacon lays them: GND–ln4, ln23–rn23, D4–a9, j11–rn10.
    QVERIFY(near(t.wire(0), -amps, 1e-9));
    QVERIFY(near(t.wire(1), -amps, 1e-9));
    QVERIFY(near(t.wire(2), amps, 1e-9));
    QVERIFY(near(t.wire(3), amps, 1e-9));
  }
  void branchesAddUp() {
    // Two resistors on the left rail, which one wire feeds.
    Table t(Bench()
                .wire("5V", "lp1")
                .wire("lp5", "a5")
                .wire("lp9", "a9")
                .resistor("r1", 1000, "b5", "b15")
                .resistor("r2", 500, "b9", "c15")
                .wire("GND", "a15"));
    QVERIFY(near(t.wire(1), 0.005, 1e-6));
    QVERIFY(near(t.wire(2), 0.010, 1e-6));
    QVERIFY(near(t.wire(0), 0.015, 1e-6));
    QVERIFY(near(t.wire(3), -0.015, 1e-6));
  }
  void ringsShare() {
    // Two wires side by side.
    Table t(Bench()
                .wire("5V", "a5")
                .resistor("r1", 1000, "b5", "b9")
                .wire("c9", "c15")
                .wire("d9", "d15")
                .wire("GND", "a15"));
    QVERIFY(near(t.wire(1), 0.0025, 1e-6));
    QVERIFY(near(t.wire(2), 0.0025, 1e-6));
  }
  void currentThroughAButtonsOwnMetal() {
    Table t(Bench()
                .button("btn1", 20)
                .wire("5V", "a20")
                .resistor("r1", 1000, "j20", "j25")
                .wire("GND", "i25"));
    QVERIFY(near(t.wire(0), 0.005, 1e-6));
  }
  void aMeterThatStaysShowsWhatItReads() {
    const auto lampWith = [](const char* mode) {
      return Bench()
          .resistor("r1", 220, "c9", "h9")
          .led("led1", "i9", "i11")
          .wire("5V", "a9")
          .wire("GND", "j14")
          .part("meter", "across", {"g9", "g11"})
          .part("meter", "along", {"h11", "h14"})
          .prop("across", "mode", std::string(mode))
          .prop("along", "mode", std::string("amps"));
    };
    const auto shown = [](Table& t, int part, bool powered) {
      const CircuitReading r = t.circuit.solve(t.state);
      return QString::fromStdString(
          displayOf(t.project, t.circuit, t.state, part,
                    powered ? &r.parts[static_cast<std::size_t>(part)] : nullptr, powered));
    };
    Table volts(lampWith("volts"));
    QCOMPARE(shown(volts, 2, true), "1.94 V");
    QCOMPARE(shown(volts, 3, true), "13.9 mA");
    QCOMPARE(shown(volts, 2, false), "0.00 V");
    QCOMPARE(shown(volts, 3, false), "0.0 mA");
    // The one across the lamp takes next to nothing from it.
    const double amps = volts.circuit.solve(volts.state).parts[1].amps;
    QVERIFY(near(amps, volts.circuit.solve(volts.state).parts[0].amps, 1e-6) && amps > 0.0135);
    Table joined(lampWith("continuity"));
    QCOMPARE(shown(joined, 2, false), "apart");
    QCOMPARE(shown(joined, 2, true), "–");
    Table ohms(Bench()
                   .resistor("r1", 4700, "a1", "a5")
                   .part("meter", "m", {"b1", "b5"})
                   .prop("m", "mode", std::string("ohms")));
    QCOMPARE(shown(ohms, 1, false), "4.7 kΩ");
    Table open(Bench().part("meter", "m", {"b1", ""}).prop("m", "mode", std::string("ohms")));
    QCOMPARE(shown(open, 0, false), "–");
  }
};

QTEST_GUILESS_MAIN(TestMeter)
#include "tst_measuring.moc"
