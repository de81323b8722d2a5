#include "program/program_overview.h"

#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>

#include "theme/theme.h"

namespace ignavo::app {

ProgramOverview::ProgramOverview(ProgramView* view, QScrollArea* scroll, Document& document,
                                 RunControl& run, QWidget* parent)
    : QWidget(parent), view_(view), scroll_(scroll), doc_(document) {
  setObjectName(QStringLiteral("programOverview"));
  setAccessibleName(tr("The whole program"));
  setToolTip(tr("The whole program: a click goes there"));
  setFixedWidth(46);
  setCursor(Qt::PointingHandCursor);
  connect(view_, &ProgramView::laidOut, this, &ProgramOverview::look);
  connect(scroll_->verticalScrollBar(), &QScrollBar::rangeChanged, this, &ProgramOverview::look);
  connect(scroll_->verticalScrollBar(), &QScrollBar::valueChanged, this,
          qOverload<>(&QWidget::update));
  connect(&run, &RunControl::updated, this, qOverload<>(&QWidget::update));
  connect(&doc_, &Document::checked, this, qOverload<>(&QWidget::update));
  connect(&doc_, &Document::stepSelected, this, qOverload<>(&QWidget::update));
  look();
}

void ProgramOverview::look() {
  const bool isLong =
      view_->picture().height * view_->zoom() > longerThan * scroll_->viewport()->height();
  // Both take their room at once.
  const auto policy = isLong ? Qt::ScrollBarAlwaysOn : Qt::ScrollBarAsNeeded;
  if (scroll_->verticalScrollBarPolicy() != policy) scroll_->setVerticalScrollBarPolicy(policy);
  setVisible(isLong);
  update();
}

double ProgramOverview::scale() const {
  constexpr double most = 0.25;  // so that few steps do not look like blocks
  return std::min(most, height() / std::max(1.0, view_->picture().height));
}

void ProgramOverview::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.fillRect(rect(), t.tray);
  const double s = scale(), across = width() - 14;
  double widest = 1;
  for (const ProgramRow& row : view_->picture().rows) widest = std::max(widest, row.box.right());
  for (const ProgramRow& row : view_->picture().rows) {
    const bool sign = row.what == ProgramRow::What::sign;
    if (!sign && row.what != ProgramRow::What::step && row.what != ProgramRow::What::folded)
      continue;
    const double x = 7 + row.box.left() / widest * across;
    const QRectF bar(x, row.box.top() * s, std::max(4.0, row.box.right() / widest * across + 7 - x),
                     std::max(1.0, row.box.height() * s - 0.6));
    QColor fill = sign ? t.ink : t.edge;
    for (const Token& token : row.tokens)
      if (token.what == Token::What::pin && !sign) {
        const int index = doc_.identities().ofPin(view_->board(), token.pin);
        if (index >= 0) fill = t.net({NetColour::Kind::pin, index});
        break;
      }
    if (view_->runs(row)) fill = t.amber;
    p.fillRect(bar, fill);
    if (view_->isSelected(row)) {
      p.setPen(QPen(t.ink, 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(bar.adjusted(-2, -1, 1, 1));
    }
    if (!view_->troubleOf(row).isEmpty()) {
      const QPointF at(width() - 5.0, bar.center().y());
      p.setPen(Qt::NoPen);
      p.setBrush(t.warning);
      p.setRenderHint(QPainter::Antialiasing);
      p.drawPolygon(QPolygonF({at + QPointF(0, -4), at + QPointF(4, 3), at + QPointF(-4, 3)}));
      p.setRenderHint(QPainter::Antialiasing, false);
    }
  }
  const double top = view_->mapFrom(scroll_->viewport(), QPoint(0, 0)).y() / view_->zoom();
  const double high = scroll_->viewport()->height() / view_->zoom();
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.ink, 1.6));
  p.drawRect(QRectF(1, std::max(0.0, top * s) + 1, width() - 2, std::max(8.0, high * s) - 2));
}

void ProgramOverview::mousePressEvent(QMouseEvent* e) {
  const double at = e->position().y() / scale() * view_->zoom();
  const int in = view_->mapTo(scroll_->widget(), QPoint(0, static_cast<int>(at))).y();
  scroll_->verticalScrollBar()->setValue(in - scroll_->viewport()->height() / 2);
}

}  // namespace ignavo::app
