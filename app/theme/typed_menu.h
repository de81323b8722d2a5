#pragma once
#include <QElapsedTimer>
#include <QMenu>

namespace ignavo::app {

// A menu in which what is typed goes to the line that begins so: "d1" to D1, "d12" to D12. A pause
// begins anew.
class TypedMenu : public QMenu {
 public:
  using QMenu::QMenu;

 protected:
  void keyPressEvent(QKeyEvent*) override;

 private:
  QAction* beginning(const QString& typed) const;
  QString typed_;
  QElapsedTimer since_;
};

}  // namespace ignavo::app
