#include "check/rules/list.h"
#include "program/ranges.h"
#include "program/signals.h"

namespace ignavo {

namespace {

struct AskedItem {
  std::string list;
  const Expr* index;
};
void collectItems(const Expr& e, std::vector<AskedItem>& out) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  if (kind && kind->code == OpCode::item && operandsOf(e).front())
    out.push_back({e.arg(listKey) ? e.arg(listKey)->text : std::string(), operandsOf(e).front()});
  for (const auto& [key, inner] : e.args) collectItems(inner, out);
}

void lookAtItems(CheckContext& c, const Program& program, const Ranges& ranges,
                 const std::string& owner, const std::vector<AskedItem>& all) {
  for (const AskedItem& asked : all) {
    const NumberList* list = program.list(asked.list);
    if (!list) continue;
    const auto count = static_cast<double>(list->items.size());
    const ValueRange may = ranges.of(*asked.index);
    const auto sure = reachedEnds(*asked.index, program, ranges);
    const bool never = may.most < 0.5 || may.least >= count + 0.5;
    const bool sometimes = sure && (sure->least < 0.5 || sure->most >= count + 0.5);
    if (!never && !sometimes) continue;
    const ValueRange told = sure ? *sure : may;
    Finding f;
    f.rule = "list-position";
    f.severity = Severity::warning;
    f.steps = {owner};
    f.title = never ? say("{} has no item at this position", list->name)
                    : say("{} has no item at some of these positions", list->name);
    f.reason = told.least == told.most
                   ? say("It holds {} items, the first is item 1: there is no item {}. The nearest "
                         "one is taken instead.",
                         asNumber(count), asNumber(told.least))
                   : say("It holds {} items, the first is item 1; the position goes from {} to {}. "
                         "Outside, the nearest one is taken.",
                         asNumber(count), asNumber(told.least), asNumber(told.most));
    f.figures = {{"items", count}, {"least", told.least}, {"most", told.most}};
    c.findings.push_back(std::move(f));
    return;  // one of a step will do
  }
}

void applyListPosition(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program || program->lists.empty()) continue;
    const Ranges ranges(*program);
    for (const auto& lane : program->lanes) {
      std::vector<AskedItem> sign;
      for (const auto& [key, value] : lane->trigger.fields) collectItems(value, sign);
      lookAtItems(c, *program, ranges, lane->id, sign);
      forEachStep(lane->steps, [&](const Step& s) {
        std::vector<AskedItem> all;
        for (const auto& [key, value] : s.fields) collectItems(value, all);
        if (const auto change = changeOf(s); change && change->list && change->index)
          all.push_back({change->name, change->index});
        lookAtItems(c, *program, ranges, s.id, all);
      });
    }
  }
}

}  // namespace

const Rule& listPositionRule() {
  static const Rule rule{"list-position",
                         Severity::warning,
                         "A position in a list lies outside of it.",
                         "The first item is item 1, and a list of five ends with item 5; outside, "
                         "the nearest one is taken, which is seldom what was meant.",
                         "Count from 1, and no further than the list is long.",
                         true,
                         applyListPosition};
  return rule;
}

}  // namespace ignavo
