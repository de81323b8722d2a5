#include <algorithm>
#include <cmath>
#include <utility>

#include "program/facts.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/phrases/measured.h"
#include "program/program_view.h"
#include "program/read_fields.h"
#include "program/signals.h"
#include "text/plain.h"
#include "theme/text.h"
#include "theme/theme.h"

// Values in place: the fields of steps and of signs.
namespace ignavo::app {

namespace {
constexpr Say fieldSay("program");
}  // namespace

void ProgramView::openField(const FieldRef& field) {
  const Token* token = tokenOf(field);
  if (!token) return;
  focus_ = field;
  std::erase(fresh_, field);
  const Expr* now = edits::exprAt(doc_.project(), field.step, field.path);
  switch (token->what) {
    case Token::What::pin:
      pinMenu(field);
      break;
    case Token::What::level:
    case Token::What::condition: {
      // Two values: a click goes to the other one.
      Expr next = *now;
      if (now->shape == Expr::Shape::truth)
        next.truth = !now->truth;
      else
        next.text = namedLevel(*now).value_or(false) ? levelLow : levelHigh;
      doc_.edit(tr("change a step to %1").arg(str(phraseOf(next))),
                edits::setExpr(doc_.project(), field.step, field.path, next));
      break;
    }
    default:
      openEditor(field, !now || token->text == QStringLiteral("…") ? QString() : token->text);
  }
  update();
}

void ProgramView::openEditor(const FieldRef& field, const QString& text) {
  closeEditor(true);
  if (const Token* token = tokenOf(field)) openEditorAt(field, token->box, text);
}

void ProgramView::openEditorAt(const FieldRef& field, const QRectF& box, const QString& text) {
  doc_.settle();  // what is typed now is an edit of its own
  editorEdited_ = false;
  const QRectF at = shown(box);
  editor_ = new FieldEditor(
      text, QRectF(at.left() - 3, at.top() - 2, std::max(64.0, at.width() + 22), 24), this);
  editor_->setObjectName(QStringLiteral("fieldEditor"));
  editor_->setAccessibleName(tr("Value"));
  edited_ = field;
  connect(editor_, &QLineEdit::textEdited, this, &ProgramView::editorChanged);
  connect(editor_, &FieldEditor::taken, this, [this] {
    if (!signReads()) return;
    closeEditor(true);
    setFocus();
  });
  connect(editor_, &FieldEditor::given, this, [this] {
    closeEditor(false);
    setFocus();
  });
  connect(editor_, &FieldEditor::left, this, [this] { closeEditor(true); });
  connect(editor_, &FieldEditor::next, this, [this](int direction) {
    closeEditor(true);
    setFocus();
    nextField(direction);
  });
  connect(editor_, &FieldEditor::stepped, this, [this](int direction) { stepNumber(direction); });
}

// Every digit counts at once, and all of them together are one undo step.
void ProgramView::editorChanged(const QString& text) {
  if (edited_.path.empty()) return;  // a whole sign: it is read when all of it stands there
  const std::string root = edited_.path.substr(0, edited_.path.find('/'));
  const SlotKind* slot = slotOf(edited_.step, root);
  const Token* token = tokenOf(edited_);
  const SlotKind::Type type =
      token && (token->type == SlotKind::Type::variable || token->type == SlotKind::Type::list)
          ? token->type
      : slot ? slot->type
             : SlotKind::Type::number;
  ParsedExpr value;
  const std::string typed = plainLine(text.toStdString());
  if (slot && !slot->absent.empty() && edited_.path == root && text.trimmed().isEmpty()) {
    // What may be left out is gone with its last letter.
    Q_EMIT problem(QString());
    if (doc_.edit(tr("change a step"), edits::clearField(doc_.project(), edited_.step, root),
                  QStringLiteral("field ") + str(edited_.step + edited_.path)))
      editorEdited_ = true;
    return;
  }
  switch (type) {
    case SlotKind::Type::text:
      value.value = Expr::of(typed);
      break;
    case SlotKind::Type::variable:
    case SlotKind::Type::list: {
      const Vocabulary names = words();
      const auto known = type == SlotKind::Type::list ? names.list(typed) : names.variable(typed);
      const bool makes = type == SlotKind::Type::variable && edited_.path == root && isName(typed);
      if (known || makes)
        value.value = Expr::of(known.value_or(typed));
      else
        value.problem = fieldSay("There is nothing called {} here.", typed);
      break;
    }
    case SlotKind::Type::own:
    case SlotKind::Type::key:
    case SlotKind::Type::said:
    case SlotKind::Type::items:
    case SlotKind::Type::inputs:
      value = parseSlotText(*slot, typed, words(), inputsOfRun(edited_.step));
      break;
    default:
      value = readValue(text.toStdString(), type == SlotKind::Type::truth, words());
  }
  if (value.value) phrases::takeLevels(*value.value, type, words());
  if (!value.value)
    return Q_EMIT problem(text.trimmed().isEmpty() ? QString() : str(value.problem));
  if (slot && slot->type == SlotKind::Type::number && edited_.path == root &&
      value.value->shape == Expr::Shape::number &&
      (value.value->number < slot->min || value.value->number > slot->max))
    return Q_EMIT problem(
        tr("This can be from %1 to %2 %3.").arg(slot->min).arg(slot->max).arg(str(slot->unit)));
  Q_EMIT problem(QString());
  const QString name = tr("change a step to %1").arg(text);
  const QString key = QStringLiteral("field ") + str(edited_.step + edited_.path);
  Project next = edits::setExpr(doc_.project(), edited_.step, edited_.path, *value.value);
  // Another own step has other inputs.
  if (type == SlotKind::Type::own) next = withInputs(std::move(next), edited_.step);
  if (doc_.edit(name, std::move(next), key)) editorEdited_ = true;
}

// The slot of a step, or of the sign of a lane.
const SlotKind* ProgramView::slotOf(const std::string& owner, const std::string& key) const {
  if (const Step* step = doc_.project().step(owner)) {
    const StepKind* kind = stepKind(step->kind);
    return kind ? kind->slot(key) : nullptr;
  }
  const Lane* held = lane(owner);
  const TriggerKind* kind = held ? triggerKind(held->trigger.on) : nullptr;
  return kind ? kind->slot(key) : nullptr;
}

// Of the own step that a step runs.
std::vector<std::string> ProgramView::inputsOfRun(const std::string& id) const {
  const Step* step = doc_.project().step(id);
  const Program* held = program();
  const Lane* own = step && held ? ownRun(*held, *step) : nullptr;
  return own ? inputsOf(*own) : std::vector<std::string>{};
}

// The whole sign of a lane, as text.
void ProgramView::typeSign(const std::string& id) {
  const ProgramRow* row = rowOf(id);
  const Lane* held = lane(id);
  if (!row || !held) return;
  closeEditor(true);
  QRectF box = row->box.adjusted(6, 3, 0, -3);
  if (held->trigger.fields.size() > 0) box.setRight(std::max(box.right(), box.left() + 380));
  openEditorAt({id, {}}, box, str(signOf(held->trigger)));
}

// Can what was typed over a sign be read? Said where not; it stays to be mended.
bool ProgramView::signReads() {
  if (!editor_ || !edited_.path.empty()) return true;
  const QString typed = editor_->text();
  if (readPhrase(typed.toStdString(), words()).lane) return true;
  Q_EMIT problem(tr("“%1” is no sign of a lane. For example: Each time D2 goes high; Every 0.25 s; "
                    "Keep D9 at D2.")
                     .arg(typed));
  return false;
}

// Not kept: the value is again what it was before it was typed over.
void ProgramView::closeEditor(bool keep) {
  if (!editor_) return;
  if (!keep && std::exchange(editorEdited_, false)) doc_.undo();
  const bool sign = keep && edited_.path.empty();
  const std::string typed = editor_->text().toStdString();
  doc_.settle();
  FieldEditor* closing = std::exchange(editor_, nullptr);
  closing->disconnect(this);
  closing->hide();
  closing->deleteLater();
  Q_EMIT problem(QString());
  if (sign)
    if (const Reading read = readPhrase(typed, words()); read.lane)
      setTrigger(edited_.step, *read.lane);
  update();
}

// Up and down change the focused number at once.
void ProgramView::stepNumber(double direction) {
  const FieldRef field = editor_ ? edited_ : focus_;
  const Expr* now = edits::exprAt(doc_.project(), field.step, field.path);
  if (!now || now->shape != Expr::Shape::number) return;
  const SlotKind* slot = slotOf(field.step, field.path);
  // Fine steps for small numbers, by way of the quarters that people want.
  double by = slot ? slot->stepBy : 1;
  if (slot && slot->stepBy < 1 && now->number <= 5 * slot->stepBy + 1e-9) by /= 2;
  while (by > 1e-6 && by >= now->number && now->number > 0 && slot && slot->stepBy < 1) by /= 10;
  double next = std::round((now->number + direction * by) / by) * by;
  next = std::round(next * 1e9) / 1e9;
  if (slot) next = std::clamp(next, slot->min, slot->max);
  const QString key = QStringLiteral("field ") + str(field.step + field.path);
  const bool edited =
      doc_.edit(tr("change a step to %1").arg(str(phraseOf(Expr::of(next)))),
                edits::setExpr(doc_.project(), field.step, field.path, Expr::of(next)), key);
  if (editor_) {
    editorEdited_ = editorEdited_ || edited;
    editor_->setText(str(phraseOf(Expr::of(next))));
    editor_->selectAll();
  }
}

void ProgramView::nextField(int direction) {
  const std::string owner = doc_.selectedStep().toStdString();
  std::vector<std::string> paths;
  for (const ProgramRow& row : picture_.rows)
    if (row.owner() == owner)
      for (const Token& t : row.tokens)
        if (t.isField()) paths.push_back(t.path);
  if (paths.empty()) return;
  const auto it =
      std::find(paths.begin(), paths.end(), focus_.step == owner ? focus_.path : std::string("?"));
  const auto n = static_cast<std::ptrdiff_t>(paths.size());
  std::ptrdiff_t i =
      it == paths.end() ? (direction > 0 ? 0 : n - 1) : (it - paths.begin()) + direction;
  i = (i % n + n) % n;
  focus_ = {owner, paths[static_cast<std::size_t>(i)]};
  update();
}

// ---- the thread of a lane that keeps something

bool ProgramView::onThread() const {
  const Lane* held = lane(doc_.selectedStep().toStdString());
  return held && isKept(held->trigger);
}

// What came into it stays in its place.
void ProgramView::removeOperator() {
  const Expr* held = edits::exprAt(doc_.project(), focus_.step, focus_.path);
  const Expr* in = held ? comesInto(*held).value : nullptr;
  if (!in) return Q_EMIT problem(tr("The thread begins here: Return types it anew."));
  doc_.edit(tr("remove “%1”").arg(str(phraseOf(*held))),
            edits::setExpr(doc_.project(), focus_.step, focus_.path, Expr(*in)));
}

const ProgramRow* ProgramView::threadOf(const std::string& id) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::thread && row.lane == id) return &row;
  return nullptr;
}

