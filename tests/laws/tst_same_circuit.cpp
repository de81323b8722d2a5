#include <fmt/format.h>

#include <QtTest>
#include <functional>
#include <map>
#include <random>
#include <set>

#include "bench/breadboards.h"
#include "format/wiring_language.h"
#include "support/composed.h"
#include "support/random_benches.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A figure to three digits; the last ones of the solver mean nothing.
std::string digits(double v) {
  return std::abs(v) < 1e-6 ? "0" : fmt::format("{:.3g}", std::abs(v) * (1 + 1e-8));
}

// What the check says, without places, the order of equals, and which way a current flows.
// Of several parts that are as much to blame, the one that came first is named.
std::multiset<std::string> saidOf(const Project& p, bool ofWhom) {
  std::multiset<std::string> out;
  // Which mends there is room for, and so what they tell of causes, is another question.
  for (const Finding& f : everythingFound(p)) {
    std::string line = f.rule + " " + severityId(f.severity);
    std::set<std::string> who(f.parts.begin(), f.parts.end());
    who.insert(f.pins.begin(), f.pins.end());
    for (const std::string& id : who)
      if (ofWhom) line += " " + id;
    // Whether there is room for a remedy is another question.
    for (const Figure& figure : f.figures)
      if (!figure.key.starts_with("remedy_")) line += " " + figure.key + "=" + digits(figure.value);
    out.insert(line);
  }
  return out;
}

template <typename T>
void shuffle(std::vector<T>& all, std::mt19937& random) {
  for (std::size_t i = all.size(); i > 1; --i) std::swap(all[i - 1], all[random() % i]);
}

// The same things, put on the bench in another order.
Project inAnotherOrder(Project p, std::mt19937& random) {
  shuffle(p.parts.edit(), random);
  shuffle(p.wires.edit(), random);
  return p;
}

// What has no direction lies the other way, and wires are drawn from their other end.
Project theOtherWayRound(Project p, std::mt19937& random) {
  for (auto& part : p.parts.edit()) {
    if (part->type != "resistor" && part->type != "light-sensor" && part->type != "temp-sensor")
      continue;
    if (random() % 2) std::swap(part.edit().legs[0].in, part.edit().legs[1].in);
  }
  for (auto& wire : p.wires.edit())
    if (random() % 2) std::swap(wire.edit().from, wire.edit().to);
  return p;
}

void forEachHole(Project& p, const std::function<void(Socket&)>& visit) {
  for (auto& part : p.parts.edit())
    for (Leg& leg : part.edit().legs)
      if (leg.in && leg.in->owner == "bb") visit(*leg.in);
  for (auto& wire : p.wires.edit())
    for (Socket* end : {&wire.edit().from, &wire.edit().to})
      if (end->owner == "bb") visit(*end);
}

// Each in another hole of the same strip of metal.
Project besideInTheSameStrip(Project p, std::mt19937& random) {
  const BreadboardKind& kind = *breadboardKind(p.breadboards[0].type);
  std::map<std::string, std::string> moved;
  for (int strip = 0; strip < kind.strips(); ++strip) {
    const std::vector<Hole> holes = kind.holesOf(strip);
    std::vector<Hole> to = holes;
    shuffle(to, random);
    for (std::size_t i = 0; i < holes.size(); ++i)
      moved[kind.address(holes[i])] = kind.address(to[i]);
  }
  forEachHole(p, [&](Socket& s) { s.point = moved.at(s.point); });
  return p;
}

// All rows by as many up or down as there is room for.
Project inOtherRows(Project p, std::mt19937& random) {
  const int rows = breadboardKind(p.breadboards[0].type)->rows;
  int first = rows, last = 1;
  const auto rowOf = [](const Socket& s) {
    return s.point[1] == 'p' || s.point[1] == 'n' ? 0 : std::stoi(s.point.substr(1));
  };
  forEachHole(p, [&](Socket& s) {
    if (const int row = rowOf(s)) first = std::min(first, row), last = std::max(last, row);
  });
  const int by =
      last < first
          ? 0
          : 1 - first + static_cast<int>(random() % static_cast<unsigned>(rows - last + first));
  forEachHole(p, [&](Socket& s) {
    if (const int row = rowOf(s)) s.point = s.point[0] + std::to_string(row + by);
  });
  for (auto& part : p.parts.edit())
    if (part->at) part.edit().at->y += by;
  return p;
}

