#include <QtTest>
#include <random>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/taken.h"
#include "bench/tidy.h"
#include "bench/wiring.h"
#include "format/project_file.h"
#include "format/sound.h"
#include "parts/small_circuits.h"
#include "program/steps.h"
#include "project/edits.h"
#include "project/history.h"
#include "reference/flood_nets.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

QString str(const std::string& s) { return QString::fromStdString(s); }

// One random thing that a learner may do; whether it is possible or not.
class Learner {
 public:
  explicit Learner(unsigned seed) : random_(seed) {}

  Project next(const Project& p) {
    const auto kinds = catalogue().parts();
    const std::size_t parts = p.parts->size();
    const int most = 24;
    switch (below(16)) {
      case 0:
      case 1:
      case 2: {
        if (parts >= most) return edits::remove(p, {anyPart(p)});
        const PartKind& kind = *kinds[below(kinds.size())];
        const Placement at =
            layOutBest(p, catalogue(), kind.type, somewhere(p), static_cast<int>(below(4)));
        if (!at.obstacle.clear())
          return keep(p, laidOnMat(p, catalogue(), newPart(p, kind),
                                   {50.0 + static_cast<double>(below(40)),
                                    static_cast<double>(below(30))}));
        return keep(p, placed(p, catalogue(), newPart(p, kind), at.sockets));
      }
      case 3:
      case 4: {
        const auto a = freeSocket(p), b = freeSocket(p);
        if (p.wires->size() > 40) return edits::remove(p, {(*p.wires)[below(p.wires->size())]->id});
        return a && b && !(*a == *b) ? withWire(p, catalogue(), *a, *b) : p;
      }
      case 5:
      case 6:
        return keep(p, moved(p, catalogue(), {anyPart(p)}, step()));
      case 7:
        return keep(p, turnedRound(p, catalogue(), anyPart(p)));
      case 8:
        return keep(p, mirrored(p, catalogue(), {anyPart(p)}));
      case 9: {
        const Part* part = p.part(anyPart(p));
        const auto to = freeSocket(p);
        if (!part || !to) return p;
        return keep(
            p, plugged(p, catalogue(), part->id, part->legs[below(part->legs.size())].id, *to));
      }
      case 10:
        return parts < most && below(8) == 0
                   ? keep(p, duplicated(p, catalogue(), {anyPart(p), anyPart(p)}))
                   : p;
      case 11:
        return below(8) == 0 ? keep(p, toFreeRows(p, catalogue(), {anyPart(p)})) : p;
      case 12:
        return edits::changePart(p, anyPart(p), [&](Part& q) {
          q.name = "Part " + std::to_string(below(1000));
          q.locked = below(8) == 0 && !q.locked;
        });
      case 13:
        return below(12) == 0 ? keep(p, moved(p, catalogue(), {p.breadboards[0].id}, step())) : p;
      case 14:
        if (p.wires->empty()) return p;
        return withBend(p, catalogue(), (*p.wires)[below(p.wires->size())]->id, somewhere(p));
      default: {
        if (parts + 4 > most || below(3) > 0) return p;
        const auto& all = smallCircuits();
        const SmallCircuit& c = all[below(all.size())];
        const auto pins = pinsFor(p, c);
        return pins.empty() ? p : compose(p, c, pins.front().board, pins.front().pin).project;
      }
    }
  }

 private:
  std::size_t below(std::size_t n) { return n == 0 ? 0 : random_() % n; }
  std::string anyPart(const Project& p) {
    return p.parts->empty() ? std::string() : (*p.parts)[below(p.parts->size())]->id;
  }
  Point somewhere(const Project& p) {
    const BreadboardItem& bb = p.breadboards[0];
    const BreadboardKind* kind = breadboardKind(bb.type);
    const auto holes = kind->allHoles();
    return bb.at + kind->at(holes[below(holes.size())]);
  }
  std::optional<Socket> freeSocket(const Project& p) {
    for (int i = 0; i < 8; ++i)
      if (const auto s = nearestSocket(
              p, catalogue(),
              below(5) == 0 ? p.boards[0].at + Point{7.25, static_cast<double>(below(28))}
                            : somewhere(p),
              0.8, true))
        if (canWire(p, catalogue(), *s).clear()) return s;
    return std::nullopt;
  }
  Point step() { return {static_cast<double>(below(11)) - 5, static_cast<double>(below(11)) - 5}; }
  // What is not possible changes nothing.
  static Project keep(const Project& before, const Arranged& a) {
    return a.clear() ? a.project : before;
  }
  std::mt19937 random_;
};

}  // namespace

