#include <QtTest>
#include <algorithm>
#include <cmath>
#include <random>

#include "parts/kinds.h"
#include "run/find_when.h"
#include "run/lamp_light.h"
#include "run/stress.h"
#include "run/trace.h"
#include "run/trace_measure.h"
#include "support/traces.h"

using namespace ignavo;

namespace {

// The same recording kept naively: every edge of every signal written out.
struct Plain {
  std::vector<std::vector<Edge>> edges;
  Nanoseconds end = 0;

  explicit Plain(std::size_t signals) : edges(signals) {}
  void record(std::size_t s, Nanoseconds at, float v) {
    end = std::max(end, at);
    if (valueAt(s, at) == v) return;
    if (!edges[s].empty() && edges[s].back().at == at) edges[s].pop_back();
    if (valueAt(s, at) != v) edges[s].push_back({at, v});
  }
  void repeat(Nanoseconds period, std::int64_t times) {
    for (auto& row : edges) {
      std::vector<Edge> pattern;
      for (const Edge& e : row)
        if (e.at > end - period) pattern.push_back(e);
      for (std::int64_t k = 1; k <= times; ++k)
        for (const Edge& e : pattern) row.push_back({e.at + k * period, e.value});
    }
    end += period * times;
  }
  float valueAt(std::size_t s, Nanoseconds t) const {
    float v = 0;
    for (const Edge& e : edges[s])
      if (e.at <= t) v = e.value;
    return v;
  }
  double integral(std::size_t s, Nanoseconds a, Nanoseconds b) const {
    double sum = 0;
    Nanoseconds at = a;
    float v = valueAt(s, a);
    for (const Edge& e : edges[s]) {
      if (e.at <= a || e.at >= b) continue;
      sum += static_cast<double>(v) * static_cast<double>(e.at - at) * 1e-9;
      at = e.at;
      v = e.value;
    }
    return sum + static_cast<double>(v) * static_cast<double>(b - at) * 1e-9;
  }
};

std::vector<Signal> twoSignals() {
  return {{Signal::What::pinLevel, "b1", "D4"}, {Signal::What::partAmps, "led1", {}}};
}

}  // namespace

class TestTrace : public QObject {
  Q_OBJECT

  // A recording as it was at an earlier moment, gone on with as it went on.
  static void goesOnFrom(const Trace& trace, Nanoseconds moment) {
    Trace again = trace.upTo(moment);
    QCOMPARE(again.end(), moment);
    for (int k = 0; k <= 8; ++k)
      for (int s = 0; s < 2; ++s) {
        const Nanoseconds at = trace.begin() + (moment - trace.begin()) / 8 * k;
        QCOMPARE(again.valueAt(s, at), trace.valueAt(s, at));
      }
    std::vector<std::pair<Nanoseconds, std::pair<int, float>>> later;
    for (int s = 0; s < 2; ++s)
      trace.forEachEdge(s, moment, trace.end(), [&](const Edge& e) {
        later.push_back({e.at, {s, e.value}});
        return true;
      });
    std::sort(later.begin(), later.end());
    for (const auto& [at, edge] : later) again.record(edge.first, at, edge.second);
    again.extendTo(trace.end());
    QVERIFY(test::edges(again) == test::edges(trace));
  }

