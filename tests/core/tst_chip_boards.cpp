#include <QtTest>
#include <random>

#include "make/chip_program.h"
#include "posix_runner.h"
#include "run/comparison.h"
#include "run/kernel.h"
#include "run/machine_processor.h"
#include "support/avr_chip.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// Several boards in one time, each on the machine code that was made of its program.
class TestChipBoards : public QObject {
  Q_OBJECT

  static ChipPrograms compiled(const Project& project) {
    ChipPrograms out;
    PosixRunner runner;
    for (const BoardItem& board : project.boards) {
      const Firmware f = buildFirmware(project, board.id, runner);
      if (f.code != Firmware::Code::done) QTest::qFail(f.messages.c_str(), __FILE__, __LINE__);
      out[board.id] = std::make_shared<const ChipProgram>(chipProgramOf(project, board.id, f));
    }
    return out;
  }
  // The first edges that differ, or nothing.
  static QString difference(const std::vector<Edge>& a, const std::vector<Edge>& b) {
    for (std::size_t e = 0; e < std::min(a.size(), b.size()); ++e)
      if (!(a[e] == b[e]))
        return QString("edge %1: %2 ns, %3 ns")
            .arg(e)
            .arg(static_cast<qint64>(a[e].at))
            .arg(static_cast<qint64>(b[e].at));
    if (a.size() == b.size()) return {};
    return QString("%1 edges, %2").arg(a.size()).arg(b.size());
  }
  // One board with much to do at once: by its clock, with sound, dimming and lines to the computer.
  static std::shared_ptr<const Project> busy() {
    return shared(
        Bench()
            .lane("always", "flip d4\nwait 0.001\nlog seconds\nwait 0.002\n")
            .lane("every 0.0007 s", "flip d7\n")
            .lane("always", "tone 1500 on d8 for 0.003\nwait 0.001\n")
            .lane("always",
                  "set level of d5 to 30\nwait 0.005\nset level of d5 to 60\nwait 0.005\n"));
  }
  // Two chips with the same to do: one goes at once to where the other comes as `goes` lets it.
  template <typename Goes>
  static void asOneThatGoesAtOnce(Goes&& goes) {
    const auto program = compiled(*busy()).at("b1");
    const avr::Chip& chip = *avr::chipNamed(program->chip);
    const auto flash = std::make_shared<const avr::Flash>(chip, program->bytes);
    avr::Machine whole(chip, flash, 16'000'000), other(chip, flash, 16'000'000);
    BareChip outside[2];
    whole.reset(outside[0]);
    other.reset(outside[1]);
    constexpr avr::Cycle round = 500, until = 1'600'000;
    for (avr::Cycle at = round; at < until; at += round) {
      do whole.run(outside[0], at);
      while (whole.nextTime() <= at);
      goes(other, outside[1], at - round, at);
      QVERIFY2(other.sameAs(whole, 0), qPrintable(QString("by cycle %1: %2 at %3, %4 at %5")
                                                      .arg(at)
                                                      .arg(whole.now())
                                                      .arg(whole.counter())
                                                      .arg(other.now())
                                                      .arg(other.counter())));
      QCOMPARE(outside[1].driven.size(), outside[0].driven.size());
    }
    for (std::size_t i = 0; i < outside[0].driven.size(); ++i)
      QCOMPARE(outside[1].driven[i].at, outside[0].driven[i].at);
    QVERIFY(outside[0].driven.size() > 500);
  }

