#include "program/program_layout.h"

#include <QFontMetricsF>
#include <algorithm>

#include "program/facts.h"
#include "program/step_tokens.h"
#include "program/thread_layout.h"
#include "theme/text.h"
#include "theme/theme.h"

// Each lane is laid out by itself, from its sign down: a row for each card, label and box, and the
// rail beside them as pieces that go straight down or across. Then the lanes are put into columns,
// each into the one that is shortest so far.
namespace ignavo::app {

namespace {

class Builder {
 public:
  Builder(double width, const PinNamer& namer, const Folding& folded, TokenCache* cache,
          const edits::StepPlace* open)
      : whole_(width), tokens_(namer, cache), folded_(folded), open_(open) {}

  ProgramPicture build(const Program& program) {
    std::vector<const Lane*> lanes, own;
    for (const auto& lane : program.lanes) {
      const TriggerKind* kind = triggerKind(lane->trigger.on);
      (kind && kind->own ? own : lanes).push_back(&*lane);
    }
    double y = columns(lanes, 6);
    if (!own.empty() && !lanes.empty()) {
      lane_.clear();
      piece(RailPiece::What::rule, nullptr, {{8, y + 6}, {whole_ - 8, y + 6}});
      y += 12;
    }
    out_.height = columns(own, y) + 8;
    return std::move(out_);
  }

 private:
  static double trunkX(int level) { return rail::base + rail::indent * level; }

  // Side by side, where there are several and each has room. Gives where the longest ends.
  double columns(const std::vector<const Lane*>& lanes, double top) {
    const auto room =
        static_cast<std::size_t>((whole_ + rail::laneGap) / (rail::laneWidth + rail::laneGap));
    const std::size_t count =
        std::clamp<std::size_t>(room, 1, std::max<std::size_t>(1, lanes.size()));
    width_ = (whole_ + rail::laneGap) / static_cast<double>(count) - rail::laneGap;
    std::vector<double> ends(count, top);
    for (const Lane* lane : lanes) {
      const auto shortest = std::min_element(ends.begin(), ends.end());
      const auto column = static_cast<double>(shortest - ends.begin());
      const Sizes before{out_.rows.size(), out_.rails.size(), out_.gaps.size()};
      y_ = *shortest;
      laneRows(*lane);
      *shortest = y_;
      shift(before, column * (width_ + rail::laneGap));
    }
    return *std::max_element(ends.begin(), ends.end());
  }

  struct Sizes {
    std::size_t rows, rails, gaps;
  };
  // All that was laid out since then stands further to the right.
  void shift(const Sizes& since, double by) {
    if (by == 0) return;
    for (std::size_t i = since.rows; i < out_.rows.size(); ++i) {
      ProgramRow& row = out_.rows[i];
      row.box.translate(by, 0);
      row.dotX += by;
      for (Token& t : row.tokens) t.box.translate(by, 0);
      for (ProgramRow::Under& u : row.values) u.box.translate(by, 0);
    }
    for (std::size_t i = since.rails; i < out_.rails.size(); ++i) {
      for (QPointF& point : out_.rails[i].points) point.rx() += by;
      if (!out_.rails[i].under.isNull()) out_.rails[i].under.rx() += by;
    }
    for (std::size_t i = since.gaps; i < out_.gaps.size(); ++i) {
      out_.gaps[i].x += by;
      out_.gaps[i].right += by;
    }
  }

