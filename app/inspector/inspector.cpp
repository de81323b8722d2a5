#include "inspector/inspector.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <algorithm>

#include "bench/breadboards.h"
#include "explain/output.h"
#include "inspector/pictures.h"
#include "project/edits.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/wrapped_label.h"
#include "theme/wrapping.h"

namespace ignavo::app {

namespace {

// A button with lines of text in it, as high as they need.
class StartCard : public QPushButton {
 public:
  explicit StartCard(QWidget* parent) : QPushButton(parent) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Minimum);
  }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override {
    return std::max(66, layout() ? layout()->heightForWidth(width) : 0);
  }
  QSize sizeHint() const override { return {200, 66}; }
  QSize minimumSizeHint() const override { return {120, 66}; }
};
}  // namespace

QLabel* inspectorLabel(const QString& text, QWidget* parent, double px, bool strong, bool second) {
  auto* l = new WrappedLabel(text, parent);
  l->setFont(theme().text(px, strong ? QFont::DemiBold : QFont::Normal));
  l->setStyleSheet(QStringLiteral("font-size: %1px; font-weight: %2; color: %3;")
                       .arg(px)
                       .arg(strong ? 700 : 400)
                       .arg((second ? theme().ink2 : theme().ink).name()));
  return l;
}

Inspector::Inspector(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("cardPane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("What is selected"));
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inner = new QWidget(scroll);
  scroll->viewport()->setAutoFillBackground(false);
  column_ = new QVBoxLayout(inner);
  column_->setContentsMargins(22, 16, 22, 16);
  scroll->setWidget(inner);
  inner->setAutoFillBackground(false);
  outer->addWidget(scroll);
  setMinimumWidth(280);
  connect(&doc_, &Document::selectionChanged, this, &Inspector::rebuild);
  // Made anew after the edit has been drawn: undo and typing do not wait for it.
  later_.setSingleShot(true);
  later_.setInterval(0);
  connect(&later_, &QTimer::timeout, this, [this] {
    // A field that is being typed in stays; everything else is made anew.
    if (page_ && page_->isAncestorOf(focusWidget()) && shownId_ == doc_.selection().value(0) &&
        doc_.selection().size() == 1)
      return;
    rebuild();
  });
  connect(&doc_, &Document::changed, &later_, qOverload<>(&QTimer::start));
  connect(&doc_, &Document::checked, this, &Inspector::refreshReadings);
  later_.start();
}

// Nothing is seen before its page is there.
void Inspector::showEvent(QShowEvent* e) {
  if (later_.isActive()) rebuild();
  QWidget::showEvent(e);
}

void Inspector::rebuild() {
  later_.stop();
  if (page_) {
    page_->hide();
    page_->deleteLater();
    column_->removeWidget(page_);
  }
  page_ = new QWidget(this);
  into_ = new QVBoxLayout(page_);
  into_->setContentsMargins(0, 0, 0, 0);
  into_->setSpacing(10);
  readings_ = nullptr;
  shownId_ = doc_.selection().size() == 1 ? doc_.selection().front() : QString();
  const Part* part = doc_.project().part(shownId_.toStdString());
  const Wire* wire = doc_.project().wire(shownId_.toStdString());
  if (part)
    partPage(*part);
  else if (wire)
    wirePage(*wire);
  else if (!shownId_.isEmpty() && !doc_.project().hasId(shownId_.toStdString()))
    emptyPage();
  else if (!shownId_.isEmpty())
    tablePage(shownId_.toStdString());
  else
    emptyPage();
  into_->addStretch();
  column_->addWidget(page_);
}

QWidget* Inspector::row(const QString& text, QWidget* field) {
  auto* w = new QWidget(page_);
  auto* h = new QHBoxLayout(w);
  h->setContentsMargins(0, 0, 0, 0);
  auto* l = inspectorLabel(text, w, 13, false, true);
  l->setFixedWidth(84);
  h->addWidget(l);
  h->addWidget(field, 1);
  into_->addWidget(w);
  return w;
}

void Inspector::partPage(const Part& part) {
  const PartKind* kind = catalogue().partKind(part.type);
  if (!kind) return;
  into_->addWidget(inspectorLabel(str(part.name), page_, 16, true));
  QString line = str(kind->label);
  if (kind->print.legs.front().id == "anode")
    line += tr(" · the %1 is the anode (+)").arg(str(kind->print.legs[0].meaning));
  else if (kind->passes)
    line += QStringLiteral(" · ") + str(kind->shortText(part));
  into_->addWidget(inspectorLabel(line, page_, 12.5, false, true));
  auto* portrait = makePortrait(part, page_);
  into_->addWidget(portrait);
  addProps(part, *kind);
  auto* name = new QLineEdit(str(part.name), page_);
  name->setObjectName(QStringLiteral("partName"));
  name->setAccessibleName(tr("Name"));
  name->setMaxLength(60);
  const std::string id = part.id;
  connect(name, &QLineEdit::editingFinished, this, [this, name, id] {
    const Part* now = doc_.project().part(id);
    const std::string wanted = typedWords(name->text());
    if (!now || wanted.empty() || wanted == now->name) return;
    const std::string free = freeName(doc_.project(), wanted);
    name->setText(str(free));
    doc_.edit(tr("name %1").arg(str(free)),
              edits::changePart(doc_.project(), id, [&](Part& q) { q.name = free; }));
  });
  row(tr("Name"), name);
  addReadings(part, *kind);
  addActions(true, kind->print.polarised, kind->shows != Shows::nothing);
  auto* help = inspectorLabel(str(kind->what) + QStringLiteral(" ") + str(kind->place) +
                                  tr(" It must never see: %1").arg(str(kind->never)),
                              page_, 12, false, true);
  into_->addWidget(help);
}

// What can be done with the selection, each with its key.
void Inspector::addActions(bool part, bool polarised, bool shows) {
  auto* actions = new Wrapping(6, page_);
  const auto add = [&](const char* name, const QString& text, const QString& tip,
                       void (Inspector::*wanted)()) {
    auto* b = new QPushButton(text, actions);
    b->setObjectName(QString::fromLatin1(name));
    b->setToolTip(tip);
    b->setStyleSheet(QStringLiteral("QPushButton { border-radius: 6px; padding: 5px 10px; } "
                                    "QPushButton:focus { border: 2px solid %1; padding: 4px 9px; }")
                         .arg(theme().ink.name()));
    // After the click, for the page is made anew by what it does.
    connect(b, &QPushButton::clicked, this, wanted, Qt::QueuedConnection);
  };
  if (shows)
    add("actionWhy", tr("Why?"), tr("Why it is dark, silent or still, or why it is not (?)"),
        &Inspector::whyAsked);
  if (part && polarised)
    add("actionFlip", tr("Turn round"), tr("Swaps its legs in place (F)"), &Inspector::flipAsked);
  if (part) add("actionTurn", tr("Rotate"), tr("Lays it another way (R)"), &Inspector::turnAsked);
  if (part)
    add("actionDuplicate", tr("Duplicate"), tr("A copy on the next free rows (Ctrl+D)"),
        &Inspector::duplicateAsked);
  add("actionRemove", tr("Remove"), tr("Takes it off the bench (Del)"), &Inspector::removeAsked);
  into_->addWidget(actions);
}

void Inspector::wirePage(const Wire& wire) {
  into_->addWidget(inspectorLabel(tr("Wire"), page_, 16, true));
  into_->addWidget(
      inspectorLabel(tr("%1 → %2").arg(str(wire.from.point), str(wire.to.point)), page_, 13));
  const int net = doc_.nets().of(wire.from);
  if (net >= 0)
    into_->addWidget(
        inspectorLabel(tr("It belongs to the net of %1.")
                           .arg(str(doc_.nets().all()[static_cast<std::size_t>(net)].name)),
                       page_, 13, false, true));
  const NetColour colour = doc_.identities().ofNet(net);
  if (colour.kind == NetColour::Kind::pin) {
    into_->addWidget(inspectorLabel(tr("What the pin is called"), page_, 13, true));
    for (const PinRef& pin : doc_.nets().all()[static_cast<std::size_t>(net)].pins) {
      const BoardItem& board = doc_.project().boards[static_cast<std::size_t>(pin.board)];
      const PinShape& shape =
          catalogue().board(board.type)->pins[static_cast<std::size_t>(pin.pin)];
      if (shape.role == PinShape::Role::io) pinRow(board.id, shape.name);
    }
    auto* swatches = new Wrapping(4, page_);
    for (std::size_t i = 0; i < identityNames().size(); ++i) {
      auto* b = new QToolButton(swatches);
      b->setFixedSize(21, 21);
      b->setToolTip(str(identityNames()[i]));
      b->setAccessibleName(str(identityNames()[i]));
      const bool on = colour.index == static_cast<int>(i);
      b->setStyleSheet(
          QStringLiteral("QToolButton { border-radius: 6px; background: %1; border: %2px solid %3; "
                         "} QToolButton:focus { border: 3px solid %4; }")
              .arg(theme().identity[i].name())
              .arg(on ? 3 : 1)
              .arg((on ? theme().ink : theme().line).name(), theme().ink2.name()));
      connect(b, &QToolButton::clicked, this, [this, net, i] {
        setFocus();
        // The pin's colour is that of its wires: all of the net are changed.
        Project p = doc_.project();
        for (const auto& w : *doc_.project().wires)
          if (doc_.nets().of(w->from) == net)
            p = edits::changeWire(std::move(p), w->id,
                                  [&](Wire& q) { q.colour = identityNames()[i]; });
        doc_.edit(tr("recolour a wire"), std::move(p));
      });
    }
    into_->addWidget(inspectorLabel(tr("Colour of this pin, everywhere"), page_, 13, true));
    into_->addWidget(swatches);
  } else {
    into_->addWidget(inspectorLabel(
        colour.kind == NetColour::Kind::supply   ? tr("Red: it carries the supply.")
        : colour.kind == NetColour::Kind::ground ? tr("Dark: it carries ground.")
                                                 : tr("Grey: no pin is joined to it yet."),
        page_, 13, false, true));
  }
  into_->addWidget(inspectorLabel(tr("Drag an end to another hole · double-click bends it"), page_,
                                  12, false, true));
  addActions(false, false);
}

// A board or a breadboard.
void Inspector::tablePage(const std::string& id) {
  if (const BoardItem* board = doc_.project().board(id)) {
    const BoardKind* kind = catalogue().boardKind(board->type);
    if (!kind) return;
    into_->addWidget(inspectorLabel(str(kind->label), page_, 16, true));
    into_->addWidget(inspectorLabel(str(kind->brief), page_, 12.5, false, true));
    pinTable(id);
    into_->addWidget(inspectorLabel(str(kind->help), page_, 13, false, true));
    for (const BoardFeature& f : kind->features) {
      QStringList words;
      for (const std::string& line : f.lines) words << str(line);
      into_->addWidget(inspectorLabel(str(f.name), page_, 13, true));
      into_->addWidget(inspectorLabel(words.join(QLatin1Char(' ')), page_, 12.5, false, true));
    }
  } else if (const BreadboardItem* bb = doc_.project().breadboard(id)) {
    const BreadboardKind* kind = breadboardKind(bb->type);
    if (!kind) return;
    into_->addWidget(inspectorLabel(str(kind->name), page_, 16, true));
    into_->addWidget(inspectorLabel(str(kind->help), page_, 13, false, true));
    into_->addWidget(inspectorLabel(
        tr("Drag it by its edge, or move it with the arrow keys: what is on it comes along."),
        page_, 12.5, false, true));
  }
  addActions(false, false, outputNamed(doc_.project(), id).has_value());
}

// Nothing selected: how to begin, or what is there.
void Inspector::emptyPage() {
  const bool fresh = doc_.project().parts->empty() &&
                     !std::any_of(doc_.project().programs.begin(), doc_.project().programs.end(),
                                  [](const auto& p) { return p->hasSteps(); });
  if (fresh) {
    into_->addWidget(inspectorLabel(tr("Begin with one small thing"), page_, 16, true));
    into_->addWidget(
        inspectorLabel(tr("Board and breadboard are ready. Each of these shows something at "
                          "once and can be undone."),
                       page_, 13, false, true));
    const struct {
      const char* what;
      QString title, text;
    } cards[] = {
        {"blink", tr("Blink the board’s own lamp"),
         tr("Two waits and two steps; no wiring at all.")},
        {"light", tr("Light an LED from 5 V"), tr("Lamp, resistor and wires; no program at all.")},
        {"example", tr("Open a ferry example"),
         tr("The landing beacon: a lamp on pin D4 that blinks.")}};
    for (const auto& c : cards) {
      auto* b = new StartCard(page_);
      b->setObjectName(QStringLiteral("start-") + QString::fromLatin1(c.what));
      b->setAccessibleName(c.title);
      b->setAccessibleDescription(c.text);
      auto* inside = new QVBoxLayout(b);
      inside->setContentsMargins(14, 11, 14, 11);
      inside->setSpacing(2);
      inside->addWidget(inspectorLabel(c.title, b, 14, true));
      inside->addWidget(inspectorLabel(c.text, b, 12.5, false, true));
      for (QLabel* l : b->findChildren<QLabel*>())
        l->setAttribute(Qt::WA_TransparentForMouseEvents);
      b->setStyleSheet(
          QStringLiteral("QPushButton { text-align: left; border-radius: 8px; padding: 12px 14px; "
                         "background: %1; font-weight: 500; } QPushButton:hover { border-color: "
                         "%2; } QPushButton:focus { border: 2px solid %2; padding: 11px 13px; }")
              .arg(theme().field.name(), theme().ink.name()));
      const QString what = QString::fromLatin1(c.what);
      connect(b, &QPushButton::clicked, this, [this, what] { Q_EMIT asked(what); });
      into_->addWidget(b);
    }
    return;
  }
  const int n = static_cast<int>(doc_.selection().size());
  if (n > 1) {
    into_->addWidget(inspectorLabel(tr("%1 things are selected").arg(n), page_, 16, true));
    into_->addWidget(inspectorLabel(tr("Arrow keys move them"), page_, 12.5, false, true));
    addActions(true, true);
    return;
  }
  into_->addWidget(inspectorLabel(str(doc_.project().title), page_, 16, true));
  if (!doc_.project().about.empty())
    into_->addWidget(inspectorLabel(str(doc_.project().about), page_, 13, false, true));
  into_->addWidget(inspectorLabel(tr("On this bench"), page_, 13, true));
  // One list, not a button each: there may be hundreds.
  auto* list = new QListWidget(page_);
  list->setObjectName(QStringLiteral("partList"));
  list->setAccessibleName(tr("Parts on this bench"));
  for (const auto& part : *doc_.project().parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    auto* item = new QListWidgetItem(
        kind && kind->passes ? str(part->name + " · " + kind->shortText(*part)) : str(part->name),
        list);
    item->setData(Qt::UserRole, str(part->id));
    item->setSizeHint({0, 28});
  }
  const auto choose = [this](QListWidgetItem* item) {
    doc_.select({item->data(Qt::UserRole).toString()});
  };
  connect(list, &QListWidget::itemClicked, this, choose, Qt::QueuedConnection);
  connect(list, &QListWidget::itemActivated, this, choose, Qt::QueuedConnection);
  list->setFixedHeight(std::min(14, list->count()) * 30 + 6);
  into_->addWidget(list);
}

}  // namespace ignavo::app
