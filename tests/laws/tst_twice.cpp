// Two of the same beside each other, each with its board, its program and its power: each is
// solved, checked, run, written, read and built as if it were alone.
#include <QRegularExpression>
#include <QtTest>
#include <random>

#include "format/wiring_language.h"
#include "make/c_text.h"
#include "make/sheet.h"
#include "support/demo_rows.h"
#include "support/random_benches.h"
#include "support/twice.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Project withIdealContacts(Project p) {
  for (auto& part : p.parts.edit())
    if (part->prop("contacts")) part.edit().setProp("contacts", std::string("ideal"));
  return p;
}

// What the rules find one by one, without the ids of this or that twin. (What of it is told
// depends on how much there is in all.)
std::multiset<std::string> toldOf(const Project& p) {
  std::multiset<std::string> out;
  const auto plain = [](std::string id) {
    if (const auto dot = id.find('.'); dot != std::string::npos) id = id.substr(dot + 1);
    while (!id.empty() && id.back() == 'x') id.pop_back();
    return id;
  };
  for (const Finding& f : everythingFound(p)) {
    std::set<std::string> about;
    for (const auto* ids : {&f.parts, &f.pins, &f.steps})
      for (const std::string& id : *ids) about.insert(plain(id));
    std::string told = f.rule + severityId(f.severity);
    for (const std::string& id : about) told += " " + id;
    out.insert(told);
  }
  return out;
}

std::vector<Edge> edgesOf(const Kernel& k, int signal) {
  std::vector<Edge> out;
  k.trace().forEachEdge(signal, -1, k.trace().end(), [&](const Edge& e) {
    out.push_back(e);
    return true;
  });
  return out;
}

}  // namespace

