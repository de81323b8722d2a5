#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "program/program_view.h"
#include "theme/text.h"
#include "theme/theme.h"

// How a program looks: its rails, and what lies on them from below to above.
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

// Back up to where a loop begins, dotted, with an arrow on the way.
void paintReturn(QPainter& p, const RailPiece& piece, const QPainterPath& path) {
  const Theme& t = theme();
  QPen pen(t.ink2, rail::thin, Qt::CustomDashLine, Qt::RoundCap);
  pen.setDashPattern({0.1, 2.6});
  p.setPen(pen);
  p.drawPath(path);
  const std::size_t n = piece.points.size();
  const QPointF a = piece.points[n - 3], b = piece.points[n - 2], m = (a + b) / 2;
  p.setPen(QPen(t.ink2, rail::thin, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  if (QLineF(a, b).length() > 30)
    p.drawPolyline(QPolygonF({m + QPointF(-4, 4), m, m + QPointF(4, 4)}));
}

// In its place beside the head of a loop that is not the outermost: it goes round.
void paintRound(QPainter& p, QPointF at) {
  const Theme& t = theme();
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.ink2, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  constexpr double r = 4;
  p.drawArc(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), 110 * 16, 290 * 16);
  const QPointF tip = at + QPointF(-r * 0.35, -r);
  p.drawPolyline(QPolygonF({tip + QPointF(-1, -3.2), tip + QPointF(2, 0.2), tip + QPointF(-2, 2)}));
}

}  // namespace

void ProgramView::paintRail(QPainter& p, const RailPiece& piece) const {
  const Theme& t = theme();
  const auto now = run_.shown();
  using What = RailPiece::What;
  bool faded = false;
  if (now && piece.owner && (piece.what == What::yes || piece.what == What::no)) {
    const auto it = now->forks.find(piece.owner->id);
    faded = it != now->forks.end() && it->second != (piece.what == What::yes);
  }
  p.setBrush(Qt::NoBrush);
  if (piece.what == What::rule) {
    p.setPen(QPen(t.line, 1));
    return p.drawLine(piece.points.front(), piece.points.back());
  }
  const QPainterPath path = rounded(piece.points, rail::fork);
  if (piece.what == What::stop || piece.what == What::thread) {
    p.setPen(QPen(t.ink, piece.what == What::stop ? rail::wide : rail::thin, Qt::SolidLine,
                  Qt::FlatCap));
    return p.drawPath(path);
  }
  if (piece.inner && piece.owner && piece.owner->id != hoverLoop_) {
    ProgramRow all;
    all.what = ProgramRow::What::folded;  // the loop and all that is in it
    all.step = piece.owner;
    if (!runs(all)) return paintRound(p, piece.points.back() + QPointF(16.5, 0));
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
  if (piece.what == What::back) {
    paintReturn(p, piece, path);
  } else {
    p.setPen(QPen(faded ? t.edge : t.ink, piece.exit ? rail::thin : rail::wide, Qt::SolidLine,
                  bridged ? Qt::FlatCap : Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(path);
  }
  if (bridged) p.restore();
}

void ProgramView::paintRow(QPainter& p, const ProgramRow& row) const {
  const Theme& t = theme();
  switch (row.what) {
    case ProgramRow::What::sign:
      return paintSign(p, row);
    case ProgramRow::What::branch:
      return paintBranch(p, row);
    case ProgramRow::What::empty:
      return paintEmpty(p, row);
    case ProgramRow::What::thread:
      return paintThread(p, row);
    case ProgramRow::What::folded:
      return paintFolded(p, row);
    case ProgramRow::What::step:
      if (std::find(dragged_.begin(), dragged_.end(), row.step->id) == dragged_.end())
        paintCard(p, row);
      return;
    case ProgramRow::What::stop:
      p.setPen(t.ink2);
      p.setFont(t.text(12));
      p.drawText(row.box, Qt::AlignVCenter | Qt::AlignLeft,
                 p.fontMetrics().elidedText(row.tokens.front().text, Qt::ElideRight,
                                            static_cast<int>(row.box.width())));
      return;
    case ProgramRow::What::open:
    case ProgramRow::What::end:
      return;
  }
}

// Where it would go, and what is dragged.
void ProgramView::paintDrop(QPainter& p) const {
  if (dragged_.empty() && part_.empty()) return;
  const Theme& t = theme();
  if (dropGap_ >= 0) {
    const ProgramGap& gap = picture_.gaps[static_cast<std::size_t>(dropGap_)];
    p.setPen(QPen(t.ink, 3, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(gap.x, gap.y), QPointF(gap.right, gap.y));
    p.setBrush(t.ink);
    p.drawEllipse(QPointF(gap.x - rail::cardGap, gap.y), 4, 4);
  }
  const ProgramRow* row = dragged_.empty() ? nullptr : rowOf(pressedStep_);
  if (!row) return;
  p.save();
  p.setOpacity(0.85);
  p.translate(dragAt_ - pressedAt_);
  if (dragged_.size() > 1) {  // there are more below it
    p.setPen(QPen(t.ink, 1));
    p.setBrush(t.card);
    p.drawRoundedRect(row->box.translated(5, 5), 5, 5);
  }
  paintCard(p, *row);
  p.restore();
  if (dragged_.size() > 1) {
    p.setPen(t.ink);
    p.setFont(t.text(12, QFont::DemiBold));
    p.drawText(dragAt_ + QPointF(14, 30),
               tr("%n steps", nullptr, static_cast<int>(dragged_.size())));
  }
}

// Only what is to be seen: a program may be thousands of rows long.
void ProgramView::paintEvent(QPaintEvent* e) {
  constexpr double air = 40;  // what is drawn beyond a row's box
  // Two places far apart are not all that is between them.
  const QRegion& places = e->region();
  const auto seen = [&](double from, double to) {
    return std::any_of(places.begin(), places.end(), [&](const QRect& place) {
      return to >= place.top() / zoom_ - air && from <= place.bottom() / zoom_ + air;
    });
  };
  const auto railSeen = [&](const RailPiece& piece) {
    const auto [least, most] =
        std::minmax_element(piece.points.begin(), piece.points.end(),
                            [](const QPointF& a, const QPointF& b) { return a.y() < b.y(); });
    return least != piece.points.end() && seen(least->y(), most->y());
  };
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.scale(zoom_, zoom_);
  // Returns first, so that rails lie on top of them.
  for (const bool back : {true, false})
    for (const RailPiece& piece : picture_.rails)
      if ((piece.what == RailPiece::What::back) == back && railSeen(piece)) paintRail(p, piece);
  for (const ProgramRow& row : picture_.rows)
    if (seen(row.box.top(), row.box.bottom())) paintRow(p, row);
  paintDrop(p);
}

}  // namespace ignavo::app
