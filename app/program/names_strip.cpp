#include "program/names_strip.h"

#include <QAccessible>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "program/names.h"
#include "text/plain.h"
#include "theme/text.h"
#include "theme/theme.h"

// Tags and cells flow from left to right, in rows of 36 pixels; a list that is longer than a row
// goes on in the next one.
namespace ignavo::app {

namespace {

constexpr double stripRow = 36, stripMargin = 20, stripGap = 24, cellHeight = 26, cellWidth = 44;
constexpr double readWidth = 106;  // behind a list's name: how many items, which was read last
constexpr double nowWidth = 90;    // room for what a variable holds now

QString valueName(const VariableView& v) {
  if (v.type == ValueType::text) return str(v.text);
  if (v.type == ValueType::truth)
    return v.number != 0 ? QStringLiteral("true") : QStringLiteral("false");
  return QString::number(v.number, 'g', v.type == ValueType::whole ? 11 : 6);
}

QString itemText(double item) { return str(phraseOf(Expr::of(item))); }

}  // namespace

NamesStrip::NamesStrip(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("namesStrip"));
  setAccessibleName(tr("Variables and lists"));
  setFocusPolicy(Qt::StrongFocus);
  QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  connect(&doc_, &Document::changed, this, &NamesStrip::fill);
  connect(&doc_, &Document::boardChosen, this, &NamesStrip::fill);
  connect(&run_, &RunControl::updated, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::stateChanged, this, qOverload<>(&QWidget::update));
  fill();
}

const Program* NamesStrip::program() const { return doc_.project().program(doc_.board()); }

std::string NamesStrip::nameOf(const Place& place) const {
  const Program* held = program();
  const auto index = static_cast<std::size_t>(place.index);
  return place.list ? held->lists[index].name : held->variables[index].name;
}

void NamesStrip::changeEvent(QEvent* e) {
  QWidget::changeEvent(e);
  if (e->type() == QEvent::FontChange) fill();
}
void NamesStrip::resizeEvent(QResizeEvent*) { fill(); }

void NamesStrip::fill() {
  places_.clear();
  tags_.clear();
  const double height = layOut(width(), &places_, &tags_);
  // What is being typed keeps its place, as long as there is one.
  if (editor_) {
    const auto here =
        std::find_if(places_.begin(), places_.end(), [&](const Place& p) { return p.is(edited_); });
    if (here == places_.end())
      closeEditor(false);
    else
      editor_->move(here->box.topLeft().toPoint() - QPoint(2, 1));
  }
  at_ = std::clamp(at_, 0, std::max(0, static_cast<int>(places_.size()) - 1));
  setVisible(!places_.empty());
  setFixedHeight(static_cast<int>(height));
  constexpr double mostRows = 3;  // then it scrolls
  if (scroll_) {
    scroll_->setVisible(!places_.empty());
    scroll_->setFixedHeight(static_cast<int>(std::min(height, mostRows * stripRow)));
  }
  update();
}

void NamesStrip::setScroll(QScrollArea* scroll) {
  scroll_ = scroll;
  fill();
}

int NamesStrip::heightForWidth(int width) const {
  return static_cast<int>(layOut(width, nullptr, nullptr));
}

double NamesStrip::layOut(double width, std::vector<Place>* places, std::vector<Tag>* tags) const {
  const Program* held = program();
  if (!held || (held->variables.empty() && held->lists.empty())) return 0;
  const Theme& t = theme();
  const QFontMetricsF name(t.text(13, QFont::DemiBold)), words(t.text(12)), value(t.mono(12.5));
  const double room = std::max(width, 240.0) - stripMargin;
  double x = stripMargin, y = 0;
  const auto take = [&](double wide) {
    if (x + wide > room && x > stripMargin) x = stripMargin, y += stripRow;
    const double at = x;
    x += wide;
    return at;
  };
  const auto put = [&](Place place, double left, double wide) {
    place.box = QRectF(left, y + 5, wide, cellHeight);
    if (places) places->push_back(std::move(place));
  };
  for (std::size_t i = 0; i < held->variables.size(); ++i) {
    const Variable& v = held->variables[i];
    const QString start = str(phraseOf(v.start));
    const double called = std::min(name.horizontalAdvance(str(v.name)) + 10, 180.0);
    const double says = words.horizontalAdvance(tr("starts")) + 6;
    const double holds = std::max(28.0, std::min(value.horizontalAdvance(start) + 12, 160.0));
    const double now = nowWidth;
    const double left = take(called + says + holds + now + stripGap);
    const int index = static_cast<int>(i);
    put({false, index, -1, false, str(v.name), tr("variable %1").arg(str(v.name)), {}}, left,
        called);
    put({false, index, -1, true, start, tr("%1 starts with %2").arg(str(v.name), start), {}},
        left + called + says, holds);
    if (tags) tags->push_back({false, index, left, y, left + called + says + holds + now});
  }
  for (std::size_t i = 0; i < held->lists.size(); ++i) {
    const NumberList& l = held->lists[i];
    const int index = static_cast<int>(i);
    const double called = std::min(name.horizontalAdvance(str(l.name)) + 10, 180.0);
    const auto cellOf = [&](double item) {
      return std::max(cellWidth, value.horizontalAdvance(itemText(item)) + 22);
    };
    // Whole in one row, where a row has room for it.
    double all = called + readWidth;
    for (const double item : l.items) all += cellOf(item);
    const double least = all <= room - stripMargin ? all : called + readWidth + cellWidth;
    const double left = take(least);
    x = left + called + readWidth;
    if (tags) tags->push_back({true, index, left, y, left + called});
    put({true,
         index,
         -1,
         false,
         str(l.name),
         tr("list %1, %n items", nullptr, static_cast<int>(l.items.size())).arg(str(l.name)),
         {}},
        left, called);
    for (std::size_t k = 0; k < l.items.size(); ++k) {
      const QString text = itemText(l.items[k]);
      const double wide = cellOf(l.items[k]);
      const double at = take(wide);
      put({true,
           index,
           static_cast<int>(k),
           false,
           text,
           tr("%1, item %2 of %3, %4").arg(str(l.name)).arg(k + 1).arg(l.items.size()).arg(text),
           {}},
          at, wide - 2);
    }
    x += stripGap;
  }
  return y + stripRow;
}

