#include <QApplication>
#include <QKeyEvent>
#include <QTimer>
#include <algorithm>
#include <utility>

#include "format/wiring_language.h"
#include "program/facts.h"
#include "program/names.h"
#include "program/program_view.h"
#include "program/shelf.h"
#include "program/signals.h"
#include "program/step_tokens.h"
#include "program/words.h"
#include "theme/text.h"

// Steps as they are typed: the boxes, the card under them, and where what was typed goes.
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

// What happens in the boxes that steps are typed in.
bool ProgramView::eventFilter(QObject* watched, QEvent* event) {
  auto* box = qobject_cast<QLineEdit*>(watched);
  if (!box) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::FocusIn && box == when_) offerSigns(box->text());
  if (event->type() == QEvent::FocusOut) {
    card_->hide();
    // One in which nothing was typed goes when it is left.
    const Qt::FocusReason reason = static_cast<QFocusEvent*>(event)->reason();
    bool popup = reason == Qt::PopupFocusReason;
    for (const QWidget* w = QApplication::focusWidget(); w; w = w->parentWidget())
      popup = popup || w->property(keepsBoxOpen).toBool();
    if (!popup && box->text().isEmpty() && box == insert_) {
      closeBox(insert_);
      // A click that took the keys away is first done to what it was aimed at.
      QTimer::singleShot(0, this, &ProgramView::makeRoom);
    }
    if (!popup && box == operator_) closeOperator();
    return false;
  }
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  auto* key = static_cast<QKeyEvent*>(event);
  if (cardKey(box, key)) return true;
  switch (key->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      commit(box);
      return true;
    case Qt::Key_Escape:
      box->clear();
      Q_EMIT problem(QString());
      if (box == insert_) closeInsert();
      if (box == operator_) closeOperator();
      setFocus();
      return true;
    default:
      return false;
  }
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
    if (const Reading read = readWhen(begins.toStdString(), words()); read.lane) offer(*read.lane);
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
  const Reading read = readWhen(text.toStdString(), words());
  if (addRead(read, text)) {
    card_->hide();
    when_->clear();
    // What is typed next are its steps.
    if (QLineEdit* box = read.lane ? endBox(program()->lanes.back()->id) : nullptr) {
      box->setFocus();
      Q_EMIT wantVisible(box->geometry());
    }
    return;
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
  if (box == operator_) return commitOperator();
  if (box == inside_ && open_) insertAt_ = *open_;
  if ((box == insert_ || box == inside_) && box->text().trimmed().isEmpty()) return leaveInsert();
  if (box != insert_ && box != inside_)
    for (auto it = ends_.begin(); it != ends_.end(); ++it)
      if (it.value() == box)
        for (const ProgramGap& gap : picture_.gaps)
          if (gap.place.lane == it.key().toStdString() && gap.place.parent.empty())
            insertAt_ = gap.place;
  commitBox(box, insertAt_);
}

// What can be done to what stands on a thread.
void ProgramView::offerOperators(const QString& typed) {
  std::vector<TypingCard::Row> rows;
  for (const SignalKind& kind : signalKinds()) {
    Expr example;
    example.shape = Expr::Shape::sig;
    example.text = kind.name;
    using Is = SignalKind::Operand::Is;
    for (const SignalKind::Operand& operand : kind.operands)
      if (operand.is != Is::flag && !kind.mayLack(operand.key))
        example.args.emplace_back(operand.key, operand.is == Is::truth     ? Expr::of(true)
                                               : operand.is == Is::seconds ? Expr::of(0.5)
                                                                           : Expr::of(1.0));
    const std::string through = comesInto(example).path;
    if (through.empty()) continue;
    const QString phrase = TokenMaker::operatorText(example, through);
    const QStringList said = phrase.split(QLatin1Char(' '));
    const bool begins =
        phrase.startsWith(typed.trimmed(), Qt::CaseInsensitive) ||
        std::any_of(said.begin(), said.end(), [&](const QString& word) {
          return word.size() > 3 && word.startsWith(typed.trimmed(), Qt::CaseInsensitive);
        });
    if (begins) rows.push_back({phrase, str(kind.help)});
  }
  card_->show(operator_, {}, {}, std::move(rows));
}

// While something is typed: what it would be, and phrases that begin so.
void ProgramView::offerFor(QLineEdit* box) {
  if (box == when_) return offerSigns(box->text());
  constexpr std::size_t most = 6;
  std::vector<TypingCard::Row> rows;
  if (box == operator_) return offerOperators(box->text());
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
    if (commitWiring(box)) return;
    if (read.question) return ask(box, *read.question);
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
  if (inserting) closeBox(insert_);
  const bool one = read.steps.size() == 1;
  doc_.edit(tr("add “%1”").arg(one ? str(phraseOf(read.steps.front())) : text.trimmed()),
            std::move(p));
  showMended(read, place);
  goOnTyping(place, read.steps.size(), inserting ? nullptr : box);
}

// "a lamp on D6": wiring can be typed here as well. It is seen on the bench at once.
bool ProgramView::commitWiring(QLineEdit* box) {
  const Typed typed = typeLine(doc_.project(), box->text().toStdString(), board_);
  if (typed.problem || typed.ids.empty()) return false;
  Q_EMIT problem(QString());
  card_->hide();
  box->clear();
  doc_.edit(str(typed.name), typed.project);
  QStringList added;
  for (const std::string& id : typed.ids) added << str(id);
  doc_.select(added);
  return true;
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
  closeBox(insert_);
  makeRoom();
}

// A box that was open for a while.
void ProgramView::closeBox(QLineEdit*& box) {
  if (!box) return;
  QLineEdit* closing = std::exchange(box, nullptr);
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

void ProgramView::openInsert() {
  closeBox(insert_);
  // What is folded away is opened to be typed into.
  const auto hides = [&](const ProgramRow& row) {
    return row.what == ProgramRow::What::folded && row.step->id == insertAt_.parent;
  };
  if (std::any_of(picture_.rows.begin(), picture_.rows.end(), hides)) fold(insertAt_.parent, false);
  insert_ = newBox(QStringLiteral("insertStep"));
  insert_->setPlaceholderText(invitation(insertAt_));
  makeRoom();
  const QRectF box = boxOf(insertAt_);
  insert_->setGeometry((box.isNull() ? QRectF(60, 20, 300, 28) : box).toRect());
  insert_->raise();
  insert_->show();
  insert_->setFocus();
  Q_EMIT wantVisible(box);
}

QString ProgramView::invitation(const edits::StepPlace& open) const {
  const Step* holds = doc_.project().step(open.parent);
  if (!holds) return tr("type a step …");
  const auto runs = runsOf(*holds, open.body);
  return runs == Runs::ifSo    ? tr("next, if yes …")
         : runs == Runs::ifNot ? tr("next, if no …")
                               : tr("next, inside …");
}

// Its row; of a body that has nothing inside the row that says so, of a lane's end its box.
QRectF ProgramView::boxOf(const edits::StepPlace& open) const {
  using What = ProgramRow::What;
  for (const ProgramRow& row : picture_.rows) {
    const bool there = row.what == What::open ||
                       (row.what == What::empty && open.index == 0 && row.body == open.body &&
                        row.step->id == open.parent) ||
                       (row.what == What::end && open.parent.empty() && row.lane == open.lane);
    if (!there) continue;
    const QRectF box = shown(row.box);
    return {box.left(), box.top(), row.slim ? 320 : std::min(box.width(), 340.0), 28};
  }
  return {};
}

}  // namespace ignavo::app
