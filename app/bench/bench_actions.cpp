#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>
#include <algorithm>

#include "bench/bench_view.h"
#include "bench/tidy.h"
#include "bench/wiring.h"
#include "format/project_file.h"
#include "make/copied_steps.h"
#include "program/keys.h"
#include "project/edits.h"
#include "theme/plain_words.h"
#include "theme/text.h"

// What can be done with what is selected: each an edit with a name.
namespace ignavo::app {

std::vector<std::string> BenchView::selectedIds() const {
  std::vector<std::string> ids;
  for (const QString& id : doc_.selection()) ids.push_back(id.toStdString());
  return ids;
}

// "Red lamp", "parts", "a wire": for the names of edits.
QString BenchView::titleOfSelection() const {
  QString title;
  for (const std::string& id : selectedIds()) {
    const Part* part = doc_.project().part(id);
    const QString one = part                            ? str(part->name)
                        : doc_.project().board(id)      ? QStringLiteral("the board")
                        : doc_.project().breadboard(id) ? QStringLiteral("the breadboard")
                                                        : QStringLiteral("a wire");
    title = title.isEmpty() ? one : QStringLiteral("parts");
  }
  return title;
}

void BenchView::flipSelected() {
  if (doc_.selection().isEmpty()) return;
  std::vector<std::string> parts;
  for (const std::string& id : selectedIds())
    if (doc_.project().part(id)) parts.push_back(id);
  commit(mirrored(doc_.project(), catalogue(), parts),
         QStringLiteral("turn %1").arg(titleOfSelection()));
}

// R: the next way of laying the part.
void BenchView::turnSelected() {
  if (mode_ == Mode::placing) {
    const Footprint* print = catalogue().part(inHandType_);
    const int ways = print ? std::max(4, static_cast<int>(print->orientations.size())) : 1;
    inHandWay_ = (inHandWay_ + 1) % ways;
    updateInHand(mouse_);
    return;
  }
  for (const std::string& id : selectedIds())
    if (const Part* part = doc_.project().part(id)) {
      const Arranged a = turnedRound(doc_.project(), catalogue(), id);
      if (a.clear() || a.obstacle.code == Obstacle::Code::locked)
        commit(a, QStringLiteral("turn %1").arg(str(part->name)));
      else
        setHint(QStringLiteral("There is no room to turn it here."));
      return;
    }
}

void BenchView::removeSelected() {
  remove(selectedIds(), QStringLiteral("remove %1").arg(titleOfSelection()));
}

void BenchView::remove(const std::vector<std::string>& ids, const QString& name) {
  if (ids.empty()) return;
  for (const std::string& id : ids)
    if (const Part* part = doc_.project().part(id); part && part->locked) {
      Obstacle o;
      o.code = Obstacle::Code::locked;
      o.occupant = id;
      return setHint(obstacleText(o, part->type));
    }
  doc_.edit(name, edits::remove(doc_.project(), ids));
}

void BenchView::duplicateSelected() {
  const Arranged a = duplicated(doc_.project(), catalogue(), selectedIds());
  if (a.ids.empty() && a.clear()) return;
  const QString name = titleOfSelection();
  if (!commit(a, QStringLiteral("duplicate %1").arg(name))) return;
  QStringList ids;
  for (const std::string& id : a.ids)
    if (doc_.project().part(id)) ids << str(id);
  doc_.select(ids);
}

void BenchView::copySelected() {
  const Project fragment = copiedWithSteps(doc_.project(), selectedIds());
  if (fragment.parts->empty() && fragment.wires->empty()) return;
  QApplication::clipboard()->setText(str(writeProject(fragment)));
  std::size_t lanes = 0;
  for (const auto& program : fragment.programs) lanes += program->lanes.size();
  setHint(
      lanes == 0
          ? tr("Copied. Ctrl+V puts it onto free rows, here or in another project.")
          : tr("Copied with its steps. Ctrl+V puts it onto free rows and a free pin, here or in "
               "another project."));
}

// With the wires that were copied along; its steps stay, and are not added again where it is
// pasted.
void BenchView::cutSelected() {
  const Project fragment = copiedWithSteps(doc_.project(), selectedIds());
  copySelected();
  std::vector<std::string> ids = selectedIds();
  for (const auto& wire : *fragment.wires) ids.push_back(wire->id);
  remove(ids, tr("cut %1").arg(titleOfSelection()));
}

// At the keyboard's cursor when it is shown, else on the nearest free rows.
void BenchView::paste() {
  const std::string text = QApplication::clipboard()->text().toStdString();
  if (text.find("ignavo-project") == std::string::npos)
    return setHint(QStringLiteral("The clipboard holds no parts. Ctrl+C copies what is selected."));
  const ReadResult read = readProject(text);
  if (read.project.parts->empty() && read.project.wires->empty())
    return setHint(QStringLiteral("The clipboard holds no parts that could be read."));
  std::optional<Point> at;
  if (cursorShown_ && cursor_) at = socketAt(doc_.project(), catalogue(), *cursor_);
  const PastedSteps pasted = pastedWithSteps(doc_.project(), read.project, doc_.board(), at);
  const Arranged& a = pasted.arranged;
  const bool steps = !pasted.lanes.empty() || !pasted.steps.empty();
  if (!commit(a, steps ? tr("paste parts with steps") : tr("paste parts"))) return;
  QStringList ids;
  for (const std::string& id : a.ids)
    if (doc_.project().part(id)) ids << str(id);
  doc_.select(ids);
  // Where it hangs now, and what came along.
  QStringList moved;
  for (const auto& [from, to] : pasted.pins)
    if (!to.empty())
      moved << (from.point == to ? str(to) : tr("%1 in place of %2").arg(str(to), str(from.point)));
  QStringList words;
  if (!moved.isEmpty()) words << tr("It hangs on %1.").arg(moved.join(QStringLiteral(", ")));
  const auto lanes = static_cast<int>(pasted.lanes.size());
  if (lanes > 0)
    words << (lanes == 1 ? tr("Its steps came along: one lane.")
                         : tr("Its steps came along: %1 lanes.").arg(lanes));
  const auto more = static_cast<int>(pasted.steps.size());
  if (more > 0)
    words << (more == 1
                  ? tr("One step was added, so that it does what the original does.")
                  : tr("%1 steps were added, so that it does what the original does.").arg(more));
  if (!pasted.left.empty())
    words << tr("No free pin is left that can do what %1 does.").arg(str(pasted.left.front()));
  if (!words.isEmpty()) setHint(words.join(QLatin1Char(' ')));
}

void BenchView::lockSelected() {
  Project p = doc_.project();
  bool lock = false;
  for (const std::string& id : selectedIds())
    if (const Part* part = p.part(id)) lock = lock || !part->locked;
  for (const std::string& id : selectedIds())
    p = edits::changePart(std::move(p), id, [&](Part& q) { q.locked = lock; });
  doc_.edit(
      (lock ? QStringLiteral("lock %1") : QStringLiteral("unlock %1")).arg(titleOfSelection()),
      std::move(p));
}

void BenchView::alignSelected() {
  std::vector<std::string> parts;
  for (const std::string& id : selectedIds())
    if (doc_.project().part(id)) parts.push_back(id);
  if (parts.empty()) return;
  commit(toFreeRows(doc_.project(), catalogue(), parts),
         QStringLiteral("move %1 to free rows").arg(titleOfSelection()));
}

// In the column of the part that was selected first.
void BenchView::lineUpSelected() {
  std::vector<std::string> parts;
  for (const std::string& id : selectedIds())
    if (doc_.project().part(id)) parts.push_back(id);
  if (parts.size() < 2)
    return setHint(QStringLiteral("Select several parts; they line up with the first of them."));
  const Arranged a = linedUp(doc_.project(), catalogue(), parts);
  if (a.clear() && a.project == doc_.project())
    return setHint(QStringLiteral("They stand in one line."));
  commit(a, QStringLiteral("line up parts"));
}

void BenchView::tidySelected() {
  std::vector<std::string> wires;
  for (const std::string& id : selectedIds())
    if (doc_.project().wire(id)) wires.push_back(id);
  Project next = tidied(doc_.project(), catalogue(), wires);
  if (next == doc_.project())
    return setHint(wires.empty() ? QStringLiteral("The wires are tidy.")
                                 : QStringLiteral("This wire is tidy."));
  doc_.edit(wires.size() == 1 ? QStringLiteral("tidy a wire") : QStringLiteral("tidy the wires"),
            std::move(next));
}

void BenchView::straightenSelected() {
  std::vector<std::string> wires;
  for (const std::string& id : selectedIds())
    if (doc_.project().wire(id)) wires.push_back(id);
  if (!wires.empty())
    doc_.edit(QStringLiteral("take out the bends"), straightened(doc_.project(), wires));
}

void BenchView::selectAll() {
  QStringList ids;
  for (const auto& part : *doc_.project().parts) ids << str(part->id);
  for (const auto& wire : *doc_.project().wires) ids << str(wire->id);
  doc_.select(ids);
}

void BenchView::contextMenuEvent(QContextMenuEvent* e) {
  if (mode_ != Mode::idle) return;
  if (e->reason() == QContextMenuEvent::Mouse) {
    const Hit hit = hitAt(e->pos());
    if (!hit.id.empty() && !doc_.isSelected(hit.id)) doc_.select({str(hit.id)});
    if (hit.id.empty()) doc_.select({});
  } else if (cursorShown_ && doc_.selection().isEmpty()) {
    selectAtCursor();
  }
  bool parts = false, wires = false, polarised = false, locked = false;
  for (const std::string& id : selectedIds()) {
    if (const Part* part = doc_.project().part(id)) {
      parts = true;
      locked = locked || part->locked;
      polarised = polarised || catalogue().part(part->type)->polarised;
    }
    wires = wires || doc_.project().wire(id);
  }
  const bool any = !doc_.selection().isEmpty();
  QMenu menu(this);
  menu.setObjectName(QStringLiteral("benchMenu"));
  const auto add = [&](bool when, const QString& text, const char* keys,
                       void (BenchView::*what)()) {
    if (when)
      connect(menu.addAction(text + QLatin1Char('\t') + QString::fromLatin1(keys)),
              &QAction::triggered, this, what);
  };
  offerWhy(&menu);
  add(parts, polarised ? tr("Turn round") : tr("Swap its ends"), "F", &BenchView::flipSelected);
  add(parts, tr("Lay another way"), "R", &BenchView::turnSelected);
  add(parts, tr("To free rows"), "A", &BenchView::alignSelected);
  add(parts && doc_.selection().size() > 1, tr("Line up with the first"), "Shift+A",
      &BenchView::lineUpSelected);
  add(parts, locked ? tr("Unlock") : tr("Lock"), "L", &BenchView::lockSelected);
  if (const auto ids = selectedIds(); ids.size() == 1)
    if (const Part* part = doc_.project().part(ids.front()))
      if (const PartKind* kind = catalogue().partKind(part->type); kind && kind->pressable)
        offerKeys(menu.addMenu(tr("Press it by a key")), part->id);
  for (const std::string& id : selectedIds())
    if (const Part* part = doc_.project().part(id); part && selectedIds().size() == 1)
      offerEnds(&menu, *part);
  if (parts) menu.addSeparator();
  add(parts, tr("Duplicate"), "Ctrl+D", &BenchView::duplicateSelected);
  add(any, tr("Copy"), "Ctrl+C", &BenchView::copySelected);
  add(any, tr("Cut"), "Ctrl+X", &BenchView::cutSelected);
  add(true, tr("Paste"), "Ctrl+V", &BenchView::paste);
  menu.addSeparator();
  add(true, wires ? tr("Tidy this wire") : tr("Tidy all wires"), "Y", &BenchView::tidySelected);
  add(wires, tr("Take out the bends"), "Shift+B", &BenchView::straightenSelected);
  add(any, tr("Show it large"), "1", &BenchView::fitSelection);
  add(true, tr("Fit the bench"), "0", &BenchView::fit);
  if (any) menu.addSeparator();
  add(any, tr("Remove"), "Del", &BenchView::removeSelected);
  menu.exec(e->globalPos());
}

// A knob to one of its ends, a sensor covered, at once.
void BenchView::offerEnds(QMenu* menu, const Part& part) {
  const PartKind* kind = catalogue().partKind(part.type);
  const PropKind* prop = kind && !kind->knob.empty() ? kind->prop(kind->knob) : nullptr;
  if (!prop) return;
  menu->addSeparator();
  const double now = part.number(prop->key, prop->defaultValue);
  for (const auto& [words, end] :
       {std::pair{kind->knobWords.least, prop->min}, {kind->knobWords.most, prop->max}}) {
    QAction* action = menu->addAction(str(words));
    action->setEnabled(now != end);
    connect(action, &QAction::triggered, this,
            [this, id = part.id, change = end] { turnKnob(id, change, 0); });
  }
}

// Keys that press it at the Run station, as long as they are down.
void BenchView::offerKeys(QMenu* menu, const std::string& part) {
  menu->setObjectName(QStringLiteral("keysMenu"));
  const QString name = str(doc_.project().part(part)->name);
  const auto& ties = doc_.project().keys;
  const auto tied = [&](const std::string& key) -> const KeyTie* {
    for (const KeyTie& tie : ties)
      if (tie.key == key) return &tie;
    return nullptr;
  };
  for (const std::string& key : keyNames()) {
    const KeyTie* tie = tied(key);
    const bool mine = tie && tie->part == part;
    const Part* other = tie && !mine ? doc_.project().part(tie->part) : nullptr;
    QAction* action = menu->addAction(
        other ? tr("%1   (now %2)").arg(str(key), literal(str(other->name))) : str(key));
    action->setCheckable(true);
    action->setChecked(mine);
    connect(action, &QAction::triggered, this, [this, key, part, mine, name] {
      doc_.edit(mine ? tr("%1 by no key").arg(name) : tr("%1 by the key %2").arg(name, str(key)),
                edits::tieKey(doc_.project(), key, mine ? std::string() : part));
    });
  }
}

}  // namespace ignavo::app
