#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QtTest>

#include "make/c_text.h"
#include "parts/catalogue.h"
#include "program/pulses.h"
#include "program/said.h"
#include "run/model.h"
#include "run/turn_processor.h"
#include "support/build.h"
#include "support/line_model.h"
#include "support/random_programs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

constexpr std::uint32_t turns = 300;
constexpr int atA0 = 337;  // stages

// Presses, in nanoseconds, well between turns.
struct Press {
  Nanoseconds at;
  bool down;
};
std::vector<Press> presses(RandomProgram& random) {
  std::vector<Press> out;
  Nanoseconds when = 100'000;
  for (bool down = true; when < turns * turnNanoseconds; down = !down) {
    when += turnNanoseconds * (1 + random.number(30));
    out.push_back({when, down});
  }
  return out;
}

struct Change {
  std::uint32_t turn;
  std::string pin;  // as the chip calls it
  bool high;
  auto operator<=>(const Change&) const = default;
};
QString told(const Change& c) {
  return QString("turn %1, %2 %3")
      .arg(c.turn)
      .arg(QString::fromStdString(c.pin), c.high ? "high" : "low");
}

// The pins of a chip without a circuit: inputs as they are pressed, outputs as they are set.
class BarePins final : public PinAccess {
 public:
  explicit BarePins(const CompiledProgram& program) : program_(program) {}
  bool readPin(int pin, Nanoseconds) override { return level(pin); }
  int readLevel(int pin, Nanoseconds) override {
    return program_.pins[static_cast<std::size_t>(pin)].starts_with('A') ? atA0
           : level(pin)                                                  ? stages
                                                                         : 0;
  }
  bool setPin(int pin, bool high, Nanoseconds at) override {
    trains_.erase(pin);
    give(pin, high, at);
    return true;
  }
  void flipPin(int pin, Nanoseconds at) override {
    setPin(pin, !trains_.contains(pin) && !level(pin), at);
  }
  void setLevel(int pin, double percent, Nanoseconds at) override {
    setPin(pin, percent >= 50, at);
  }

  bool sound(int pin, float hertz, Nanoseconds, Nanoseconds at) override {
    train(pin, toneTrain(hertz), false, at);
    return true;
  }
  void silence(int pin, Nanoseconds at) override { (void)setPin(pin, false, at); }
  bool turnServo(int pin, float degrees, Nanoseconds, Nanoseconds at) override {
    train(pin, servoTrain(degrees), true, at);
    return true;
  }
  int say(const SaidLine& line, SayingTime time, Nanoseconds at) override {
    if (!line_.isFree(time.turn)) return refused;
    const std::string wire = wireLine(line.note, line.number, line.seconds, line.text);
    const std::size_t moved = line_.say(wire.size(), time.turn, time.counted, at, at);
    said.push_back(wire.substr(0, wire.size() - 1));
    return static_cast<int>(moved);
  }
  bool saying(Nanoseconds turn, Nanoseconds) override { return !line_.isFree(turn); }
  int toneLoad(int microsecondsOfEdge) override {
    int load = 0;
    for (const auto& [pin, t] : trains_)
      if (!t.servo) load += loadOf(t.now, microsecondsOfEdge);
    return load;
  }
  // Edges up to that tick come.
  void pass(std::int64_t tick, Nanoseconds at) {
    for (auto& [pin, t] : trains_)
      while (t.edge <= tick * tickParts) {
        if (!t.high) t.rise = t.edge, t.now = t.next;
        t.high = !t.high;
        t.edge = t.rise + (t.high ? t.now.width : t.now.period);
        give(pin, t.high, at);
      }
  }

  std::map<std::string, bool> levels;
  std::vector<std::string> said;
  Processor* processor = nullptr;

