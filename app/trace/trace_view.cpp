#include "trace/trace_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "theme/theme.h"
#include "trace/trace_words.h"

namespace ignavo::app {

namespace {
constexpr double spanLeast = 20e-6, spanMost = 86400;
constexpr double leastRow = 12.5;
}  // namespace

TraceView::TraceView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("trace"));
  setAccessibleName(tr("What the pins did"));
  setAccessibleDescription(
      tr("Left and right look back and forward, plus and minus zoom, End returns to the present. "
         "Up and down choose a line, H holds its pin by hand. Ctrl with left and right goes from "
         "edge to edge, M sets a mark."));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumHeight(72);
  connect(&run_, &RunControl::updated, this, [this] {
    follow();
    update();
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (run_.isOn() && run_.trace() && run_.trace()->end() < second / 10) {
      following_ = true;
      marks_.clear();  // of another run
    }
    follow();
    update();
  });
  connect(&doc_, &Document::changed, this, qOverload<>(&QWidget::update));
}

void TraceView::showMoment(Nanoseconds moment) {
  constexpr double around = 0.02;  // seconds
  following_ = false;
  span_ = around;
  start_ = std::max(0.0, inSeconds(moment) - around / 2);
  update();
}

void TraceView::follow() {
  const auto trace = run_.trace();
  if (!trace || !following_) return;
  const double end = static_cast<double>(trace->end()) * 1e-9;
  start_ = std::max(0.0, end - span_ * 0.965);
}

double TraceView::xOf(Nanoseconds t) const {
  return plotLeft() + (static_cast<double>(t) * 1e-9 - start_) / span_ * (plotRight() - plotLeft());
}
Nanoseconds TraceView::timeAt(double x) const {
  return static_cast<Nanoseconds>(
      std::llround((start_ + (x - plotLeft()) / (plotRight() - plotLeft()) * span_) * 1e9));
}

std::vector<TraceView::Row> TraceView::rows() const {
  std::vector<Row> out;
  const auto trace = run_.trace();
  if (trace) {
    for (std::size_t s = 0; s < trace->signals().size(); ++s) {
      const Signal& signal = trace->signals()[s];
      if (signal.what != Signal::What::pinLevel) continue;
      const int index = doc_.identities().ofPin(signal.owner, signal.name);
      QStringList words;  // of several boards, which one
      if (doc_.project().boards.size() > 1) words << QString::fromStdString(signal.owner);
      if (const QString label = doc_.pinLabel(signal.owner, signal.name); !label.isEmpty())
        words << label;
      out.push_back(
          {static_cast<int>(s),
           signal.owner,
           signal.name,
           words.join(QStringLiteral(" · ")),
           {index < 0 ? NetColour::Kind::plain : NetColour::Kind::pin, std::max(0, index)}});
    }
  }
  return out;
}

QRectF TraceView::laneBox(int lane) const {
  const int n = std::max<int>(1, static_cast<int>(rows().size()));
  const double top = compact() ? 15 + markerTall : 46 + markerTall, bottom = height() - 6;
  // Never so low that nothing can be read; what has no room then is told of.
  const double h = std::max(leastRow, std::min(34.0, (bottom - top) / n));
  return {plotLeft(), top + lane * h, plotRight() - plotLeft(), h};
}

QRectF TraceView::chipBox(int lane) const {
  const QRectF box = laneBox(lane);
  // In a low strip the chips shrink with their lines.
  const double tall = std::min(18.0, box.height() - 2);
  return {20, box.center().y() - tall / 2, 34, tall};
}

void TraceView::wantPin(int lane) {
  const auto list = rows();
  if (lane < 0 || lane >= static_cast<int>(list.size()) || !run_.isOn()) return;
  const Row& row = list[static_cast<std::size_t>(lane)];
  Q_EMIT pinWanted(QString::fromStdString(row.board), QString::fromStdString(row.pin),
                   mapToGlobal(chipBox(lane).center().toPoint()));
}

