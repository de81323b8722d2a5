#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <algorithm>
#include <cmath>
#include <utility>

#include "format/wiring_language.h"
#include "program/facts.h"
#include "program/names.h"
#include "program/program_view.h"
#include "program/words.h"
#include "text/plain.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

QLineEdit* ProgramView::newBox(const QString& name) {
  auto* box = new QLineEdit(this);
  box->setObjectName(name);
  box->setAccessibleName(tr("Type a step"));
  box->setMaxLength(300);
  connect(box, &QLineEdit::textEdited, this, [this, box] {
    offerFor(box);
    Q_EMIT problem(QString());
  });
  box->installEventFilter(this);
  return box;
}

bool ProgramView::eventFilter(QObject* watched, QEvent* event) {
  auto* box = qobject_cast<QLineEdit*>(watched);
  if (!box) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::FocusOut && box != editor_) card_->hide();
  // One in which nothing was typed goes when it is left.
  if (event->type() == QEvent::FocusOut && box == insert_ && box->text().isEmpty() &&
      static_cast<QFocusEvent*>(event)->reason() != Qt::PopupFocusReason) {
    closeInsert();
    return false;
  }
  if (event->type() == QEvent::FocusIn && box == when_) offerSigns(box->text());
  if (event->type() == QEvent::FocusOut && box == editor_ &&
      static_cast<QFocusEvent*>(event)->reason() != Qt::PopupFocusReason) {
    closeEditor(true);
    return false;
  }
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  auto* key = static_cast<QKeyEvent*>(event);
  if (box == editor_) {
    switch (key->key()) {
      case Qt::Key_Return:
      case Qt::Key_Enter:
        if (!signReads()) return true;
        closeEditor(true);
        setFocus();
        return true;
      case Qt::Key_Escape:
        closeEditor(false);
        setFocus();
        return true;
      case Qt::Key_Up:
        stepNumber(1);
        return true;
      case Qt::Key_Down:
        stepNumber(-1);
        return true;
      case Qt::Key_Tab:
        closeEditor(true);
        setFocus();
        nextField(1);
        return true;
      default:
        return false;
    }
  }
  if (cardKey(box, key)) return true;
  if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
    commit(box);
    return true;
  }
  if (key->key() == Qt::Key_Escape) {
    box->clear();
    Q_EMIT problem(QString());
    if (box == insert_) closeInsert();
    setFocus();
    return true;
  }
  return false;
}

void ProgramView::beginStep(const QString& text) {
  if (ends_.isEmpty()) return;
  QLineEdit* box = ends_.first();
  box->setFocus();
  box->setText(text.trimmed());
  if (text.endsWith(QLatin1Char('\n')))
    commit(box);
  else
    offerFor(box);
}

void ProgramView::beginGroup(const QString& phrase) {
  const Reading read = readPhrase(phrase.toStdString(), words());
  if (!read.steps.empty()) {
    insertSteps(read.steps, tr("add “%1”").arg(phrase));
    return setFocus();
  }
  if (!read.question) return;
  insertAt_ = placeForNew();
  openInsert();
  insert_->setText(phrase);
  ask(insert_, *read.question);
}

// Ways in which a lane can begin: what was typed, as it is read, and signs that begin so.
void ProgramView::offerSigns(const QString& typed) {
  std::vector<TypingCard::Row> rows;
  const auto offer = [&](const Trigger& trigger) {
    const QString sign = str(signOf(trigger));
    const bool there = std::any_of(rows.begin(), rows.end(),
                                   [&](const TypingCard::Row& r) { return r.phrase == sign; });
    if (!there && !sign.contains(QStringLiteral("…")))
      rows.push_back({sign, str(triggerKind(trigger.on)->help)});
  };
  const QString begins = typed.trimmed().toLower();
  if (!begins.isEmpty())
    if (const Reading read = readPhrase(begins.toStdString(), words()); read.lane)
      offer(*read.lane);
  for (const TriggerKind& kind : triggerKinds()) {
    const Trigger trigger = newTrigger(kind, likelyInput(kind.on));
    if (str(signOf(trigger)).toLower().startsWith(begins)) offer(trigger);
  }
  for (TypingCard::Row& row : rows)
    if (const auto end = row.help.indexOf(QStringLiteral(". ")); end > 0)
      row.help.truncate(end + 1);
  card_->show(when_, {}, {}, std::move(rows));
}