 private:
  LineModel line_;
  struct Train {
    bool servo;
    std::int64_t rise, edge;
    PulseTrain now, next;
    bool high = true;
  };
  void train(int pin, PulseTrain wanted, bool servo, Nanoseconds at) {
    if (wanted.period == 0) return void(setPin(pin, false, at));
    const auto it = trains_.find(pin);
    if (it == trains_.end() || it->second.servo != servo) {
      const std::int64_t rise = partsAt(at);
      trains_.insert_or_assign(pin, Train{servo, rise, rise + wanted.width, wanted, wanted});
      return give(pin, true, at);
    }
    Train& t = it->second;
    t.next = wanted;
    if (servo || t.now == wanted) return;
    t.now = wanted;
    t.edge = t.rise + (t.high ? wanted.width : wanted.period);
    if (const std::int64_t late = partsAt(at) - t.edge; late > 0) t.rise += late, t.edge += late;
    pass((at + 3999) / 4000, at);
  }
  void give(int pin, bool high, Nanoseconds at) {
    const std::string& name = program_.pins[static_cast<std::size_t>(pin)];
    if (levels[name] == high) return;
    levels[name] = high;
    if (processor) processor->pinChanged(pin, high, at);
  }
  std::map<int, Train> trains_;
  bool level(int pin) { return levels[program_.pins[static_cast<std::size_t>(pin)]]; }
  const CompiledProgram& program_;
};

std::string chipName(const std::string& pin) {
  for (const BoardPin& p : catalogue().boardKind("tern")->pins)
    if (p.name == pin) return p.chipName;
  return {};
}

struct Result {
  std::vector<Change> changes;
  std::vector<std::string> said;  // as it goes over the wire
};

// What a program does where nothing that it works out takes any time.
Result byTheRun(const Project& project, const std::vector<Press>& given,
                const std::vector<Press>& keys) {
  CostTable free;
  free.measures = free.measuresFirst = free.samples = 0;
  free.hertz = 1'000'000'000'000;  // so quick that no turn is ever lost
  CompiledProgram quick = compile(*project.programs[0], {.costs = free, .seed = project.seed});
  // … but what is counted is.
  const CompiledProgram counted = compile(
      *project.programs[0], targetOf(*catalogue().boardKind("tern"), *project.programs[0], 1, {}));
  quick.work = counted.work;
  for (std::size_t l = 0; l < quick.lanes.size(); ++l)
    for (std::size_t k = 0; k < quick.lanes[l].code.size(); ++k)
      quick.lanes[l].code[k].share = counted.lanes[l].code[k].share;
  const auto program = std::make_shared<const CompiledProgram>(std::move(quick));
  TurnProcessor processor(program);
  BarePins pins(*program);
  pins.processor = &processor;
  std::vector<Change> out;
  std::map<std::string, bool> before;
  std::size_t next = 0, nextKey = 0;
  const int button = static_cast<int>(std::find(program->pins.begin(), program->pins.end(), "D2") -
                                      program->pins.begin());
  for (std::uint32_t turn = 0; turn < turns; ++turn) {
    const Nanoseconds now = turn * turnNanoseconds;
    for (; next < given.size() && given[next].at <= now; ++next) {
      pins.levels["D2"] = given[next].down;
      if (button < static_cast<int>(program->pins.size()))
        processor.pinChanged(button, given[next].down, given[next].at);
    }
    for (; nextKey < keys.size() && keys[nextKey].at <= now; ++nextKey)
      processor.keyChanged("space", keys[nextKey].down, keys[nextKey].at);
    pins.pass((125 * static_cast<std::int64_t>(turn) + 1) / 2, now);
    while (processor.nextTime() <= now) (void)processor.execute(pins, now);
    for (const std::string& pin : program->written)
      if (std::exchange(before[pin], pins.levels[pin]) != pins.levels[pin])
        out.push_back({turn, chipName(pin), pins.levels[pin]});
  }
  std::sort(out.begin(), out.end());
  return {out, pins.said};
}

}  // namespace

