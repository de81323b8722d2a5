#include "theme/wrapping.h"

#include <algorithm>

namespace ignavo::app {

namespace {
// Every child widget with the size that it wants.
template <typename Visit>
void forEachChild(const QWidget& of, Visit&& visit) {
  for (QObject* child : of.children())
    if (auto* w = qobject_cast<QWidget*>(child))
      visit(*w, w->minimumSize() == w->maximumSize() ? w->minimumSize() : w->sizeHint());
}
}  // namespace

Wrapping::Wrapping(int gap, QWidget* parent) : QWidget(parent), gap_(gap) {
  QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Preferred);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
}

int Wrapping::arrange(int width, bool move) const {
  int x = 0, y = 0, high = 0;
  forEachChild(*this, [&](QWidget& w, QSize size) {
    if (x > 0 && x + size.width() > width) x = 0, y += high + gap_;
    if (move) w.setGeometry(QRect(QPoint(x, y), size));
    x += size.width() + gap_;
    high = size.height();
  });
  return y + high;
}

int Wrapping::heightForWidth(int width) const { return arrange(width, false); }

QSize Wrapping::sizeHint() const {
  int all = -gap_, high = 0;
  forEachChild(*this, [&](QWidget&, QSize size) {
    all += size.width() + gap_;
    high = std::max(high, size.height());
  });
  return {std::max(all, 0), high};
}

QSize Wrapping::minimumSizeHint() const {
  QSize widest;
  forEachChild(*this, [&](QWidget&, QSize size) { widest = widest.expandedTo(size); });
  return widest;
}

void Wrapping::resizeEvent(QResizeEvent*) { setMinimumHeight(arrange(width(), true)); }

}  // namespace ignavo::app
