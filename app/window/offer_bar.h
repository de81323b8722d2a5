#pragma once
#include <QLabel>
#include <QList>
#include <QPair>
#include <QWidget>

class QHBoxLayout;

namespace ignavo::app {

// A sentence with answers above the bench; nothing waits for them.
class OfferBar : public QWidget {
  Q_OBJECT
 public:
  explicit OfferBar(QWidget* parent = nullptr);
  // Answers as (object name, words), the usual one first.
  void ask(const QString& sentence, const QList<QPair<QString, QString>>& answers);
  QString sentence() const { return words_->text(); }

 Q_SIGNALS:
  void answered(const QString& name);

 private:
  QLabel* words_;
  QHBoxLayout* buttons_;
};

}  // namespace ignavo::app
