#include "program/shelf.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <array>

#include "program/groups.h"
#include "program/step_pictures.h"
#include "program/steps.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/wrapping.h"

namespace ignavo::app {

namespace {

constexpr double stepPicture = 24, lowButton = 30, tallButton = 50, buttonAir = 10;
// What a program begins with.
constexpr std::array<const char*, 5> first = {"set", "wait", "if", "repeat", "flip"};

ShelfButton::Text textOf(const StepKind& kind) {
  QStringList also;
  for (const std::string& alias : kind.aliases) also << str(alias);
  return {str(kind.kind), str(kind.label), str(kind.help), str(kind.example), also.join(' ')};
}
ShelfButton::Text textOf(const GroupKind& kind) {
  QString name = str(kind.name);
  name[0] = name[0].toUpper();
  QStringList also;
  for (const std::string& head : kind.heads) also << str(head);
  return {str(kind.name), name, str(kind.help), str(kind.name), also.join(' ')};
}

}  // namespace

ShelfButton::ShelfButton(Text text, bool whole, QWidget* parent)
    : QPushButton(parent), text_(std::move(text)), whole_(whole) {
  setObjectName(QStringLiteral("shelf-") + text_.kind);
  setAccessibleName(text_.label);
  setAccessibleDescription(text_.help);
  if (!whole_) setToolTip(tr("%1\nTyped: %2").arg(text_.help, text_.example));
  setSizePolicy(whole_ ? QSizePolicy::Expanding : QSizePolicy::Fixed, QSizePolicy::Fixed);
}

bool ShelfButton::isFoundBy(const QString& typed) const {
  const QString all =
      QStringList{text_.label, text_.help, text_.example, text_.found}.join(' ').toLower();
  const QStringList words = typed.toLower().split(' ', Qt::SkipEmptyParts);
  return std::all_of(words.begin(), words.end(),
                     [&](const QString& word) { return all.contains(word); });
}

QSize ShelfButton::sizeHint() const {
  if (whole_) return {260, static_cast<int>(tallButton)};
  const QFontMetricsF m(theme().text(13, QFont::Medium));
  return {static_cast<int>(m.horizontalAdvance(text_.label) + stepPicture + 2 * buttonAir + 6),
          static_cast<int>(lowButton)};
}

void ShelfButton::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF box = QRectF(rect()).adjusted(0.8, 0.8, -0.8, -0.8);
  p.setPen(QPen(hasFocus() ? t.ink : t.line, hasFocus() ? 2 : 1));
  p.setBrush(underMouse() || isDown() ? t.field : t.card);
  p.drawRoundedRect(box, 6, 6);
  const double side = whole_ ? stepPicture : 18;
  const QRectF drawn(box.left() + buttonAir, box.center().y() - side / 2, side, side);
  paintStepPicture(p, text_.kind, drawn, t.ink);
  const double from = drawn.right() + 8;
  p.setPen(t.ink);
  p.setFont(t.text(13, QFont::Medium));
  if (!whole_) {
    p.drawText(QRectF(from, box.top(), box.right() - from, box.height()),
               Qt::AlignVCenter | Qt::AlignLeft, text_.label);
    return;
  }
  // Its name and how it is typed, below what it does.
  const QRectF upper(from, box.top() + 6, box.right() - from - buttonAir, 18);
  p.drawText(upper, Qt::AlignVCenter | Qt::AlignLeft, text_.label);
  const double used = p.fontMetrics().horizontalAdvance(text_.label) + 14;
  p.setFont(t.mono(12));
  p.setPen(t.ink2);
  p.drawText(upper.adjusted(used, 0, 0, 0), Qt::AlignVCenter | Qt::AlignRight,
             p.fontMetrics().elidedText(text_.example, Qt::ElideRight,
                                        static_cast<int>(upper.width() - used)));
  p.setFont(t.text(12));
  const QRectF lower(from, box.top() + 25, box.right() - from - buttonAir, 18);
  QString help = text_.help;
  if (const auto end = help.indexOf(QStringLiteral(". ")); end > 0) help.truncate(end + 1);
  p.drawText(lower, Qt::AlignVCenter | Qt::AlignLeft,
             p.fontMetrics().elidedText(help, Qt::ElideRight, static_cast<int>(lower.width())));
  // What is cut off is told whole.
  const bool cut = p.fontMetrics().horizontalAdvance(help) > lower.width() || help != text_.help;
  if (cut && toolTip().isEmpty()) setToolTip(text_.help);
}

