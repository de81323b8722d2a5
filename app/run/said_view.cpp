#include "run/said_view.h"

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
  note_ = new QLabel(this);
  note_->setObjectName(QStringLiteral("runNote"));
  note_->setWordWrap(true);
  note_->setTextFormat(Qt::PlainText);
  note_->setProperty("paper", true);
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
  column->addWidget(note_);
  column->addWidget(log_);
  setVisible(false);
  const auto update = [this] {
    if (!run_.isOn()) return show({}, 0);
    show(run_.said(), run_.shownAt());
  };
  connect(&run_, &RunControl::updated, this, update);
  connect(&run_, &RunControl::stateChanged, this, update);
}

void SaidView::show(const std::vector<SaidLine>& said, Nanoseconds now) {
  const SaidLine* note = nullptr;
  std::vector<SaidLine> lines;
  for (const SaidLine& line : said)
    if (line.note)
      note = &line;
    else
      lines.push_back(line);
  if (note && note->seconds > 0 && static_cast<double>(now - note->at) * 1e-9 >= note->seconds)
    note = nullptr;
  const QString text = note ? tr("Note: %1").arg(str(note->text)) : QString();
  if (text != note_->text()) note_->setText(text);
  note_->setVisible(note != nullptr);
  showLog(std::move(lines));
  log_->setVisible(!shown_.empty());
  setVisible(note || !shown_.empty());
}

// Mostly some lines more than before; else all of it anew.
void SaidView::showLog(std::vector<SaidLine> lines) {
  if (lines == shown_) return;
  const bool several = doc_.project().boards.size() > 1;
  const auto told = [&](const SaidLine& line) {
    return QStringLiteral("%1 s  %2%3")
        .arg(static_cast<double>(line.at) * 1e-9, 9, 'f', 3)
        .arg(several ? str(line.board) + QStringLiteral("  ") : QString(), str(line.text));
  };
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
