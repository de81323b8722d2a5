#include <QtTest>

#include "support/avr_chip.h"

using namespace ignavo;
using namespace ignavo::test;
using avr::Cycle;
using avr::Drive;

namespace {

constexpr const char* mega = "atmega328p";
const avr::Chip& megaChip() { return *avr::chipNamed(mega); }

// The names of registers and the pins of ports, without a program around them.
std::string assembled(const std::string& body) {
  return "#define __SFR_OFFSET 0\n#include <avr/io.h>\n.global main\n" + body;
}
std::string inC(const std::string& body) {
  return "#include <avr/io.h>\n#include <avr/interrupt.h>\n#include <avr/sleep.h>\n"
         "#include <util/delay.h>\n" +
         body;
}
std::vector<Cycle> between(const std::vector<Cycle>& moments) {
  std::vector<Cycle> out;
  for (std::size_t k = 1; k < moments.size(); ++k) out.push_back(moments[k] - moments[k - 1]);
  return out;
}

}  // namespace

// What is around the instructions of a chip, against closed forms of the data sheet.
class TestAvrUnits : public QObject {
  Q_OBJECT

 private Q_SLOTS:
  // A loop of two writes and a jump: 2 + 2 + 2 cycles.
  void pinsAreDrivenToTheCycle() {
    const auto chip = running(mega, assembled("sbi 4, 7\n1: sbi 5, 7\n cbi 5, 7\n rjmp 1b\n"), "S");
    QVERIFY(chip);
    chip->run(600);
    const int pin = megaChip().pinNamed("PB7");
    const auto rises = chip->outside.when(pin, Drive::high);
    QCOMPARE(rises.front(), Cycle{4});
    for (const Cycle c : between(rises)) QCOMPARE(c, Cycle{6});
    const auto falls = chip->outside.when(pin, Drive::low);
    QCOMPARE(falls[1] - rises[0], Cycle{2});
  }

  void delaysAreExactAndJumpedOver() {
    for (const char* ms : {"0.01", "0.1", "1", "7.3", "500", "2000"}) {
      const auto chip = running(
          mega,
          "#define F_CPU 16000000UL\n" +
              inC(std::string("int main(void) { DDRB = 1; for (;;) { PORTB |= 1; _delay_ms(") + ms +
                  "); PORTB &= ~1; _delay_ms(" + ms + "); } }"));
      QVERIFY(chip);
      const auto cycles = static_cast<Cycle>(std::ceil(std::atof(ms) * 16000 - 1e-6));
      chip->run(cycles * 20);
      const auto rises = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
      // sbi, cbi, and the jump back.
      for (const Cycle c : between(rises)) QCOMPARE(c, 2 * cycles + 6);
      QVERIFY(rises.size() >= 9);
    }
  }

