#pragma once
#include <QPainter>
#include <QWidget>

#include "theme/theme.h"

namespace ignavo::app {

// The ground of what lies over the panes and belongs to no project: meter, damage, a pin in the hand.
inline void paintCard(QWidget& on, const QColor& edge) {
  QPainter p(&on);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(edge, 1.2));
  p.setBrush(theme().card);
  p.drawRoundedRect(QRectF(on.rect()).adjusted(0.6, 0.6, -0.6, -0.6), 8, 8);
}

}  // namespace ignavo::app
