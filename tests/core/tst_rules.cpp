#include <QDir>
#include <QFile>
#include <QtTest>
#include <map>
#include <set>

#include "check/rule.h"
#include "format/wiring_language.h"
#include "support/build.h"

using namespace ignavo;

// Every rule against small circuits written as text, in tests/rules/RULE.txt:
//
//   == fires: what is wrong          (or  == silent: why this is fine)
//   > RULE SEVERITY CULPRIT [at STEP] [while ID=HOW …]     each finding that is expected, no others
//   ! REMEDY                           a remedy that must be offered for one of them
//   (0_% is “0 %”) wire D4 a9 …                     the circuit and its program
namespace {

struct Case {
  std::string title;
  bool fires = false;
  std::vector<std::string> expected, offered;
  std::string circuit;
};

std::vector<Case> casesOf(const QByteArray& text) {
  std::vector<Case> out;
  for (const QByteArray& raw : text.split('\n')) {
    const std::string line = raw.toStdString();
    if (line.starts_with("== ")) {
      out.push_back({line.substr(3), line.starts_with("== fires:"), {}, {}});
    } else if (line.starts_with("> ") && !out.empty()) {
      out.back().expected.push_back(line.substr(2));
    } else if (line.starts_with("! ") && !out.empty()) {
      out.back().offered.push_back(line.substr(2));
    } else if (!out.empty()) {
      out.back().circuit += line + "\n";
    }
  }
  return out;
}

QByteArray textOf(const QString& file) {
  QFile f(file);
  return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
}

QString folder() { return QStringLiteral(SOURCE_DIR "/tests/rules"); }

std::string culpritOf(const Finding& f) {
  if (!f.parts.empty()) return f.parts.front();
  if (!f.pins.empty()) return f.pins.front();
  if (!f.steps.empty()) return f.steps.front();
  return f.sockets.empty() ? "-" : f.sockets.front().point;
}

// As it is expected: with its pose only when one was written down.
std::string described(const Finding& f, const std::string& wanted) {
  std::string out = f.rule + " " + severityId(f.severity) + " " + culpritOf(f);
  for (const std::string& step : f.steps)
    if (wanted.ends_with(" at " + step)) out += " at " + step;
  const auto pose = wanted.find(" while ");
  if (pose == std::string::npos || wanted.substr(0, pose) != out) return out;
  std::map<std::string, std::string> asked;
  for (const QString& word :
       QString::fromStdString(wanted.substr(pose + 7)).split(' ', Qt::SkipEmptyParts)) {
    const QStringList sides = word.split('=');
    asked[sides.value(0).toStdString()] = sides.value(1).replace('_', ' ').toStdString();
  }
  bool held = true;
  for (const auto& [id, how] : asked) held = held && f.pose.contains(id) && f.pose.at(id) == how;
  if (held) return wanted;
  out += " while";
  for (const auto& [id, how] : f.pose) out += " " + id + "=" + how;
  return out;
}

std::string joinedLines(const std::multiset<std::string>& lines) {
  std::string out;
  for (const std::string& l : lines) out += l + "\n";
  return out;
}

}  // namespace

