#include "findings/findings_pane.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <algorithm>

#include "art/art.h"
#include "check/rule.h"
#include "document/when_shown.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

constexpr int roomAround = 110;        // what of the pane's width is not a card's row
constexpr int gap = 8;                 // between buttons
constexpr std::size_t mostCards = 40;  // at first: who has more begins with the gravest

// Can the bench show what an edit does?
bool changesBench(const Project& before, const Project& after) {
  return !(before.parts == after.parts && before.wires == after.wires &&
           before.boards == after.boards && before.breadboards == after.breadboards);
}

// What a remedy's button takes in one line.
int widthOf(const QString& remedy) {
  return QFontMetrics(theme().text(13, QFont::DemiBold)).horizontalAdvance(remedy) + 44;
}

int widthOf(QPushButton* button) {
  if (!button) return 0;
  button->ensurePolished();
  return button->sizeHint().width() + gap;
}

// A button's words in two lines where one is too long: broken at the space nearest the middle.
QString inRoom(const QString& words, int room) {
  if (widthOf(words) <= room) return words;
  qsizetype best = -1;
  for (qsizetype at = words.indexOf(' '); at >= 0; at = words.indexOf(' ', at + 1))
    if (best < 0 || std::abs(2 * at - words.size()) < std::abs(2 * best - words.size())) best = at;
  return best < 0 ? words : QString(words).replace(best, 1, '\n');
}

// One finding as a card.
class FindingCard : public QWidget {
 public:
  FindingCard(int index, const Finding& finding, QWidget* parent)
      : QWidget(parent), index_(index), severity_(finding.severity), meant_(finding.meant) {
    setObjectName(QStringLiteral("finding%1").arg(index));
    setFocusPolicy(Qt::TabFocus);  // by mouse it takes it itself, its buttons leave it
    setAttribute(Qt::WA_Hover);
    setAccessibleName(str(finding.title));
    setAccessibleDescription(QString::fromUtf8(severityTitle(finding.severity)) +
                             QStringLiteral(". ") + str(finding.reason));
  }
  std::function<void(bool)> onHover;
  std::function<void()> onChosen;
  bool marked = false;

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const bool strong = marked || hasFocus();
    QColor edge = meant_                                    ? t.line
                  : severity_ == Severity::danger || strong ? t.severity(severity_)
                                                            : t.line;
    p.setPen(QPen(edge, strong ? 2 : 1.4));
    p.setBrush(t.card);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 8, 8);
    p.setOpacity(meant_ ? 0.4 : 1);
    paintMark(p, QPointF(22, 25), severity_, index_ + 1, 18);
  }
  void enterEvent(QEnterEvent*) override {
    if (onHover) onHover(true);
  }
  void leaveEvent(QEvent*) override {
    if (onHover) onHover(false);
  }
  void mousePressEvent(QMouseEvent*) override {
    setFocus();
    if (onChosen) onChosen();
  }
  void keyPressEvent(QKeyEvent* e) override {
    const bool go =
        e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space;
    if (go && onChosen) return onChosen();
    QWidget::keyPressEvent(e);
  }
  void focusInEvent(QFocusEvent*) override {
    if (onHover) onHover(true);
    update();
  }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  int index_;
  Severity severity_;
  bool meant_;
};

}  // namespace