  void laneRows(const Lane& lane) {
    lane_ = lane.id;
    loops_ = 0;
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    signRow(lane);
    const QRectF sign = out_.rows.back().box;
    if (const Expr* kept = keptOf(lane.trigger)) {
      y_ = sign.bottom() + 8;
      threadRow(lane, *kept);
      y_ += 14;
      return;
    }
    const double signMiddle = sign.center().y();
    y_ = sign.bottom() + 10;
    edits::StepPlace place{lane.id, {}, {}, 0};
    const double end = body(lane.steps, place, 0, sign.bottom(), RailPiece::What::trunk, nullptr);
    ProgramRow last;
    last.what = ProgramRow::What::end;
    last.lane = lane.id;
    last.box =
        QRectF(trunkX(0) + rail::cardGap - 6, y_, width_ - trunkX(0) - rail::cardGap - 8, 28);
    out_.rows.push_back(last);
    const double bottom = y_ + 14;
    piece(RailPiece::What::trunk, nullptr, {{trunkX(0), end}, {trunkX(0), bottom + 6}});
    y_ += rail::rowHeight + 12;
    // What an event starts waits for the next one at a buffer stop; what a step runs goes back.
    const bool own = trigger && trigger->own;
    if (trigger && (trigger->startsAgain() || own)) {
      const double y = bottom + 6, half = 8;
      piece(RailPiece::What::stop, nullptr, {{trunkX(0) - half, y}, {trunkX(0) + half, y}});
      ProgramRow stop;
      stop.what = ProgramRow::What::stop;
      stop.lane = lane.id;
      stop.box =
          QRectF(trunkX(0) + rail::cardGap - 4, y_ - 8, width_ - trunkX(0) - rail::cardGap - 8, 18);
      stop.tokens.push_back(
          {Token::What::label, own ? QStringLiteral("back") : waitsFor(lane.trigger, *trigger)});
      out_.rows.push_back(stop);
      y_ += 12;
    }
    if (trigger && trigger->endless && !lane.steps.empty())
      piece(RailPiece::What::back, nullptr,
            {{trunkX(0), bottom + 6},
             {trunkX(0), y_ - 4},
             {14, y_ - 4},
             {14, signMiddle},
             {trunkX(0) - 14, signMiddle}});
    y_ += 14;
  }

  // "waits for the next time that Call button goes high"
  QString waitsFor(const Trigger& trigger, const TriggerKind& kind) const {
    if (kind.starts == TriggerKind::Starts::test)
      return QStringLiteral("waits until it becomes true again");
    if (kind.starts == TriggerKind::Starts::clock) return QStringLiteral("waits for the next time");
    if (kind.starts == TriggerKind::Starts::key)
      return QStringLiteral("waits until the key is struck again");
    const QString name = trigger.pin.empty() ? QStringLiteral("…") : tokens_.nameOf(trigger.pin);
    return QStringLiteral("waits until %1 goes %2 again")
        .arg(name, kind.edge == TriggerKind::Edge::rise ? "high" : "low");
  }

  // A long sign goes on below; behind it stands how its lane is.
  void signRow(const Lane& lane) {
    ProgramRow sign;
    sign.what = ProgramRow::What::sign;
    sign.lane = lane.id;
    const TriggerKind* kind = triggerKind(lane.trigger.on);
    sign.own = kind && kind->own;
    constexpr double note = 130;
    const double room = width_ - note;
    double x = trunkX(0), line = 0, right = 0;
    for (Token t : tokens_.ofSign(lane.trigger)) {
      const double wide = t.isField() ? tokens_.widthOf(t) : tokens_.boldWidth(t.text);
      if (x + wide > room && x > trunkX(0) + 40) {
        x = trunkX(0) + 12;
        ++line;
      }
      t.box = QRectF(x, y_ + 8 + line * 24, std::min(wide, width_ - 20 - x), 20);
      x += wide + 6;
      right = std::max(right, t.box.right());
      sign.tokens.push_back(std::move(t));
    }
    sign.box = QRectF(trunkX(0) - 14, y_ + 4, right - trunkX(0) + 14 + 30,
                      sign.tokens.back().box.bottom() - y_);
    out_.rows.push_back(std::move(sign));
  }

  void threadRow(const Lane& lane, const Expr& kept) {
    ThreadPicture thread = layOutThread(lane, kept, tokens_, {trunkX(0) - 4, y_}, width_);
    for (auto& line : thread.lines) piece(RailPiece::What::thread, nullptr, std::move(line));
    out_.rows.push_back(std::move(thread.row));
    out_.rows.push_back(std::move(thread.sentence));
    y_ = thread.bottom;
  }

