#include "findings/readings_pane.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <algorithm>
#include <cmath>

#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// "11.4 mA", "5.00 A": what is above a thousand is told in the larger unit.
QString figure(double value, const QString& unit, int decimals) {
  return value < 0.9995 ? QStringLiteral("%1 m%2").arg(value * 1000, 0, 'f', decimals).arg(unit)
                        : QStringLiteral("%1 %2").arg(value, 0, 'f', 2).arg(unit);
}

constexpr int firstRow = 55, rowStep = 23, rowHeight = 22;  // pixels
constexpr int edge = 20;

// Where the columns lie, as shares of the width: texts begin there, figures end there.
constexpr double whenAt = 0.165, voltsEnd = 0.40, ampsEnd = 0.49, shareAt = 0.51, shareEnd = 0.68,
                 limitAt = 0.69, wattsEnd = 0.91;

}  // namespace

ReadingsPane::ReadingsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("readings"));
  setAccessibleName(tr("Worst reading of each part"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  const auto fill = [this] {
    setMinimumHeight(firstRow + 15 + rowStep * count());
    if (at_ >= count()) goTo(-1, false);
    update();
  };
  connect(&doc_, &Document::checked, this, fill);
  fill();
}

int ReadingsPane::count() const { return static_cast<int>(doc_.check().readings.size()); }

QRect ReadingsPane::rowRect(int index) const {
  return {12, firstRow + index * rowStep, width() - 24, rowHeight};
}

int ReadingsPane::rowAt(QPointF at) const {
  const int i = static_cast<int>(std::floor((at.y() - firstRow) / rowStep));
  return i >= 0 && i < count() ? i : -1;
}

void ReadingsPane::goTo(int index, bool byKeys) {
  keyed_ = byKeys && index >= 0;
  if (index == at_) return update();
  at_ = index;
  if (index >= 0) {
    const WorstReading& r = doc_.check().readings[static_cast<std::size_t>(index)];
    setAccessibleDescription(tr("%1, %2: %3 V, %4")
                                 .arg(str(r.name), whenOf(r))
                                 .arg(r.volts, 0, 'f', 2)
                                 .arg(figure(std::abs(r.amps), QStringLiteral("A"), 1)));
  }
  update();
  Q_EMIT pointed(index);
}

QString ReadingsPane::whenOf(const WorstReading& r) const {
  QStringList when;
  for (const auto& [id, how] : r.pose) {
    const Part* part = doc_.project().part(id);
    if (how == "high") when << tr("%1 high").arg(str(id));
    if (how == "pressed") when << tr("%1 held").arg(part ? str(part->name) : str(id));
    // A switch that stands otherwise than it was left, a knob that is turned.
    if (part && how != "pressed" && how != "released")
      when << tr("%1 at %2").arg(str(part->name), str(how));
  }
  return when.isEmpty() ? tr("always") : when.join(QStringLiteral(", "));
}

void ReadingsPane::paintRow(QPainter& p, int index) const {
  const Theme& t = theme();
  const WorstReading& r = doc_.check().readings[static_cast<std::size_t>(index)];
  const QRect row = rowRect(index);
  const double w = width();
  if (index % 2 == 0 || index == at_) {
    p.setPen(index == at_ ? QPen(t.ink2, 1) : QPen(Qt::NoPen));
    p.setBrush(t.field);
    p.drawRoundedRect(QRectF(row).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
  }
  if (index == at_ && keyed_ && hasFocus()) {
    p.setPen(QPen(t.ink, 2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(row).adjusted(1, 1, -1, -1), 5, 5);
  }
  const auto cell = [&](double from, double to, const QString& text, Qt::Alignment align) {
    const QRectF box(from, row.top(), to - from, rowHeight);
    p.drawText(box, Qt::AlignVCenter | align,
               p.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(box.width())));
  };
  p.setFont(t.text(12.5, QFont::DemiBold));
  p.setPen(t.ink);
  cell(edge, w * whenAt - 8, str(r.name), Qt::AlignLeft);
  p.setFont(t.text(12.5));
  p.setPen(t.ink2);
  cell(w * whenAt, w * voltsEnd - 72, whenOf(r), Qt::AlignLeft);
  p.setFont(t.mono(12.5));
  p.setPen(t.ink);
  cell(w * voltsEnd - 90, w * voltsEnd,
       QString::number(std::abs(r.volts) < 0.005 ? 0.0 : r.volts, 'f', 2) + tr(" V"),
       Qt::AlignRight);
  cell(w * voltsEnd, w * ampsEnd, figure(std::abs(r.amps), QStringLiteral("A"), 1), Qt::AlignRight);
  cell(w * wattsEnd - 140, w * wattsEnd,
       (r.watts < -0.0005 ? tr("gives %1") : QStringLiteral("%1"))
           .arg(figure(std::abs(r.watts), QStringLiteral("W"), 0)),
       Qt::AlignRight);
  if (r.limit.empty()) return;
  const QRectF bar(w * shareAt, row.top() + 7, w * (shareEnd - shareAt), 8);
  p.setPen(Qt::NoPen);
  p.setBrush(t.line);
  p.drawRoundedRect(bar, 4, 4);
  const double share = std::clamp(r.share, 0.0, 1.0);
  p.setBrush(r.share > 1.5 ? t.danger : r.share > 1 ? t.warning : t.good);
  if (share > 0.005)
    p.drawRoundedRect(QRectF(bar.left(), bar.top(), std::max(6.0, bar.width() * share), 8), 4, 4);
  p.setPen(t.ink2);
  p.setFont(t.text(12));
  cell(w * limitAt, w * wattsEnd - 70,
       (r.share < 9.995 ? tr("%1 % of %2").arg(r.share * 100, 0, 'f', 0)
                        : tr("%1 × %2").arg(r.share, 0, 'f', 0))
           .arg(str(r.limit)),
       Qt::AlignLeft);
}

void ReadingsPane::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.card);
  const double w = width();
  p.setFont(t.text(14, QFont::Bold));
  p.setPen(t.ink);
  p.drawText(QRectF(edge, 10, 400, 20), Qt::AlignVCenter, tr("Worst reading of each part"));
  p.setFont(t.text(11.5, QFont::DemiBold));
  p.setPen(t.ink2);
  const auto head = [&](double at, const QString& text, bool endsThere) {
    const QRectF box(endsThere ? at - 120 : at, 34, endsThere ? 120 : 240, 18);
    p.drawText(box, Qt::AlignVCenter | (endsThere ? Qt::AlignRight : Qt::AlignLeft), text);
  };
  head(edge, tr("Part"), false);
  head(w * whenAt, tr("When"), false);
  head(w * voltsEnd, tr("Voltage"), true);
  head(w * ampsEnd, tr("Current"), true);
  head(w * shareAt, tr("Share of its limit"), false);
  head(w * wattsEnd, tr("Heat"), true);
  if (count() == 0) {
    const auto& findings = doc_.check().findings;
    const bool shorted = std::any_of(findings.begin(), findings.end(),
                                     [](const Finding& f) { return f.rule == "short-circuit"; });
    p.setFont(t.text(13));
    p.drawText(QRectF(edge, 58, w - 2 * edge, 22), Qt::AlignVCenter,
               shorted ? tr("A short circuit takes all that the supply can give, so nothing else "
                            "can be read. Without it the readings stand here.")
                       : tr("Nothing is wired yet. Readings of every part and pin will stand "
                            "here."));
    return;
  }
  for (int i = 0; i < count(); ++i) paintRow(p, i);
}

