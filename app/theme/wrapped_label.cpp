#include "theme/wrapped_label.h"

#include <QEvent>

namespace ignavo::app {

WrappedLabel::WrappedLabel(const QString& text, QWidget* parent) : QLabel(text, parent) {
  setWordWrap(true);
}

void WrappedLabel::renew() const {
  ensurePolished();  // the style sheet may have another font for it
  if (of_ == text() && in_ == font() && around_ == contentsMargins() && most_ == maximumSize())
    return;
  of_ = text();
  in_ = font();
  around_ = contentsMargins();
  most_ = maximumSize();
  heights_.clear();
  hint_ = least_ = QSize();
}

int WrappedLabel::heightForWidth(int width) const {
  renew();
  const auto known = heights_.constFind(width);
  if (known != heights_.constEnd()) return *known;
  const int height = QLabel::heightForWidth(width);
  heights_.insert(width, height);
  return height;
}

QSize WrappedLabel::sizeHint() const {
  renew();
  if (!hint_.isValid()) hint_ = QLabel::sizeHint();
  return hint_;
}

QSize WrappedLabel::minimumSizeHint() const {
  renew();
  if (!least_.isValid()) least_ = QLabel::minimumSizeHint();
  return least_;
}

// A style sheet's margins come without a change of these.
void WrappedLabel::changeEvent(QEvent* e) {
  if (e->type() == QEvent::StyleChange) of_ = QString(), heights_.clear(), hint_ = least_ = QSize();
  QLabel::changeEvent(e);
}

}  // namespace ignavo::app