class TestTwice : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void eachIsSolvedAsIfAlone() {
    std::mt19937 random(71);
    for (int i = 0; i < 300; ++i) {
      const Project one = randomBench(random, 1 + static_cast<int>(random() % 8));
      Circuit alone(one), both(twice(one));
      const CircuitState state = randomState(alone, random);
      CircuitState twin = both.restState();
      const auto doubled = [](const auto& from, auto& to) {
        std::copy(from.begin(), from.end(), to.begin());
        std::copy(from.begin(), from.end(), to.begin() + static_cast<std::ptrdiff_t>(from.size()));
      };
      doubled(state.pins, twin.pins);
      doubled(state.pressed, twin.pressed);
      const CircuitReading a = alone.solve(state), b = both.solve(twin);
      QCOMPARE(a.shorted, b.shorted);
      if (!a.converged) continue;
      QVERIFY(b.converged);
      for (std::size_t k = 0; k < b.parts.size(); ++k) {
        const PartReading& x = a.parts[k % a.parts.size()];
        QVERIFY(std::abs(x.amps - b.parts[k].amps) < 1e-9);
        QCOMPARE(x.volts.has_value(), b.parts[k].volts.has_value());
        if (x.volts) QVERIFY(std::abs(*x.volts - *b.parts[k].volts) < 1e-6);
      }
      QVERIFY(std::abs(2 * a.supplyAmps - b.supplyAmps) < 1e-8);
    }
  }
  void eachIsCheckedAsIfAlone() {
    std::mt19937 random(72);
    for (int i = 0; i < 60; ++i) {
      const Project one = i % 2 ? randomBench(random, 6) : sillyBench(random, 5, 8);
      std::multiset<std::string> wanted = toldOf(one);
      const std::multiset<std::string> alone = wanted;
      wanted.insert(alone.begin(), alone.end());
      QString told;
      for (const auto& [what, of] : {std::pair("alone:", alone), {"twice:", toldOf(twice(one))}}) {
        told += what;
        for (const std::string& each : of) told += "\n  " + QString::fromStdString(each);
        told += "\n";
      }
      QVERIFY2(toldOf(twice(one)) == wanted, qPrintable(QString("bench %1\n").arg(i) + told));
    }
  }
  void demos_data() { rowPerDemo(); }
  void demos() {
    QFETCH(QString, name);
    const Project one = withIdealContacts(*demoProject(name));
    const Project two = twice(one);
    const ReadResult read = readProject(writeProject(two));
    QVERIFY(read.sound() && read.project == two);
    QVERIFY(toldOf(two).empty());

    // Built: twice as many parts, the same steps and readings, the same text for each chip.
    const BuildSheet alone = buildSheet(one), both = buildSheet(two);
    QCOMPARE(both.stepCount(), 2 * alone.stepCount());
    std::set<std::string> texts;  // each says where, so that no two are the same
    for (const SheetGroup& group : both.groups)
      for (const SheetStep& step : group.steps) texts.insert(inWords(step.text));
    QCOMPARE(static_cast<int>(texts.size()), both.stepCount());
    // Read against the ground of their own board.
    QCOMPARE(both.readings.size(), 2 * alone.readings.size());
    for (const MeterReading& r : alone.readings)
      for (const bool twin : {false, true}) {
        const auto at = [&](const std::string& hole) {
          const std::string board = one.breadboards.front().id;
          return (twin ? twinOf(board) : board) + "." + hole;
        };
        QVERIFY(std::any_of(both.readings.begin(), both.readings.end(), [&](const auto& s) {
          return s.hole == at(r.hole) && s.black == at(r.black) &&
                 std::abs(s.volts - r.volts) < 1e-6;
        }));
      }
    int parts = 0, twins = 0;
    for (const SheetItem& item : alone.items) parts += item.count;
    for (const SheetItem& item : both.items) twins += item.count;
    QCOMPARE(twins, 2 * parts);
    // But for random numbers: each lane has its own.
    const auto text = [](const Project& p, const std::string& board) {
      return QString::fromStdString(cText(p, board).text)
          .replace(QRegularExpression("dice\\d* = \\d+UL"), "dice");
    };
    for (const BoardItem& board : one.boards)
      QCOMPARE(text(two, twinOf(board.id)), text(one, board.id));

    // Run: what is done to one is done to that one only.
    Kernel single(shared(one)), pair(shared(two));
    std::string button;
    for (const auto& part : *one.parts)
      if (catalogue().partKind(part->type)->pressable) button = part->id;
    for (Kernel* k : {&single, &pair}) {
      k->schedule(at(3.1, Input::What::press, button));
      k->schedule(at(5.3, Input::What::release, button));
      k->schedule(at(11.7, Input::What::press, button));
      k->schedule(at(12.2, Input::What::release, button));
    }
    single.advance(30 * second);
    pair.advance(30 * second);
    Kernel untouched(shared(one));
    untouched.advance(30 * second);
    for (int s = 0; s < static_cast<int>(single.trace().signals().size()); ++s) {
      const Signal& signal = single.trace().signals()[static_cast<std::size_t>(s)];
      const int same = pair.trace().find(signal.what, signal.owner, signal.name);
      const int other = pair.trace().find(signal.what, twinOf(signal.owner), signal.name);
      QVERIFY(same >= 0 && other >= 0);
      QVERIFY2(edgesOf(pair, same) == edgesOf(single, s), signal.owner.c_str());
      QVERIFY2(edgesOf(pair, other) == edgesOf(untouched, s), signal.owner.c_str());
    }
  }
  void asText() {
    const Project two = twice(*demoProject("berth-signals"));
    const WiringText text = readWiring(writeWiring(two));
    QVERIFY2(text.problems.empty(),
             text.problems.empty() ? "" : inWords(text.problems.front().what.message).c_str());
    QVERIFY(toldOf(text.project) == toldOf(two));
    QCOMPARE(text.project.boards.size(), std::size_t{2});
    QCOMPARE(text.project.programs.size(), std::size_t{2});
    for (std::size_t b = 0; b < 2; ++b)
      QVERIFY(text.project.programs[b]->lanes.size() == two.programs[b]->lanes.size());
  }
};

QTEST_APPLESS_MAIN(TestTwice)
#include "tst_twice.moc"