// "each time …", "every …": a lane; what only says what happens does so each time it does.
void ProgramView::commitWhen() {
  const QString text = when_->text();
  if (text.trimmed().isEmpty()) return;
  Reading read = readPhrase(text.toStdString(), words());
  if (!read.lane && !read.named)
    if (const Reading each = readPhrase("each time " + text.toStdString(), words()); each.lane)
      read = each;
  if (addRead(read, text)) {
    card_->hide();
    return when_->clear();
  }
  if (read.question) return ask(when_, *read.question);
  ask(when_, {stepSay("This says what happens. Here stands when: each time …, every …"),
              0,
              text.toStdString().size(),
              {"Each time D2 goes high", "Every 1 s", "When power comes on"}});
}

// Where what is typed in that box goes.
void ProgramView::commit(QLineEdit* box) {
  if (box == when_) return commitWhen();
  if (box == insert_ && box->text().trimmed().isEmpty()) return leaveInsert();
  if (box != insert_)
    for (auto it = ends_.begin(); it != ends_.end(); ++it)
      if (it.value() == box)
        for (const ProgramGap& gap : picture_.gaps)
          if (gap.place.lane == it.key().toStdString() && gap.place.parent.empty())
            insertAt_ = gap.place;
  commitBox(box, insertAt_);
}

// While something is typed: what it would be, and phrases that begin so.
void ProgramView::offerFor(QLineEdit* box) {
  if (box == when_) return offerSigns(box->text());
  constexpr std::size_t most = 6;
  std::vector<TypingCard::Row> rows;
  for (const Offer& offer : offersFor(box->text().toStdString(), words(), most))
    rows.push_back({str(offer.phrase), str(offer.help)});
  Q_EMIT wantVisible(QRectF(box->geometry()));
  card_->show(box, {}, {}, std::move(rows));
}

// What was typed is open: the question at its word, and phrases to choose from.
void ProgramView::ask(QLineEdit* box, const phrases::Question& question) {
  const std::string typed = box->text().toStdString();
  const auto letters = [&](std::size_t bytes) {
    return static_cast<int>(QString::fromStdString(typed.substr(0, bytes)).size());
  };
  const int from = letters(question.at), to = letters(question.at + question.length);
  std::vector<TypingCard::Row> rows;
  for (const Offer& offer : offered(question.choices, words()))
    rows.push_back({str(offer.phrase), str(offer.help)});
  Q_EMIT wantVisible(QRectF(box->geometry()));
  card_->show(box, str(question.problem), {from, to - from}, std::move(rows));
}

// Arrows go through the card's rows, Tab takes one into the box, Return takes it at once.
bool ProgramView::cardKey(QLineEdit* box, QKeyEvent* key) {
  if (!card_->isVisible()) return false;
  switch (key->key()) {
    case Qt::Key_Down:
    case Qt::Key_Up:
      if (card_->rows().empty()) return false;
      card_->move(key->key() == Qt::Key_Down ? 1 : -1);
      return true;
    case Qt::Key_Tab: {
      if (card_->rows().empty()) return false;
      box->setText(card_->chosen().isEmpty() ? card_->rows().front().phrase : card_->chosen());
      offerFor(box);
      return true;
    }
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (card_->chosen().isEmpty()) return false;
      box->setText(card_->chosen());
      card_->hide();
      commit(box);
      return true;
    case Qt::Key_Escape:
      card_->hide();
      return false;
    default:
      return false;
  }
}