  void piece(RailPiece::What what, const Step* owner, std::vector<QPointF> points) {
    out_.rails.push_back({what, owner, std::move(points), lane_});
  }

  // Rows of a list of steps at `level`; the rail comes in at `railFrom`.
  // Returns where the rail at this level ends.
  double body(const Steps& steps, edits::StepPlace place, int level, double railFrom,
              RailPiece::What what, const Step* owner) {
    const double x = trunkX(level);
    double from = railFrom;
    for (std::size_t i = 0; i < steps.size(); ++i) {
      place.index = i;
      gap(place, level);
      if (open_ && *open_ == place) openRow(level, owner);
      const Step& s = steps[i];
      stepRow(s, level);
      const double dot = out_.rows.back().dotY;
      piece(what, owner, {{x, from}, {x, dot}});
      from = dot;
      if (s.bodies.empty()) continue;
      from = folded_(s, level) ? foldedRow(s, level, dot)
             : isFork(s)       ? forkRows(s, level, dot)
                               : loopRows(s, level, dot);
    }
    place.index = steps.size();
    if (!steps.empty() || owner == nullptr) gap(place, level);
    if (open_ && owner && *open_ == place) {
      openRow(level, owner);
      piece(what, owner, {{x, from}, {x, y_ - rail::rowGap}});
      from = y_ - rail::rowGap;
    }
    return from;
  }

  void openRow(int level, const Step* owner) {
    ProgramRow row;
    row.what = ProgramRow::What::open;
    row.lane = lane_;
    row.step = owner;
    row.body = open_->body;
    row.level = level;
    const double left = trunkX(level) + rail::cardGap;
    row.box = QRectF(left, y_, std::min(340.0, width_ - 10 - left), rail::rowHeight);
    out_.rows.push_back(row);
    y_ += rail::rowHeight + rail::rowGap;
  }

  void gap(const edits::StepPlace& place, int level) {
    const double x = trunkX(level) + rail::cardGap;
    out_.gaps.push_back({place, y_ - rail::rowGap / 2, x, width_ - 10});
  }

  // In place of all that is inside it: how much that is.
  double foldedRow(const Step& s, int level, double dot) {
    int inside = 0;
    for (const auto& [key, steps] : s.bodies) forEachStep(steps, [&](const Step&) { ++inside; });
    ProgramRow row;
    row.what = ProgramRow::What::folded;
    row.lane = lane_;
    row.step = &s;
    row.level = level + 1;
    row.fork = isFork(s);
    const QString text = inside == 0   ? QStringLiteral("nothing inside ▸")
                         : inside == 1 ? QStringLiteral("1 step inside ▸")
                                       : QStringLiteral("%1 steps inside ▸").arg(inside);
    row.tokens.push_back({Token::What::label, text});
    row.box = QRectF(trunkX(level) + rail::cardGap, y_ - rail::rowGap + 1,
                     QFontMetricsF(theme().text(12)).horizontalAdvance(text) + 60, 20);
    out_.rows.push_back(row);
    y_ += 20;
    piece(RailPiece::What::trunk, nullptr, {{trunkX(level), dot}, {trunkX(level), y_}});
    return y_;
  }

