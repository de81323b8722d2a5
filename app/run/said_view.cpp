#include "run/said_view.h"

#include <QVBoxLayout>

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
  log_ = new QPlainTextEdit(this);
  log_->setObjectName(QStringLiteral("runLog"));
  log_->setReadOnly(true);
  log_->setTabChangesFocus(true);
  log_->setAccessibleName(tr("Log"));
  log_->setFont(theme().mono(12));
  constexpr int height = 74;
  log_->setFixedHeight(height);
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
  const bool several = doc_.project().boards.size() > 1;
  for (const SaidLine& line : said) {
    if (line.at > now) break;  // while looking back
    if (line.note)
      note = &line;
    else
      lines.push_back(line);
  }
  if (note && note->seconds > 0 && static_cast<double>(now - note->at) * 1e-9 >= note->seconds)
    note = nullptr;
  note_->setVisible(note != nullptr);
  if (note) {
    note_->setText(tr("Note: %1").arg(str(note->text)));
    note_->setStyleSheet(QStringLiteral("font-weight: 600; padding: 4px 8px; background: %1; "
                                        "border: 1px solid %2; border-radius: 4px;")
                             .arg(theme().card.name(), theme().ink.name()));
  }
  if (lines != shown_) {
    const auto told = [&](const SaidLine& line) {
      return QStringLiteral("%1 s  %2%3")
          .arg(static_cast<double>(line.at) * 1e-9, 9, 'f', 3)
          .arg(several ? str(line.board) + QStringLiteral("  ") : QString(), str(line.text));
    };
    // Mostly some lines more than before.
    const bool more =
        lines.size() > shown_.size() && std::equal(shown_.begin(), shown_.end(), lines.begin());
    if (!more) log_->clear();
    for (std::size_t i = more ? shown_.size() : 0; i < lines.size(); ++i)
      log_->appendPlainText(told(lines[i]));
    shown_ = std::move(lines);
  }
  log_->setVisible(!shown_.empty());
  setVisible(note || !shown_.empty());
}

}  // namespace ignavo::app