void ProgramView::commitBox(QLineEdit* box, const edits::StepPlace& place) {
  const QString text = box->text();
  const Reading read = readPhrase(text.toStdString(), words());
  if (read.otherwise && beginOtherwise(place)) return;
  if (addRead(read, text)) {
    card_->hide();
    return box->clear();
  }
  if (read.steps.empty()) {
    // "a lamp on D6": wiring can be typed here as well.
    const Typed typed = typeLine(doc_.project(), text.toStdString(), board_);
    if (!typed.problem && !typed.ids.empty()) {
      Q_EMIT problem(QString());
      card_->hide();
      box->clear();
      doc_.edit(str(typed.name), typed.project);
      return;
    }
    if (read.question) ask(box, *read.question);
    if (read.otherwise)
      ask(box,
          {stepSay("“otherwise” belongs right below an “if”."), 0, text.toStdString().size(), {}});
    return;
  }
  Q_EMIT problem(QString());
  card_->hide();
  const bool inserting = box == insert_;
  Project p = edits::insertSteps(doc_.project(), place, read.steps);
  p = declareNames(edits::assignIds(std::move(p)), board_);
  box->clear();
  if (inserting) closeInsert();
  const bool one = read.steps.size() == 1;
  doc_.edit(tr("add “%1”").arg(one ? str(phraseOf(read.steps.front())) : text.trimmed()),
            std::move(p));
  showMended(read, place);
  goOnTyping(place, read.steps.size(), inserting ? nullptr : box);
}

// The next step is typed inside the one that was added, where that has nothing inside yet; else
// right behind it.
void ProgramView::goOnTyping(const edits::StepPlace& place, std::size_t added, QLineEdit* endBox) {
  edits::StepPlace last = place;
  last.index += added - 1;
  const Step* step = nullptr;
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step && edits::placeOf(doc_.project(), row.step->id) == last)
      step = row.step;
  if (step && !step->bodies.empty() && step->bodies.front().second.empty()) {
    insertAt_ = {place.lane, step->id, step->bodies.front().first, 0};
    return openInsert();
  }
  if (endBox) {
    endBox->setFocus();
    return Q_EMIT wantVisible(QRectF(endBox->geometry()));
  }
  if (step) doc_.selectStep(str(step->id));
  insertAt_ = last;
  ++insertAt_.index;
  openInsert();
}

// Return in an empty box: out of the body that it stands in, to behind what holds that.
void ProgramView::leaveInsert() {
  const edits::StepPlace was = insertAt_;
  closeInsert();
  edits::StepPlace out = edits::placeOf(doc_.project(), was.parent);
  if (was.parent.empty() || out.lane.empty()) return setFocus();
  ++out.index;
  const ProgramGap* last = nullptr;
  for (const ProgramGap& gap : picture_.gaps)
    if (gap.place.lane == out.lane && gap.place.parent == out.parent && gap.place.body == out.body)
      last = &gap;
  QLineEdit* end = endBox(out.lane);
  if (out.parent.empty() && last && last->place == out && end) return end->setFocus();
  insertAt_ = out;
  openInsert();
}

void ProgramView::closeInsert() {
  if (!insert_) return;
  QLineEdit* closing = insert_;
  insert_ = nullptr;
  card_->hide();
  closing->removeEventFilter(this);
  closing->setObjectName(QString());
  closing->hide();
  closing->deleteLater();
}

// What was typed with slips is marked until the next edit.
void ProgramView::showMended(const Reading& read, const edits::StepPlace& place) {
  if (read.mended.empty()) return;
  QStringList words;
  for (const phrases::Mended& m : read.mended) words << str(m.word);
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step && edits::placeOf(doc_.project(), row.step->id) == place)
      mendedStep_ = str(row.step->id);
  mendedWords_ = words.join(QStringLiteral(", "));
  update();
}

// "otherwise": what is typed next goes there.
bool ProgramView::beginOtherwise(const edits::StepPlace& place) {
  const auto begin = [&](const Step& fork) {
    const std::string body = bodyKey(fork, Runs::ifNot);
    const Steps* held = bodyOf(fork, Runs::ifNot);
    if (body.empty() || !held) return false;
    const edits::StepPlace there{place.lane, fork.id, body, held->size()};
    card_->hide();
    for (QLineEdit* box : std::as_const(ends_)) box->clear();
    insertAt_ = there;
    openInsert();
    return true;
  };
  for (const ProgramRow& row : picture_.rows) {
    if (row.what != ProgramRow::What::step || !isFork(*row.step)) continue;
    edits::StepPlace behind = edits::placeOf(doc_.project(), row.step->id);
    ++behind.index;
    if (!(behind == place)) continue;
    return begin(*row.step);
  }
  // Typed inside the yes-branch: that of the fork around it.
  const Step* around = doc_.project().step(place.parent);
  return around && isFork(*around) && runsOf(*around, place.body) == Runs::ifSo && begin(*around);
}

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

