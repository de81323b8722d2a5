#include <QtTest>
#include <random>
#include <set>

#include "bench/arranging.h"
#include "check/finding.h"
#include "format/wiring_language.h"
#include "parts/circuit.h"
#include "parts/small_circuits.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

using Placed = std::vector<std::pair<const SmallCircuit*, std::string>>;

// One of the ways in which people make an output do something, from what there is to be read.
std::string laneFor(const std::string& pin, bool dims, const Placed& placed, std::mt19937& random) {
  const std::string on = "set " + pin + " high\n", off = "set " + pin + " low\n";
  std::vector<std::string> lanes = {
      "Round and round:\n  " + on + "  wait 0.7\n  " + off + "  wait 0.7\n",
      "Round and round:\n  repeat 3 times\n    " + on + "    wait 0.2\n    " + off +
          "    wait 0.2\n  wait 1\n",
      "When power comes on:\n  keep going round\n    " + on + "    wait 0.3\n    " + off +
          "    wait 0.3\n"};
  for (const auto& [circuit, input] : placed) {
    if (circuit->written) continue;
    const bool low = circuit->id == "button-up";
    if (circuit->needs == SmallCircuit::Needs::analog) {
      if (dims) lanes.push_back("Round and round:\n  dim " + pin + " to level of " + input + "\n");
      lanes.push_back("Round and round:\n  if level of " + input + " ≥ 60\n    " + on +
                      "  otherwise\n    " + off);
      continue;
    }
    const std::string held = input + (low ? " is low" : " is high");
    lanes.push_back("Round and round:\n  set " + pin + (low ? " not " : " ") + input + "\n");
    lanes.push_back("Round and round:\n  " + off + "  if " + held + "\n    " + on +
                    "  wait 0.05\n");
    lanes.push_back("Each time " + input + (low ? " goes low" : " goes high") +
                    ":\n  wait 0.02\n  if " + held + "\n    flip " + pin + "\n");
    lanes.push_back("Round and round:\n  if " + held + "\n    repeat 5 times\n      " + on +
                    "      wait 0.1\n      " + off + "      wait 0.1\n");
  }
  return lanes[random() % lanes.size()];
}

// Everything that was put on a pin is used: outputs switch at a pace that is seen or heard,
// inputs together switch the board's own lamp.
std::string programFor(const Placed& placed, std::mt19937& random) {
  std::string text, test;
  for (const auto& [circuit, pin] : placed) {
    if (!circuit->written) {
      test += (test.empty() ? "" : " or ") +
              (circuit->needs == SmallCircuit::Needs::analog ? "level of " + pin + " > 50" : pin);
      continue;
    }
    const bool sounds = circuit->shows == "piezo", angle = circuit->shows == "servo";
    const BoardKind& board = *catalogue().boardKind("tern");
    const auto& shape = board.pins[static_cast<std::size_t>(board.shape.pinIndex(pin))];
    if (!sounds && !angle) {
      text += laneFor(pin, shape.pwm, placed, random);
      continue;
    }
    text += "Round and round:\n  set " + pin + " high\n  wait " + (sounds ? "0.0005" : "0.0015") +
            "\n  set " + pin + " low\n  wait " + (sounds ? "0.0005" : "0.0185") + "\n";
  }
  if (!test.empty())
    text += "Round and round:\n  if " + test +
            "\n    set D13 high\n  otherwise\n    set D13 low\n  wait 0.02\n";
  return text;
}

// Small circuits on any pins, side by side.
Project composedBench(std::mt19937& random, int most, bool full, Placed& placed) {
  Project p = emptyProject();
  if (full) p.breadboards[0].type = "full";
  for (int wanted = 1 + static_cast<int>(random() % static_cast<unsigned>(most)); wanted > 0;
       --wanted) {
    const SmallCircuit& circuit = smallCircuits()[random() % smallCircuits().size()];
    // One motor is what the cable bears.
    if (circuit.id == "motor" && std::any_of(placed.begin(), placed.end(), [](const auto& u) {
          return u.first->id == "motor" || u.first->id == "servo";
        }))
      continue;
    std::vector<std::string> free;
    for (const PinChoice& choice : pinsFor(p, circuit))
      if (choice.free && choice.pin != "D13" && choice.pin != "D0" && choice.pin != "D1")
        free.push_back(choice.pin);
    if (free.empty()) continue;
    const std::string pin = free[random() % free.size()];
    Composed made = compose(p, circuit, "b1", pin);
    if (!made.problem.empty()) continue;
    p = std::move(made.project);
    placed.emplace_back(&circuit, pin);
  }
  return p;
}

