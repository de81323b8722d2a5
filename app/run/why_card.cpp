#include "run/why_card.h"

#include <QAccessible>
#include <QApplication>
#include <QCoreApplication>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPointer>
#include <QStyle>
#include <QVBoxLayout>
#include <algorithm>
#include <mutex>

#include "check/faults.h"
#include "document/workers.h"
#include "explain/output.h"
#include "theme/card.h"
#include "theme/named_button.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
constexpr int whyWide = 340, whyMargin = 8, whyGap = 12;
constexpr int askAgainMilliseconds = 250;  // while time runs
}  // namespace

// Faults of one project. What the check found in the window comes with it; what it would find
// without the programs is worked out when somebody needs it.
struct WhyCard::Known {
  std::mutex mutex;
  std::shared_ptr<const Project> project;
  std::vector<Fault> faults, withoutPrograms;
  bool whole = false;  // the latter are worked out

  std::vector<Fault> of(const std::shared_ptr<const Project>& wanted,
                        const std::vector<Finding>* found) {
    const std::lock_guard lock(mutex);
    if (project != wanted) {
      project = wanted;
      faults = faultsOf(found ? *found : ignavo::check(*wanted).findings);
      whole = false;
    }
    return faults;
  }
  std::vector<Fault> more(const std::shared_ptr<const Project>& wanted) {
    const std::lock_guard lock(mutex);
    if (project == wanted && !whole) {
      whole = true;
      withoutPrograms = faultsWithoutPrograms(*wanted);
    }
    return project == wanted ? withoutPrograms : std::vector<Fault>();
  }
};

WhyCard::WhyCard(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run), known_(std::make_shared<Known>()) {
  setObjectName(QStringLiteral("whyCard"));
  setFocusPolicy(Qt::StrongFocus);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 12, 12);
  column->setSpacing(10);
  auto* head = new QHBoxLayout;
  headline_ = new QLabel(this);
  headline_->setObjectName(QStringLiteral("whyHeadline"));
  headline_->setTextFormat(Qt::PlainText);
  headline_->setWordWrap(true);
  headline_->setFont(theme().text(14, QFont::DemiBold));
  head->addWidget(headline_, 1);
  close_ = namedButton(this, head, "whyClose", QStringLiteral("×"));
  close_->setProperty("close", true);
  close_->setAccessibleName(tr("Close"));
  close_->setToolTip(tr("Close (Escape)"));
  close_->setFixedWidth(30);
  head->setAlignment(close_, Qt::AlignTop);
  column->addLayout(head);
  lamps_ = new QWidget(this);
  auto* inside = new QHBoxLayout(lamps_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(2);
  column->addWidget(lamps_, 0, Qt::AlignLeft);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(10);
  grid->setColumnStretch(2, 1);
  circuit_ = addLine(grid, "whyCircuit", tr("Circuit"));
  program_ = addLine(grid, "whyProgram", tr("Program"));
  onBoard_ = addLine(grid, "whyBoard", tr("Board"));
  column->addLayout(grid);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  places_ = namedButton(this, row, "whyPlace", tr("Place"));
  places_->setToolTip(tr("Show on the bench where that is"));
  step_ = namedButton(this, row, "whyStep", tr("Step"));
  step_->setToolTip(tr("Go to the step in the program"));
  moment_ = namedButton(this, row, "whyMoment", tr("Moment"));
  moment_->setToolTip(tr("Look back at when that was"));
  power_ = namedButton(this, row, "whyPower", tr("Power on"));
  row->addStretch(1);
  column->addLayout(row);
  connect(close_, &QPushButton::clicked, this, &WhyCard::leave);
  connect(places_, &QPushButton::clicked, this,
          [this] { Q_EMIT placesWanted(told_.parts, told_.sockets); });
  connect(step_, &QPushButton::clicked, this, [this] { Q_EMIT stepWanted(str(told_.step)); });
  connect(moment_, &QPushButton::clicked, this, [this] { Q_EMIT momentWanted(told_.moment); });
  connect(power_, &QPushButton::clicked, this, &WhyCard::powerWanted);
  soon_.setSingleShot(true);
  soon_.setInterval(askAgainMilliseconds);
  connect(&soon_, &QTimer::timeout, this, &WhyCard::ask);
  connect(&run_, &RunControl::updated, this, [this] {
    if (isVisible() && !soon_.isActive()) soon_.start();
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (isVisible()) ask();
  });
  connect(&doc_, &Document::changed, this, [this] {
    if (!about_.empty() && !outputNamed(doc_.project(), about_)) hide();
  });
  hide();
}