// One lane. Where edges are denser than pixels, the column is filled and its
// share of high time gives the shade: own decimation, one column at a time.
void TraceView::paintRow(QPainter& p, const Row& row, const QRectF& box, const Trace& trace,
                         bool ghost) const {
  const Theme& t = theme();
  const int signal = ghost ? trace.find(Signal::What::pinLevel, row.board, row.pin) : row.signal;
  if (signal < 0) return;
  const double inset = std::min(4.0, box.height() / 5);
  const double high = box.top() + inset, low = box.bottom() - inset - 1;
  QColor colour = ghost ? t.ink2 : t.net(row.colour);
  const QColor casing = ghost ? QColor() : t.casing(row.colour, t.card);
  if (ghost) colour.setAlpha(90);
  const Nanoseconds from = std::max<Nanoseconds>(trace.begin(), timeAt(box.left()));
  const Nanoseconds to = std::min(trace.end(), timeAt(box.right()));
  if (from >= to) return;
  const double perPixel = static_cast<double>(to - from) / std::max(1.0, xOf(to) - xOf(from));
  QPainterPath line, fill;
  float value = trace.valueAt(signal, from);
  double x = xOf(from);
  line.moveTo(x, value > 0 ? high : low);
  Nanoseconds at = from;
  const auto rise = [&](double x0, double x1) {
    if (!ghost) fill.addRect(QRectF(x0, high, x1 - x0, low - high));
  };
  int guard = 0;
  while (at < to && ++guard < 20000) {
    const Nanoseconds next = trace.nextEdge(signal, at);
    if (next < 0 || next >= to) break;
    const double nx = xOf(next);
    // Several edges within this pixel: fill the column by its share of high time.
    const auto pixelEnd = static_cast<Nanoseconds>(static_cast<double>(next) + perPixel);
    const Nanoseconds following = trace.nextEdge(signal, next);
    if (following >= 0 && following < pixelEnd && perPixel > 1) {
      if (value > 0) rise(x, nx);
      line.lineTo(nx, value > 0 ? high : low);
      Nanoseconds dense = next;
      double dx = nx;
      const double denseFrom = nx;
      while (dense < to && ++guard < 20000) {
        const auto end =
            std::min(to, static_cast<Nanoseconds>(static_cast<double>(dense) + perPixel));
        const Nanoseconds edge = trace.nextEdge(signal, dense);
        if (edge < 0 || edge > end) break;
        const double share =
            trace.integral(signal, dense, end) / (static_cast<double>(end - dense) * 1e-9);
        QColor column = colour;
        column.setAlphaF(static_cast<float>((ghost ? 0.15 : 0.25) + 0.6 * share));
        p.fillRect(QRectF(dx, high, 1.2, low - high), column);
        dense = end;
        dx += 1;
      }
      if (casing.isValid())
        for (const double y : {high, low})
          p.fillRect(QRectF(denseFrom, y - 0.5, dx - denseFrom, 1), casing);
      at = dense;
      value = trace.valueAt(signal, at);
      x = xOf(at);
      line.moveTo(x, value > 0 ? high : low);
      continue;
    }
    if (value > 0) rise(x, nx);
    line.lineTo(nx, value > 0 ? high : low);
    value = trace.valueAt(signal, next);
    line.lineTo(nx, value > 0 ? high : low);
    x = nx;
    at = next;
  }
  const double end = xOf(to);
  if (value > 0) rise(x, end);
  line.lineTo(end, value > 0 ? high : low);
  QColor wash = colour;
  wash.setAlpha(45);
  p.setPen(Qt::NoPen);
  p.setBrush(wash);
  p.drawPath(fill);
  p.setBrush(Qt::NoBrush);
  const double width = ghost || box.height() < 12 ? 1.2 : 2;
  if (casing.isValid()) {
    p.setPen(QPen(casing, width + 1.6));
    p.drawPath(line);
  }
  p.setPen(QPen(colour, width));
  p.drawPath(line);
}

void TraceView::paintAxis(QPainter& p) const {
  const Theme& t = theme();
  const double wanted = span_ / std::max(2.0, (plotRight() - plotLeft()) / 130);
  double step = std::pow(10, std::floor(std::log10(wanted)));
  for (double m : {2.0, 5.0, 10.0})
    if (step < wanted) step = std::pow(10, std::floor(std::log10(wanted))) * m;
  p.setFont(t.text(11));
  for (double s = std::ceil(start_ / step) * step; s <= start_ + span_; s += step) {
    const double x = plotLeft() + (s - start_) / span_ * (plotRight() - plotLeft());
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(x, compact() ? 15 : 46), QPointF(x, height() - 6));
    p.setPen(t.ink2);
    p.drawText(QRectF(x - 50, compact() ? 0 : 30, 100, 15), Qt::AlignCenter, timeText(s, step));
  }
}

