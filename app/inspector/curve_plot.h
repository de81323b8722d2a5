#pragma once
#include <QPolygonF>
#include <QString>
#include <QWidget>
#include <utility>
#include <vector>

namespace ignavo::app {

// One quantity against another: a curve, a limit across it, and two dots on it. Nothing to be done
// with it by mouse or keys.
class CurvePlot : public QWidget {
 public:
  struct Curve {
    QPolygonF points;  // from left to right
    double from = 0, to = 1;
    bool logarithmic = false;                       // from `from`, above 0
    std::vector<std::pair<double, QString>> marks;  // along the bottom
    double most = 1;                                // the top; the bottom is 0
    QString unit;                                   // of what goes up
    double limit = 0;                               // 0: none
    QString limitWords;
  };
  explicit CurvePlot(QWidget* parent);
  void setCurve(Curve curve);
  // Where it stands now, and where it is tried.
  void setNow(QPointF point);
  void setTried(QPointF point);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  QRectF inside() const;
  QPointF at(QPointF point) const;  // in pixels; what is above the top stands there

  Curve curve_;
  QPointF now_, tried_;
};

}  // namespace ignavo::app
