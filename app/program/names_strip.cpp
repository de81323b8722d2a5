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

constexpr double rowHeight = 36, margin = 20, gap = 24, cellHeight = 26, cellWidth = 44;
constexpr double nowWidth = 90;  // room for what a variable holds now

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
  at_ = std::clamp(at_, 0, std::max(0, static_cast<int>(places_.size()) - 1));
  setVisible(!places_.empty());
  setFixedHeight(static_cast<int>(height));
  constexpr double mostRows = 3;  // then it scrolls
  if (scroll_) {
    scroll_->setVisible(!places_.empty());
    scroll_->setFixedHeight(static_cast<int>(std::min(height, mostRows * rowHeight)));
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
  const double room = std::max(width, 240.0) - margin;
  double x = margin, y = 0;
  const auto take = [&](double wide) {
    if (x + wide > room && x > margin) x = margin, y += rowHeight;
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
    const double left = take(called + says + holds + now + gap);
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
    double all = called + 6;
    for (const double item : l.items) all += cellOf(item);
    const double least = all <= room - margin ? all : called + 6 + cellWidth;
    const double left = take(least);
    x = left + called + 6;
    put({true,
         index,
         -1,
         false,
         str(l.name),
         tr("list %1, %n items", nullptr, static_cast<int>(l.items.size())).arg(str(l.name)),
         {}},
        left, called);
    if (tags) tags->push_back({true, index, left, y, left + called});
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
    x += gap;
  }
  return y + rowHeight;
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

void NamesStrip::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), t.card);
  p.setPen(QPen(t.line, 1));
  p.drawLine(QPointF(0, 0.5), QPointF(width(), 0.5));
  p.drawLine(QPointF(0, height() - 0.5), QPointF(width(), height() - 0.5));
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
      p.setPen(QPen(t.edge, 1));
      p.setBrush(t.field);
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

// ---- going and editing

void NamesStrip::focusInEvent(QFocusEvent*) { go(at_); }

void NamesStrip::go(int to) {
  if (places_.empty()) return;
  at_ = std::clamp(to, 0, static_cast<int>(places_.size()) - 1);
  const Place& here = places_[static_cast<std::size_t>(at_)];
  setAccessibleDescription(here.spoken);
  if (scroll_)
    scroll_->ensureVisible(static_cast<int>(here.box.center().x()),
                           static_cast<int>(here.box.center().y()), 0, 14);
  QAccessibleEvent event(this, QAccessible::DescriptionChanged);
  QAccessible::updateAccessibility(&event);
  update();
}

void NamesStrip::edit(int at) {
  if (at < 0 || at >= static_cast<int>(places_.size())) return;
  closeEditor(true);
  go(at);
  edited_ = places_[static_cast<std::size_t>(at)];
  editor_ = new QLineEdit(edited_.text, this);
  editor_->setObjectName(QStringLiteral("nameEditor"));
  editor_->setAccessibleName(edited_.spoken);
  editor_->setGeometry(edited_.box.adjusted(-2, -1, 26, 1).toRect());
  editor_->installEventFilter(this);
  editor_->show();
  editor_->setFocus();
  editor_->selectAll();
}

bool NamesStrip::eventFilter(QObject* watched, QEvent* event) {
  if (watched != editor_) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::FocusOut &&
      static_cast<QFocusEvent*>(event)->reason() != Qt::PopupFocusReason) {
    closeEditor(true);
    return false;
  }
  if (event->type() != QEvent::KeyPress) return false;
  switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      closeEditor(true);
      setFocus();
      return true;
    case Qt::Key_Escape:
      closeEditor(false);
      setFocus();
      return true;
    case Qt::Key_Tab:
      closeEditor(true);
      edit(at_ + 1);
      return true;
    default:
      return false;
  }
}

void NamesStrip::closeEditor(bool keep) {
  if (!editor_) return;
  QLineEdit* closing = editor_;
  editor_ = nullptr;
  closing->removeEventFilter(this);
  const QString typed = closing->text();
  closing->hide();
  closing->deleteLater();
  if (keep && typed != edited_.text) take(edited_, typed);
  update();
}