QString ProgramView::addTyped(const QString& text) {
  const Reading read = readPhrase(text.toStdString(), words());
  if (addRead(read, text)) return {};
  if (read.question) return str(read.question->problem);
  if (read.steps.empty()) return tr("Type it where it belongs, below its “if”.");
  const bool one = read.steps.size() == 1;
  insertSteps(read.steps,
              tr("add “%1”").arg(one ? str(phraseOf(read.steps.front())) : text.trimmed()));
  return {};
}

// The sign of a lane, a variable or a list, where it is one.
bool ProgramView::addRead(const Reading& read, const QString& text) {
  if (read.lane) {
    Lane lane;
    lane.trigger = *read.lane;
    lane.steps = read.steps;
    Q_EMIT problem(QString());
    return doc_.edit(
        tr("add a lane"),
        declareNames(edits::assignIds(edits::addLane(doc_.project(), board_, lane)), board_));
  }
  if (!read.named) return false;
  Q_EMIT problem(QString());
  return doc_.edit(tr("add “%1”").arg(text.trimmed()),
                   withName(doc_.project(), board_, *read.named));
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
  insertSteps({step}, tr("add “%1”").arg(str(k->label)));
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
  Project p = doc_.project();
  if (!p.program(board_)) {
    Program fresh;
    fresh.board = board_;
    p.programs.emplace_back(fresh);
  }
  p = declareNames(edits::addLane(std::move(p), board_, lane), board_);
  doc_.edit(tr("add a lane"), std::move(p));
  if (const Program* held = program(); held && !held->lanes.empty())
    if (QLineEdit* box = endBox(held->lanes.back()->id)) {
      box->setFocus();
      Q_EMIT wantVisible(QRectF(box->geometry()));
    }
}

void ProgramView::openInsert() {
  closeInsert();
  insert_ = newBox(QStringLiteral("insertStep"));
  const Step* holds = doc_.project().step(insertAt_.parent);
  const auto runs = holds ? runsOf(*holds, insertAt_.body) : Runs::again;
  insert_->setPlaceholderText(!holds                ? tr("type a step …")
                              : runs == Runs::ifSo  ? tr("next, if yes …")
                              : runs == Runs::ifNot ? tr("next, if no …")
                                                    : tr("next, inside …"));
  QRectF box(60, 20, 300, 28);
  for (const ProgramGap& gap : picture_.gaps)
    if (gap.place == insertAt_)
      box = QRectF(gap.x, gap.y + (insertAt_.index == 0 && !insertAt_.parent.empty() ? 3 : -14),
                   std::min(320.0, gap.right - gap.x), 28);
  insert_->setGeometry(box.toRect());
  insert_->raise();
  insert_->show();
  insert_->setFocus();
  Q_EMIT wantVisible(box);
}

void ProgramView::nextField(int direction) {
  const ProgramRow* row = rowOf(doc_.selectedStep().toStdString());
  if (!row) return;
  std::vector<std::string> paths;
  for (const Token& t : row->tokens)
    if (t.isField()) paths.push_back(t.path);
  if (paths.empty()) return;
  const auto it = std::find(paths.begin(), paths.end(),
                            focus_.step == row->owner() ? focus_.path : std::string("?"));
  const auto n = static_cast<std::ptrdiff_t>(paths.size());
  std::ptrdiff_t i =
      it == paths.end() ? (direction > 0 ? 0 : n - 1) : (it - paths.begin()) + direction;
  i = (i % n + n) % n;
  focus_ = {row->owner(), paths[static_cast<std::size_t>(i)]};
  update();
}

