#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "program/facts.h"
#include "program/program_view.h"
#include "theme/text.h"
#include "theme/theme.h"

// How a program looks: rails, signs, cards, and what they say while time runs.
namespace ignavo::app {

namespace {

// A line through points with rounded corners.
QPainterPath rounded(const std::vector<QPointF>& points, double radius) {
  QPainterPath path(points.front());
  for (std::size_t i = 1; i + 1 < points.size(); ++i) {
    const QLineF in(points[i], points[i - 1]), out(points[i], points[i + 1]);
    const double r = std::min({radius, in.length() / 2, out.length() / 2});
    if (r < 0.5) {
      path.lineTo(points[i]);
      continue;
    }
    path.lineTo(in.pointAt(r / in.length()));
    path.quadTo(points[i], out.pointAt(r / out.length()));
  }
  path.lineTo(points.back());
  return path;
}
}  // namespace

void ProgramView::paintRail(QPainter& p, const RailPiece& piece) const {
  const Theme& t = theme();
  const auto shown = run_.shown();
  bool faded = false;
  if (shown && piece.owner &&
      (piece.what == RailPiece::What::yes || piece.what == RailPiece::What::no)) {
    const auto it = shown->forks.find(piece.owner->id);
    faded = it != shown->forks.end() && it->second != (piece.what == RailPiece::What::yes);
  }
  p.setBrush(Qt::NoBrush);
  const QPainterPath path = rounded(piece.points, rail::fork);
  const QColor c = faded ? t.edge : t.ink;
  if (piece.what == RailPiece::What::stop) {
    p.setPen(QPen(t.ink, rail::wide, Qt::SolidLine, Qt::FlatCap));
    p.drawPath(path);
    return;
  }
  // A bridge: the line below stops on either side of the one above.
  const bool bridged = !piece.under.isNull();
  if (bridged) {
    const double half = rail::wide / 2 + rail::bridge;
    QPainterPath seen;
    seen.addRect(path.boundingRect().adjusted(-half, -half, half, half));
    QPainterPath gap;
    gap.addRect(QRectF(piece.under.x() - half, piece.under.y() - half, 2 * half, 2 * half));
    p.save();
    p.setClipPath(seen.subtracted(gap), Qt::IntersectClip);
  }
  if (piece.what == RailPiece::What::back) {
    QPen pen(t.ink2, 2, Qt::CustomDashLine, Qt::RoundCap);
    pen.setDashPattern({0.1, 2.6});
    p.setPen(pen);
    p.drawPath(path);
    // An arrow on the way up.
    const std::size_t n = piece.points.size();
    const QPointF a = piece.points[n - 3], b = piece.points[n - 2];
    const QPointF m = (a + b) / 2;
    p.setPen(QPen(t.ink2, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    if (QLineF(a, b).length() > 30)
      p.drawPolyline(QPolygonF({m + QPointF(-4, 4), m, m + QPointF(4, 4)}));
  } else {
    p.setPen(QPen(c, piece.exit ? rail::thin : rail::wide, Qt::SolidLine,
                  bridged ? Qt::FlatCap : Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(path);
  }
  if (bridged) p.restore();
}

QString ProgramView::wasText(const ProgramRow& row, const Token& token) const {
  if (!atPowerOn_ || !token.isField()) return {};
  const Expr* was = edits::exprAt(*atPowerOn_, row.owner(), token.path);
  const Expr* now = edits::exprAt(doc_.project(), row.owner(), token.path);
  if (!was || !now || *was == *now) return {};
  const StepKind* kind = stepKind(row.step->kind);
  const SlotKind* slot = kind ? kind->slot(token.path) : nullptr;
  return tr("was %1%2")
      .arg(str(phraseOf(*was)),
           slot && !slot->unit.empty() ? QStringLiteral(" ") + str(slot->unit) : QString());
}

void ProgramView::paintToken(QPainter& p, const Token& token, const ProgramRow&,
                             bool focused) const {
  const Theme& t = theme();
  switch (token.what) {
    case Token::What::word:
    case Token::What::label:
      p.setFont(t.text(13, token.what == Token::What::label ? QFont::Medium : QFont::Normal));
      p.setPen(t.ink);
      p.drawText(token.box, Qt::AlignVCenter | Qt::AlignLeft,
                 p.fontMetrics().elidedText(token.text, Qt::ElideRight,
                                            static_cast<int>(token.box.width()) + 2));
      break;
    case Token::What::pin: {
      const int index = doc_.identities().ofPin(board_, token.pin);
      const bool known = index >= 0;
      const NetColour colour{NetColour::Kind::pin, std::max(0, index)};
      const QColor casing = t.casing(colour, t.card);
      p.setPen(!known             ? QPen(t.ink2, 1, Qt::DashLine)
               : casing.isValid() ? QPen(casing, 1)
                                  : QPen(Qt::NoPen));
      p.setBrush(known ? t.net(colour) : t.field);
      p.drawRoundedRect(token.box, 4, 4);
      p.setFont(t.mono(12.5, QFont::Bold));
      p.setPen(known ? t.netInk(colour) : t.ink);
      p.drawText(token.box, Qt::AlignCenter, token.text);
      break;
    }
    default:
      p.setPen(Qt::NoPen);
      p.setBrush(t.field);
      p.drawRoundedRect(token.box, 3, 3);
      p.setPen(QPen(t.ink2, 1.4));
      p.drawLine(token.box.bottomLeft() + QPointF(1, 0), token.box.bottomRight() - QPointF(1, 0));
      p.setFont(t.mono(12.5));
      p.setPen(t.ink);
      p.drawText(token.box, Qt::AlignCenter, token.text);
  }
  if (focused) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.paper, 2));
    p.drawRoundedRect(token.box.adjusted(-1, -1, 1, 1), 4, 4);
    p.setPen(QPen(t.ink, 2));
    p.drawRoundedRect(token.box.adjusted(-3, -3, 3, 3), 5, 5);
  }
}

// What a lane keeps just now, or whether its test holds.
QString ProgramView::valueText(const LaneView::Value& value) {
  if (value.type == ValueType::truth) return value.number != 0 ? tr("now: true") : tr("now: false");
  return tr("now: %1").arg(value.number, 0, 'g', 6);
}

// When the lane runs; behind it what is wrong, or how often its moment was missed.
void ProgramView::paintSign(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  QPainterPath board(row.box.topLeft());
  board.lineTo(row.box.right() - 12, row.box.top());
  board.lineTo(row.box.right(), row.box.center().y());
  board.lineTo(row.box.right() - 12, row.box.bottom());
  board.lineTo(row.box.bottomLeft());
  board.closeSubpath();
  p.setPen(Qt::NoPen);
  p.setBrush(t.ink);
  p.drawPath(board);
  if (doc_.selectedStep() == str(row.lane) && hasFocus()) {
    p.setPen(QPen(t.amber, 2));
    p.setBrush(Qt::NoBrush);
    p.drawPath(board);
  }
  for (const Token& token : row.tokens) {
    if (token.isField()) {
      p.setPen(Qt::NoPen);
      p.setBrush(t.paper);
      p.drawRoundedRect(token.box.adjusted(-1.5, -1.5, 1.5, 1.5), 5, 5);
      paintToken(p, token, row, hasFocus() && focus_ == FieldRef{row.lane, token.path});
      continue;
    }
    p.setPen(t.inkOnDark);
    p.setFont(t.text(13, QFont::DemiBold));
    p.drawText(token.box.adjusted(0, 0, 4, 0), Qt::AlignVCenter | Qt::AlignLeft, token.text);
  }
  QString note;
  QColor ink = t.warning;
  const auto pinOf = std::find_if(row.tokens.begin(), row.tokens.end(),
                                  [](const Token& k) { return k.what == Token::What::pin; });
  if (pinOf != row.tokens.end() && pinOf->pin.empty()) note = tr("▲ Which pin? Click on it.");
  if (const auto wrong = troubles_.find(row.lane); note.isEmpty() && wrong != troubles_.end())
    note = QStringLiteral("▲ ") + wrong->second;
  for (const Finding& f : doc_.check().findings)
    if (note.isEmpty() && !f.meant &&
        std::find(f.steps.begin(), f.steps.end(), row.lane) != f.steps.end())
      note = (f.severity == Severity::note ? QStringLiteral("● ") : QStringLiteral("▲ ")) +
             str(f.title);
  if (const auto shown = run_.shown(); shown && shown->powered)
    for (const LaneView& lane : shown->lanes)
      if (lane.id == row.lane) {
        if (lane.missed > 0)
          note = tr("%1 × missed while it was running").arg(lane.missed), ink = t.ink2;
        else if (lane.value && note.isEmpty())
          note = valueText(*lane.value), ink = t.ink2;
      }
  if (note.isEmpty()) return;
  p.setFont(t.text(12, QFont::Medium));
  p.setPen(ink);
  const QRectF room(row.box.right() + 8, row.box.top(), width() - row.box.right() - 16,
                    row.box.height());
  p.drawText(room, Qt::AlignVCenter | Qt::AlignLeft,
             p.fontMetrics().elidedText(note, Qt::ElideRight, static_cast<int>(room.width())));
}

void ProgramView::paintCard(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  const auto shown = run_.shown();
  bool running = false;
  Nanoseconds left = 0;
  if (shown && shown->powered)
    for (const LaneView& lane : shown->lanes)
      if (lane.step == row.step->id) running = true, left = lane.waitLeft;
  const bool selected = doc_.selectedStep() == str(row.step->id);
  // Problems and findings of this step.
  const Finding* finding = nullptr;
  for (const Finding& f : doc_.check().findings)
    if (!finding && !f.meant &&
        std::find(f.steps.begin(), f.steps.end(), row.step->id) != f.steps.end())
      finding = &f;
  const auto wrong = troubles_.find(row.step->id);
  const QString trouble = wrong == troubles_.end() ? QString() : wrong->second;

  p.setPen(QPen(running ? t.amber : selected ? t.ink : t.line, running || selected ? 2 : 1));
  p.setBrush(running ? t.amberWash : t.card);
  p.drawRoundedRect(row.box, 5, 5);
  for (const Token& token : row.tokens) {
    const FieldRef ref{row.step->id, token.path};
    paintToken(p, token, row, token.isField() && focus_ == ref && hasFocus());
  }
  // On the right: what it is doing, what it was, what is wrong.
  QString note;
  QColor ink = t.ink2;
  if (mendedStep_ == str(row.step->id) && !row.tokens.empty()) {
    p.setPen(QPen(t.ink2, 1.6, Qt::DotLine));
    const double y = row.tokens.back().box.bottom() + 3;
    p.drawLine(QPointF(row.tokens.front().box.left(), y),
               QPointF(row.tokens.back().box.right(), y));
    note = tr("read as “%1”").arg(mendedWords_);
  }
  if (running) {
    note = left > 0 ? QStringLiteral("▶ %1 s left").arg(static_cast<double>(left) * 1e-9, 0, 'f', 2)
                    : QStringLiteral("▶");
    ink = t.ink;
  } else if (!trouble.isEmpty()) {
    note = QStringLiteral("▲ ") + trouble;
    ink = t.warning;
  } else if (finding) {
    note = (finding->severity == Severity::note ? QStringLiteral("● ") : QStringLiteral("▲ ")) +
           str(finding->title);
    ink = t.severity(finding->severity);
  } else if (shown && isFork(*row.step)) {
    const Expr* test = testOf(*row.step);
    std::string pin;
    bool measured = false;
    if (test)
      forEachGetter(*test, [&](const GetterKind& getter, const std::string& name) {
        pin = name;
        measured = getter.measures;
      });
    const Project& shownProject = *shown->project;
    const int index = programPinIndex(shownProject, board_, pin);
    if (const auto i = static_cast<std::size_t>(index); index >= 0 && i < shown->levels.size()) {
      const PinReading& reading = shown->reading.pins[i];
      const double volts = reading.volts.value_or(0) - reading.groundVolts;
      if (measured)
        note = tr("now: %1 %")
                   .arg(reading.supplyVolts > 0
                            ? std::clamp(volts / reading.supplyVolts, 0.0, 1.0) * 100
                            : 0,
                        0, 'f', 0);
      else
        note = shown->levels[i] ? tr("now: high") : tr("now: low");
    }
  }
  for (const Token& token : row.tokens)
    if (const QString was = wasText(row, token); !was.isEmpty())
      note = running ? was + QStringLiteral("  ") + note : was;
  if (!note.isEmpty()) {
    const double from = row.tokens.empty() ? row.box.left() : row.tokens.back().box.right();
    p.setFont(finding || !trouble.isEmpty() ? t.text(12, QFont::Medium) : t.mono(11.5));
    p.setPen(ink);
    const QRectF place(from + 14, row.box.bottom() - rail::rowHeight, row.box.right() - from - 24,
                       rail::rowHeight);
    if (place.width() > 24)
      p.drawText(place, Qt::AlignVCenter | Qt::AlignRight,
                 p.fontMetrics().elidedText(note, Qt::ElideRight, static_cast<int>(place.width())));
  }
  // Its station dot.
  if (running) {
    QColor glow = t.amber;
    glow.setAlpha(90);
    p.setPen(Qt::NoPen);
    p.setBrush(glow);
    p.drawEllipse(QPointF(row.dotX, row.dotY), 9, 9);
  }
  p.setPen(QPen(t.ink, 2));
  p.setBrush(running ? t.amber : t.card);
  p.drawEllipse(QPointF(row.dotX, row.dotY), 5, 5);
}

// Only what is to be seen: a program may be thousands of rows long.
void ProgramView::paintEvent(QPaintEvent* e) {
  const Theme& t = theme();
  constexpr double air = 40;  // what is drawn beyond a row's box
  const double top = e->rect().top() - air, bottom = e->rect().bottom() + air;
  const auto seen = [&](double from, double to) { return to >= top && from <= bottom; };
  const auto railSeen = [&](const RailPiece& piece) {
    const auto [least, most] =
        std::minmax_element(piece.points.begin(), piece.points.end(),
                            [](const QPointF& a, const QPointF& b) { return a.y() < b.y(); });
    return least != piece.points.end() && seen(least->y(), most->y());
  };
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  // Faded rails first, so that the ones that were taken lie on top.
  for (const bool back : {true, false})
    for (const RailPiece& piece : picture_.rails)
      if ((piece.what == RailPiece::What::back) == back && railSeen(piece)) paintRail(p, piece);
  for (const ProgramRow& row : picture_.rows) {
    if (!seen(row.box.top(), row.box.bottom())) continue;
    switch (row.what) {
      case ProgramRow::What::sign:
        paintSign(p, row);
        break;
      case ProgramRow::What::branch: {
        const auto shown = run_.shown();
        bool taken = false;
        if (shown)
          if (const auto it = shown->forks.find(row.step->id); it != shown->forks.end())
            taken = it->second == row.yes;
        p.setPen(Qt::NoPen);
        p.setBrush(taken ? t.ink : t.tray);
        p.drawRoundedRect(row.box, 10, 10);
        p.setPen(taken ? t.inkOnDark : t.ink);
        p.setFont(t.text(12, QFont::DemiBold));
        p.drawText(row.box.adjusted(12, 0, -8, 0), Qt::AlignVCenter | Qt::AlignLeft,
                   p.fontMetrics().elidedText(row.tokens.front().text, Qt::ElideRight,
                                              static_cast<int>(row.box.width()) - 18));
        break;
      }
      case ProgramRow::What::empty:
        if (row.slim) {
          p.setPen(QPen(t.line, 1));
          p.setBrush(t.card);
          p.drawRoundedRect(row.box, 10, 10);
          p.setPen(t.ink2);
          p.setFont(t.text(12));
          p.drawText(row.box, Qt::AlignCenter, tr("no: goes on  +"));
          break;
        }
        p.setPen(QPen(t.ink2, 1, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(row.box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
        p.setPen(t.ink2);
        p.setFont(t.text(12.5));
        p.drawText(row.box.adjusted(12, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                   tr("click to add a step"));
        break;
      case ProgramRow::What::step:
        if (!(dragging_ && row.step->id == pressedStep_)) paintCard(p, row);
        break;
      case ProgramRow::What::stop:
        p.setPen(t.ink2);
        p.setFont(t.text(12));
        p.drawText(row.box, Qt::AlignVCenter | Qt::AlignLeft,
                   p.fontMetrics().elidedText(row.tokens.front().text, Qt::ElideRight,
                                              static_cast<int>(row.box.width())));
        break;
      case ProgramRow::What::end:
        break;
    }
  }
  if (dragging_) {
    if (dropGap_ >= 0) {
      const ProgramGap& gap = picture_.gaps[static_cast<std::size_t>(dropGap_)];
      p.setPen(QPen(t.ink, 3, Qt::SolidLine, Qt::RoundCap));
      p.drawLine(QPointF(gap.x, gap.y), QPointF(gap.right, gap.y));
      p.setBrush(t.ink);
      p.drawEllipse(QPointF(gap.x - rail::cardGap, gap.y), 4, 4);
    }
    if (const ProgramRow* row = rowOf(pressedStep_)) {
      p.setOpacity(0.85);
      p.translate(dragAt_ - pressedAt_);
      paintCard(p, *row);
    }
  }
}

}  // namespace ignavo::app
