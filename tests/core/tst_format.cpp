#include <QtTest>
#include <random>
#include <set>

#include "demos.h"
#include "format/project_file.h"
#include "support/build.h"
#include "text/plain.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {
std::string replaced(std::string text, const std::string& what, const std::string& with) {
  const auto at = text.find(what);
  if (at == std::string::npos) qFatal("not in the text: %s", what.c_str());
  return text.replace(at, what.size(), with);
}
const std::string& beaconText() { return demo("landing-beacon")->text; }
}  // namespace

class TestFormat : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void savingAndLoadingIsIdentity() {
    for (const Demo& d : demos()) {
      const ReadResult r = readProject(d.text);
      QVERIFY2(r.sound(), r.problems.empty() ? "" : inWords(sentence(r.problems[0])).c_str());
      const std::string text = writeProject(r.project);
      const ReadResult again = readProject(text);
      QVERIFY(again.sound());
      QVERIFY(again.project == r.project);
      QCOMPARE(writeProject(again.project), text);
    }
  }
  void randomProjectsSurvive() {
    std::mt19937 random(21);
    for (int i = 0; i < 200; ++i) {
      Bench bench;
      std::set<std::string> used;
      const auto hole = [&] {
        for (;;) {
          std::string h = std::string(1, static_cast<char>('a' + random() % 10)) +
                          std::to_string(random() % 30 + 1);
          if (used.insert(h).second) return h;
        }
      };
      for (unsigned k = 0; k < random() % 8; ++k)
        bench.resistor("r" + std::to_string(k), static_cast<double>(random() % 100000 + 1) / 7,
                       hole(), hole());
      for (unsigned k = 0; k < random() % 5; ++k)
        bench.led("l" + std::to_string(k), hole(), hole(), "green");
      for (unsigned k = 0; k < random() % 9; ++k) bench.wire(hole(), hole());
      bench.program(
          "set d4 high\nif d2 and not d3\n  wait 0.1\notherwise\n  repeat 3 times\n    set d4 "
          "d2\n");
      Project p = bench;
      p.title = std::string("Fähre \"") + static_cast<char>('a' + random() % 26) + "\\ &<b> ∿";
      p.about = "two\nlines";
      p.ticks = {"part:r0", "wire:w1"};
      p.meant = {{"led-reversed", {"l0"}}};
      Recording recording{"two presses \"é\"", {}, {{"by", "\"hand\""}}};
      std::int64_t when = 0;
      for (unsigned k = 0; k < random() % 20; ++k)
        recording.inputs.push_back({when += random() % 3'000'000'000, "press btn1"});
      p.recordings = {recording, {Recording{"none", {}, {}}}};
      const ReadResult r = readProject(writeProject(p));
      QVERIFY2(r.sound(), r.problems.empty() ? "" : inWords(sentence(r.problems[0])).c_str());
      QVERIFY(r.project == p);
    }
  }
  // What cannot be seen but changes what is seen around it is left out when a file is read.
  void textsArePlain() {
    Project p = beacon();
    p.title = "A\x1b[31mB\u202eC\r\nD\x07";
    p.about = "one\ntwo\x1b\tthree";
    p = edits::changePart(p, "led1", [](Part& q) { q.name = "\u2066Red\u0085lamp\xff"; });
    p = edits::setPinLabel(p, "b1", "D4", "har\nbour");
    const ReadResult r = readProject(writeProject(p));
    QVERIFY(r.sound());
    QCOMPARE(r.project.title, std::string("A [31mBC D"));
    QCOMPARE(r.project.about, std::string("one\ntwo three"));
    QCOMPARE(r.project.part("led1")->name, std::string("Red lamp\xef\xbf\xbd"));
    QCOMPARE(r.project.programs[0]->labelOf("D4"), std::string("har bour"));
    // What is plain already is kept to the letter.
    for (const char* text : {"", "Fähre ∿ 渡し船 🚢", "a\xe2\x80\x8d b", "<b>&amp;</b> %1 {}"})
      QCOMPARE(plainLine(text), std::string(text));
    QCOMPARE(shortened("渡し船の名", 3), std::string("渡し…"));
    QCOMPARE(shortened("abc", 3), std::string("abc"));
    // Far too long a text is cut, and told.
    p.title = std::string(100'000, 'x');
    const ReadResult cut = readProject(writeProject(p));
    QVERIFY(!cut.sound() && cut.readable);
    QCOMPARE(letterCount(cut.project.title), limits::textLetters);
    QVERIFY(inWords(sentence(cut.problems.front())).size() < 300);
  }
  void unknownKeysAreKept() {
    std::string text =
        replaced(beaconText(), "\"goals\": []",
                 "\"goals\": [{\"later\": [1, 2.5, null]}], \"lesson\": {\"learner\": \"x\"}");
    text = replaced(text, "\"do\": \"wait\",", "\"do\": \"wait\", \"note\": \"half\",");
    text = replaced(text, "\"props\": { \"ohms\": 220,",
                    "\"shine\": true, \"props\": { \"ohms\": 220, \"tolerance\": 5,");
    const ReadResult r = readProject(text);
    QVERIFY2(r.sound(), r.problems.empty() ? "" : inWords(sentence(r.problems[0])).c_str());
    const std::string out = writeProject(r.project);
    for (const char* kept : {"{\"later\":[1,2.5,null]}", "\"lesson\": {\"learner\":\"x\"}",
                             "\"note\": \"half\"", "\"shine\": true", "\"tolerance\": 5"})
      QVERIFY2(out.find(kept) != std::string::npos, kept);
    QVERIFY(readProject(out).project == r.project);
  }
  // Every truncation is a clear error, and never a crash.
  void everyTruncationIsAnError() {
    const std::string& text = beaconText();
    const std::size_t whole = text.find_last_of('}') + 1;
    for (std::size_t n = 0; n < whole; ++n) {
      const ReadResult r = readProject(std::string_view(text).substr(0, n));
      QVERIFY2(!r.readable && r.problems.size() == 1, qPrintable(QString::number(n)));
      QVERIFY(!inWords(sentence(r.problems[0])).empty());
    }
  }
  void damagedBytesNeverCrash() {
    std::mt19937 random(17);
    for (int i = 0; i < 3000; ++i) {
      std::string text = demos()[random() % demos().size()].text;
      for (unsigned k = 0; k < 1 + random() % 4; ++k)
        text[random() % text.size()] = static_cast<char>(random() % 256);
      const ReadResult r = readProject(text);
      if (r.readable) {
        const ReadResult again = readProject(writeProject(r.project));  // what was read is sound
        QVERIFY2(again.sound(),
                 again.problems.empty() ? "" : inWords(sentence(again.problems[0])).c_str());
      } else {
        QVERIFY(!r.problems.empty());
      }
    }
  }
  void wrongThingsAreNamedWithTheirPlace_data() {
    QTest::addColumn<QByteArray>("what");
    QTest::addColumn<QByteArray>("with");
    QTest::addColumn<QString>("expected");
    const auto row = [](const char* what, const char* with, const char* expected) {
      QTest::newRow(expected) << QByteArray(what) << QByteArray(with)
                              << QString::fromUtf8(expected);
    };
    row("\"anode\": \"bb.i9\"", "\"anode\": \"bb.k14\"",
        "parts[1].legs.anode: no hole \"k14\" on breadboard \"bb\"");
    row("\"anode\": \"bb.i9\"", "\"anode\": \"bb.i31\"",
        "parts[1].legs.anode: no hole \"i31\" on breadboard \"bb\"");
    row("\"anode\": \"bb.i9\"", "\"anode\": \"zz.i9\"", "parts[1].legs.anode: there is no “zz”");
    row("\"anode\": \"bb.i9\"", "\"anode\": \"i9\"",
        "parts[1].legs.anode: \"i9\" is not a place such as bb.c14 or b1.D4");
    row("\"anode\": \"bb.i9\"", "\"anode\": 9", "parts[1].legs.anode: must be a hole or null");
    row("\"anode\": \"bb.i9\"", "\"base\": \"bb.i9\"",
        "parts[1].legs.base: no leg \"base\" on \"led\"");
    row("\"anode\": \"bb.i9\"", "\"anode\": \"bb.h9\"",
        "parts[1].legs.anode: \"h9\" is taken by \"r1\"");
    row("\"type\": \"led\"", "\"type\": \"lantern\"",
        "parts[1].type: “lantern” is not a part that is known here");
    row("\"colour\": \"red\"", "\"colour\": \"mauve\"",
        "parts[1].props.colour: “mauve” is none of red, orange, amber, green, blue, white, pink");
    row("\"ohms\": 220", "\"ohms\": \"220\"", "parts[0].props.ohms: must be a number");
    row("\"ohms\": 220", "\"ohms\": 0", "parts[0].props.ohms: must be 1 to 10000000");
    row("\"from\": \"b1.D4\"", "\"from\": \"b1.D44\"", "wires[2].from: no pin \"D44\" on b1");
    row("\"from\": \"b1.D4\"", "\"from\": \"b1.GND\"", "wires[2].from: \"GND\" is taken by \"w1\"");
    row("\"from\": \"b1.D4\"", "\"from\": \"\"",
        "wires[2].from: \"\" is not a place such as bb.c14 or b1.D4");
    row("\"from\": \"b1.D4\"", "\"from\": 4", "wires[2].from: must be a text");
    row("\"from\": \"b1.D4\", ", "", "wires[2].from: is missing");
    row("\"id\": \"w3\"", "\"id\": \"w1\"", "wires[2].id: \"w1\" is there twice");
    row("\"at\": [14, 2]", "\"at\": [14]", "breadboards[0].at: must be a place [x, y]");
    row("\"at\": [14, 2]", "\"at\": [1e9, 2]", "breadboards[0].at: must be -500 to 500");
    row("\"type\": \"half\"", "\"type\": \"huge\"",
        "breadboards[0].type: “huge” is not a breadboard that is known here");
    row("\"type\": \"tern\"", "\"type\": \"gull\"",
        "boards[0].type: “gull” is not a board that is known here");
    row("\"do\": \"wait\"", "\"do\": \"juggle\"",
        "programs[0].lanes[0].steps[1].do: “juggle” is not a step that is known here");
    row("\"do\": \"wait\"", "\"do\": \"\"",
        "programs[0].lanes[0].steps[1].do: “” is not a step that is known here");
    row("\"do\": \"wait\", ", "", "programs[0].lanes[0].steps[1].do: is missing");
    row("\"seconds\": 0.5", "\"seconds\": -1",
        "programs[0].lanes[0].steps[1].seconds: must be 0 to 86400");
    row("\"seconds\": 0.5", "\"minutes\": 1", "programs[0].lanes[0].steps[1].seconds: is missing");
    row("\"pin\": \"D4\"", "\"pin\": \"D99\"",
        "programs[0].lanes[0].steps[0].pin: no pin \"D99\" on this board");
    row("\"to\": \"high\"", "\"to\": \"up\"",
        "programs[0].lanes[0].steps[0].to: “up” is none of high, low or a truth value");
    row("\"on\": \"always\"", "\"on\": \"sometimes\"",
        "programs[0].lanes[0].trigger.on: “sometimes” is not a trigger that is known here");
    row("\"parts\": [", "\"parts\": 7, \"old\": [", "parts: must be a list");
    row("\"seed\": 1", "\"seed\": -1", "seed: must be a whole number from 0");
    row("\"version\": 1", "\"version\": 2",
        "this project has format version 2; this program reads version 1");
    row("\"format\": \"ignavo-project\"", "\"format\": \"other\"", "this is not an Ignavo project");
    row("\"title\": \"Landing beacon\"", "\"title\": 5", "title: must be a text");
    const auto beside = [&](const char* json, const char* expected) {
      row("\"seed\": 1", (std::string("\"seed\": 1, ") + json).c_str(), expected);
    };
    beside("\"keys\": []", "keys: must be an object");
    beside("\"keys\": {\"a\": \"led1\"}",
           "keys.a: “led1” is none of the parts that can be pressed");
    beside("\"keys\": {\"elsewhere\": \"led1\"}",
           "keys.elsewhere: “elsewhere” is none of the keys of a computer");
    beside("\"keys\": {\"a\": 7}", "keys.a: must be a text");
    beside("\"recordings\": {}", "recordings: must be a list");
    beside("\"recordings\": [{\"inputs\": []}]", "recordings[0].name: is missing");
    beside("\"recordings\": [{\"name\": \"a\"}, {\"name\": \"a\"}]",
           "recordings[1].name: \"a\" is there twice");
    beside("\"recordings\": [{\"name\": \"a\", \"inputs\": [{\"what\": \"reset\"}]}]",
           "recordings[0].inputs[0].at: is missing");
    beside("\"recordings\": [{\"name\": \"a\", \"inputs\": [{\"at\": -1, \"what\": \"reset\"}]}]",
           "recordings[0].inputs[0].at: must be a time from 0 to 900000000 s");
    beside("\"recordings\": [{\"name\": \"a\", \"inputs\": [{\"at\": 1}]}]",
           "recordings[0].inputs[0].what: is missing");
  }
  // A key presses a part as long as there is one; what was recorded stays.
  void keysAndRecordingsFollowTheirParts() {
    const std::string text =
        replaced(demo("ferry-call-bell")->text, "\"seed\": 1",
                 "\"seed\": 1, \"keys\": {\"B\": \"btn1\"}, \"recordings\": [{\"name\": \"one "
                 "press\", \"inputs\": [{\"at\": 0.25, \"what\": \"press btn1\"}, {\"at\": "
                 "0.000000001, \"what\": \"reset\"}]}]");
    const ReadResult r = readProject(text);
    QVERIFY2(r.sound(), r.problems.empty() ? "" : inWords(sentence(r.problems[0])).c_str());
    QCOMPARE(r.project.keys, (std::vector<KeyTie>{{"b", "btn1"}}));
    const Recording* press = r.project.recording("one press");
    QVERIFY(press && !r.project.recording("another"));
    QCOMPARE(press->inputs,
             (std::vector<RecordedInput>{{1, "reset"}, {250'000'000, "press btn1"}}));
    const Project without = edits::remove(r.project, {"btn1"});
    QVERIFY(without.keys.empty());
    const ReadResult again = readProject(writeProject(without));
    QVERIFY(again.sound());
    QVERIFY(again.project == without && again.project.recordings.size() == 1);
  }
  void guessesFollowTheirLamps() {
    const std::string text = replaced(demo("landing-beacon")->text, "\"seed\": 1",
                                      "\"seed\": 1, \"guesses\": {\"led1\": \"blinking\"}");
    const ReadResult r = readProject(text);
    QVERIFY2(r.sound(), r.problems.empty() ? "" : inWords(sentence(r.problems[0])).c_str());
    QCOMPARE(r.project.guesses, (std::vector<Guess>{{"led1", "blinking"}}));
    QVERIFY(readProject(writeProject(r.project)).project == r.project);
    QVERIFY(edits::remove(r.project, {"led1"}).guesses.empty());
    for (const auto& [guesses, place] :
         {std::pair{"{\"led1\": \"bright\"}", "guesses.led1: “bright” is none of dark"},
          std::pair{"{\"led9\": \"lit\"}", "guesses.led9"},
          std::pair{"{\"led1\": 1}", "guesses.led1: must be a text"},
          std::pair{"[]", "guesses: must be an object"}}) {
      const ReadResult bad =
          readProject(replaced(demo("landing-beacon")->text, "\"seed\": 1",
                               "\"seed\": 1, \"guesses\": " + std::string(guesses)));
      QVERIFY(!bad.sound());
      const std::string said = inWords(sentence(bad.problems[0]));
      QVERIFY2(said.starts_with(place), said.c_str());
      QVERIFY(!bad.project.boards.empty());
    }
  }
  void wrongThingsAreNamedWithTheirPlace() {
    QFETCH(QByteArray, what);
    QFETCH(QByteArray, with);
    QFETCH(QString, expected);
    const ReadResult r =
        readProject(replaced(beaconText(), what.toStdString(), with.toStdString()));
    QVERIFY(!r.problems.empty());
    QCOMPARE(QString::fromStdString(inWords(sentence(r.problems[0]))), expected);
    // What is sound is opened all the same.
    if (r.readable) QVERIFY(readProject(writeProject(r.project)).sound());
  }
  void deepNestingIsRefused() {
    std::string inner = "[]";
    for (int i = 0; i < 100; ++i)
      inner = "[{\"do\":\"repeat\",\"times\":2,\"steps\":" + inner + "}]";
    const std::string text =
        replaced(beaconText(), "\"steps\": [", "\"steps\": " + inner + ", \"old\": [");
    const ReadResult r = readProject(text);
    QVERIFY(r.readable);
    QCOMPARE(r.problems.size(), std::size_t(1));
    QCOMPARE(r.problems[0].code, FileProblem::Code::tooDeep);
    QVERIFY(inWords(sentence(r.problems[0])).ends_with("nested deeper than 64"));
    const ReadResult brackets = readProject(std::string(100000, '['));
    QVERIFY(!brackets.readable);
    QCOMPARE(brackets.problems[0].code, FileProblem::Code::tooDeep);
  }
  void limitsHold() {
    QCOMPARE(readProject(std::string(limits::fileBytes + 1, ' ')).problems[0].code,
             FileProblem::Code::tooLarge);
    std::string wires = "\"wires\": [";
    for (int i = 0; i < 5000; ++i) wires += (i ? ",{}" : "{}");
    const ReadResult r =
        readProject(replaced(beaconText(), "\"wires\": [", wires + "], \"old\": ["));
    QCOMPARE(r.problems[0].code, FileProblem::Code::tooMany);
  }
  void savingIsAtomic() {
    QTemporaryDir folder;
    const std::string path = folder.filePath("a.ignavo").toStdString();
    QVERIFY(!saveProjectFile(beacon(), path));
    QVERIFY(readProjectFile(path).project == beacon().get());
    // Where nothing can be written the old file stays as it was.
    const auto problem =
        saveProjectFile(beacon(), folder.filePath("no/such/folder.ignavo").toStdString());
    QVERIFY(problem && problem->code == FileProblem::Code::cannotWrite);
    QVERIFY(QDir(folder.path()).entryList(QDir::Files) == QStringList{"a.ignavo"});
    QVERIFY(!readProjectFile(folder.filePath("none.ignavo").toStdString()).readable);
  }
  void schemaInDocsIsTheOneThatIsPrinted() {
    QFile file(QStringLiteral(SOURCE_DIR "/docs/project.schema.json"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    QCOMPARE(QString::fromUtf8(file.readAll()), QString::fromStdString(projectSchema()));
  }
  void missingIdsAreAssigned() {
    const ReadResult r = readProject(replaced(beaconText(), "\"id\": \"s2\", ", ""));
    QVERIFY(r.sound());
    std::set<std::string> ids;
    forEachStep(r.project.programs[0]->lanes[0]->steps, [&](const Step& s) { ids.insert(s.id); });
    QCOMPARE(ids.size(), std::size_t(4));
    QCOMPARE(stepPath(r.project, r.project.programs[0]->lanes[0]->steps[2].id),
             std::string("programs[0].lanes[0].steps[2]"));
  }
};

QTEST_GUILESS_MAIN(TestFormat)
#include "tst_format.moc"