void ProgramView::selectNeighbour(int direction) {
  std::vector<std::string> ids;
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::step || row.what == ProgramRow::What::sign)
      ids.push_back(row.owner());
  if (ids.empty()) return;
  const auto it = std::find(ids.begin(), ids.end(), doc_.selectedStep().toStdString());
  auto i = it == ids.end() ? (direction > 0 ? 0 : static_cast<std::ptrdiff_t>(ids.size()) - 1)
                           : (it - ids.begin()) + direction;
  i = std::clamp<std::ptrdiff_t>(i, 0, static_cast<std::ptrdiff_t>(ids.size()) - 1);
  focus_ = {};
  doc_.selectStep(str(ids[static_cast<std::size_t>(i)]));
}

void ProgramView::moveSelected(int direction) {
  const std::string id = doc_.selectedStep().toStdString();
  edits::StepPlace place = edits::placeOf(doc_.project(), id);
  if (place.lane.empty() || (direction < 0 && place.index == 0)) return;
  place.index = direction < 0 ? place.index - 1 : place.index + 2;
  if (const Step* step = doc_.project().step(id))
    doc_.edit(tr("move “%1”").arg(str(phraseOf(*step))),
              edits::moveStep(doc_.project(), id, place));
}

void ProgramView::removeSelected() {
  const std::string id = doc_.selectedStep().toStdString();
  const Step* step = doc_.project().step(id);
  if (!step) return;
  const QString name = str(phraseOf(*step));
  selectNeighbour(1);
  if (doc_.selectedStep().toStdString() == id) selectNeighbour(-1);
  doc_.edit(tr("remove “%1”").arg(name), edits::removeSteps(doc_.project(), {id}));
}

void ProgramView::duplicateSelected() {
  const std::string id = doc_.selectedStep().toStdString();
  const Step* step = doc_.project().step(id);
  if (!step) return;
  std::string copy;
  const QString name = str(phraseOf(*step));
  if (doc_.edit(tr("duplicate “%1”").arg(name), edits::duplicateStep(doc_.project(), id, &copy)))
    doc_.selectStep(str(copy));
}

void ProgramView::copySelected() {
  if (const Step* step = doc_.project().step(doc_.selectedStep().toStdString()))
    QApplication::clipboard()->setText(str(textOf({*step})));
}

void ProgramView::paste() {
  const ParsedSteps parsed = parseSteps(QApplication::clipboard()->text().toStdString(), words());
  if (parsed.badLine)
    return Q_EMIT problem(
        tr("Line %1 of what was copied: %2").arg(parsed.badLine).arg(str(parsed.problem)));
  if (!parsed.steps.empty()) insertSteps(parsed.steps, tr("paste steps"));
}

void ProgramView::keyPressEvent(QKeyEvent* e) {
  const bool ctrl = e->modifiers() & Qt::ControlModifier;
  const bool onField = !focus_.path.empty() && focus_.step == doc_.selectedStep().toStdString();
  const Token* token = onField ? tokenOf(focus_) : nullptr;
  switch (e->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down: {
      const int direction = e->key() == Qt::Key_Up ? -1 : 1;
      if (ctrl) return moveSelected(direction);
      if (token && token->what == Token::What::value) return stepNumber(-direction);
      return selectNeighbour(direction);
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
        doc_.selectStep({});
      return update();
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return removeSelected();
    case Qt::Key_D:
      if (ctrl) return duplicateSelected();
      break;
    case Qt::Key_C:
      if (ctrl) return copySelected();
      break;
    case Qt::Key_X:
      if (ctrl) {
        copySelected();
        return removeSelected();
      }
      break;
    case Qt::Key_V:
      if (ctrl) return paste();
      break;
    default:
      // Digits typed on a focused number begin a new value.
      if (token && token->what == Token::What::value && !e->text().isEmpty() &&
          (e->text()[0].isDigit() || e->text()[0] == '.')) {
        openEditor(focus_, {});
        editor_->setText(e->text());
        editorChanged(e->text());
        return;
      }
  }
  QWidget::keyPressEvent(e);
}

}  // namespace ignavo::app