void TraceView::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.card);
  p.setPen(t.ink);
  p.setFont(t.text(14, QFont::Bold));
  if (!compact()) p.drawText(QRectF(20, 8, 200, 20), Qt::AlignVCenter, tr("What the pins did"));
  const auto trace = run_.trace();
  auto list = rows();
  if (!trace || list.empty()) {
    p.setFont(t.text(13));
    p.setPen(t.ink2);
    p.drawText(QRectF(20, compact() ? 10 : 40, width() - 40, 40), Qt::AlignLeft | Qt::TextWordWrap,
               run_.isOn() ? tr("No pin is used yet.")
                           : tr("Switch the power on (P): each used pin gets a line here."));
    return;
  }
  if (!compact()) {
    p.setFont(t.text(12));
    p.setPen(t.ink2);
    const QString what = !marks_.empty()        ? measured()
                         : run_.isLookingBack() ? tr("looking back · End returns to the present")
                         : run_.isOn() && !doc_.hasSteps()
                             ? tr("no program yet: click a pin at the left and set it by hand")
                             : tr("%1 shown · drag the marker to look back · wheel zooms")
                                   .arg(timeText(span_, span_ / 4));
    p.drawText(QRectF(166, 8, width() - 180, 20), Qt::AlignVCenter, what);
  }
  paintAxis(p);
  const auto shown = static_cast<std::size_t>(
      std::max(1.0, std::floor((height() - 5 - laneBox(0).top()) / laneBox(0).height())));
  if (list.size() > shown) {
    p.setFont(t.text(11));
    p.setPen(t.ink2);
    p.drawText(QRectF(20, compact() ? 1 : 28, plotLeft() - 40, 15), Qt::AlignVCenter,
               tr("+ %n more", nullptr, static_cast<int>(list.size() - shown)));
    list.resize(shown);
  }
  const auto ghost = run_.ghost();
  for (std::size_t i = 0; i < list.size(); ++i) {
    const QRectF box = laneBox(static_cast<int>(i));
    if (box.height() < 6) break;
    const QRectF chip = chipBox(static_cast<int>(i));
    const double tall = chip.height();
    const QColor casing = t.casing(list[i].colour, t.card);
    p.setPen(casing.isValid() ? QPen(casing, 1) : QPen(Qt::NoPen));
    p.setBrush(t.net(list[i].colour));
    p.drawRoundedRect(chip, 4, 4);
    p.setPen(t.netInk(list[i].colour));
    p.setFont(t.mono(std::min(12.0, tall - 1), QFont::Bold));
    p.drawText(chip, Qt::AlignCenter, QString::fromStdString(list[i].pin));
    const auto held = run_.isOn() ? run_.heldPercent(list[i].board, list[i].pin) : std::nullopt;
    const bool chosen = hasFocus() && lane_ == static_cast<int>(i);
    if (held || chosen) {  // a ring: in the hand, or chosen by keys
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(t.ink, chosen ? 2 : 1.6, chosen ? Qt::DashLine : Qt::SolidLine));
      p.drawRoundedRect(chip.adjusted(-3, -3, 3, 3), 6, 6);
    }
    const QString label = !held          ? list[i].label
                          : *held <= 0   ? tr("by hand: low")
                          : *held >= 100 ? tr("by hand: high")
                                         : tr("by hand: %1 %").arg(*held, 0, 'f', 0);
    p.setPen(t.ink);
    p.setFont(t.text(std::min(12.0, tall), held ? QFont::DemiBold : QFont::Normal));
    p.drawText(
        QRectF(62, box.top(), plotLeft() - 68, box.height()), Qt::AlignVCenter | Qt::AlignLeft,
        p.fontMetrics().elidedText(label, Qt::ElideRight, static_cast<int>(plotLeft() - 68)));
    p.save();
    p.setClipRect(box.adjusted(0, -1, 0, 1));
    if (ghost && run_.isOn()) paintRow(p, list[i], box, *ghost, true);
    paintRow(p, list[i], box, *trace, false);
    p.restore();
  }
  // Presses, resets, damage and changes on the time axis.
  QString lastLabel;
  double lastAt = -1;
  for (const Event& h : run_.events()) {
    const double x = xOf(h.at);
    if (x < plotLeft() || x > plotRight()) continue;
    QString label;
    QColor c = t.ink2;
    switch (h.what) {
      case Event::What::press:
        label = QStringLiteral("▾");
        break;
      case Event::What::release:
        label = QStringLiteral("▴");
        break;
      case Event::What::reset:
        label = tr("reset");
        break;
      case Event::What::changed:
        label = tr("changed");
        break;
      case Event::What::broke:
        label = tr("burnt"), c = t.danger;
        break;
      case Event::What::tripped:
        label = tr("overload"), c = t.danger;
        break;
      case Event::What::recovered:
        label = tr("back");
        break;
      case Event::What::missed:
        label = tr("not seen"), c = t.warning;
        break;
      default:
        continue;
    }
    p.setPen(QPen(c, 1, Qt::DotLine));
    p.drawLine(QPointF(x, compact() ? 16 : 46), QPointF(x, height() - 4));
    p.setFont(t.text(10));
    p.setPen(c);
    // The same said again and again, as of a button that bounces, is said once.
    constexpr double room = 44;
    if (label == lastLabel && label.size() > 1 && x - lastAt < room) continue;
    lastLabel = label;
    lastAt = x;
    p.drawText(QRectF(x - 40, height() - 14, 80, 12), Qt::AlignCenter, label);
  }
  paintMarks(p);
  // The now-marker.
  const double now = xOf(run_.isOn() ? run_.shownAt() : trace->end());
  if (now >= plotLeft() - 1 && now <= width()) {
    p.setPen(QPen(t.amber, 2.4));
    const double y = laneBox(0).top() - markerTall - 1;  // below the times, above the first line
    p.drawLine(QPointF(now, y), QPointF(now, height() - 4));
    p.setPen(Qt::NoPen);
    p.setBrush(t.amber);
    p.drawPolygon(QPolygonF({{now - 7, y}, {now + 7, y}, {now, y + markerTall}}));
  }
  // Under the pointer: the time, and the length of the level there.
  if (mouse_.x() > plotLeft() && mouse_.x() < plotRight() && !movingMarker_) {
    const Nanoseconds at = timeAt(mouse_.x());
    for (std::size_t i = 0; i < list.size(); ++i) {
      if (!laneBox(static_cast<int>(i)).contains(mouse_) || at > trace->end()) continue;
      const Nanoseconds before = trace->lastEdge(list[i].signal, at + 1),
                        after = trace->nextEdge(list[i].signal, at);
      QString text = trace->valueAt(list[i].signal, at) > 0 ? tr("high") : tr("low");
      if (before >= 0 && after >= 0) {
        const double length = static_cast<double>(after - before) * 1e-9;
        text += tr(" for %1").arg(timeText(length, length / 100));
      }
      p.setFont(t.text(12, QFont::DemiBold));
      const double w = p.fontMetrics().horizontalAdvance(text) + 20;
      QRectF box(mouse_.x() + 14, mouse_.y() - 28, w, 24);
      if (box.right() > width()) box.moveRight(mouse_.x() - 10);
      if (box.top() < 2) box.moveTop(mouse_.y() + 14);
      p.setPen(Qt::NoPen);
      p.setBrush(t.tooltip);
      p.drawRoundedRect(box, 5, 5);
      p.setPen(t.tooltipInk);
      p.drawText(box, Qt::AlignCenter, text);
    }
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 2));
    p.drawRect(rect().adjusted(1, 1, -1, -1));
  }
}

