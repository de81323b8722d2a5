#include <algorithm>
#include <map>
#include <set>

#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr std::size_t longestBlock = 6;  // steps that were copied together
constexpr std::size_t fewestBlocks = 3;  // copies that make a pattern

// Steps in reading order with what was typed into them.
struct StepLine {
  const Step* step;
  std::string shape;                                        // kind and place; the same in each copy
  std::vector<std::pair<std::string, std::string>> values;  // key, text
};

void flatten(const Steps& steps, const std::string& place, std::vector<StepLine>& out) {
  for (const Step& s : steps) {
    StepLine line{&s, place + s.kind, {}};
    const StepKind* kind = stepKind(s.kind);
    for (const auto& [key, value] : s.fields) {
      const SlotKind* slot = kind ? kind->slot(key) : nullptr;
      line.values.emplace_back(key, slot ? slotText(value, *slot) : phraseOf(value));
    }
    out.push_back(std::move(line));
    for (const auto& [key, body] : s.bodies) flatten(body, place + key + "/", out);
  }
}

struct Odd {
  const Step* step = nullptr;
  std::string key, is, expected;
};

// One value of each copy, and the one that it should agree with in the copy.
// The pattern is that both are the same in all copies but one.
std::optional<Odd> oddIn(const std::vector<StepLine>& lines, std::size_t from, std::size_t length,
                         std::size_t blocks) {
  struct Slot {
    std::size_t line, value;
  };
  std::vector<Slot> slots;
  for (std::size_t l = 0; l < length; ++l)
    for (std::size_t v = 0; v < lines[from + l].values.size(); ++v) slots.push_back({l, v});
  const auto text = [&](std::size_t block, const Slot& s) -> const std::string& {
    return lines[from + block * length + s.line].values[s.value].second;
  };
  std::optional<Odd> found;
  const auto report = [&](std::size_t block, const Slot& s, const std::string& expected) {
    const StepLine& line = lines[from + block * length + s.line];
    if (found && found->step != line.step) return false;  // several: no pattern at all
    found = Odd{line.step, line.values[s.value].first, text(block, s), expected};
    return true;
  };
  // A value that is the same in all copies but one.
  for (const Slot& s : slots) {
    std::map<std::string, std::vector<std::size_t>> by;
    for (std::size_t b = 0; b < blocks; ++b) by[text(b, s)].push_back(b);
    if (by.size() != 2) continue;
    for (const auto& [value, where] : by)
      if (where.size() == 1 && blocks >= fewestBlocks + 1) {
        // A longer wait at the very end is a pause.
        const std::string& key = lines[from + where[0] * length + s.line].values[s.value].first;
        if (key != pinKey && where[0] + 1 == blocks) continue;
        const auto& other = by.begin()->first == value ? by.rbegin()->first : by.begin()->first;
        // All else is the same in all copies.
        const bool copies = std::all_of(slots.begin(), slots.end(), [&](const Slot& t) {
          std::set<std::string> texts;
          for (std::size_t b = 0; b < blocks; ++b) texts.insert(text(b, t));
          return &t == &s || texts.size() == 1;
        });
        if (!copies) continue;
        if (!report(where[0], s, other)) return std::nullopt;
      }
  }
  if (found) return found;
  // Two pins that are the same within each copy but one.
  for (std::size_t i = 0; i < slots.size(); ++i)
    for (std::size_t j = i + 1; j < slots.size(); ++j) {
      const StepLine &a = lines[from + slots[i].line], &b = lines[from + slots[j].line];
      if (a.values[slots[i].value].first != pinKey || b.values[slots[j].value].first != pinKey)
        continue;
      std::vector<std::size_t> odd;
      for (std::size_t k = 0; k < blocks; ++k)
        if (text(k, slots[i]) != text(k, slots[j])) odd.push_back(k);
      if (odd.size() != 1) continue;
      // Either all copies are of one pin, or this one still has another copy's pin.
      std::set<std::string> others;
      for (std::size_t k = 0; k < blocks; ++k)
        if (k != odd[0]) others.insert(text(k, slots[j]));
      if (others.size() > 1 && !others.contains(text(odd[0], slots[j]))) continue;
      const bool copies = std::all_of(slots.begin(), slots.end(), [&](const Slot& t) {
        const StepLine& line = lines[from + t.line];
        std::set<std::string> texts;
        for (std::size_t k = 0; k < blocks; ++k) texts.insert(text(k, t));
        return line.values[t.value].first == pinKey || texts.size() == 1;
      });
      if (!copies) continue;
      // The later one is what was left unchanged, when it is another copy's pin.
      if (!report(odd[0], slots[j], text(odd[0], slots[i]))) return std::nullopt;
    }
  return found;
}

std::optional<Odd> oddIn(const std::vector<StepLine>& lines) {
  for (std::size_t length = 1; length <= longestBlock; ++length) {
    // Inside a run that has been looked at in all its phases there is nothing new.
    std::size_t known = 0, beyond = 0;
    for (std::size_t from = 0; from + fewestBlocks * length <= lines.size(); ++from) {
      if (from >= known && from < beyond) {
        from = beyond - 1;
        continue;
      }
      std::size_t blocks = 1;
      const auto alike = [&](std::size_t block) {
        for (std::size_t l = 0; l < length; ++l)
          if (from + block * length + l >= lines.size() ||
              lines[from + block * length + l].shape != lines[from + l].shape)
            return false;
        return true;
      };
      while (alike(blocks)) ++blocks;
      if (blocks < fewestBlocks) continue;
      if (const auto odd = oddIn(lines, from, length, blocks)) return odd;
      const std::size_t end = from + blocks * length, last = fewestBlocks * length;
      if (end > beyond + last && from >= beyond) known = from + length, beyond = end - last;
    }
  }
  return std::nullopt;
}

void applyOddOneOut(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    for (const auto& lane : program->lanes) {
      std::vector<StepLine> lines;
      flatten(lane->steps, {}, lines);
      const auto odd = oddIn(lines);
      if (!odd) continue;
      // What a finding says of this very step is its reason already.
      if (std::any_of(c.findings.begin(), c.findings.end(), [&](const Finding& f) {
            return f.steps == std::vector{odd->step->id} && !f.remedies.empty();
          }))
        continue;
      Finding f;
      f.rule = "odd-one-out";
      f.severity = Severity::note;
      f.steps = {odd->step->id};
      f.title =
          say("“{}” says {}, its neighbours {}", phraseOf(*odd->step), odd->is, odd->expected);
      f.reason = say("It stands in a row of steps that are alike but for this. Is {} meant?",
                     odd->expected);
      if (odd->key == pinKey) {
        f.pins = {odd->is};
        f.remedies.push_back({say("Change {} to {}", odd->is, odd->expected),
                              edits::changeStep(c.project, odd->step->id,
                                                [&](Step& s) { setPinOf(s, odd->expected); })});
      }
      f.figures = {{"steps", static_cast<double>(lines.size())}};
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& oddOneOutRule() {
  static const Rule rule{"odd-one-out",
                         Severity::note,
                         "In a run of steps that are alike one pin or value breaks the pattern.",
                         "Copied steps are changed one by one, and one is easily left as it was.",
                         "Look whether this one is meant; the value of its neighbours is offered.",
                         true,
                         applyOddOneOut};
  return rule;
}

}  // namespace ignavo