Shelf::Shelf(QWidget* parent) : QWidget(parent) {
  auto* around = new QHBoxLayout(this);
  around->setContentsMargins(20, 0, 12, 0);
  auto* row = new Wrapping(6, this);
  around->addWidget(row);
  for (const char* name : first) {
    auto* b = new ShelfButton(textOf(*stepKind(name)), false, row);
    b->setFocusPolicy(Qt::TabFocus);  // a box that is open among the steps stays so
    b->setObjectName(QStringLiteral("first-") + QLatin1String(name));
    connect(b, &QPushButton::clicked, this, [this, b] { pick(*b, false); });
  }
  more_ = new QPushButton(tr("More steps"), row);
  more_->setObjectName(QStringLiteral("moreSteps"));
  more_->setToolTip(tr("All kinds of steps, and ready-made groups"));
  connect(more_, &QPushButton::clicked, this, [this] {
    if (all_->isVisible())
      closeAll();
    else
      openAll();
  });

  all_ = new QFrame(parent);
  all_->setObjectName(QStringLiteral("allSteps"));
  all_->setProperty(keepsBoxOpen, true);
  all_->hide();
  auto* column = new QVBoxLayout(all_);
  column->setContentsMargins(10, 10, 10, 10);
  column->setSpacing(8);
  search_ = new QLineEdit(all_);
  search_->setObjectName(QStringLiteral("searchSteps"));
  search_->setPlaceholderText(tr("Search: lamp, count, sound …"));
  search_->setAccessibleName(tr("Search the steps"));
  search_->installEventFilter(this);
  connect(search_, &QLineEdit::textChanged, this, &Shelf::search);
  column->addWidget(search_);
  scroll_ = new QScrollArea(all_);
  scroll_->setWidgetResizable(true);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  rows_ = new QWidget(scroll_);
  auto* list = new QVBoxLayout(rows_);
  list->setContentsMargins(0, 0, 4, 0);
  list->setSpacing(4);
  const auto head = [&](const QString& text) {
    auto* label = new QLabel(text, rows_);
    label->setProperty("aside", true);
    list->addWidget(label);
    heads_.push_back(label);
  };
  const auto add = [&](ShelfButton::Text text, bool group) {
    auto* b = new ShelfButton(std::move(text), true, rows_);
    b->installEventFilter(this);
    connect(b, &QPushButton::clicked, this, [this, b, group] { pick(*b, group); });
    list->addWidget(b);
    (group ? groups_ : steps_).push_back(b);
  };
  head(tr("Steps"));
  for (const StepKind* kind : stepKinds()) add(textOf(*kind), false);
  head(tr("Ready-made groups of steps"));
  for (const GroupKind& kind : groupKinds()) add(textOf(kind), true);
  list->addStretch();
  scroll_->setWidget(rows_);
  column->addWidget(scroll_, 1);
}

void Shelf::arrange() {
  const QWidget* on = all_->parentWidget();
  const QPoint below = mapTo(on, QPoint(20, height() + 4));
  constexpr int widest = 560;
  all_->setGeometry(below.x(), below.y(), std::min(widest, on->width() - below.x() - 12),
                    std::max(160, on->height() - below.y() - 12));
}

void Shelf::resizeEvent(QResizeEvent*) {
  if (all_->isVisible()) arrange();
}

void Shelf::openAll() {
  arrange();
  search_->clear();
  search(QString());
  all_->show();
  all_->raise();
  search_->setFocus();
}

void Shelf::closeAll() {
  all_->hide();
  more_->setFocus();
}

void Shelf::search(const QString& typed) {
  bool any[2] = {false, false};
  for (const bool group : {false, true})
    for (ShelfButton* b : group ? groups_ : steps_) {
      b->setVisible(b->isFoundBy(typed));
      any[group] = any[group] || b->isFoundBy(typed);
    }
  heads_[0]->setVisible(any[0]);
  heads_[1]->setVisible(any[1]);
}

// From the search to the first that is found, and on from there.
void Shelf::goTo(int step) {
  std::vector<ShelfButton*> found;
  for (const auto* list : {&steps_, &groups_})
    for (ShelfButton* b : *list)
      if (!b->isHidden()) found.push_back(b);
  if (found.empty()) return;
  int at = -1;
  for (std::size_t i = 0; i < found.size(); ++i)
    if (found[i]->hasFocus()) at = static_cast<int>(i);
  at += step;
  if (at < 0) return search_->setFocus();
  ShelfButton* next =
      found[static_cast<std::size_t>(std::min<int>(at, static_cast<int>(found.size()) - 1))];
  next->setFocus();
  scroll_->ensureWidgetVisible(next, 0, 10);
}

void Shelf::pick(const ShelfButton& button, bool group) {
  all_->hide();
  if (group)
    Q_EMIT groupPicked(button.text().example);
  else
    Q_EMIT kindPicked(button.text().kind.toStdString());
}

bool Shelf::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  const auto* key = static_cast<QKeyEvent*>(event);
  switch (key->key()) {
    case Qt::Key_Down:
      goTo(1);
      return true;
    case Qt::Key_Up:
      goTo(-1);
      return true;
    case Qt::Key_Escape:
      closeAll();
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (watched == search_)
        goTo(1);
      else
        static_cast<ShelfButton*>(watched)->click();
      return true;
    default:
      return QWidget::eventFilter(watched, event);
  }
}

}  // namespace ignavo::app
