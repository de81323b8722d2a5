#include "run/said_view.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

SaidView::SaidView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 2, 16, 6);
  column->setSpacing(4);
  log_ = new QPlainTextEdit(this);
  log_->setObjectName(QStringLiteral("runLog"));
  log_->setReadOnly(true);
  log_->setTabChangesFocus(true);
  log_->setAccessibleName(tr("Log"));
  log_->setFont(theme().mono(12));
  constexpr int least = 40, most = 74;
  log_->setMinimumHeight(least);
  log_->setMaximumHeight(most);
  constexpr int mostLines = 500;
  log_->setMaximumBlockCount(mostLines);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  row->addWidget(log_, 1);
  auto* keep = new QPushButton(tr("Keep the log…"), this);
  keep->setObjectName(QStringLiteral("keepLog"));
  keep->setToolTip(tr("As a text, with the time of each line"));
  connect(keep, &QPushButton::clicked, this, &SaidView::keepWanted);
  row->addWidget(keep, 0, Qt::AlignTop);
  column->addLayout(row);
  const auto update = [this] { show(run_.isOn() ? run_.said() : std::vector<SaidLine>()); };
  connect(&run_, &RunControl::updated, this, update);
  connect(&run_, &RunControl::stateChanged, this, update);
  update();
}

void SaidView::show(const std::vector<SaidLine>& said) {
  std::vector<SaidLine> lines;
  for (const SaidLine& line : said)
    if (!line.note) lines.push_back(line);
  showLog(std::move(lines));
  setVisible(!shown_.empty());
}

QString SaidView::told(const SaidLine& line) const {
  const bool several = doc_.project().boards.size() > 1;
  return QStringLiteral("%1 s  %2%3")
      .arg(static_cast<double>(line.at) * 1e-9, 9, 'f', 3)
      .arg(several ? str(line.board) + QStringLiteral("  ") : QString(), str(line.text));
}

QString SaidView::text() const {
  QString out;
  for (const SaidLine& line : shown_) out += told(line) + QLatin1Char('\n');
  return out;
}

// Mostly some lines more than before; else all of it anew.
void SaidView::showLog(std::vector<SaidLine> lines) {
  if (lines == shown_) return;
  // What follows the last one that stands there.
  auto first = shown_.empty() ? lines.end() : std::find(lines.begin(), lines.end(), shown_.back());
  const bool more = first != lines.end() && std::next(first) != lines.end();
  first = more ? std::next(first) : lines.begin();
  QStringList fresh;
  for (; first != lines.end(); ++first) fresh << told(*first);
  if (more) {
    log_->appendPlainText(fresh.join('\n'));
  } else {
    log_->setPlainText(fresh.join('\n'));
    log_->verticalScrollBar()->setValue(log_->verticalScrollBar()->maximum());
  }
  shown_ = std::move(lines);
}

}  // namespace ignavo::app