  // An if: the yes-branch hangs on its own rail; its exit runs in the gutter
  // past the no-branch, and both join below.
  double forkRows(const Step& s, int level, double dot) {
    const double x = trunkX(level), inner = trunkX(level + 1), gutter = x - 12;
    branchRow(s, level, Runs::ifSo);
    const double yesTop = out_.rows.back().box.bottom();
    piece(RailPiece::What::yes, &s,
          {{x, dot}, {x, yesTop - 14}, {inner, yesTop - 14}, {inner, yesTop + 4}});
    const double yesEnd =
        inside(s, bodyKey(s, Runs::ifSo), level, yesTop + 4, RailPiece::What::yes);
    const Steps* otherwise = bodyOf(s, Runs::ifNot);
    if (!otherwise || otherwise->empty()) return goesOn(s, level, dot, yesEnd);
    const double yesOut = y_ + 2;
    y_ += 8;
    branchRow(s, level, Runs::ifNot);
    const double noTop = out_.rows.back().box.bottom();
    piece(RailPiece::What::no, &s,
          {{x, dot}, {x, noTop - 8}, {inner, noTop - 8}, {inner, noTop + 4}});
    const double noEnd = inside(s, bodyKey(s, Runs::ifNot), level, noTop + 4, RailPiece::What::no);
    const double join = y_ + 8;
    piece(RailPiece::What::yes, &s,
          {{inner, yesEnd}, {inner, yesOut}, {gutter, yesOut}, {gutter, join}, {x, join}});
    out_.rails.back().under = {x, yesOut};
    out_.rails.back().exit = true;
    piece(RailPiece::What::no, &s, {{inner, noEnd}, {inner, join}, {x, join}});
    out_.rails.back().exit = true;
    y_ += 16;
    return join;
  }

  // Nothing happens otherwise: the trunk goes straight on, and the yes-branch comes back to it. One
  // row says so, where steps can be added.
  double goesOn(const Step& s, int level, double dot, double yesEnd) {
    const double x = trunkX(level), inner = trunkX(level + 1);
    const double join = y_ + 8;
    piece(RailPiece::What::no, &s, {{x, dot}, {x, join}});
    piece(RailPiece::What::yes, &s, {{inner, yesEnd}, {inner, join}, {x, join}});
    out_.rails.back().exit = true;
    y_ += 14;
    ProgramRow row;
    row.what = ProgramRow::What::empty;
    row.slim = true;
    row.lane = lane_;
    row.step = &s;
    row.body = bodyKey(s, Runs::ifNot);
    row.level = level + 1;
    const QString text = QStringLiteral("no: goes on  +");
    row.tokens.push_back({Token::What::label, text});
    const double w = QFontMetricsF(theme().text(12)).horizontalAdvance(text) + 26;
    row.box = QRectF(inner + rail::cardGap, y_, w, 20);
    gap({lane_, s.id, row.body, 0}, level + 1);
    out_.rows.push_back(row);
    y_ += 20 + rail::rowGap;
    piece(RailPiece::What::trunk, &s, {{x, join}, {x, y_}});
    return y_;
  }

  double loopRows(const Step& s, int level, double dot) {
    const double x = trunkX(level), inner = trunkX(level + 1);
    const double top = y_;
    piece(RailPiece::What::body, &s, {{x, dot}, {x, top}, {inner, top}, {inner, top + 8}});
    y_ += 6;
    ++loops_;
    const double end = inside(s, s.bodies.front().first, level, top + 8, RailPiece::What::body);
    --loops_;
    const double out = y_ + 4;
    // Back up to its head, dotted.
    piece(RailPiece::What::back, &s,
          {{inner, end}, {inner, out}, {x - 10, out}, {x - 10, dot}, {x - 5, dot}});
    out_.rails.back().inner = loops_ > 0;
    y_ += 14;
    if (isEndless(s)) return out;
    out_.rails.back().under = {x, out};
    piece(RailPiece::What::body, &s, {{x, dot + 6}, {x, y_}});
    return y_;
  }

  double inside(const Step& s, const std::string& key, int level, double railFrom,
                RailPiece::What what) {
    const Steps* steps = s.body(key);
    edits::StepPlace place{lane_, s.id, key, 0};
    if (!steps || steps->empty()) {
      ProgramRow row;
      row.what = ProgramRow::What::empty;
      row.lane = lane_;
      row.step = &s;
      row.body = key;
      row.level = level + 1;
      row.box = QRectF(trunkX(level + 1) + rail::cardGap, y_,
                       width_ - trunkX(level + 1) - rail::cardGap - 10, rail::rowHeight);
      gap(place, level + 1);
      out_.rows.push_back(row);
      y_ += rail::rowHeight + rail::rowGap;
      return railFrom;
    }
    return body(*steps, place, level + 1, railFrom, what, &s);
  }