void ReadingsPane::mouseMoveEvent(QMouseEvent* e) { goTo(rowAt(e->position()), false); }

void ReadingsPane::leaveEvent(QEvent*) {
  if (!keyed_) goTo(-1, false);
}

void ReadingsPane::mousePressEvent(QMouseEvent* e) {
  const int i = rowAt(e->position());
  goTo(i, false);
  if (i >= 0) Q_EMIT chosen(i);
}

void ReadingsPane::keyPressEvent(QKeyEvent* e) {
  const int last = count() - 1;
  const auto go = [&](int index) {
    goTo(std::clamp(index, 0, last), true);
    for (QWidget* w = parentWidget(); w; w = w->parentWidget())
      if (auto* area = qobject_cast<QScrollArea*>(w)) {
        const QPoint middle = rowRect(at_).center();
        return area->ensureVisible(middle.x(), middle.y(), 0, rowStep);
      }
  };
  if (last < 0) return QWidget::keyPressEvent(e);
  switch (e->key()) {
    case Qt::Key_Down:
      return go(at_ + 1);
    case Qt::Key_Up:
      return go(at_ - 1);
    case Qt::Key_Home:
      return go(0);
    case Qt::Key_End:
      return go(last);
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Space:
      if (at_ >= 0) Q_EMIT chosen(at_);
      return;
    default:
      QWidget::keyPressEvent(e);
  }
}

void ReadingsPane::focusInEvent(QFocusEvent* e) {
  if (e->reason() != Qt::MouseFocusReason && count() > 0) goTo(std::max(0, at_), true);
  QWidget::focusInEvent(e);
}

void ReadingsPane::focusOutEvent(QFocusEvent* e) {
  if (keyed_) goTo(-1, false);
  QWidget::focusOutEvent(e);
}

}  // namespace ignavo::app