// Below what the thread leads to; what is offered below it needs more room.
QRect ProgramView::boxOfOperator(const ProgramRow& thread) const {
  constexpr int wide = 260;
  constexpr double card = 470;
  const QRectF target = shown(thread.tokens.back().box);
  return {static_cast<int>(std::clamp(target.left(), 10.0, std::max(10.0, width() - card))),
          static_cast<int>(target.bottom()) + 2, wide, 28};
}

// A box for an operator in front of what the thread leads to.
void ProgramView::openOperator(const QString& typed) {
  closeOperator();
  const ProgramRow* thread = threadOf(doc_.selectedStep().toStdString());
  if (!thread) return;
  operator_ = newBox(QStringLiteral("insertOperator"));
  operator_->setAccessibleName(tr("Type an operator"));
  operator_->setGeometry(boxOfOperator(*thread));
  operator_->setText(typed);
  operator_->raise();
  operator_->show();
  operator_->setFocus();
  offerFor(operator_);
}

void ProgramView::closeOperator() { closeBox(operator_); }

// "flips", "held for 3 s", "> 50": done to what is there so far.
void ProgramView::commitOperator() {
  const std::string id = doc_.selectedStep().toStdString();
  const Lane* held = lane(id);
  const Expr* kept = held ? keptOf(held->trigger) : nullptr;
  if (!kept) return;
  const std::string typed = operator_->text().toStdString(), from = keptField(held->trigger);
  const bool condition = slotOf(id, from)->type == SlotKind::Type::truth;
  const ParsedExpr read = readOperator(typed, *kept, condition, words());
  if (!read.value) return ask(operator_, {read.problem, 0, typed.size(), {}});
  closeOperator();
  setFocus();
  doc_.edit(tr("add “%1”").arg(str(typed)), edits::setExpr(doc_.project(), id, from, *read.value));
}

}  // namespace ignavo::app