FindingsPane::FindingsPane(Document& document, QWidget* parent) : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("pane"));
  setAttribute(Qt::WA_StyledBackground);
  setAccessibleName(tr("Findings"));
  setMinimumWidth(320);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 14, 0, 10);
  column->setSpacing(4);
  head_ = new QLabel(this);
  head_->setObjectName(QStringLiteral("findingsHead"));
  head_->setContentsMargins(22, 0, 16, 0);
  head_->setWordWrap(true);
  under_ = new QLabel(this);
  under_->setContentsMargins(22, 0, 16, 4);
  under_->setWordWrap(true);
  column->addWidget(head_);
  column->addWidget(under_);
  auto* scroll = scroll_ = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  scroll->setFocusPolicy(Qt::NoFocus);  // its cards have it
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->viewport()->setAutoFillBackground(false);
  inner_ = new QWidget(scroll);
  list_ = new QVBoxLayout(inner_);
  list_->setContentsMargins(16, 4, 16, 4);
  list_->setSpacing(12);
  list_->addStretch();
  scroll->setWidget(inner_);
  inner_->setAutoFillBackground(false);
  column->addWidget(scroll, 1);
  foot_ = new QLabel(this);
  foot_->setObjectName(QStringLiteral("findingsFoot"));
  foot_->setContentsMargins(22, 2, 16, 0);
  foot_->setWordWrap(true);
  column->addWidget(foot_);
  auto* lazy = new WhenShown(this, [this] { rebuild(); });
  connect(&doc_, &Document::checked, lazy, &WhenShown::ask);
  lazy->ask();
}

