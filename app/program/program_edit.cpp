#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <algorithm>

#include "program/facts.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/phrases/reading.h"
#include "program/program_view.h"
#include "program/words.h"
#include "theme/text.h"

// What is done to steps: choosing, moving, copying, folding, trying; and the keys for it.
namespace ignavo::app {

edits::StepPlace ProgramView::placeForNew() const {
  const std::string id = doc_.selectedStep().toStdString();
  edits::StepPlace place = edits::placeOf(doc_.project(), id);
  if (!place.lane.empty()) {
    ++place.index;
    return place;
  }
  // A lane by its sign, else the first that has steps.
  if (const Program* held = program())
    for (const auto& lane : held->lanes) {
      if (isKept(lane->trigger)) continue;
      if (lane->id == id) return {lane->id, {}, {}, 0};
      if (place.lane.empty()) place = {lane->id, {}, {}, lane->steps.size()};
    }
  return place;
}

void ProgramView::insertSteps(Steps steps, const QString& name) {
  const edits::StepPlace place = placeForNew();
  if (place.lane.empty()) return;
  Project p = declareNames(
      edits::assignIds(edits::insertSteps(doc_.project(), place, std::move(steps))), board_);
  if (!doc_.edit(name, std::move(p))) return;
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step && edits::placeOf(doc_.project(), row.step->id) == place)
      doc_.selectStep(str(row.step->id));
}

void ProgramView::addKind(const std::string& kind) {
  const StepKind* k = stepKind(kind);
  if (!k) return;
  Step step = newStep(*k);
  // A pin that has something on it is the likeliest one.
  const QStringList pins = pinNames();
  if (pinOf(step) && !pins.isEmpty()) setPinOf(step, pins.front().toStdString());
  // Likewise what has a name already; a variable is made where there is none.
  const Vocabulary names = words();
  for (const SlotKind& slot : k->slots) {
    if (slot.type == SlotKind::Type::variable)
      step.setField(slot.key, Expr::of(names.variables.empty() ? std::string("count")
                                                               : names.variables.front()));
    if (slot.type == SlotKind::Type::list && !names.lists.empty())
      step.setField(slot.key, Expr::of(names.lists.front()));
    if (slot.type == SlotKind::Type::own && !names.own.empty()) {
      const ParsedStep run = parseStep(names.own.front().name, names);
      if (run.step) step = *run.step;
    }
  }
  const QString name = tr("add “%1”").arg(str(k->label));
  if (!insert_) return insertSteps({step}, name);
  // Where a box is open it goes there, and the box goes on behind it.
  const edits::StepPlace place = insertAt_;
  closeInsert();
  doc_.edit(name, declareNames(edits::assignIds(edits::insertSteps(doc_.project(), place, {step})),
                               board_));
  goOnTyping(place, 1, nullptr);
}

void ProgramView::addLane(const std::string& trigger) {
  Lane lane;
  const TriggerKind* kind = triggerKind(trigger);
  if (!kind) return;
  lane.trigger = newTrigger(*kind, likelyInput(trigger));
  if (kind->keeps == TriggerKind::Keeps::variable) {
    const Vocabulary names = words();
    lane.trigger.setField(variableKey, Expr::of(names.variables.empty() ? std::string("count")
                                                                        : names.variables.front()));
  }
  if (kind->own) {
    // A name that no other has.
    const Vocabulary names = words();
    std::string free = lane.trigger.field(ownNameKey)->text;
    for (int n = 2; names.ownStep(free); ++n)
      free = lane.trigger.field(ownNameKey)->text + " " + std::to_string(n);
    lane.trigger.setField(ownNameKey, Expr::of(free));
  }
  doc_.edit(tr("add a lane"), declareNames(edits::addLane(doc_.project(), board_, lane), board_));
  if (const Program* held = program(); held && !held->lanes.empty())
    if (QLineEdit* box = endBox(held->lanes.back()->id)) {
      box->setFocus();
      Q_EMIT wantVisible(QRectF(box->geometry()));
    }
}