 private Q_SLOTS:
  // Both go round without an end, every instruction of one at the same moment as one of the other.
  void boardsWithNothingToDo() {
    const auto project = shared(Bench().board("b2").board("b3"));
    Kernel k(project, RunSetup{compiled(*project), false});
    k.advance(2'000'000);
    QCOMPARE(k.now(), Nanoseconds{2'000'000});
  }
  // Not joined by anything, each does what it does alone, to the nanosecond.
  void eachAsAlone_data() {
    QTest::addColumn<QString>("first");
    QTest::addColumn<QString>("second");
    const char* spins = "set d4 high\nset d4 low\n";
    const char* waits = "set d4 high\nwait 0.003\nset d4 low\nwait 0.002\n";
    const char* turns = "repeat 3\n  flip d4\n  wait 0.001\nlog seconds\nwait 0.02\n";
    const char* sounds = "tone 1000 on d4 for 0.01\nwait 0.01\n";
    const char* dims = "set level of d5 to 30\nflip d4\nwait 0.004\n";
    const char* all[] = {spins, waits, turns, sounds, dims};
    for (std::size_t i = 0; i < std::size(all); ++i)
      for (std::size_t k = i; k < std::size(all); ++k)
        QTest::addRow("%zu %zu", i, k) << QString(all[i]) << QString(all[k]);
  }
  void eachAsAlone() {
    QFETCH(QString, first);
    QFETCH(QString, second);
    const Nanoseconds until = 60'000'000;
    const auto both = shared(Bench()
                                 .board("b2")
                                 .lane("always", first.toStdString())
                                 .lane("always", second.toStdString(), "b2"));
    Kernel together(both, RunSetup{compiled(*both), false});
    together.advance(until);
    const QString programs[] = {first, second};
    const char* boards[] = {"b1", "b2"};
    for (std::size_t i = 0; i < 2; ++i) {
      const auto alone = shared(Bench().lane("always", programs[i].toStdString()));
      Kernel k(alone, RunSetup{compiled(*alone), false});
      k.advance(until);
      for (const char* pin : {"D4", "D5"}) {
        const auto expected = pinEdges(k, pin), seen = pinEdges(together, pin, boards[i]);
        const QString differs = difference(seen, expected);
        QVERIFY2(differs.isEmpty(), qPrintable(QString("%1 %2, ").arg(boards[i], pin) + differs));
      }
      QVERIFY(pinEdges(k, "D4").size() > 2);
    }
  }
  // The same of the chip alone: after every so many cycles it stands as one that went there at
  // once.
  void aChipInPieces() {
    std::mt19937 random(3);
    asOneThatGoesAtOnce([&](avr::Machine& chip, BareChip& outside, avr::Cycle from, avr::Cycle to) {
      for (avr::Cycle last = from; last < to; last += static_cast<avr::Cycle>(random() % 9))
        chip.run(outside, last);
      do chip.run(outside, to);
      while (chip.nextTime() <= to);
    });
  }
  // And where it keeps to itself for as long as it can, in between: nothing outside is asked or
  // changed by that, and it stands as one that did not.
  void aChipThatKeepsToItself() {
    std::mt19937 random(7);
    avr::Cycle alone = 0, all = 0;
    asOneThatGoesAtOnce([&](avr::Machine& chip, BareChip& outside, avr::Cycle from, avr::Cycle to) {
      while (chip.nextTime() <= to) {
        const avr::Cycle before = chip.now();
        chip.runAlone(std::min(to, before + static_cast<avr::Cycle>(random() % 300)));
        alone += chip.now() - before;
        if (chip.nextTime() <= to) chip.run(outside, chip.nextTime());
      }
      chip.run(outside, to);
      all += to - from;
    });
    QVERIFY2(alone > all / 2, qPrintable(QString::number(alone)));
  }
  // Whichever way an instruction comes to a pin, it stands before it; what is only its own it does.
  void aChipStandsBeforeAPin() {
    const avr::Chip& chip = *avr::chipNamed("atmega328p");
    struct Row {
      const char* instruction;
      int pointer;  // register; 0: none
      int goal;     // that it holds, for an address of `at`
    };
    const Row rows[] = {{"ld r16, X", 26, 0},  {"ld r16, X+", 26, 0}, {"ld r16, -X", 26, 1},
                        {"ld r16, Y+", 28, 0}, {"ld r16, -Y", 28, 1}, {"ldd r16, Y+5", 28, -5},
                        {"ld r16, Z+", 30, 0}, {"ld r16, -Z", 30, 1}, {"ldd r16, Z+5", 30, -5},
                        {"st X, r16", 26, 0},  {"st X+, r16", 26, 0}, {"st -X, r16", 26, 1},
                        {"st Y+, r16", 28, 0}, {"st -Y, r16", 28, 1}, {"std Y+5, r16", 28, -5},
                        {"st Z+, r16", 30, 0}, {"st -Z, r16", 30, 1}, {"std Z+5, r16", 30, -5},
                        {"lds r16, %1", 0, 0}, {"sts %1, r16", 0, 0}};
    constexpr int pind = 0x29, general = 0x3E;  // PIND; GPIOR0
    for (const int at : {pind, general})
      for (const Row& row : rows) {
        QString text;
        if (row.pointer != 0)
          text = QString("ldi r%1, %2\nldi r%3, 0\n")
                     .arg(row.pointer)
                     .arg(at + row.goal)
                     .arg(row.pointer + 1);
        const unsigned before = row.pointer != 0 ? 4 : 0;
        const QString instruction(row.instruction);
        text += (instruction.contains("%1") ? instruction.arg(at) : instruction) +
                "\nin r17, 0x09\n";  // PIND, in any case
        const auto flash = std::make_shared<const avr::Flash>(
            chip, compiledBytes(chip.name, text.toStdString(), "S"));
        avr::Machine machine(chip, flash, 16'000'000);
        BareChip outside;
        machine.reset(outside);
        machine.runAlone(100);
        const unsigned behind = before + (row.pointer != 0 ? 2 : 4);
        QVERIFY2(machine.counter() == (at == pind ? before : behind), row.instruction);
      }
    // Those that reach the lower registers alone.
    for (const char* instruction :
         {"in r16, 9", "out 9, r16", "sbi 9, 2", "cbi 11, 2", "sbic 9, 2", "sbis 9, 2"}) {
      const auto flash = std::make_shared<const avr::Flash>(
          chip, compiledBytes(chip.name, QString("nop\n%1\n").arg(instruction).toStdString(), "S"));
      avr::Machine machine(chip, flash, 16'000'000);
      BareChip outside;
      machine.reset(outside);
      machine.runAlone(100);
      QVERIFY2(machine.counter() == 2, instruction);
    }
  }
  // However far it goes at a time, it does the same.
  void inPiecesAsInOne() {
    const auto project = busy();
    const ChipPrograms code = compiled(*project);
    const Nanoseconds until = 100'000'000;
    Kernel whole(project, RunSetup{code, false});
    whole.advance(until);
    std::mt19937 random(5);
    for (const Nanoseconds most : {500, 7'000, 200'000}) {
      Kernel pieces(project, RunSetup{code, false});
      while (pieces.now() < until)
        pieces.advance(
            std::min(until, pieces.now() + 1 + static_cast<Nanoseconds>(random()) % most));
      for (const char* pin : {"D4", "D5", "D7", "D8"}) {
        QVERIFY(pinEdges(whole, pin).size() > 20);
        const QString differs = difference(pinEdges(pieces, pin), pinEdges(whole, pin));
        QVERIFY2(differs.isEmpty(),
                 qPrintable(QString("%1, %2 ns at most, ").arg(pin).arg(static_cast<qint64>(most)) +
                            differs));
      }
    }
  }
  // Chips that interrupt each other in the middle of what they do, look ahead and do as those that
  // may not, to the nanosecond; and what they hold is seen as it stood at the moment.
  void lookingAheadChangesNothing() {
    const char* source = R"(
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>
#define COUNTED (*(volatile unsigned long*)0x0400)
#define HEARD (*(volatile unsigned long*)0x0404)
ISR(INT0_vect) { PIND = 1 << PD4; ++HEARD; }
ISR(TIMER1_COMPA_vect) { PIND = 1 << PD7; }
int main(void) {
  DDRD = 1 << PD4 | 1 << PD5 | 1 << PD7;
  EICRA = 1;
  EIMSK = 1;
  OCR1A = EVERY;
  TCCR1B = 1 << WGM12 | 1 << CS10;
  TIMSK1 = 1 << OCIE1A;
  sei();
  for (unsigned n = EVERY;;) {
    n = n * 25173u + 13849u;
    for (unsigned k = n >> 9; k; --k) ++COUNTED;
    PIND = 1 << PD5;
    if (PIND & 1 << PD2) COUNTED += 7;
    if (n & 0x40) sleep_mode();
  }
})";
    const auto program = [&](const char* every) {
      ChipProgram out;
      out.chip = "atmega328p";
      out.bytes = compiledBytes(out.chip, std::string("#define EVERY ") + every + source);
      out.variables = {{"counted", 0, ValueType::whole, 0x400},
                       {"heard", 0, ValueType::whole, 0x404}};
      return std::make_shared<const ChipProgram>(std::move(out));
    };
    const auto project = shared(Bench()
                                    .board("b2")
                                    .wire("D5", "b2.D2")
                                    .wire("D2", "b2.D5")
                                    .wire("GND", "b2.GND")
                                    .lane("always", "flip d4\nflip d5\nflip d7\nlog d2\n")
                                    .lane("always", "flip d4\nflip d5\nflip d7\nlog d2\n", "b2"));
    const ChipPrograms code{{"b1", program("4801")}, {"b2", program("3571")}};
    const Nanoseconds until = 25'000'000;
    Kernel whole(project, RunSetup{code, false});
    whole.advance(until);
    // Pieces of a cycle or two leave nothing to look ahead at.
    std::mt19937 random(11);
    Kernel pieces(project, RunSetup{code, false});
    int compared = 0;
    while (pieces.now() < until) {
      pieces.advance(std::min(until, pieces.now() + 60 + static_cast<Nanoseconds>(random() % 60)));
      if (random() % 1000 != 0) continue;
      ++compared;
      const auto seen = whole.lookBack(pieces.now()).variables, were = pieces.snapshot().variables;
      QVERIFY2(seen == were, qPrintable(QString("at %1").arg(pieces.now())));
    }
    QVERIFY2(compared > 100, qPrintable(QString::number(compared)));
    for (const char* board : {"b1", "b2"})
      for (const char* pin : {"D4", "D5", "D7"}) {
        const std::size_t count = pinEdges(whole, pin, board).size();
        QVERIFY2(count > 50, qPrintable(QString("%1: %2").arg(pin).arg(count)));
        const QString differs =
            difference(pinEdges(pieces, pin, board), pinEdges(whole, pin, board));
        QVERIFY2(differs.isEmpty(), qPrintable(QString("%1 %2, ").arg(board, pin) + differs));
      }
  }
  // What it holds is told as of the moment that is asked for, however far it has looked ahead.
  void whatIsSeenIsOfTheMoment() {
    class NothingThere final : public PinAccess {
     public:
      bool readPin(int, Nanoseconds) override { return false; }
      int readLevel(int, Nanoseconds) override { return 0; }
      bool setPin(int, bool, Nanoseconds) override { return false; }
      void flipPin(int, Nanoseconds) override {}
      void setLevel(int, double, Nanoseconds) override {}
      bool sound(int, float, Nanoseconds, Nanoseconds) override { return false; }
      void silence(int, Nanoseconds) override {}
      bool turnServo(int, float, Nanoseconds, Nanoseconds) override { return false; }
      int say(const SaidLine&, SayingTime, Nanoseconds) override { return 0; }
      bool saying(Nanoseconds, Nanoseconds) override { return false; }
    };
    ChipProgram counts;
    counts.chip = "atmega328p";
    counts.bytes = compiledBytes(counts.chip, R"(
int main(void) { for (;;) ++*(volatile unsigned long*)0x0400; })");
    counts.variables = {{"counted", 0, ValueType::whole, 0x400}};
    const auto program = std::make_shared<const ChipProgram>(std::move(counts));
    MachineProcessor looks(program, 16'000'000), steps(program, 16'000'000);
    NothingThere far, near;
    far.mayLookAheadUntil = second;
    const auto counted = [&](const MachineProcessor& p, Nanoseconds now) {
      NothingThere pins;
      ProcessorView view;
      p.show(pins, now, true, view);
      return view.variables.at(0).number;
    };
    looks.start(0);
    steps.start(0);
    int ahead = 0;
    for (Nanoseconds now = 0; now < 20'000'000; now += 12'500) {
      while (looks.nextTime() <= now) looks.execute(far, now);
      while (steps.nextTime() <= now) steps.execute(near, now);
      QCOMPARE(counted(looks, now), counted(steps, now));
      if (looks.nextTime() > steps.nextTime()) ++ahead;
    }
    QVERIFY2(ahead > 1000, qPrintable(QString::number(ahead)));
    QVERIFY(counted(steps, 20'000'000) > 10'000);
  }
  // What one sets the other reads, and answers: as by steps.
  void oneAnswersTheOther() {
    const auto project =
        shared(Bench()
                   .board("b2")
                   .wire("D5", "b2.D6")
                   .wire("D7", "b2.D8")
                   .wire("GND", "b2.GND")
                   .lane("always", "set d5 high\nwait 0.003\nset d5 low\nwait 0.007\n")
                   .lane("each time d7 goes high", "flip d4\nwait 0.002\nflip d9\n")
                   .lane("each time d6 goes high",
                         "wait 0.001\nset d8 high\nwait 0.001\nset d8 low\n", "b2")
                   .lane("always", "flip d13\nwait 0.0125\n", "b2"));
    const ChipPrograms code = compiled(*project);
    const Comparison c = comparedRuns(project, code, {}, second);
    QVERIFY2(c.same(), qPrintable(QString::fromStdString(inWords(verdict(c, "")))));
    QVERIFY2(c.edges > 500, qPrintable(QString::number(c.edges)));
  }
};

QTEST_GUILESS_MAIN(TestChipBoards)
#include "tst_chip_boards.moc"