Project programmed(Project p, const Placed& placed, std::mt19937& random) {
  const WiringText lanes = readWiring(programFor(placed, random));
  if (!lanes.problems.empty()) return {};
  p.programs[0].edit().lanes = lanes.project.programs[0]->lanes;
  return edits::assignIds(std::move(p));
}

QString told(const Project& p, const Finding& f) {
  return QString::fromStdString(f.rule + ": " + f.title + ". " + f.reason + "\n" + writeWiring(p));
}

// What goes wrong on a table, somewhere on a sound bench. Empty words: nothing could be done.
struct Planted {
  Project project;
  QString words;
};
Planted plant(const Project& p, std::mt19937& random) {
  const auto& parts = *p.parts;
  const Part& part = *parts[random() % parts.size()];
  switch (random() % 5) {
    case 0:  // a wire is missing
      if (!p.wires->empty()) {
        const Wire& wire = *(*p.wires)[random() % p.wires->size()];
        return {edits::remove(p, {wire.id}),
                QString::fromStdString("without " + wire.from.point + " – " + wire.to.point)};
      }
      break;
    case 1:  // turned round
      if (part.type == "led" || part.type == "diode")
        return {edits::changePart(p, part.id, [](Part& q) { q = flipped(q, catalogue()); }),
                QString::fromStdString(part.name + " turned")};
      break;
    case 2: {  // a leg one row off
      const Leg& leg = part.legs[random() % part.legs.size()];
      if (!leg.in || leg.in->owner != "bb" || leg.in->point[1] == 'p' || leg.in->point[1] == 'n')
        break;
      const int row = std::stoi(leg.in->point.substr(1)) + (random() % 2 ? 1 : -1);
      const Socket to{"bb", leg.in->point[0] + std::to_string(row)};
      if (row < 1 || row > 30 || occupancy(p).contains(to)) break;
      return {edits::changePart(p, part.id, [&](Part& q) { q.leg(leg.id)->in = to; }),
              QString::fromStdString(part.name + ", " + leg.id + " in " + to.point)};
    }
    case 3:  // another value
      if (part.type == "resistor") {
        const double ohms = random() % 2 ? 1 : 1e7;
        return {edits::changePart(p, part.id, [&](Part& q) { q.setProp("ohms", ohms); }),
                QString::fromStdString(part.name + " of " + ohmsText(ohms))};
      }
      break;
    default:  // a wire on the pin beside
      for (const auto& wire : *p.wires) {
        if (wire->from.owner != "b1" || random() % 2) continue;
        const BoardKind& board = *catalogue().boardKind("tern");
        const int next = board.shape.pinIndex(wire->from.point) + 1;
        if (next >= static_cast<int>(board.pins.size())) continue;
        const BoardPin& pin = board.pins[static_cast<std::size_t>(next)];
        const Socket to{"b1", pin.name};
        if (occupancy(p).contains(to) || pin.role != PinShape::Role::io) continue;
        return {edits::changeWire(p, wire->id, [&](Wire& w) { w.from = to; }),
                QString::fromStdString(wire->from.point + " on " + pin.name)};
      }
  }
  return {};
}

// A sum of all that the solver says, to tell whether anything is different at all.
bool sameCircuit(const Project& a, const Project& b) { return joined(a) == joined(b); }

}  // namespace

