#include <QtTest>

#include "parts/circuit.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {
CircuitState withPin(const Circuit& c, CircuitState s, const char* pin, PinDrive drive) {
  s.pins[static_cast<std::size_t>(c.pinIndex("b1", pin))] = drive;
  return s;
}
PinReading pinOf(const Circuit& c, const CircuitReading& r, const char* pin) {
  return r.pins[static_cast<std::size_t>(c.pinIndex("b1", pin))];
}
}  // namespace

class TestParts : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void forwardVoltagesAreThoseOfTheTable() {
    const std::map<std::string, double> table = {{"red", 1.90},   {"orange", 2.00}, {"amber", 2.05},
                                                 {"green", 2.20}, {"blue", 3.00},   {"white", 3.00},
                                                 {"pink", 3.00}};
    for (const auto& [colour, volts] : table) {
      Part part = newPart(emptyProject(), *catalogue().partKind("led"));
      part.setProp("colour", colour);
      const auto model = catalogue().partKind("led")->devices(part).diodes[0].model;
      const double across =
          model.emissionVolts * std::log1p(0.010 / model.saturationAmps) + 0.010 * model.seriesOhms;
      QVERIFY2(std::abs(across - volts) < 1e-9, colour.c_str());
      QCOMPARE(model.seriesOhms, volts >= 3 ? 12.0 : 5.0);
    }
  }
  void beaconCurrentFollowsTheModel() {
    Circuit c(beacon().get());
    const CircuitReading r = c.solve(withPin(c, c.restState(), "D4", PinDrive::high));
    QVERIFY(r.converged);
    const PartReading led = r.parts[1], resistor = r.parts[0];
    QVERIFY(std::abs(led.amps - 0.01255) < 0.0001);
    QVERIFY(std::abs(led.amps - resistor.amps) < 1e-9);
    QVERIFY(std::abs(pinOf(c, r, "D4").amps - led.amps) < 1e-7);
    QVERIFY(std::abs(*pinOf(c, r, "D4").volts - (5 - 25 * led.amps)) < 1e-6);
    QVERIFY(std::abs(r.supplyAmps - led.amps) < 1e-6);
  }
  void netsWithoutReferenceHaveNoVoltage() {
    Circuit c(Bench().resistor("r1", 220, "c9", "h9").led("led1", "i9", "i11").get());
    const CircuitReading r = c.solve(c.restState());
    QVERIFY(r.converged);
    QVERIFY(!r.nets[static_cast<std::size_t>(c.nets().of({"bb", "a9"}))]);
    QVERIFY(!r.parts[0].volts);
  }
  void buttonJoinsItsPairs() {
    Bench bench = Bench()
                      .button("btn1", 18)
                      .resistor("r1", 10000, "c20", "c25")
                      .wire("5V", "a18")
                      .wire("D2", "a20")
                      .wire("GND", "a25");
    Circuit c(bench.get());
    CircuitState s = c.restState();
    CircuitReading r = c.solve(s);
    QVERIFY(std::abs(*pinOf(c, r, "D2").volts) < 0.01);
    QVERIFY(!pinOf(c, r, "D2").floating);
    s.pressed[0] = 1;
    r = c.solve(s);
    QVERIFY(std::abs(*pinOf(c, r, "D2").volts - 5) < 0.01);
    QVERIFY(std::abs(r.parts[0].amps - 0.0005) < 1e-6);
  }
  void floatingMeansMoreThanAMegohm() {
    const auto floats = [](double ohms) {
      Circuit c(
          Bench().resistor("r1", ohms, "a20", "a25").wire("D2", "b20").wire("GND", "b25").get());
      return pinOf(c, c.solve(c.restState()), "D2").floating;
    };
    QVERIFY(!floats(10e3));
    QVERIFY(!floats(900e3));
    QVERIFY(floats(1.2e6));
    Circuit bare(Bench().wire("D2", "a1").get());
    QVERIFY(pinOf(bare, bare.solve(bare.restState()), "D2").floating);
    Circuit pulled(Bench().wire("D2", "a1").pullUp("D2").get());
    const CircuitReading r = pulled.solve(pulled.restState());
    QVERIFY(!pinOf(pulled, r, "D2").floating);
    QVERIFY(std::abs(*pinOf(pulled, r, "D2").volts - 5) < 0.01);
  }
  void supplyOnGroundIsNamedNotSolved() {
    Circuit c(Bench().wire("5V", "lp1").wire("GND", "lp2").get());
    const CircuitReading r = c.solve(c.restState());
    QVERIFY(r.shorted && !r.converged);
  }
  void islandsEndAtTheSupplies() {
    // Two lamps on 5 V and ground only share supplies: two islands.
    Bench bench = beacon()
                      .resistor("r2", 220, "c14", "h14")
                      .led("led2", "i14", "i16")
                      .wire("D5", "a14")
                      .wire("j16", "rn14");
    Circuit c(bench.get());
    QVERIFY(c.islandOfPart(1) != c.islandOfPart(3));
    QCOMPARE(c.islandOfPart(0), c.islandOfPart(1));
  }
  void brokenPartsAreOpen() {
    Circuit c(beacon().get());
    CircuitState s = withPin(c, c.restState(), "D4", PinDrive::high);
    s.broken[1] = 1;
    QVERIFY(std::abs(c.solve(s).parts[0].amps) < 1e-6);
  }
  void valuesReadWell() {
    QCOMPARE(ohmsText(220), std::string("220 Ω"));
    QCOMPARE(ohmsText(4700), std::string("4.7 kΩ"));
    QCOMPARE(ohmsText(1e6), std::string("1 MΩ"));
    QCOMPARE(bandsOf(220), (std::vector<std::string>{"red", "red", "brown", "gold"}));
    QCOMPARE(bandsOf(10000), (std::vector<std::string>{"brown", "black", "orange", "gold"}));
    QCOMPARE(bandsOf(4.7), (std::vector<std::string>{"yellow", "violet", "gold", "gold"}));
    QCOMPARE(ownedOhms().size(), std::size_t(10));
    QVERIFY(std::is_sorted(ownedOhms().begin(), ownedOhms().end()));
  }
  void everyKindIsComplete() {
    for (const PartKind* k : catalogue().parts()) {
      QVERIFY2(!k->label.empty() && !k->what.empty() && !k->place.empty() && !k->never.empty() &&
                   !k->words.empty(),
               k->type.c_str());
      QVERIFY2(k->nameOf && k->shortText && k->devices, k->type.c_str());
      for (const auto& way : k->print.orientations) QCOMPARE(way.size(), k->print.legs.size());
    }
    QCOMPARE(catalogue().search("press")[0]->type, std::string("button"));
    QCOMPARE(catalogue().search("oh")[0]->type, std::string("resistor"));
    QVERIFY(catalogue().search("zzz").empty());
    QCOMPARE(ternKindPins(), 26);
  }
  void pinsAreNamedByWhatHangsOnThem() {
    Bench bench = beacon()
                      .button("Call button", 18)
                      .resistor("r2", 10000, "c20", "c25")
                      .wire("D2", "a20")
                      .wire("GND2", "a25");
    const Project p = bench;
    const Nets nets(p, catalogue());
    QCOMPARE(pinLabel(p, nets, "b1", "D4"), std::string("led1"));
    QCOMPARE(pinLabel(p, nets, "b1", "D2"), std::string("Call button"));
    QCOMPARE(pinLabel(p, nets, "b1", "D13"), std::string("board’s own lamp"));
    QCOMPARE(pinLabel(p, nets, "b1", "D9"), std::string());
    // A label that the user gave stands in its place; taken off, it is as before.
    const Project named = edits::setPinLabel(p, "b1", "D4", "Harbour light");
    QCOMPARE(pinLabel(named, nets, "b1", "D4"), std::string("Harbour light"));
    QCOMPARE(hangsOn(named, nets, "b1", "D4"), std::string("led1"));
    QVERIFY(edits::setPinLabel(named, "b1", "D4", "") == p);
    const Project pulled = edits::setPull(named, "b1", "D4", true);
    QCOMPARE(edits::setPull(pulled, "b1", "D4", false), named);
  }

 private:
  static int ternKindPins() { return static_cast<int>(catalogue().boardKind("tern")->pins.size()); }
};

QTEST_GUILESS_MAIN(TestParts)
#include "tst_parts.moc"
