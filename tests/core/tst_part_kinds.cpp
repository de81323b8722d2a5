#include <QtTest>
#include <cmath>
#include <set>

#include "bench/placing.h"
#include "check/finding.h"
#include "run/kernel.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

struct Solved {
  explicit Solved(const Project& project, const std::map<std::string, PinDrive>& pins = {})
      : p(project), circuit(p) {
    CircuitState s = circuit.restState();
    for (const auto& [pin, drive] : pins)
      s.pins[static_cast<std::size_t>(circuit.pinIndex("b1", pin))] = drive;
    r = circuit.solve(s);
  }
  const PartReading& part(const std::string& id) const {
    for (std::size_t i = 0; i < p.parts->size(); ++i)
      if ((*p.parts)[i]->id == id) return r.parts[i];
    static const PartReading none;
    return none;
  }
  std::optional<double> volts(const std::string& socket) const {
    const int net = circuit.nets().of(Bench::socket(socket));
    return r.nets[static_cast<std::size_t>(net)];
  }
  Project p;
  Circuit circuit;
  CircuitReading r;
};

bool near(double a, double b, double within) { return std::abs(a - b) <= within; }

// Supply rails: 5 V on lp, ground on ln.
Bench fed() { return Bench().wire("5V", "lp1").wire("GND", "ln1"); }

int count(const CheckResult& r, const std::string& rule) {
  int n = 0;
  for (const Finding& f : r.findings) n += f.rule == rule ? 1 : 0;
  return n;
}

}  // namespace