  void branchRow(const Step& s, int level, Runs when) {
    const bool yes = when == Runs::ifSo;
    ProgramRow row;
    row.what = ProgramRow::What::branch;
    row.lane = lane_;
    row.step = &s;
    row.body = bodyKey(s, when);
    row.yes = yes;
    row.level = level + 1;
    const Expr* test = testOf(s);
    QString text = yes ? QStringLiteral("yes") : QStringLiteral("no");
    if (test) {
      const QString words = sentence(*test, yes);
      if (!words.isEmpty()) text += QStringLiteral(": ") + words;
    }
    row.tokens.push_back({Token::What::label, text});
    const double w = QFontMetricsF(theme().text(12, QFont::DemiBold)).horizontalAdvance(text) + 26;
    row.box = QRectF(trunkX(level + 1) + rail::cardGap, y_ + 1,
                     std::min(w, width_ - trunkX(level + 1) - rail::cardGap - 10), 20);
    out_.rows.push_back(row);
    y_ += 27;
  }

  // "Call button is high", "Dusk sensor ≥ 40 %", for a plain test of a pin.
  QString sentence(const Expr& test, bool yes) const {
    const Expr *a = operandOf(test, 0), *b = operandOf(test, 1);
    const std::string* pin = a ? pinRead(*a) : nullptr;
    if (!pin || !b || !b->isLiteral()) return {};
    const QString name = tokens_.nameOf(*pin);
    if (const auto asked = pinTest(test))
      return name + (asked->high == yes ? QStringLiteral(" is high") : QStringLiteral(" is low"));
    const std::string opposite = oppositeOf(test.text);
    if (measures(*a) && b->shape == Expr::Shape::number && !opposite.empty())
      return QStringLiteral("%1 %2 %3 %")
          .arg(name, str(yes ? test.text : opposite), str(phraseOf(*b)));
    return {};
  }

  void stepRow(const Step& s, int level) {
    ProgramRow row;
    row.lane = lane_;
    row.step = &s;
    row.level = level;
    const double left = trunkX(level) + rail::cardGap;
    row.tokens = tokens_.ofStep(s);
    const double right = width_ - 10;
    double x = left + 12, line = 0;
    const double room = right - 8;
    for (Token& t : row.tokens) {
      // Names may be elided, pins and values never.
      double w = t.box.width();
      if (t.what == Token::What::label) w = std::min(w, std::max(40.0, (room - left) * 0.5));
      if (x + w > room && x > left + 40) {
        x = left + 28;
        ++line;
      }
      t.box = QRectF(x, y_ + 4 + line * 24, std::min(w, std::max(20.0, room - x)), 20);
      x += w + 6;
    }
    row.box = QRectF(left, y_, right - left, rail::rowHeight + line * 24);
    row.dotX = trunkX(level);
    row.dotY = y_ + rail::rowHeight / 2;
    out_.rows.push_back(row);
    y_ += row.box.height() + rail::rowGap;
  }

  const double whole_;
  double width_ = 0;  // of a column
  const TokenMaker tokens_;
  const Folding& folded_;
  const edits::StepPlace* open_;
  ProgramPicture out_;
  std::string lane_;
  int loops_ = 0;  // around
  double y_ = 6;
};

}  // namespace

bool foldsByItself(const Step& step, int level) {
  return level >= rail::deepest && !step.bodies.empty();
}

ProgramPicture layOutProgram(const Program& program, double width, const PinNamer& namer,
                             const Folding& folded, TokenCache* cache,
                             const edits::StepPlace* open) {
  return Builder(width, namer, folded, cache, open).build(program);
}

}  // namespace ignavo::app