WhyCard::Line WhyCard::addLine(QGridLayout* grid, const char* id, const QString& name) {
  const int row = grid->rowCount();
  Line line{new QLabel(this), new QLabel(name, this), new QLabel(this)};
  line.mark->setFixedWidth(16);
  line.name->setFont(theme().text(13, QFont::DemiBold));
  line.words->setObjectName(QLatin1String(id));
  line.words->setTextFormat(Qt::PlainText);
  line.words->setWordWrap(true);
  line.words->installEventFilter(this);
  int column = 0;
  for (QLabel* label : {line.mark, line.name, line.words})
    grid->addWidget(label, row, column++, Qt::AlignTop);
  return line;
}

// A shape of its own for each verdict, not its colour alone.
void WhyCard::fill(const Line& line, bool shown, bool fine, bool known, const QString& words) {
  for (QLabel* label : {line.mark, line.name, line.words}) label->setVisible(shown);
  line.mark->setText(!known ? QStringLiteral("–")
                     : fine ? QStringLiteral("✓")
                            : QStringLiteral("✕"));
  const QColor colour = !known ? theme().ink2 : fine ? theme().good : theme().warning;
  line.mark->setStyleSheet(QStringLiteral("color: %1; font-weight: bold;").arg(colour.name()));
  line.words->setText(words);
  line.words->setStyleSheet(fine ? QStringLiteral("color: %1;").arg(theme().ink2.name())
                                 : QString());
}

void WhyCard::open(const std::string& about, QRect beside, QRect within) {
  about_ = about;
  board_.clear();
  pin_.clear();
  offerLamps(about.substr(0, about.find('.')));
  openAt(beside, within);
}

void WhyCard::offerLamps(const std::string& part) {
  qDeleteAll(lamps_->findChildren<QPushButton*>(QString(), Qt::FindDirectChildrenOnly));
  const std::vector<LampInside> inside = lampsInside(doc_.project(), part);
  lamps_->setVisible(!inside.empty());
  const auto offer = [&](const QString& words, const QString& meaning, const std::string& about) {
    auto* row = static_cast<QHBoxLayout*>(lamps_->layout());
    auto* one = namedButton(lamps_, row, "whyLamp", words);
    one->setObjectName(QStringLiteral("whyLamp-") + str(about));
    one->setAccessibleName(tr("Ask about %1").arg(meaning));
    one->setToolTip(meaning);
    one->setCheckable(true);
    one->setAutoExclusive(true);
    one->setProperty("tab", true);
    one->setProperty("tight", true);
    one->setChecked(about == about_);
    connect(one, &QPushButton::clicked, this, [this, about] {
      about_ = about;
      ask();
    });
  };
  if (inside.empty()) return;
  offer(tr("all"), tr("all of it"), part);
  for (const LampInside& lamp : inside)
    offer(str(lamp.name.substr(part.size() + 1)), str(lamp.meaning), lamp.name);
}

void WhyCard::openPin(const std::string& board, const std::string& pin, QRect beside,
                      QRect within) {
  about_.clear();
  board_ = board;
  pin_ = pin;
  offerLamps({});
  openAt(beside, within);
}

