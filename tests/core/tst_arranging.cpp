#include <QRectF>
#include <QtTest>
#include <random>
#include <set>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/lying.h"
#include "bench/move_run.h"
#include "bench/tidy.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Arranged move(const Project& p, const std::vector<std::string>& ids, double dx, double dy) {
  return moved(p, catalogue(), ids, {dx, dy});
}
std::string hole(const Project& p, const std::string& part, const std::string& leg) {
  const Leg* l = p.part(part)->leg(leg);
  return l->in ? l->in->point : std::string();
}
const Wire& wireOf(const Project& p, const std::string& id) { return *p.wire(id); }

}  // namespace

class TestArranging : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void wiresFollowTheirPart() {
    const Project p = Bench()
                          .resistor("r1", 220, "c9", "h9")
                          .wire("D4", "a9")    // w1
                          .wire("j9", "rn10")  // w2: its rail end stays
                          .wire("GND", "rn1");
    const Arranged a = move(p, {"r1"}, 0, 3);
    QVERIFY(a.clear());
    QCOMPARE(hole(a.project, "r1", "a"), std::string("c12"));
    QCOMPARE(wireOf(a.project, "w1").to.text(), std::string("bb.a12"));
    QCOMPARE(wireOf(a.project, "w2").from.text(), std::string("bb.j12"));
    QCOMPARE(wireOf(a.project, "w2").to.text(), std::string("bb.rn10"));
    QVERIFY(joined(a.project) == joined(p));
    const Arranged back = move(a.project, {"r1"}, 0, -3);
    QVERIFY(back.project == p);
  }
  void wiresStayWithARowThatOthersUse() {
    // The lamp's anode shares row 9 with the resistor: its wire stays there.
    const Project p = beacon();
    const Arranged a = move(p, {"led1"}, 0, 5);
    QVERIFY(a.clear());
    QCOMPARE(wireOf(a.project, "w3").to.text(), std::string("bb.a9"));
    QCOMPARE(wireOf(a.project, "w4").from.text(), std::string("bb.j16"));
    // Both together take everything along.
    const Arranged both = move(p, {"led1", "r1"}, 0, 5);
    QCOMPARE(wireOf(both.project, "w3").to.text(), std::string("bb.a14"));
    QVERIFY(joined(both.project) == joined(p));
  }
  void legsGoExactlyAndSayWhatIsInTheWay() {
    const Project p = Bench().led("led1", "c5", "c7").led("led2", "c9", "c11");
    const Arranged a = move(p, {"led1"}, 0, 2);
    QVERIFY(!a.clear());
    QVERIFY(a.obstacle.code == Obstacle::Code::taken);
    QCOMPARE(inWords(sentence(a.obstacle, p, catalogue(), "led")),
             std::string("Hole c9 is taken by led2"));
    // Its own holes are not in its way, nor those of what moves with it.
    QVERIFY(move(Bench().led("led1", "c5", "c7"), {"led1"}, 0, 2).clear());
    QVERIFY(move(p, {"led1", "led2"}, 0, 2).clear());
    // Half over the edge.
    const Arranged edge = move(Bench().led("led1", "c28", "c30"), {"led1"}, 0, 1);
    QVERIFY(edge.obstacle.code == Obstacle::Code::noHole);
    QCOMPARE(inWords(sentence(edge.obstacle, p, catalogue(), "led")),
             std::string("No hole for the short leg, flat side here"));
  }
  void wireGoesToAnotherHoleOfTheRowWhenItsOwnIsTaken() {
    // a12 is taken by another wire: the end goes to b12.
    const Project p = Bench().resistor("r1", 220, "c9", "h9").wire("D4", "a9").wire("D5", "a12");
    const Arranged a = move(p, {"r1"}, 0, 3);
    QVERIFY(a.clear());
    QCOMPARE(wireOf(a.project, "w1").to.text(), std::string("bb.b12"));
    // A full row refuses.
    Bench full;
    full.resistor("r1", 220, "c9", "h9").wire("D4", "a9");
    for (const char* h : {"a12", "b12", "d12", "e12"})
      full.wire(std::string("D") + std::to_string(5 + h[0] - 'a'), h);
    const Arranged none = move(full, {"r1"}, 0, 3);
    QVERIFY(none.obstacle.code == Obstacle::Code::rowFull);
  }
  void ownWiresStepAside() {
    // Along its rows, over the wire that ends there: it takes another hole of the row.
    const Project p = Bench().resistor("r1", 220, "c9", "h9").wire("D4", "b9").wire("a9", "a20");
    const Arranged a = move(p, {"r1"}, -1, 0);
    QVERIFY(a.clear());
    QCOMPARE(hole(a.project, "r1", "a"), std::string("b9"));
    QCOMPARE(wireOf(a.project, "w1").to.text(), std::string("bb.c9"));
    QVERIFY(joined(a.project) == joined(p));
    // Another's wire stays, and is named.
    const Project q = Bench().resistor("r1", 220, "c9", "h9").wire("D4", "c10");
    const Arranged refused = move(q, {"r1"}, 0, 1);
    QCOMPARE(refused.obstacle.code, Obstacle::Code::taken);
    QCOMPARE(refused.obstacle.occupant, std::string("w1"));
    // With the row full there is no room to step.
    const Project full = Bench()
                             .resistor("r1", 220, "c9", "h9")
                             .resistor("r2", 220, "d9", "d14")
                             .resistor("r3", 220, "e9", "e14")
                             .wire("D4", "b9")
                             .wire("D5", "a9");
    const Arranged crowded = move(full, {"r2"}, -2, 0);
    QVERIFY(crowded.clear());  // its own hole has become free
    QVERIFY(joined(crowded.project) == joined(full));
  }
  void partsLineUpWithTheFirst() {
    const Project p = Bench()
                          .led("led1", "i9", "i11")
                          .led("led2", "h14", "h16")
                          .led("led3", "j19", "j21")
                          .wire("D4", "f14");
    const Arranged a = linedUp(p, catalogue(), {"led1", "led2", "led3"});
    QVERIFY(a.clear());
    QCOMPARE(hole(a.project, "led2", "anode"), std::string("i14"));
    QCOMPARE(hole(a.project, "led3", "cathode"), std::string("i21"));
    QVERIFY(joined(a.project) == joined(p));
    QVERIFY(linedUp(a.project, catalogue(), {"led1", "led2", "led3"}).project == a.project);
    // What cannot be says why.
    const Project q = edits::addPart(p, [&] {
      Part other = newPart(p, *catalogue().partKind("led"));
      other.id = "led4";
      other.legs[0].in = Socket{"bb", "i16"};
      other.legs[1].in = Socket{"bb", "i17"};
      return other;
    }());
    QCOMPARE(linedUp(q, catalogue(), {"led1", "led2"}).obstacle.occupant, std::string("led4"));
  }
  void tidyingTellsWiresOnOneLineApart() {
    const Project p = Bench().wire("a1", "a12").wire("a3", "a9").wire("c1", "c4");
    const Project tidy = tidied(p, catalogue(), {});
    QVERIFY(tidy.wire("w3")->bends.empty());
    // Of the two on one line the longer goes round.
    QVERIFY(tidy.wire("w2")->bends.empty());
    QVERIFY(!tidy.wire("w1")->bends.empty());
    QVERIFY(tidied(tidy, catalogue(), {}) == tidy);
  }
  void partsLeaveForTheMatAndComeBack() {
    const Project p = Bench().led("led1", "i9", "i11").wire("D4", "j9");
    const Arranged out = move(p, {"led1"}, 20, 0);
    QVERIFY(out.clear());
    QVERIFY(!out.project.part("led1")->legs[0].in && out.project.part("led1")->at);
    const auto lying = lyingOf(out.project, catalogue(), *out.project.part("led1"));
    const auto before = lyingOf(p, catalogue(), *p.part("led1"));
    for (int i : {0, 1}) {
      QCOMPARE(lying->legs[static_cast<std::size_t>(i)].x,
               before->legs[static_cast<std::size_t>(i)].x + 20);
      QCOMPARE(lying->legs[static_cast<std::size_t>(i)].y,
               before->legs[static_cast<std::size_t>(i)].y);
    }
    const Arranged back = move(out.project, {"led1"}, -20, 0);
    QVERIFY(back.clear());
    QVERIFY(back.project == p);
    // A level one lies level on the mat too.
    const Project level = Bench().resistor("r1", 220, "c9", "h9");
    const Arranged far = move(level, {"r1"}, 30, 0);
    const auto r = lyingOf(far.project, catalogue(), *far.project.part("r1"));
    QCOMPARE(r->legs[0].y, r->legs[1].y);
    QVERIFY(move(far.project, {"r1"}, -30, 0).clear());
  }
  void bodiesWithLeadsLieBesideAndDoNotCover() {
    Project p = Bench();
    const auto motor = [&](std::vector<std::optional<Socket>> sockets) {
      return placed(p, catalogue(), newPart(p, *catalogue().partKind("motor")), sockets);
    };
    const Arranged a = motor({Socket{"bb", "j20"}, Socket{"bb", "j21"}});
    QVERIFY(a.clear());
    p = a.project;
    const Arranged second = motor({Socket{"bb", "j22"}, Socket{"bb", "j23"}});
    QVERIFY(second.clear());
    const auto one = lyingOf(second.project, catalogue(), *second.project.part("motor1"));
    const auto other = lyingOf(second.project, catalogue(), *second.project.part("motor2"));
    QVERIFY(one->most().x <= other->least().x || one->most().y <= other->least().y ||
            other->most().x <= one->least().x || other->most().y <= one->least().y);
    // Moving takes the body, the leads stay plugged.
    const Arranged moved2 = move(second.project, {"motor1"}, 0, 14);
    QVERIFY(moved2.clear());
    QCOMPARE(hole(moved2.project, "motor1", "a"), std::string("j20"));
    const Arranged onTop = move(second.project, {"motor1"}, -10, 0);
    QVERIFY(onTop.obstacle.code == Obstacle::Code::covers);
    // A lead pulled out lies beside the body.
    const Arranged out = unplugged(second.project, "motor1", "a");
    QVERIFY(!out.project.part("motor1")->legs[0].in && out.project.part("motor1")->legs[1].in);
  }
  void breadboardTakesAlongWhatIsOnIt() {
    Project p = beacon();
    p = edits::changeWire(p, "w2", [](Wire& w) { w.bends = {{20, 30}}; });
    const Point before = *socketAt(p, catalogue(), {"bb", "i9"});
    const Arranged a = move(p, {"bb"}, 4, 2);
    QVERIFY(a.clear());
    const Point after = *socketAt(a.project, catalogue(), {"bb", "i9"});
    QCOMPARE(after.x, before.x + 4);
    QCOMPARE(hole(a.project, "led1", "anode"), std::string("i9"));
    QCOMPARE(wireOf(a.project, "w2").bends.front().x, 24.0);
    QVERIFY(move(a.project, {"bb"}, -4, -2).project == p);
  }
  void tablesDoNotStandOnEachOther() {
    const Project p = beacon();
    const Arranged onBoard = move(p, {"bb"}, -8, 0);
    QVERIFY(onBoard.obstacle.code == Obstacle::Code::covers);
    QCOMPARE(inWords(sentence(onBoard.obstacle, p, catalogue())),
             std::string("It would lie on the board"));
    QVERIFY(move(p, {"b1"}, 6, 0).obstacle.code == Obstacle::Code::covers);
    QVERIFY(move(p, {"b1", "bb"}, 6, 0).clear());  // both together keep their distance
    // Nor on what lies on the mat.
    const Project lying =
        laidOnMat(p, catalogue(), newPart(p, *catalogue().partKind("battery")), {45, 12}).project;
    QVERIFY(move(lying, {"bb"}, 12, 0).obstacle.code == Obstacle::Code::covers);
  }
  void turningTakesTheNextWayWithRoom() {
    Project p = Bench().led("led1", "c9", "c11");
    std::set<std::string> seen;
    for (int i = 0; i < 4; ++i) {
      seen.insert(hole(p, "led1", "cathode"));
      const Arranged a = turnedRound(p, catalogue(), "led1");
      QVERIFY(a.clear());
      p = a.project;
    }
    QVERIFY(seen.size() >= 3);
    QCOMPARE(hole(p, "led1", "anode"), std::string("c9"));
    // On the mat it turns by quarters.
    Project mat = move(Bench().led("led1", "c9", "c11"), {"led1"}, 30, 0).project;
    for (int i = 0; i < 4; ++i) mat = turnedRound(mat, catalogue(), "led1").project;
    QCOMPARE(mat.part("led1")->turnDegrees, 0);
  }
  void lockedPartsStay() {
    Project p = beacon();
    p = edits::changePart(p, "led1", [](Part& q) { q.locked = true; });
    for (const Arranged& a : {move(p, {"led1"}, 0, 1), turnedRound(p, catalogue(), "led1"),
                              mirrored(p, catalogue(), {"led1"}),
                              plugged(p, catalogue(), "led1", "anode", {"bb", "i8"})}) {
      QVERIFY(a.obstacle.code == Obstacle::Code::locked);
      QVERIFY(inWords(sentence(a.obstacle, p, catalogue())).find("led1 is locked") == 0);
    }
  }
  void duplicatesGoToFreeRowsWithTheirWires() {
    const Project p = beacon();
    const Arranged a = duplicated(p, catalogue(), {"r1", "led1"});
    QVERIFY(a.clear());
    QCOMPARE(a.project.parts->size(), std::size_t(4));
    // The wire to the − rail came along, the one to the pin did not.
    QCOMPARE(a.project.wires->size(), p.wires->size() + 1);
    const Nets nets(a.project, catalogue());
    QCOMPARE(nets.of({"r2", "b"}), nets.of({"led2", "anode"}));
    QCOMPARE(nets.of({"led2", "cathode"}), nets.of({"led1", "cathode"}));
    QVERIFY(nets.of({"led2", "anode"}) != nets.of({"led1", "anode"}));
    QCOMPARE(a.project.part("led2")->name, std::string("led1 2"));
    // Again and again, until no rows are left; then it says so.
    Project full = p;
    Arranged next{full, {}, {}};
    int copies = 0;
    for (; copies < 40; ++copies) {
      next = duplicated(full, catalogue(), {"r1", "led1"});
      if (!next.clear()) break;
      full = next.project;
    }
    QVERIFY(copies > 4 && copies < 40);
    QVERIFY(next.obstacle.code == Obstacle::Code::noRoom);
  }
  void pastesIntoAnotherProject() {
    const Project fragment = extract(beacon(), {"r1", "led1"});
    // Where there is room no body lies over another.
    Project many = beacon();
    for (int i = 0; i < 4; ++i) {
      const Arranged more = pasted(many, catalogue(), fragment);
      QVERIFY(more.clear());
      many = more.project;
    }
    const auto boxOf = [&](const Part& part) {
      const auto lying = lyingOf(many, catalogue(), part);
      const Point a = lying->least(), b = lying->most();
      return QRectF(QPointF(a.x, a.y), QPointF(b.x, b.y)).adjusted(0.1, 0.1, -0.1, -0.1);
    };
    for (const auto& one : *many.parts)
      for (const auto& other : *many.parts)
        if (one->id < other->id) QVERIFY(!boxOf(*one).intersects(boxOf(*other)));
    Project other = emptyProject();
    other.breadboards[0].id = "table";
    other.breadboards[0].at = {16, 5};
    const Arranged a = pasted(other, catalogue(), fragment);
    QVERIFY(a.clear());
    QCOMPARE(a.project.parts->size(), std::size_t(2));
    const Nets nets(a.project, catalogue());
    QCOMPARE(nets.of({"r1", "b"}), nets.of({"led1", "anode"}));
    // At a chosen place.
    const Arranged at =
        pasted(other, catalogue(), fragment, socketAt(other, catalogue(), {"table", "c20"}));
    QVERIFY(at.clear());
    QCOMPARE(hole(at.project, "r1", "a"), std::string("c20"));
    QVERIFY(!pasted(other, catalogue(), fragment, Point{-40, -40}).clear());
  }
  void partsGoToFreeRows() {
    Bench bench = beacon();
    bench.resistor("r2", 1000, "d9", "d13");  // shares row 9 with r1
    const Arranged a = toFreeRows(bench, catalogue(), {"r2"});
    QVERIFY(a.clear());
    const Nets nets(a.project, catalogue());
    QVERIFY(nets.all()[static_cast<std::size_t>(nets.of({"r2", "a"}))].legs.size() == 1);
    QVERIFY(nets.all()[static_cast<std::size_t>(nets.of({"r2", "b"}))].legs.size() == 1);
  }
  // Every kind, everywhere: there and back again is nothing, when the rows are free.
  void movesOfOneSelectionGoOnFromTheirBeginning() {
    // The wire's end has no room in its column on the way, and comes back all the same.
    Project p = Bench().resistor("r1", 220, "c9", "h9").wire("D4", "a9").wire("a10", "a20");
    const Project begun = p;
    MoveRun run;
    const auto step = [&](double dy) {
      const Arranged a = run.next(p, catalogue(), {"r1"}, {0, dy});
      QVERIFY(a.clear());
      run.made(p, a, {"r1"}, {0, dy});
      p = a.project;
    };
    step(1);
    QVERIFY(wireOf(p, "w1").to.point != "a10");
    step(1);
    QCOMPARE(wireOf(p, "w1").to.point, std::string("a11"));
    step(-2);
    QVERIFY(p == begun);
    // Something else in between begins a new run.
    step(1);
    p = edits::changePart(std::move(p), "r1", [](Part& q) { q.setProp("ohms", 330.0); });
    step(-1);
    QCOMPARE(p.part("r1")->number("ohms", 0), 330.0);
    QVERIFY(joined(p) == joined(begun));
  }
  void thereAndBackIsNothing() {
    std::mt19937 random(3);
    int tried = 0;
    for (const PartKind* kind : catalogue().parts())
      for (int i = 0; i < 60; ++i) {
        Project p = emptyProject();
        const auto way = static_cast<int>(random() % kind->print.orientations.size());
        const Placement at = layOut(p, catalogue(), kind->type,
                                    {14 + static_cast<double>(random() % 160) / 10,
                                     2 + static_cast<double>(random() % 300) / 10},
                                    way);
        if (!at.obstacle.clear()) continue;
        const Arranged put = placed(p, catalogue(), newPart(p, *kind), at.sockets);
        if (!put.clear()) continue;
        const std::string id = put.ids.front();
        Project base = put.project;
        // A wire in one of its rows.
        Wire w;
        w.id = "w1";
        w.from = {"b1", "D4"};
        bool wired = false;
        for (const char* column : {"a", "b", "i", "j"}) {
          const Socket s{"bb", column + base.part(id)->legs[0].in->point.substr(1)};
          const Nets nets(base, catalogue());
          if (wired || !canWire(base, catalogue(), s).clear() ||
              nets.of(s) != nets.of(*base.part(id)->legs[0].in))
            continue;
          w.to = s;
          wired = true;
        }
        if (wired) base = edits::addWire(base, w);
        const double dx = static_cast<int>(random() % 41) - 20,
                     dy = static_cast<int>(random() % 41) - 20;
        const Arranged there = move(base, {id}, dx, dy);
        if (!there.clear()) continue;
        // On the mat a part that stretches takes the shape that it has when new.
        if (kind->print.stretches && there.project.part(id)->at) continue;
        const Arranged back = move(there.project, {id}, -dx, -dy);
        QVERIFY2(back.clear(),
                 qPrintable(QString::fromStdString(
                     kind->type + ": " +
                     inWords(sentence(back.obstacle, there.project, catalogue(), kind->type)))));
        // A part that went to the mat leaves its wires behind; legs come back.
        // Across the trench a wire takes the nearest free hole: joined as before.
        if (wired && dx != 0)
          QVERIFY2(joined(back.project) == joined(base), kind->type.c_str());
        else
          QVERIFY2(back.project == base, kind->type.c_str());
        ++tried;
      }
    QVERIFY2(tried > 200, qPrintable(QString::number(tried)));
  }
  void everyWayIsReachedByTurningAndItsBodyIsThere() {
    for (const PartKind* kind : catalogue().parts()) {
      Project p = emptyProject();
      const Placement at = layOut(
          p, catalogue(), kind->type,
          *socketAt(p, catalogue(), {"bb", kind->type == "number-display" ? "g12" : "e12"}), 0);
      QVERIFY2(at.obstacle.clear(), kind->type.c_str());
      const Arranged put = placed(p, catalogue(), newPart(p, *kind), at.sockets);
      QVERIFY(put.clear());
      const auto lying = lyingOf(put.project, catalogue(), *put.project.part(put.ids[0]));
      QVERIFY(lying->most().x > lying->least().x && lying->most().y > lying->least().y);
      const Arranged turnedOnce = turnedRound(put.project, catalogue(), put.ids[0]);
      QVERIFY2(turnedOnce.clear(), kind->type.c_str());
      QVERIFY2(!(turnedOnce.project == put.project), kind->type.c_str());
    }
  }
};

QTEST_GUILESS_MAIN(TestArranging)
#include "tst_arranging.moc"
