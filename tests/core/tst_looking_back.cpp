#include <QtTest>
#include <random>

#include "project/edits.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/demo_rows.h"
#include "support/moments.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;
using What = Input::What;

class TestLookingBack : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void anyMomentIsAsItWas_data() { rowPerDemo(); }
  // Everything that can come from outside comes; then moments are looked at in any order, and
  // compared with a run that went only so far.
  void anyMomentIsAsItWas() {
    QFETCH(QString, name);
    const auto project = demoProject(name);
    std::mt19937 random(3);
    const auto pick = [&](int below) {
      return std::uniform_int_distribution<int>(0, below - 1)(random);
    };
    const auto below = [&](std::size_t count) {
      return static_cast<std::size_t>(pick(static_cast<int>(count)));
    };
    Kernel kernel(project);
    Nanoseconds now = 0;
    for (int k = 0; k < 60; ++k) {
      now += 1 + std::uniform_int_distribution<Nanoseconds>(0, 700'000'000)(random);
      kernel.advance(now);
      const Part& part = *(*project->parts)[below(project->parts->size())];
      const What what[] = {What::press,    What::release,  What::press,   What::release,
                           What::reset,    What::powerOff, What::powerOn, What::powerOn,
                           What::drivePin, What::freePin,  What::setProp, What::replace,
                           What::project};
      Input in;
      in.what = what[pick(13)];
      in.id = part.id;
      switch (in.what) {
        case What::press:
        case What::release:
          for (const auto& p : *project->parts)
            if (p->type == "button") in.id = p->id;
          break;
        case What::drivePin:
        case What::freePin:
          in.id = "b1";
          in.key = "D" + std::to_string(2 + pick(12));
          in.value = 25.0 * pick(5);
          break;
        case What::setProp:
          if (part.type != "resistor") continue;
          in.key = "ohms";
          in.value = 220.0 + 100 * pick(5);
          break;
        case What::project: {
          // Something is taken out, or all is there again.
          Project other = *project;
          const Project& is = *kernel.project();
          const std::size_t parts = is.parts->size(), wires = is.wires->size();
          if (const int way = pick(3); way == 0 && parts > 0)
            other = edits::remove(is, {(*is.parts)[below(parts)]->id});
          else if (way == 1 && wires > 0)
            other = edits::remove(is, {(*is.wires)[below(wires)]->id});
          in.project = shared(std::move(other));
          break;
        }
        case What::replace:
          break;
        default:
          in.id.clear();
      }
      kernel.inputNow(in);
    }
    kernel.advance(now += second);
    for (int k = 0; k < 40; ++k) {
      const Nanoseconds moment = std::uniform_int_distribution<Nanoseconds>(0, now)(random);
      const auto replayed = Kernel::replay(project, kernel.inputs(), moment);
      const QString differs = difference(kernel.lookBack(moment), replayed->snapshot());
      QVERIFY2(differs.isEmpty(), qPrintable(differs));
    }
    QVERIFY(difference(kernel.lookBack(now), kernel.snapshot()).isEmpty());
  }
  void lookingChangesNothing() {
    const auto project = shared(winch("set d9 high\nwait 0.3\nset d9 low\nwait 0.2\n"));
    Kernel looked(project), left(project);
    for (int k = 1; k <= 20; ++k) {
      looked.advance(k * 100'000'000);
      left.advance(k * 100'000'000);
      (void)looked.lookBack(k * 50'000'000);
    }
    QVERIFY(edges(looked.trace()) == edges(left.trace()));
    QVERIFY(difference(looked.snapshot(), left.snapshot()).isEmpty());
  }
  // A quick loop goes round while a motor runs up beside it.
  void aLoopBesideAMotor() {
    const auto project = shared(
        winch("").lane("power", "set d9 high\nkeep going round\n  set d4 high\n  set d4 low\n"));
    Kernel quick(project), plain(project);
    plain.allowSkipping(false);
    quick.advance(400'000'000);
    plain.advance(400'000'000);
    QVERIFY(quick.periodsSkipped() > 1000);
    QVERIFY(edges(quick.trace()) == edges(plain.trace()));
    QVERIFY(difference(quick.snapshot(), plain.snapshot()).isEmpty());
  }
  // A loop that reads what moves beside it does not jump over the moment when that changes.
  void aLoopThatReadsWhatMoves() {
    const auto project = shared(Bench()
                                    .resistor("r1", 10e3, "a5", "a10")
                                    .part("capacitor", "c1", {"b10", "b15"})
                                    .prop("c1", "farads", 1e-5)
                                    .wire("D8", "c5")
                                    .wire("A0", "c10")
                                    .wire("GND", "c15")
                                    .lane("power", "set d8 high")
                                    .lane("always",
                                          "if a0 > 80 %\n  set d4 high\notherwise\n"
                                          "  set d4 low\n"));
    Kernel quick(project), plain(project);
    plain.allowSkipping(false);
    quick.advance(2 * second);
    plain.advance(2 * second);
    QVERIFY(edges(quick.trace()) == edges(plain.trace()));
    QCOMPARE(edgeTimes(quick, "D4").size(), std::size_t{1});
    QVERIFY(quick.periodsSkipped() > 1000);  // once it is full
  }
  void whatWasShownIsShownAgain_data() { rowPerDemo(); }
  // Of 200 moments what was shown then is kept; looked back at in any order each is the same.
  void whatWasShownIsShownAgain() {
    QFETCH(QString, name);
    const auto project = demoProject(name);
    std::mt19937 random(11);
    std::vector<std::string> buttons, sensors;
    for (const auto& part : *project->parts) {
      if (part->type == "button") buttons.push_back(part->id);
      if (part->type == "ldr" || part->type == "light-sensor") sensors.push_back(part->id);
    }
    Kernel kernel(project);
    std::vector<Snapshot> shown;
    Nanoseconds now = 0;
    for (int k = 0; k < 200; ++k) {
      now += 1 + std::uniform_int_distribution<Nanoseconds>(0, 150'000'000)(random);
      kernel.advance(now);
      shown.push_back(kernel.snapshot());
      if (random() % 4 != 0) continue;
      Input in;
      if (!buttons.empty() && (sensors.empty() || random() % 2 == 0)) {
        in.what = random() % 2 == 0 ? What::press : What::release;
        in.id = buttons[random() % buttons.size()];
      } else if (!sensors.empty()) {
        in.what = What::setProp;
        in.id = sensors[random() % sensors.size()];
        in.key = "light";
        in.value = static_cast<double>(random() % 100);
      } else {
        in.what = What::reset;
      }
      kernel.inputNow(std::move(in));
    }
    kernel.advance(now += second);
    std::shuffle(shown.begin(), shown.end(), random);
    for (const Snapshot& then : shown) {
      const QString differs = difference(kernel.lookBack(then.now), then);
      QVERIFY2(differs.isEmpty(),
               qPrintable(QString("%1 at %2 s").arg(differs).arg(inSeconds(then.now))));
    }
  }
  // Contacts that bounce say so, with how often they change.
  void bouncesAreTold() {
    Kernel k(shared(Bench()
                        .button("btn1", 20)
                        .wire("D2", "a20")
                        .wire("5V", "a22")
                        .program("flip d4\nwait 1\n")));
    for (int i = 0; i < 20; ++i) {
      Input in;
      in.at = (i + 1) * second / 10;
      in.what = i % 2 == 0 ? Input::What::press : Input::What::release;
      in.id = "btn1";
      k.schedule(std::move(in));
    }
    k.advance(3 * second);
    const int signal = k.trace().find(Signal::What::pinLevel, "b1", "D2");
    int bounces = 0;
    for (const Event& event : k.events()) {
      if (event.what != Event::What::bounced) continue;
      ++bounces;
      QCOMPARE(event.id, std::string("btn1"));
      QVERIFY(event.figure == 3 || event.figure == 5);
      if (signal >= 0)
        QVERIFY(k.trace().countEdges(signal, event.at - 1, event.at + second / 100) <=
                static_cast<int>(event.figure));
    }
    QVERIFY(bounces > 5 && bounces < 20);
  }
  // Contacts that bounce while the project is edited come to rest as they are held.
  void aBounceOutlivesAnEdit() {
    const Project p = Bench()
                          .button("btn1", 10)
                          .wire("5V", "a10")
                          .wire("D2", "a12")
                          .resistor("r1", 10e3, "b12", "b16")
                          .wire("GND", "a16")
                          .program("if d2 is high\n  set d4 high\nwait 0.01\n");
    for (std::uint32_t seed = 1; seed <= 20; ++seed) {
      Project seeded = p;
      seeded.seed = seed;
      Kernel kernel(shared(seeded));
      kernel.schedule(at(0.1, What::press, "btn1"));
      Input in = edited([&] {
        Project q = seeded;
        q.title = "other";
        return q;
      }());
      in.at = 100'100'000;  // a tenth of a millisecond later
      kernel.schedule(in);
      kernel.advance(second);
      QCOMPARE(static_cast<int>(kernel.snapshot().state.pressed[0]), 1);
    }
  }
};

QTEST_APPLESS_MAIN(TestLookingBack)
#include "tst_looking_back.moc"