class TestPartKinds : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // What flows through a switch is told at either throw, at the contact that is closed.
  void aSwitchReadsTheContactThatIsClosed() {
    for (const char* at : {"left", "right"}) {
      const bool left = at == std::string("left");
      const Solved s(fed()
                         .part("switch", "sw", {"c10", "c12", "c14"})
                         .prop("sw", "position", std::string(at))
                         .wire("lp2", left ? "a10" : "a14")
                         .resistor("r", 470, "a12", "a20")
                         .wire("ln2", "b20")
                         .get());
      QVERIFY(near(s.part("sw").amps, 5.0 / 470, 1e-4));
      QVERIFY(near(s.part("sw").volts.value(), 0, 1e-3));
    }
  }
  // A knob may be used as a resistor between its tap and either end.
  void aKnobWithAnOpenEndReadsItsTrack() {
    for (const char* end : {"end1", "end2"}) {
      const bool first = end == std::string("end1");
      const Solved s(fed()
                         .part("pot", "p", {"c10", "c12", "c14"})
                         .prop("p", "position", 50.0)
                         .wire("lp2", "a12")
                         .resistor("r", 1000, first ? "a10" : "a14", "a20")
                         .wire("ln2", "b20")
                         .get());
      QVERIFY(near(std::abs(s.part("p").amps), 5.0 / 6000, 1e-5));
    }
    const Solved whole(
        fed().part("pot", "p", {"c10", "c12", "c14"}).wire("lp2", "a10").wire("ln2", "a14").get());
    QVERIFY(near(whole.part("p").amps, 5.0 / 10000, 1e-6));
  }
  void everyKindOfTheTableIsThere() {
    const std::map<std::string, std::vector<std::string>> legs = {
        {"led", {"anode", "cathode"}},
        {"rgb-led", {"red", "green", "blue", "cathode"}},
        {"resistor", {"a", "b"}},
        {"button", {"1a", "1b", "2a", "2b"}},
        {"switch", {"left", "common", "right"}},
        {"pot", {"end1", "wiper", "end2"}},
        {"light-sensor", {"a", "b"}},
        {"temp-sensor", {"a", "b"}},
        {"piezo", {"+", "-"}},
        {"buzzer", {"+", "-"}},
        {"motor", {"a", "b"}},
        {"servo", {"signal", "+", "-"}},
        {"npn", {"emitter", "base", "collector"}},
        {"nmos", {"gate", "drain", "source"}},
        {"diode", {"anode", "cathode"}},
        {"capacitor", {"a", "b"}},
        {"battery", {"+", "-"}},
        {"meter", {"red", "black"}},
        {"number-display", {"a", "b", "c", "d", "e", "f", "g", "dp", "k1", "k2"}}};
    QCOMPARE(catalogue().parts().size(), legs.size());
    for (const auto& [type, ids] : legs) {
      const PartKind* kind = catalogue().partKind(type);
      QVERIFY2(kind, type.c_str());
      QCOMPARE(kind->print.legs.size(), ids.size());
      for (std::size_t i = 0; i < ids.size(); ++i) QCOMPARE(kind->print.legs[i].id, ids[i]);
      if (kind->print.leads) QCOMPARE(kind->print.rest.size(), ids.size());
      QVERIFY(kind->print.bodyWidth > 0.3 && kind->print.bodyHeight > 0.3);
    }
  }
  // In every way a stiff part's legs are the same distances apart.
  void waysAreTurnsOfOneShape() {
    for (const PartKind* kind : catalogue().parts()) {
      if (kind->print.stretches || kind->print.leads) continue;
      const auto& first = kind->print.orientations.front();
      for (const auto& way : kind->print.orientations)
        for (std::size_t a = 0; a < way.size(); ++a)
          for (std::size_t b = 0; b < way.size(); ++b)
            QVERIFY2(near(std::hypot(way[a].x - way[b].x, way[a].y - way[b].y),
                          std::hypot(first[a].x - first[b].x, first[a].y - first[b].y), 1e-9),
                     kind->type.c_str());
    }
  }
  void mirrorTwiceIsNothing() {
    for (const PartKind* kind : catalogue().parts()) {
      Part part = newPart(emptyProject(), *kind);
      for (std::size_t i = 0; i < part.legs.size(); ++i)
        part.legs[i].in = Socket{"bb", "a" + std::to_string(i + 1)};
      const Part once = flipped(part, catalogue());
      QVERIFY2(!(once == part), kind->type.c_str());
      QVERIFY(flipped(once, catalogue()) == part);
    }
  }
  void searchFindsWhatLearnersSay() {
    const std::pair<const char*, const char*> words[] = {
        {"press", "button"}, {"ohm", "resistor"},         {"dusk", "light-sensor"},
        {"beep", "piezo"},   {"winch", "motor"},          {"gate", "servo"},
        {"knob", "pot"},     {"warm", "temp-sensor"},     {"flyback", "diode"},
        {"cell", "battery"}, {"digit", "number-display"}, {"store", "capacitor"},
        {"slide", "switch"}, {"mix", "rgb-led"},          {"alarm", "buzzer"},
        {"probe", "meter"},  {"milliamp", "meter"}};
    for (const auto& [word, type] : words) {
      std::set<std::string> found;
      for (const PartKind* k : catalogue().search(word)) found.insert(k->type);
      QVERIFY2(found.contains(type), word);
    }
  }
  void rgbLampsShareTheCathode() {
    const Solved s(fed()
                       .part("rgb-led", "rgb1", {"h5", "h7", "h8", "h6"})
                       .resistor("r1", 220, "c5", "g5")
                       .resistor("r2", 1000, "c8", "g8")
                       .wire("lp2", "a5")
                       .wire("lp3", "a8")
                       .wire("j6", "ln3")
                       .get());
    const PartReading& rgb = s.part("rgb1");
    QCOMPARE(rgb.lamps.size(), std::size_t(3));
    QVERIFY(near(rgb.lamps[0], s.part("r1").amps, 1e-6) && rgb.lamps[0] > 0.013);
    QVERIFY(near(rgb.lamps[2], s.part("r2").amps, 1e-6) && rgb.lamps[2] > 0.0015);
    QVERIFY(std::abs(rgb.lamps[1]) < 1e-9);
    QVERIFY(near(rgb.amps, rgb.lamps[0] + rgb.lamps[2], 1e-9));
  }
  void displayLightsOneBar() {
    const Solved s(fed()
                       .part("number-display", "digit1",
                             {"g5", "g6", "g8", "b9", "b8", "b5", "b6", "g9", "b7", "g7"})
                       .resistor("r1", 330, "j6", "j2")
                       .wire("h2", "lp4")
                       .wire("a7", "ln4")
                       .get());
    const PartReading& digit = s.part("digit1");
    QVERIFY(digit.lamps[1] > 0.008);
    for (std::size_t l : {0u, 2u, 3u, 4u, 5u, 6u, 7u}) QVERIFY(std::abs(digit.lamps[l]) < 1e-9);
  }
  void switchStandsInOneOfTwoPositions() {
    for (const char* position : {"left", "right"}) {
      const Solved s(fed()
                         .part("switch", "sw1", {"c5", "c6", "c7"})
                         .prop("sw1", "position", std::string(position))
                         .wire("a5", "lp2")
                         .wire("a7", "ln2")
                         .wire("D2", "a6")
                         .get());
      QVERIFY(near(*s.volts("D2"), std::string(position) == "left" ? 5.0 : 0.0, 0.01));
    }
  }
  void potAndSensorsDivide() {
    for (const auto& [percent, volts] :
         {std::pair{0.0, 5.0}, std::pair{50.0, 2.5}, std::pair{100.0, 0.0}}) {
      const Solved s(fed()
                         .part("pot", "pot1", {"c5", "c7", "c9"})
                         .prop("pot1", "position", percent)
                         .wire("a5", "lp2")
                         .wire("a9", "ln2")
                         .wire("A0", "a7")
                         .get());
      QVERIFY(near(*s.volts("A0"), volts, 0.01));
    }
    const auto sensor = [](const char* type, const char* key, double value) {
      const Solved s(fed()
                         .part(type, "s1", {"c5", "c7"})
                         .prop("s1", key, value)
                         .resistor("r1", 10000, "d7", "d11")
                         .wire("a5", "lp2")
                         .wire("a11", "ln2")
                         .wire("A0", "a7")
                         .get());
      return *s.volts("A0");
    };
    // 100 kΩ, 10 kΩ and 1 kΩ against 10 kΩ; 10 kΩ NTC at 25 °C.
    QVERIFY(near(sensor("light-sensor", "light", 0), 5.0 / 11, 0.01));
    QVERIFY(near(sensor("light-sensor", "light", 50), 2.5, 0.01));
    QVERIFY(near(sensor("light-sensor", "light", 100), 50.0 / 11, 0.01));
    QVERIFY(near(sensor("temp-sensor", "celsius", 25), 2.5, 0.01));
    QVERIFY(sensor("temp-sensor", "celsius", 60) > 3.8);
  }
  void transistorsSwitchTheMotor() {
    const auto winch = [](PinDrive drive) {
      return Solved(fed()
                        .part("nmos", "m1", {"c5", "c6", "c7"})
                        .part("motor", "motor1", {"j20", "j21"})
                        .part("diode", "d1", {"g21", "g20"})
                        .resistor("r1", 10000, "e5", "h9")
                        .wire("j9", "ln9")
                        .wire("D9", "a5")
                        .wire("lp5", "f20")
                        .wire("a6", "f21")
                        .wire("a7", "ln5")
                        .get(),
                    {{"D9", drive}});
    };
    const Solved on = winch(PinDrive::high), off = winch(PinDrive::low);
    QVERIFY(near(on.part("motor1").amps, 0.070, 0.001));
    QVERIFY(near(on.part("motor1").radiansPerSecond, (5 - 7 * 0.070) / 0.0045, 10));
    QVERIFY(near(on.part("m1").amps, 0.070, 0.001) && *on.part("m1").volts < 0.02);
    QVERIFY(std::abs(on.part("d1").amps) < 1e-7);
    QVERIFY(std::abs(off.part("motor1").amps) < 1e-6);
    QVERIFY(std::abs(on.part("m1").legs[0]) < 1e-12);  // a gate takes none

    const Solved npn(fed()
                         .part("npn", "q1", {"c5", "c6", "c7"})
                         .resistor("rb", 1000, "d6", "d10")
                         .resistor("rl", 100, "d7", "h7")
                         .wire("D9", "a10")
                         .wire("j7", "lp7")
                         .wire("a5", "ln5")
                         .get(),
                     {{"D9", PinDrive::high}});
    QVERIFY(*npn.part("q1").volts < 0.15);
    QVERIFY(near(npn.part("rl").amps, -0.049, 0.001));
    QVERIFY(near(npn.part("q1").legs[1], (5 - 0.75) / 1035, 3e-4));
  }
  void batteriesFeedWithoutABoard() {
    // Nothing of the board is joined: the minus of the battery is the reference.
    const Solved s(Bench()
                       .part("battery", "bat1", {"a1", "a9"})
                       .resistor("r1", 390, "c1", "c5")
                       .led("led1", "d5", "d9")
                       .get());
    QVERIFY(s.r.converged);
    QVERIFY(near(*s.volts("a9"), 0, 1e-6));
    QVERIFY(near(*s.volts("a1"), 9 - 1.7 * s.part("led1").amps, 1e-3));
    QVERIFY(near(s.part("led1").amps, (9 - 1.95) / 392, 3e-4));
    QVERIFY(s.part("bat1").watts < -0.1);  // it gives
    double sum = 0;
    for (const PartReading& p : s.r.parts) sum += p.watts;
    QVERIFY(std::abs(sum) < 1e-6);
  }
  void capacitorIsOpenAndPiezoHardlyLoads() {
    const Solved s(fed()
                       .part("capacitor", "c1", {"c5", "c7"})
                       .part("piezo", "piezo1", {"c10", "c13"})
                       .part("buzzer", "buzz1", {"c16", "c19"})
                       .wire("a5", "lp2")
                       .wire("a7", "ln2")
                       .wire("a10", "lp3")
                       .wire("a13", "ln3")
                       .wire("a16", "lp4")
                       .wire("a19", "ln4")
                       .get());
    QVERIFY(std::abs(s.part("c1").amps) < 1e-9);
    QVERIFY(near(s.part("piezo1").amps, 5e-5, 1e-6));
    QVERIFY(near(s.part("buzz1").amps, 0.012, 0.002));
  }
  void toneSpeedAndAngleOfARun() {
    const Project p = fed()
                          .part("piezo", "piezo1", {"c10", "c13"})
                          .part("servo", "servo1", {"j2", "j3", "j4"})
                          .part("motor", "motor1", {"j20", "j21"})
                          .wire("D5", "a10")
                          .wire("a13", "ln3")
                          .wire("D9", "f2")
                          .wire("f3", "lp9")
                          .wire("f4", "ln9")
                          .wire("f20", "lp20")
                          .wire("f21", "ln20")
                          .lane("always", "set d5 high\nwait 0.001\nset d5 low\nwait 0.001\n")
                          .lane("always", "set d9 high\nwait 0.0015\nset d9 low\nwait 0.0185\n");
    Kernel kernel(std::make_shared<const Project>(p));
    kernel.advance(second);
    const Snapshot s = kernel.snapshot();
    QVERIFY(near(s.motion[0].hertz, 500, 5));
    QVERIFY(near(s.motion[1].degrees, 90, 2));
    QVERIFY(near(s.motion[2].revolutionsPerMinute, 1002 * 60 / 6.2832, 100));
    kernel.inputNow({0, Input::What::powerOff, {}, {}, 0.0, nullptr});
    kernel.advance(2 * second);
    QCOMPARE(kernel.snapshot().motion[0].hertz, 0.0);
  }
  void aSwitchThrownWhileItRunsIsRead() {
    Bench bench =
        fed().part("switch", "sw1", {"c5", "c6", "c7"}).wire("a5", "lp2").wire("a7", "ln2");
    bench.wire("D2", "a6").program("if d2 high\n  set d13 high\notherwise\n  set d13 low\n");
    const Project left = bench;
    const Project right = bench.prop("sw1", "position", std::string("right"));
    Kernel kernel(std::make_shared<const Project>(left));
    const auto lamp = [&] {
      const int signal = kernel.trace().find(Signal::What::pinLevel, "b1", "D13");
      return kernel.trace().valueAt(signal, kernel.now()) > 0.5;
    };
    kernel.advance(second / 10);
    QVERIFY(lamp());
    kernel.inputNow({0, Input::What::project, {}, {}, 0.0, std::make_shared<const Project>(right)});
    kernel.advance(second / 5);
    QVERIFY(!lamp());
    kernel.inputNow({0, Input::What::setProp, "sw1", "position", std::string("left"), nullptr});
    kernel.advance(second / 2);
    QVERIFY(lamp());
    // A thrown switch is no changed circuit; nothing is marked.
    for (const Event& h : kernel.events()) QVERIFY(h.what != Event::What::changed);
  }
  void coloursBurnOneByOne() {
    const Project p =
        fed().part("rgb-led", "rgb1", {"h5", "h7", "h8", "h6"}).wire("lp2", "j5").wire("j6", "ln3");
    const CheckResult r = check(p);
    QCOMPARE(count(r, "led-overcurrent"), 1);
    QVERIFY(r.findings.front().severity == Severity::danger);
    QVERIFY(inWords(r.findings.front().title).find("(red)") != std::string::npos);
    Kernel kernel(std::make_shared<const Project>(p));
    kernel.advance(5 * second);
    QVERIFY(kernel.isBroken("rgb1"));
  }
  void batteryJoinedToItselfIsDanger() {
    const CheckResult held = check(Bench()
                                       .part("battery", "bat1", {"a1", "a3"})
                                       .part("button", "btn1", {"e1", "f1", "e3", "f3"}));
    QCOMPARE(count(held, "short-circuit"), 1);
    QCOMPARE(held.findings.front().pose.at("btn1"), std::string("pressed"));
    const CheckResult always =
        check(Bench().part("battery", "bat1", {"a1", "a3"}).wire("b1", "b3"));
    QCOMPARE(count(always, "short-circuit"), 1);
    QCOMPARE(count(check(Bench()
                             .part("battery", "bat1", {"a1", "a9"})
                             .resistor("r1", 390, "c1", "c5")
                             .led("led1", "d5", "d9")),
                   "short-circuit"),
             0);
  }
  // 5 V and ground on the outer legs of a switch: it joins one of them at a time.
  void switchBetweenTheSuppliesIsSound() {
    Bench bench =
        fed().part("switch", "sw1", {"c5", "c6", "c7"}).wire("a5", "lp2").wire("a7", "ln2");
    bench.wire("D2", "a6").program("if d2 high\n  set d13 high\notherwise\n  set d13 low\n");
    QVERIFY(check(bench).findings.empty());
    // The middle leg on ground as well: thrown to the left it shorts.
    bench.wire("b6", "ln6");
    const CheckResult r = check(bench);
    QVERIFY(count(r, "short-circuit") >= 1);
    QCOMPARE(r.findings.front().pose.at("sw1"), std::string("left"));
  }
  void quantitiesReadAndWrite() {
    for (const auto& [text, value] :
         std::vector<std::pair<std::string, double>>{{"220", 220},
                                                     {"4.7k", 4700},
                                                     {"4k7", 4700},
                                                     {"10 kΩ", 10000},
                                                     {"1M", 1e6},
                                                     {"100n", 1e-7},
                                                     {"2.2 uF", 2.2e-6},
                                                     {"47µF", 47e-6},
                                                     {"100nF", 1e-7},
                                                     {"330 ohms", 330}}) {
      const auto read = parseQuantity(text);
      QVERIFY2(read && near(*read, value, 1e-9 * value), text.c_str());
    }
    for (const char* bad : {"", "k", "4.7kk", "red", "10 apples", "1e400", "nan"})
      QVERIFY2(!parseQuantity(bad), bad);
    QCOMPARE(quantityText(1e-7, "F"), std::string("100 nF"));
    QCOMPARE(quantityText(47e-6, "F"), std::string("47 µF"));
    QCOMPARE(quantityText(25, "V"), std::string("25 V"));
  }
};

QTEST_GUILESS_MAIN(TestPartKinds)
#include "tst_part_kinds.moc"
