#include <QtTest>
#include <cstring>
#include <random>
#include <set>
#include <sstream>

#include "support/avr_chip.h"

using namespace ignavo;
using namespace ignavo::test;
using avr::Cycle;
using avr::Fault;

namespace {

constexpr const char* mega = "atmega328p";
const avr::Chip& chipOf(const char* name) { return *avr::chipNamed(name); }

std::vector<std::uint8_t> bytesOf(const std::vector<std::uint16_t>& words) {
  std::vector<std::uint8_t> out;
  for (const std::uint16_t w : words) {
    out.push_back(static_cast<std::uint8_t>(w));
    out.push_back(static_cast<std::uint8_t>(w >> 8));
  }
  return out;
}

using Random = std::mt19937;
unsigned below(Random& random, std::size_t n) { return static_cast<unsigned>(random() % n); }

// Sequences of instructions that stay where they are: what they do to registers and to a stretch of
// memory is stored behind each.
class Sequences {
 public:
  static constexpr int each = 35, results = 0x200, scratch = 0x120, scratchBytes = 64;
  explicit Sequences(unsigned seed) : random_(seed) {}

  std::string text(int count) {
    std::ostringstream out;
    out << ".global main\nmain:\n ldi r16, 0x08\n out 0x3e, r16\n ldi r16, 0xff\n out 0x3d, r16\n";
    for (int k = 0; k < scratchBytes; ++k)
      out << " ldi r16, " << below(random_, 256) << "\n sts " << scratch + k << ", r16\n";
    for (int n = 0; n < count; ++n) sequence(out, n);
    out << ".global finished\nfinished: rjmp finished\n";
    return out.str();
  }

 private:
  std::string reg(int from = 0) {
    return "r" + std::to_string(from + below(random_, 32U - static_cast<unsigned>(from)));
  }
  std::string mul() { return "r" + std::to_string(16 + below(random_, 8)); }
  std::string pair() { return "r" + std::to_string(24 + 2 * below(random_, 4)); }

  void sequence(std::ostringstream& out, int n) {
    for (int r = 0; r < 32; ++r) {
      const int via = r < 16 ? 16 : r;
      out << " ldi r" << via << ", " << below(random_, 256) << "\n";
      if (r < 16) out << " mov r" << r << ", r" << via << "\n";
    }
    out << " ldi r16, " << below(random_, 128) << "\n out 0x3f, r16\n";
    for (int k = 0; k < 24; ++k) one(out, n, k);
    // The registers, then the status.
    const int at = results + n * each;
    for (int r = 0; r < 32; ++r) out << " sts " << at + r << ", r" << r << "\n";
    out << " in r16, 0x3f\n sts " << at + 32 << ", r16\n";
  }