  // Stopping anywhere in between changes nothing.
  void stretchesDoNotMatter() {
    const auto whole = running(
        mega, "#define F_CPU 16000000UL\n" +
                  inC("ISR(TIMER0_OVF_vect) { PORTB ^= 2; } int main(void) { DDRB = 3; TCCR0B = 2; "
                      "TIMSK0 = 1; sei(); for (;;) { PORTB ^= 1; _delay_us(333); } }"));
    QVERIFY(whole);
    Running cut = *whole;
    whole->run(400'000);
    for (Cycle c = 1; cut.machine.now() < 400'000; c = c * 5 % 997 + 1)
      cut.machine.run(cut.outside, std::min<Cycle>(cut.machine.now() + c, 400'000));
    QCOMPARE(cut.outside.driven.size(), whole->outside.driven.size());
    for (std::size_t k = 0; k < cut.outside.driven.size(); ++k) {
      QCOMPARE(cut.outside.driven[k].at, whole->outside.driven[k].at);
      QCOMPARE(cut.outside.driven[k].pin, whole->outside.driven[k].pin);
    }
  }

  void pulsesOfTimer0And2_data() {
    QTest::addColumn<int>("timer");
    QTest::addColumn<int>("mode");    // WGM
    QTest::addColumn<int>("select");  // clock
    QTest::addColumn<int>("divide");
    QTest::addColumn<int>("compare");
    for (const int timer : {0, 2})
      for (const int compare : {0, 1, 63, 127, 254, 255}) {
        const int divides[3] = {1, 8, 64};
        const int selects[3] = {1, 2, timer == 0 ? 3 : 4};
        for (int d = 0; d < 3; ++d)
          for (const int mode : {1, 3})
            QTest::addRow("timer %d mode %d / %d at %d", timer, mode, divides[d], compare)
                << timer << mode << selects[d] << divides[d] << compare;
      }
  }
  void pulsesOfTimer0And2() {
    QFETCH(int, timer);
    QFETCH(int, mode);
    QFETCH(int, select);
    QFETCH(int, divide);
    QFETCH(int, compare);
    const std::string n = std::to_string(timer);
    const auto chip = running(
        mega, inC("int main(void) { DDRD = 0x68; OCR" + n + "B = " + std::to_string(compare) +
                  "; TCCR" + n + "A = 0x20 | " + std::to_string(mode) + "; TCCR" + n +
                  "B = " + std::to_string(select) + "; for (;;); }"));
    QVERIFY(chip);
    const Cycle range = Cycle{divide} * (mode == 3 ? 256 : 510);
    chip->run(range * 20 + 200);
    const int pin = megaChip().pinNamed(timer == 0 ? "PD5" : "PD3");
    const auto rises = chip->outside.when(pin, Drive::high);
    auto falls = chip->outside.when(pin, Drive::low);
    // Fast: high for one more than the compare value; always at the end of the range. With the
    // phase kept: for twice the value of 510, never at 0 and always at 255.
    const int high = mode == 3 ? compare + 1 : 2 * compare;
    const bool constant = mode == 3 ? compare == 255 : compare == 0 || compare == 255;
    if (constant) {
      QVERIFY(rises.size() <= 2);
      QCOMPARE(chip->outside.now[static_cast<std::size_t>(pin)],
               compare == 0 ? Drive::low : Drive::high);
      return;
    }
    QVERIFY(rises.size() > 10);
    for (std::size_t k = 2; k < rises.size(); ++k) QCOMPARE(rises[k] - rises[k - 1], range);
    for (std::size_t k = 3; k + 1 < rises.size(); ++k) {
      const auto fall = std::upper_bound(falls.begin(), falls.end(), rises[k]);
      QVERIFY(fall != falls.end());
      QCOMPARE(*fall - rises[k], Cycle{high} * divide);
    }
  }

  void wideTimerInItsModes_data() {
    QTest::addColumn<int>("mode");
    QTest::addColumn<int>("top");
    QTest::addColumn<bool>("both");  // up and down
    const struct {
      int mode, top;
      bool both;
    } rows[] = {{1, 255, true},     {2, 511, true},    {3, 1023, true},   {5, 255, false},
                {6, 511, false},    {7, 1023, false},  {8, 5000, true},   {10, 5000, true},
                {14, 39999, false}, {14, 5000, false}, {10, 39999, true}, {8, 39999, true}};
    for (const auto& row : rows)
      QTest::addRow("mode %d to %d", row.mode, row.top) << row.mode << row.top << row.both;
  }
  void wideTimerInItsModes() {
    QFETCH(int, mode);
    QFETCH(int, top);
    QFETCH(bool, both);
    const int compare = top / 3;
    const auto chip = running(
        mega, inC("int main(void) { DDRB = 6; ICR1 = " + std::to_string(top) + "; OCR1B = " +
                  std::to_string(compare) + "; TCCR1A = 0x20 | " + std::to_string(mode & 3) +
                  "; TCCR1B = " + std::to_string((mode >> 2) << 3 | 2) + "; for (;;); }"));
    QVERIFY(chip);
    const Cycle range = 8 * (both ? 2 * Cycle{top} : Cycle{top} + 1);
    chip->run(range * 12);
    const int pin = megaChip().pinNamed("PB2");
    const auto rises = chip->outside.when(pin, Drive::high);
    const auto falls = chip->outside.when(pin, Drive::low);
    QVERIFY(rises.size() > 8);
    for (std::size_t k = 3; k + 1 < rises.size(); ++k) {
      QCOMPARE(rises[k] - rises[k - 1], range);
      const auto fall = std::upper_bound(falls.begin(), falls.end(), rises[k]);
      QCOMPARE(*fall - rises[k], Cycle{8} * (both ? 2 * compare : compare + 1));
    }
  }

  // CTC: the output toggles every (OCR + 1) ticks; its interrupt comes then, and the flag goes.
  void clearsOnMatch() {
    for (const int compare : {0, 1, 99, 249}) {
      const auto chip = running(
          mega, inC("volatile uint16_t n; ISR(TIMER0_COMPA_vect) { n++; } int main(void) { DDRD = "
                    "0x40; OCR0A = " +
                    std::to_string(compare) +
                    "; TCCR0A = 0x42; TIMSK0 = 2; TCCR0B = 3; sei(); for (;;); }"));
      QVERIFY(chip);
      const Cycle period = Cycle{64} * (compare + 1);
      chip->run(period * 50 + 300);
      auto rises = chip->outside.when(megaChip().pinNamed("PD6"), Drive::high);
      QVERIFY(rises.size() >= 24);
      for (const Cycle c : between(rises)) QCOMPARE(c, 2 * period);
      const auto n = static_cast<Cycle>(chip->value(0x100, 2));
      QVERIFY2(n >= 49 && n <= 51 + 300 / period, qPrintable(QString::number(n)));
    }
  }

  // Asleep until the timer wakes it: the interrupt's response is the same each time.
  void sleepsUntilItsTimer() {
    const auto chip = running(
        mega,
        inC("EMPTY_INTERRUPT(TIMER1_COMPA_vect) int main(void) { DDRB = 1; OCR1A = 15999; "
            "TCCR1B = 9; TIMSK1 = 2; sei(); for (;;) { sleep_enable(); sleep_cpu(); PINB = 1; "
            "} }"));
    QVERIFY(chip);
    chip->run(16'000 * 1000);
    const auto rises = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QVERIFY(rises.size() >= 498);
    for (const Cycle c : between(rises)) QCOMPARE(c, Cycle{32'000});
    QVERIFY(chip->machine.asleep());
  }

  // Waking takes 4 cycles, the response 4, the jump of the vector 3 (7.7.1).
  void interruptResponse() {
    const auto chip = running(mega,
                              assembled("jmp start\n jmp hit\n start: ldi r16, 3\n sts 0x69, r16\n"
                                        "ldi r16, 1\n out 0x1d, r16\n sbi 4, 0\n ldi r16, 1\n"
                                        "out 0x33, r16\n sei\n sleep\n 1: rjmp 1b\n"
                                        "hit: sbi 5, 0\n reti\n"),
                              "S");
    QVERIFY(chip);
    chip->run(200);
    QVERIFY(chip->machine.asleep());
    const Cycle at = chip->machine.now() + 500;
    chip->machine.run(chip->outside, at);
    chip->machine.pinChanged(chip->outside, megaChip().pinNamed("PD2"), true, at);
    chip->run(100);
    const auto rises = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QCOMPARE(rises.size(), std::size_t{1});
    QCOMPARE(rises[0] - at, Cycle{4 + 4 + 3 + 2});
  }

  void measuresInItsTime() {
    const auto chip = running(
        mega,
        inC("volatile uint16_t a, b; int main(void) { DDRB = 1; ADMUX = 0x40 | 3; ADCSRA = "
            "0x87; ADCSRA |= 0x40; while (ADCSRA & 0x40); a = ADC; PORTB = 1; ADCSRA |= 0x40; "
            "while (ADCSRA & 0x40); b = ADC; PORTB = 0; for (;;); }"));
    QVERIFY(chip);
    chip->outside.analog[static_cast<std::size_t>(megaChip().pinNamed("PC3"))] = 612;
    chip->run(8000);
    QCOMPARE(chip->value(0x100, 2), std::uint64_t{612});
    QCOMPARE(chip->value(0x102, 2), std::uint64_t{612});
    // 25 and 13 clocks of 128 cycles, from the tick behind the write; samples at 13.5 and 1.5.
    const auto& measured = chip->outside.measured;
    QCOMPARE(measured.size(), std::size_t{2});
    const Cycle rise = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high)[0];
    const Cycle fall = chip->outside.when(megaChip().pinNamed("PB0"), Drive::low)[1];
    QVERIFY(rise - measured[0] > 128 * 23 / 2 && rise - measured[0] < 128 * 23 / 2 + 30);
    QVERIFY(fall - measured[1] > 128 * 23 / 2 && fall - measured[1] < 128 * 23 / 2 + 30);
    QCOMPARE((measured[1] - measured[0]) % 128, Cycle{0});
  }

  void speaksAtItsRate() {
    const auto chip = running(
        mega,
        inC("int main(void) { UBRR0 = 25; UCSR0B = 0x18; const char *t = \"berth 3\\n\"; "
            "while (*t) { while (!(UCSR0A & 0x20)); UDR0 = *t++; } for (;;) if (UCSR0A & 0x80) "
            "UDR0 = UDR0 + 1; }"));
    QVERIFY(chip);
    constexpr Cycle letter = 10 * 16 * 26;  // 38,400 bits a second
    chip->run(letter * 10);
    QCOMPARE(chip->outside.said, std::string("berth 3\n"));
    for (const Cycle c : between(chip->outside.saidAt)) QCOMPARE(c, letter);
    // The line shows each bit: "b" is 0x62.
    const auto& driven = chip->outside.driven;
    const int line = megaChip().pinNamed("PD1");
    QString bits;
    Cycle first = -1;
    for (int k = 0; k < 10; ++k) {
      bool high = true;
      for (const auto& d : driven) {
        if (d.pin != line) continue;
        if (first < 0 && d.drive == Drive::low) first = d.at;
        if (first >= 0 && d.at > first + (2 * k + 1) * 8 * 26) break;
        high = d.drive == Drive::high;
      }
      bits += high ? '1' : '0';
    }
    QCOMPARE(bits, QString("0010001101"));
    chip->machine.receive(chip->outside, 'A', chip->machine.now());
    chip->run(letter * 2);
    QCOMPARE(chip->outside.said, std::string("berth 3\nB"));
  }

  void pinsThatChange() {
    const auto chip = running(
        mega,
        inC("volatile uint8_t n, m; ISR(PCINT2_vect) { n++; } ISR(INT1_vect) { m++; } int "
            "main(void) { PCICR = 4; PCMSK2 = 0x10; EICRA = 0x08; EIMSK = 2; sei(); for (;;); "
            "}"));
    QVERIFY(chip);
    chip->run(200);
    const auto change = [&](const char* pin, bool high) {
      const int p = megaChip().pinNamed(pin);
      chip->outside.outer[static_cast<std::size_t>(p)] = high;
      chip->machine.pinChanged(chip->outside, p, high, chip->machine.now());
      chip->run(100);
    };
    change("PD4", true);
    change("PD4", false);
    change("PD5", true);
    change("PD3", true);
    change("PD3", false);
    change("PD3", true);
    QCOMPARE(int(chip->machine.memoryAt(0x101)) + int(chip->machine.memoryAt(0x100)), 3);
    QVERIFY(chip->machine.memoryAt(0x100) == 2 || chip->machine.memoryAt(0x101) == 2);
  }

  // After 16 ms and no less it barks; until then feeding it puts that off.
  void watchdogResets() {
    const auto chip = running(
        mega,
        inC("#include <avr/wdt.h>\nint main(void) { DDRB = 1; PORTB = 1; uint8_t why = MCUSR; "
            "MCUSR = 0; wdt_disable(); PORTB = 0; if (why & 8) for (;;) PINB = 2; "
            "wdt_enable(WDTO_15MS); for (uint8_t k = 0; k < 5; k++) { for (uint16_t i = 0; i < "
            "20000; i++) PINB = 4; wdt_reset(); } for (;;); }"));
    QVERIFY(chip);
    chip->run(16'000 * 60);
    const auto rises = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QCOMPARE(rises.size(), std::size_t{2});
    QVERIFY(rises[1] > 5 * 20'000 * 5 + 256'000);
    QVERIFY(chip->machine.fault().code == avr::Fault::Code::none);
  }

  // What is written says after how long, not since when: each row what is written 8 ms after the
  // watchdog was fed, for 16 ms, and when it barks after that feeding.
  void watchdogCountsOn_data() {
    QTest::addColumn<QString>("written");
    QTest::addColumn<int>("milliseconds");
    QTest::newRow("the same") << "WDTCSR = 0x18; WDTCSR = 0x40;" << 16;
    QTest::newRow("longer") << "WDTCSR = 0x18; WDTCSR = 0x41;" << 32;
    QTest::newRow("only its flag") << "WDTCSR |= 0x80;" << 16;
    QTest::newRow("fed") << "wdt_reset();" << 24;
    QTest::newRow("off and on") << "WDTCSR = 0x18; WDTCSR = 0; WDTCSR = 0x18; WDTCSR = 0x40;" << 24;
  }
  void watchdogCountsOn() {
    QFETCH(QString, written);
    QFETCH(int, milliseconds);
    const auto chip =
        running(mega,
                "#define F_CPU 16000000UL\n#include <avr/interrupt.h>\n#include <avr/wdt.h>\n"
                "#include <util/delay.h>\n" +
                    inC("ISR(WDT_vect) { PINB = 1; cli(); }\n"
                        "int main(void) { DDRB = 3; WDTCSR = 0x18; WDTCSR = 0x40; PINB = 2; "
                        "_delay_ms(8); " +
                        written.toStdString() + " sei(); for (;;); }"));
    QVERIFY(chip);
    chip->run(16'000 * 100);
    const auto fed = chip->outside.when(megaChip().pinNamed("PB1"), Drive::high),
               barked = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QCOMPARE(fed.size(), std::size_t{1});
    QVERIFY(!barked.empty());
    QVERIFY2(std::abs(barked.front() - fed.front() - 16'000 * milliseconds) < 200,
             std::to_string(barked.front() - fed.front()).c_str());
    QVERIFY(chip->machine.fault().code == avr::Fault::Code::none);
  }

  // Set to less than it has counted, it barks at once.
  void watchdogMadeShorter() {
    const auto chip = running(
        mega, "#define F_CPU 16000000UL\n#include <avr/interrupt.h>\n#include <util/delay.h>\n" +
                  inC("ISR(WDT_vect) { PINB = 1; cli(); }\n"
                      "int main(void) { DDRB = 3; WDTCSR = 0x18; WDTCSR = 0x41; _delay_ms(24); "
                      "PINB = 2; sei(); WDTCSR = 0x18; WDTCSR = 0x40; for (;;); }"));
    QVERIFY(chip);
    chip->run(16'000 * 100);
    const auto set = chip->outside.when(megaChip().pinNamed("PB1"), Drive::high),
               barked = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QCOMPARE(set.size(), std::size_t{1});
    QVERIFY(!barked.empty());
    QVERIFY(barked.front() - set.front() < 100);
  }

  // It comes behind an instruction that is under way, whatever register that writes.
  void watchdogInterruptsAnyLoop() {
    const auto chip = running(
        mega,
        "#include <avr/interrupt.h>\n" +
            inC("ISR(WDT_vect) { PINB = 1; }\n"
                "int main(void) { DDRB = 1; WDTCSR = 0x18; WDTCSR = 0x40; sei(); "
                "for (;;) { TCNT1L = 0; OCR1AL = 1; TCNT1L = 2; TIMSK1 = 0; TCNT1L = 3; } }"));
    QVERIFY(chip);
    chip->run(16'000'000);
    // Each time after 2,048 of its own ticks.
    const auto rises = chip->outside.when(megaChip().pinNamed("PB0"), Drive::high);
    QCOMPARE(rises.size(), std::size_t{31});
    for (std::size_t i = 1; i < rises.size(); ++i)
      QVERIFY(std::abs(rises[i] - rises[i - 1] - 2 * 256'000) < 10);
    QVERIFY(chip->machine.fault().code == avr::Fault::Code::none);
  }

  // Copies go on alike, and what came round is known.
  void copiesAndPeriods() {
    const auto chip = running(
        mega,
        "#define F_CPU 16000000UL\n" +
            inC("int main(void) { DDRD = 0x60; OCR0B = 99; TCCR0A = 0x23; TCCR0B = 3; for (;;) "
                "{ PIND = 0x40; _delay_us(1024 - 0.5); } }"));
    QVERIFY(chip);
    chip->run(1'000'000);
    Running copy = *chip;
    chip->run(777'777);
    copy.run(777'777);
    QVERIFY(copy.machine.sameAs(chip->machine, 0));
    QCOMPARE(copy.machine.now(), chip->machine.now());
    // The delay and the loop make a period that is none of the timer's.
    Running later = *chip;
    later.run(16384 + 1);
    QVERIFY(!later.machine.sameAs(chip->machine, later.machine.now() - chip->machine.now()));
    // Moved by any time, everything stands alike.
    avr::Machine moved = chip->machine;
    moved.shift(123'456'789);
    QVERIFY(moved.sameAs(chip->machine, 123'456'789));
    QVERIFY(!moved.sameAs(chip->machine, 123'456'788));
    moved.poke(0x123, 1);
    QVERIFY(!moved.sameAs(chip->machine, 123'456'789));
  }

  // The ATtiny85: its own timer 1, vectors of one word, pins.
  void smallChip() {
    const auto chip =
        running("attiny85",
                inC("ISR(TIMER1_OVF_vect) { PORTB ^= 8; } int main(void) { DDRB = 0x1A; OCR1C = "
                    "199; OCR1B = 49; GTCCR = 0x60; TCCR1 = 4; TIMSK = 4; sei(); for (;;) PINB = "
                    "2; }"));
    QVERIFY(chip);
    chip->run(200 * 8 * 40);
    const avr::Chip& tiny = *avr::chipNamed("attiny85");
    const auto rises = chip->outside.when(tiny.pinNamed("PB4"), Drive::high);
    const auto falls = chip->outside.when(tiny.pinNamed("PB4"), Drive::low);
    QVERIFY(rises.size() > 30);
    for (std::size_t k = 3; k + 1 < rises.size(); ++k) {
      QCOMPARE(rises[k] - rises[k - 1], Cycle{200 * 8});
      QCOMPARE(*std::upper_bound(falls.begin(), falls.end(), rises[k]) - rises[k], Cycle{50 * 8});
    }
    QVERIFY(chip->outside.when(tiny.pinNamed("PB3"), Drive::high).size() > 15);
    QVERIFY(chip->machine.fault().code == avr::Fault::Code::none);
    QCOMPARE(tiny.pinNamed("PB6"), -1);
    QCOMPARE(tiny.pinNamed("PD2"), -1);
  }
};

QTEST_GUILESS_MAIN(TestAvrUnits)
#include "tst_avr_units.moc"
