#pragma once
#include "art/art.h"

// What several painters share.
namespace ignavo::app {

// Where a part's body lies: painters draw it around the origin, as in the
// first way of its footprint, in a painter that was moved and turned so.
struct Frame {
  QPointF centre;
  double degrees = 0;
  QSizeF size;
  void enter(QPainter& p) const {
    p.translate(centre);
    p.rotate(degrees);
  }
};
Frame frameOf(const Part& part, const PartLook& look);

// Bare legs from their holes towards the body.
void paintLegs(QPainter& p, const PartLook& look, QPointF towards, double width = 2.2);
// A flexible lead from a body's edge to where its end is.
void paintLead(QPainter& p, QPointF from, QPointF to, const QColor& colour);
// Light around a lamp, 0 … 1.
void paintGlow(QPainter& p, QPointF at, const QColor& colour, double light, double radius);
// The colour of a lamp's glass at that light; at its brightest it is `lit`.
QColor litColour(const QColor& colour, double light, const QColor& lit);
inline QColor litColour(const QColor& colour, double light) {
  return litColour(colour, light, colour.lighter(120));
}
// A plus at a body's plus side.
void paintPlus(QPainter& p, QPointF at, double size = 9);
// The way from a round body's middle to its first leg, `radius` long.
QPointF towardsFirstLeg(const PartLook& look, QPointF middle, double radius);
// Rings that go out while something sounds.
void paintSoundRings(QPainter& p, QPointF at, double radius, double hertz);
// A cross over what is damaged.
void paintCross(QPainter& p, QPointF at, double size = 5);

// A board’s body with its shadow on the mat.
void shadowed(QPainter& p, const QRectF& r, double radius, const QColor& fill, const QColor& edge);

}  // namespace ignavo::app