void WhyCard::openAt(QRect beside, QRect within) {
  beside_ = beside;
  within_ = within;
  if (!isVisible()) {
    before_ = QApplication::focusWidget();
    told_ = {};
    headline_->setText(tr("One moment …"));
    for (const Line* line : {&circuit_, &program_, &onBoard_}) fill(*line, false, true, false, {});
    for (QPushButton* button : {places_, step_, moment_, power_}) button->hide();
  }
  ask();
  place();
  QWidget::show();
  raise();
  setFocus();
}

WhyCard::Told WhyCard::toldOf(const Why& why) {
  Told out;
  out.headline = str(why.headline);
  out.circuit = str(why.circuit.words);
  out.program = str(why.program.words);
  out.board = str(why.board);
  out.sentence = str(why.sentence);
  out.power = why.power;
  out.circuitFine = why.circuit.fine;
  out.programFine = why.program.fine;
  if (!why.circuit.fine || why.program.board.empty()) {
    out.parts = why.circuit.parts;
    out.sockets = why.circuit.sockets;
  }
  if (!why.program.steps.empty()) out.step = why.program.steps.front();
  if (why.program.lastSet) out.moment = why.program.lastSet->at;
  return out;
}

WhyCard::Told WhyCard::toldOf(const WhyPin& why) {
  Told out;
  out.headline = str(why.headline);
  out.circuit = str(why.circuit);
  out.program = str(why.program);
  out.sentence = out.headline + QStringLiteral(": ") + (why.byProgram ? out.program : out.circuit);
  out.threeLines = false;
  out.parts = why.parts;
  if (!why.steps.empty()) out.step = why.steps.front();
  out.moment = why.lastSet ? why.lastSet->at : why.since;
  return out;
}

// Of the moment that is shown. One errand at a time; what is asked meanwhile is asked once more
// when it is back.
void WhyCard::ask() {
  if (!run_.isOn() || !run_.shown()) return showOff();
  if (asking_) {
    again_ = true;
    return;
  }
  asking_ = true;
  again_ = false;
  const bool current = doc_.checkIsCurrent() && *run_.shown()->project == doc_.project();
  std::shared_ptr<const std::vector<Finding>> found;
  if (current) found = std::make_shared<const std::vector<Finding>>(doc_.check().findings);
  QPointer<WhyCard> self(this);
  workers().start([self, found, known = known_, shown = run_.shown(), trace = run_.trace(),
                   events = run_.events(), about = about_, board = board_, pin = pin_] {
    std::optional<Told> told;
    if (trace) {
      const RunMoment moment{*shown, *trace, events};
      std::vector<Fault> faults = known->of(shown->project, found.get());
      if (about.empty()) {
        if (const auto why = whyPin(moment, board, pin, faults)) told = toldOf(*why);
      } else if (const auto why =
                     whyOf(moment, about, faults, [&] { return known->more(shown->project); })) {
        told = toldOf(*why);
      }
    }
    QMetaObject::invokeMethod(
        qApp,
        [self, told, about, board, pin] {
          if (!self) return;
          self->asking_ = false;
          const bool same = about == self->about_ && board == self->board_ && pin == self->pin_;
          if (same && !told) return self->hide();
          if (same && self->isVisible()) self->show(*told);
          if (self->again_ || !same) self->ask();
        },
        Qt::QueuedConnection);
  });
}

void WhyCard::showOff() {
  Told told;
  const auto output = outputNamed(doc_.project(), about_);
  told.headline = output ? tr("%1: the power is off").arg(str(nameOf(doc_.project(), *output)))
                         : tr("The power is off");
  told.sentence = told.headline;
  told.power = false;
  if (told.sentence == told_.sentence && power_->isVisible()) return;
  told_ = told;
  headline_->setText(told.headline);
  for (const Line* line : {&circuit_, &program_, &onBoard_}) fill(*line, false, true, false, {});
  for (QPushButton* button : {places_, step_, moment_}) button->hide();
  power_->show();
  setAccessibleName(told.sentence);
  place();
}

