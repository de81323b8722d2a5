#pragma once
#include <QPixmap>
#include <QTransform>
#include <map>
#include <string>

#include "art/art.h"

namespace ignavo::app {

// Parts that shine, as they were painted, for as long as they look the same: a lamp that stays lit
// or dark costs a copy of its pixels a frame. For the interface's thread.
class PartSprites {
 public:
  // Paints the part as its painter does, its light in 255 steps. One that looks otherwise in every
  // frame is painted anew and never kept.
  void paint(QPainter& p, const Part& part, PartLook look, PartPainter painter);
  // What is kept looks otherwise from now on, as in other colours, or is not needed any more.
  void clear() { kept_.clear(); }
  // How many of them are kept as pixels.
  int count() const;

 private:
  struct Kept {
    Part part;
    PartLook look;
    QTransform transform;
    qreal ratio = 0;
    QPixmap pixmap;  // null: it was not seen twice yet
    QPoint at;       // of its corner, in device pixels
  };
  std::map<std::string, Kept> kept_;  // by id
};

}  // namespace ignavo::app