// ---- which

std::vector<std::string> ProgramView::selected() const {
  std::vector<std::string> ids = also_;
  ids.push_back(doc_.selectedStep().toStdString());
  return edits::outermost(doc_.project(), ids);
}

void ProgramView::selectOnly(const std::string& id) {
  also_.clear();
  anchor_ = id;
  doc_.selectStep(str(id));
}

// All from where choosing began to there.
void ProgramView::selectTo(const std::string& id) {
  std::string from = anchor_.empty() ? doc_.selectedStep().toStdString() : anchor_;
  const ProgramRow* begun = rowOf(from);
  if (!begun || begun->what != ProgramRow::What::step) from = id;  // a sign, or folded away
  also_.clear();
  bool within = false;
  for (const ProgramRow& row : picture_.rows) {
    if (row.what != ProgramRow::What::step) continue;
    const bool end = row.step->id == from || row.step->id == id;
    if (end || within) also_.push_back(row.step->id);
    if (end && from != id) within = !within;
  }
  anchor_ = from;
  doc_.selectStep(str(id));
  update();
}

void ProgramView::selectNeighbour(int direction, bool more) {
  std::vector<std::string> ids;
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step || (row.what == ProgramRow::What::sign && !more))
      ids.push_back(row.owner());
  if (ids.empty()) return;
  const auto it = std::find(ids.begin(), ids.end(), doc_.selectedStep().toStdString());
  auto i = it == ids.end() ? (direction > 0 ? 0 : static_cast<std::ptrdiff_t>(ids.size()) - 1)
                           : (it - ids.begin()) + direction;
  i = std::clamp<std::ptrdiff_t>(i, 0, static_cast<std::ptrdiff_t>(ids.size()) - 1);
  focus_ = {};
  const std::string& to = ids[static_cast<std::size_t>(i)];
  if (more)
    selectTo(to);
  else
    selectOnly(to);
}

// The step and all behind it in its list.
std::vector<std::string> ProgramView::withFollowers(const std::string& step) const {
  std::vector<std::string> out;
  const edits::StepPlace place = edits::placeOf(doc_.project(), step);
  const Lane* held = lane(place.lane);
  const Step* parent = doc_.project().step(place.parent);
  const Steps* list = parent ? parent->body(place.body) : held ? &held->steps : nullptr;
  if (list)
    for (std::size_t i = place.index; i < list->size(); ++i) out.push_back((*list)[i].id);
  return out;
}

// As an edit is called: by its only step, or by how many they are.
QString ProgramView::nameOf(const std::vector<std::string>& ids) const {
  const Step* only = ids.size() == 1 ? doc_.project().step(ids.front()) : nullptr;
  if (only) return QStringLiteral("“%1”").arg(str(phraseOf(*only)));
  return tr("%n steps", nullptr, static_cast<int>(ids.size()));
}

// ---- what

void ProgramView::move(const std::vector<std::string>& ids, const edits::StepPlace& place) {
  doc_.edit(tr("move %1").arg(nameOf(ids)), edits::moveSteps(doc_.project(), ids, place));
}

void ProgramView::moveSelected(int direction) {
  const std::vector<std::string> ids = selected();
  if (ids.empty()) return;
  edits::StepPlace place = edits::placeOf(doc_.project(), direction < 0 ? ids.front() : ids.back());
  if (direction < 0 && place.index == 0) return;
  place.index = direction < 0 ? place.index - 1 : place.index + 2;
  move(ids, place);
}

void ProgramView::removeSelected() {
  const std::vector<std::string> ids = selected();
  if (ids.empty()) return;
  // What follows is chosen then, else what stands before.
  const QString name = tr("remove %1").arg(nameOf(ids));
  Project next = edits::removeSteps(doc_.project(), ids);
  std::string before, after;
  bool passed = false;
  for (const ProgramRow& row : picture_.rows) {
    if (row.what != ProgramRow::What::step) continue;
    if (!next.step(row.step->id)) {
      passed = true;
    } else if (passed) {
      after = row.step->id;
      break;
    } else {
      before = row.step->id;
    }
  }
  selectOnly(after.empty() ? before : after);
  doc_.edit(name, std::move(next));
}