class TestEdits : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // A hundred thousand edits, all undone back to the empty bench, all done again to the same bytes.
  void everythingCanBeUndoneAndRedone() {
    const Project start = emptyProject();
    History history(start);
    Learner learner(2026);
    std::vector<std::pair<int, std::string>> pages;  // some states on the way, as bytes
    int made = 0;
    for (int i = 0; i < 100'000; ++i) {
      if (!history.push("edit", learner.next(history.now()))) continue;
      ++made;
      if (made % 5000 == 0) pages.emplace_back(made, writeProject(history.now()));
    }
    QVERIFY2(made > 50'000, qPrintable(QString::number(made)));
    const std::string last = writeProject(history.now());
    int undone = 0;
    for (; history.canUndo(); ++undone) {
      if (!pages.empty() && pages.back().first == made - undone) {
        QVERIFY(writeProject(history.now()) == pages.back().second);
        pages.pop_back();
      }
      QVERIFY(history.undo());
    }
    QCOMPARE(undone, made);
    QVERIFY(pages.empty());
    QVERIFY(history.now() == start);
    QCOMPARE(writeProject(history.now()), writeProject(start));
    while (history.canRedo()) QVERIFY(history.redo());
    QVERIFY(writeProject(history.now()) == last);
  }
  // Nothing that a learner does leads to a project that cannot be saved and read.
  void whatIsMadeIsSound() {
    Learner learner(7);
    Project p = emptyProject();
    for (int i = 0; i < 6000; ++i) {
      p = learner.next(p);
      if (i % 60) continue;
      const ReadResult read = readProject(writeProject(p));
      for (const FileProblem& f : read.problems) qWarning("%s", inWords(sentence(f)).c_str());
      QVERIFY2(read.sound(), qPrintable(QString::number(i)));
      QVERIFY(read.project == p);
      // No hole holds two things.
      std::set<Socket> taken;
      for (const auto& part : *p.parts)
        for (const Leg& leg : part->legs)
          if (leg.in && !p.part(leg.in->owner)) QVERIFY(taken.insert(*leg.in).second);
      for (const auto& wire : *p.wires)
        for (const Socket& end : {wire->from, wire->to})
          if (!p.part(end.owner)) QVERIFY(taken.insert(end).second);
    }
  }
  // Whoever follows a project from edit to edit knows the same of it as who looks at it anew.
  void whatIsTakenIsFollowed() {
    Learner learner(31);
    std::mt19937 random(31);
    Project p = emptyProject();
    Taken taken;
    for (int i = 0; i < 3000; ++i) {
      p = i % 400 == 399 ? emptyProject() : learner.next(p);
      if (random() % 3) taken.follow(p);
      if (random() % 4) continue;
      taken.follow(p);
      for (const char* stem : {"led", "w", "r", "b", "s", "l", "led1", "button"})
        QCOMPARE(taken.freeId(stem), freeId(p, stem));
      for (const char* name : {"Red lamp", "Call button", "R1", "Red lamp 2"})
        QCOMPARE(taken.freeName(name), freeName(p, name));
      QCOMPARE(taken.freeNumber("R"), freeNumber(p, "R"));
      for (const auto& part : *p.parts)
        for (const Leg& leg : part->legs) {
          if (leg.in) QVERIFY(taken.occupantOf(*leg.in) == occupantOf(p, *leg.in));
          QVERIFY(!taken.occupantOf({part->id, leg.id}));
        }
      for (const auto& wire : *p.wires)
        for (const Socket& end : {wire->from, wire->to})
          QVERIFY(taken.occupantOf(end) == occupantOf(p, end));
      const BreadboardKind* kind = breadboardKind("half");
      for (const Hole& hole : kind->allHoles())
        if (random() % 9 == 0) {
          const Socket socket{"bb", kind->address(hole)};
          QVERIFY(taken.occupantOf(socket) == occupantOf(p, socket));
        }
    }
  }
  // What an edit may make is what a file may hold: the two are asked in different ways and say
  // the same of whatever is done, sensible or not.
  void editsKeepTheLimitsOfTheFile() {
    std::mt19937 random(20);
    const double numbers[] = {0,   1,    -1,       0.5, 499.9, 500,   500.1, -500.1,
                              1e9, -1e9, HUGE_VAL, NAN, 86400, 86401, 100,   101};
    const char* texts[] = {"D4",   "D99", "5V",    "GND",  "A0",      "",
                           "high", "low", "maybe", "a\nb", "\x1b[2J", "\u202e"};
    const auto number = [&] { return numbers[random() % std::size(numbers)]; };
    const auto text = [&] { return std::string(texts[random() % std::size(texts)]); };
    const auto value = [&](auto&& self, int depth) -> Expr {
      switch (random() % (depth > 0 ? 5 : 4)) {
        case 0:
          return Expr::of(number());
        case 1:
          return Expr::of(random() % 2 == 0);
        case 2:
          return Expr::of(text());
        case 3:
          return Expr::readPin(text());
        default: {
          Expr e = self(self, depth - 1);
          // Now and then a long sum: a tree as deep as it is long.
          for (auto k = random() % 8 ? 1u : random() % 90; k > 0; --k)
            e = Expr::binary("+", std::move(e), Expr::of(1.0));
          return e;
        }
      }
    };
    int sound = 0, refused = 0;
    for (int i = 0; i < 6000; ++i) {
      Learner learner(static_cast<unsigned>(i));
      Project before = learner.next(learner.next(emptyProject()));
      Project p = before;
      const std::string lane = p.programs[0]->lanes[0]->id;
      const auto addStep = [&](const edits::StepPlace& place) {
        const auto& kinds = stepKinds();
        Step s = newStep(*kinds[random() % kinds.size()]);
        for (auto& [key, field] : s.fields)
          if (random() % 2) field = value(value, 2);
        const std::string id = "x" + std::to_string(random());
        s.id = id;
        p = edits::insertSteps(std::move(p), place, {s});
        return id;
      };
      switch (random() % 9) {
        case 0:
          p.boards[0].at = {number(), number()};
          break;
        case 1:
          if (!p.wires->empty())
            p = edits::changeWire(p, (*p.wires)[0]->id, [&](Wire& w) {
              for (auto k = random() % 80; k > 0; --k) w.bends.push_back({number(), 1});
            });
          break;
        case 2:
          if (!p.parts->empty())
            p = edits::changePart(p, (*p.parts)[0]->id, [&](Part& q) {
              for (auto& [key, held] : q.props)
                if (std::holds_alternative<double>(held)) held = number();
            });
          break;
        case 3:
          p = edits::setPull(p, "b1", text(), true);
          break;
        case 4:
          p = edits::setPinLabel(p, "b1", text(), text());
          break;
        case 5:
          for (auto k = random() % 250; k > 0; --k) p = edits::addLane(p, "b1", Lane{});
          break;
        case 6: {  // nested
          edits::StepPlace place{lane, {}, {}, 0};
          for (auto k = random() % 70; k > 0; --k) {
            Step s = newStep(*stepKind("if"));
            s.id = "n" + std::to_string(k) + "-" + std::to_string(i);
            const std::string id = s.id;
            p = edits::insertSteps(std::move(p), place, {s});
            place = {lane, id, "then", 0};
          }
          break;
        }
        case 7:
          p.title = text() + std::string(random() % 2 ? 0 : 1100, 'x');
          p.about = text();
          break;
        default:
          addStep({lane, {}, {}, 0});
      }
      const auto bad = unsound(p, before);
      const ReadResult read = readProject(writeProject(p));
      // Texts that are cleaned when they are read are refused when they are made.
      const bool same = read.sound() && read.project == p;
      const std::string why = bad                     ? inWords(sentence(*bad))
                              : read.problems.empty() ? ""
                                                      : inWords(sentence(read.problems.front()));
      QVERIFY2(!bad == same, qPrintable(QString("edit %1: %2\n%3")
                                            .arg(i)
                                            .arg(str(why), str(writeProject(p).substr(0, 900)))));
      ++(bad ? refused : sound);
    }
    QVERIFY2(sound > 1500 && refused > 1500, qPrintable(QString("%1 %2").arg(sound).arg(refused)));
  }
  void netsAgreeWithAFlood() {
    std::mt19937 random(12);
    for (int round = 0; round < 40; ++round) {
      Learner learner(100 + static_cast<unsigned>(round));
      Project p = emptyProject();
      if (round % 3 == 1) p.breadboards[0].type = "full";
      if (round % 3 == 2) p.breadboards.push_back({"bb2", "mini", {60, 2}, {}});
      for (int i = 0; i < 120; ++i) p = learner.next(p);
      const Nets nets(p, catalogue());
      const FloodNets flood(p);
      for (const auto& [name, joined] : flood.sockets()) {
        if (random() % 7) continue;
        const int net = nets.of(*Socket::parse(name));
        QVERIFY2(net >= 0, name.c_str());
        const auto reached = flood.reachedFrom(name);
        for (const auto& [other, unused] : flood.sockets()) {
          (void)unused;
          QCOMPARE(nets.of(*Socket::parse(other)) == net, reached.contains(other));
        }
      }
    }
  }
  // Tidying changes no connection, and leaves no more wires over parts than there were.
  void tidyingOnlyBends() {
    int better = 0;
    for (unsigned seed = 0; seed < 25; ++seed) {
      Learner learner(900 + seed);
      Project p = emptyProject();
      for (int i = 0; i < 150; ++i) p = learner.next(p);
      const Project plain = straightened(p, {});
      const Project tidy = tidied(p, catalogue(), {});
      QVERIFY(straightened(tidy, {}) == plain);
      QVERIFY(tidied(tidy, catalogue(), {}) == tidy);
      const int before = coveredParts(plain, catalogue()), after = coveredParts(tidy, catalogue());
      QVERIFY2(after <= before, qPrintable(QString("%1 then %2").arg(before).arg(after)));
      better += before - after;
    }
    QVERIFY(better > 20);
  }
};

QTEST_GUILESS_MAIN(TestEdits)
#include "tst_edits.moc"
