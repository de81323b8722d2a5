#include "theme/placeholders.h"

#include <QApplication>
#include <QEvent>
#include <QLineEdit>
#include <QPalette>

#include "theme/theme.h"

namespace ignavo::app {

namespace {

class ClearPlaceholders : public QObject {
 public:
  using QObject::QObject;

 protected:
  // Whenever the style has set a field's palette.
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() != QEvent::PaletteChange) return false;
    auto* field = qobject_cast<QLineEdit*>(watched);
    if (!field || field->palette().color(QPalette::PlaceholderText) == theme().ink2) return false;
    QPalette palette = field->palette();
    palette.setColor(QPalette::PlaceholderText, theme().ink2);
    field->setPalette(palette);
    return false;
  }
};

}  // namespace

void showPlaceholdersClearly() {
  static QObject* filter = nullptr;
  if (filter) return;
  filter = new ClearPlaceholders(qApp);
  qApp->installEventFilter(filter);
  QObject::connect(qApp, &QObject::destroyed, [] { filter = nullptr; });
}

}  // namespace ignavo::app
