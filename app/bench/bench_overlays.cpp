#include <QPainter>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "theme/pitch.h"
#include "theme/theme.h"

// What lies over the bench: what is in hand, previews, marks, handles, loupe, cursor.
namespace ignavo::app {

void BenchView::paintInHand(QPainter& p) {
  const Theme& t = theme();
  if (mode_ == Mode::wiring || (mode_ == Mode::movingEnd && dragging_)) {
    if (!wireFrom_) return;
    const auto a = place(doc_.project(), *wireFrom_);
    const auto b = wireTo_ ? place(doc_.project(), *wireTo_) : std::nullopt;
    if (!a) return;
    const QPointF end = b ? *b : toBench(mouse_);
    NetColour colour = doc_.identities().ofNet(doc_.nets().of(*wireFrom_));
    if (colour.kind == NetColour::Kind::plain && wireTo_)
      colour = doc_.identities().ofNet(doc_.nets().of(*wireTo_));
    p.setOpacity(wireObstacle_.clear() ? 0.9 : 0.45);
    paintWire(p, wirePath(*a, end, {}), *a, end, colour);
    p.setOpacity(1);
    if (b) {
      p.setPen(QPen(wireObstacle_.clear() ? t.good : t.danger, 2));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(*b, 8, 8);
    }
  }
  // Holes that would be used: green where they are free.
  if (proposal_ &&
      (mode_ == Mode::placing || mode_ == Mode::movingPart || mode_ == Mode::movingLeg)) {
    const Obstacle& o = proposal_->arranged.obstacle;
    for (const std::string& id : proposal_->arranged.ids) {
      const Part* part = proposal_->arranged.project.part(id);
      if (!part) continue;
      for (const Leg& leg : part->legs) {
        const auto at = leg.in ? place(proposal_->arranged.project, *leg.in) : std::nullopt;
        if (!at) continue;
        const bool here = !o.clear() && (o.leg == leg.id || o.hole == leg.in->point);
        p.setPen(QPen(here ? t.danger : o.clear() ? t.good : t.ink2, here ? 3 : 2));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(*at, 6.5, 6.5);
      }
    }
  }
  if (mode_ == Mode::marquee) {
    QColor wash = t.ink;
    wash.setAlpha(20);
    p.setPen(QPen(t.ink, 1, Qt::DashLine));
    p.setBrush(wash);
    p.drawRect(marquee_);
  }
}

void BenchView::paintPreview(QPainter& p) {
  if (!preview_) return;
  const Theme& t = theme();
  const Nets nets(*preview_, catalogue());
  const Identities identities(*preview_, nets, catalogue());
  Scene scene(*preview_, nets, identities);
  std::set<std::string> fresh;
  for (const auto& part : *preview_->parts)
    if (const Part* held = doc_.project().part(part->id); !held || !(*held == *part))
      fresh.insert(part->id);
  for (const auto& wire : *preview_->wires)
    if (const Wire* held = doc_.project().wire(wire->id); !held || !(*held == *wire))
      fresh.insert(wire->id);
  scene.only = &fresh;
  scene.opacity = [](const std::string&) { return 0.75; };
  scene.parts(p);
  scene.wires(p);
  p.setPen(QPen(t.amber, 2, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  for (const auto& part : *preview_->parts)
    if (fresh.contains(part->id))
      p.drawRoundedRect(bodyOf(*part, lookOf(*preview_, *part)).adjusted(-5, -5, 5, 5), 6, 6);
  p.setPen(QPen(t.amber, 2));
  for (const auto& wire : *preview_->wires)
    if (fresh.contains(wire->id))
      for (const Socket& end : {wire->from, wire->to})
        if (const auto at = place(*preview_, end)) p.drawEllipse(*at, 8, 8);
  // What would be gone.
  p.setPen(QPen(t.danger, 3));
  for (const auto& part : *doc_.project().parts)
    if (!preview_->part(part->id)) {
      const QRectF body = bodyOf(*part, lookOf(doc_.project(), *part));
      p.drawLine(body.topLeft(), body.bottomRight());
      p.drawLine(body.topRight(), body.bottomLeft());
    }
  const Scene now(doc_.project(), doc_.nets(), doc_.identities());
  for (const auto& wire : *doc_.project().wires)
    if (!preview_->wire(wire->id)) {
      const QPointF middle = now.pathOf(*wire).pointAtPercent(0.5);
      p.drawLine(middle - QPointF(7, 7), middle + QPointF(7, 7));
      p.drawLine(middle - QPointF(7, -7), middle + QPointF(7, -7));
    }
}

void BenchView::paintMarks(QPainter& p) {
  constexpr double markSize = 20, leastMark = 15;  // in bench units, in dots of the screen
  if (style_ == Style::building || mode_ != Mode::idle) return;
  const auto& findings = doc_.check().findings;
  const std::vector<QPointF> places = markPlaces(doc_.project(), findings);
  for (std::size_t i = 0; i < findings.size(); ++i) {
    if (findings[i].meant) continue;
    // Notes are marked only where findings are looked at.
    if (style_ != Style::tinted && findings[i].severity == Severity::note) continue;
    // On a bench that is drawn small the marks stay large enough to be read.
    paintMark(p, places[i], findings[i].severity, static_cast<int>(i) + 1,
              std::max(markSize, leastMark / zoom_));
  }
}

void BenchView::paintPulses(QPainter& p) {
  if (style_ == Style::building || mode_ != Mode::idle) return;
  p.setPen(QPen(theme().amber, 2.5));
  p.setBrush(Qt::NoBrush);
  for (const Socket& s : pulseSockets_)
    if (const auto at = place(doc_.project(), s)) p.drawEllipse(*at, 8, 8);
}

// Bends of the selected wires, and the ring that keeps a button held.
void BenchView::paintHandles(QPainter& p) {
  const Theme& t = theme();
  for (const auto& wire : *shownProject().wires) {
    if (wire->bends.empty() || !doc_.isSelected(wire->id)) continue;
    p.setPen(QPen(t.ink, 1.6));
    p.setBrush(t.card);
    for (const Point& bend : wire->bends) p.drawEllipse(px(bend), 4.5, 4.5);
  }
  if (!run_.isOn() || mode_ != Mode::idle) return;
  if (hover_.what != Hit::What::cap && hover_.what != Hit::What::latch &&
      hover_.what != Hit::What::part)
    return;
  const Part* part = doc_.project().part(hover_.id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind || !kind->pressable) return;
  const QRectF latch = latchOf(lookOf(doc_.project(), *part));
  const bool kept = std::find(held_.begin(), held_.end(), part->id) != held_.end();
  p.setPen(QPen(t.ink, 1.6));
  p.setBrush(kept ? t.amber : t.card);
  p.drawEllipse(latch);
  p.setPen(QPen(kept ? t.onAmber : t.ink, 1.6));
  p.setBrush(Qt::NoBrush);
  p.drawArc(QRectF(latch.center() - QPointF(2.6, 5), QSizeF(5.2, 6)), 0, 180 * 16);
  p.drawRect(QRectF(latch.center() - QPointF(3.6, 1.5), QSizeF(7.2, 5)));
}

// While an end is held and the holes are small: five by five of them, larger.
void BenchView::paintLoupe(QPainter& p) {
  const bool holding = (mode_ == Mode::wiring || mode_ == Mode::movingEnd ||
                        (mode_ == Mode::movingLeg && dragging_)) &&
                       !cursorShown_;
  constexpr double hole = 36;
  if (!holding || u * zoom_ >= 24) return;
  const auto aim = wireTo_ ? wireTo_ : lastMagnet_;
  const auto at = aim ? place(doc_.project(), *aim) : std::nullopt;
  if (!at) return;
  const Theme& t = theme();
  const double scale = hole / u;
  const QSizeF size(5 * hole, 5 * hole);
  QRectF box(mouse_ + QPointF(40, -size.height() - 30), size);
  if (box.right() > width() - 8) box.moveRight(mouse_.x() - 40);
  if (box.top() < 8) box.moveTop(mouse_.y() + 40);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  QPainterPath frame;
  frame.addRoundedRect(box, 12, 12);
  p.setPen(Qt::NoPen);
  p.setBrush(t.shadow);
  p.drawPath(frame.translated(0, 3));
  p.setClipPath(frame);
  p.fillRect(box, t.mat);
  p.translate(box.center());
  p.scale(scale, scale);
  p.translate(-*at);
  Scene scene(doc_.project(), doc_.nets(), doc_.identities());
  applyLiveState(scene);
  scene.breadboards(p);
  paintNets(p, doc_.nets(), doc_.identities(), netsToLight(doc_.nets()), doc_.project());
  scene.boards(p);
  scene.parts(p);
  scene.wires(p);
  paintInHand(p);
  p.restore();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.ink, 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(frame);
  // The address of the hole in the middle.
  const QString name = QString::fromStdString(aim->point);
  p.setFont(t.mono(13, QFont::Bold));
  const double w = QFontMetricsF(p.font()).horizontalAdvance(name) + 14;
  const QRectF tag(box.center().x() - w / 2, box.bottom() - 24, w, 19);
  p.setPen(Qt::NoPen);
  p.setBrush(t.tooltip);
  p.drawRoundedRect(tag, 5, 5);
  p.setPen(t.tooltipInk);
  p.drawText(tag, Qt::AlignCenter, name);
  p.restore();
}

void BenchView::paintCursor(QPainter& p) {
  if (!cursor_ || !cursorShown_ || !hasFocus()) return;
  const auto at = place(doc_.project(), *cursor_);
  if (!at) return;
  p.setPen(QPen(theme().paper, 5));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(QRectF(*at - QPointF(8, 8), QSizeF(16, 16)), 3, 3);
  p.setPen(QPen(theme().ink, 2));
  p.drawRoundedRect(QRectF(*at - QPointF(8, 8), QSizeF(16, 16)), 3, 3);
}

void BenchView::paintScale(QPainter& p) {
  const Theme& t = theme();
  const CircuitReading* reading = tintReading();
  const std::set<int> floating = reading ? circuit().floatingNets(*reading) : std::set<int>();
  const bool hatched = std::any_of(floating.begin(), floating.end(), [&](int n) {
    const Net& net = doc_.nets().all()[static_cast<std::size_t>(n)];
    return !net.strips.empty() && net.used();
  });
  const double more = hatched ? 24 : 0;
  const QRectF card(width() - 236, height() - 50 - more, 220, 34 + more);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.line, 1));
  p.setBrush(t.card);
  p.drawRoundedRect(card, 6, 6);
  const QRectF box(card.topLeft(), QSizeF(card.width(), 34));
  p.setPen(t.ink2);
  p.setFont(t.text(12));
  p.drawText(box.adjusted(14, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft, QStringLiteral("0 V"));
  p.drawText(box.adjusted(0, 0, -14, 0), Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("%1 V").arg(scaleVolts()));
  QLinearGradient g(box.left() + 44, 0, box.right() - 44, 0);
  g.setColorAt(0, t.tintLow);
  g.setColorAt(1, t.tintHigh);
  p.setPen(Qt::NoPen);
  p.setBrush(g);
  p.drawRoundedRect(QRectF(box.left() + 44, box.center().y() - 6, box.width() - 88, 12), 4, 4);
  if (!hatched) return;
  const QRectF sample(box.left() + 14, box.bottom() - 1, 22, 12);
  p.setPen(QPen(t.ink2, 1, Qt::DotLine));
  p.setBrush(QBrush(t.ink2, Qt::BDiagPattern));
  p.drawRoundedRect(sample, 4, 4);
  p.setPen(t.ink2);
  p.drawText(QRectF(sample.right() + 8, sample.top() - 4, 160, 20),
             Qt::AlignVCenter | Qt::AlignLeft, QStringLiteral("no fixed level"));
}

}  // namespace ignavo::app
