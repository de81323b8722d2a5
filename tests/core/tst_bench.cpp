#include <QtTest>
#include <map>
#include <random>
#include <set>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/identity.h"
#include "bench/nets.h"
#include "bench/placing.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// Nets by slow flood fill over sockets: neighbours are looked up one by one.
std::map<Socket, int> floodFill(const Project& p) {
  std::vector<Socket> sockets;
  for (const BreadboardItem& bb : p.breadboards)
    for (const Hole& h : breadboardKind(bb.type)->allHoles())
      sockets.push_back({bb.id, breadboardKind(bb.type)->address(h)});
  for (const BoardItem& b : p.boards)
    for (const PinShape& pin : catalogue().board(b.type)->pins) sockets.push_back({b.id, pin.name});
  for (const auto& part : *p.parts)
    for (const Leg& leg : part->legs) sockets.push_back({part->id, leg.id});
  const auto joined = [&](const Socket& a, const Socket& b) {
    if (a.owner == b.owner && p.breadboard(a.owner)) {
      const BreadboardKind* k = breadboardKind(p.breadboard(a.owner)->type);
      const Hole x = *k->parse(a.point), y = *k->parse(b.point);
      if (x.rail >= 0 || y.rail >= 0) {
        if (x.rail == y.rail &&
            (k->railBreakAt == 0 || (x.number <= k->railBreakAt) == (y.number <= k->railBreakAt)))
          return true;
      } else if (x.number == y.number && (x.column < 5) == (y.column < 5)) {
        return true;
      }
    }
    for (const auto& w : *p.wires)
      if ((w->from == a && w->to == b) || (w->from == b && w->to == a)) return true;
    for (const auto& part : *p.parts) {
      const Footprint* f = catalogue().part(part->type);
      for (const auto& [i, j] : f->joined) {
        const Socket s{part->id, f->legs[static_cast<std::size_t>(i)].id},
            t{part->id, f->legs[static_cast<std::size_t>(j)].id};
        if ((s == a && t == b) || (s == b && t == a)) return true;
      }
      for (const Leg& leg : part->legs) {
        const Socket s{part->id, leg.id};
        if (leg.in && ((s == a && *leg.in == b) || (s == b && *leg.in == a))) return true;
      }
    }
    return false;
  };
  std::map<Socket, int> group;
  int next = 0;
  for (const Socket& start : sockets) {
    if (group.contains(start)) continue;
    std::vector<Socket> todo{start};
    group[start] = next;
    while (!todo.empty()) {
      const Socket at = todo.back();
      todo.pop_back();
      for (const Socket& other : sockets)
        if (!group.contains(other) && joined(at, other)) {
          group[other] = next;
          todo.push_back(other);
        }
    }
    ++next;
  }
  return group;
}

}  // namespace