// The worst readings, to three digits.
std::multiset<std::string> readOf(const Project& p) {
  std::multiset<std::string> out;
  for (const WorstReading& r : check(p).readings) {
    // Where nothing flows the volts hang on leaks alone.
    const std::string volts = std::abs(r.amps) < 1e-6 ? "any" : digits(r.volts);
    out.insert(fmt::format("{}{}: {} V {} A {} W, {} of {}", r.part, r.pin, volts, digits(r.amps),
                           digits(r.watts), digits(r.share), r.limit));
  }
  return out;
}

// Other pins that can do as much, in wires and steps alike. Nothing where the text says no.
Project onOtherPins(Project p, std::mt19937& random) {
  const std::vector<std::string> alike = {"D2", "D4", "D7", "D8", "D12"};
  std::vector<std::string> to = alike;
  shuffle(to, random);
  std::string out, word;
  for (const char c : writeWiring(p) + " ") {
    if (std::isalnum(static_cast<unsigned char>(c))) {
      word += c;
      continue;
    }
    const auto it = std::find(alike.begin(), alike.end(), word);
    out += (it == alike.end() ? word : to[static_cast<std::size_t>(it - alike.begin())]) + c;
    word.clear();
  }
  const WiringText read = readWiring(out);
  return read.problems.empty() ? read.project : p;
}

using Change = Project (*)(Project, std::mt19937&);

void tellDifference(const std::multiset<std::string>& before,
                    const std::multiset<std::string>& after, const Project& p,
                    const Project* q = nullptr) {
  std::vector<std::string> gone, come;
  std::set_difference(before.begin(), before.end(), after.begin(), after.end(),
                      std::back_inserter(gone));
  std::set_difference(after.begin(), after.end(), before.begin(), before.end(),
                      std::back_inserter(come));
  const std::string words =
      fmt::format("- {}\n+ {}\n", fmt::join(gone, "\n- "), fmt::join(come, "\n+ "));
  const std::string changed = q ? "\nand as it was changed:\n" + writeWiring(*q) : std::string();
  QFAIL((words + writeWiring(p) + changed).c_str());
}

void sameJudgement(const Project& p, Change change, std::mt19937& random) {
  const Project q = change(p, random);
  QVERIFY(q.parts->size() == p.parts->size());
  const bool ofWhom = change != inAnotherOrder && change != onOtherPins;
  auto before = saidOf(p, ofWhom), after = saidOf(q, ofWhom);
  if (before == after && change != onOtherPins) before = readOf(p), after = readOf(q);
  if (before == after) return;
  tellDifference(before, after, p, &q);
}

}  // namespace

// What flowed through each part in a run of some seconds in which everything is pressed and
// turned, in coulombs.
std::map<std::string, double> flowedIn(const Project& p) {
  constexpr int seconds = 3;
  Kernel kernel(shared(p));
  std::map<std::string, const PartKind*> byId;  // the order of parts must not matter
  for (const auto& part : *p.parts) byId[part->id] = catalogue().partKind(part->type);
  double when = 0.2;
  for (int turn = 0; turn < 4; ++turn, when += 0.6)
    for (const auto& [id, kind] : byId) {
      if (kind->pressable)
        kernel.schedule(at(when, turn % 2 ? Input::What::release : Input::What::press, id));
      if (const PropKind* knob = kind->senses ? kind->prop(kind->knob) : nullptr)
        kernel.schedule(
            at(when, Input::What::setProp, id, knob->key, turn % 2 ? knob->min : knob->max));
    }
  kernel.advance(seconds * second);
  std::map<std::string, double> out;
  const auto& signals = kernel.trace().signals();
  for (std::size_t k = 0; k < signals.size(); ++k)
    if (signals[k].what == Signal::What::partAmps)
      out[signals[k].owner + "." + signals[k].name] =
          kernel.trace().integral(static_cast<int>(k), 0, seconds * second);
  return out;
}

// The same circuit, however it was put together, is judged the same.
class TestSameCircuit : public QObject {
  Q_OBJECT

