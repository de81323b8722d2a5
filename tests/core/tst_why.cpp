#include <QDir>
#include <QFile>
#include <QtTest>
#include <map>
#include <set>

#include "check/faults.h"
#include "check/rule.h"
#include "explain/why.h"
#include "format/input_language.h"
#include "format/wiring_language.h"
#include "run/kernel.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// Why something is dark, silent or still, against circuits and programs written as text, in
// tests/why/*.txt:
//
//   == what is so
//   ? PART at SECONDS [; SECONDS INPUT]…       what is asked, and what is done by hand before
//   > LOOKS CIRCUIT PROGRAM                    "fine", the rule that it breaks or *; "fine", the
//                                              step that is to blame, - for none, or *
//   = no power                                 where there is none
//   @ PART … HOLE …                            where the circuit is to blame: who, and where
//   “…”                                        the whole answer
//   wire D4 a9 …                               the circuit and its program
namespace {

struct Case {
  std::string title, part, expected, culprits, sentence, circuit;
  double seconds = 0;
  std::vector<std::pair<double, std::string>> inputs;
  bool power = true;
};

QString folder() { return QStringLiteral(SOURCE_DIR "/tests/why"); }

void readQuestion(const std::string& line, Case& out) {
  const QStringList pieces = QString::fromStdString(line).split(';');
  const QStringList first = pieces[0].split(QStringLiteral(" at "));
  out.part = first.value(0).trimmed().toStdString();
  out.seconds = first.value(1).toDouble();
  for (const QString& piece : pieces.mid(1)) {
    const QString input = piece.trimmed();
    const auto space = input.indexOf(' ');
    out.inputs.emplace_back(input.left(space).toDouble(), input.mid(space + 1).toStdString());
  }
}

std::vector<Case> casesOf(const QString& file) {
  std::vector<Case> out;
  QFile f(file);
  if (!f.open(QIODevice::ReadOnly)) return out;
  for (const QByteArray& raw : f.readAll().split('\n')) {
    const std::string line = raw.toStdString();
    if (line.starts_with("== "))
      out.push_back({line.substr(3), {}, {}, {}, {}, {}, 0, {}, true});
    else if (out.empty())
      continue;
    else if (line.starts_with("? "))
      readQuestion(line.substr(2), out.back());
    else if (line.starts_with("> "))
      out.back().expected = line.substr(2);
    else if (line == "= no power")
      out.back().power = false;
    else if (line.starts_with("@ "))
      out.back().culprits = line.substr(2);
    else if (line.starts_with("“"))
      out.back().sentence = line;
    else
      out.back().circuit += line + "\n";
  }
  return out;
}

std::shared_ptr<const Project> projectOf(const Case& c) {
  const WiringText wired = readWiring(c.circuit);
  for (const WiringProblem& problem : wired.problems)
    qWarning("%s: line %d: %s", c.title.c_str(), problem.line,
             inWords(problem.what.message).c_str());
  return wired.problems.empty() ? shared(wired.project) : nullptr;
}

std::optional<Why> asked(const std::shared_ptr<const Project>& project, const Case& c) {
  Kernel kernel(project);
  for (const auto& [seconds, text] : c.inputs) {
    auto input = readInput(*project, text);
    if (!input) {
      qWarning("%s: “%s” cannot happen", c.title.c_str(), text.c_str());
      return std::nullopt;
    }
    input->at = static_cast<Nanoseconds>(seconds * 1e9);
    kernel.schedule(*input);
  }
  kernel.advance(static_cast<Nanoseconds>(c.seconds * 1e9));
  const Snapshot now = kernel.snapshot();
  return whyOf({now, kernel.trace(), kernel.events()}, c.part, faultsOf(check(*project).findings),
               [&] { return faultsWithoutPrograms(*project); });
}

// As it is expected; what is written as * there may be anything but fine.
std::string told(const Why& why, const std::string& expected) {
  const QStringList wanted = QString::fromStdString(expected).split(' ');
  const auto any = [&](int place) { return wanted.value(place) == QLatin1String("*"); };
  const std::string circuit = why.circuit.fine ? "fine" : any(1) ? "*" : why.circuit.rule;
  const std::string program = why.program.fine            ? "fine"
                              : any(2)                    ? "*"
                              : why.program.steps.empty() ? "-"
                                                          : why.program.steps.front();
  return why.look.looks + " " + circuit + " " + program;
}

std::string culprits(const Why& why) {
  if (why.circuit.fine) return {};
  std::string out;
  for (const std::string& part : why.circuit.parts) out += (out.empty() ? "" : " ") + part;
  for (const Socket& socket : why.circuit.sockets) out += (out.empty() ? "" : " ") + socket.point;
  return out;
}

}  // namespace