  void one(std::ostringstream& out, int n, int k) {
    static const char* const twoRegisters[] = {"add", "adc", "sub", "sbc", "and", "or",
                                               "eor", "cp",  "cpc", "mov", "mul"};
    static const char* const immediates[] = {"subi", "sbci", "andi", "ori", "cpi", "ldi"};
    static const char* const single[] = {"com", "neg", "inc", "dec", "swap", "asr", "lsr", "ror"};
    static const char* const products[] = {"mulsu", "fmul", "fmuls", "fmulsu"};
    static const char* const branches[] = {"brcs", "brcc", "breq", "brne", "brmi", "brpl", "brvs",
                                           "brvc", "brlt", "brge", "brhs", "brhc", "brts", "brtc"};
    static const char* const flags[] = {"sec", "clc", "sez", "clz", "sen", "cln", "sev",
                                        "clv", "ses", "cls", "seh", "clh", "set", "clt"};
    const auto pick = [&](const auto& some) { return some[below(random_, std::size(some))]; };
    const unsigned byte = below(random_, 256), bit = below(random_, 8);
    const std::string label = "l" + std::to_string(n) + "_" + std::to_string(k);
    const auto pointer = [&](const char* low, const char* high) {
      const int at = scratch + 8 + static_cast<int>(below(random_, scratchBytes - 16));
      out << " ldi " << low << ", " << (at & 255) << "\n ldi " << high << ", " << (at >> 8) << "\n";
    };
    switch (below(random_, 16)) {
      case 0:
      case 1:
      case 2:
      case 3:
        out << " " << pick(twoRegisters) << " " << reg() << ", " << reg() << "\n";
        break;
      case 4:
      case 5:
        out << " " << pick(immediates) << " " << reg(16) << ", " << byte << "\n";
        break;
      case 6:
      case 7:
        out << " " << pick(single) << " " << reg() << "\n";
        break;
      case 8:
        if (below(random_, 2) != 0)
          // Their carry is the other simulator's own; see fractions().
          out << " " << pick(products) << " " << mul() << ", " << mul() << "\n clc\n";
        else
          out << " muls " << reg(16) << ", " << reg(16) << "\n";
        break;
      case 9:
        out << " " << (below(random_, 2) != 0 ? "adiw " : "sbiw ") << pair() << ", "
            << below(random_, 64) << "\n";
        break;
      case 10:
        out << " " << (below(random_, 2) != 0 ? "bst " : "bld ") << reg() << ", " << bit << "\n";
        break;
      case 11:
        out << " " << pick(branches) << " " << label << "\n com " << reg() << "\n"
            << label << ":\n";
        break;
      case 12: {
        static const char* const skips[] = {"sbrc", "sbrs"};
        if (below(random_, 2) != 0)
          out << " " << pick(skips) << " " << reg() << ", " << bit << "\n";
        else
          out << " cpse " << reg() << ", " << reg() << "\n";
        if (below(random_, 2) != 0)
          out << " inc " << reg() << "\n";
        else
          out << " sts " << scratch << ", " << reg() << "\n";
        break;
      }
      case 13:
        out << " " << pick(flags) << "\n";
        break;
      case 14: {
        const bool load = below(random_, 2) != 0;
        static const char* const xs[] = {"X", "X+", "-X"};
        static const char* const ys[] = {"Y", "Y+", "-Y", "Y+5"};
        static const char* const zs[] = {"Z", "Z+", "-Z", "Z+3"};
        const unsigned which = below(random_, 3);
        pointer(which == 0   ? "r26"
                : which == 1 ? "r28"
                             : "r30",
                which == 0   ? "r27"
                : which == 1 ? "r29"
                             : "r31");
        const std::string at = which == 0 ? pick(xs) : which == 1 ? pick(ys) : pick(zs);
        const std::string r = "r" + std::to_string(below(random_, 26));
        const bool displaced = at.size() > 2;
        if (load)
          out << (displaced ? " ldd " : " ld ") << r << ", " << at << "\n";
        else
          out << (displaced ? " std " : " st ") << at << ", " << r << "\n";
        break;
      }
      default:
        if (below(random_, 3) == 0) {
          out << " movw r" << 2 * below(random_, 16) << ", r" << 2 * below(random_, 16) << "\n";
        } else if (below(random_, 2) != 0) {
          out << " push " << reg() << "\n pop " << reg() << "\n";
        } else {
          out << " rcall " << label << "\n rjmp " << label << "e\n"
              << label << ": inc " << reg() << "\n ret\n"
              << label << "e:\n";
        }
    }
  }

  Random random_;
};

// What the debugger's own simulator leaves in memory.
std::vector<std::uint8_t> simulated(const QString& elf, const QString& folder) {
  const QString dump = folder + "/memory.bin", script = folder + "/script";
  QFile out(script);
  if (!out.open(QIODevice::WriteOnly)) return {};
  out.write(QString("set confirm off\ntarget sim\nload\nbreak finished\nrun\ndump binary memory %1 "
                    "0x800100 0x8008f0\nquit\n")
                .arg(dump)
                .toUtf8());
  out.close();
  bool worked = false;
  const std::string said = ranTool("avr-gdb", {"-batch", "-nx", "-x", script, elf}, &worked);
  QFile in(dump);
  if (!in.open(QIODevice::ReadOnly)) {
    qWarning("%s", said.c_str());
    return {};
  }
  const QByteArray bytes = in.readAll();
  return {bytes.begin(), bytes.end()};
}

}  // namespace

// What instructions compute and how long they take: against another simulator, against this
// machine, and against the manual's table.
class TestAvrInstructions : public QObject {
  Q_OBJECT

