#include <QtTest>
#include <algorithm>
#include <random>

#include "run/devices.h"
#include "run/scheduler.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// Due when it is told; counts how often it acted.
class Clockwork final : public DeviceOf<Clockwork> {
 public:
  explicit Clockwork(Nanoseconds due) : due_(due) {}
  void set(Nanoseconds due) { due_ = due; }
  std::int64_t acted() const { return acted_; }
  Nanoseconds due() const override { return due_; }
  Done act(Run&) override {
    ++acted_;
    due_ = never;
    return {};
  }
  bool repeats(const Clockwork& then, Nanoseconds later) const {
    return sameMoment(due_, then.due_, later);
  }
  void skip(const Clockwork&, Nanoseconds later, std::int64_t times) { shift(due_, later * times); }

 private:
  Nanoseconds due_;
  std::int64_t acted_ = 0;
};

// Acts every so often, and is then at the head of a loop. May look at another device each time.
class Loop final : public DeviceOf<Loop> {
 public:
  explicit Loop(Nanoseconds period, int looksAt = -1)
      : period_(period), due_(period), looksAt_(looksAt) {}
  std::int64_t rounds() const { return rounds_; }
  Nanoseconds due() const override { return due_; }
  Done act(Run& run) override {
    ++rounds_;
    due_ += period_;
    if (looksAt_ >= 0) run.readMoving.push_back(looksAt_);
    return {.event = false, .step = true, .atLoopHead = true};
  }
  bool repeats(const Loop& then, Nanoseconds later) const {
    return sameMoment(due_, then.due_, later);
  }
  void skip(const Loop& then, Nanoseconds later, std::int64_t times) {
    due_ += later * times;
    rounds_ += (rounds_ - then.rounds_) * times;
  }

 private:
  Nanoseconds period_, due_;
  int looksAt_;
  std::int64_t rounds_ = 0;
};

// Acts after gaps that grow: it never repeats.
class Slowing final : public DeviceOf<Slowing> {
 public:
  std::int64_t acted() const { return acted_; }
  Nanoseconds due() const override { return due_; }
  Done act(Run&) override {
    ++acted_;
    due_ += 1'000 * acted_;
    return {.event = true};
  }
  bool repeats(const Slowing& then, Nanoseconds later) const {
    return acted_ == then.acted_ && sameMoment(due_, then.due_, later);
  }
  void skip(const Slowing&, Nanoseconds later, std::int64_t times) { due_ += later * times; }

 private:
  Nanoseconds due_ = 1'000;
  std::int64_t acted_ = 0;
};

// A run with nothing but such devices.
Run bare() {
  Run run(std::make_shared<const RunModel>(shared(emptyProject())));
  run.state.devices = {};
  return run;
}

}  // namespace