 private Q_SLOTS:
  // … also what a program does at its very first moment, and what falls on a stretch's beginning.
  void whatChangedAtTheBeginningStays() {
    Trace trace(twoSignals());
    trace.programsBegin();
    trace.record(0, 0, 1);
    trace.record(1, 0, 0.5F);
    trace.extendTo(1'000);
    for (const Nanoseconds moment : {0, 1, 500, 1'000}) goesOnFrom(trace, moment);
    QCOMPARE(trace.upTo(500).valueAt(1, 10), 0.5F);
    QVERIFY(trace.upTo(500).integral(1, 100, 500) > 0);
    for (int i = 0; i < 20'000; ++i) {
      trace.record(0, 1'000 + i / 4, static_cast<float>(i % 2));
      trace.record(1, 1'000 + i / 4, static_cast<float>(i % 7));
    }
    trace.extendTo(9'000);
    for (Nanoseconds moment = 0; moment < 9'000; moment += 37) goesOnFrom(trace, moment);
  }
  void whatIsForgottenIsNotGoneBackTo() {
    Trace trace(twoSignals());
    for (int i = 0; i < 40'000; ++i) trace.record(0, 10 * (i + 1), static_cast<float>(i % 2));
    trace.extendTo(500'000);
    trace.limitBytes(130'000);
    QVERIFY(trace.begin() > 100'000);
    Trace again = trace.upTo(50'000);
    QCOMPARE(again.begin(), Nanoseconds{50'000});
    again.record(0, 60'000, 1);
    again.extendTo(70'000);
    QCOMPARE(again.valueAt(0, 55'000), 0.0f);
    QCOMPARE(again.valueAt(0, 65'000), 1.0f);
  }
  // Forwards in strides of all lengths, through stretches that are written out, summed up and
  // repeated, it comes to the same as from each moment to the next.
  void sumsForwardsAreThoseBetweenAnyMoments() {
    std::mt19937 random(77);
    Trace trace(twoSignals());
    Nanoseconds now = 10;
    int folded = 0;
    for (int block = 0; block < 5; ++block) {
      for (int edge = 0; edge < 21'000; ++edge) {
        now += 1 + static_cast<Nanoseconds>(random() % 1000);
        trace.record(edge % 3 == 0, now, static_cast<float>(random() % 5));
      }
      const Nanoseconds period = 3000;
      trace.record(0, now + 1, 0);
      trace.extendTo(now + 1000);
      for (int turn = 0; turn < 2; ++turn) {
        trace.record(0, now + 1000 + turn * period, 1);
        trace.record(0, now + 2000 + turn * period, 0);
      }
      now += 1000 + 2 * period;
      trace.extendTo(now);
      if (trace.repeatLast(period, 500)) ++folded, now += 500 * period;
    }
    QVERIFY(folded > 2);
    for (const int signal : {0, 1})
      for (const double stride : {3.0, 300.0, 2e4, 3e5, 1e7}) {
        Nanoseconds at = static_cast<Nanoseconds>(random() % 5000);
        Trace::Sums sums(trace, signal, at);
        for (int k = 0; k < 2000 && at < now; ++k) {
          const auto most = static_cast<std::int64_t>(stride);
          const Nanoseconds to = std::min(now, at + 1 + static_cast<Nanoseconds>(random()) % most);
          const double expected = trace.integral(signal, at, to);
          QVERIFY(std::abs(sums.upTo(to) - expected) < 1e-12 + 1e-9 * expected);
          at = to;
        }
      }
  }
  // Random recordings with repeated stretches, against the naive one.
  void agreesWithTheNaiveRecording() {
    std::mt19937 random(31);
    int folded = 0;
    for (int round = 0; round < 60; ++round) {
      Trace trace(twoSignals());
      Plain plain(2);
      Nanoseconds now = 10;
      for (int block = 0; block < 6; ++block) {
        for (int i = 0; i < 12; ++i) {
          now += 1 + static_cast<Nanoseconds>(random() % 1000);
          const auto s = random() % 2;
          const float v =
              s == 0 ? static_cast<float>(random() % 2) : static_cast<float>(random() % 5) / 100;
          trace.record(static_cast<int>(s), now, v);
          plain.record(s, now, v);
        }
        // A period that begins and ends in the same state, played out twice and then repeated.
        const Nanoseconds start = now + 5;
        const Nanoseconds period = 400 + static_cast<Nanoseconds>(random() % 300);
        const float level = plain.valueAt(0, now);
        trace.extendTo(start);
        for (int turn = 0; turn < 2; ++turn)
          for (int edge = 0; edge < 2; ++edge) {
            const Nanoseconds at = start + turn * period + (edge + 1) * period / 3;
            trace.record(0, at, edge == 0 ? 1 - level : level);
            plain.record(0, at, edge == 0 ? 1 - level : level);
          }
        now = start + 2 * period;
        trace.extendTo(now);
        plain.end = now;
        // Few are written out, many are a stretch.
        const auto times = static_cast<std::int64_t>(1 + random() % (block % 2 == 0 ? 200 : 20));
        if (trace.repeatLast(period, times)) {
          ++folded;
          plain.repeat(period, times);
          now += period * times;
        }
        QCOMPARE(trace.end(), now);
      }
      for (int k = 0; k < 200; ++k) {
        const Nanoseconds a = static_cast<Nanoseconds>(random() % static_cast<unsigned>(now));
        const Nanoseconds b =
            a + static_cast<Nanoseconds>(random() % static_cast<unsigned>(now - a + 1));
        if (k < 20) goesOnFrom(trace, b);
        for (std::size_t s = 0; s < 2; ++s) {
          const int i = static_cast<int>(s);
          QCOMPARE(trace.valueAt(i, a), plain.valueAt(s, a));
          QVERIFY(std::abs(trace.integral(i, a, b) - plain.integral(s, a, b)) < 1e-12);
          const auto& row = plain.edges[s];
          const auto inside = std::count_if(row.begin(), row.end(),
                                            [&](const Edge& e) { return e.at > a && e.at <= b; });
          QCOMPARE(trace.countEdges(i, a, b), static_cast<std::int64_t>(inside));
          std::vector<Edge> seen;
          trace.forEachEdge(i, a, b, [&](const Edge& e) {
            seen.push_back(e);
            return true;
          });
          QCOMPARE(static_cast<std::int64_t>(seen.size()), static_cast<std::int64_t>(inside));
          const auto next =
              std::find_if(row.begin(), row.end(), [&](const Edge& e) { return e.at > a; });
          QCOMPARE(trace.nextEdge(i, a), next == row.end() ? Nanoseconds(-1) : next->at);
          Nanoseconds last = -1;
          for (const Edge& e : row)
            if (e.at < a) last = e.at;
          QCOMPARE(trace.lastEdge(i, a), last);
        }
      }
    }
    QVERIFY(folded > 200);
  }
  // What very many stretches come to is known without going through them; also once the oldest are
  // forgotten, signals stand in another order, or a moment before is gone back to.
  void manyStretchesAreSummed() {
    std::mt19937 random(101);
    Trace trace(twoSignals());
    for (int k = 0; k < 600; ++k) {
      const auto high = static_cast<Nanoseconds>(1 + random() % 98);
      for (int turn = 0; turn < 2; ++turn) {
        const Nanoseconds begin = trace.end();
        trace.record(0, begin + 1, 1);
        trace.record(1, begin + 1 + high / 2, static_cast<float>(high));
        trace.record(0, begin + 1 + high, 0);
        trace.record(1, begin + 100, 0);
        trace.extendTo(begin + 100);
      }
      QVERIFY(trace.repeatLast(100, static_cast<std::int64_t>(60 + random() % 300)));
      if (random() % 3 == 0)
        trace.record(1, trace.end() + 7, 0.5f), trace.extendTo(trace.end() + 7);
    }
    QVERIFY(trace.segments().size() > 1000);
    const auto comesTo = [&](const Trace& of) {
      for (int k = 0; k < 40; ++k) {
        const Nanoseconds long_ = of.end() - of.begin();
        const Nanoseconds from = of.begin() + static_cast<Nanoseconds>(random()) % long_;
        const Nanoseconds to = from + static_cast<Nanoseconds>(random()) % (of.end() - from);
        for (const int signal : {0, 1}) {
          std::int64_t edges = 0;
          of.forEachEdge(signal, from, to, [&](const Edge&) { return ++edges > 0; });
          QCOMPARE(of.countEdges(signal, from, to), edges);
          // In strides, none of which goes over many.
          double sum = 0;
          for (Nanoseconds at = from; at < to; at += 20'000)
            sum += of.integral(signal, at, std::min(to, at + 20'000));
          QVERIFY(std::abs(of.integral(signal, from, to) - sum) < 1e-12 + 1e-9 * sum);
          Trace::Sums sums(of, signal, from);
          QVERIFY(std::abs(sums.upTo(to) - sum) < 1e-12 + 1e-9 * sum);
        }
      }
    };
    comesTo(trace);
    trace.restart({trace.signals()[1], trace.signals()[0]});
    comesTo(trace);
    comesTo(trace.upTo(trace.end() / 3));
    const Nanoseconds begun = trace.begin();
    trace.limitBytes(250'000);
    QVERIFY(trace.begin() > begun + trace.end() / 8);
    comesTo(trace);
    comesTo(trace.upTo((trace.begin() + trace.end()) / 2));
  }
  // A part is taken out and put back: what it did is there again, in between it is nothing; and a
  // moment before is as it was.
  void whatComesBackIsStillThere() {
    Trace trace(twoSignals());
    const std::vector<Signal> both = trace.signals(), first{both[0]}, turned{both[1], both[0]};
    for (Nanoseconds t = 0; t < 1000; t += 10) {
      trace.record(0, t, static_cast<float>(t % 30));
      trace.record(1, t + 3, static_cast<float>(t % 70));
    }
    trace.extendTo(1005);
    const Trace was = trace;
    trace.restart(first);
    QVERIFY(trace.signals() == first);
    QVERIFY(trace.withFormer().signals() == both);
    for (Nanoseconds t = 0; t < 1005; ++t)
      QCOMPARE(trace.withFormer().valueAt(1, t), was.valueAt(1, t));
    trace.record(0, 1500, 5);
    trace.extendTo(2000);
    trace.restart(turned);
    trace.record(0, 2500, 7);
    trace.extendTo(3000);
    QVERIFY(trace.signals() == turned);
    for (Nanoseconds t = 0; t < 1005; ++t) {
      QCOMPARE(trace.valueAt(1, t), was.valueAt(0, t));
      QCOMPARE(trace.valueAt(0, t), was.valueAt(1, t));
    }
    QCOMPARE(trace.valueAt(0, 1800), 0.0f);
    QCOMPARE(trace.valueAt(1, 1800), 5.0f);
    QCOMPARE(trace.valueAt(0, 2600), 7.0f);
    Trace back = trace.upTo(700);
    back.restart(both);
    for (Nanoseconds t = 0; t <= 700; ++t)
      for (const int signal : {0, 1}) QCOMPARE(back.valueAt(signal, t), was.valueAt(signal, t));
    QCOMPARE(back.countEdges(1, -1, 700), was.countEdges(1, -1, 700));
    back.forgetBefore(690);
    QCOMPARE(back.integral(1, 690, 700), was.integral(1, 690, 700));
  }
  void equalPeriodsGrowOneStretch() {
    Trace trace(twoSignals());
    trace.record(1, 0, std::nanf(""));  // no voltage
    for (int turn = 0; turn < 500; ++turn) {
      const Nanoseconds start = trace.end();
      trace.record(0, start + 4, 1);
      trace.record(0, start + 504, 0);
      trace.extendTo(start + 1000);
      QVERIFY(trace.repeatLast(1000, 500 + turn));
    }
    QVERIFY(trace.segments().size() <= 3);
    QCOMPARE(trace.countEdges(0, -1, trace.end()), std::int64_t(2 * (500 * 501 + 499 * 250)));
    QVERIFY(trace.storedEdges() < 8);
  }
  // Long times in which nothing happens are no stretches of their own.
  void whatStandsStillTakesNothing() {
    Trace trace(twoSignals());
    for (int turn = 0; turn < 100; ++turn) {
      trace.extendTo(trace.end() + 10);
      trace.record(1, trace.end(), static_cast<float>(turn % 5));
      trace.extendTo(trace.end() + 20);
      QVERIFY(trace.repeatLast(10, 100'000));
    }
    QCOMPARE(trace.end(), Nanoseconds{100 * (30 + 10 * 100'000)});
    QCOMPARE(trace.segments().size(), std::size_t{1});
    QCOMPARE(trace.countEdges(1, -1, trace.end()), std::int64_t{99});
  }
  // Something quick goes on, something slow comes round beside it: what does not change it takes no
  // more, and what does is there. Against the naive recording; jumps of either.
  void quickRoundsGoOnThroughSlowOnes() {
    std::mt19937 random(19);
    int jumps = 0, whole = 0;
    for (int round = 0; round < 60; ++round) {
      Trace trace(twoSignals());
      Plain plain(2);
      const auto record = [&](std::size_t s, Nanoseconds at, float v) {
        trace.record(static_cast<int>(s), at, v);
        plain.record(s, at, v);
      };
      const Nanoseconds quick = 10 + static_cast<Nanoseconds>(random() % 20);
      const Nanoseconds high = 1 + static_cast<Nanoseconds>(random()) % (quick - 2);
      const bool together = round % 3 == 0;  // the slow one is a multiple of it
      Nanoseconds slow = quick * (5 + static_cast<Nanoseconds>(random() % 5));
      if (!together) slow += 1 + static_cast<Nanoseconds>(random()) % (quick - 1);
      const bool changes = round % 2 == 0;  // the slow one is to be seen
      Nanoseconds now = 0;
      const auto go = [&](Nanoseconds until) {
        for (Nanoseconds t = now + 1; t <= until; ++t) {
          if (t % quick == 0) record(0, t, 1);
          if (t % quick == high) record(0, t, 0);
          if (changes && t % slow == 3) record(1, t, 0.25f);
          if (changes && t % slow == slow / 2) record(1, t, 0.5f);
        }
        now = until;
        trace.extendTo(now);
        plain.end = std::max(plain.end, now);
      };
      const auto jump = [&](Nanoseconds period, std::int64_t times) {
        if (!trace.repeatLast(period, times)) return false;
        plain.repeat(period, times);
        now += period * times;
        return true;
      };
      go(2 * slow);
      for (int k = 0; k < 12; ++k) {
        // Rounds of the quick one, up to what the slow one does next.
        go((now / quick + 2) * quick);
        const Nanoseconds next =
            changes
                ? std::min(now - now % slow + (now % slow < 3 ? 3 : slow + 3),
                           now - now % slow + (now % slow < slow / 2 ? slow / 2 : slow + slow / 2))
                : now + slow;
        const std::int64_t times = (next - 1 - now) / quick;
        // What is on record for a round must be one of the quick alone.
        const bool alone = plain.edges[1].empty() || plain.edges[1].back().at <= now - quick;
        if (times > 0 && alone && jump(quick, times)) ++jumps;
        QCOMPARE(trace.end(), now);
        if (together && k % 5 == 4) {
          go((now / slow + 3) * slow + 3);
          if (jump(slow, 3)) ++whole;
        }
        go(now + static_cast<Nanoseconds>(random() % 40));
      }
      if (!changes) QVERIFY(trace.segments().size() <= 4);
      for (std::size_t s = 0; s < 2; ++s) {
        std::vector<Edge> seen;
        trace.forEachEdge(static_cast<int>(s), -1, now, [&](const Edge& e) {
          seen.push_back(e);
          return true;
        });
        QVERIFY(seen == plain.edges[s]);
      }
      for (int k = 0; k < 60; ++k) {
        const Nanoseconds a = static_cast<Nanoseconds>(random()) % now;
        const Nanoseconds b = a + static_cast<Nanoseconds>(random()) % (now - a);
        goesOnFrom(trace, b);
        for (std::size_t s = 0; s < 2; ++s) {
          QCOMPARE(trace.valueAt(static_cast<int>(s), a), plain.valueAt(s, a));
          QVERIFY(std::abs(trace.integral(static_cast<int>(s), a, b) - plain.integral(s, a, b)) <
                  1e-12);
        }
      }
    }
    QVERIFY(jumps > 300);
    QVERIFY(whole > 20);
  }
  // A period that is longer than what is being written: as long as it is not too much.
  void aPeriodOfSeveralStretchesIsFolded() {
    Trace trace(twoSignals());
    Plain plain(1);
    Nanoseconds now = 0;
    for (int turn = 0; turn < 2; ++turn)
      for (int i = 0; i < 15'000; ++i) {
        now += 1 + i % 7;
        trace.record(0, now, static_cast<float>((i * 31) % 6));
        plain.record(0, now, static_cast<float>((i * 31) % 6));
      }
    trace.extendTo(now);
    const std::size_t before = trace.storedEdges();
    QVERIFY(trace.segments().size() > 3);
    QVERIFY(!trace.repeatLast(now - 5, 3));  // too many edges
    QCOMPARE(trace.storedEdges(), before);
    QVERIFY(trace.repeatLast(now / 2, 3));
    QCOMPARE(trace.storedEdges(), before);
    plain.repeat(now / 2, 3);
    QCOMPARE(trace.end(), plain.end);
    std::vector<Edge> seen;
    trace.forEachEdge(0, -1, trace.end(), [&](const Edge& e) {
      seen.push_back(e);
      return true;
    });
    QVERIFY(seen == plain.edges[0]);
  }
  void aPeriodOlderThanTheOpenStretchIsNotFolded() {
    Trace trace(twoSignals());
    trace.record(0, 100, 1);
    trace.extendTo(200);
    QVERIFY(!trace.repeatLast(5000, 3));
    QVERIFY(!trace.repeatLast(0, 3));
    QCOMPARE(trace.end(), 200);
  }
  void whatStandsAtTheBeginningIsNoEdge() {
    Trace trace(twoSignals());
    trace.record(1, 0, 0.01f);
    QCOMPARE(trace.countEdges(1, -1, 1000), std::int64_t(0));
    QCOMPARE(trace.valueAt(1, 0), 0.01f);
  }
  void changedSignalsKeepTheirPast() {
    Trace trace(twoSignals());
    trace.record(0, 100, 1);
    trace.record(1, 150, 0.02f);
    trace.extendTo(300);
    trace.restart({{Signal::What::pinLevel, "b1", "D5"}, {Signal::What::pinLevel, "b1", "D4"}});
    QCOMPARE(trace.valueAt(1, 200), 1.0f);
    QCOMPARE(trace.valueAt(0, 200), 0.0f);
    trace.record(1, 400, 0);
    QCOMPARE(trace.countEdges(1, -1, 500), std::int64_t(2));
    QCOMPARE(trace.find(Signal::What::partAmps, "led1", {}), -1);
  }
  void oldStretchesAreForgottenFirst() {
    Trace trace(twoSignals());
    for (int i = 1; i < 100'000; ++i) trace.record(0, i * 10, static_cast<float>(i % 2));
    trace.limitBytes(10'000'000);
    QCOMPARE(trace.begin(), Nanoseconds{0});
    trace.limitBytes(260'000);
    QVERIFY(trace.storedEdges() <= 30'000);
    QVERIFY(trace.storedEdges() > 10'000);
    QVERIFY(trace.begin() > 0);
    QCOMPARE(trace.valueAt(0, 99'999 * 10), 1.0f);
  }
  // Light over a trace, against a sum over small steps.
  void lampStatisticsAgreeWithSmallSteps() {
    std::mt19937 random(4);
    for (int round = 0; round < 12; ++round) {
      Trace trace({{Signal::What::partAmps, "led1", {}}});
      Nanoseconds now = 0;
      while (now < 400'000'000) {
        now += 200'000 + static_cast<Nanoseconds>(random() % 40'000'000);
        trace.record(0, now, static_cast<float>(random() % 4) * 0.006f);
      }
      trace.extendTo(500'000'000);
      const LampStatistics exact = lampStatistics(trace, 0);
      double light = 0, lit = 0, peak = 0;
      std::int64_t flashes = 0;
      bool was = false;
      constexpr Nanoseconds step = 20'000;
      for (Nanoseconds t = 0; t < trace.end(); t += step) {
        const double l = lightAt(trace, 0, t + step / 2);
        light += l * static_cast<double>(step);
        lit += l > litLight ? static_cast<double>(step) * 1e-9 : 0;
        flashes += l > litLight && !was ? 1 : 0;
        was = l > litLight;
        peak = std::max(peak, static_cast<double>(trace.valueAt(0, t)));
      }
      QVERIFY(std::abs(exact.lightMean - light / static_cast<double>(trace.end())) < 1e-3);
      QVERIFY(std::abs(exact.litSeconds - lit) < 1e-3);
      QCOMPARE(exact.flashes, flashes);
      QVERIFY(std::abs(exact.peakAmps - peak) < 1e-9);
    }
  }
  void stressIsAMovingMean_data() {
    QTest::addColumn<double>("amps");
    QTest::addColumn<double>("after");  // seconds until it is exceeded; -1: never
    QTest::newRow("below the limit") << 0.029 << -1.0;
    QTest::newRow("twice the limit") << 0.060 << 1.0;
    QTest::newRow("just above") << 0.0301 << 2 * 0.030 / 0.0301;
    QTest::newRow("ten times") << 0.300 << 0.2;
  }
  void stressIsAMovingMean() {
    QFETCH(double, amps);
    QFETCH(double, after);
    Stress stress(2.0, 0.030);
    stress.change(0, amps, 0);
    double at = -1;
    while (stress.hot() && stress.nextCheck() <= 5 * second) {
      const Nanoseconds now = stress.nextCheck();
      if (!stress.exceeded()) continue;
      at = static_cast<double>(now) * 1e-9;
      break;
    }
    QVERIFY2(std::abs(at - after) < 0.0021, qPrintable(QString::number(at)));
  }
  void stressCoolsDown() {
    // Half a second of 40 mA, again and again with pauses: a mean of 13 mA is no harm.
    Stress stress(2.0, 0.030);
    for (int turn = 0; turn < 20; ++turn) {
      const Nanoseconds start = turn * 1'500'000'000LL;
      const auto until = [&](Nanoseconds end) {
        while (stress.hot() && stress.nextCheck() <= end) QVERIFY(!stress.exceeded());
      };
      stress.change(start, 0.040, 0);
      until(start + second / 2);
      stress.change(start + second / 2, 0, 0);
      until(start + 3 * second / 2);
    }
  }
  // Between two marks: as one would count by hand, whatever is repeated in it.
  void stretchesAreMeasured_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 40; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void stretchesAreMeasured() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    Trace trace({{Signal::What::pinLevel, "b1", "D4"}, {Signal::What::pinLevel, "b1", "D5"}});
    Nanoseconds now = 0;
    for (int n = 0; n < 30; ++n) {
      if (n % 10 == 9) {
        const Nanoseconds period = 1'000'000;
        trace.record(0, now, 0);
        trace.record(0, now + period / 4, 1);
        trace.record(0, now + period / 2, 0);
        trace.extendTo(now + period);
        const std::int64_t times = 1 + random() % 50;
        now += trace.repeatLast(period, times) ? period * (times + 1) : period;
        continue;
      }
      now += 1 + random() % 1'000'000;
      trace.record(static_cast<int>(random() % 2), now, static_cast<float>(random() % 2));
    }
    trace.extendTo(now + 1000);
    std::vector<Edge> all[2];
    for (int s = 0; s < 2; ++s)
      trace.forEachEdge(s, -1, trace.end(), [&](const Edge& e) {
        all[s].push_back(e);
        return true;
      });
    for (int n = 0; n < 60; ++n) {
      const int signal = static_cast<int>(random() % 2);
      const auto moment = [&] {
        // Often just at an edge.
        if (!all[signal].empty() && random() % 2)
          return all[signal][random() % all[signal].size()].at;
        return static_cast<Nanoseconds>(random() % static_cast<std::uint32_t>(trace.end()));
      };
      Nanoseconds from = moment(), to = moment();
      if (to < from) std::swap(from, to);
      const Stretch s = stretchOf(trace, signal, from, to);
      std::vector<Nanoseconds> rises;
      std::int64_t edges = 0;
      for (const Edge& e : all[signal])
        if (e.at > from && e.at <= to) {
          ++edges;
          if (e.value > 0) rises.push_back(e.at);
        }
      QCOMPARE(s.edges, edges);
      QCOMPARE(s.length, to - from);
      QCOMPARE(s.seconds.has_value(), rises.size() > 1);
      if (s.seconds)
        QVERIFY(std::abs(*s.seconds - inSeconds(rises.back() - rises.front()) /
                                          static_cast<double>(rises.size() - 1)) < 1e-12);
      if (to > from)
        QVERIFY(std::abs(s.duty - trace.integral(signal, from, to) / inSeconds(to - from)) < 1e-12);
      // The next and the last edge, of one and of any.
      for (const int which : {signal, -1}) {
        Nanoseconds after = -1, before = -1;
        for (int k = 0; k < 2; ++k)
          if (which < 0 || which == k)
            for (const Edge& e : all[k]) {
              if (e.at > from && (after < 0 || e.at < after)) after = e.at;
              if (e.at < from) before = std::max(before, e.at);
            }
        QCOMPARE(edgeAfter(trace, which, from), after);
        QCOMPARE(edgeBefore(trace, which, from), before);
      }
    }
  }
  // When something came to be so: as one would find it by looking at each nanosecond.
  void whenItWasSoIsFound_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 60; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void whenItWasSoIsFound() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    Trace trace({{Signal::What::pinLevel, "b1", "D4"},
                 {Signal::What::pinLevel, "b1", "D5"},
                 {Signal::What::variable, "b1", "berth"}});
    Nanoseconds now = 0;
    for (int n = 0; n < 35; ++n) {
      const int signal = static_cast<int>(random() % 3);
      trace.record(signal, now += 1 + random() % 12,
                   static_cast<float>(random() % (signal == 2 ? 5 : 2)));
    }
    trace.extendTo(now + 20);
    const auto level = [&](const char* pin, Nanoseconds t) {
      return trace.valueAt(trace.find(Signal::What::pinLevel, "b1", pin), t) > 0;
    };
    const Expr d4 = Expr::readPin("D4"), d5 = Expr::readPin("D5");
    const auto of = [](Expr::Shape shape, const char* what,
                       std::vector<std::pair<std::string, Expr>> args) {
      Expr e;
      e.shape = shape;
      e.text = what;
      e.args = std::move(args);
      return e;
    };
    using Shape = Expr::Shape;
    const Expr neither = of(Shape::op, "not", {{"a", Expr::binary("or", d4, d5)}});
    const Expr other = Expr::binary("≠", d4, d5);
    const Expr berth = Expr::readVariable("berth"), far = Expr::binary(">", berth, Expr::of(1.5));
    constexpr Nanoseconds length = 7;
    const auto held = [&](const Expr& what) {
      return of(Shape::sig, "held", {{"of", what}, {"seconds", Expr::of(length * 1e-9)}});
    };
    using Truth = std::function<bool(Nanoseconds)>;
    const Truth isNeither = [&](Nanoseconds t) { return !level("D4", t) && !level("D5", t); },
                isOther = [&](Nanoseconds t) { return level("D4", t) != level("D5", t); },
                isFar = [&](Nanoseconds t) { return trace.valueAt(2, t) > 1.5F; };
    const auto isHeld = [&](const Truth& so) -> Truth {
      return [so](Nanoseconds t) {
        if (t < length) return false;
        for (Nanoseconds k = t - length; k <= t; ++k)
          if (!so(k)) return false;
        return true;
      };
    };
    const std::vector<std::pair<Expr, Truth>> all{
        {d4, [&](Nanoseconds t) { return level("D4", t); }},
        {neither, isNeither},
        {other, isOther},
        {Expr::binary("and", d4, Expr::binary("=", d5, Expr::of(false))),
         [&](Nanoseconds t) { return level("D4", t) && !level("D5", t); }},
        {of(Shape::sig, "rise", {{"of", other}}),
         [&](Nanoseconds t) { return t > 0 && isOther(t) && !isOther(t - 1); }},
        {of(Shape::sig, "fall", {{"of", d5}}),
         [&](Nanoseconds t) { return t > 0 && !level("D5", t) && level("D5", t - 1); }},
        {held(other), isHeld(isOther)},
        {held(neither), isHeld(isNeither)},
        {Expr::binary("and", held(other), d4),
         [&](Nanoseconds t) { return isHeld(isOther)(t) && level("D4", t); }},
        {far, isFar},
        {held(far), isHeld(isFar)},
        {Expr::binary("=", Expr::binary("+", berth, Expr::of(1.0)), Expr::of(3.0)),
         [&](Nanoseconds t) { return trace.valueAt(2, t) == 2; }},
        {Expr::binary("and", far, d4), [&](Nanoseconds t) { return isFar(t) && level("D4", t); }}};
    for (const auto& [test, so] : all)
      for (Nanoseconds after = -1; after < trace.end(); after += 1 + random() % 30) {
        std::optional<Nanoseconds> expected;
        bool was = after >= 0 && so(after);
        for (Nanoseconds t = after + 1; t <= trace.end() && !expected; ++t) {
          const bool is = so(t);
          if (is && !was) expected = t;
          was = is;
        }
        const FoundWhen found = findWhen(trace, "b1", test, after);
        QVERIFY(!found.problem);
        QCOMPARE(found.at.value_or(-1), expected.value_or(-1));
      }
    QVERIFY(findWhen(trace, "b1", Expr::readPin("D9"), -1).problem);
    // A variable that is not among them is named, to be recorded.
    const FoundWhen without =
        findWhen(trace, "b1", Expr::binary(">", Expr::readVariable("draw"), Expr::of(3.0)), -1);
    QVERIFY(without.problem && without.missing.size() == 1);
    QVERIFY((without.missing[0] == Signal{Signal::What::variable, "b1", "draw"}));
    QVERIFY(
        findWhen(trace, "b1", Expr::binary(">", Expr::readLevel("A0"), Expr::of(5.0)), -1).problem);
    QVERIFY(findWhen(trace, "b1", held(d4), -1, [] { return true; }).problem ||
            !findWhen(trace, "b1", held(d4), -1).at);
  }
};

QTEST_GUILESS_MAIN(TestTrace)
#include "tst_trace.moc"