void WhyCard::show(const Told& told) {
  const bool news = told.sentence != told_.sentence;
  told_ = told;
  headline_->setText(told.headline);
  // Of something without power only that is worth a line, and what took it.
  const bool offOnly = !told.power && told.circuitFine;
  fill(circuit_, !offOnly && !told.circuit.isEmpty(), told.circuitFine, true, told.circuit);
  fill(program_, !offOnly && !told.program.isEmpty(), told.programFine, true, told.program);
  fill(onBoard_, !offOnly && told.threeLines, true, false, told.board);
  const auto leads = [](const Line& line, bool somewhere) {
    line.words->setCursor(somewhere ? Qt::PointingHandCursor : Qt::ArrowCursor);
  };
  leads(program_, !told.step.empty());
  leads(circuit_, !told.parts.empty() || !told.sockets.empty());
  if (offOnly) headline_->setText(told.sentence);
  places_->setVisible(!offOnly && (!told.parts.empty() || !told.sockets.empty()));
  step_->setVisible(!offOnly && !told.step.empty());
  step_->setText(doc_.project().lane(told.step) ? tr("Lane") : tr("Step"));
  moment_->setVisible(!offOnly && told.moment >= 0);
  power_->hide();
  // What leads to the fault comes first.
  for (QPushButton* button : {places_, step_}) {
    const bool first =
        button == places_ ? !told.circuitFine : told.circuitFine && !told.programFine;
    if (button->property("primary").toBool() == first) continue;
    button->setProperty("primary", first);
    button->style()->unpolish(button);
    button->style()->polish(button);
  }
  setAccessibleName(told.sentence);
  place();
  if (!news) return;
  QAccessibleEvent event(this, QAccessible::NameChanged);
  QAccessible::updateAccessibility(&event);
}

// Right of the part where there is room; else below it or above it, so that its row, and with it
// its path, stays in sight.
void WhyCard::place() {
  layout()->activate();
  resize(whyWide, layout()->totalHeightForWidth(whyWide));
  const QRect all = parentWidget()->rect().adjusted(whyMargin, whyMargin, -whyMargin, -whyMargin);
  const QRect room = within_.isNull() ? all : all & within_;
  QPoint at(beside_.right() + whyGap, beside_.center().y() - height() / 2);
  if (at.x() + width() > room.right()) {
    at.setX(std::max(room.left() + whyMargin, beside_.left() - width()));
    at.setY(beside_.bottom() + whyGap);
    if (at.y() + height() > room.bottom()) at.setY(beside_.top() - whyGap - height());
  }
  move(std::clamp(at.x(), all.left(), std::max(all.left(), all.right() - width())),
       std::clamp(at.y(), all.top(), std::max(all.top(), all.bottom() - height())));
}

QString WhyCard::words() const {
  QStringList out{headline_->text()};
  for (const Line* line : {&circuit_, &program_, &onBoard_})
    if (!line->words->isHidden())
      out << line->mark->text() + QLatin1Char(' ') + line->name->text() + QStringLiteral(": ") +
                 line->words->text();
  return out.join(QLatin1Char('\n'));
}

void WhyCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape) return leave();
  QWidget::keyPressEvent(e);
}

// The keys go back to where they were.
void WhyCard::leave() {
  const bool keys = hasFocus() || isAncestorOf(QApplication::focusWidget());
  if (keys && before_ && before_->isVisible()) before_->setFocus();
  hide();
}

// A click on what is said leads where its button does.
bool WhyCard::eventFilter(QObject* watched, QEvent* e) {
  if (e->type() == QEvent::MouseButtonRelease) {
    if (watched == program_.words && step_->isVisible()) step_->click();
    if (watched == circuit_.words && places_->isVisible()) places_->click();
  }
  return QWidget::eventFilter(watched, e);
}

void WhyCard::paintEvent(QPaintEvent*) { paintCard(*this, theme().ink2); }

}  // namespace ignavo::app
