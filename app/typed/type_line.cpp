#include "typed/type_line.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>

#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr int mostLines = 6;

// The field, with a wave under what cannot be read.
class Field : public QLineEdit {
 public:
  using QLineEdit::QLineEdit;
  int badFrom = -1, badLength = 0;

 protected:
  void paintEvent(QPaintEvent* e) override {
    QLineEdit::paintEvent(e);
    if (badFrom < 0) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QFontMetricsF metrics(font());
    const double left = cursorRect().left() + 1 -
                        metrics.horizontalAdvance(text().left(cursorPosition())) +
                        metrics.horizontalAdvance(text().left(badFrom));
    const double right =
        left + std::max(8.0, metrics.horizontalAdvance(text().mid(badFrom, badLength)));
    p.setPen(QPen(theme().danger, 1.6));
    QPainterPath wave(QPointF(left + 4, height() - 6));
    bool up = true;
    for (double x = left + 4; x < right + 4; x += 4, up = !up)
      wave.lineTo(x + 4, height() - (up ? 9 : 6));
    p.drawPath(wave);
  }
};

}  // namespace

TypeLine::TypeLine(Document& document, QWidget* parent) : QFrame(parent), doc_(document) {
  setObjectName(QStringLiteral("typeLine"));
  setAccessibleName(tr("Type-it line"));
  field_ = new Field(this);
  field_->setObjectName(QStringLiteral("typeField"));
  field_->setAccessibleName(tr("Type what should be placed, wired or changed"));
  field_->setPlaceholderText(tr("wire D4 a14   ·   red led i14 i16   ·   lamp on D6"));
  field_->setMaxLength(400);
  message_ = new QLabel(this);
  message_->setObjectName(QStringLiteral("typeMessage"));
  message_->setWordWrap(true);
  list_ = new QListWidget(this);
  list_->setObjectName(QStringLiteral("typeList"));
  list_->setAccessibleName(tr("How the line may go on"));
  list_->setFocusPolicy(Qt::NoFocus);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 12, 14, 10);
  column->setSpacing(6);
  column->addWidget(list_);
  column->addWidget(field_);
  column->addWidget(message_);
  field_->installEventFilter(this);
  connect(field_, &QLineEdit::textChanged, this, &TypeLine::refresh);
  connect(field_, &QLineEdit::textEdited, this, [this] { recalled_ = -1; });
  connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
    list_->setCurrentItem(item);
    acceptCompletion();
  });
  connect(&doc_, &Document::changed, this, [this] {
    if (isVisible()) refresh();
  });
  hide();
}

void TypeLine::restyle() {
  const Theme& t = theme();
  field_->setFont(t.mono(15));
  list_->setFont(t.mono(13));
  field_->setStyleSheet(
      QStringLiteral("QLineEdit { background: %1; color: %2; border: 2px solid %2; border-radius: "
                     "8px; padding: 8px 10px; font-family: \"JetBrains Mono\"; font-size: 15px; }")
          .arg(t.card.name(), t.ink.name()));
  list_->setStyleSheet(
      QStringLiteral("QListWidget { background: transparent; border: none; color: %1; } "
                     "QListWidget::item { padding: 3px 8px; border-radius: 5px; } "
                     "QListWidget::item:selected { background: %2; color: %3; }")
          .arg(t.ink.name(), t.ink.name(), t.inkOnDark.name()));
}

void TypeLine::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.line, 1));
  p.setBrush(t.paper);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 12, 12);
}

void TypeLine::open(const QString& begun) {
  restyle();
  show();
  raise();
  field_->setText(begun);
  field_->setFocus();
  recalled_ = -1;
  refresh();
  Q_EMIT opened();
}

void TypeLine::close() {
  if (!isVisible()) return;
  hide();
  field_->clear();
  Q_EMIT previewWanted(nullptr);
  Q_EMIT closed();
}

