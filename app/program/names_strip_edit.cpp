#include <QAccessible>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <algorithm>
#include <utility>

#include "program/names.h"
#include "program/names_strip.h"
#include "text/plain.h"
#include "theme/text.h"

// Going through the strip, and changing what stands in it.
namespace ignavo::app {

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
  editor_ = new FieldEditor(edited_.text, edited_.box.adjusted(-2, -1, 26, 1), this);
  editor_->setObjectName(QStringLiteral("nameEditor"));
  editor_->setAccessibleName(edited_.spoken);
  connect(editor_, &FieldEditor::left, this, [this] { closeEditor(true); });
  connect(editor_, &FieldEditor::taken, this, [this] {
    closeEditor(true);
    setFocus();
  });
  connect(editor_, &FieldEditor::given, this, [this] {
    closeEditor(false);
    setFocus();
  });
  connect(editor_, &FieldEditor::next, this, [this](int direction) {
    closeEditor(true);
    edit(at_ + direction);
  });
}

void NamesStrip::closeEditor(bool keep) {
  if (!editor_) return;
  FieldEditor* closing = std::exchange(editor_, nullptr);
  closing->disconnect(this);
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
