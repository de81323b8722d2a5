#include <QtTest>
#include <random>

#include "project/edits.h"
#include "run/kernel.h"
#include "run/snapshot_mapping.h"
#include "support/build.h"
#include "support/demo_rows.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// A moment of one project, told on another that was made of it by edits.
class TestSnapshotMapping : public QObject {
  Q_OBJECT

  static std::size_t placeOf(const Project& p, const std::string& id) {
    for (std::size_t i = 0; i < p.parts->size(); ++i)
      if ((*p.parts)[i]->id == id) return i;
    return p.parts->size();
  }

 private Q_SLOTS:
  // Values and names are no reason to move anything.
  void valuesAlone() {
    const Project a = beacon();
    Project b = edits::changePart(a, "r1", [](Part& r) { r.setProp("ohms", 470.0); });
    b.title = "Another";
    QVERIFY(SnapshotMapping(a, b).isIdentity());
    QVERIFY(SnapshotMapping(a, a).isIdentity());
    QVERIFY(!SnapshotMapping(a, edits::remove(a, {"r1"})).isIdentity());
    QVERIFY(!SnapshotMapping(a, edits::remove(a, {(*a.wires)[0]->id})).isIdentity());
  }
  void whatIsLeftIsToldAsItWas_data() { rowPerDemo(); }
  // Things are taken out, and what is left put into another order: each part has what it had, and
  // each hole the voltage that it had where its net was one.
  void whatIsLeftIsToldAsItWas() {
    QFETCH(QString, name);
    const auto project = demoProject(name);
    std::mt19937 random(5);
    Kernel kernel(project);
    kernel.advance(1'300'000'000);
    const Snapshot was = kernel.snapshot();
    const Circuit then(*project);
    for (int k = 0; k < 12; ++k) {
      Project now = *project;
      for (int n = 0; n < 3 && !now.parts->empty() && !now.wires->empty(); ++n)
        now = edits::remove(now,
                            {random() % 2 == 0 ? (*now.parts)[random() % now.parts->size()]->id
                                               : (*now.wires)[random() % now.wires->size()]->id});
      auto& parts = now.parts.edit();
      std::reverse(parts.begin(), parts.end());
      const SnapshotMapping mapping(*project, now);
      const Snapshot seen = mapping.mapped(was);
      QCOMPARE(seen.light.size(), now.parts->size());
      // What was taken out is told, and nothing else.
      QVERIFY(mapping.notThen().empty());
      QCOMPARE(mapping.notNow().size(), project->parts->size() - now.parts->size() +
                                            project->wires->size() - now.wires->size());
      for (const std::string& id : mapping.notNow()) {
        QVERIFY(project->part(id) || project->wire(id));
        QVERIFY(!now.part(id) && !now.wire(id));
      }
      for (std::size_t i = 0; i < now.parts->size(); ++i) {
        const std::size_t before = placeOf(*project, (*now.parts)[i]->id);
        QVERIFY(before < project->parts->size());
        QCOMPARE(seen.light[i], was.light[before]);
        QCOMPARE(seen.motion[i].hertz, was.motion[before].hertz);
        QCOMPARE(seen.reading.parts[i].amps, was.reading.parts[before].amps);
        QCOMPARE(seen.state.pressed[i], was.state.pressed[before]);
      }
      const Circuit circuit(now);
      QCOMPARE(seen.reading.nets.size(), circuit.nets().all().size());
      QCOMPARE(seen.reading.pins.size(), circuit.pins().size());
      for (int net = 0; net < static_cast<int>(seen.reading.nets.size()); ++net)
        for (const Socket& socket : circuit.nets().sockets(net, now, catalogue())) {
          const auto place = static_cast<std::size_t>(then.nets().of(socket));
          // Nothing was joined, so that each was of one net.
          QCOMPARE(seen.reading.nets[static_cast<std::size_t>(net)], was.reading.nets[place]);
        }
    }
  }
  // What lies in other holes was there, and stood otherwise; its colour and name do not matter.
  void whatWasMoved() {
    const Project then = beacon().get();
    Project now = edits::changePart(then, "led1", [](Part& led) {
      for (Leg& leg : led.legs) leg.in->point[0] = 'g';
      led.name = "Another";
    });
    now = edits::changePart(now, "r1", [](Part& r) { r.setProp("ohms", 470.0); });
    const SnapshotMapping mapping(then, now);
    QVERIFY(mapping.notThen() == std::set<std::string>{"led1"});
    QVERIFY(mapping.notNow() == std::set<std::string>{"led1"});
    // It is told by its id, wherever it lies.
    Kernel kernel(shared(Project(then)));
    kernel.advance(100'000'000);
    const Snapshot was = kernel.snapshot(), seen = mapping.mapped(was);
    QCOMPARE(seen.reading.parts[placeOf(now, "led1")].amps,
             was.reading.parts[placeOf(then, "led1")].amps);
    // A whole breadboard, with all that is on it.
    const Project bare = edits::remove(then, {then.breadboards.front().id});
    const std::set<std::string> gone = SnapshotMapping(then, bare).notNow();
    QVERIFY(gone.contains(then.breadboards.front().id));
    QVERIFY(SnapshotMapping(bare, then).notThen() == gone);
  }
  // A part that came later is dark; a net that a later wire made of two has no voltage.
  void whatCameLater() {
    const Project now = beacon().wire("D7", "5V").get();
    const Project then = edits::remove(edits::remove(now, {"led1"}), {now.wires->back()->id});
    Kernel kernel(shared(Project(then)));
    kernel.advance(100'000'000);
    const Snapshot was = kernel.snapshot();
    const SnapshotMapping mapping(then, now);
    const Snapshot seen = mapping.mapped(was);
    const std::size_t lamp = placeOf(now, "led1");
    QVERIFY(mapping.notThen().contains("led1"));
    QCOMPARE(seen.light[lamp], 0.0);
    QVERIFY(!seen.reading.parts[lamp].volts);
    const Circuit circuit(now);
    const auto net = static_cast<std::size_t>(circuit.nets().of({"b1", "5V"}));
    QVERIFY(!seen.reading.nets[net]);
    const auto ground = static_cast<std::size_t>(circuit.nets().of({"b1", "GND"}));
    QCOMPARE(seen.reading.nets[ground], std::optional<double>(0.0));
  }
};

QTEST_GUILESS_MAIN(TestSnapshotMapping)
#include "tst_snapshot_mapping.moc"
