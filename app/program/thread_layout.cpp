#include "program/thread_layout.h"

#include <algorithm>

#include "program/facts.h"
#include "program/signals.h"
#include "theme/text.h"

// Knots flow from left to right, the words and fields of each in as many lines as they need; a line
// of knots is as high as the highest of them, with room for their values below.
namespace ignavo::app {

namespace {

constexpr double knotHigh = 28, knotLine = 24, knotUnder = 18, knotApart = 22, knotInset = 9,
                 knotAir = 5, knotRows = 8;

class Thread {
 public:
  Thread(const TokenMaker& tokens, QPointF at, double width)
      : tokens_(tokens), left_(at.x()), room_(width - 20), x_(at.x()), y_(at.y()) {}

  // `part`: of LaneView::Part, where its value is known.
  void put(std::vector<Token> inside, const std::string& path,
           const std::optional<std::string>& part, const QString& text) {
    // A single field needs no box around it.
    const bool chip = inside.size() == 1 && inside.front().isField();
    const QSizeF size = chip ? QSizeF(tokens_.widthOf(inside.front()) + 4, knotHigh) : flow(inside);
    goOn(std::min(size.width(), room_ - left_));
    const QRectF box(x_, y_, std::min(size.width(), room_ - left_), size.height());
    if (chip) {
      inside.front().box = box;
    } else {
      Token knot{Token::What::knot, text, path};
      knot.box = box;
      row.tokens.push_back(std::move(knot));
      for (Token& t : inside) t.box.translate(x_, y_);
    }
    for (Token& t : inside) row.tokens.push_back(std::move(t));
    if (part) row.values.push_back({*part, QRectF(x_ - 10, box.bottom(), box.width() + 20, 16)});
    lowest_ = std::max(lowest_, box.bottom() + knotUnder);
    lastRight_ = box.right();
    x_ = lastRight_ + knotApart;
  }

  ProgramRow row;
  std::vector<std::vector<QPointF>> lines;
  double bottom() const { return lowest_; }

 private:
  // Their places in a box that begins at 0, 0; gives its size.
  QSizeF flow(std::vector<Token>& inside) const {
    const double most = room_ - left_ - knotInset;
    double x = knotInset, y = 4, right = 0;
    for (Token& t : inside) {
      const double wide = std::min(tokens_.widthOf(t), most - knotInset);
      if (x + wide > most && x > knotInset) {
        x = knotInset;
        y += knotLine;
      }
      t.box = QRectF(x, y, wide, 20);
      right = std::max(right, x + wide);
      x += wide + knotAir;
    }
    return {right + knotInset, y + knotHigh - 4};
  }

  // The line comes in, in the next row where there is no room in this one.
  void goOn(double wide) {
    if (lastRight_ == 0) return;
    const double middle = y_ + knotHigh / 2;
    if (x_ + wide <= room_) return lines.push_back({{lastRight_, middle}, {x_, middle}});
    const double down = lowest_, next = down + knotRows;
    lines.push_back({{lastRight_, middle},
                     {lastRight_ + 10, middle},
                     {lastRight_ + 10, down},
                     {left_ - 12, down},
                     {left_ - 12, next + knotHigh / 2},
                     {left_, next + knotHigh / 2}});
    x_ = left_;
    y_ = next;
  }

  const TokenMaker& tokens_;
  const double left_, room_;
  double x_, y_, lastRight_ = 0, lowest_ = 0;
};

// What is kept: the pin, or the variable.
Token targetOf(const Trigger& trigger) {
  if (triggerKind(trigger.on)->keeps != TriggerKind::Keeps::variable)
    return {Token::What::pin, trigger.pin.empty() ? QStringLiteral("pin?") : str(trigger.pin),
            pinKey, trigger.pin, SlotKind::Type::pin};
  const Expr* name = trigger.field(variableKey);
  return {Token::What::value,
          name ? str(name->text) : QStringLiteral("…"),
          variableKey,
          {},
          SlotKind::Type::variable};
}

}  // namespace

ThreadPicture layOutThread(const Lane& lane, const Expr& kept, const TokenMaker& tokens, QPointF at,
                           double width) {
  Thread thread(tokens, at, width);
  const std::string from = keptField(lane.trigger);
  const SlotKind* slot = triggerKind(lane.trigger.on)->slot(from);
  struct Stop {
    const Expr* e;
    std::string part;
    ThreadEnd in;
  };
  std::vector<Stop> stops;  // from the right
  std::string part;
  for (const Expr* e = &kept; e;) {
    stops.push_back({e, part, comesInto(*e)});
    e = stops.back().in.value;
    part += (part.empty() ? "" : "/") + stops.back().in.path;
  }
  for (auto it = stops.rbegin(); it != stops.rend(); ++it) {
    const std::string path = from + (it->part.empty() ? "" : "/") + it->part;
    auto inside = tokens.ofOperator(*it->e, path, slot->type, it->in.path);
    // What hangs on a pin that is read stands in the sentence below.
    if (inside.size() == 2 && inside[0].what == Token::What::pin &&
        inside[1].what == Token::What::label)
      inside.pop_back();
    thread.put(std::move(inside), path, it->part, str(phraseOf(*it->e)));
  }
  const Token target = targetOf(lane.trigger);
  thread.put({target}, target.path, std::nullopt, target.text);

  ThreadPicture out;
  out.row = std::move(thread.row);
  out.row.what = ProgramRow::What::thread;
  out.row.lane = lane.id;
  out.row.box = QRectF(at.x(), at.y(), width - at.x() - 10, thread.bottom() - at.y());
  out.lines = std::move(thread.lines);
  out.sentence.what = ProgramRow::What::stop;
  out.sentence.lane = lane.id;
  out.sentence.tokens.push_back({Token::What::label, tokens.sentenceOf(kept)});
  out.sentence.box = QRectF(at.x(), thread.bottom() + 2, width - at.x() - 10, 18);
  out.bottom = thread.bottom() + 22;
  return out;
}

}  // namespace ignavo::app
