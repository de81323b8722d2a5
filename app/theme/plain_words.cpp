#include "theme/plain_words.h"

#include <QApplication>
#include <QHelpEvent>
#include <QLabel>
#include <QToolTip>

namespace ignavo::app {

namespace {

class PlainWords : public QObject {
 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() == QEvent::Polish) {
      // A tip is a label as well; what it may show was decided when it was asked for.
      auto* label = qobject_cast<QLabel*>(watched);
      if (label && label->textFormat() == Qt::AutoText && !label->inherits("QTipLabel"))
        label->setTextFormat(Qt::PlainText);
    } else if (event->type() == QEvent::ToolTip) {
      auto* widget = qobject_cast<QWidget*>(watched);
      if (!widget || widget->toolTip().isEmpty() || widget->property("markup").toBool() ||
          !Qt::mightBeRichText(widget->toolTip()))
        return false;
      QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), asMarkup(widget->toolTip()),
                         widget);
      return true;
    }
    return false;
  }

 private:
  // What only looks like markup, spelled out.
  static QString asMarkup(const QString& words) {
    return QStringLiteral("<p style='white-space:pre-wrap'>%1</p>").arg(words.toHtmlEscaped());
  }
};

}  // namespace

void showWordsPlainly() {
  static QObject* filter = nullptr;
  if (filter) return;
  filter = new PlainWords(qApp);
  qApp->installEventFilter(filter);
  QObject::connect(qApp, &QObject::destroyed, [] { filter = nullptr; });
}

}  // namespace ignavo::app
