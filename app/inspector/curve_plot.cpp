#include "inspector/curve_plot.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "theme/theme.h"

namespace ignavo::app {

namespace {

// A step of 1, 2 or 5 times a power of ten, with which there are at most four marks above zero.
double niceStep(double most) {
  const double rough = most / 4, decade = std::pow(10, std::floor(std::log10(rough)));
  for (const double nice : {1.0, 2.0, 5.0})
    if (nice * decade * 1.001 >= rough) return nice * decade;
  return 10 * decade;
}

}  // namespace

CurvePlot::CurvePlot(QWidget* parent) : QWidget(parent) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
}

void CurvePlot::setCurve(Curve curve) {
  curve_ = std::move(curve);
  update();
}

void CurvePlot::setNow(QPointF point) {
  now_ = point;
  update();
}

void CurvePlot::setTried(QPointF point) {
  tried_ = point;
  update();
}

QRectF CurvePlot::inside() const {
  constexpr double left = 38, top = 18, right = 12, bottom = 22;
  return QRectF(rect()).adjusted(left, top, -right, -bottom);
}

QPointF CurvePlot::at(QPointF point) const {
  const QRectF r = inside();
  const double x = curve_.logarithmic
                       ? std::log(point.x() / curve_.from) / std::log(curve_.to / curve_.from)
                       : (point.x() - curve_.from) / (curve_.to - curve_.from);
  const double y = std::clamp(point.y() / curve_.most, 0.0, 1.0);
  return {r.left() + x * r.width(), r.bottom() - y * r.height()};
}

void CurvePlot::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF r = inside();
  constexpr double tall = 16, wide = 60;
  p.setFont(t.text(11));
  const auto across = [&](double y) { return at({curve_.from, y}).y(); };
  // Numbers up the left, with the unit above them; marks along the bottom.
  const double step = niceStep(curve_.most);
  for (double y = 0; y <= curve_.most; y += step) {
    p.setPen(QPen(t.line, 1, y > 0 ? Qt::DotLine : Qt::SolidLine));
    p.drawLine(QPointF(r.left(), across(y)), QPointF(r.right(), across(y)));
    p.setPen(t.ink2);
    p.drawText(QRectF(0, across(y) - tall / 2, r.left() - 6, tall),
               Qt::AlignRight | Qt::AlignVCenter, QString::number(y));
  }
  p.drawText(QRectF(0, 0, r.left() - 6, tall), Qt::AlignRight | Qt::AlignTop, curve_.unit);
  for (const auto& [value, words] : curve_.marks) {
    const double x = at({value, 0}).x();
    p.setPen(QPen(t.line, 1, Qt::DotLine));
    p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom() + 4));
    p.setPen(t.ink2);
    const double begins = std::clamp(x - wide / 2, 0.0, width() - wide);
    const Qt::Alignment side = begins < x - wide / 2 ? Qt::AlignRight : Qt::AlignHCenter;
    p.drawText(QRectF(begins, r.bottom() + 5, wide, tall), side | Qt::AlignTop, words);
  }
  p.setPen(QPen(t.line, 1));
  p.drawLine(r.topLeft(), r.bottomLeft());

  p.save();
  p.setClipRect(r.adjusted(0, -1, 1, 1));
  QPolygonF line;
  for (const QPointF& point : curve_.points)
    line << QPointF(at(point).x(), r.bottom() - point.y() / curve_.most * r.height());
  p.setPen(QPen(t.ink, 1.8));
  p.drawPolyline(line);
  p.restore();
  if (curve_.limit > 0) {
    const double y = across(curve_.limit);
    p.setPen(QPen(t.danger, 1.4, Qt::DashLine));
    p.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    p.drawText(QRectF(r.left(), y - tall - 1, r.width(), tall), Qt::AlignRight | Qt::AlignBottom,
               curve_.limitWords);
  }
  const auto dot = [&](QPointF point, const QColor& fill, double radius) {
    p.setPen(QPen(t.ink, 1.6));
    p.setBrush(fill);
    p.drawEllipse(at(point), radius, radius);
  };
  dot(now_, t.card, 3.5);
  dot(tried_, t.amber, 5);
}

}  // namespace ignavo::app
