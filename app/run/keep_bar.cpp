#include "run/keep_bar.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QLocale>
#include <QSaveFile>

#include "document/workers.h"
#include "theme/bar_parts.h"
#include "theme/named_button.h"

namespace ignavo::app {

namespace {
constexpr int lookEach = 200;  // milliseconds; what is done sooner needs no bar
}  // namespace

KeepBar::KeepBar(QWidget* parent) : QWidget(parent) {
  QHBoxLayout* row = barRow(this, "keepBar", {20, 5, 16, 5}, 10);
  words_ = barWords(this, "keepWords");
  words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(words_, 1);
  progress_ = barProgress(this, row, "keepProgress");
  progress_->setAccessibleName(tr("How much of the trace is in the file"));
  cancel_ = namedButton(this, row, "cancelKeep", tr("Cancel"));
  cancel_->setToolTip(tr("No file is written; one that was there before stays as it was"));
  connect(cancel_, &QPushButton::clicked, this, &KeepBar::cancel);
  look_.setInterval(lookEach);
  connect(&look_, &QTimer::timeout, this, &KeepBar::refresh);
  hide();
}

KeepBar::~KeepBar() { cancel(); }

void KeepBar::cancel() {
  if (job_) job_->cancelled = true;
}

void KeepBar::keep(std::shared_ptr<const Trace> trace, Write write, const QString& path) {
  if (job_) return;
  job_ = std::make_shared<Job>();
  file_ = QFileInfo(path).fileName();
  focus_ = window()->focusWidget();
  look_.start();
  workers().start([self = QPointer<KeepBar>(this), job = job_, trace, write, path] {
    QSaveFile file(path);
    const bool whole = file.open(QIODevice::WriteOnly) &&
                       write(*trace,
                             [&](std::string_view piece, double share) {
                               const auto size = static_cast<qint64>(piece.size());
                               if (job->cancelled || file.write(piece.data(), size) != size)
                                 return false;
                               job->share = share;
                               job->bytes += size;
                               return true;
                             }) &&
                       file.commit();
    const QString why = whole || job->cancelled ? QString() : file.errorString();
    QMetaObject::invokeMethod(
        qApp,
        [self, why, whole] {
          if (self) self->ended(why, whole);
        },
        Qt::QueuedConnection);
  });
}

void KeepBar::refresh() {
  const double share = job_->share;
  progress_->setValue(static_cast<int>(100 * share));
  words_->setText(
      // The name last: where it is too long for the line, nothing else is lost.
      tr("The trace is being written, %1 % so far (%2), to %3")
          .arg(static_cast<int>(100 * share))
          .arg(QLocale::c().formattedDataSize(job_->bytes, 1, QLocale::DataSizeSIFormat), file_));
  show();
}

void KeepBar::ended(const QString& why, bool whole) {
  job_.reset();
  look_.stop();
  if (window()->focusWidget() == cancel_ && focus_) focus_->setFocus();
  hide();
  if (whole || !why.isEmpty())
    Q_EMIT kept(file_, why);
  else
    Q_EMIT givenUp(file_);
}

}  // namespace ignavo::app
