#include "cabinet/cabinet.h"

#include <QAction>
#include <QApplication>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QIconEngine>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <algorithm>

#include "theme/theme.h"

namespace ignavo::app {

namespace {
const QString firstThings = QStringLiteral("First things");
// In the order in which learners need them.
const QStringList drawerOrder = {firstThings,
                                 QStringLiteral("Small circuits"),
                                 QStringLiteral("Light"),
                                 QStringLiteral("Sound"),
                                 QStringLiteral("Movement"),
                                 QStringLiteral("Press and turn"),
                                 QStringLiteral("Sense"),
                                 QStringLiteral("Limit and store"),
                                 QStringLiteral("Power"),
                                 QStringLiteral("Boards")};

// In the colour of the day, or of the night.
class Cross final : public QIconEngine {
 public:
  void paint(QPainter* p, const QRect& box, QIcon::Mode, QIcon::State) override {
    const QRectF cross = QRectF(QPointF(), QSizeF(box.size()) * 0.5);
    p->save();
    p->translate(QRectF(box).center() - cross.center());
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(QPen(theme().ink2, cross.width() / 5, Qt::SolidLine, Qt::RoundCap));
    p->drawLine(cross.topLeft(), cross.bottomRight());
    p->drawLine(cross.topRight(), cross.bottomLeft());
    p->restore();
  }
  QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
    QPixmap out(size);
    out.fill(Qt::transparent);
    QPainter p(&out);
    paint(&p, QRect(QPoint(), size), mode, state);
    return out;
  }
  QIconEngine* clone() const override { return new Cross; }
};

}  // namespace

CabinetCard::CabinetCard(const CabinetItem& item, QWidget* parent) : QWidget(parent), item_(item) {
  setFixedSize(sizeHint());
  setFocusPolicy(Qt::StrongFocus);
  setCursor(item.what == CabinetItem::What::circuit ? Qt::PointingHandCursor : Qt::OpenHandCursor);
  setObjectName(QStringLiteral("card-") +
                (item.id.empty() ? QStringLiteral("wire") : QString::fromStdString(item.id)));
  setAccessibleName(item.label);
  setToolTip(item.help);
  setProperty("markup", true);  // of the catalogue, not of a project
  setAccessibleDescription(item.description);
}

void CabinetCard::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF box(1, 1, width() - 2, height() - 2);
  p.setPen(QPen(hasFocus() ? t.ink : underMouse() ? t.ink2 : t.line, hasFocus() ? 2 : 1));
  p.setBrush(t.card);
  p.drawRoundedRect(box, 7, 7);
  p.setPen(t.line);
  p.drawLine(QPointF(1, 70), QPointF(width() - 1, 70));
  p.save();
  item_.picture(p, QRectF(18, 6, width() - 36, 60));
  p.restore();
  p.setPen(t.ink);
  p.setFont(t.text(13, QFont::DemiBold));
  const auto line = [&](const QString& text, double y) {
    p.drawText(QRectF(12, y, width() - 20, 18), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(text, Qt::ElideRight, width() - 22));
  };
  line(item_.label, 75);
  p.setPen(t.ink2);
  p.setFont(t.text(12));
  line(item_.brief, 93);
}

void CabinetCard::take() {
  if (item_.what == CabinetItem::What::circuit)
    Q_EMIT circuitWanted(item_.id);
  else
    Q_EMIT taken(item_.id);
}

// A card that is reached by keys is scrolled into view.
void CabinetCard::focusInEvent(QFocusEvent*) {
  for (QWidget* w = parentWidget(); w; w = w->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(w)) area->ensureWidgetVisible(this, 12, 0);
  update();
}

void CabinetCard::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton) return;
  pressed_ = e->pos();
  dragging_ = false;
}

void CabinetCard::mouseMoveEvent(QMouseEvent* e) {
  if (!(e->buttons() & Qt::LeftButton)) return;
  if (!dragging_ && (e->pos() - pressed_).manhattanLength() > QApplication::startDragDistance()) {
    if (item_.what == CabinetItem::What::circuit) return;  // asks for a pin instead
    dragging_ = true;
    Q_EMIT taken(type());
  }
  if (dragging_) Q_EMIT dragged(e->globalPosition().toPoint());
}

void CabinetCard::mouseReleaseEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton) return;
  if (dragging_)
    Q_EMIT dropped(e->globalPosition().toPoint());
  else if (rect().contains(e->pos()))
    take();
  dragging_ = false;
}

void CabinetCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space)
    return take();
  if (e->key() == Qt::Key_Right) return void(focusNextChild());
  if (e->key() == Qt::Key_Left) return void(focusPreviousChild());
  QWidget::keyPressEvent(e);
}