void TraceView::mousePressEvent(QMouseEvent* e) {
  setFocus();
  pressedAt_ = e->position();
  pressedStart_ = start_;
  if (!run_.isOn() || e->button() != Qt::LeftButton) {
    panning_ = true;
    return;
  }
  if ((e->modifiers() & Qt::ShiftModifier) && e->position().x() >= plotLeft()) {
    lane_ = laneAt(e->position());
    return setMark(timeAt(e->position().x()));
  }
  for (int i = 0; i < static_cast<int>(rows().size()); ++i)
    if (chipBox(i).adjusted(-4, -4, 4, 4).contains(e->position())) {
      lane_ = i;
      return wantPin(i);
    }
  if (std::abs(e->position().x() - xOf(run_.shownAt())) < 9 || e->position().y() < laneBox(0).top())
    movingMarker_ = true;
  else
    panning_ = true;
  if (movingMarker_) {
    following_ = false;
    run_.lookAt(timeAt(e->position().x()));
  }
}

void TraceView::mouseMoveEvent(QMouseEvent* e) {
  mouse_ = e->position();
  if (movingMarker_) {
    run_.lookAt(timeAt(std::clamp(e->position().x(), plotLeft(), plotRight())));
  } else if (panning_ && (e->buttons() != Qt::NoButton) &&
             std::abs(e->position().x() - pressedAt_.x()) > 3) {
    following_ = false;
    start_ = std::max(0.0, pressedStart_ - (e->position().x() - pressedAt_.x()) /
                                               (plotRight() - plotLeft()) * span_);
  }
  setCursor(run_.isOn() && std::abs(mouse_.x() - xOf(run_.shownAt())) < 9 ? Qt::SizeHorCursor
                                                                          : Qt::ArrowCursor);
  update();
}