class TestRules : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void circuits_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<int>("index");
    for (const QString& name : QDir(folder()).entryList({"*.txt"}, QDir::Files, QDir::Name)) {
      const auto cases = casesOf(textOf(folder() + '/' + name));
      for (std::size_t i = 0; i < cases.size(); ++i)
        QTest::newRow((name.toStdString() + " " + cases[i].title).c_str())
            << name << static_cast<int>(i);
    }
  }
  void circuits() {
    QFETCH(QString, file);
    QFETCH(int, index);
    const Case c = casesOf(textOf(folder() + '/' + file)).at(static_cast<std::size_t>(index));
    const WiringText wired = readWiring(c.circuit);
    if (!wired.problems.empty())
      QFAIL((c.title + ": line " + std::to_string(wired.problems[0].line) + ": " +
             inWords(wired.problems[0].what.message))
                .c_str());
    // "# size 40000 900": what the last compiling came to.
    ProgramSizes sizes;
    if (const auto at = c.circuit.find("# size "); at != std::string::npos) {
      ProgramSize& size = sizes["b1"];
      QVERIFY(std::sscanf(c.circuit.c_str() + at, "# size %d %d", &size.flash, &size.ram) == 2);
    }
    const CheckResult result = check(wired.project, nullptr, nullptr, sizes);
    QVERIFY2(result.unsolved.empty(), "not solved");
    const std::multiset<std::string> wanted(c.expected.begin(), c.expected.end());
    std::multiset<std::string> left = wanted, got;
    for (const Finding& f : result.findings) {
      std::string line = described(f, {});
      for (const std::string& w : left)
        if (described(f, w) == w) line = w;
      if (const auto it = left.find(line); it != left.end()) left.erase(it);
      got.insert(line);
    }
    if (got != wanted) {
      std::string more;
      for (const Finding& f : result.findings)
        more += "  " + inWords(f.title) + ". " + inWords(f.reason) + "\n";
      QFAIL(("expected:\n" + joinedLines(wanted) + "got:\n" + joinedLines(got) + more).c_str());
    }
    const std::string rule = QFileInfo(file).baseName().toStdString();
    QCOMPARE(std::any_of(result.findings.begin(), result.findings.end(),
                         [&](const Finding& f) { return f.rule == rule; }),
             c.fires);
    std::string titles;
    for (const Finding& f : result.findings)
      for (const Remedy& r : f.remedies) titles += inWords(r.title) + "\n";
    for (const std::string& title : c.offered)
      QVERIFY2(("\n" + titles).find("\n" + title + "\n") != std::string::npos,
               (title + " is not offered, but:\n" + titles).c_str());
    sentencesAreWhole(result);
    remediesMend(wired.project, result);
  }
  void everyRuleHasThreeOfEach() {
    for (const Rule* rule : rules()) {
      int fires = 0, silent = 0;
      for (const Case& c :
           casesOf(textOf(folder() + '/' + QString::fromStdString(rule->id) + ".txt")))
        ++(c.fires ? fires : silent);
      QVERIFY2(fires >= 3 && silent >= 3, rule->id.c_str());
      QVERIFY2(!rule->meaning.empty() && !rule->why.empty() && !rule->mend.empty(),
               rule->id.c_str());
    }
  }

 private:
  static void sentencesAreWhole(const CheckResult& result) {
    for (const Finding& f : result.findings) {
      QVERIFY2(!inWords(f.title).empty() && inWords(f.title).back() != '.' &&
                   inWords(f.title).size() < 90,
               inWords(f.title).c_str());
      QVERIFY2(inWords(f.reason).ends_with(".") || inWords(f.reason).ends_with("?") ||
                   inWords(f.reason).ends_with("”."),
               inWords(f.reason).c_str());
      // Whole sentences with places, not texts that are made already.
      QVERIFY2(!f.title.context.empty(), inWords(f.title).c_str());
      for (const Message& each : f.reason.all())
        QVERIFY2(!each.context.empty(), inWords(each).c_str());
      for (const Remedy& r : f.remedies)
        QVERIFY2(!r.title.context.empty(), inWords(r.title).c_str());
      for (const char* blame : {"you forgot", "You forgot", "mistake", "wrong"})
        QVERIFY2(inWords(f.reason).find(blame) == std::string::npos, inWords(f.reason).c_str());
      QVERIFY2(inWords(f.reason).find("  ") == std::string::npos &&
                   inWords(f.reason).find("{}") == std::string::npos,
               inWords(f.reason).c_str());
      QVERIFY(!f.parts.empty() || !f.pins.empty() || !f.steps.empty() || !f.sockets.empty());
    }
  }
  // What a remedy mends is mended, and nothing worse comes in its place.
  static void remediesMend(const Project& before, const CheckResult& result) {
    for (const Finding& f : result.findings)
      for (const Remedy& r : f.remedies) {
        QVERIFY(!(r.after == before));
        std::string then;
        for (const Finding& g : check(r.after).findings) {
          QVERIFY2(g.rule != f.rule || culpritOf(g) != culpritOf(f),
                   (inWords(r.title) + " does not mend " + inWords(f.title)).c_str());
          const bool known = std::any_of(result.findings.begin(), result.findings.end(),
                                         [&](const Finding& h) { return h.rule == g.rule; });
          QVERIFY2(known || g.severity != Severity::danger,
                   (inWords(r.title) + " brings " + inWords(g.title)).c_str());
        }
      }
  }
};

QTEST_GUILESS_MAIN(TestRules)
#include "tst_rules.moc"
