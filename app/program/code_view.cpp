#include "program/code_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSyntaxHighlighter>
#include <QTextBlock>
#include <algorithm>

#include "document/when_shown.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// Pins in their colours, remarks pale.
class Colouring : public QSyntaxHighlighter {
 public:
  Colouring(QTextDocument* text, Document& doc, const std::string& board)
      : QSyntaxHighlighter(text), doc_(doc), board_(board) {}

 protected:
  void highlightBlock(const QString& line) override {
    const Theme& t = theme();
    static const QRegularExpression pin(QStringLiteral("(?:set_|read_)([A-Z][0-9]+)"));
    static const QRegularExpression remark(QStringLiteral("/\\*.*?\\*/"));
    static const QRegularExpression word(QStringLiteral(
        "\\b(for|if|else|while|return|static|inline|void|bool|int|uint32_t|struct)\\b"));
    for (auto it = word.globalMatch(line); it.hasNext();) {
      const auto m = it.next();
      QTextCharFormat f;
      f.setFontWeight(QFont::Bold);
      setFormat(static_cast<int>(m.capturedStart()), static_cast<int>(m.capturedLength()), f);
    }
    for (auto it = pin.globalMatch(line); it.hasNext();) {
      const auto m = it.next();
      const int index = doc_.identities().ofPin(board_, m.captured(1).toStdString());
      if (index < 0) continue;
      QTextCharFormat f;
      f.setBackground(t.net({NetColour::Kind::pin, index}));
      f.setForeground(t.netInk({NetColour::Kind::pin, index}));
      f.setFontWeight(QFont::Bold);
      setFormat(static_cast<int>(m.capturedStart(1)), static_cast<int>(m.capturedLength(1)), f);
    }
    static const QRegularExpression fold(QStringLiteral("^[▸▾] .*$"));
    if (fold.match(line).hasMatch()) {  // in place of lines
      QTextCharFormat f;
      f.setForeground(t.ink2);
      f.setFontItalic(true);
      return setFormat(0, static_cast<int>(line.size()), f);
    }
    for (auto it = remark.globalMatch(line); it.hasNext();) {
      const auto m = it.next();
      QTextCharFormat f;
      f.setForeground(t.ink2);
      setFormat(static_cast<int>(m.capturedStart()), static_cast<int>(m.capturedLength()), f);
    }
  }

 private:
  Document& doc_;
  const std::string& board_;
};

}  // namespace

CodeView::CodeView(Document& document, QWidget* parent) : QPlainTextEdit(parent), doc_(document) {
  setObjectName(QStringLiteral("codeView"));
  setAccessibleName(tr("The program as C text"));
  setReadOnly(true);
  setFont(theme().mono(12));
  setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  setLineWrapMode(QPlainTextEdit::NoWrap);
  new Colouring(QPlainTextEdit::document(), doc_, board_);
  auto* lazy = new WhenShown(this, [this] { refresh(); });
  connect(&doc_, &Document::changed, lazy, &WhenShown::ask);
  connect(&doc_, &Document::boardChosen, lazy, &WhenShown::ask);
  connect(&doc_, &Document::stepSelected, this, &CodeView::markStep);
  connect(this, &QPlainTextEdit::cursorPositionChanged, this, [this] {
    if (!marking_ && !textCursor().hasSelection()) selectStepAt(textCursor().blockNumber());
  });
  refresh();
}

void CodeView::refresh() {
  if (board_ != doc_.board()) open_.clear();
  board_ = doc_.board();
  CText next = cText(doc_.project(), board_);
  const bool same = next.text == text_.text;
  text_ = std::move(next);
  if (!same) write();
  markStep();
}

// The lines, with one in place of each fold.
void CodeView::write() {
  lines_.clear();
  QStringList shown;
  const QStringList all = wholeText().split(QLatin1Char('\n'));
  for (int line = 1; line <= all.size(); ++line) {
    for (int fold = 0; fold < static_cast<int>(text_.machinery.size()); ++fold) {
      const CText::Lines& lines = text_.machinery[static_cast<std::size_t>(fold)];
      if (line != lines.first) continue;
      const bool open = open_.count(fold) != 0;
      shown << tr("%1 %n lines that know the chip", nullptr, lines.last - lines.first + 1)
                   .arg(open ? QStringLiteral("▾") : QStringLiteral("▸"));
      lines_.push_back(-1 - fold);
      if (!open) line = lines.last + 1;
    }
    if (line > all.size()) break;
    shown << all[line - 1];
    lines_.push_back(line);
  }
  marking_ = true;
  const int scrolled = verticalScrollBar()->value();
  setPlainText(shown.join(QLatin1Char('\n')));
  verticalScrollBar()->setValue(scrolled);
  marking_ = false;
}

int CodeView::foldAt(int block) const {
  const auto i = static_cast<std::size_t>(block);
  return i < lines_.size() && lines_[i] < 0 ? -1 - lines_[i] : -1;
}

int CodeView::blockOf(int line) const {
  const auto it = std::find(lines_.begin(), lines_.end(), line);
  return it == lines_.end() ? -1 : static_cast<int>(it - lines_.begin());
}

void CodeView::toggle(int fold) {
  if (open_.erase(fold) == 0) open_.insert(fold);
  write();
  marking_ = true;
  const auto it = std::find(lines_.begin(), lines_.end(), -1 - fold);
  setTextCursor(QTextCursor(
      QPlainTextEdit::document()->findBlockByNumber(static_cast<int>(it - lines_.begin()))));
  marking_ = false;
  markStep();
}

void CodeView::mouseReleaseEvent(QMouseEvent* e) {
  QPlainTextEdit::mouseReleaseEvent(e);
  const int fold = foldAt(cursorForPosition(e->position().toPoint()).blockNumber());
  if (fold >= 0 && !textCursor().hasSelection()) toggle(fold);
}

void CodeView::keyPressEvent(QKeyEvent* e) {
  const int fold = foldAt(textCursor().blockNumber());
  if (fold >= 0 && (e->key() == Qt::Key_Return || e->key() == Qt::Key_Space)) return toggle(fold);
  QPlainTextEdit::keyPressEvent(e);
}

void CodeView::selectStepAt(int block) {
  const auto i = static_cast<std::size_t>(block);
  const int line = i < lines_.size() ? lines_[i] : 0;
  const CText::Span* best = nullptr;
  for (const CText::Span& s : text_.spans)
    if (line >= s.first && line <= s.last) best = &s;  // the innermost comes last
  if (best) doc_.selectStep(QString::fromStdString(best->step));
}

void CodeView::markStep() {
  QList<QTextEdit::ExtraSelection> marks;
  const auto* whole = QPlainTextEdit::document();
  for (const CText::Span& s : text_.spans) {
    if (s.step != doc_.selectedStep().toStdString()) continue;
    for (int line = s.first; line <= s.last; ++line) {
      const int block = blockOf(line);
      if (block < 0) continue;
      QTextEdit::ExtraSelection mark;
      mark.cursor = QTextCursor(whole->findBlockByNumber(block));
      mark.format.setBackground(theme().amberWash);
      mark.format.setProperty(QTextFormat::FullWidthSelection, true);
      marks << mark;
    }
    if (!hasFocus() && blockOf(s.first) >= 0) {
      marking_ = true;
      setTextCursor(QTextCursor(whole->findBlockByNumber(blockOf(s.first))));
      ensureCursorVisible();
      marking_ = false;
    }
  }
  setExtraSelections(marks);
}

}  // namespace ignavo::app