QString NamesStrip::nowText(const Place& place) const {
  const auto shown = run_.shown();
  if (!shown || !shown->powered || !program()) return {};
  const std::string called = nameOf(place);
  for (const VariableView& v : shown->variables)
    if (v.board == doc_.board() && v.name == called && v.item == (place.list ? place.item + 1 : 0))
      return valueName(v);
  return {};
}

std::optional<int> NamesStrip::readAt(int list) const {
  const auto shown = run_.shown();
  const Program* held = program();
  if (!shown || !shown->powered || !held) return std::nullopt;
  for (const ListRead& read : shown->reads)
    if (read.board == doc_.board() && read.list == held->lists[static_cast<std::size_t>(list)].name)
      return read.position;
  return std::nullopt;
}

// Behind the name of a list: how many items it has, which of them was read last; of a position that
// it has not, a cell of its own.
void NamesStrip::paintRead(QPainter& p, const Tag& tag) const {
  if (!tag.list || !program()) return;
  const Theme& t = theme();
  const std::optional<int> at = readAt(tag.index);
  const auto many =
      static_cast<int>(program()->lists[static_cast<std::size_t>(tag.index)].items.size());
  const bool there = !at || (*at >= 1 && *at <= many);
  const QRectF box(tag.right + 2, tag.top + 5, readWidth - 8, cellHeight);
  p.setFont(there ? t.text(12) : t.text(11, QFont::Medium));
  p.setPen(there ? t.ink2 : t.warning);
  p.drawText(box.adjusted(there ? 4 : 6, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
             !at     ? tr("%n items", nullptr, many)
             : there ? tr("read: %1").arg(*at)
                     : tr("%1: there are %2").arg(*at).arg(many));
  if (there) return;
  p.setPen(QPen(t.warning, 1.4, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
}

void NamesStrip::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.card);
  p.setPen(QPen(t.line, 1));
  p.drawLine(QPointF(0, 0.5), QPointF(width(), 0.5));
  p.drawLine(QPointF(0, height() - 0.5), QPointF(width(), height() - 0.5));
  for (const Tag& tag : tags_) paintRead(p, tag);
  for (std::size_t i = 0; i < places_.size(); ++i) {
    const Place& place = places_[i];
    const bool cell = place.item >= 0, named = !cell && !place.start;
    if (named) {
      // A double underline wherever it is used.
      p.setFont(t.text(13, QFont::DemiBold));
      p.setPen(t.ink);
      p.drawText(place.box, Qt::AlignVCenter | Qt::AlignLeft,
                 p.fontMetrics().elidedText(place.text, Qt::ElideRight,
                                            static_cast<int>(place.box.width()) - 2));
      const double wide =
          std::min<double>(p.fontMetrics().horizontalAdvance(place.text), place.box.width() - 2);
      p.setPen(QPen(t.ink, 1));
      for (const double below : {-3.5, -0.5})
        p.drawLine(QPointF(place.box.left(), place.box.bottom() + below),
                   QPointF(place.box.left() + wide, place.box.bottom() + below));
    } else if (place.start) {
      p.setFont(t.text(12));
      p.setPen(t.ink2);
      const double says = p.fontMetrics().horizontalAdvance(tr("starts"));
      p.drawText(QRectF(place.box.left() - says - 6, place.box.top(), says + 2, place.box.height()),
                 Qt::AlignVCenter | Qt::AlignLeft, tr("starts"));
      p.setFont(t.mono(12.5));
      p.drawText(place.box, Qt::AlignCenter,
                 p.fontMetrics().elidedText(place.text, Qt::ElideRight,
                                            static_cast<int>(place.box.width())));
      if (const QString now = nowText(place); !now.isEmpty()) {
        p.setFont(t.mono(12.5, QFont::Bold));
        p.setPen(t.ink);
        p.drawText(QRectF(place.box.right() + 4, place.box.top(), nowWidth, place.box.height()),
                   Qt::AlignVCenter | Qt::AlignLeft,
                   p.fontMetrics().elidedText(tr("now %1").arg(now), Qt::ElideRight,
                                              static_cast<int>(nowWidth)));
      }
    } else {
      const QString now = nowText(place);
      const bool read = readAt(place.index) == place.item + 1;
      p.setPen(QPen(read ? t.amber : t.edge, read ? 2 : 1));
      p.setBrush(read ? t.amberWash : t.field);
      p.drawRoundedRect(place.box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
      p.setFont(t.text(11));
      p.setPen(t.ink2);
      p.drawText(place.box.adjusted(4, 1, 0, 0), Qt::AlignTop | Qt::AlignLeft,
                 QString::number(place.item + 1));
      const bool changed = !now.isEmpty() && now != place.text;
      p.setFont(t.mono(12.5, changed ? QFont::Bold : QFont::Normal));
      p.setPen(t.ink);
      p.drawText(place.box.adjusted(10, 0, 0, 0), Qt::AlignCenter,
                 now.isEmpty() ? place.text : now);
    }
    if (static_cast<int>(i) == at_ && hasFocus()) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(t.ink, 2));
      p.drawRoundedRect(place.box.adjusted(-3, -1, 2, 1), 5, 5);
    }
  }
}

}  // namespace ignavo::app