// The check on benches that are sound, and on the same with one fault planted.
class TestPlanted : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // A false alarm is a defect: a bench with a program that uses it is sound, and so it is
  // before there is a program.
  void composedCircuitsAreSound() {
    std::mt19937 random(8);
    std::size_t placed = 0;
    for (int i = 0; i < 500; ++i) {
      Placed used;
      const Project p = composedBench(random, 6, i % 2, used);
      placed += used.size();
      const Project with = programmed(p, used, random);
      QVERIFY(!with.boards.empty());
      for (const Project& q : {p, with})
        for (const Finding& f : check(q).findings)
          if (f.severity != Severity::note) QFAIL(qPrintable(told(q, f)));
    }
    QVERIFY2(placed > 1000, qPrintable(QString::number(placed)));
  }
  // What the check calls sound works: in a run in which everything is pressed and turned, each
  // lamp lights, each motor turns, each sounder is heard, and nothing breaks.
  void soundBenchesWork() {
    std::mt19937 random(15);
    int shown = 0;
    for (int i = 0; i < 60; ++i) {
      Placed used;
      const Project p = programmed(composedBench(random, 4, false, used), used, random);
      Kernel kernel(shared(p));
      std::set<std::string> waiting;
      for (const auto& part : *p.parts)
        if (catalogue().partKind(part->type)->shows != Shows::nothing) waiting.insert(part->id);
      const std::size_t all = waiting.size();
      for (int turn = 0; turn < 10; ++turn)
        for (const auto& part : *p.parts) {
          const PartKind& kind = *catalogue().partKind(part->type);
          const double when = 0.2 + 0.8 * turn;
          if (kind.pressable)
            kernel.schedule(
                at(when, turn % 2 ? Input::What::release : Input::What::press, part->id));
          if (kind.senses && !kind.knob.empty())
            for (const PropKind& prop : kind.props)
              if (prop.key == kind.knob)
                kernel.schedule(at(when, Input::What::setProp, part->id, kind.knob,
                                   turn % 2 ? prop.least : prop.most));
        }
      for (int tick = 0; tick < 400; ++tick) {
        kernel.advance((tick + 1) * (second / 50));
        const Snapshot s = kernel.snapshot();
        for (std::size_t k = 0; k < s.project->parts->size(); ++k) {
          const Motion& m = s.motion[k];
          if (s.light[k] > litLight || m.hertz > 0 || std::abs(m.revolutionsPerMinute) > 100 ||
              m.degrees > 0)
            waiting.erase((*s.project->parts)[k]->id);
        }
      }
      const bool fine = std::none_of(
          kernel.happenings().begin(), kernel.happenings().end(), [](const Happening& h) {
            return h.what == Happening::What::broke || h.what == Happening::What::tripped;
          });
      if (!fine) QFAIL(writeWiring(p).c_str());
      if (!waiting.empty()) QFAIL((*waiting.begin() + "\n" + writeWiring(p)).c_str());
      shown += static_cast<int>(all);
    }
    QVERIFY2(shown > 40, qPrintable(QString::number(shown)));
  }
  // One fault, somewhere: it is found.
  void plantedFaultsAreFound() {
    std::mt19937 random(77);
    int planted = 0, findings = 0;
    for (int i = 0; i < 1500; ++i) {
      Placed used;
      const Project sound = programmed(composedBench(random, 3, false, used), used, random);
      if (sound.parts->empty()) continue;
      const Planted fault = plant(sound, random);
      if (fault.words.isEmpty()) continue;
      // A sensor with an unsuitable partner still moves its pin a little, and a gate that a pin
      // drives needs no resistor.
      if (fault.words.contains(QStringLiteral(" of ")) &&
          std::any_of(used.begin(), used.end(), [](const auto& u) {
            return u.first->needs == SmallCircuit::Needs::analog || u.first->id == "motor";
          }))
        continue;
      // A wire that only doubles another one is no fault.
      const bool values = fault.words.contains(QStringLiteral(" of ")) ||
                          fault.words.contains(QStringLiteral(" turned"));
      if (!values && sameCircuit(sound, fault.project)) continue;
      const CheckResult result = check(fault.project);
      ++planted;
      findings += static_cast<int>(result.findings.size());
      if (std::none_of(result.findings.begin(), result.findings.end(),
                       [](const Finding& f) { return f.severity != Severity::note; }))
        QFAIL(qPrintable(fault.words + "\n" + QString::fromStdString(writeWiring(fault.project))));
    }
    qInfo("%d faults, %.2f findings each", planted, findings / static_cast<double>(planted));
    QVERIFY(planted > 500);
  }
};

QTEST_GUILESS_MAIN(TestPlanted)
#include "tst_planted.moc"
