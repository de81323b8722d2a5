#include "trace/trace_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <map>

#include "theme/theme.h"
#include "trace/trace_accessible.h"
#include "trace/trace_words.h"

namespace ignavo::app {

namespace {
constexpr double spanLeast = 20e-6, spanMost = 86400;
}  // namespace

TraceView::TraceView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("trace"));
  setAccessibleName(tr("What the pins did"));
  setAccessibleDescription(
      tr("Left and right look back and forward, plus and minus zoom, End returns to the present. "
         "Up and down choose a line, with Alt they move it, Delete hides it, H holds its pin by "
         "hand. Ctrl with left and right goes from "
         "edge to edge, M sets a mark."));
  makeTracesAccessible();
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
  connect(&doc_, &Document::checked, this, [this] {
    found_.checkedAgain();
    update();
  });
  follow();
}

void TraceView::showMoment(Nanoseconds moment) {
  constexpr Nanoseconds around = 20'000'000;
  showStretch(moment - around / 2, around);
}

void TraceView::showStretch(Nanoseconds from, Nanoseconds wide) {
  following_ = false;
  span_ = inSeconds(std::max<Nanoseconds>(wide, 1000));
  start_ = std::max(0.0, inSeconds(from));
  update();
}

void TraceView::showNewest(Nanoseconds wide) {
  span_ = inSeconds(std::max<Nanoseconds>(wide, 1000));
  following_ = true;
  follow();
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

void TraceView::paintHappening(QPainter& p, double x, const QString& label,
                               const QColor& colour) const {
  p.setPen(QPen(colour, 1, Qt::DotLine));
  p.drawLine(QPointF(x, compact() ? 16 : 46), QPointF(x, height() - 4));
  // Words stand above the arrows of a press that is there as well.
  const bool words = label.size() > 1;
  p.setFont(theme().text(words ? 10 : 7));
  p.setPen(colour);
  // Not over the names of the lines.
  const double half = words ? p.fontMetrics().horizontalAdvance(label) / 2.0 + 3 : 0;
  const double middle = std::max(x, plotLeft() + half);
  const QRectF place(middle - 40, height() - (words && !compact() ? 27 : 14), 80, 12);
  if (words)  // on a ground of their own, for they may lie over the last line
    p.fillRect(QRectF(middle - half, place.top() - 1, 2 * half, place.height() + 2), theme().card);
  p.drawText(place, Qt::AlignCenter, label);
}

// The names of all lines can be read, as long as enough is left for what they did.
void TraceView::makeRoomForNames(const std::vector<Row>& list) {
  constexpr double least = 150, most = 220, begin = 62, gap = 10;
  QString names = QString::number(width());
  for (const Row& row : list) names += row.label + QLatin1Char('\n');
  if (names == names_) return;
  names_ = names;
  const QFontMetricsF metrics(theme().text(12));
  double widest = 0;
  for (const Row& row : list) widest = std::max(widest, metrics.horizontalAdvance(row.label));
  plotLeft_ =
      std::clamp(begin + widest + gap, least, std::max(least, std::min(most, width() * 0.2)));
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
  makeRoomForNames(list);
  paintAxis(p);
  std::vector<QRectF> boxes;
  for (std::size_t i = 0; i < list.size(); ++i) boxes.push_back(laneBox(static_cast<int>(i), list));
  std::size_t shown = 1;
  while (shown < list.size() && boxes[shown].bottom() <= height() - 5) ++shown;
  if (list.size() > shown) {
    p.setFont(t.text(11));
    p.setPen(t.ink2);
    p.drawText(QRectF(20, compact() ? 1 : 28, plotLeft() - 40, 15), Qt::AlignVCenter,
               tr("+ %n more", nullptr, static_cast<int>(list.size() - shown)));
    list.resize(shown);
  }
  const auto ghost = run_.ghost();
  for (std::size_t i = 0; i < list.size(); ++i) {
    const QRectF& box = boxes[i];
    if (box.height() < 6) break;
    const QRectF chip = chipIn(box);
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
    const auto paint =
        list[i].of.what == Signal::What::pinLevel ? &TraceView::paintRow : &TraceView::paintCurve;
    if (ghost && run_.isOn()) (this->*paint)(p, list[i], box, *ghost, true);
    (this->*paint)(p, list[i], box, *trace, false);
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
        label = QStringLiteral("▼");
        break;
      case Event::What::release:
        label = QStringLiteral("▲");
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
      case Event::What::bounced: {
        // Where it can be seen: it is over within 3 ms.
        constexpr double longest = 3e-3, visible = 24;
        if (longest / span_ * (plotRight() - plotLeft()) < visible) continue;
        label = tr("bounces"), c = t.warning;
        break;
      }
      case Event::What::missed:
      case Event::What::overlooked:
        label = tr("not seen"), c = t.warning;
        break;
      default:
        continue;
    }
    // The same said again and again, as of a button that bounces, is said once.
    constexpr double room = 44;
    const bool again = label == lastLabel && label.size() > 1 && x - lastAt < room;
    paintHappening(p, x, again ? QString() : label, c);
    if (again) continue;
    lastLabel = label;
    lastAt = x;
  }
  // Of several at one place the gravest is to be seen.
  std::map<int, Severity> gravest;
  for (const FindingMoments::Moment& m : found_.all())
    if (const double x = xOf(m.at); x >= plotLeft() && x <= plotRight()) {
      const auto [it, fresh] = gravest.emplace(qRound(x), m.severity);
      it->second = std::max(it->second, m.severity);
    }
  for (const auto& [x, severity] : gravest)
    paintHappening(p, x, QString::fromUtf8(severityTitle(severity)), t.severity(severity));
  if (const auto shownNow = run_.isOn() ? run_.shown() : nullptr)
    for (const ProgramFault& fault : shownNow->faults)
      if (const double x = xOf(fault.at); x >= plotLeft() && x <= plotRight())
        paintHappening(p, x, tr("fault"), t.warning);
  paintMarks(p);
  // The now-marker.
  const double now = xOf(run_.isOn() ? run_.shownAt() : trace->end());
  if (now >= plotLeft() - 1 && now <= width()) {
    p.setPen(QPen(t.amber, 2.4));
    const double y = boxes[0].top() - markerTall - 1;  // below the times, above the first line
    p.drawLine(QPointF(now, y), QPointF(now, height() - 4));
    p.setPen(Qt::NoPen);
    p.setBrush(t.amber);
    p.drawPolygon(QPolygonF({{now - 7, y}, {now + 7, y}, {now, y + markerTall}}));
  }
  // Under the pointer: the time, and the length of the level there.
  if (mouse_.x() > plotLeft() && mouse_.x() < plotRight() && !movingMarker_) {
    const Nanoseconds at = timeAt(mouse_.x());
    for (std::size_t i = 0; i < list.size(); ++i) {
      if (!boxes[i].contains(mouse_) || at > trace->end()) continue;
      const Nanoseconds before = trace->lastEdge(list[i].signal, at + 1),
                        after = trace->nextEdge(list[i].signal, at);
      QString text = levelText(list[i], *trace, at);
      if (before >= 0 && after >= 0 && list[i].of.what == Signal::What::pinLevel) {
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
  if (resizedLine_ = lowerEdgeAt(e->position()); resizedLine_ >= 0) return;
  for (int i = 0; i < static_cast<int>(rows().size()); ++i)
    if (chipBox(i).adjusted(-4, -4, 4, 4).contains(e->position())) {
      lane_ = movingLine_ = i;  // a click: that pin by hand
      return update();
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
  if (resizedLine_ >= 0) {
    const auto list = rows();
    const QRectF box = laneBox(resizedLine_);
    const double times = heightOf(list[static_cast<std::size_t>(resizedLine_)].of);
    setHeight(resizedLine_, times * std::max(4.0, mouse_.y() - box.top()) / box.height());
  } else if (movingLine_ >= 0) {
    if (const int over = laneAt(e->position()); over >= 0 && over != movingLine_) {
      moveLine(movingLine_, over);
      movingLine_ = over;
      pressedAt_ = {-1, -1};  // no click any more
    }
  } else if (movingMarker_) {
    run_.lookAt(timeAt(std::clamp(e->position().x(), plotLeft(), plotRight())));
  } else if (panning_ && (e->buttons() != Qt::NoButton) &&
             std::abs(e->position().x() - pressedAt_.x()) > 3) {
    following_ = false;
    start_ = std::max(0.0, pressedStart_ - (e->position().x() - pressedAt_.x()) /
                                               (plotRight() - plotLeft()) * span_);
  }
  setCursor(resizedLine_ >= 0 || lowerEdgeAt(mouse_) >= 0                   ? Qt::SizeVerCursor
            : run_.isOn() && std::abs(mouse_.x() - xOf(run_.shownAt())) < 9 ? Qt::SizeHorCursor
                                                                            : Qt::ArrowCursor);
  update();
}

// Between the chips: where one line ends and the next begins.
int TraceView::lowerEdgeAt(QPointF place) const {
  constexpr double reach = 3;
  if (place.x() < 8 || place.x() >= plotLeft() || !run_.isOn()) return -1;
  for (int i = 0; i < static_cast<int>(rows().size()); ++i)
    if (std::abs(laneBox(i).bottom() - place.y()) <= reach &&
        !chipBox(i).adjusted(-4, -1, 4, 1).contains(place))
      return i;
  return -1;
}

void TraceView::mouseReleaseEvent(QMouseEvent* e) {
  if (std::exchange(resizedLine_, -1) >= 0) return update();
  if (const int lane = std::exchange(movingLine_, -1); lane >= 0) {
    if (pressedAt_.x() >= 0) wantPin(lane);
    return update();
  }
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
    case Qt::Key_Delete:
      return hideLine(lane_);
    case Qt::Key_Up:
    case Qt::Key_Down: {
      if (e->modifiers() & Qt::AltModifier)
        return moveLine(lane_, lane_ + (e->key() == Qt::Key_Down ? 1 : -1));
      const int last = static_cast<int>(rows().size()) - 1;
      if (last < 0) return;
      lane_ = std::clamp(lane_ + (e->key() == Qt::Key_Down ? 1 : lane_ < 0 ? 1 : -1), 0, last);
      return update();
    }
    case Qt::Key_H:
      return wantPin(std::max(0, lane_));
    case Qt::Key_Question:
      return askWhy(std::max(0, lane_), run_.shownAt());
    case Qt::Key_End:
      run_.lookAtNow();
      following_ = true;
      follow();
      return update();
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      if ((e->modifiers() & Qt::AltModifier) && lane_ >= 0)
        return setHeight(lane_, 1.5 * heightOf(rows()[static_cast<std::size_t>(lane_)].of));
      span_ = std::max(spanLeast, span_ / 1.5);
      break;
    case Qt::Key_Minus:
      if ((e->modifiers() & Qt::AltModifier) && lane_ >= 0)
        return setHeight(lane_, heightOf(rows()[static_cast<std::size_t>(lane_)].of) / 1.5);
      span_ = std::min(spanMost, span_ * 1.5);
      break;
    default:
      return QWidget::keyPressEvent(e);
  }
  follow();
  update();
}

}  // namespace ignavo::app