class TestScheduler : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void theFirstIsFirst() {
    // Against the plain search for the first of those that are due first.
    std::mt19937 random(11);
    const auto pick = [&](int below) {
      return std::uniform_int_distribution<int>(0, below - 1)(random);
    };
    const auto moment = [&] { return pick(5) == 0 ? never : Nanoseconds{pick(6)}; };
    for (int round = 0; round < 200; ++round) {
      Devices devices;
      std::vector<Nanoseconds> dues;
      for (int n = 1 + pick(20); n > 0; --n) {
        dues.push_back(moment());
        devices.add(std::make_unique<Clockwork>(dues.back()));
      }
      for (int change = 0; change < 60; ++change) {
        const int place = pick(devices.count());
        if (pick(12) == 0) {
          // Some are taken out, others put in.
          const int until = place + pick(devices.count() - place + 1);
          std::vector<std::unique_ptr<Device>> others;
          std::vector<Nanoseconds> theirs;
          for (int n = 1 + pick(3); n > 0; --n) {
            theirs.push_back(moment());
            others.push_back(std::make_unique<Clockwork>(theirs.back()));
          }
          const auto out = devices.exchange(place, until, std::move(others));
          QCOMPARE(static_cast<int>(out.size()), until - place);
          dues.erase(dues.begin() + place, dues.begin() + until);
          dues.insert(dues.begin() + place, theirs.begin(), theirs.end());
        } else {
          const std::uint64_t before = devices.version(place);
          dues[static_cast<std::size_t>(place)] = moment();
          devices.touch<Clockwork>(
              place, [&](Clockwork& c) { c.set(dues[static_cast<std::size_t>(place)]); });
          QVERIFY(devices.version(place) != before);
        }
        const auto first = std::min_element(dues.begin(), dues.end());
        QCOMPARE(devices.count(), static_cast<int>(dues.size()));
        QCOMPARE(devices.due(), *first);
        QCOMPARE(devices.first(), static_cast<int>(first - dues.begin()));
        for (int i = 0; i < devices.count(); ++i) {
          Nanoseconds beside = never;
          for (int k = 0; k < devices.count(); ++k)
            if (k != i) beside = std::min(beside, dues[static_cast<std::size_t>(k)]);
          QCOMPARE(devices.dueOf(i), dues[static_cast<std::size_t>(i)]);
          QCOMPARE(devices.dueBeside(i), beside);
        }
      }
    }
  }
  void aCopyGoesItsOwnWay() {
    Run run = bare();
    run.state.devices.add(std::make_unique<Loop>(7));
    Scheduler scheduler;
    scheduler.allowSkipping(false);
    const auto far = std::int64_t{1} << 40;
    (void)scheduler.run(run, 700, 700, Scheduler::Stop::atEnd, far);
    const RunState kept = run.state;
    (void)scheduler.run(run, 1400, 1400, Scheduler::Stop::atEnd, far);
    QCOMPARE(kept.devices.as<Loop>(0).rounds(), 100);
    QCOMPARE(run.state.devices.as<Loop>(0).rounds(), 200);
    QCOMPARE(kept.devices.due(), Nanoseconds{707});
    run.state = kept;
    (void)scheduler.run(run, 1400, 1400, Scheduler::Stop::atEnd, far);
    QCOMPARE(run.state.devices.as<Loop>(0).rounds(), 200);
  }
  void periodsOfEverythingAreJumpedOver() {
    // Rounds of 6 and of 10: together they repeat every 30.
    Run run = bare();
    run.state.devices.add(std::make_unique<Loop>(6));
    run.state.devices.add(std::make_unique<Loop>(10));
    Scheduler scheduler;
    const Nanoseconds until = 3'000'000'000'000;
    QCOMPARE(scheduler.run(run, until, until, Scheduler::Stop::atEnd, 10'000),
             Scheduler::Outcome::done);
    QCOMPARE(run.state.devices.as<Loop>(0).rounds(), until / 6);
    QCOMPARE(run.state.devices.as<Loop>(1).rounds(), until / 10);
    QVERIFY(scheduler.skipped() > 0);
  }
  void whatDoesNotRepeatHoldsNobodyUp() {
    for (const bool skipping : {false, true}) {
      Run run = bare();
      run.state.devices.add(std::make_unique<Slowing>());
      run.state.devices.add(std::make_unique<Loop>(9));
      Scheduler scheduler;
      scheduler.allowSkipping(skipping);
      const Nanoseconds until = 9'000'000;
      std::int64_t pieces = 0;
      while (scheduler.run(run, until, until, Scheduler::Stop::atEnd, 1'000) !=
             Scheduler::Outcome::done)
        ++pieces;
      QCOMPARE(run.state.devices.as<Loop>(1).rounds(), until / 9);
      // 1,000 · (1 + 1 + 2 + … + n) ≤ until
      QCOMPARE(run.state.devices.as<Slowing>(0).acted(), 134);
      QCOMPARE(scheduler.skipped() > 0, skipping);
      QVERIFY(skipping ? pieces < 20 : pieces > 900);
    }
  }
  void whoLooksAtWhatMovesDoesNotRepeat() {
    Run run = bare();
    run.state.devices.add(std::make_unique<Slowing>());
    run.state.devices.add(std::make_unique<Loop>(9, 0));
    Scheduler scheduler;
    const Nanoseconds until = 900'000;
    QCOMPARE(scheduler.run(run, until, until, Scheduler::Stop::atEnd, 1'000'000),
             Scheduler::Outcome::done);
    QCOMPARE(scheduler.skipped(), 0);
    QCOMPARE(run.state.devices.as<Loop>(1).rounds(), until / 9);
  }
  void itStopsWhereItIsTold() {
    Run run = bare();
    run.state.devices.add(std::make_unique<Slowing>());
    run.state.devices.add(std::make_unique<Loop>(400));
    Scheduler scheduler;
    using Stop = Scheduler::Stop;
    using Outcome = Scheduler::Outcome;
    QCOMPARE(scheduler.run(run, 5'000, 5'000, Stop::atStep, 100), Outcome::stopped);
    QCOMPARE(run.now(), Nanoseconds{400});
    QCOMPARE(scheduler.run(run, 5'000, 5'000, Stop::atEvent, 100), Outcome::stopped);
    QCOMPARE(run.now(), Nanoseconds{800});
    QCOMPARE(scheduler.run(run, 5'000, 5'000, Stop::atEnd, 1), Outcome::paused);
    QCOMPARE(run.now(), Nanoseconds{1'000});
    QCOMPARE(scheduler.run(run, 1'100, 1'100, Stop::atStep, 100), Outcome::done);
    QCOMPARE(run.now(), Nanoseconds{1'000});
  }
};

QTEST_APPLESS_MAIN(TestScheduler)
#include "tst_scheduler.moc"