 private Q_SLOTS:
  void randomSequencesAsAnotherSimulatorDoes_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 12; ++seed) QTest::addRow("seed %u", seed) << seed;
  }
  void randomSequencesAsAnotherSimulatorDoes() {
    QFETCH(unsigned, seed);
    QTemporaryDir folder;
    const QString elf = folder.filePath("sequences.elf");
    constexpr int count = 48;
    const auto bytes = compiledBytes(mega, Sequences(seed).text(count), "S", elf);
    QVERIFY(!bytes.empty());
    const std::vector<std::uint8_t> wanted = simulated(elf, folder.path());
    QVERIFY2(wanted.size() == 0x7F0, "the debugger (package gdb-avr) is missing");
    Running chip(mega, bytes);
    chip.run(200'000);
    QCOMPARE(chip.machine.fault().code, Fault::Code::none);
    for (int n = 0; n < count; ++n)
      for (int k = 0; k < 33; ++k) {
        const int at = Sequences::results + n * Sequences::each + k;
        const int got = chip.machine.memoryAt(static_cast<avr::Address>(at));
        QVERIFY2(got == wanted[static_cast<std::size_t>(at - 0x100)],
                 qPrintable(QString("sequence %1, %2: %3 instead of %4")
                                .arg(n)
                                .arg(k < 32 ? QString("r%1").arg(k) : QString("status"))
                                .arg(got)
                                .arg(wanted[static_cast<std::size_t>(at - 0x100)])));
      }
    for (int at = Sequences::scratch; at < Sequences::scratch + Sequences::scratchBytes; ++at)
      QCOMPARE(int(chip.machine.memoryAt(static_cast<avr::Address>(at))),
               int(wanted[static_cast<std::size_t>(at - 0x100)]));
  }

  // The same C, compiled for the chip and for this machine.
  void programsAsThisMachineDoes_data() {
    QTest::addColumn<QString>("chip");
    for (const char* chip : {mega, "attiny85"}) QTest::newRow(chip) << chip;
  }
  void programsAsThisMachineDoes() {
    QFETCH(QString, chip);
    const std::string source = R"(
#include <stdint.h>
#include <string.h>
#include <math.h>
static uint32_t dice = 12345;
static uint32_t draw(void) { dice ^= dice << 13; dice ^= dice >> 17; dice ^= dice << 5; return dice; }
volatile uint32_t result;
static void take(uint64_t v) { result = (result ^ (uint32_t)v) * 16777619u ^ (uint32_t)(v >> 32); }
static uint16_t paths(uint8_t a, uint8_t b) { return a == 0 || b == 0 ? 1 : paths(a - 1, b) + paths(a, b - 1); }
static uint8_t order[24];
static void sort(void) {
  for (uint8_t i = 1; i < sizeof order; i++)
    for (uint8_t j = i; j > 0 && order[j] < order[j - 1]; j--) {
      uint8_t t = order[j]; order[j] = order[j - 1]; order[j - 1] = t;
    }
}
static void work(void) {
  for (uint8_t k = 0; k < 40; k++) {
    int8_t a8 = (int8_t)draw(), b8 = (int8_t)draw();
    int16_t a = (int16_t)draw(), b = (int16_t)draw();
    int32_t c = (int32_t)draw(), d = (int32_t)draw();
    int64_t e = (int64_t)((uint64_t)draw() << 32 | draw()), f = (int64_t)((uint64_t)draw() << 16 | draw());
    take((uint8_t)(a8 * b8)); take((uint16_t)((int32_t)a8 * b)); take((uint8_t)(a8 >> (k & 7)));
    take((uint16_t)((int32_t)a + b)); take((uint32_t)((int32_t)a * b));
    if (b) { take((uint16_t)((int32_t)a / b)); take((uint16_t)((int32_t)a % b)); }
    if (b8) take((uint8_t)((int16_t)a8 / b8));
    take((uint32_t)c * (uint32_t)d); take((uint32_t)(c ^ d) >> (k & 31));
    if (d) { take((uint32_t)((int64_t)c / d)); take((uint32_t)c % (uint32_t)d); }
    take((uint64_t)e * (uint64_t)f); take((uint64_t)e + (uint64_t)f); take((uint64_t)e >> (k & 63));
    if (f) { take((uint64_t)e / (uint64_t)f); take((uint64_t)(e % f)); }
    float x = (float)(c >> 9) / 64.0f, y = (float)(d >> 17) + 0.5f;
    float z[6] = {x + y, x - y, x * y, x / y, (float)c, floorf(x)};
    for (uint8_t n = 0; n < 6; n++) { uint32_t bits; memcpy(&bits, &z[n], 4); take(bits); }
    take((uint32_t)(int32_t)(x / 4)); take(x < y); take(c < d); take(e < f);
    for (uint8_t n = 0; n < sizeof order; n++) order[n] = (uint8_t)draw();
    sort();
    memmove(order + 3, order, 12);
    for (uint8_t n = 0; n < sizeof order; n++) take(order[n]);
  }
  take(paths(7, 6));
}
)";
    const std::string forChip =
        source + "volatile uint8_t done; int main(void) { work(); done = 1; for (;;); }";
    QTemporaryDir folder;
    const QString elf = folder.filePath("work.elf");
    const auto bytes = compiledBytes(chip.toStdString(), forChip, "c", elf);
    QVERIFY(!bytes.empty());
    bool worked = false;
    const QString symbols = QString::fromStdString(ranTool("avr-nm", {elf}, &worked));
    const auto addressOf = [&](const char* name) {
      for (const QString& line : symbols.split('\n'))
        if (line.endsWith(QString(" ") + name))
          return static_cast<avr::Address>(line.left(8).toUInt(nullptr, 16) & 0xFFFF);
      return avr::Address{0};
    };
    Running machine(chip.toStdString(), bytes);
    for (int k = 0; k < 400 && machine.machine.memoryAt(addressOf("done")) == 0; ++k)
      machine.run(100'000);
    QCOMPARE(machine.machine.fault().code, Fault::Code::none);
    QCOMPARE(int(machine.machine.memoryAt(addressOf("done"))), 1);

    const QString file = folder.filePath("work.c"), program = folder.filePath("work");
    QFile out(file);
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write((source + "#include <stdio.h>\nint main(void) { work(); printf(\"%lu\", (unsigned "
                        "long)result); return 0; }")
                  .c_str());
    out.close();
    ranTool("cc", {"-O1", "-fwrapv", "-ffp-contract=off", "-o", program, file, "-lm"}, &worked);
    QVERIFY(worked);
    const std::string wanted = ranTool(program, {}, &worked);
    QCOMPARE(QString::number(machine.value(addressOf("result"), 4)),
             QString::fromStdString(wanted));
  }

  // Cycles as the manual's tables have them, column AVRe+, each with what it needs around it.
  void cyclesAsTheManualSays_data() {
    QTest::addColumn<QString>("instruction");
    QTest::addColumn<int>("cycles");
    const std::pair<const char*, int> rows[] = {
        {"add r1, r2", 1},
        {"adc r1, r2", 1},
        {"adiw r24, 1", 2},
        {"sub r1, r2", 1},
        {"subi r16, 3", 1},
        {"sbc r1, r2", 1},
        {"sbci r16, 3", 1},
        {"sbiw r24, 1", 2},
        {"and r1, r2", 1},
        {"andi r16, 3", 1},
        {"or r1, r2", 1},
        {"ori r16, 3", 1},
        {"eor r1, r2", 1},
        {"com r1", 1},
        {"neg r1", 1},
        {"sbr r16, 3", 1},
        {"inc r1", 1},
        {"dec r1", 1},
        {"ser r16", 1},
        {"mul r1, r2", 2},
        {"muls r17, r18", 2},
        {"mulsu r17, r18", 2},
        {"fmul r17, r18", 2},
        {"fmuls r17, r18", 2},
        {"fmulsu r17, r18", 2},
        {"rjmp 1f\n1:", 2},
        {"jmp 1f\n1:", 3},
        {"rcall 1f\n1:", 3},
        {"call 1f\n1:", 4},
        {"cp r1, r2", 1},
        {"cpc r1, r2", 1},
        {"cpi r16, 3", 1},
        {"mov r1, r2", 1},
        {"movw r2, r4", 1},
        {"ldi r16, 3", 1},
        {"lds r1, 0x120", 2},
        {"ld r1, X", 2},
        {"ld r1, X+", 2},
        {"ld r1, -X", 2},
        {"ld r1, Y", 2},
        {"ld r1, Y+", 2},
        {"ld r1, -Y", 2},
        {"ldd r1, Y+3", 2},
        {"ld r1, Z", 2},
        {"ld r1, Z+", 2},
        {"ld r1, -Z", 2},
        {"ldd r1, Z+3", 2},
        {"sts 0x120, r1", 2},
        {"st X, r1", 2},
        {"st X+, r1", 2},
        {"st -X, r1", 2},
        {"st Y, r1", 2},
        {"st Y+, r1", 2},
        {"st -Y, r1", 2},
        {"std Y+3, r1", 2},
        {"st Z, r1", 2},
        {"st Z+, r1", 2},
        {"st -Z, r1", 2},
        {"std Z+3, r1", 2},
        {"lpm", 3},
        {"lpm r1, Z", 3},
        {"lpm r1, Z+", 3},
        {"in r1, 0x1e", 1},
        {"out 0x1e, r1", 1},
        {"in r1, 0x09", 1},
        {"out 0x0b, r1", 1},
        {"push r1", 2},
        {"pop r1", 2},
        {"lsl r1", 1},
        {"lsr r1", 1},
        {"rol r1", 1},
        {"ror r1", 1},
        {"asr r1", 1},
        {"swap r1", 1},
        {"bset 0", 1},
        {"bclr 0", 1},
        {"sbi 0x05, 1", 2},
        {"cbi 0x05, 1", 2},
        {"bst r1, 3", 1},
        {"bld r1, 3", 1},
        {"sec", 1},
        {"cli", 1},
        {"break", 1},
        {"nop", 1},
        {"wdr", 1},
        {"sez\nbreq 1f\n1:", 1 + 2},
        {"clz\nbreq 1f\n1:", 1 + 1},
        {"sec\nbrcc 1f\n1:", 1 + 1},
        {"clc\nbrcc 1f\n1:", 1 + 2},
        {"clr r1\nsbrc r1, 0\nnop", 1 + 2},
        {"clr r1\nsbrs r1, 0\nnop", 1 + 1 + 1},
        {"clr r1\nsbrc r1, 0\nsts 0x120, r1", 1 + 3},
        {"cpse r1, r1\nnop", 2},
        {"cpse r1, r1\nlds r1, 0x120", 3},
        {"cpse r1, r1\njmp 1f\n1:", 3},
        {"sbic 0x05, 0\nnop", 2},
        {"sbis 0x05, 0\nnop", 1 + 1},
        {"sbic 0x05, 1\ncall 1f\n1:", 3},
        {"ldi r30, lo8(gs(1f))\nldi r31, hi8(gs(1f))\nijmp\n1:", 1 + 1 + 2},
        {"ldi r30, lo8(gs(1f))\nldi r31, hi8(gs(1f))\nicall\n1:", 1 + 1 + 3},
        {"rcall 1f\nrjmp 2f\n1: ret\n2:", 3 + 4 + 2},
        {"rcall 1f\nrjmp 2f\n1: reti\n2:", 3 + 4 + 2},
        {"ldi r24, 5\n1: dec r24\nbrne 1b", 1 + 5 * 3 - 1},
        {"ldi r24, 5\nldi r25, 1\n1: sbiw r24, 1\nbrne 1b", 2 + 261 * 4 - 1},
    };
    for (const auto& [text, cycles] : rows)
      QTest::newRow(QByteArray(text).replace('\n', " ; ").constData()) << QString(text) << cycles;
  }
  void cyclesAsTheManualSays() {
    QFETCH(QString, instruction);
    QFETCH(int, cycles);
    // Pointers into memory, a stack, a value on it; a mark on a pin before and behind.
    const std::string source =
        "main: ldi r26, 0x20\n ldi r27, 1\n ldi r28, 0x20\n ldi r29, 1\n ldi "
        "r30, 0x20\n ldi r31, 1\n push r1\n push r1\n push r1\n sbi 4, 0\n "
        "sbi 5, 0\n" +
        instruction.toStdString() + "\n cbi 5, 0\n 9: rjmp 9b\n";
    const auto chip = running(mega, source, "S");
    QVERIFY(chip);
    chip->run(3000);
    const int pin = chipOf(mega).pinNamed("PB0");
    const auto rises = chip->outside.when(pin, avr::Drive::high);
    const auto falls = chip->outside.when(pin, avr::Drive::low);
    QCOMPARE(rises.size(), std::size_t{1});
    QCOMPARE(falls.size(), std::size_t{2});  // as an output, and behind
    QCOMPARE(falls[1] - rises[0], Cycle{cycles + 2});
  }

  // What is no instruction, or reaches where there is nothing, is told with its place.
  void faultsAreTold() {
    struct Row {
      std::vector<std::uint16_t> words;
      Fault::Code code;
      std::uint32_t address, reached;
    };
    const Row rows[] = {
        {{0x0000, 0xFFFF}, Fault::Code::notAnInstruction, 2, 2},
        {{0x9404}, Fault::Code::notAnInstruction, 0, 0},
        {{0x940D, 0x0000}, Fault::Code::jumpOutside, 0, 0x20000},          // jmp
        {{0xEFEF, 0xEFFF, 0x9409}, Fault::Code::jumpOutside, 4, 0x1FFFE},  // ijmp
        {{0xE00F, 0x9300, 0x0900}, Fault::Code::memoryOutside, 2, 0x900},  // sts
        {{0x9100, 0xFFFF}, Fault::Code::memoryOutside, 0, 0xFFFF},         // lds
        {{0x900F}, Fault::Code::stackOutside, 0, 0x900},                   // pop
        {{0xDFFF}, Fault::Code::stackMeetsVariables, 0, 0},                // rcall itself
        {{0xCFFE}, Fault::Code::jumpOutside, 0, 0},                        // rjmp before 0
    };
    for (const Row& row : rows) {
      Running chip(mega, bytesOf(row.words));
      chip.machine.keepStackAbove(0x180);
      chip.run(100'000);
      const Fault fault = chip.machine.fault();
      QCOMPARE(fault.code, row.code);
      QCOMPARE(fault.address, row.address);
      QCOMPARE(fault.word, row.words[row.address / 2]);
      if (row.reached != 0) QCOMPARE(fault.reached, row.reached);
      if (fault.code == Fault::Code::stackMeetsVariables) QVERIFY(fault.reached < 0x180);
      QCOMPARE(chip.machine.nextTime(), avr::never);
      const Cycle stands = chip.machine.now();
      chip.run(1000);
      QCOMPARE(chip.machine.now(), stands);
    }
    // Beyond the end of flash, one after the other.
    Running nops(mega, std::vector<std::uint8_t>(0x8000, 0));
    nops.run(20'000);
    QCOMPARE(nops.machine.fault().code, Fault::Code::jumpOutside);
    QCOMPARE(nops.machine.fault().address, std::uint32_t{0x8000});
    // The small chip has no multiplication and no long jumps, and its short ones wrap.
    for (const std::uint16_t word :
         std::vector<std::uint16_t>{0x9C01, 0x940C, 0x940E, 0x0301, 0x0212}) {
      Running tiny("attiny85", bytesOf({word, 0}));
      tiny.run(10);
      QCOMPARE(tiny.machine.fault().code, Fault::Code::notAnInstruction);
    }
    Running wraps("attiny85", bytesOf({0xCFFE}));
    wraps.run(3);
    QCOMPARE(wraps.machine.counter(), std::uint32_t{0x1FFE});
  }

  // Multiplication of fractions (manual, FMUL, FMULS, FMULSU): the product shifted to the left, the
  // bit that is lost in carry.
  void fractions() {
    Random random(3);
    for (int n = 0; n < 3000; ++n) {
      const unsigned d = below(random, 256), r = below(random, 256), which = below(random, 3);
      const auto op = static_cast<std::uint16_t>((which == 0   ? 0x0308
                                                  : which == 1 ? 0x0380
                                                               : 0x0388) |
                                                 0x01);  // r16, r17
      Running chip(mega, bytesOf({op, 0, 0}));
      chip.machine.poke(16, static_cast<std::uint8_t>(d));
      chip.machine.poke(17, static_cast<std::uint8_t>(r));
      chip.run(2);
      const int a = which == 0 ? static_cast<int>(d) : static_cast<std::int8_t>(d);
      const int b = which == 1 ? static_cast<std::int8_t>(r) : static_cast<int>(r);
      const unsigned product = static_cast<unsigned>(a * b) & 0xFFFF;
      QCOMPARE(chip.value(0, 2), std::uint64_t{product << 1 & 0xFFFF});
      const int status = chip.machine.memoryAt(avr::statusRegister);
      QCOMPARE(status & 1, static_cast<int>(product >> 15));
      QCOMPARE((status & 2) != 0, (product << 1 & 0xFFFF) == 0);
    }
  }

  // Whatever flash and memory hold, a chip goes on or says why not.
  void anythingAtAll_data() {
    QTest::addColumn<QString>("chip");
    for (const char* chip : {mega, "attiny85"}) QTest::newRow(chip) << chip;
  }
  void anythingAtAll() {
    QFETCH(QString, chip);
    const avr::Chip& row = *avr::chipNamed(chip.toStdString());
    Random random(7);
    Cycle passed = 0;
    std::set<Fault::Code> seen;
    for (int n = 0; n < 60; ++n) {
      const Running base(chip.toStdString(), anyProgram(random, row, n % 3));
      for (int k = 0; k < 60; ++k) {
        Running machine = base;
        for (avr::Address a = 0; a <= row.ramEnd; ++a)
          machine.machine.poke(a, static_cast<std::uint8_t>(random()));
        machine.machine.jumpTo(below(random, row.flashBytes()));
        for (int m = 0; m < 5; ++m) {
          machine.run(n % 3 == 2 ? 8000 : 2000);
          const int port = static_cast<int>(below(random, row.ports.size()));
          const int bit = static_cast<int>(below(random, 8));
          machine.machine.pinChanged(machine.outside, avr::pinAt(port, bit), below(random, 2) != 0,
                                     machine.machine.now());
          machine.machine.receive(machine.outside, static_cast<std::uint8_t>(random()),
                                  machine.machine.now());
        }
        const Fault fault = machine.machine.fault();
        seen.insert(fault.code);
        passed += machine.machine.now();
        if (fault.code != Fault::Code::none)
          QVERIFY(fault.address <= row.flashBytes() + 8);
        else
          QVERIFY(avr::Machine(machine.machine).sameAs(machine.machine, 0));
      }
    }
    QVERIFY2(passed > 10'000'000, qPrintable(QString::number(passed)));
    QVERIFY(seen.count(Fault::Code::none) != 0 && seen.size() > 3);
  }

 private:
  // Does it reach where registers say, or wait for ever?
  static bool strays(avr::Op op) {
    using avr::Op;
    return (op >= Op::ldX && op <= Op::stdZ && op != Op::lds) || op == Op::ijmp ||
           op == Op::icall || op == Op::ret || op == Op::reti || op == Op::pop || op == Op::push ||
           op == Op::sleep || op == Op::rcall || op == Op::call;
  }
  // Flash that holds anything (0), instructions that there are (1), or those of them that reach
  // into memory and flash (2).
  static std::vector<std::uint8_t> anyProgram(Random& random, const avr::Chip& row, int sort) {
    using avr::Op;
    std::vector<std::uint16_t> words(row.flashWords);
    for (std::size_t k = 0; k < words.size(); ++k) {
      avr::Instruction i;
      do {
        words[k] = static_cast<std::uint16_t>(random());
        i = avr::decoded(words[k], 0, row.enhanced);
      } while ((sort > 0 && i.op == Op::none) || (sort > 1 && strays(i.op)));
      if (sort > 1 && avr::wordsOf(i.op) == 2 && k + 1 < words.size()) {
        const bool jumps = i.op == Op::jmp || i.op == Op::call;
        if (jumps) words[k] &= 0xFE0E;
        words[++k] = static_cast<std::uint16_t>(
            below(random, jumps ? row.flashWords : std::size_t{row.ramEnd} + 1));
      }
    }
    return bytesOf(words);
  }
};

QTEST_GUILESS_MAIN(TestAvrInstructions)
#include "tst_avr_instructions.moc"