// The C of programs in turns, compiled for this machine with registers that are plain memory,
// gives every pin its level in the same turn as the run does. What it does in the chip's own
// machine code is another matter; what the text means is not.
class TestCMeaning : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void theTextDoesWhatTheRunDoes_data() {
    QTest::addColumn<unsigned>("from");
    const int asked = std::max(100, qEnvironmentVariableIntValue("IGNAVO_TEXTS"));
    for (unsigned i = 0; i < static_cast<unsigned>(asked) / 25; ++i)
      QTest::addRow("programs %u to %u", i * 25, i * 25 + 24) << i * 25;
  }
  void theTextDoesWhatTheRunDoes() {
    QFETCH(unsigned, from);
    QTemporaryDir folder;
    std::size_t compared = 0, lines = 0;
    for (unsigned seed = from; seed < from + 25; ++seed) {
      RandomProgram writer(seed + 7'000'000);
      Bench bench;
      for (const std::string& name : RandomProgram::names()) bench.name(name);
      std::string text;
      auto all = writer.own();
      for (auto& lane : writer.lanes()) all.push_back(std::move(lane));
      for (const auto& [sign, steps] : all) {
        bench.lane(sign, steps);
        text += sign + ":\n" + steps;
      }
      bench.lane("Every 0.5", "set d12 low");  // in turns, whatever else it is
      const Project project = bench;
      const std::vector<Press> given = presses(writer), keys = presses(writer);
      const Compared done =
          agree(project, given, keys, folder.path(),
                QString("program %1\n%2").arg(seed).arg(QString::fromStdString(text)));
      if (QTest::currentTestFailed()) return;
      compared += done.changes;
      lines += done.lines;
    }
    QVERIFY2(compared > 100, qPrintable(QString::number(compared)));
    QVERIFY(lines > 0);
  }
  // What random programs seldom meet.
  void cornersAgree_data() {
    QTest::addColumn<QString>("sign");
    QTest::addColumn<QString>("steps");
    QTest::addColumn<bool>("heldFirst");  // the button is down when power comes on
    const auto row = [](const char* sign, const char* steps, bool heldFirst = false) {
      QTest::addRow("%s: %s", sign, QByteArray(steps).replace('\n', "; ").constData())
          << sign << steps << heldFirst;
    };
    row("Each time D2 goes high, one after the other", "wait 0.003\nflip D4");
    row("Each time D2 goes high, one after the other", "wait 0.01\nflip D4\nwait 0.01");
    row("Each time D2 goes high, starting over", "wait 0.003\nflip D4");
    row("Each time D2 tapped within 0.004", "flip D4", true);
    row("Each time D2 tapped within 0.004", "flip D4");
    row("Each time D2 held for 0.002", "flip D4", true);
    row("Each time D2 steady for 0.001", "flip D4", true);
    row("Each time D2 is low", "flip D4", true);
    row("Keep D4 at flips on D2", "", true);
    row("Keep D4 at pulse of 0.0012 on D2", "", true);
    row("always", "wait until D2 tapped within 0.004\nflip D4", true);
    row("always", "wait until rise of D2\nflip D4", true);
  }
  void cornersAgree() {
    QFETCH(QString, sign);
    QFETCH(QString, steps);
    QFETCH(bool, heldFirst);
    QTemporaryDir folder;
    std::vector<Press> given;
    Nanoseconds when = heldFirst ? -100'000 : 600'000;
    for (int i = 0; i < 24; ++i) {
      given.push_back({std::max<Nanoseconds>(when, 0), i % 2 == 0});
      // Short, long, and a gap now and then, always between two turns.
      when += turnNanoseconds * (i % 5 == 4 ? 40 : 3 + 4 * (i % 3)) +
              (i == 0 && heldFirst ? 200'000 : 0);
    }
    const Project project = Bench()
                                .lane(sign.toStdString(), steps.toStdString())
                                .lane("Every 0.5", "set d12 low");  // in turns in any case
    const Compared done = agree(project, given, {}, folder.path(), sign + "\n" + steps);
    QVERIFY(done.changes > 1);
  }
  // Eleven pins that pulse make each edge so dear that one high tone leaves next to no room.
  void whatManyTonesLeaveAgrees() {
    QTemporaryDir folder;
    std::string tones = "tone of 9000 on D3\n";
    for (const char* pin : {"D5", "D6", "D7", "D8", "D10", "D11", "D12", "A1", "A2", "A3"})
      tones += std::string("tone of 20 on ") + pin + "\n";
    const Project project = Bench()
                                .lane("When power comes on", tones)
                                .lane("always", "flip D4\n")
                                .lane("always", "flip D13\n");
    const Compared done = agree(project, {}, {}, folder.path(), QString::fromStdString(tones));
    QVERIFY(done.changes > 50);
  }

 private:
  struct Compared {
    std::size_t changes = 0, lines = 0;
  };
  // The text and the run of a program; what differs fails the test.
  Compared agree(const Project& project, const std::vector<Press>& given,
                 const std::vector<Press>& keys, const QString& folder, const QString& what) {
    const auto [expected, wanted] = byTheRun(project, given, keys);
    const auto [got, said] = byTheText(project, given, keys, folder);
    if (QTest::currentTestFailed()) return {};
    // What is still on its way at the end is not told.
    std::size_t onItsWay = 0;
    for (std::size_t i = said.size(); i < wanted.size(); ++i) onItsWay += wanted[i].size() + 1;
    constexpr std::size_t most = 250;  // in the buffer, and the line that waits
    if (said.size() > wanted.size() || onItsWay > most ||
        !std::equal(said.begin(), said.end(), wanted.begin()))
      QTest::qFail(qPrintable(QString("the text says “%1”, the run “%2”: %3")
                                  .arg(joined(said), joined(wanted), what)),
                   __FILE__, __LINE__);
    const auto [a, b] = std::mismatch(got.begin(), got.end(), expected.begin(), expected.end());
    if (a != got.end() || b != expected.end())
      QTest::qFail(qPrintable(QString("the text %1, the run %2: %3")
                                  .arg(a == got.end() ? "nothing" : told(*a),
                                       b == expected.end() ? "nothing" : told(*b), what)),
                   __FILE__, __LINE__);
    return {got.size(), said.size()};
  }
  static QString joined(const std::vector<std::string>& lines) {
    QString out;
    for (const std::string& line : lines) out += QString::fromStdString(line) + " / ";
    return out;
  }
  Result byTheText(const Project& project, const std::vector<Press>& given,
                   const std::vector<Press>& keys, const QString& folder) {
    QString text = QString::fromStdString(cText(project, "b1").text);
    // A 1 written to such a register flips the pin.
    text.replace(QRegularExpression("PIN([A-D]) \\|= "), "PORT\\1 ^= ");
    // There a long has 32 bits, as an int has here.
    text.replace(QRegularExpression("\\b([0-9]+)(U?)L\\b"), "\\1\\2");
    text.replace("int main(void)", "int chip_main(void);\nint chip_main(void)");
    QString source = QString("#define HOST_TURNS %1\n#define HOST_ADC %2\n").arg(turns).arg(atA0);
    source += "#include <stdint.h>\n" + text;
    source += "\nuint8_t host_input(uint32_t tick, char port) {\n    uint8_t level = 0;\n";
    for (const Press& p : given)
      source += QString("    if (tick >= %1u) level = %2;\n").arg(p.at / 4000).arg(p.down ? 4 : 0);
    source += "    return port == 'D' ? level : 0;\n}\n";
    source += "void host_keys(uint32_t tick) {\n    const char *text = 0;\n";
    for (const Press& p : keys)
      source += QString("    if (tick == %1u) text = \"%2space\\n\";\n")
                    .arg(p.at / 4000)
                    .arg(p.down ? '+' : '-');
    source +=
        "    for (; text && *text; text++) host_hears(*text);\n}\nint main(void) { return "
        "chip_main(); }\n";
    QFile file(folder + "/program.c");
    if (!file.open(QIODevice::WriteOnly)) return {};
    file.write(source.toUtf8());
    file.close();
    QProcess compiler;
    compiler.start("cc", {"-std=gnu11", "-O1", "-w", "-fwrapv", "-ffp-contract=off", "-I",
                          QStringLiteral(SOURCE_DIR "/tests/reference/host_chip"), "-o",
                          folder + "/program", folder + "/program.c", "-lm"});
    const bool compiled = compiler.waitForFinished(60'000) && compiler.exitCode() == 0;
    if (!compiled)
      QTest::qFail((compiler.readAllStandardError() + source.toUtf8()).constData(), __FILE__,
                   __LINE__);
    QProcess run;
    run.start(folder + "/program", QStringList{});
    if (compiled && !run.waitForFinished(60'000))
      QTest::qFail("it does not end", __FILE__, __LINE__);
    std::vector<Change> out;
    std::vector<std::string> said;
    for (const QByteArray& line : run.readAllStandardOutput().split('\n')) {
      if (line.startsWith("said ")) {
        said.push_back(line.mid(5).toStdString());
        continue;
      }
      const QList<QByteArray> words = line.split(' ');
      if (words.size() == 3 && words[0].toUInt() < turns)
        out.push_back({words[0].toUInt(), words[1].toStdString(), words[2] == "1"});
    }
    std::sort(out.begin(), out.end());
    return {out, said};
  }
};

QTEST_GUILESS_MAIN(TestCMeaning)
#include "tst_c_meaning.moc"
