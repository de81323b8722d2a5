#include "bench/note_paper.h"

#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr int fold = 14, besideNote = 14, widestNote = 240;
}  // namespace

NotePaper::NotePaper(Document& document, RunControl& run, QWidget* bench)
    : QWidget(bench), doc_(document), run_(run) {
  setObjectName(QStringLiteral("notePaper"));
  setAttribute(Qt::WA_TransparentForMouseEvents);  // holes below it stay within reach
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 22, 12);
  text_ = new QLabel(this);
  text_->setObjectName(QStringLiteral("runNote"));
  text_->setTextFormat(Qt::PlainText);
  text_->setWordWrap(true);
  text_->setFont(theme().text(15, QFont::DemiBold));
  column->addWidget(text_);
  hide();
}

void NotePaper::refresh() {
  QStringList notes;
  if (run_.isOn()) {
    const bool several = doc_.project().boards.size() > 1;
    for (const BoardItem& board : doc_.project().boards) {
      const SaidLine* up = noteUp(run_.said(), board.id, run_.shownAt());
      if (!up || up->text.empty()) continue;
      notes << (several ? str(board.id) + QStringLiteral(": ") : QString()) + str(up->text);
    }
  }
  setVisible(!notes.isEmpty());
  if (notes.isEmpty()) return;
  const QString all = notes.join(QLatin1Char('\n'));
  text_->setText(all);
  text_->setAccessibleName(tr("Note: %1").arg(all));
  // As wide as its longest line, at the right, where the mat is mostly free; below what broke.
  const QMargins around = layout()->contentsMargins();
  int longest = 0;
  for (const QString& note : notes)
    longest = std::max(longest, text_->fontMetrics().horizontalAdvance(note));
  const int wide = std::min({widestNote, parentWidget()->width() - 2 * besideNote,
                             longest + around.left() + around.right() + 4});
  resize(wide, layout()->heightForWidth(wide));
  move(parentWidget()->width() - wide - besideNote, below_ + besideNote);
  raise();
}

void NotePaper::setBelow(int y) {
  below_ = y;
  refresh();
}

// With a corner turned down, and a pin through its head.
void NotePaper::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF r = QRectF(rect()).adjusted(1, 5, -1, -1);
  QPainterPath sheet;
  sheet.moveTo(r.topLeft());
  sheet.lineTo(r.topRight());
  sheet.lineTo(r.right(), r.bottom() - fold);
  sheet.lineTo(r.right() - fold, r.bottom());
  sheet.lineTo(r.bottomLeft());
  sheet.closeSubpath();
  p.setPen(QPen(t.ink2, 1));
  p.setBrush(t.card);
  p.drawPath(sheet);
  p.setBrush(t.line);
  p.drawPolygon(QPolygonF{{r.right(), r.bottom() - fold},
                          {r.right() - fold, r.bottom() - fold},
                          {r.right() - fold, r.bottom()}});
  p.setPen(QPen(t.ink, 1));
  p.setBrush(t.ink2);
  p.drawEllipse(QPointF(r.center().x(), 6), 4, 4);
}

}  // namespace ignavo::app
