#include <QProcess>
#include <QtTest>
#include <cmath>
#include <map>
#include <random>
#include <sstream>

#include "demos.h"
#include "format/project_file.h"
#include "format/trace_text.h"
#include "run/kernel.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A value change dump as IEEE 1364 describes it, read without knowing who wrote it.
struct Dump {
  struct Variable {
    std::string type, name;
    std::vector<std::pair<std::int64_t, double>> changes;
  };
  std::map<std::string, Variable> byId;
  std::int64_t end = -1;
  std::string problem;

  explicit Dump(const std::string& text) {
    std::istringstream in(text);
    std::string word;
    bool defined = false, dumped = false;
    std::int64_t now = -1;
    while (problem.empty() && in >> word) {
      if (word == "$timescale") {
        if (upTo(in) != "1ns") problem = "another time scale";
      } else if (word == "$var") {
        std::istringstream var(upTo(in));
        std::string width, id;
        Variable v;
        var >> v.type >> width >> id >> v.name;
        if (defined || !byId.emplace(id, v).second) problem = "declared twice, or too late: " + id;
        for (char c : id)
          if (c < '!' || c > '~') problem = "not a printable identifier";
        if ((v.type == "real") != (width == "64") && width != "1") problem = "width of " + v.name;
      } else if (word == "$enddefinitions") {
        defined = true;
        upTo(in);
      } else if (word == "$dumpvars") {
        dumped = true;
      } else if (word == "$end") {
        // of $dumpvars
      } else if (word[0] == '$') {
        upTo(in);
      } else if (word[0] == '#') {
        const std::int64_t at = std::stoll(word.substr(1));
        if (!defined || at <= now) problem = "times must rise: " + word;
        now = end = at;
      } else {
        const bool real = word[0] == 'r';
        std::string id = word.substr(1);
        const double value = real ? std::stod(id) : word[0] - '0';
        if (real && !(in >> id)) problem = "a value without its identifier";
        if (!real && value != 0 && value != 1) problem = "no level: " + word;
        const auto it = byId.find(id);
        if (it == byId.end() || !dumped || (it->second.type == "real") != real)
          problem = "unknown identifier " + id;
        else
          it->second.changes.emplace_back(now, value);
      }
    }
  }
  const Variable* named(const std::string& name) const {
    for (const auto& [id, v] : byId)
      if (v.name == name) return &v;
    return nullptr;
  }

 private:
  static std::string upTo(std::istringstream& in) {
    std::string word, all;
    while (in >> word && word != "$end") all += (all.empty() ? "" : " ") + word;
    return all;
  }
};

std::string contents(const QString& path) {
  QFile file(path);
  return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
}

int cli(const QStringList& words, const QString& in) {
  QProcess p;
  p.setWorkingDirectory(in);
  p.start(QString::fromUtf8(CLI_PATH), words);
  p.waitForFinished(60000);
  return p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1;
}

}  // namespace