bool NamesStrip::take(const Place& place, const QString& text) {
  const Program* held = program();
  if (!held) return false;
  const std::string typed = plainLine(text.toStdString());
  Q_EMIT problem(QString());
  if (!place.start && place.item < 0) return rename(place, typed);
  const std::string name = nameOf(place);
  std::string whole = typed;
  if (place.list) {
    // The others stay as they are.
    whole.clear();
    const NumberList& list = held->lists[static_cast<std::size_t>(place.index)];
    for (std::size_t k = 0; k < list.items.size(); ++k)
      whole += (k ? ", " : "") +
               (static_cast<int>(k) == place.item ? typed : phraseOf(Expr::of(list.items[k])));
  }
  const auto read =
      parseName((place.list ? "list " : "variable ") + nameText(name) + " is " + whole);
  if (!read || !read->problem.empty()) {
    Q_EMIT problem(read ? str(read->problem) : tr("This cannot be read."));
    return false;
  }
  return doc_.edit(tr("change what “%1” begins with").arg(str(name)),
                   withName(doc_.project(), doc_.board(), *read));
}

bool NamesStrip::rename(const Place& place, const std::string& typed) {
  const Program* held = program();
  const std::string was = nameOf(place);
  if (typed == was) return true;
  const bool taken = held->list(typed) != nullptr || held->variable(typed) != nullptr;
  if (!isName(typed) || typed.size() > limits::nameLetters || taken) {
    Q_EMIT problem(taken ? tr("There is another one called “%1”.").arg(str(typed))
                         : tr("A name has 1 to %1 letters.").arg(limits::nameLetters));
    return false;
  }
  return doc_.edit(tr("call “%1” “%2”").arg(str(was), str(typed)),
                   place.list ? renameList(doc_.project(), doc_.board(), was, typed)
                              : renameVariable(doc_.project(), doc_.board(), was, typed));
}

std::string NamesStrip::freeName(const char* stem) const {
  const Program* held = program();
  for (int n = 1;; ++n) {
    std::string free = n == 1 ? stem : stem + std::to_string(n);
    if (!held || (!held->variable(free) && !held->list(free))) return free;
  }
}

void NamesStrip::addVariable() {
  const Program* held = program();
  if (held && held->variables.size() >= limits::variables)
    return Q_EMIT problem(tr("A program can have %1 variables at most.").arg(limits::variables));
  ParsedName made;
  made.variable.emplace();
  made.variable->name = freeName("count");
  if (!doc_.edit(tr("add a variable"), withName(doc_.project(), doc_.board(), made))) return;
  setFocus();
  edit(2 * (static_cast<int>(program()->variables.size()) - 1));
}

void NamesStrip::addList() {
  const Program* held = program();
  if (held && held->lists.size() >= limits::lists)
    return Q_EMIT problem(tr("A program can have %1 lists at most.").arg(limits::lists));
  ParsedName made;
  made.list.emplace();
  made.list->name = freeName("values");
  made.list->items = {1, 2, 3};
  if (!doc_.edit(tr("add a list"), withName(doc_.project(), doc_.board(), made))) return;
  setFocus();
  edit(static_cast<int>(places_.size()) - static_cast<int>(made.list->items.size()) - 1);
}

bool NamesStrip::setItems(const Place& place, std::vector<double> items, const QString& name) {
  std::vector<NumberList> lists = program()->lists;
  lists[static_cast<std::size_t>(place.index)].items = std::move(items);
  return doc_.edit(name, edits::setLists(doc_.project(), doc_.board(), std::move(lists)));
}

// Another item behind the current one, or another variable.
void NamesStrip::insert() {
  if (places_.empty()) return;
  const Place place = places_[static_cast<std::size_t>(at_)];
  if (!place.list) return addVariable();
  std::vector<double> items = program()->lists[static_cast<std::size_t>(place.index)].items;
  if (items.size() >= limits::listItems)
    return Q_EMIT problem(tr("A list can have %1 items at most.").arg(limits::listItems));
  const auto behind = static_cast<std::ptrdiff_t>(place.item + 1);
  const double like = place.item >= 0 ? items[static_cast<std::size_t>(place.item)] : 0;
  items.insert(items.begin() + behind, like);
  if (setItems(place, std::move(items), tr("add an item to “%1”").arg(str(nameOf(place)))))
    edit(at_ + 1);
}

void NamesStrip::remove() {
  if (places_.empty()) return;
  const Place place = places_[static_cast<std::size_t>(at_)];
  const QString name = str(nameOf(place));
  const auto index = static_cast<std::ptrdiff_t>(place.index);
  if (place.item >= 0) {
    std::vector<double> items = program()->lists[static_cast<std::size_t>(place.index)].items;
    items.erase(items.begin() + place.item);
    setItems(place, std::move(items), tr("remove an item of “%1”").arg(name));
  } else if (place.list) {
    std::vector<NumberList> left = program()->lists;
    left.erase(left.begin() + index);
    doc_.edit(tr("remove “%1”").arg(name),
              edits::setLists(doc_.project(), doc_.board(), std::move(left)));
  } else {
    std::vector<Variable> left = program()->variables;
    left.erase(left.begin() + index);
    doc_.edit(tr("remove “%1”").arg(name),
              edits::setVariables(doc_.project(), doc_.board(), std::move(left)));
  }
}