void FindingsPane::rebuild() {
  const Theme& t = theme();
  const CheckResult& check = doc_.check();
  int danger = 0, warning = 0, note = 0;
  bool shorted = false;
  QString now;
  for (const Finding& f : check.findings) {
    now += str(f.rule) + str(f.title) + str(f.reason) + (f.meant ? QStringLiteral("m") : QString());
    for (const Remedy& r : f.remedies) now += str(r.title);
    for (const auto* ids : {&f.parts, &f.pins, &f.steps})
      for (const std::string& id : *ids) now += QLatin1Char(' ') + str(id);
    if (f.meant) continue;
    (f.severity == Severity::danger ? danger : f.severity == Severity::warning ? warning : note)++;
    shorted = shorted || f.rule == "short-circuit";
  }
  QStringList parts;
  if (danger) parts << tr("%1 would break").arg(danger);
  if (warning) parts << tr("%1 won’t work").arg(warning);
  if (note) parts << tr("%1 good to know").arg(note);
  const Project& project = doc_.project();
  const bool nothing = project.parts->empty() && project.wires->empty() && !doc_.hasSteps();
  head_->setText(nothing           ? tr("Nothing to check yet")
                 : parts.isEmpty() ? tr("All clear")
                                   : parts.join(QStringLiteral(", ")));
  head_->setStyleSheet(QStringLiteral("font-size: 16px; font-weight: 700; color: %1;")
                           .arg((parts.isEmpty() && !nothing ? t.good : t.ink).name()));
  // Beyond that a number says no more than that there are very many.
  const bool countless = check.poses >= 1e6;
  const QString poses = QString::number(check.poses, 'f', 0);
  under_->setText(
      nothing ? tr("Wire a part, or type a step: it is checked at once.")
      : check.sampled
          ? (countless
                 ? tr("Solved for a choice of more than a million combinations of buttons, knobs "
                      "and pins")
                 : tr("Solved for a choice of the %1 combinations of buttons, knobs and pins")
                       .arg(poses))
      : countless
          ? tr("Solved for all combinations of buttons, knobs and pins, more than a million")
      : check.poses > 1.5
          ? tr("Solved for all %1 combinations of buttons, knobs and pins").arg(poses)
          : tr("Solved as it stands"));
  under_->setStyleSheet(QStringLiteral("font-size: 13px; color: %1;").arg(t.ink2.name()));
  QString foot = tr("There is a short circuit");
  bool over = shorted || !check.unsolved.empty(), tight = false;
  if (!shorted) {
    QStringList sums{tr("No short circuit")}, tooMuch;
    // Of the boards that are there: what was checked may be a moment older.
    const std::vector<BoardItem>& boards = project.boards;
    for (std::size_t b = 0; b < boards.size() && check.totals.size() == boards.size(); ++b) {
      const BoardKind* kind = catalogue().boardKind(boards[b].type);
      const BoardTotal& total = check.totals[b];
      if (!kind) continue;
      const auto add = [&](const QString& sum, double amps, double most) {
        const QString what = boards.size() > 1 ? str(boards[b].id) + QChar(QChar::Nbsp) + sum : sum;
        sums << tr("%1 %2 of %3 mA")
                    .arg(what)
                    .arg(amps * 1000, 0, 'f', 0)
                    .arg(most * 1000, 0, 'f', 0);
        constexpr double tightFrom =
            0.9;  // of the limit; a guess, so that nobody builds on the rest
        tight = tight || amps >= tightFrom * most;
        if (exceeds(amps, most))
          tooMuch << tr("%1 would give %2; %3 is the most")
                         .arg(what, str(milliamps(amps)), str(milliamps(most)));
      };
      add(tr("all pins"), total.chipAmps, kind->chipMostAmps);
      for (std::size_t k = 0; k < kind->supplies.size() && k < total.supplyAmps.size(); ++k)
        if (k == 0 || exceeds(total.supplyAmps[k], kind->supplies[k].maxAmps))
          add(str(kind->supplies[k].label), total.supplyAmps[k], kind->supplies[k].maxAmps);
    }
    over = over || !tooMuch.isEmpty();
    if (tight && tooMuch.isEmpty()) sums << tr("hardly anything to spare");
    foot = (tooMuch.isEmpty() ? sums : tooMuch).join(QStringLiteral(" · "));
  }
  if (!check.unsolved.empty())
    foot = tr("The circuit around %1 could not be solved.").arg(str(check.unsolved.front()));
  foot_->setText(nothing ? QString() : foot);
  foot_->setStyleSheet(QStringLiteral("font-weight: 600; font-size: 13px; color: %1;")
                           .arg((over    ? t.danger
                                 : tight ? t.warning
                                         : t.good)
                                    .name()));
  const std::size_t count = check.findings.size();
  all_ = all_ && count > mostCards;
  const std::size_t shown = all_ ? count : std::min(count, mostCards);
  now += QString::number(shown) + (t.dark ? QLatin1Char('n') : QLatin1Char('d'));
  // The list stays as it is while nothing in it changes.
  if (now == shown_) return;
  shown_ = now;
  turns_.clear();
  laidOutFor_ = width();
  // Who was in the list stays at the same place of it, and so does what is seen of it.
  const int focused = focusedCard();
  const int scrolled = scroll_->verticalScrollBar()->value();
  if (focused >= 0) setFocus();
  while (list_->count() > 1) {
    QLayoutItem* item = list_->takeAt(0);
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
  for (std::size_t i = 0; i < shown; ++i)
    list_->insertWidget(static_cast<int>(i), cardOf(static_cast<int>(i)));
  if (shown < count) addMore(count - shown);
  // When the cards have their heights.
  scroll_->setUpdatesEnabled(false);
  QTimer::singleShot(0, this, [this, scrolled] {
    scroll_->verticalScrollBar()->setValue(scrolled);
    scroll_->setUpdatesEnabled(true);
  });
  if (focused < 0) return;
  if (shown == 0) return Q_EMIT emptied();
  list_->itemAt(std::min(focused, static_cast<int>(shown) - 1))->widget()->setFocus();
}

// The card that has the focus, or one of whose buttons has it; -1: none.
int FindingsPane::focusedCard() const {
  for (int i = 0; i < list_->count(); ++i)
    if (const QWidget* card = list_->itemAt(i)->widget();
        card && (card->hasFocus() || card->isAncestorOf(QApplication::focusWidget())))
      return i;
  return -1;
}

void FindingsPane::addMore(std::size_t hidden) {
  auto* more = new QPushButton(tr("Show %1 more").arg(hidden), inner_);
  more->setObjectName(QStringLiteral("moreFindings"));
  connect(more, &QPushButton::clicked, this, [this] {
    all_ = true;
    rebuild();
  });
  list_->insertWidget(list_->count() - 1, more, 0, Qt::AlignLeft);
}

// One finding with its reason and what can be done.
QWidget* FindingsPane::cardOf(int index) {
  const Theme& t = theme();
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  auto* card = new FindingCard(index, f, inner_);
  card->onHover = [this, index](bool on) { Q_EMIT hovered(on ? index : -1); };
  card->onChosen = [this, index] { Q_EMIT chosen(index); };
  auto* column = new QVBoxLayout(card);
  column->setContentsMargins(42, 14, 14, 14);
  column->setSpacing(8);
  auto* top = new QHBoxLayout;
  auto* title = new QLabel(str(f.title), card);
  title->setWordWrap(true);
  title->setStyleSheet(QStringLiteral("font-size: 14px; font-weight: 650; color: %1;")
                           .arg((f.meant ? t.ink2 : t.ink).name()));
  top->addWidget(title, 1);
  auto* severity =
      new QLabel(f.meant ? tr("Meant so") : QString::fromUtf8(severityTitle(f.severity)), card);
  severity->setStyleSheet(QStringLiteral("font-size: 11.5px; font-weight: 700; color: %1;")
                              .arg((f.meant ? t.ink2 : t.severity(f.severity)).name()));
  top->addWidget(severity, 0, Qt::AlignTop);
  column->addLayout(top);
  auto* reason = new QLabel(str(f.reason), card);
  reason->setWordWrap(true);
  reason->setStyleSheet(QStringLiteral("font-size: 13px; color: %1;").arg(t.ink2.name()));
  column->addWidget(reason);
  addActions(index, card, column);
  return card;
}

// Its remedies, what shows more of it, and "It is meant so": all in one row where there is but
// one remedy and room for it. They are made in the order in which keys go through them.
void FindingsPane::addActions(int index, QWidget* card, QVBoxLayout* column) {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  const int room = width() - roomAround;
  std::vector<QPushButton*> remedies;
  int wanted = 0;
  for (std::size_t r = 0; r < f.remedies.size() && !f.meant; ++r) {
    const int wide = widthOf(str(f.remedies[r].title));
    turns_.insert(wide);
    wanted += wide + gap;
    remedies.push_back(remedyButton(index, r, room, card));
  }
  QPushButton* see = f.meant ? nullptr : showButton(index, card);
  QPushButton* why = f.meant ? nullptr : whyButton(index, card);
  QPushButton* meant = meantButton(index, card);
  for (QPushButton* flat : {see, why, meant})
    if (flat) flat->setProperty("flat", true);
  const int all = wanted + widthOf(see) + widthOf(why) + widthOf(meant);
  turns_.insert({wanted, all});

  auto* row = new QBoxLayout(wanted > room ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
  row->setSpacing(gap);
  for (QPushButton* remedy : remedies) row->addWidget(remedy, 0, Qt::AlignLeft);
  column->addLayout(row);
  QBoxLayout* more = row;
  if (!remedies.empty() && (remedies.size() > 1 || all > room)) {
    row->addStretch();
    more = new QHBoxLayout;
    column->addLayout(more);
  }
  for (QPushButton* shows : {see, why})
    if (shows) more->addWidget(shows);
  more->addStretch();
  more->addWidget(meant);
}

QPushButton* FindingsPane::remedyButton(int index, std::size_t r, int room, QWidget* card) {
  const auto i = static_cast<std::size_t>(index);
  const Remedy& remedy = doc_.check().findings[i].remedies[r];
  auto* b = new QPushButton(literal(inRoom(str(remedy.title), room)), card);
  b->setAccessibleName(str(remedy.title));
  b->setFocusPolicy(Qt::TabFocus);  // a click leaves the keys to the bench
  b->setObjectName(QStringLiteral("remedy%1-%2").arg(index).arg(r));
  if (r == 0) b->setProperty("primary", true);
  if (changesBench(doc_.project(), remedy.after)) {
    b->setProperty("card", index);
    b->setProperty("shows", static_cast<int>(r));
    b->installEventFilter(this);
  }
  connect(b, &QPushButton::clicked, this, [this, i, r] {
    Q_EMIT hovered(-1);
    doc_.mend(i, r);
  });
  return b;
}

QPushButton* FindingsPane::meantButton(int index, QWidget* card) {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  auto* b = new QPushButton(f.meant ? tr("Check it again") : tr("It is meant so"), card);
  b->setObjectName(QStringLiteral("meant%1").arg(index));
  b->setFocusPolicy(Qt::TabFocus);
  connect(b, &QPushButton::clicked, this, [this, m = identityOf(f), was = f.meant] {
    Project p = doc_.project();
    std::erase(p.meant, m);
    if (!was) p.meant.push_back(m);
    doc_.edit(was ? tr("check a finding again") : tr("mean it so"), std::move(p));
  });
  return b;
}

// Why the first part of a finding that shows something is as it is.
QPushButton* FindingsPane::whyButton(int index, QWidget* card) {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  for (const std::string& id : f.parts) {
    const Part* part = doc_.project().part(id);
    const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
    if (!kind || kind->shows == Shows::nothing) continue;
    auto* why = new QPushButton(tr("Why?"), card);
    why->setAccessibleName(tr("Why is %1 so?").arg(str(part->name)));
    why->setToolTip(tr("Why %1 is dark, silent or still, or is not").arg(str(part->name)));
    why->setObjectName(QStringLiteral("why%1").arg(index));
    why->setFocusPolicy(Qt::TabFocus);
    connect(why, &QPushButton::clicked, this, [this, id] { Q_EMIT whyWanted(str(id)); });
    return why;
  }
  return nullptr;
}

// What shows more of a finding: its first remedy on the bench, else the step it is about, else
// the places that bear it out, one at a time.
QPushButton* FindingsPane::showButton(int index, QWidget* card) {
  const Finding& f = doc_.check().findings[static_cast<std::size_t>(index)];
  if (!f.remedies.empty() && changesBench(doc_.project(), f.remedies.front().after)) {
    auto* see = new QPushButton(tr("Show me"), card);
    see->setObjectName(QStringLiteral("showMe%1").arg(index));
    see->setCheckable(true);
    see->setFocusPolicy(Qt::TabFocus);
    connect(see, &QPushButton::toggled, this,
            [this, index](bool on) { Q_EMIT previewWanted(index, on ? 0 : -1); });
    return see;
  }
  if (!f.steps.empty()) {
    const bool lane = !doc_.project().step(f.steps.front());
    auto* go = new QPushButton(lane ? tr("Go to the lane") : tr("Go to the step"), card);
    go->setObjectName(QStringLiteral("goToStep%1").arg(index));
    connect(go, &QPushButton::clicked, this,
            [this, step = f.steps.front()] { Q_EMIT stepWanted(str(step)); });
    return go;
  }
  if (f.parts.size() + f.sockets.size() < 1) return nullptr;
  auto* see = new QPushButton(tr("Show me"), card);
  see->setObjectName(QStringLiteral("showMe%1").arg(index));
  connect(see, &QPushButton::clicked, this, [this, index] { Q_EMIT chosen(index); });
  return see;
}

// A remedy that is pointed at, or has the focus, is shown on the bench.
bool FindingsPane::eventFilter(QObject* watched, QEvent* e) {
  const bool in = e->type() == QEvent::Enter || e->type() == QEvent::FocusIn;
  const bool out = e->type() == QEvent::Leave || e->type() == QEvent::FocusOut;
  if (in || out) {
    const int card = watched->property("card").toInt();
    Q_EMIT previewWanted(card, in ? watched->property("shows").toInt() : -1);
  }
  return QWidget::eventFilter(watched, e);
}

// Buttons stand below each other where there is no room beside each other.
void FindingsPane::resizeEvent(QResizeEvent*) {
  const auto passed = [&](int width) { return turns_.upper_bound(width - roomAround); };
  if (passed(laidOutFor_) == passed(width())) return;
  shown_.clear();
  rebuild();
}

void FindingsPane::showFinding(int index) {
  if (index >= static_cast<int>(mostCards) && !all_) {
    all_ = true;
    rebuild();
  }
  for (int i = 0; i < list_->count(); ++i)
    if (auto* card = dynamic_cast<FindingCard*>(list_->itemAt(i)->widget())) {
      card->marked = i == index;
      card->update();
      if (i != index) continue;
      card->setFocus();
      inner_->layout()->activate();
      scroll_->ensureWidgetVisible(card, 0, 12);
    }
}

}  // namespace ignavo::app