void TraceView::mouseReleaseEvent(QMouseEvent* e) {
  const auto trace = run_.trace();
  if (movingMarker_ && trace && timeAt(e->position().x()) >= trace->end()) {
    run_.lookAtNow();
    following_ = true;
  }
  movingMarker_ = panning_ = false;
  follow();
  update();
}

void TraceView::mouseDoubleClickEvent(QMouseEvent*) {
  run_.lookAtNow();
  following_ = true;
  follow();
  update();
}

void TraceView::wheelEvent(QWheelEvent* e) {
  const double x = std::clamp(e->position().x(), plotLeft(), plotRight());
  const double at = static_cast<double>(timeAt(x)) * 1e-9;
  const double share = (x - plotLeft()) / (plotRight() - plotLeft());
  span_ = std::clamp(span_ * std::pow(1.0015, -e->angleDelta().y()), spanLeast, spanMost);
  if (!following_ || run_.isPaused() || run_.isLookingBack()) {
    start_ = std::max(0.0, at - share * span_);
    following_ = false;
  }
  follow();
  update();
  e->accept();
}

void TraceView::leaveEvent(QEvent*) {
  mouse_ = {-1, -1};
  update();
}

void TraceView::keyPressEvent(QKeyEvent* e) {
  const auto by = static_cast<Nanoseconds>(span_ * 1e9 / 40);
  const bool byEdges = e->modifiers() & Qt::ControlModifier;
  switch (e->key()) {
    case Qt::Key_F:
      if (!byEdges) return QWidget::keyPressEvent(e);
      Q_EMIT findWanted();
      return;
    case Qt::Key_M:
      if (e->modifiers() & Qt::ShiftModifier) {
        marks_.clear();
        return update();
      }
      return setMark(mouse_.x() > plotLeft() && mouse_.x() < plotRight() ? timeAt(mouse_.x())
                                                                         : run_.shownAt());
    case Qt::Key_Left:
      if (byEdges) return goToEdge(false);
      following_ = false;
      return run_.lookAt(std::max<Nanoseconds>(0, run_.shownAt() - by));
    case Qt::Key_Right:
      if (byEdges) return goToEdge(true);
      return run_.isLookingBack() ? run_.lookAt(run_.shownAt() + by) : void();
    case Qt::Key_Up:
    case Qt::Key_Down: {
      const int last = static_cast<int>(rows().size()) - 1;
      if (last < 0) return;
      lane_ = std::clamp(lane_ + (e->key() == Qt::Key_Down ? 1 : lane_ < 0 ? 1 : -1), 0, last);
      return update();
    }
    case Qt::Key_H:
      return wantPin(std::max(0, lane_));
    case Qt::Key_End:
      run_.lookAtNow();
      following_ = true;
      follow();
      return update();
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      span_ = std::max(spanLeast, span_ / 1.5);
      break;
    case Qt::Key_Minus:
      span_ = std::min(spanMost, span_ * 1.5);
      break;
    default:
      return QWidget::keyPressEvent(e);
  }
  follow();
  update();
}

}  // namespace ignavo::app
