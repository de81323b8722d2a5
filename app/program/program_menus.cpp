#include <QContextMenuEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>

#include "program/facts.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "program/program_view.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/typed_menu.h"

// The menus of the program: pins to choose from, when a lane runs, what to do with a step.
namespace ignavo::app {

namespace {

template <typename Menu = QMenu>
QMenu* fresh(QWidget* parent, const char* name) {
  auto* menu = new Menu(parent);
  menu->setObjectName(QString::fromLatin1(name));
  menu->setAttribute(Qt::WA_DeleteOnClose);
  return menu;
}
}  // namespace

// All pins with what hangs on them.
void ProgramView::offerPins(QMenu* menu, const std::function<void(const std::string&)>& chosen) {
  for (const QString& pin : pinNames()) {
    const QString label = doc_.pinLabel(board_, pin.toStdString());
    QPixmap chip(14, 14);
    const int index = doc_.identities().ofPin(board_, pin.toStdString());
    const NetColour colour{NetColour::Kind::pin, index};
    const QColor fill = index >= 0 ? theme().net(colour) : theme().line;
    const QColor casing = index >= 0 ? theme().casing(colour, theme().card) : QColor();
    chip.fill(casing.isValid() ? casing : fill);
    QPainter(&chip).fillRect(chip.rect().adjusted(1, 1, -1, -1), fill);
    QAction* action = menu->addAction(
        QIcon(chip), label.isEmpty() ? pin + tr("   nothing on it")
                                     : literal(pin + QStringLiteral("   ") + label));
    connect(action, &QAction::triggered, this,
            [chosen, name = pin.toStdString()] { chosen(name); });
  }
}

void ProgramView::pinMenu(const FieldRef& field) {
  const Token* t = tokenOf(field);
  if (!t) return;
  QMenu* menu = fresh<TypedMenu>(this, "pinMenu");
  offerPins(menu, [this, field](const std::string& pin) {
    std::erase(fresh_, field);
    doc_.edit(tr("change a step to %1").arg(str(pin)),
              edits::setExpr(doc_.project(), field.step, field.path, Expr::of(pin)));
  });
  menu->popup(mapToGlobal(shown(t->box).bottomLeft().toPoint()));
}

void ProgramView::setTrigger(const std::string& lane, const Trigger& trigger) {
  const Lane* held = doc_.project().lane(lane);
  if (!held) return;
  Trigger next = trigger;
  next.extras = held->trigger.extras;
  doc_.edit(tr("change when a lane runs"),
            declareNames(withSign(doc_.project(), lane, std::move(next)), board_));
}

// The pin that most likely starts a lane: one with a button on it.
std::string ProgramView::likelyInput(const std::string& trigger) const {
  const TriggerKind* kind = triggerKind(trigger);
  if (!kind || !kind->slot(pinKey)) return {};
  if (kind->keeps != TriggerKind::Keeps::nothing) {
    const QStringList pins = pinNames();
    return pins.isEmpty() ? std::string() : pins.front().toStdString();
  }
  const Project& project = doc_.project();
  const Nets nets(project, catalogue());
  for (const QString& name : pinNames()) {
    const int net = nets.of({board_, name.toStdString()});
    if (net < 0) continue;
    for (const LegRef& leg : nets.all()[static_cast<std::size_t>(net)].legs) {
      const Part& part = *(*project.parts)[static_cast<std::size_t>(leg.part)];
      if (const PartKind* held = catalogue().partKind(part.type); held && held->pressable)
        return name.toStdString();
    }
  }
  return {};
}

void ProgramView::offerTriggers(QMenu* menu, const std::string& lane) {
  for (const TriggerKind& k : triggerKinds()) {
    // What has steps cannot become what has none.
    if (k.keeps != TriggerKind::Keeps::nothing || k.own) continue;
    const TriggerKind* kind = &k;
    if (!k.slot(pinKey)) {
      menu->addAction(str(signOf(newTrigger(k))), this,
                      [this, lane, kind] { setTrigger(lane, newTrigger(*kind)); });
      continue;
    }
    QMenu* pins = menu->addMenu(str(signOf(newTrigger(k))));
    pins->setObjectName(QStringLiteral("trigger-") + str(k.on));
    offerPins(pins, [this, lane, kind](const std::string& pin) {
      setTrigger(lane, newTrigger(*kind, pin));
    });
  }
}

// What becomes of what comes while a lane runs.
void ProgramView::offerAgain(QMenu* menu, const Lane& lane) {
  QMenu* again = menu->addMenu(tr("What comes while it runs"));
  again->setObjectName(QStringLiteral("triggerAgain"));
  for (const AgainKind& kind : againKinds()) {
    const bool usual = &kind == &againKinds().front();
    QAction* action = again->addAction(
        str(kind.help), this, [this, id = lane.id, way = usual ? std::string() : kind.name] {
          const Lane* held = doc_.project().lane(id);
          if (!held) return;
          Trigger next = held->trigger;
          next.again = way;
          setTrigger(id, next);
        });
    action->setCheckable(true);
    action->setChecked(&againOf(lane.trigger) == &kind);
  }
}

// A condition built piece by piece: another comparison, one more question beside it, the opposite.
// The field that was pointed at, or all of it.
void ProgramView::offerConditions(QMenu* menu, const std::string& owner, const std::string& root) {
  const std::string path = focus_.step == owner && focus_.path.starts_with(root + "/")
                               ? focus_.path.substr(0, focus_.path.rfind('/'))
                               : root;
  // What is asked there: of a pin's name, what asks for the pin.
  std::string at = path;
  const Expr* held = edits::exprAt(doc_.project(), owner, at);
  while (held && held->shape != Expr::Shape::op && at != root) {
    at.erase(at.rfind('/'));
    held = edits::exprAt(doc_.project(), owner, at);
  }
  if (!held) return;
  QMenu* conditions = menu->addMenu(tr("The condition"));
  conditions->setObjectName(QStringLiteral("conditionMenu"));
  const auto offer = [&](const QString& words, const Expr& next) {
    conditions->addAction(words, this, [this, owner, at, next] {
      doc_.edit(tr("change a condition"), edits::setExpr(doc_.project(), owner, at, next));
    });
  };
  const OperatorKind* kind = held->shape == Expr::Shape::op ? operatorKind(held->text) : nullptr;
  for (const OperatorKind& other : operatorKinds()) {
    const bool alike = kind && kind->isSign() && other.isSign() && other.gives == kind->gives &&
                       other.takesTruth == kind->takesTruth && other.name != kind->name;
    if (!alike) continue;
    Expr next = *held;
    next.text = other.name;
    offer(str(other.name), next);
  }
  conditions->addSeparator();
  // One more question: about a pin that is not asked yet, what is wired first.
  const Expr* all = edits::exprAt(doc_.project(), owner, root);
  QStringList pins = pinNames();
  forEachGetter(*all, [&](const GetterKind&, const std::string& name) {
    if (pins.size() > 1) pins.removeAll(str(name));
  });
  const std::string pin = pins.value(0).toStdString();
  for (const OperatorKind& other : operatorKinds())
    if (other.is == OperatorKind::Is::conjunction || other.is == OperatorKind::Is::disjunction) {
      const Expr next = Expr::binary(other.name, *all, pinIs(pin, true));
      conditions->addAction(tr("… %1 %2").arg(str(other.name), str(phraseOf(pinIs(pin, true)))),
                            this, [this, owner, root, next] {
                              doc_.edit(tr("change a condition"),
                                        edits::setExpr(doc_.project(), owner, root, next));
                            });
    }
  // Back to one part of it.
  for (const int i : {0, 1})
    if (const Expr* part = operandOf(*held, i); part && part->shape == Expr::Shape::op)
      offer(tr("only: %1").arg(str(phraseOf(*part))), Expr(*part));
  offer(tr("the opposite"), negates(*held) ? Expr(*operandOf(*held, 0)) : negationOf(*held));
}

void ProgramView::signMenu(QMenu* menu, const std::string& id) {
  menu->addAction(tr("Type it as text\tF2"), this, [this, id] { typeSign(id); });
  menu->addSeparator();
  const Lane* held = lane(id);
  if (held && isOwn(*held)) {
    menu->addAction(tr("To a step that runs it\tAlt+Up"), this, [this] { goInto(-1); });
  } else if (held && isKept(held->trigger) && !held->trigger.pin.empty()) {
    offerWhy(menu, held->trigger.pin);
  } else if (held && !isKept(held->trigger)) {
    if (startTestOf(held->trigger))
      offerConditions(menu, id, triggerKind(held->trigger.on)->slots.front().key);
    offerTriggers(menu, id);
    const TriggerKind* kind = triggerKind(held->trigger.on);
    if (kind && kind->startsAgain()) offerAgain(menu, *held);
    menu->addSeparator();
  }
  menu->addAction(tr("Remove this lane"), this, [this, id] {
    doc_.edit(tr("remove a lane"), edits::removeLane(doc_.project(), id));
  });
}

// Each pin of its card can be taken over by hand.
void ProgramView::offerHands(QMenu* menu, const std::string& step) {
  const ProgramRow* row = rowOf(step);
  if (!row) return;
  QStringList offered;
  for (const Token& token : row->tokens) {
    const QString pin = str(token.pin);
    if (token.what != Token::What::pin || pin.isEmpty() || offered.contains(pin)) continue;
    offered << pin;
    const QPoint beside = mapToGlobal(shown(token.box).center().toPoint());
    menu->addAction(tr("Hold %1 by hand…").arg(pin), this,
                    [this, pin, beside] { Q_EMIT pinWanted(str(board_), pin, beside); });
  }
}

// What the pin that it sets does on the bench, and why.
void ProgramView::offerWhy(QMenu* menu, const std::string& pin) {
  const QRect beside(QCursor::pos(), QSize(1, 1));
  auto* ask = menu->addAction(tr("What does this do?"), this, [this, pin, beside] {
    Q_EMIT whyWanted(str(board_), str(pin), beside);
  });
  ask->setObjectName(QStringLiteral("askWhy"));
}

void ProgramView::stepMenu(QMenu* menu) {
  const std::string id = doc_.selectedStep().toStdString();
  const Step* step = doc_.project().step(id);
  const Program* held = program();
  if (!step || !held) return;
  menu->addAction(tr("Try this step now\tCtrl+Return"), this, [this] { tryStep(); });
  if (run_.isOn()) offerHands(menu, id);
  if (const auto pin = pinWritten(*step)) offerWhy(menu, *pin);
  if (isFork(*step))
    for (const auto when : {Runs::ifSo, Runs::ifNot}) {
      const std::string body = bodyKey(*step, when);
      if (const Steps* steps = bodyOf(*step, when); steps && !steps->empty())
        menu->addAction(when == Runs::ifSo ? tr("Try the yes-branch") : tr("Try the no-branch"),
                        this, [this, body] { tryStep(body); });
    }
  menu->addSeparator();
  menu->addAction(tr("Duplicate\tCtrl+D"), this, [this] { duplicateSelected(); });
  menu->addAction(tr("Duplicate with what follows\tCtrl+Shift+D"), this,
                  [this] { duplicateSelected(true); });
  menu->addAction(tr("Copy\tCtrl+C"), this, &ProgramView::copySelected);
  menu->addAction(tr("Paste below\tCtrl+V"), this, &ProgramView::paste);
  menu->addAction(tr("Add a step below\tReturn"), this, [this] {
    insertAt_ = placeForNew();
    openInsert();
  });
  menu->addSeparator();
  if (testOf(*step)) offerConditions(menu, id, testKey(*step));
  if (!step->bodies.empty()) {
    const bool away = std::any_of(picture_.rows.begin(), picture_.rows.end(), [&](const auto& r) {
      return r.what == ProgramRow::What::folded && r.step->id == id;
    });
    menu->addAction(
        away ? tr("Show what is inside\tAlt+Right") : tr("Fold away what is inside\tAlt+Left"),
        this, [this, id, away] { fold(id, !away); });
  }
  menu->addAction(tr("Make an own step …"), this, &ProgramView::makeOwn)
      ->setObjectName(QStringLiteral("makeOwnStep"));
  if (ownRun(*held, *step))
    menu->addAction(tr("To its steps\tAlt+Down"), this, [this] { goInto(1); });
  const auto place = edits::placeOf(doc_.project(), id);
  if (const Lane* in = lane(place.lane); in && !isOwn(*in))
    offerTriggers(menu->addMenu(tr("This lane runs")), place.lane);
  menu->addSeparator();
  menu->addAction(tr("Remove\tDel"), this, &ProgramView::removeSelected);
}

void ProgramView::contextMenu(QPoint global) {
  QMenu* menu = fresh(this, "programMenu");
  const ProgramRow* row = rowAt(pressedAt_);
  if (row && (row->what == ProgramRow::What::sign || row->what == ProgramRow::What::thread))
    signMenu(menu, row->lane);
  else if (!doc_.selectedStep().isEmpty())
    stepMenu(menu);
  else
    menu->addAction(tr("Paste\tCtrl+V"), this, &ProgramView::paste);
  menu->popup(global);
}

// By the menu key; the mouse opens it where it was pressed.
void ProgramView::contextMenuEvent(QContextMenuEvent* e) {
  if (e->reason() != QContextMenuEvent::Keyboard) return;
  const ProgramRow* row = rowOf(doc_.selectedStep().toStdString());
  if (!row)
    for (const ProgramRow& r : picture_.rows)
      if (!row && r.what == ProgramRow::What::sign) row = &r;
  if (!row) return;
  pressedAt_ = row->box.center();
  contextMenu(mapToGlobal(shown(row->box).bottomLeft().toPoint()));
}

}  // namespace ignavo::app
