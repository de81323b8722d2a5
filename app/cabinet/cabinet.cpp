#include "cabinet/cabinet.h"

#include <QApplication>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <algorithm>

#include "art/art.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
const QString firstThings = QStringLiteral("First things");
}

CabinetCard::CabinetCard(const PartKind* kind, QWidget* parent) : QWidget(parent), kind_(kind) {
  setFixedSize(sizeHint());
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::OpenHandCursor);
  const QString name = kind ? QString::fromStdString(kind->label) : tr("Wire");
  setObjectName(QStringLiteral("card-") +
                (kind ? QString::fromStdString(kind->type) : QStringLiteral("wire")));
  setAccessibleName(name);
  const QString help =
      kind ? QStringLiteral("<b>%1</b><br>%2<br><br>%3<br><br><i>Never:</i> %4")
                 .arg(name, QString::fromStdString(kind->what), QString::fromStdString(kind->place),
                      QString::fromStdString(kind->never))
           : tr("<b>Wire</b><br>Joins two holes or pins. Drag from one hole to another on the "
                "bench.");
  setToolTip(help);
  setAccessibleDescription(kind ? QString::fromStdString(kind->what)
                                : tr("Joins two holes or pins."));
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
  const QPointF c(width() / 2.0, 36);
  if (!kind_) {
    QPainterPath path(c + QPointF(-44, 12));
    path.cubicTo(c + QPointF(-14, -30), c + QPointF(12, 30), c + QPointF(44, -14));
    paintWire(p, path, c + QPointF(-44, 12), c + QPointF(44, -14), {NetColour::Kind::pin, 0});
  } else if (kind_->type == "led") {
    for (int i = 0; i < 3; ++i) {
      static constexpr const char* colours[] = {"red", "amber", "green"};
      p.setPen(QPen(t.ledColour(QString::fromLatin1(colours[i])).darker(130), 1));
      p.setBrush(t.ledColour(QString::fromLatin1(colours[i])));
      p.drawEllipse(c + QPointF((i - 1) * 28, 0), 10, 10);
    }
  } else if (const PartPainter painter = painterOf(kind_->type)) {
    const Part sample = newPart(emptyProject(), *kind_);
    const PartLook look = sampleLook(*kind_);
    QRectF around = bodyOf(sample, look);
    for (const QPointF& leg : look.legs) around |= QRectF(leg - QPointF(3, 3), QSizeF(6, 6));
    const double scale = std::min({1.0, 130 / around.width(), 60 / around.height()});
    p.save();
    p.translate(c);
    p.scale(scale, scale);
    p.translate(-around.center());
    painter(p, sample, look);
    p.restore();
  }
  p.setPen(t.ink);
  p.setFont(t.text(13, QFont::DemiBold));
  p.drawText(QRectF(12, 76, width() - 20, 18), Qt::AlignLeft | Qt::AlignVCenter,
             kind_ ? QString::fromStdString(kind_->label) : tr("Wire"));
  p.setPen(t.ink2);
  p.setFont(t.text(12));
  p.drawText(QRectF(12, 94, width() - 20, 16), Qt::AlignLeft | Qt::AlignVCenter,
             kind_ ? QString::fromStdString(kind_->brief) : tr("drag hole to hole"));
}

void CabinetCard::mousePressEvent(QMouseEvent* e) {
  if (e->button() != Qt::LeftButton) return;
  pressed_ = e->pos();
  dragging_ = false;
}

void CabinetCard::mouseMoveEvent(QMouseEvent* e) {
  if (!(e->buttons() & Qt::LeftButton)) return;
  if (!dragging_ && (e->pos() - pressed_).manhattanLength() > QApplication::startDragDistance()) {
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
    Q_EMIT taken(type());
  dragging_ = false;
}

void CabinetCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space)
    return Q_EMIT taken(type());
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
  find_->setClearButtonEnabled(true);
  find_->setFixedWidth(240);
  drawers_ = new QButtonGroup(this);
  auto* top = new QHBoxLayout;
  top->setSpacing(2);
  top->addWidget(find_);
  top->addSpacing(18);
  QStringList names{firstThings};
  for (const PartKind* k : catalogue().parts())
    if (const QString c = QString::fromStdString(k->category); !names.contains(c)) names << c;
  for (const QString& name : names) {
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
  auto* scroll = new QScrollArea(this);
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

void Cabinet::refill() {
  while (QLayoutItem* item = row_->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  const QString typed = find_->text().trimmed();
  std::vector<const PartKind*> kinds;
  if (!typed.isEmpty())
    kinds = catalogue().search(typed.toStdString());
  else
    for (const PartKind* k : catalogue().parts())
      if (drawer_ == firstThings || drawer_.toStdString() == k->category) kinds.push_back(k);
  const auto add = [&](const PartKind* kind) {
    auto* c = new CabinetCard(kind, this);
    connect(c, &CabinetCard::taken, this, &Cabinet::taken);
    connect(c, &CabinetCard::dragged, this, &Cabinet::dragged);
    connect(c, &CabinetCard::dropped, this, &Cabinet::dropped);
    row_->addWidget(c, 0, Qt::AlignTop);
  };
  const bool wire = typed.isEmpty() ? drawer_ == firstThings
                                    : QStringLiteral("wire").startsWith(typed, Qt::CaseInsensitive);
  if (wire) add(nullptr);
  for (const PartKind* k : kinds) add(k);
  none_->setVisible(kinds.empty() && !wire);
  row_->addStretch();
}

CabinetCard* Cabinet::card(const std::string& type) const {
  for (int i = 0; i < row_->count(); ++i)
    if (auto* c = qobject_cast<CabinetCard*>(row_->itemAt(i)->widget()); c && c->type() == type)
      return c;
  return nullptr;
}

}  // namespace ignavo::app