// Traces as other programs get them: read back they are what the run recorded.
class TestExports : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;

 private Q_SLOTS:
  void everyDemoIsReadBack_data() {
    QTest::addColumn<QString>("demo");
    for (const Demo& d : demos()) QTest::newRow(d.name.c_str()) << QString::fromStdString(d.name);
  }
  void everyDemoIsReadBack() {
    QFETCH(QString, demo);
    const std::string text = ignavo::demo(demo.toStdString())->text;
    const QString file = folder_.filePath(demo + ".ignavo"), vcd = folder_.filePath(demo + ".vcd"),
                  csv = folder_.filePath(demo + ".csv");
    QFile out(file);
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(QByteArray::fromStdString(text));
    out.close();
    // The same run here and there, with a press where there is a button.
    const Project p = readProject(text).project;
    Kernel kernel(shared(p));
    QStringList words{"run", file, "--for", "1.5", "--vcd", vcd, "--csv", csv};
    if (p.part("btn1")) {
      words << "--at"
            << "0.3"
            << "press btn1"
            << "--at"
            << "0.9"
            << "release btn1";
      kernel.schedule(at(0.3, Input::What::press, "btn1"));
      kernel.schedule(at(0.9, Input::What::release, "btn1"));
    }
    const Nanoseconds until = second * 3 / 2;
    kernel.advance(until);
    QCOMPARE(cli(words, folder_.path()), 0);

    const Dump dump(contents(vcd));
    QVERIFY2(dump.problem.empty(), dump.problem.c_str());
    QCOMPARE(dump.end, static_cast<std::int64_t>(until));
    const Trace& trace = kernel.trace();
    QCOMPARE(dump.byId.size(), trace.signals().size());
    for (std::size_t s = 0; s < trace.signals().size(); ++s) {
      const Signal& signal = trace.signals()[s];
      const std::string name = signal.owner + "." +
                               (signal.what == Signal::What::pinLevel   ? signal.name
                                : signal.what == Signal::What::partAmps ? "amps"
                                                                        : "volts");
      const Dump::Variable* v = dump.named(name);
      QVERIFY2(v, name.c_str());
      std::vector<std::pair<std::int64_t, double>> expected;
      trace.forEachEdge(static_cast<int>(s), 0, until, [&](const Edge& e) {
        expected.emplace_back(e.at, e.value);
        return true;
      });
      // The first entry is the level at the beginning.
      QVERIFY2(!v->changes.empty() && v->changes.front().first == 0, name.c_str());
      const std::size_t n = v->changes.size() - 1;
      QVERIFY2(n == expected.size(), qPrintable(QString("%1: %2 changes, recorded %3")
                                                    .arg(QString::fromStdString(name))
                                                    .arg(n)
                                                    .arg(expected.size())));
      for (std::size_t k = 0; k < n; ++k) {
        QCOMPARE(v->changes[k + 1].first, expected[k].first);
        QVERIFY(std::abs(v->changes[k + 1].second - expected[k].second) <=
                1e-6 * std::abs(expected[k].second) + 1e-12);
      }
    }
    tableAgrees(contents(csv), dump, until);
  }
  // Every row of the table holds what all signals are at that moment.
  void tableAgrees(const std::string& csv, const Dump& dump, Nanoseconds until) {
    std::istringstream in(csv);
    std::string line, cell;
    QVERIFY(std::getline(in, line));
    std::vector<std::string> names;
    for (std::istringstream head(line); std::getline(head, cell, ',');) names.push_back(cell);
    QCOMPARE(names.front(), std::string("seconds"));
    QCOMPARE(names.size(), dump.byId.size() + 1);
    std::int64_t last = -1;
    int rows = 0;
    std::vector<std::size_t> at(names.size(), 0);
    while (std::getline(in, line)) {
      std::vector<double> cells;
      for (std::istringstream row(line); std::getline(row, cell, ',');)
        cells.push_back(std::stod(cell));
      QCOMPARE(cells.size(), names.size());
      const std::int64_t now = std::llround(cells[0] * 1e9);
      QVERIFY(now > last);
      last = now;
      for (std::size_t c = 1; c < names.size(); ++c) {
        const auto& changes = dump.named(names[c])->changes;
        while (at[c] + 1 < changes.size() && changes[at[c] + 1].first <= now) ++at[c];
        QVERIFY2(std::abs(changes[at[c]].second - cells[c]) <= 1e-6 * std::abs(cells[c]) + 1e-12,
                 names[c].c_str());
      }
      ++rows;
    }
    QCOMPARE(last, static_cast<std::int64_t>(until));
    QVERIFY(rows > 2);
  }
  // Whatever is typed: an exit status of the page, never a crash.
  void anyWordsEndInOneOfThreeWays() {
    const QString file = folder_.filePath("a.ignavo");
    QFile out(file);
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(QByteArray::fromStdString(ignavo::demo("ferry-call-bell")->text));
    out.close();
    const QStringList words = {"check",
                               "solve",
                               "run",
                               "wire",
                               "code",
                               "firmware",
                               "demos",
                               "schema",
                               "--json",
                               "--for",
                               "--at",
                               "--pin",
                               "--press",
                               "--set",
                               "0.1",
                               "-1",
                               "nonsense",
                               "D3=high",
                               "D99=high",
                               "btn1",
                               "R9.ohms=3",
                               file,
                               "",
                               "--fail-on",
                               "danger",
                               "press btn1",
                               "reset",
                               "--sarif",
                               "--vcd",
                               "/no/such/place",
                               "r1.ohms=470",
                               "led1.colour=mauve",
                               "--help",
                               "-o",
                               "1e9"};
    std::mt19937 random(3);
    int used = 0;
    for (int round = 0; round < 250; ++round) {
      QStringList line{words[static_cast<int>(random() % 8)]};
      if (random() % 2) line << file;
      for (unsigned i = 0; i < random() % 4; ++i)
        line << words[static_cast<int>(random() % static_cast<std::size_t>(words.size()))];
      if (line.contains("1e9")) continue;  // for ever
      const int exit = cli(line, folder_.path());
      QVERIFY2(exit >= 0 && exit <= 2, qPrintable(line.join(" | ")));
      used += exit != 2;
    }
    QVERIFY(used > 20);
  }
  // What repeats itself very often is handed over in pieces, in order of time.
  void longTracesComeInPieces() {
    Trace trace({{Signal::What::pinLevel, "b1", "D4"}, {Signal::What::partAmps, "led1", {}}});
    for (Nanoseconds at = 100; at <= 2'000; at += 100) {
      trace.record(0, at, at % 200 == 0 ? 1.0f : 0.0f);
      if (at % 500 == 0) trace.record(1, at, static_cast<float>(at % 1000 == 0) * 0.01f);
      trace.extendTo(at);
    }
    QVERIFY(trace.repeatLast(1000, 30'000));
    trace.record(1, trace.end(), 0.5f);
    const Nanoseconds end = trace.end();
    for (const auto write : {writeVcd, writeCsv}) {
      std::string all;
      int pieces = 0;
      double share = 0;
      QVERIFY(write(trace, [&](std::string_view piece, double of) {
        all += piece;
        ++pieces;
        [&] { QVERIFY(of >= share && of <= 1 && piece.size() < 4'000'000); }();
        share = of;
        return !QTest::currentTestFailed();
      }));
      QCOMPARE(share, 1.0);
      QVERIFY2(pieces > 4, qPrintable(QString::number(pieces)));
      QCOMPARE(all, write == writeVcd ? vcdText(trace) : csvText(trace));
      // Given up after the second.
      int taken = 0;
      QVERIFY(!write(trace, [&](std::string_view, double) { return ++taken < 2; }));
      QCOMPARE(taken, 2);
    }
    const Dump dump(vcdText(trace));
    QVERIFY2(dump.problem.empty(), dump.problem.c_str());
    QCOMPARE(dump.end, end);
    for (const auto& [id, variable] : dump.byId) {
      const int signal = variable.type == "wire" ? 0 : 1;
      QCOMPARE(static_cast<std::int64_t>(variable.changes.size()),
               1 + trace.countEdges(signal, -1, end));  // and how it begins
      for (std::size_t k = 1; k < variable.changes.size(); k += 997)
        QCOMPARE(static_cast<float>(variable.changes[k].second),
                 trace.valueAt(signal, variable.changes[k].first));
    }
  }
  // Where the beginning is forgotten the dump begins with what is there.
  void itBeginsWhereTheTraceBegins() {
    Trace trace({{Signal::What::pinLevel, "b1", "D4"}});
    for (int i = 1; i < 60'000; ++i) trace.record(0, 100 * i, static_cast<float>(i % 2));
    trace.limitBytes(300'000);
    QVERIFY(trace.begin() > 1'000'000);
    const std::string text = vcdText(trace);
    QVERIFY(text.find("#" + std::to_string(trace.begin()) + "\n$dumpvars") != std::string::npos);
    QVERIFY(Dump(text).problem.empty());
  }
};

QTEST_GUILESS_MAIN(TestExports)
#include "tst_exports.moc"
