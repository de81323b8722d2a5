#include "program/typing_card.h"

#include <QAccessible>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr double cardNotch = 7, cardRow = 26, cardAir = 10, cardWidest = 460;
}

TypingCard::TypingCard(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("typingCard"));
  setMouseTracking(true);
  setFocusPolicy(Qt::NoFocus);
  hide();
}

void TypingCard::show(QLineEdit* box, const QString& question, std::pair<int, int> word,
                      std::vector<Row> rows) {
  box_ = box;
  // On top of everything, so that nothing cuts it off.
  if (parentWidget() != box->window()) setParent(box->window());
  question_ = question;
  word_ = word;
  rows_ = std::move(rows);
  at_ = -1;
  if (question_.isEmpty() && rows_.empty()) return hide();
  place();
  // Read out: what is asked, or how many phrases there are.
  setAccessibleName(question_.isEmpty()
                        ? tr("%n phrases that begin so", nullptr, static_cast<int>(rows_.size()))
                        : question_);
  QWidget::show();
  raise();
  update();
}

void TypingCard::follow() {
  if (!isVisible()) return;
  if (box_ && box_->isVisible()) return place();
  hide();
}

double TypingCard::questionHeight() const {
  if (question_.isEmpty()) return 0;
  const QFontMetricsF m(theme().text(13, QFont::Medium));
  return m.boundingRect(QRectF(0, 0, width() - 2 * cardAir, 1000), Qt::TextWordWrap, question_)
             .height() +
         8;
}

// Below the box where there is room, else above it.
void TypingCard::place() {
  const QWidget* on = parentWidget();
  const QPoint at = box_->mapTo(on, QPoint(0, 0));
  const double width = std::min(cardWidest, on->width() - at.x() - cardAir);
  resize(static_cast<int>(std::max(200.0, width)), 10);
  const double height =
      cardNotch + cardAir + questionHeight() + cardRow * static_cast<double>(rows_.size());
  resize(this->width(), static_cast<int>(std::ceil(height)));
  const int below = at.y() + box_->height() + 1;
  above_ = below + this->height() > on->height();
  QWidget::move(at.x(), above_ ? std::max(0, at.y() - this->height() - 1) : below);
}

void TypingCard::move(int by) {
  const int count = static_cast<int>(rows_.size());
  if (count == 0) return;
  at_ += by;
  if (at_ >= count) at_ = -1;
  if (at_ < -1) at_ = count - 1;
  if (at_ >= 0) {
    setAccessibleDescription(rows_[static_cast<std::size_t>(at_)].phrase);
    QAccessibleEvent event(this, QAccessible::DescriptionChanged);
    QAccessible::updateAccessibility(&event);
  }
  update();
}

QString TypingCard::chosen() const {
  return isVisible() && at_ >= 0 ? rows_[static_cast<std::size_t>(at_)].phrase : QString();
}

int TypingCard::rowAt(double y) const {
  const int row =
      static_cast<int>(std::floor((y - (above_ ? 1 : cardNotch) - 4 - questionHeight()) / cardRow));
  return row >= 0 && row < static_cast<int>(rows_.size()) ? row : -1;
}

void TypingCard::mouseMoveEvent(QMouseEvent* e) {
  at_ = rowAt(e->position().y());
  update();
}

void TypingCard::mousePressEvent(QMouseEvent* e) {
  if (const int row = rowAt(e->position().y()); row >= 0 && box_)
    Q_EMIT picked(box_, QString(rows_[static_cast<std::size_t>(row)].phrase));
}

void TypingCard::paintEvent(QPaintEvent*) {
  if (!box_) return;
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool asks = !question_.isEmpty();
  // A sheet with a notch at the word.
  const QFontMetricsF typed(box_->font());
  const double before = typed.horizontalAdvance(box_->text().left(word_.first));
  const double across = typed.horizontalAdvance(box_->text().mid(word_.first, word_.second));
  const double x = std::clamp(8 + before + across / 2, 14.0, width() - 14.0);
  const QRectF sheet =
      QRectF(rect()).adjusted(1, above_ ? 1 : cardNotch, -1, above_ ? -cardNotch : -1);
  const double edge = above_ ? sheet.bottom() - 0.5 : sheet.top() + 0.5;
  QPainterPath path;
  path.addRoundedRect(sheet, 6, 6);
  QPainterPath point;
  point.moveTo(x - cardNotch, edge);
  point.lineTo(x, edge + (above_ ? cardNotch - 1 : 1 - cardNotch));
  point.lineTo(x + cardNotch, edge);
  point.closeSubpath();
  if (asks) path = path.united(point);
  p.setPen(QPen(asks ? t.warning : t.edge, 1.4));
  p.setBrush(t.card);
  p.drawPath(path);
  double y = sheet.top() + 4;
  if (asks) {
    p.setFont(t.text(13, QFont::Medium));
    p.setPen(t.ink);
    p.drawText(QRectF(cardAir, y, width() - 2 * cardAir, questionHeight() - 4),
               Qt::TextWordWrap | Qt::AlignVCenter, question_);
    y += questionHeight();
  }
  // What each does stands in a column of its own.
  const QFontMetricsF mono(t.mono(12.5));
  double column = 0;
  for (const Row& row : rows_) column = std::max(column, mono.horizontalAdvance(row.phrase) + 16);
  column = std::min(column, (width() - 2 * cardAir) * 0.62);
  for (std::size_t i = 0; i < rows_.size(); ++i, y += cardRow) {
    const QRectF row(4, y, width() - 8, cardRow);
    if (static_cast<int>(i) == at_) {
      p.setPen(QPen(t.ink, 1.6));
      p.setBrush(t.field);
      p.drawRoundedRect(row.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    }
    p.setFont(t.mono(12.5));
    p.setPen(t.ink);
    const QRectF words = row.adjusted(cardAir - 4, 0, -6, 0);
    const double room = rows_[i].help.isEmpty() ? words.width() : column - 10;
    p.drawText(words, Qt::AlignVCenter | Qt::AlignLeft,
               p.fontMetrics().elidedText(rows_[i].phrase, Qt::ElideRight, static_cast<int>(room)));
    p.setFont(t.text(12));
    p.setPen(t.ink2);
    p.drawText(words.adjusted(column, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
               p.fontMetrics().elidedText(rows_[i].help, Qt::ElideRight,
                                          static_cast<int>(words.width() - column)));
  }
}

}  // namespace ignavo::app