// The fields of the copies that probably change are marked until they are touched.
void ProgramView::duplicateSelected(bool followers) {
  const std::vector<std::string> ids =
      followers ? withFollowers(doc_.selectedStep().toStdString()) : selected();
  std::vector<std::string> copies;
  Project next = edits::duplicateSteps(doc_.project(), ids, &copies);
  if (copies.empty() || !doc_.edit(tr("duplicate %1").arg(nameOf(ids)), std::move(next))) return;
  fresh_.clear();
  std::vector<std::string> all;
  for (const std::string& copy : copies) {
    all.push_back(copy);
    for (const auto& [key, body] : doc_.project().step(copy)->bodies)
      forEachStep(body, [&](const Step& s) { all.push_back(s.id); });
  }
  for (const std::string& id : all)
    if (const ProgramRow* row = rowOf(id)) {
      const bool pins = std::any_of(row->tokens.begin(), row->tokens.end(),
                                    [](const Token& t) { return t.what == Token::What::pin; });
      for (const Token& t : row->tokens) {
        const Expr* value = edits::exprAt(*row->step, t.path);
        const bool figure = value && value->isLiteral() && t.what == Token::What::value;
        if (t.isField() &&
            (t.what == Token::What::pin || t.what == Token::What::level || (!pins && figure)))
          fresh_.push_back({id, t.path});
      }
    }
  selectOnly(copies.front());
  if (copies.size() > 1) selectTo(copies.back());
}

bool ProgramView::isFresh(const std::string& step, const std::string& path) const {
  return std::find(fresh_.begin(), fresh_.end(), FieldRef{step, path}) != fresh_.end();
}

void ProgramView::copySelected() {
  Steps steps;
  for (const std::string& id : selected()) steps.push_back(*doc_.project().step(id));
  if (!steps.empty()) QApplication::clipboard()->setText(str(textOf(steps)));
}

void ProgramView::paste() {
  const ParsedSteps parsed = readSteps(QApplication::clipboard()->text().toStdString(), words());
  if (parsed.badLine)
    return Q_EMIT problem(
        tr("Line %1 of what was copied: %2").arg(parsed.badLine).arg(str(parsed.problem)));
  if (!parsed.steps.empty()) insertSteps(parsed.steps, tr("paste steps"));
}

// Whatever holds it and is folded away is opened.
void ProgramView::unfoldTo(const std::string& step) {
  for (edits::StepPlace place = edits::placeOf(doc_.project(), step); !place.parent.empty();
       place = edits::placeOf(doc_.project(), place.parent))
    folds_[place.parent] = false;
  relayout();
}

void ProgramView::fold(const std::string& step, bool away) {
  const Step* held = doc_.project().step(step);
  if (!held || held->bodies.empty()) return;
  folds_[step] = away;
  relayout();
}

// Into the own step that the selected one runs, or from an own step back to who runs it.
void ProgramView::goInto(int direction) {
  const Program* held = program();
  const std::string id = doc_.selectedStep().toStdString();
  if (!held) return;
  if (const Step* step = direction > 0 ? doc_.project().step(id) : nullptr) {
    if (const Lane* own = ownRun(*held, *step)) selectOnly(own->id);
    return;
  }
  if (direction > 0) return;
  const std::string place = edits::placeOf(doc_.project(), id).lane;
  const Lane* own = lane(place.empty() ? id : place);
  if (!own || !isOwn(*own)) return;
  for (const auto& other : held->lanes) {
    std::string caller;
    forEachStep(other->steps, [&](const Step& s) {
      if (caller.empty() && ownRun(*held, s) == own) caller = s.id;
    });
    if (!caller.empty()) return selectOnly(caller);
  }
  Q_EMIT problem(tr("Nothing runs “%1” yet.").arg(str(ownName(*own))));
}