class TestWhy : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void answers_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<int>("index");
    int all = 0;
    for (const QString& name : QDir(folder()).entryList({"*.txt"}, QDir::Files, QDir::Name)) {
      const auto cases = casesOf(folder() + '/' + name);
      for (std::size_t i = 0; i < cases.size(); ++i, ++all)
        QTest::newRow((name.toStdString() + " " + cases[i].title).c_str())
            << name << static_cast<int>(i);
    }
    QVERIFY(all >= 60);
  }
  void answers() {
    QFETCH(QString, file);
    QFETCH(int, index);
    const Case c = casesOf(folder() + '/' + file).at(static_cast<std::size_t>(index));
    const auto project = projectOf(c);
    QVERIFY(project);
    const auto why = asked(project, c);
    QVERIFY(why);
    const QByteArray sentence = ("“" + inWords(why->sentence) + "”").c_str();
    if (qEnvironmentVariableIsSet("IGNAVO_TELL"))
      qInfo("@ %s|%s", culprits(*why).c_str(), sentence.constData());
    QCOMPARE(QByteArray(told(*why, c.expected).c_str()), QByteArray(c.expected.c_str()));
    QCOMPARE(why->power, c.power);
    QCOMPARE(QByteArray(culprits(*why).c_str()), QByteArray(c.culprits.c_str()));
    QCOMPARE(sentence, QByteArray(c.sentence.c_str()));
    if (!why->circuit.fine) QVERIFY(!why->circuit.rule.empty());
  }

  // Of every rule that can be why something is dark a case is among them.
  void everyRuleThatDarkensIsAmongThem() {
    std::set<std::string> found;
    for (const QString& name : QDir(folder()).entryList({"*.txt"}, QDir::Files, QDir::Name))
      for (const Case& c : casesOf(folder() + '/' + name))
        if (const auto project = projectOf(c))
          if (const auto why = asked(project, c)) found.insert(why->circuit.rule);
    for (const Rule* rule : rules())
      if (rule->darkens) QVERIFY2(found.count(rule->id) != 0, rule->id.c_str());
  }
  // What the check tells of a program or a circuit, and an answer as well, they tell in the same
  // words.
  void theCheckSaysTheSame() {
    std::map<std::string, int> alike;
    for (const QString& name : QDir(folder()).entryList({"*.txt"}, QDir::Files, QDir::Name))
      for (const Case& c : casesOf(folder() + '/' + name)) {
        const auto project = projectOf(c);
        QVERIFY(project);
        const auto why = asked(project, c);
        QVERIFY(why);
        for (const Finding& f : check(*project).findings) {
          const auto tells = [&](const Message& answer, const Message& finding) {
            const QString words = QString::fromStdString(inWords(answer));
            QString mine = QString::fromStdString(inWords(finding));
            if (mine.endsWith('.')) mine.chop(1);
            const QString within = mine.left(1).toLower() + mine.mid(1);
            if (words.contains(mine) || words.contains(within)) return ++alike[f.rule] > 0;
            qWarning("%s: “%s”, and the check says “%s”", c.title.c_str(), qPrintable(words),
                     qPrintable(mine));
            return false;
          };
          const auto& steps = why->program.steps;
          const bool itsStep =
              !why->program.fine && !f.steps.empty() &&
              std::find(steps.begin(), steps.end(), f.steps.front()) != steps.end();
          if (f.rule == "never-on" && itsStep) QVERIFY(tells(why->program.words, f.title));
          if ((f.rule == "stuck-loop" || f.rule == "pin-unwired") && itsStep)
            QVERIFY(tells(why->program.words, f.reason.all().front()));
          // What was damaged is told as what happened, not as what may.
          const bool damaged = inWords(why->circuit.words).find("damaged") != std::string::npos;
          if (!damaged && f.rule == why->circuit.rule && f.parts == why->circuit.parts)
            QVERIFY(
                tells(why->circuit.words, f.rule == "led-dark" ? f.reason.all().front() : f.title));
        }
      }
    for (const char* rule : {"never-on", "stuck-loop", "pin-unwired", "led-reversed", "led-dark",
                             "leg-loose", "rail-unfed"})
      QVERIFY2(alike[rule] > 0, rule);
  }
};

QTEST_GUILESS_MAIN(TestWhy)
#include "tst_why.moc"