Cabinet::Cabinet(QWidget* parent) : QWidget(parent), drawer_(firstThings) {
  setObjectName(QStringLiteral("tray"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Cabinet"));
  find_ = new QLineEdit(this);
  find_->setObjectName(QStringLiteral("findPart"));
  find_->setPlaceholderText(tr("Find a part"));
  find_->setAccessibleName(tr("Find a part"));
  // Not the clear button of the toolkit: that goes through the icons of the desktop for its cross.
  QAction* clear = find_->addAction(QIcon(new Cross), QLineEdit::TrailingPosition);
  clear->setObjectName(QStringLiteral("clearFind"));
  clear->setText(tr("Clear"));
  clear->setVisible(false);
  connect(clear, &QAction::triggered, find_, &QLineEdit::clear);
  connect(find_, &QLineEdit::textChanged, clear,
          [clear](const QString& text) { clear->setVisible(!text.isEmpty()); });
  drawers_ = new QButtonGroup(this);
  auto* top = new QHBoxLayout;
  top->setSpacing(2);
  top->addWidget(find_);
  top->addSpacing(10);
  for (const QString& name : drawerOrder) {
    auto* b = new QPushButton(name, this);
    b->setProperty("tab", true);
    b->setCheckable(true);
    b->setChecked(name == drawer_);
    drawers_->addButton(b);
    top->addWidget(b);
    connect(b, &QPushButton::clicked, this, [this, name] {
      drawer_ = name;
      find_->clear();
      refill();
    });
  }
  top->addStretch();
  auto* cards = new QWidget(this);
  row_ = new QHBoxLayout(cards);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->setSpacing(12);
  scroll_ = new QScrollArea(this);
  auto* scroll = scroll_;
  scroll->setWidget(cards);
  cards->setAutoFillBackground(false);
  scroll->setWidgetResizable(true);
  scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->viewport()->setAutoFillBackground(false);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(20, 12, 20, 10);
  column->setSpacing(12);
  column->addLayout(top);
  column->addWidget(scroll, 1);
  none_ = new QLabel(tr("Nothing by that name is in the cabinet. Try “light”, “press” or “ohm”."),
                     this);
  none_->hide();
  column->addWidget(none_);
  connect(find_, &QLineEdit::textChanged, this, &Cabinet::refill);
  refill();
}

bool CabinetItem::answersTo(const QString& word) const {
  const auto begins = [&](const QString& text) { return text.toLower().startsWith(word); };
  const QStringList inLabel = label.split(' ', Qt::SkipEmptyParts);
  return begins(drawer) || std::any_of(inLabel.begin(), inLabel.end(), begins) ||
         std::any_of(words.begin(), words.end(),
                     [&](const std::string& w) { return begins(QString::fromStdString(w)); });
}

void Cabinet::refill() {
  while (QLayoutItem* item = row_->takeAt(0)) {
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
  const QString typed = find_->text().trimmed().toLower();
  const QStringList words = typed.split(' ', Qt::SkipEmptyParts);
  bool any = false;
  for (const CabinetItem& item : cabinetItems()) {
    const bool shown = typed.isEmpty()
                           ? (drawer_ == firstThings ? item.first : item.drawer == drawer_)
                           : item.label.toLower().contains(typed) ||
                                 std::all_of(words.begin(), words.end(), [&](const QString& word) {
                                   return item.answersTo(word);
                                 });
    if (!shown) continue;
    any = true;
    auto* c = new CabinetCard(item, this);
    connect(c, &CabinetCard::taken, this, &Cabinet::taken);
    connect(c, &CabinetCard::circuitWanted, this, &Cabinet::circuitWanted);
    connect(c, &CabinetCard::dragged, this, &Cabinet::dragged);
    connect(c, &CabinetCard::dropped, this, &Cabinet::dropped);
    row_->addWidget(c, 0, Qt::AlignTop);
  }
  none_->setVisible(!any);
  row_->addStretch();
}

// Ten drawers need their room: the search field gives way.
void Cabinet::resizeEvent(QResizeEvent*) {
  const auto room = [this] {
    int tabs = 0;
    for (QAbstractButton* b : drawers_->buttons()) tabs += b->sizeHint().width() + 2;
    return tabs;
  };
  const auto tighten = [this](bool tight) {
    for (QAbstractButton* b : drawers_->buttons()) {
      if (b->property("tight").toBool() == tight) continue;
      b->setProperty("tight", tight);
      b->style()->unpolish(b);
      b->style()->polish(b);
    }
  };
  tighten(false);
  if (room() + 190 > width()) tighten(true);
  const int tabs = room();
  find_->setFixedWidth(std::clamp(width() - tabs - 60, 120, 240));
}

void Cabinet::find(const QString& words) { find_->setText(words); }

CabinetCard* Cabinet::card(const std::string& type) const {
  for (int i = 0; i < row_->count(); ++i)
    if (auto* c = qobject_cast<CabinetCard*>(row_->itemAt(i)->widget()); c && c->type() == type)
      return c;
  return nullptr;
}

}  // namespace ignavo::app
