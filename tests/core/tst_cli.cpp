#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QtTest>

#include "demos.h"

// The command line as a script would use it: the real program, its exit
// status, and the JSON that is promised.
namespace {

struct Ran {
  int exit = -1;
  QByteArray out, err;
  QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};

Ran cli(const QStringList& words, const char* program = CLI_PATH) {
  QProcess p;
  QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
  env.insert("QT_QPA_PLATFORM", "offscreen");
  p.setProcessEnvironment(env);
  p.start(QString::fromUtf8(program), words);
  p.waitForFinished(60000);
  return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
          p.readAllStandardError()};
}

}  // namespace

class TestCli : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  QString demo(const char* name, const char* what = nullptr, const char* with = nullptr) {
    QByteArray text = QByteArray::fromStdString(ignavo::demo(name)->text);
    if (what && !text.contains(what)) qFatal("not in the demo: %s", what);
    if (what) text.replace(what, with);
    static int n = 0;
    const QString path =
        folder_.filePath(QStringLiteral("%1-%2.ignavo").arg(QString::fromLatin1(name)).arg(++n));
    QFile file(path);
    file.open(QIODevice::WriteOnly);
    file.write(text);
    return path;
  }

  static QJsonObject boardOf(const Ran& r) {
    return r.json()["boards"].toObject()["b1"].toObject();
  }

 private Q_SLOTS:
  // The boards' own code, and both beside each other.
  void firmwareIsRunAndCompared() {
    const QString file = demo("landing-beacon"), hex = folder_.filePath("beacon.hex");
    QCOMPARE(cli({"firmware", file, "-o", hex}).exit, 0);
    const auto edgesOf = [&](const QStringList& more) {
      const Ran r = cli(QStringList{"run", file, "--for", "3", "--json"} + more);
      return boardOf(r)["pins"].toObject()["D4"].toObject();
    };
    const QJsonObject steps = edgesOf({}), firmware = edgesOf({"--firmware"});
    QCOMPARE(firmware["edges"], steps["edges"]);
    for (int k = 0; k < 6; ++k)
      QVERIFY(std::abs(firmware["first_edges"].toArray()[k].toDouble() -
                       steps["first_edges"].toArray()[k].toDouble()) < 0.3e-6);
    const QJsonObject foreign = edgesOf({"--hex", hex});
    QCOMPARE(foreign["edges"], steps["edges"]);
    QVERIFY(foreign["first_edges"].toArray()[0].toDouble() >
            steps["first_edges"].toArray()[0].toDouble());

    const Ran compared = cli({"compare", file, "--for", "3", "--json"});
    QCOMPARE(compared.exit, 0);
    QCOMPARE(compared.json()["same"].toBool(), true);
    QCOMPARE(compared.json()["edges"].toInt(), 6);
    QVERIFY(compared.json()["first_difference"].isNull());
    QVERIFY(cli({"compare", file, "--for", "3"}).out.startsWith("6 edges, all the same"));
  }
  void whyIsAnswered() {
    const QString file = demo("landing-beacon");
    const Ran r = cli({"why", file, "--part", "led1", "--for", "0.7", "--json"});
    QCOMPARE(r.exit, 0);
    const QJsonObject why = r.json();
    QCOMPARE(why.keys(),
             (QStringList{"board", "circuit", "looks", "part", "power", "program", "sentence"}));
    QCOMPARE(why["part"].toString(), QStringLiteral("led1"));
    QVERIFY(why["power"].toBool());
    QVERIFY(why["circuit"]["fine"].toBool() && why["circuit"]["rule"].isNull());
    QCOMPARE(why["circuit"]["sockets"].toArray().size(), 0);
    const QJsonValue set = why["program"]["last_set"];
    QCOMPARE(set["level"].toString(), QStringLiteral("low"));
    const QJsonObject arm = cli({"why", demo("gate-arm"), "--part", "servo1", "--json"}).json();
    QCOMPARE(arm["program"]["last_set"]["level"].toString(), QStringLiteral("servo"));
    QCOMPARE(arm["looks"].toString(), QStringLiteral("still"));
    QVERIFY(std::abs(set["t"].toDouble() - 0.5) < 1e-4);
    QCOMPARE(set["step"].toString(), why["program"]["steps"].toArray()[0].toString());
    QVERIFY(set["step"].toString().startsWith("programs[0].lanes[0].steps["));
    QVERIFY(why["board"].toObject()["version"].isNull());
    QVERIFY(why["board"].toObject()["current"].isNull());
    QVERIFY(!why["sentence"].toString().isEmpty());
    // The board's own lamp, and one of several in a part.
    const QJsonObject own = cli({"why", file, "--part", "b1", "--json"}).json();
    QCOMPARE(own["part"].toString(), QStringLiteral("b1"));
    QCOMPARE(own["looks"].toString(), QStringLiteral("dark"));
    QVERIFY(own["sentence"].toString().startsWith("Board’s own lamp is dark"));
    // In words for people; and what cannot be asked.
    QVERIFY(cli({"why", file, "--part", "led1"}).out.contains("Circuit"));
    for (const auto& [args, said] :
         {std::pair{QStringList{"--part", "led9"}, "there is no part “led9”"},
          std::pair{QStringList{"--part", "r1"}, "gives nothing to see or hear"},
          std::pair{QStringList{"--part", "led1.anode"}, "there is no part “led1.anode”"},
          std::pair{QStringList{"--part", "b1.D4"}, "there is no part “b1.D4”"},
          std::pair{QStringList{"--part", "led1", "--for", "-1"}, "--for takes seconds"},
          std::pair{QStringList{"--part", "led1", "--at", "1", "press led1"}, "led1"}}) {
      const Ran bad = cli(QStringList{"why", file} + args);
      QCOMPARE(bad.exit, 2);
      QVERIFY2(bad.err.contains(said), qPrintable(bad.err));
    }
  }
  void badHexIsSaid() {
    const QString file = demo("landing-beacon"), hex = folder_.filePath("bad.hex");
    const auto said = [&](const QByteArray& text) {
      QFile out(hex);
      out.open(QIODevice::WriteOnly | QIODevice::Truncate);
      out.write(text);
      out.close();
      const Ran r = cli({"run", file, "--for", "1", "--hex", hex});
      return QString::number(r.exit) + " " + r.err;
    };
    QVERIFY(said(":0100000055AA\n").contains("it was cut"));
    QVERIFY(said(":0100000055AB\n:00000001FF\n").contains("sum of line 1"));
    QVERIFY(said("beacon\n").contains("no Intel HEX"));
    QVERIFY(said(":020000040001F9\n:0100000055AA\n:00000001FF\n").contains("another chip"));
    QVERIFY(said(":00000001FF\n").startsWith("2 "));
    QCOMPARE(cli({"run", file, "--for", "1", "--hex", "no-such-file.hex"}).exit, 2);
    QCOMPARE(cli({"run", file, "--for", "1", "--firmware", "--hex", hex}).exit, 2);
    // What a chip cannot do stands among the faults.
    QVERIFY(said(":02000000FFFF00\n:00000001FF\n").startsWith("0 "));
    const Ran r = cli({"run", file, "--for", "1", "--hex", hex, "--json"});
    const QJsonArray faults = boardOf(r)["faults"].toArray();
    QCOMPARE(faults.size(), 1);
    QVERIFY(faults[0].toObject()["message"].toString().contains("none of its instructions"));
  }
  void phrasesAreExplained() {
    const auto said = [](const QStringList& words) {
      const Ran r = cli(QStringList{"phrase"} + words + QStringList{"--json"});
      return std::pair(r.exit, QJsonDocument::fromJson(r.out).object());
    };
    const auto [exit, step] = said({"turn d4 on"});
    QCOMPARE(exit, 0);
    QCOMPARE(QJsonDocument(step).toJson(QJsonDocument::Compact),
             QByteArray(R"({"step":{"do":"set","pin":"D4","to":"high"}})"));
    const QJsonObject loop = said({"while volts at a0 > 2.5"}).second["step"].toObject();
    QCOMPARE(loop["do"].toString(), QString("while"));
    const QJsonObject test = loop["test"].toObject();
    QCOMPARE(test["op"].toString(), QString(">"));
    QCOMPARE(test["a"].toObject()["get"].toString(), QString("volts"));
    QCOMPARE(test["b"].toDouble(), 2.5);
    QVERIFY(loop["steps"].isArray());
    QCOMPARE(said({"Each time D2 goes high"})
                 .second["lane"]
                 .toObject()["trigger"]
                 .toObject()["pin"]
                 .toString(),
             QString("D2"));
    QVERIFY(said({"else"}).second["else"].toBool());
    const auto [asked, problem] = said({"wait 1000"});
    QCOMPARE(asked, 1);
    QVERIFY(problem["problem"].toString().contains("1000 seconds"));
    const auto [bad, unknown] = said({"set x9 high"});
    QCOMPARE(bad, 1);
    QCOMPARE(unknown["at"].toInt(), 4);
    QVERIFY(said({"set d4"}).second["choices"].toArray().contains("set D4 high"));
    const QJsonArray group = said({"blink"}).second["steps"].toArray();
    QCOMPARE(group.size(), 4);
    QCOMPARE(group[0].toObject()["pin"].toString(), QString("D13"));
    // Which of three lamps?
    const auto [which, lamps] = said({"blink", demo("berth-signals")});
    QCOMPARE(which, 1);
    QCOMPARE(lamps["choices"].toArray().size(), 3);
    QVERIFY(lamps["choices"].toArray()[0].toString().startsWith("blink D"));
    QCOMPARE(cli({"phrase"}).exit, 2);
    QCOMPARE(cli({"phrase", "set d4 high", "none.ignavo"}).exit, 2);
    QCOMPARE(cli({"phrase", "dim d9 30"}).out.trimmed(), QByteArray("dim D9 to 30 %"));
  }
  void checkPrintsFindingsAndExits() {
    Ran r = cli({"check", demo("landing-beacon"), "--json"});
    QCOMPARE(r.exit, 0);
    QCOMPARE(r.json()["findings"].toArray().size(), 0);
    QCOMPARE(r.json()["poses"].toInt(), 2);
    QCOMPARE(r.json()["sampled"].toBool(), false);
    const QString turned = demo("landing-beacon", "\"anode\": \"bb.i9\", \"cathode\": \"bb.i11\"",
                                "\"anode\": \"bb.i11\", \"cathode\": \"bb.i9\"");
    r = cli({"check", turned, "--json"});
    QCOMPARE(r.exit, 1);
    const QJsonObject f = r.json()["findings"].toArray().at(0).toObject();
    QCOMPARE(f["rule"].toString(), QString("led-reversed"));
    QCOMPARE(f["severity"].toString(), QString("warning"));
    QCOMPARE(f["parts"].toArray().at(0).toString(), QString("led1"));
    QCOMPARE(f["pose"].toObject()["D4"].toString(), QString("high"));
    QCOMPARE(f["remedies"].toArray().at(0).toString(), QString("Turn it round"));
    QVERIFY(!f["title"].toString().isEmpty() && !f["reason"].toString().isEmpty() &&
            f["figures"].isObject() && f["steps"].isArray());
    QCOMPARE(cli({"check", turned, "--fail-on", "danger"}).exit, 0);
    // Several files give an array.
    r = cli({"check", turned, demo("berth-signals"), "--json"});
    QCOMPARE(QJsonDocument::fromJson(r.out).array().size(), 2);
    QCOMPARE(r.exit, 1);
  }
  void manyFilesAreCheckedInTheirOrder() {
    QStringList files;
    for (int i = 0; i < 24; ++i)
      files << (i % 3 == 1 ? folder_.filePath("none.ignavo")
                           : demo(i % 2 ? "landing-beacon" : "ferry-call-bell"));
    const Ran r = cli(QStringList{"check", "--json"} + files);
    QCOMPARE(r.exit, 2);  // some cannot be read; the others are checked all the same
    QStringList wanted, got;
    for (const QString& f : files)
      if (!f.endsWith("none.ignavo")) wanted << f;
    for (const QJsonValue& v : QJsonDocument::fromJson(r.out).array())
      got << v.toObject()["file"].toString();
    QCOMPARE(got, wanted);
    QCOMPARE(cli(QStringList{"check", "--json"} + files).out, r.out);
  }
  void findingsAsSarif() {
    const QString turned = demo("landing-beacon", "\"anode\": \"bb.i9\", \"cathode\": \"bb.i11\"",
                                "\"anode\": \"bb.i11\", \"cathode\": \"bb.i9\"");
    const Ran r = cli({"check", turned, "--sarif"});
    QCOMPARE(r.exit, 1);
    const QJsonObject log = r.json();
    QCOMPARE(log["version"].toString(), QString("2.1.0"));
    const QJsonObject run = log["runs"].toArray().at(0).toObject();
    const QJsonArray known = run["tool"].toObject()["driver"].toObject()["rules"].toArray();
    QVERIFY(known.size() > 30);
    const QJsonObject result = run["results"].toArray().at(0).toObject();
    QCOMPARE(result["ruleId"].toString(), QString("led-reversed"));
    QCOMPARE(result["level"].toString(), QString("warning"));
    QVERIFY(result["message"].toObject()["text"].toString().contains("Red lamp"));
    const QJsonObject place =
        result["locations"].toArray().at(0).toObject()["physicalLocation"].toObject();
    QCOMPARE(place["artifactLocation"].toObject()["uri"].toString(), turned);
    // The line on which the lamp stands in the file.
    QFile file(turned);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const int line = place["region"].toObject()["startLine"].toInt();
    QVERIFY(file.readAll().split('\n').at(line - 1).contains("led1"));
    QCOMPARE(cli({"check", turned, "--sarif", "--json"}).exit, 2);
  }
  void stepsAreNamedByTheirPath() {
    const Ran r = cli({"check",
                       demo("landing-beacon", "\"pin\": \"D4\", \"to\": \"low\"",
                            "\"pin\": \"D5\", \"to\": \"low\""),
                       "--json"});
    QCOMPARE(r.json()["findings"].toArray().at(0).toObject()["steps"].toArray().at(0).toString(),
             QString("programs[0].lanes[0].steps[2]"));
  }
  void solveGivesTheNetsAndParts() {
    const Ran r = cli({"solve", demo("ferry-call-bell"), "--pin", "D3=high", "--press", "btn1",
                       "--set", "r1.ohms=330", "--json"});
    QCOMPARE(r.exit, 0);
    const QJsonObject j = r.json();
    QVERIFY(j["converged"].toBool());
    const double amps = j["parts"].toObject()["led1"].toObject()["amps"].toDouble();
    QVERIFY(amps > 0.0075 && amps < 0.0085);
    QVERIFY(j["parts"].toObject()["led1"].toObject()["light"].toDouble() > 0.5);
    QVERIFY(std::abs(j["pins"].toObject()["D2"].toObject()["volts"].toDouble() - 5) < 0.01);
    bool found = false;
    for (const QJsonValue& n : j["nets"].toArray()) {
      if (n.toObject()["name"] != "D3") continue;
      found = true;
      QCOMPARE(n.toObject()["sockets"].toArray().size(), 6);
      QVERIFY(n.toObject()["sockets"].toArray().contains("bb.d9"));
    }
    QVERIFY(found);
  }
  void solveSaysWhenThereIsNoSolution() {
    const Ran r = cli(
        {"solve", demo("ferry-call-bell", "\"to\": \"bb.lp2\"", "\"to\": \"bb.ln2\""), "--json"});
    QCOMPARE(r.exit, 1);
    QCOMPARE(r.json()["converged"].toBool(), false);
  }
  void runCountsAndWritesTraces() {
    const QString vcd = folder_.filePath("a.vcd"), csv = folder_.filePath("a.csv");
    const Ran r =
        cli({"run", demo("landing-beacon"), "--for", "10", "--json", "--vcd", vcd, "--csv", csv});
    QCOMPARE(r.exit, 0);
    const QJsonObject pin =
        r.json()["boards"].toObject()["b1"].toObject()["pins"].toObject()["D4"].toObject();
    QCOMPARE(pin["direction"].toString(), QString("output"));
    QCOMPARE(pin["edges"].toInt(), 20);
    QCOMPARE(pin["first_edges"].toArray().size(), 20);
    QVERIFY(std::abs(pin["high_seconds"].toDouble() - 5) < 0.001);
    const QJsonObject led = r.json()["parts"].toObject()["led1"].toObject();
    QCOMPARE(led["flashes"].toInt(), 10);
    QCOMPARE(led["damaged"].toBool(), false);
    for (const char* key : {"light_mean", "light", "lit_seconds", "peak_amps"})
      QVERIFY(led.contains(QLatin1String(key)));
    QFile file(vcd);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QByteArray text = file.readAll();
    QVERIFY(text.startsWith("$timescale 1ns $end") && text.contains("$var wire 1 ! b1.D4 $end") &&
            text.contains("#125\n1!"));
    QFile table(csv);
    QVERIFY(table.open(QIODevice::ReadOnly));
    QVERIFY(table.readAll().startsWith("seconds,b1.D4,led1.amps\n0.000000000,0,0\n0.000000125,1,"));
  }
  void runTakesInputs() {
    const QString file = demo("ferry-call-bell");
    Ran r = cli({"run", file, "--for", "3", "--at", "1", "press btn1", "--at", "2", "release btn1",
                 "--json"});
    QCOMPARE(r.json()["parts"].toObject()["led1"].toObject()["flashes"].toInt(), 1);
    r = cli({"run", file, "--for", "1", "--at", "0.1", "pin D3=high", "--json"});
    QVERIFY(r.json()["parts"].toObject()["led1"].toObject()["light"].toDouble() > 0.5);
    r = cli({"run", file, "--for", "1", "--at", "0.1", "press btn1", "--at", "0.5", "power off",
             "--json"});
    QCOMPARE(r.json()["parts"].toObject()["led1"].toObject()["light"].toDouble(), 0.0);
    for (const char* off : {"power off b1", "reset b1"}) {
      r = cli({"run", file, "--for", "1", "--at", "0.1", "press btn1", "--at", "0.999999", off,
               "--json"});
      QCOMPARE(r.exit, 0);
    }
    r = cli({"run", file, "--for", "1", "--at", "0.1", "press btn1", "--at", "0.5", "power off b1",
             "--json"});
    QCOMPARE(r.json()["parts"].toObject()["led1"].toObject()["light"].toDouble(), 0.0);
  }
  // Pins by hand, what a project has recorded, and probes.
  void runTakesHandsRecordingsAndProbes() {
    const QString file = demo("ferry-call-bell");
    const auto led = [](const Ran& r) { return r.json()["parts"].toObject()["led1"].toObject(); };
    Ran r = cli({"run", file, "--for", "1", "--at", "0", "pin D3=30%", "--json"});
    QVERIFY(led(r)["light"].toDouble() > 0.3 && led(r)["light"].toDouble() < 0.6);
    QVERIFY(r.json()["boards"]
                .toObject()["b1"]
                .toObject()["pins"]
                .toObject()["D3"]
                .toObject()["edges"]
                .toInt() > 1900);
    r = cli({"run", file, "--for", "1", "--at", "0", "pin b1.D3=high", "--at", "0.5", "pin D3=free",
             "--json"});
    QVERIFY(std::abs(led(r)["lit_seconds"].toDouble() - 0.5) < 0.05);
    r = cli({"run", file, "--for", "1", "--at", "0", "pin D3=130%"});
    QVERIFY(r.exit == 2 && r.err.contains("pin D3=130%"));

    QFile whole(file);
    QVERIFY(whole.open(QIODevice::ReadOnly));
    QByteArray text = whole.readAll();
    text.replace("\"seed\": 1",
                 "\"seed\": 1, \"recordings\": [{\"name\": \"one press\", \"inputs\": [{\"at\": 1, "
                 "\"what\": \"press btn1\"}, {\"at\": 2, \"what\": \"release btn1\"}]}, {\"name\": "
                 "\"gone\", \"inputs\": [{\"at\": 0, \"what\": \"press btn7\"}]}]");
    const QString held = folder_.filePath("held.ignavo");
    QFile out(held);
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(text);
    out.close();
    r = cli({"run", held, "--for", "3", "--replay", "one press", "--json"});
    const Ran by = cli({"run", file, "--for", "3", "--at", "1", "press btn1", "--at", "2",
                        "release btn1", "--json"});
    QCOMPARE(r.exit, 0);
    QCOMPARE(r.json(), by.json());
    QCOMPARE(led(r)["flashes"].toInt(), 1);
    r = cli({"run", held, "--for", "3", "--replay", "two presses"});
    QVERIFY(r.exit == 2 && r.err.contains("“one press”, “gone”"));
    r = cli({"run", held, "--for", "3", "--replay", "gone"});
    QVERIFY(r.exit == 2 && r.err.contains("press btn7"));
    QCOMPARE(cli({"run", file, "--for", "3", "--replay", "one press"}).exit, 2);

    const QString vcd = folder_.filePath("p.vcd"), csv = folder_.filePath("p.csv");
    r = cli({"run", file, "--for", "0.5", "--at", "0.1", "pin D3=high", "--probe", "led1",
             "--probe", "b1.5V", "--vcd", vcd, "--csv", csv});
    QCOMPARE(r.exit, 0);
    QFile table(csv), wave(vcd);
    QVERIFY(table.open(QIODevice::ReadOnly) && wave.open(QIODevice::ReadOnly));
    const QByteArray first = table.readLine();
    QVERIFY(first.contains(",led1.volts") && first.contains(",b1.5V.volts"));
    const QByteArray waves = wave.readAll();
    QVERIFY(waves.contains(" led1.volts $end") && waves.contains(" b1.5V.volts $end"));
    // A variable, from what it begins with on.
    const QString counts = folder_.filePath("n.ignavo"), held2 = folder_.filePath("n.csv");
    QFile counting(counts);
    QVERIFY(counting.open(QIODevice::WriteOnly));
    counting.write(
        R"({"format":"ignavo-project","version":1,"title":"n","seed":1,"boards":[{"id":"b1","type":"tern","at":[2,3]}],)"
        R"("breadboards":[],"parts":[],"wires":[],"programs":[{"board":"b1","variables":[{"name":"n","start":5}],)"
        R"("lanes":[{"id":"l1","trigger":{"on":"always"},"steps":[{"do":"wait","seconds":0.2},{"do":"add","name":"n","by":2}]}]}]})");
    counting.close();
    r = cli({"run", counts, "--for", "0.5", "--probe", "b1.n", "--csv", held2});
    QCOMPARE(r.exit, 0);
    QFile values(held2);
    QVERIFY(values.open(QIODevice::ReadOnly));
    const QList<QByteArray> lines = values.readAll().split('\n');
    QVERIFY(lines.size() > 3 && lines[0].trimmed().endsWith("b1.n.value"));
    QVERIFY2(lines[1].trimmed().endsWith(",5") && lines[2].trimmed().endsWith(",7"),
             lines.join('|').constData());
    r = cli({"run", counts, "--for", "0.5", "--probe", "b1.l1", "--csv", held2});
    QCOMPARE(r.exit, 0);
    QFile steps(held2);
    QVERIFY(steps.open(QIODevice::ReadOnly));
    QVERIFY(steps.readLine().trimmed().endsWith("b1.l1.step"));
    // What a lane without steps keeps: only its changes are written down.
    const QString three = demo("three-at-once"), kept = folder_.filePath("kept.csv");
    r = cli({"run", three, "--for", "1.2", "--probe", "b1.l1", "--csv", kept, "--json"});
    QCOMPARE(r.exit, 0);
    QFile keeps(kept);
    QVERIFY(keeps.open(QIODevice::ReadOnly));
    const QList<QByteArray> rows = keeps.readAll().trimmed().split('\n');
    const auto column = rows[0].trimmed().split(',').indexOf("b1.l1.value");
    QVERIFY(column > 0 && rows.size() < 40);
    const auto pin = rows[0].trimmed().split(',').indexOf("b1.D3");
    QVERIFY(pin > 0);
    int alike = 0;
    for (const QByteArray& row : rows.mid(1)) {
      const QList<QByteArray> fields = row.trimmed().split(',');
      alike += fields[pin] == fields[column] ? 1 : 0;
    }
    QVERIFY(alike >= rows.size() - 4);  // but for the moment between both
    // And one of its signal operators, named by the path to it.
    r = cli({"run", three, "--for", "1.2", "--probe", "b1.l1:", "--csv", kept});
    QCOMPARE(r.exit, 0);
    QFile waved(kept);
    QVERIFY(waved.open(QIODevice::ReadOnly));
    QVERIFY(waved.readLine().trimmed().endsWith("b1.l1:.value"));
    r = cli({"run", three, "--for", "1.2", "--probe", "b1.l1:of"});
    QVERIFY(r.exit == 2 && r.err.contains("“b1.l1:of”"));
    r = cli({"run", counts, "--for", "0.5", "--probe", "b1.m"});
    QVERIFY(r.exit == 2 && r.err.contains("“b1.m”"));
    r = cli({"run", file, "--for", "0.5", "--probe", "bb.z9"});
    QVERIFY(r.exit == 2 && r.err.contains("“bb.z9”"));
  }
  void runSetsEveryKindOfValue() {
    const QString path = folder_.filePath("c.txt"), file = folder_.filePath("c.ignavo");
    QFile text(path);
    QVERIFY(text.open(QIODevice::WriteOnly));
    text.write(
        "10u capacitor a1 a3\nred led i9 i11\n220 c9 h9\nwire D4 a9\nwire j11 GND\n"
        "button e18\nwire 5V a18\nwire D2 a20\n10k c20 c25\nwire GND2 a25\n");
    text.close();
    QCOMPARE(cli({"wire", path, "-o", file}).exit, 0);
    for (const char* change :
         {"set c1.electrolytic=true", "set c1.electrolytic=false", "set led1.colour=yellow",
          "set led1.color=green", "set r1.ohms=470"}) {
      const Ran r = cli({"run", file, "--for", "0.1", "--at", "0.05", change});
      QVERIFY2(r.exit == 0 && r.err.isEmpty(), r.err.constData());
    }
    for (const char* change : {"set c1.electrolytic=maybe", "set led1.colour=checkered"})
      QCOMPARE(cli({"run", file, "--for", "0.1", "--at", "0.05", change}).exit, 2);
    // What cannot be pressed is answered with what can.
    const Ran r = cli({"run", file, "--for", "0.1", "--at", "0", "press button1"});
    QCOMPARE(r.exit, 2);
    QVERIFY2(r.err.contains("button1") && r.err.contains("these are: btn1"), r.err.constData());
  }
  void oneStepAlone() {
    Ran r = cli({"run", demo("landing-beacon"), "--for", "5", "--only", "s1", "--json"});
    const QJsonObject pin =
        r.json()["boards"].toObject()["b1"].toObject()["pins"].toObject()["D4"].toObject();
    QCOMPARE(pin["edges"].toInt(), 1);
    r = cli({"run", demo("landing-beacon"), "--for", "5", "--only", "s99"});
    QCOMPARE(r.exit, 2);
    QVERIFY2(r.err.contains("s99"), r.err.constData());
  }
  void codeAndFirmware() {
    const QString file = demo("landing-beacon"), hex = folder_.filePath("out.hex");
    Ran r = cli({"code", file});
    QCOMPARE(r.exit, 0);
    QVERIFY(r.out.contains("int main(void)"));
    r = cli({"firmware", file, "-o", hex, "--json"});
    QCOMPARE(r.exit, 0);
    QVERIFY(r.json()["flash"].toInt() > 100);
    QVERIFY(QFile::exists(hex));
    QCOMPARE(cli({"code", file, "--board", "b9"}).exit, 2);
  }
  void listsAndSchema() {
    const Ran r = cli({"demos", "--json"});
    QCOMPARE(QJsonDocument::fromJson(r.out).array().size(), 10);
    const Ran s = cli({"schema"});
    QCOMPARE(s.json()["properties"].toObject()["format"].toObject()["const"].toString(),
             QString("ignavo-project"));
  }
  void wrongUseExitsWithTwo() {
    const QString file = demo("landing-beacon");
    for (const QStringList& words : std::initializer_list<QStringList>{
             {},
             {"dance"},
             {"check"},
             {"check", "none.ignavo"},
             {"check", file, "--fail-on", "maybe"},
             {"run", file},
             {"run", file, "--for", "-1"},
             {"run", file, "--for", "1", "--at", "0", "press nobody"},
             {"run", file, "--for", "1", "--at", "soon", "reset"},
             {"run", file, "--for", "1", "--at", "0", "sing"},
             {"run", file, "--for", "1", "--at", "0", "reset b9"},
             {"run", file, "--for", "1", "--at", "0", "power maybe"},
             {"run", file, "--for", "1", "--at", "0", "power off b9"},
             {"solve", file, "--pin", "D99=high"},
             {"solve", file, "--pin", "D4=5"},
             {"solve", file, "--set", "r1.ohms=-1"},
             {"solve", file, "--press", "led1"},
             {"firmware", file}}) {
      const Ran r = cli(words);
      QVERIFY2(r.exit == 2, qPrintable(words.join(' ')));
      QVERIFY2(!r.err.isEmpty(), qPrintable(words.join(' ')));
      QVERIFY2(r.out.isEmpty(), r.out.constData());
    }
    QByteArray deep = "[]";
    for (int i = 0; i < 100; ++i) deep = "[{\"do\":\"repeat\",\"times\":2,\"steps\":" + deep + "}]";
    const QByteArray nested = "\"steps\": " + deep + ", \"old\": [";
    for (const auto& [what, with] : std::initializer_list<std::pair<const char*, const char*>>{
             {"\"view\": {}", "\"view\": {"},
             {"\"type\": \"led\"", "\"type\": \"lantern\""},
             {"\"ohms\": 220", "\"ohms\": []"},
             {"\"steps\": [", nested.constData()},
             {"\"do\": \"wait\"", "\"do\": \"juggle\""}})
      for (const char* command : {"check", "solve", "code"}) {
        const Ran bad = cli({command, demo("landing-beacon", what, with)});
        QVERIFY2(bad.exit == 2 && bad.out.isEmpty() && !bad.err.isEmpty(), what);
      }
    const Ran r = cli({"check", demo("landing-beacon", "bb.i11", "bb.k14"), "--json"});
    QCOMPARE(r.exit, 2);
    QVERIFY(r.err.contains("parts[1].legs.cathode: no hole \"k14\" on breadboard \"bb\""));
  }
  void theApplicationTakesPictures() {
    const QString png = folder_.filePath("a.png");
    Ran r = cli({"--demo", "Landing beacon", "--station", "run", "--after", "0.2", "--shot", png,
                 "--size", "1000x640"},
                APP_PATH);
    QCOMPARE(r.exit, 0);
    QFile file(png);
    QVERIFY(file.open(QIODevice::ReadOnly));
    QVERIFY(file.size() > 20000 && file.read(4) == QByteArray("\x89PNG"));
    // By the chip's own code, with a step chosen.
    QVERIFY(QFile::remove(png));
    r = cli({"--demo", "landing-beacon", "--station", "run", "--chip", "--select", "s2", "--after",
             "0.7", "--shot", png},
            APP_PATH);
    QCOMPARE(r.exit, 0);
    QVERIFY(QFileInfo(png).size() > 20000);
    QCOMPARE(cli({"--select", "harbour", "--shot", png}, APP_PATH).exit, 2);
    QCOMPARE(cli({"--demo", "none", "--shot", png}, APP_PATH).exit, 2);
    QCOMPARE(cli({"--station", "harbour", "--shot", png}, APP_PATH).exit, 2);
    QCOMPARE(cli({"--size", "x", "--shot", png}, APP_PATH).exit, 2);
    QCOMPARE(cli({"none.ignavo", "--shot", png}, APP_PATH).exit, 2);
    QCOMPARE(cli({"--version"}, APP_PATH).out.trimmed(), QByteArray("ignavo 0.1.0"));
  }
};

QTEST_GUILESS_MAIN(TestCli)
#include "tst_cli.moc"