class TestBench : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void addressesGoBothWays() {
    for (const BreadboardKind& k : breadboardKinds())
      for (const Hole& h : k.allHoles()) {
        const auto back = k.parse(k.address(h));
        QVERIFY(back && *back == h);
      }
    const BreadboardKind* half = breadboardKind("half");
    for (const char* bad : {"", "a", "a0", "a31", "k14", "a01", "lp26", "lp0", "a-1", "a1x", "A1",
                            "lp", "a99999999999"})
      QVERIFY2(!half->parse(bad), bad);
    QCOMPARE(static_cast<int>(half->allHoles().size()), 400);
  }
  void railHolesLieBesideTheirRows() {
    const BreadboardKind* half = breadboardKind("half");
    for (int k = 1; k <= 25; ++k) {
      const int row = k + (k - 1) / 5;
      QCOMPARE(half->at({-1, 0, k}).y, half->at({0, -1, row}).y);
    }
  }
  void fullRailsAreBroken() {
    const BreadboardKind* full = breadboardKind("full");
    QVERIFY(full->stripOf(*full->parse("lp25")) != full->stripOf(*full->parse("lp26")));
    QCOMPARE(full->stripOf(*full->parse("lp1")), full->stripOf(*full->parse("lp25")));
  }
  void nearestHoleIsTheNearest() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> x(-1, 21), y(-1, 34);
    const BreadboardKind* half = breadboardKind("half");
    for (int i = 0; i < 2000; ++i) {
      const Point p{x(random), y(random)};
      double best = 0.9;
      std::optional<Hole> slow;
      for (const Hole& h : half->allHoles()) {
        const Point d = half->at(h) - p;
        if (std::hypot(d.x, d.y) <= best) best = std::hypot(d.x, d.y), slow = h;
      }
      const auto fast = half->nearest(p, 0.9);
      QCOMPARE(fast.has_value(), slow.has_value());
      if (fast) {
        const Point d = half->at(*fast) - p;
        QVERIFY(std::hypot(d.x, d.y) <= best + 1e-12);
      }
    }
  }
  void netsAgreeWithFloodFill() {
    std::mt19937 random(11);
    for (int round = 0; round < 12; ++round) {
      Bench bench;
      std::set<std::string> used;
      const auto hole = [&] {
        for (;;) {
          std::string h = std::string(1, static_cast<char>('a' + random() % 10)) +
                          std::to_string(random() % 30 + 1);
          if (used.insert(h).second) return h;
        }
      };
      for (int i = 0; i < 4; ++i) bench.resistor("r" + std::to_string(i), 220, hole(), hole());
      bench.part("button", "btn", {hole(), hole(), hole(), hole()});
      for (int i = 0; i < 8; ++i) bench.wire(hole(), hole());
      bench.wire("D4", hole())
          .wire("GND", "ln" + std::to_string(random() % 25 + 1))
          .wire("5V", hole());
      const Project p = bench;
      const Nets nets(p, catalogue());
      const auto slow = floodFill(p);
      std::map<int, int> partner;
      for (const auto& [socket, group] : slow) {
        const int net = nets.of(socket);
        QVERIFY(net >= 0);
        const auto [it, fresh] = partner.try_emplace(net, group);
        QVERIFY2(it->second == group, socket.text().c_str());
      }
      std::set<int> groups;
      for (const auto& [net, group] : partner) groups.insert(group);
      QCOMPARE(groups.size(), partner.size());  // and no net is split
    }
  }
  void netsHaveTheNamesPeopleUse() {
    const Project p = beacon().wire("5V", "lp1");
    const Nets nets(p, catalogue());
    const auto name = [&](const char* hole) {
      return nets.all()[static_cast<std::size_t>(nets.of({"bb", hole}))].name;
    };
    QCOMPARE(name("a9"), std::string("D4"));
    QCOMPARE(name("lp20"), std::string("5 V"));
    QCOMPARE(name("rn1"), std::string("GND"));
    QCOMPARE(name("rp1"), std::string("right + rail"));
    QCOMPARE(name("j14"), std::string("row 14 right"));
    QCOMPARE(nets.of({"bb", "k1"}), -1);
    QCOMPARE(nets.of({"zz", "a1"}), -1);
    // All sockets of D4's net: the pin and its five holes.
    QCOMPARE(static_cast<int>(nets.sockets(nets.of({"b1", "D4"}), p, catalogue()).size()), 6);
  }
  void impossiblePlacesSayWhy() {
    const Project p = beacon();
    const Point i9 = *socketAt(p, catalogue(), {"bb", "i9"});
    Placement placed = layOut(p, catalogue(), "led", i9, 0);
    QCOMPARE(placed.obstacle.code, Obstacle::Code::taken);
    QCOMPARE(placed.obstacle.hole, std::string("i9"));
    QCOMPARE(placed.obstacle.occupant, std::string("led1"));
    placed = layOut(p, catalogue(), "led", {0, 0}, 0);
    QCOMPARE(placed.obstacle.code, Obstacle::Code::noHole);
    const Obstacle far = canPlug(p, catalogue(), *p.part("led1"), "cathode", {"bb", "i25"});
    QCOMPARE(far.code, Obstacle::Code::outOfReach);
    QVERIFY(canPlug(p, catalogue(), *p.part("led1"), "cathode", {"bb", "i12"}).clear());
    QCOMPARE(canWire(p, catalogue(), {"b1", "D4"}).code, Obstacle::Code::taken);
    QVERIFY(canWire(p, catalogue(), {"b1", "D5"}).clear());
  }
  void placingAvoidsJoiningBothLegs() {
    // A resistor dropped on the right side must not lie along one row.
    const Project p = emptyProject();
    for (const char* hole : {"a9", "c9", "g9", "i20"}) {
      const Placement placed =
          layOutBest(p, catalogue(), "resistor", *socketAt(p, catalogue(), {"bb", hole}), 0);
      QVERIFY(placed.obstacle.clear());
      const Nets nets(p, catalogue());
      QVERIFY(nets.of(*placed.sockets[0]) != nets.of(*placed.sockets[1]));
    }
  }
  void flippingTwiceIsNothing() {
    const Project p = beacon();
    const Part part = *p.part("led1");
    const Part once = flipped(part, catalogue());
    QCOMPARE(once.leg("anode")->in->point, std::string("i11"));
    QVERIFY(flipped(once, catalogue()) == part);
  }
  void thereAndBackIsNothing() {
    const Project p = beacon();
    const Part& part = *p.part("led1");
    const Arranged down = moved(p, catalogue(), {"led1"}, {0, 3});
    QVERIFY(down.obstacle.clear());
    QCOMPARE(down.project.part("led1")->legs[0].in->point, std::string("i12"));
    const Arranged back = moved(down.project, catalogue(), {"led1"}, {0, -3});
    for (std::size_t i = 0; i < 2; ++i)
      QVERIFY(back.project.part("led1")->legs[i].in == part.legs[i].in);
  }
  void pinsKeepTheirColours() {
    Bench bench = beacon().wire("D2", "a20").wire("D3", "a22");
    Project p = bench;
    const auto colour = [](const Project& q, const char* pin) {
      return Identities(q, Nets(q, catalogue()), catalogue()).ofPin("b1", pin);
    };
    QCOMPARE(colour(p, "D4"), 0);
    QCOMPARE(colour(p, "D2"), 1);
    QCOMPARE(colour(p, "D3"), 2);
    // With the colour written into the wire it stays when another wire goes.
    p = edits::changeWire(p, (*p.wires)[5]->id, [](Wire& w) { w.colour = "blue"; });
    p = edits::remove(p, {(*p.wires)[4]->id});
    QCOMPARE(colour(p, "D3"), 2);
    QCOMPARE(colour(p, "D2"), -1);
  }
};

QTEST_GUILESS_MAIN(TestBench)
#include "tst_bench.moc"
