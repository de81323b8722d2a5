#pragma once
#include <QLabel>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QWidget>
#include <atomic>
#include <memory>

#include "format/trace_text.h"

namespace ignavo::app {

// Keeps what was recorded in a file: in another thread, as it may be long; then how far it is
// stands in a line below the top bar, and it can be given up. One after another. Where it ends
// early, given up or by what is in its way, what was in the file before stays.
class KeepBar : public QWidget {
  Q_OBJECT
 public:
  explicit KeepBar(QWidget* parent = nullptr);
  ~KeepBar() override;
  // Does nothing while another is being kept.
  using Write = bool (*)(const Trace&, const TakeText&);
  void keep(std::shared_ptr<const Trace> trace, Write write, const QString& path);
  bool isKeeping() const { return job_ != nullptr; }
  void cancel();

 Q_SIGNALS:
  // `why` is empty where all went well.
  void kept(const QString& file, const QString& why);
  void givenUp(const QString& file);

 private:
  struct Job {
    std::atomic<bool> cancelled = false;
    std::atomic<double> share = 0;
    std::atomic<qint64> bytes = 0;
  };
  void refresh();
  void ended(const QString& why, bool whole);
  std::shared_ptr<Job> job_;
  QString file_;
  QPointer<QWidget> focus_;  // what had it before
  QLabel* words_;
  QProgressBar* progress_;
  QPushButton* cancel_;
  QTimer look_;
};

}  // namespace ignavo::app