void ProgramView::makeOwn() {
  OwnStepMade made = makeOwnStep(doc_.project(), selected());
  if (made.call.empty()) return Q_EMIT problem(str(made.problem));
  Q_EMIT problem(QString());
  doc_.edit(tr("make an own step"), std::move(made.project));
  selectOnly(made.lane);
  typeSign(made.lane);  // its name comes next
}

void ProgramView::tryStep(const std::string& body) {
  const std::string id = doc_.selectedStep().toStdString();
  if (doc_.project().step(id)) Q_EMIT tryWanted({id, body, {}});
}

// ---- keys

// What Ctrl and Alt do with what is chosen.
bool ProgramView::stepKey(QKeyEvent* e) {
  const std::string id = doc_.selectedStep().toStdString();
  const bool ctrl = e->modifiers() & Qt::ControlModifier, alt = e->modifiers() & Qt::AltModifier,
             shift = e->modifiers() & Qt::ShiftModifier;
  if (alt) {
    switch (e->key()) {
      case Qt::Key_Up:
      case Qt::Key_Down:
        goInto(e->key() == Qt::Key_Down ? 1 : -1);
        return true;
      case Qt::Key_Left:
      case Qt::Key_Right:
        fold(id, e->key() == Qt::Key_Left);
        return true;
      default:
        return false;
    }
  }
  if (!ctrl) return false;
  switch (e->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down:
      moveSelected(e->key() == Qt::Key_Up ? -1 : 1);
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      tryStep();
      return true;
    case Qt::Key_D:
      duplicateSelected(shift);
      return true;
    case Qt::Key_C:
      copySelected();
      return true;
    case Qt::Key_X:
      copySelected();
      removeSelected();
      return true;
    case Qt::Key_V:
      paste();
      return true;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      setZoom(zoom_ * 1.25);
      return true;
    case Qt::Key_Minus:
      setZoom(zoom_ / 1.25);
      return true;
    case Qt::Key_0:
      setZoom(1);
      return true;
    default:
      return false;
  }
}

void ProgramView::keyPressEvent(QKeyEvent* e) {
  if (stepKey(e)) return;
  const bool onField = !focus_.path.empty() && focus_.step == doc_.selectedStep().toStdString();
  const Token* token = onField ? tokenOf(focus_) : nullptr;
  switch (e->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down: {
      const int direction = e->key() == Qt::Key_Up ? -1 : 1;
      const bool more = e->modifiers() & Qt::ShiftModifier;
      if (token && token->what == Token::What::value && !more) return stepNumber(-direction);
      return selectNeighbour(direction, more);
    }
    case Qt::Key_Left:
      return nextField(-1);
    case Qt::Key_Right:
      return nextField(1);
    case Qt::Key_F2:
      if (const ProgramRow* row = rowOf(doc_.selectedStep().toStdString());
          row && row->what == ProgramRow::What::sign && !onField)
        return typeSign(row->lane);
      if (!onField) nextField(1);
      return openField(focus_);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (onField) return openField(focus_);
      insertAt_ = placeForNew();
      return openInsert();
    case Qt::Key_Escape:
      if (onField)
        focus_ = {};
      else
        selectOnly({});
      return update();
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      if (token && token->what == Token::What::knot) return removeOperator();
      return removeSelected();
    default:
      break;
  }
  const bool typed = !e->text().isEmpty() && e->text()[0].isPrint();
  // Digits typed on a focused number begin a new value.
  if (token && token->what == Token::What::value && typed &&
      (e->text()[0].isDigit() || e->text()[0] == '.')) {
    openEditor(focus_, {});
    editor_->setText(e->text());
    return editorChanged(e->text());
  }
  // Words typed on a thread put an operator in front of what it leads to.
  if (typed && onThread() && e->text()[0].isLetter()) return openOperator(e->text());
  QWidget::keyPressEvent(e);
}

}  // namespace ignavo::app
