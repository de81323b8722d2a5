#include "trace/find_bar.h"

#include <QCoreApplication>
#include <QKeyEvent>
#include <QPointer>
#include <algorithm>

#include "document/workers.h"
#include "format/bench_words.h"
#include "program/phrases/finding.h"
#include "run/find_when.h"
#include "theme/bar_parts.h"
#include "theme/named_button.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

FindBar::FindBar(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  QHBoxLayout* row = barRow(this, "findBar", {20, 4, 16, 4}, 10);
  row->addWidget(new QLabel(tr("Find when"), this));
  box_ = new QLineEdit(this);
  box_->setObjectName(QStringLiteral("findBox"));
  box_->setAccessibleName(tr("Find when: a condition"));
  box_->setPlaceholderText(tr("D4 and D5 both high, red lamp lit longer than 2 s …"));
  box_->setMaximumWidth(360);
  row->addWidget(box_, 1);
  next_ = namedButton(this, row, "findNext", tr("Find"));
  next_->setToolTip(tr("From the beginning; once more, the next time (Return)"));
  answer_ = new QLabel(this);
  answer_->setObjectName(QStringLiteral("findAnswer"));
  answer_->setTextFormat(Qt::PlainText);
  answer_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(answer_, 1);
  close_ = namedButton(this, row, "findClose", QStringLiteral("×"));
  close_->setProperty("close", true);
  close_->setAccessibleName(tr("Close"));
  close_->setToolTip(tr("Close (Escape)"));
  close_->setFixedWidth(30);
  connect(box_, &QLineEdit::returnPressed, this, &FindBar::find);
  connect(next_, &QPushButton::clicked, this, &FindBar::find);
  connect(close_, &QPushButton::clicked, this, [this] {
    hide();
    Q_EMIT closed();
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (!run_.isOn()) asked_.clear();
  });
  // The past that is made once more, with what is looked for.
  connect(&run_, &RunControl::turnChanged, this, [this] {
    if (waits_ && !run_.isTurning()) {
      waits_ = false;
      find();
    }
  });
  hide();
}

FindBar::~FindBar() {
  if (looking_) *looking_ = true;
}

void FindBar::open() {
  show();
  box_->setFocus();
  box_->selectAll();
}

void FindBar::tell(const QString& words, bool wrong) {
  answer_->setText(words);
  answer_->setToolTip(words);
  answer_->setStyleSheet(wrong ? QStringLiteral("color: %1;").arg(theme().warning.name())
                               : QString());
}

// From the beginning; the same once more goes on from where it was found.
void FindBar::find() {
  const auto trace = run_.trace();
  if (!trace || !run_.isOn()) return tell(tr("There is no run to look through."), true);
  const QString typed = box_->text().trimmed();
  const ParsedExpr read =
      readFind(typed.toStdString(), findWords(doc_.project(), doc_.nets(), doc_.board()));
  if (!read.value) return tell(str(read.problem), true);
  const bool further = typed == asked_ && foundAt_ >= 0;
  asked_ = typed;
  if (looking_) *looking_ = true;
  looking_ = std::make_shared<std::atomic<bool>>(false);
  tell(tr("Looking …"), false);
  QPointer<FindBar> self(this);
  workers().start([self, trace, further, board = doc_.board(), test = *read.value,
                   after = further ? foundAt_ : trace->begin() - 1, cancelled = looking_] {
    const FoundWhen found = findWhen(*trace, board, test, after, [&] { return cancelled->load(); });
    QMetaObject::invokeMethod(
        qApp,
        [self, found, further, cancelled] {
          if (!self || self->looking_ != cancelled) return;
          self->looking_.reset();
          self->foundAt_ = found.at.value_or(-1);
          if (!found.missing.empty()) return self->record(found.missing);
          if (found.problem) return self->tell(str(*found.problem), true);
          if (!found.at)
            return self->tell(further ? tr("It was not so again.") : tr("It was never so."), false);
          self->tell(tr("At %1 s").arg(inSeconds(*found.at), 0, 'f', 6), false);
          Q_EMIT self->found(*found.at);
        },
        Qt::QueuedConnection);
  });
}

// What was not recorded yet is, and it looks once more.
void FindBar::record(const std::vector<Signal>& missing) {
  const std::vector<Signal>& all = run_.probes();
  for (const Signal& signal : missing)
    if (std::find(all.begin(), all.end(), signal) != all.end())
      return tell(tr("“%1” was not recorded in this run.").arg(str(signal.name)), true);
  for (const Signal& signal : missing) run_.probe(signal);
  if (!run_.isTurning()) return find();
  waits_ = true;
}

void FindBar::keyPressEvent(QKeyEvent* e) {
  if (e->key() != Qt::Key_Escape) return QWidget::keyPressEvent(e);
  hide();
  Q_EMIT closed();
}

}  // namespace ignavo::app
