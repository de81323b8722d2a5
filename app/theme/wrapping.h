#pragma once
#include <QWidget>

namespace ignavo::app {

// Its children beside each other, each as large as it wants to be, in as many rows as the
// width asks for.
class Wrapping : public QWidget {
 public:
  explicit Wrapping(int gap, QWidget* parent);
  int heightForWidth(int width) const override;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  int arrange(int width, bool move) const;
  int gap_;
};

}  // namespace ignavo::app