  // Sound benches, such with a fault, and whatever falls out of a drawer.
  static void onBenches(unsigned seed, int count, Change change) {
    std::mt19937 random(seed);
    for (int i = 0; i < count; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 4, i % 2, used), used, random);
      const Planted planted = plant(sound, random);
      const Project silly = sillyBench(random, 3 + static_cast<int>(random() % 9), 12);
      const Project some = randomBench(random, 3 + static_cast<int>(random() % 7));
      for (const Project& p : {sound, planted.project, silly, some}) {
        if (p.boards.empty()) continue;
        sameJudgement(p, change, random);
        if (QTest::currentTestFailed()) return;
      }
    }
  }

 private Q_SLOTS:
  // What a battery feeds on a breadboard of its own is no business of what is on the other.
  void besideSomethingElse() {
    std::mt19937 random(36);
    std::size_t found = 0;
    for (int i = 0; i < 150; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 4, i % 2, used), used, random);
      Project other = sillyBench(random, 3 + static_cast<int>(random() % 9), 12);
      other.wires = {};
      forEachHole(other, [](Socket& s) { s.owner = "bb2"; });
      other.breadboards[0].id = "bb2";
      other.breadboards[0].at = {60, 2};
      for (auto& part : other.parts.edit()) part.edit().id = "x" + part->id;
      Project both = sound;
      both.breadboards.push_back(other.breadboards[0]);
      for (const auto& part : *other.parts) both.parts.edit().push_back(part);
      auto apart = saidOf(sound, true), beside = saidOf(other, true);
      found += beside.size();
      apart.merge(beside);
      if (saidOf(both, true) != apart) {
        tellDifference(apart, saidOf(both, true), both);
        return;
      }
    }
    QVERIFY2(found > 300, qPrintable(QString::number(found)));
  }
  // Whatever is told together: what would break stays there, each by itself.
  void noDangerIsSilenced() {
    std::mt19937 random(38);
    const auto dangers = [](const std::vector<Finding>& all) {
      return std::count_if(all.begin(), all.end(),
                           [](const Finding& f) { return f.severity == Severity::danger; });
    };
    long seen = 0;
    for (int i = 0; i < 400; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 4, i % 2, used), used, random);
      Project faulty = plant(sound, random).project;
      if (!faulty.boards.empty() && !faulty.parts->empty())
        if (Planted second = plant(faulty, random); !second.words.isEmpty())
          faulty = std::move(second.project);
      for (const Project& p : {faulty, randomBench(random, 3 + static_cast<int>(random() % 4)),
                               sillyBench(random, 2 + static_cast<int>(random() % 5), 12)}) {
        const long before = dangers(everythingFound(p)), told = dangers(check(p).findings);
        seen += before;
        if (told != before)
          QFAIL(fmt::format("{} of {}\n{}", told, before, writeWiring(p)).c_str());
      }
    }
    QVERIFY2(seen > 50, qPrintable(QString::number(seen)));
  }
  // And it does the same.
  void runsAsWell() {
    std::mt19937 random(37);
    double all = 0;
    for (int i = 0; i < 30; ++i) {
      Placed used;
      const Project p = programmed(composedBench(random, 4, i % 2, used), used, random);
      const auto before = flowedIn(p);
      for (const Change change : {inAnotherOrder, theOtherWayRound, besideInTheSameStrip}) {
        const Project q = change(p, random);
        for (const auto& [part, coulombs] : flowedIn(q)) {
          const double was = before.at(part);
          all += std::abs(was);
          if (std::abs(coulombs - was) > 0.02 * std::abs(was) + 1e-5)
            QFAIL(fmt::format("{}: {} and {}\n{}\n{}", part, was, coulombs, writeWiring(p),
                              writeWiring(q))
                      .c_str());
        }
      }
    }
    QVERIFY2(all > 1, qPrintable(QString::number(all)));
  }
  void inAnyOrder() { onBenches(31, 150, inAnotherOrder); }
  void whicheverWayRound() { onBenches(32, 150, theOtherWayRound); }
  void inAnyHoleOfAStrip() { onBenches(33, 150, besideInTheSameStrip); }
  void onAnyPins() { onBenches(35, 150, onOtherPins); }
  void inAnyRows() { onBenches(34, 150, inOtherRows); }
};
QTEST_APPLESS_MAIN(TestSameCircuit)
#include "tst_same_circuit.moc"
