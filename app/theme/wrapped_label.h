#pragma once
#include <QFont>
#include <QHash>
#include <QLabel>

namespace ignavo::app {

// A label whose words wrap. Layouts ask it for its size many times over, and to break words into
// lines takes long: the answers are remembered.
class WrappedLabel : public QLabel {
 public:
  explicit WrappedLabel(const QString& text, QWidget* parent = nullptr);
  int heightForWidth(int width) const override;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 protected:
  void changeEvent(QEvent*) override;

 private:
  // Forgets what was true of other words, or of another font.
  void renew() const;
  mutable QString of_;
  mutable QFont in_;
  mutable QMargins around_;
  mutable QSize most_;
  mutable QHash<int, int> heights_;
  mutable QSize hint_, least_;
};

}  // namespace ignavo::app
