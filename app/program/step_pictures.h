#pragma once
#include <QPainter>
#include <QString>

namespace ignavo::app {

// The picture of a kind of step, or of a ready-made group, in a square of 24 with lines in that
// ink: a row in step_pictures.cpp. False: it has none.
bool paintStepPicture(QPainter& p, const QString& kind, const QRectF& in, const QColor& ink);

}  // namespace ignavo::app
