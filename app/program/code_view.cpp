#include "program/code_view.h"

#include <QRegularExpression>
#include <QSyntaxHighlighter>
#include <QTextBlock>

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
    if (marking_ || textCursor().hasSelection()) return;
    const int line = textCursor().blockNumber() + 1;
    const CText::Span* best = nullptr;
    for (const CText::Span& s : text_.spans)
      if (line >= s.first && line <= s.last) best = &s;  // the innermost comes last
    if (best) doc_.selectStep(QString::fromStdString(best->step));
  });
  refresh();
}

void CodeView::refresh() {
  board_ = doc_.board();
  CText next = cText(doc_.project(), board_);
  const bool same = next.text == text_.text;
  text_ = std::move(next);
  marking_ = true;
  if (!same) setPlainText(QString::fromStdString(text_.text));
  marking_ = false;
  markStep();
}

void CodeView::markStep() {
  QList<QTextEdit::ExtraSelection> marks;
  for (const CText::Span& s : text_.spans) {
    if (s.step != doc_.selectedStep().toStdString()) continue;
    for (int line = s.first; line <= s.last; ++line) {
      QTextEdit::ExtraSelection mark;
      mark.cursor = QTextCursor(QPlainTextEdit::document()->findBlockByNumber(line - 1));
      mark.format.setBackground(theme().amberWash);
      mark.format.setProperty(QTextFormat::FullWidthSelection, true);
      marks << mark;
    }
    if (!hasFocus()) {
      marking_ = true;
      setTextCursor(QTextCursor(QPlainTextEdit::document()->findBlockByNumber(s.first - 1)));
      ensureCursorVisible();
      marking_ = false;
    }
  }
  setExtraSelections(marks);
}

}  // namespace ignavo::app
