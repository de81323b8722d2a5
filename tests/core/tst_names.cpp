#include <QtTest>
#include <random>

#include "format/project_file.h"
#include "format/wiring_language.h"
#include "make/c_text.h"
#include "program/facts.h"
#include "program/names.h"
#include "support/build.h"
#include "support/phrase_rows.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// With what the tests below have by name.
Bench named() {
  return Bench()
      .name("variable berth is 3")
      .name("variable share is 0.5")
      .name("variable free is true")
      .name("variable word is \"in\"")
      .name("list levels is 90, 70, 50")
      .name("variable \"at rest\" is 0");
}
Vocabulary words(const Project& p) { return wordsOf(p, "b1"); }

const VariableView* valueOf(const Snapshot& s, const std::string& name, int item = 0) {
  for (const VariableView& v : s.variables)
    if (v.name == name && v.item == item) return &v;
  return nullptr;
}
double after(const Bench& bench, Nanoseconds moment, const std::string& name, int item = 0) {
  Kernel k(shared(bench));
  k.advance(moment);
  const Snapshot s = k.snapshot();
  const VariableView* v = valueOf(s, name, item);
  return v ? v->number : -1e9;
}

}  // namespace

class TestNames : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void phrasesGoBothWays_data() {
    phraseRows({
        {"let berth be 4", "let berth be 4"},
        {"Let BERTH be berth + 1", "let berth be berth + 1"},
        {"let word be \"out\"", "let word be \"out\""},
        {"let word be “she said \\\"in\\\"”", "let word be \"she said \\\"in\\\"\""},
        {"let free be d2", "let free be D2"},
        {"add 2 to berth", "add 2 to berth"},
        {"add share × 2 to \"at rest\"", "add share × 2 to \"at rest\""},
        {"let berth be variable \"at rest\"", "let berth be variable \"at rest\""},
        {"put 30 into item 2 of levels", "put 30 into item 2 of levels"},
        {"put berth + 1 into item berth of list levels", "put berth + 1 into item berth of levels"},
        {"put item 1 of levels into item 2 of levels",
         "put item 1 of levels into item 2 of levels"},
        {"if berth > 3", "if berth > 3"},
        {"if free", "if free"},
        {"wait item berth of levels", "wait item berth of levels"},
        {"repeat length of levels times", "repeat length of levels times"},
        {"wait until seconds since power-on > 5", "wait until seconds since power-on > 5"},
        {"if seconds > 5", "if seconds since power-on > 5"},
        {"let fresh be 1", "let fresh be 1"},
    });
  }
  void phrasesGoBothWays() {
    QFETCH(QString, typed);
    QFETCH(QString, phrase);
    const Project p = named();
    const ParsedStep parsed = parseStep(typed.toStdString(), words(p));
    QVERIFY2(parsed.step, inWords(parsed.problem).c_str());
    QCOMPARE(QString::fromStdString(phraseOf(*parsed.step)), phrase);
    const ParsedStep again = parseStep(phrase.toStdString(), words(p));
    QVERIFY2(again.step, inWords(again.problem).c_str());
    QVERIFY(*again.step == *parsed.step);
  }
  void whatIsWrongIsSaid() {
    const Project p = named();
    const std::pair<const char*, const char*> rows[] = {
        {"let be 3", "Which variable?"},
        {"let 3 be 4", "cannot be the name"},
        {"let d4 be 4", "cannot be the name"},
        {"let berth be", "A value is missing"},
        {"put 3 into item 1 of heights", "There is no list called heights"},
        {"put 3 into item of levels", "missing"},
        {"if depth > 3", "no variable is called so"},
        {"let berth be item 1 of heights", "There is no list called heights"},
    };
    for (const auto& [typed, part] : rows) {
      const ParsedStep parsed = parseStep(typed, words(p));
      QVERIFY2(!parsed.step && inWords(parsed.problem).find(part) != std::string::npos,
               (std::string(typed) + ": " + inWords(parsed.problem)).c_str());
    }
  }
  // Whatever a variable or list is called, it reads back: typed, in the file, in the wiring
  // language; and the C that it becomes compiles (tst_firmware) and holds none of it.
  void hostileNamesReadBack() {
    std::vector<std::string> names = {
        "high", "D2",       "not",  "a b",      "x",      "*/",        "\"",
        "\\",   "%n",       "?\?/", "für Öl",   "3",      "-1",        "and or",
        "list", "variable", "…",    "“quoted”", "a\\\"b", "item 1 of", std::string(60, 'n'),
        "ش",    "from to",  "round"};
    std::mt19937 random(7);
    for (int i = 0; i < 200; ++i) {
      std::string name;
      for (auto k = random() % 12 + 1; k > 0; --k)
        name += static_cast<char>(0x21 + random() % 0x5E);
      names.push_back(name);
    }
    for (const std::string& name : names) {
      QVERIFY2(isName(name), name.c_str());
      Project p = Bench();
      Variable v;
      v.name = name;
      v.start = Expr::of(2.5);
      NumberList l;
      l.name = name;
      l.items = {1, -2.5, 3};
      p = edits::setLists(edits::setVariables(p, "b1", {v}), "b1", {l});
      Step let = newStep(*stepKind("let")), put = newStep(*stepKind("put"));
      let.setField("name", Expr::of(name));
      let.setField("value", Expr::readVariable(name));
      put.setField("list", Expr::of(name));
      Lane lane;
      lane.steps = {let, put};
      p = edits::addLane(p, "b1", lane);
      for (const Step& s : p.programs[0]->lanes.back()->steps) {
        Step bare = s;
        bare.id.clear();
        const ParsedStep back = parseStep(phraseOf(s), words(p));
        QVERIFY2(back.step && *back.step == bare, (phraseOf(s) + inWords(back.problem)).c_str());
      }
      const ReadResult file = readProject(writeProject(p));
      QVERIFY2(file.problems.empty(), name.c_str());
      QVERIFY2(file.project.programs[0]->variables == p.programs[0]->variables, name.c_str());
      QVERIFY2(file.project.programs[0]->lists == p.programs[0]->lists, name.c_str());
      QVERIFY(file.project.programs[0]->lanes == p.programs[0]->lanes);
      const WiringText text = readWiring(writeWiring(p));
      QVERIFY2(text.problems.empty(), writeWiring(p).c_str());
      QVERIFY2(text.project.programs[0]->variables == p.programs[0]->variables, name.c_str());
      QVERIFY2(text.project.programs[0]->lists == p.programs[0]->lists, name.c_str());
      QVERIFY(writeWiring(text.project) == writeWiring(p));
    }
  }
  void typesAreWhatAllTogetherNeed() {
    const auto typesOf = [](const std::string& steps) {
      const Project p = named().lane("always", steps);
      const Types types(*p.programs[0]);
      std::string out;
      for (const char* name : {"berth", "share", "free", "word", "at rest"}) {
        const char* const letters = "twfx";
        out += letters[static_cast<int>(types.variable(name))];
      }
      return out + "twfx"[static_cast<int>(types.list("levels"))];
    };
    QCOMPARE(typesOf("wait 1"), std::string("wftxww"));
    QCOMPARE(typesOf("let berth be 0.5"), std::string("fftxww"));
    QCOMPARE(typesOf("let berth be share"), std::string("fftxww"));
    QCOMPARE(typesOf("let \"at rest\" be berth\nlet berth be share"), std::string("fftxfw"));
    QCOMPARE(typesOf("let free be 1"), std::string("wfwxww"));
    QCOMPARE(typesOf("add 1 to free"), std::string("wfwxww"));
    QCOMPARE(typesOf("put berth ÷ 2 into item 1 of levels"), std::string("wftxwf"));
    QCOMPARE(typesOf("put 1 into item 1 of levels\nlet berth be item 1 of levels"),
             std::string("wftxww"));
  }
  void theyHoldWhatIsPutThere() {
    QCOMPARE(after(named().lane("power", "add 1 to berth\nadd 2 to berth"), second, "berth"), 6.0);
    QCOMPARE(after(named().lane("power", "repeat 10 times\n  add 0.25 to share"), second, "share"),
             3.0);
    QCOMPARE(after(named().lane("power",
                                "put 5 into item 3 of levels\nlet berth be item 3 of "
                                "levels + length of levels"),
                   second, "berth"),
             8.0);
    QCOMPARE(after(named().lane("power", "put 5 into item 3 of levels"), second, "levels", 3), 5.0);
    QCOMPARE(after(named().lane("power", "let free be not free"), second, "free"), 0.0);
    QCOMPARE(after(named().lane("power", "wait 0.5\nlet share be seconds").lane("always", "wait 1"),
                   second, "share"),
             0.5);
    Kernel k(shared(named().lane("power", "let word be \"out\"")));
    k.advance(second);
    const Snapshot s = k.snapshot();
    QCOMPARE(valueOf(s, "word")->text, std::string("out"));
    // The board begins anew, and so do they.
    Kernel again(shared(named().lane("power", "add 1 to berth")));
    again.advance(second);
    again.inputNow([] {
      Input in;
      in.what = Input::What::reset;
      return in;
    }());
    again.advance(2 * second);
    const Snapshot twice = again.snapshot();
    QCOMPARE(valueOf(twice, "berth")->number, 4.0);
  }
  void aPositionOutsideTakesTheNearestEndAndIsReported() {
    const auto faults = [](const std::string& steps, const char* name, double expected) {
      Kernel k(shared(named().lane("power", steps)));
      k.advance(second);
      const Snapshot s = k.snapshot();
      const VariableView* v = valueOf(s, name);
      return v && v->number == expected && s.faults.size() == 1 &&
             s.faults[0].what == NumberFault::outside;
    };
    QVERIFY(faults("let berth be item 4 of levels", "berth", 50));
    QVERIFY(faults("let berth be item 0 of levels", "berth", 90));
    QVERIFY(faults("let berth be item -2147483648 of levels", "berth", 90));
    QVERIFY(!faults("let berth be item 3 of levels", "berth", 50));  // nothing to report
  }
  void valuesOutliveAnEdit() {
    const Project p = named().lane("always", "add 1 to berth\nwait 0.1");
    Kernel k(shared(p));
    k.advance(second);
    const std::string wait = p.programs[0]->lanes[0]->steps[1].id;
    k.inputNow(edited(edits::setExpr(p, wait, "seconds", Expr::of(10.0))));
    k.advance(second + 1'000'000);
    const Snapshot s = k.snapshot();
    QVERIFY(valueOf(s, "berth")->number >= 12);
  }
  void whatIsGivenAValueIsDeclared() {
    const Project p = Bench().lane("always", "let fresh be 2\nadd 1 to \"more of it\"\nwait 1");
    QCOMPARE(p.programs[0]->variables.size(), std::size_t(2));
    QCOMPARE(p.programs[0]->variables[1].name, std::string("more of it"));
  }
  void anotherNameEverywhere() {
    Project p = named().lane("always",
                             "let berth be berth + 1\nif item berth of levels > berth\n"
                             "  wait berth");
    p = renameVariable(p, "b1", "berth", "mooring");
    p = renameList(p, "b1", "levels", "steps of light");
    QCOMPARE(textOf(p.programs[0]->lanes[0]->steps),
             std::string("let mooring be mooring + 1\nif (item mooring of \"steps of light\") > "
                         "mooring\n  wait mooring\n"));
    QVERIFY(stepProblems(*p.programs[0], {{"D4"}}).empty());
  }
  void problemsMarkTheStep() {
    const auto problem = [](const std::string& steps) {
      const Project p = named().lane("always", steps);
      Program program = *p.programs[0];
      program.variables.erase(program.variables.begin() + 1);  // share
      std::string out;
      for (const StepProblem& s : stepProblems(program, {})) out += inWords(sentence(s)) + "\n";
      return out;
    };
    QCOMPARE(problem("let share be 1"), std::string("There is no variable called share.\n"));
    QCOMPARE(problem("let berth be share"), std::string("There is no variable called share.\n"));
    QVERIFY(problem("let word be 3").find("cannot be mixed") != std::string::npos);
    QVERIFY(problem("let berth be word + 1").find("cannot be mixed") != std::string::npos);
    QVERIFY(problem("add 1 to word").find("cannot be mixed") != std::string::npos);
    QCOMPARE(problem("let word be \"x\"\nlet berth be item 2 of levels"), std::string());
  }
  void problemsMarkSignsAndSignalsElsewhere() {
    const auto problem = [](const char* sign, const char* steps) {
      Program program = *named().lane(sign, steps).get().programs[0];
      program.variables.erase(program.variables.begin() + 1);  // share
      std::string out;
      for (const StepProblem& p : stepProblems(program, {{"D2"}, {"D4", true}}))
        out += (p.step == program.lanes.back()->id ? "sign: " : "step: ") + inWords(sentence(p)) +
               "\n";
      return out;
    };
    QCOMPARE(problem("Keep the level of D4 at share", ""),
             std::string("sign: There is no variable called share.\n"));
    QCOMPARE(problem("Keep the variable share at 3", ""),
             std::string("sign: There is no variable called share.\n"));
    QVERIFY(problem("Each time word = 3", "flip d4").starts_with("sign: A text and a number"));
    QVERIFY(problem("always", "if rise of d2\n  flip d4")
                .starts_with("step: Here nothing is followed"));
    QCOMPARE(problem("always", "wait until rise of d2"), std::string());
    QCOMPARE(problem("Each time rise of d2", "flip d4"), std::string());
  }
  void badFilesAreTold() {
    const auto problems = [](const std::string& names) {
      const ReadResult r = readProject(
          R"({"format":"ignavo-project","version":1,"boards":[{"id":"b1","type":"tern","at":[2,3]}],"programs":[{"board":"b1",)" +
          names + R"(,"lanes":[]}]})");
      std::string out;
      for (const FileProblem& p : r.problems) out += p.path + "\n";
      return out;
    };
    QCOMPARE(problems(R"("variables":[{"start":0}])"),
             std::string("programs[0].variables[0].name\n"));
    QCOMPARE(problems(R"("variables":[{"name":"a"},{"name":"a"}])"),
             std::string("programs[0].variables[1].name\n"));
    QCOMPARE(problems(R"("variables":[{"name":"a","start":[1]}])"),
             std::string("programs[0].variables[0].start\n"));
    QCOMPARE(problems(R"("lists":[{"name":"a","items":[1,"x",3]}])"),
             std::string("programs[0].lists[0].items[1]\n"));
    QCOMPARE(problems(R"("lists":[{"name":"a"}])"), std::string("programs[0].lists[0].items\n"));
    std::string many;
    for (int i = 0; i < 65; ++i)
      many += (i ? "," : "") + ("{\"name\":\"v" + std::to_string(i)) + "\"}";
    QCOMPARE(problems("\"variables\":[" + many + "]"), std::string("programs[0].variables\n"));
  }
  void theLimitsAreReachedAndSaid() {
    std::string text = "board tern b1\n";
    for (int i = 1; i <= 65; ++i)
      text += "variable v" + std::string(i < 65 ? "a" : "b") + std::to_string(i) + " is 1\n";
    for (int i = 1; i <= 17; ++i)
      text += "list l" + std::string("a") + std::to_string(i) + " is 1, 2\n";
    const WiringText read = readWiring(text);
    QCOMPARE(read.problems.size(), std::size_t(2));
    for (const WiringProblem& p : read.problems) {
      const std::string said = inWords(p.what.message);
      QVERIFY2(said.find("64") != std::string::npos || said.find("16") != std::string::npos,
               said.c_str());
    }
    QCOMPARE(read.project.programs[0]->variables.size(), limits::variables);
    QCOMPARE(read.project.programs[0]->lists.size(), limits::lists);
    std::string list = "list long is 1";
    for (int i = 1; i < 101; ++i) list += ", 1";
    QVERIFY(!parseName(list)->problem.empty());
    QVERIFY(parseName(list.substr(0, list.size() - 3))->problem.empty());
  }
  void theTextDeclaresThem() {
    const std::string text =
        cText(named().lane("always",
                           "put berth into item berth of levels\nadd share to berth\nlet "
                           "\"at rest\" be 1\nwait 1"),
              "b1")
            .text;
    for (const char* line :
         {"static volatile float my_berth = 3;", "static volatile float my_levels[3] = {90, 70, 50};",
          "my_levels[place_in(rounded(my_berth), 3)] = my_berth;", "my_berth += my_share;",
          "static volatile int32_t my_at_rest = 0;"})
      QVERIFY2(text.find(line) != std::string::npos, (line + ("\n" + text)).c_str());
  }
};

QTEST_APPLESS_MAIN(TestNames)
#include "tst_names.moc"