void TypeLine::refresh() {
  if (!isVisible()) return;
  const std::string line = field_->text().toStdString();
  typed_ = typeLine(doc_.project(), line, doc_.board());
  const Theme& t = theme();
  auto* field = static_cast<Field*>(field_);
  field->badFrom = -1;
  const bool blank = field_->text().trimmed().isEmpty();
  const std::vector<Completion> completions = completeLine(doc_.project(), line, doc_.board());
  if (typed_.problem) {
    // While a word is being typed that may still become right, it is not marked.
    const bool atEnd = typed_.problem->column + typed_.problem->length >= line.size();
    const bool unfinished = atEnd && !completions.empty();
    if (!unfinished && !blank) {
      field->badFrom = static_cast<int>(
          QString::fromUtf8(line.data(), static_cast<int>(typed_.problem->column)).size());
      field->badLength =
          static_cast<int>(QString::fromUtf8(line.data() + typed_.problem->column,
                                             static_cast<int>(typed_.problem->length))
                               .size());
    }
    const QString why = str(typed_.problem->message);
    message_->setText(unfinished ? tr("Tab completes the line.") : why);
    message_->setStyleSheet(
        QStringLiteral("color: %1; font-size: 13px;").arg((unfinished ? t.ink2 : t.danger).name()));
    Q_EMIT previewWanted(nullptr);
  } else {
    message_->setText(typed_.empty || blank
                          ? tr("Return does it, Tab completes it, Esc closes the line.")
                          : tr("Return: %1").arg(str(typed_.name)));
    message_->setStyleSheet(QStringLiteral("color: %1; font-size: 13px;").arg(t.ink2.name()));
    Q_EMIT previewWanted(typed_.empty || blank ? nullptr : &typed_.project);
  }
  list_->clear();
  for (const Completion& c : completions) {
    if (list_->count() >= 40) break;
    auto* item = new QListWidgetItem(list_);
    const QString text = str(c.line).trimmed();
    item->setText(c.means.empty() ? text : text + QStringLiteral("    ") + str(c.means));
    item->setData(Qt::UserRole, str(c.line));
  }
  const int rows = std::min(mostLines, list_->count());
  list_->setVisible(rows > 0);
  list_->setFixedHeight(rows * 25 + 4);
  field_->update();
  // Stands on the lower edge of its parent, as wide as is good to read.
  if (const QWidget* around = parentWidget()) {
    const int width = std::min(640, around->width() - 28);
    setFixedWidth(width);
    adjustSize();
    move((around->width() - width) / 2, around->height() - height() - 14);
  }
}

void TypeLine::acceptCompletion() {
  QListWidgetItem* item = list_->currentItem() ? list_->currentItem() : list_->item(0);
  if (!item) return;
  QString line = item->data(Qt::UserRole).toString();
  if (!line.endsWith(QLatin1Char(' '))) line += QLatin1Char(' ');
  field_->setText(line);
  field_->setFocus();
}

void TypeLine::enter() {
  if (list_->currentItem()) return acceptCompletion();
  if (field_->text().trimmed().isEmpty()) return close();
  if (typed_.problem) {
    const QString why = str(typed_.problem->message);
    message_->setText(why);
    message_->setStyleSheet(
        QStringLiteral("color: %1; font-size: 13px;").arg(theme().danger.name()));
    field_->setCursorPosition(static_cast<int>(typed_.problem->column));
    return;
  }
  if (typed_.empty) return field_->clear();
  history_ << field_->text();
  recalled_ = -1;
  const Typed done = typed_;
  Q_EMIT previewWanted(nullptr);
  doc_.edit(str(done.name), done.project);
  QStringList ids;
  for (const std::string& id : done.ids)
    if (doc_.project().part(id)) ids << str(id);
  if (!ids.isEmpty()) doc_.select(ids);
  field_->clear();  // ready for the next line
  message_->setText(tr("Done: %1. Ctrl+Z takes it back.").arg(str(done.name)));
}

bool TypeLine::eventFilter(QObject* watched, QEvent* e) {
  if (watched != field_ || e->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, e);
  auto* key = static_cast<QKeyEvent*>(e);
  const int rows = list_->count();
  switch (key->key()) {
    case Qt::Key_Escape:
      close();
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      enter();
      return true;
    case Qt::Key_Tab:
      acceptCompletion();
      return true;
    case Qt::Key_Down:
      list_->setCurrentRow(rows > 0 ? (list_->currentRow() + 1) % rows : -1);
      return true;
    case Qt::Key_Up:
      // On an empty line: the lines before.
      if (field_->text().isEmpty() || recalled_ >= 0) {
        if (history_.isEmpty()) return true;
        recalled_ =
            recalled_ < 0 ? static_cast<int>(history_.size()) - 1 : std::max(0, recalled_ - 1);
        const int keep = recalled_;
        field_->setText(history_.at(recalled_));
        recalled_ = keep;
        return true;
      }
      list_->setCurrentRow(list_->currentRow() <= 0 ? rows - 1 : list_->currentRow() - 1);
      return true;
    default:
      if (key->matches(QKeySequence::Undo) && field_->text().isEmpty()) {
        doc_.undo();
        return true;
      }
      return false;
  }
}

}  // namespace ignavo::app