// An item among those of its list, a variable or list among the others.
void NamesStrip::moveBy(int by) {
  if (places_.empty()) return;
  const Place place = places_[static_cast<std::size_t>(at_)];
  Place then = place;
  const QString name = str(nameOf(place));
  const auto swapped = [&](auto& all, int& at) {
    const int to = at + by;
    if (to < 0 || to >= static_cast<int>(all.size())) return false;
    std::swap(all[static_cast<std::size_t>(at)], all[static_cast<std::size_t>(to)]);
    at = to;
    return true;
  };
  bool done = false;
  if (place.item >= 0) {
    std::vector<double> items = program()->lists[static_cast<std::size_t>(place.index)].items;
    done = swapped(items, then.item) &&
           setItems(place, std::move(items), tr("move an item of “%1”").arg(name));
  } else if (place.list) {
    std::vector<NumberList> lists = program()->lists;
    done = swapped(lists, then.index) &&
           doc_.edit(tr("move “%1”").arg(name),
                     edits::setLists(doc_.project(), doc_.board(), std::move(lists)));
  } else {
    std::vector<Variable> variables = program()->variables;
    done = swapped(variables, then.index) &&
           doc_.edit(tr("move “%1”").arg(name),
                     edits::setVariables(doc_.project(), doc_.board(), std::move(variables)));
  }
  if (!done) return;
  for (std::size_t i = 0; i < places_.size(); ++i)
    if (places_[i].is(then)) go(static_cast<int>(i));
}

void NamesStrip::keyPressEvent(QKeyEvent* e) {
  const bool ctrl = e->modifiers() & Qt::ControlModifier;
  switch (e->key()) {
    case Qt::Key_Left:
    case Qt::Key_Up:
      return ctrl ? moveBy(-1) : go(at_ - 1);
    case Qt::Key_Right:
    case Qt::Key_Down:
      return ctrl ? moveBy(1) : go(at_ + 1);
    case Qt::Key_Home:
      return go(0);
    case Qt::Key_End:
      return go(static_cast<int>(places_.size()) - 1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return edit(at_);
    case Qt::Key_F2: {
      // The name of whatever is there.
      if (places_.empty()) return;
      Place name = places_[static_cast<std::size_t>(at_)];
      name.item = -1;
      name.start = false;
      for (std::size_t i = 0; i < places_.size(); ++i)
        if (places_[i].is(name)) return edit(static_cast<int>(i));
      return;
    }
    case Qt::Key_Insert:
      return insert();
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return remove();
    default:
      // Digits typed on a value begin a new one.
      if (!e->text().isEmpty() && (e->text()[0].isDigit() || e->text()[0] == '-') &&
          !places_.empty() &&
          (places_[static_cast<std::size_t>(at_)].start ||
           places_[static_cast<std::size_t>(at_)].item >= 0)) {
        edit(at_);
        return editor_->setText(e->text());
      }
      QWidget::keyPressEvent(e);
  }
}

void NamesStrip::mousePressEvent(QMouseEvent* e) {
  setFocus();
  for (std::size_t i = 0; i < places_.size(); ++i)
    if (places_[i].box.adjusted(-2, -3, 2, 3).contains(e->position())) {
      go(static_cast<int>(i));
      if (e->button() == Qt::LeftButton) edit(static_cast<int>(i));
      return;
    }
}

void NamesStrip::contextMenuEvent(QContextMenuEvent* e) {
  auto* menu = new QMenu(this);
  menu->setObjectName(QStringLiteral("namesMenu"));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(tr("Add a variable"), this, &NamesStrip::addVariable);
  menu->addAction(tr("Add a list"), this, &NamesStrip::addList);
  if (!places_.empty()) {
    menu->addAction(tr("Add one here\tIns"), this, &NamesStrip::insert);
    menu->addAction(tr("Rename everywhere\tF2"), this, [this] {
      QKeyEvent key(QEvent::KeyPress, Qt::Key_F2, {});
      keyPressEvent(&key);
    });
    menu->addAction(tr("Remove\tDel"), this, &NamesStrip::remove);
  }
  menu->popup(e->globalPos());
}

}  // namespace ignavo::app
