#include "program/program_view.h"

#include <QLocale>
#include <QTimer>
#include <algorithm>
#include <set>

#include "parts/hanging.h"
#include "program/facts.h"
#include "program/program_accessible.h"
#include "theme/text.h"

namespace ignavo::app {

ProgramView::ProgramView(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  makeProgramsAccessible();
  setObjectName(QStringLiteral("programView"));
  setAccessibleName(tr("Program"));
  setAccessibleDescription(tr(
      "Steps on rails. Up and down choose a step, Return adds one below, F2 changes its values."));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  when_ = newBox(QStringLiteral("whenBox"));
  when_->setAccessibleName(tr("When? Adds a lane"));
  when_->setPlaceholderText(tr("When? each time …, every …, when power comes on"));
  card_ = new TypingCard(this);
  connect(card_, &TypingCard::picked, this, [this](QLineEdit* box, const QString& phrase) {
    box->setText(phrase);
    card_->hide();
    commit(box);
  });
  connect(&doc_, &Document::changed, this, [this] {
    mendedShown_ = mendedShown_ || !mendedStep_.isEmpty();
    mendedStep_.clear();
  });
  connect(&doc_, &Document::changed, this, &ProgramView::relayoutIfNew);
  connect(&doc_, &Document::boardChosen, this, &ProgramView::relayoutIfNew);
  connect(&doc_, &Document::stepSelected, this, [this] {
    // Chosen elsewhere: that alone.
    const std::string id = doc_.selectedStep().toStdString();
    if (std::find(also_.begin(), also_.end(), id) == also_.end()) {
      also_.clear();
      anchor_ = id;
    }
    if (project_ == doc_.shared() && doc_.project().step(id) && !rowOf(id)) unfoldTo(id);
    makeRoom();
    showChosen();
    update();
  });
  connect(&doc_, &Document::checked, this, [this] {
    noteFindings();
    update();
  });
  connect(&run_, &RunControl::updated, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (run_.isOn() && !atPowerOn_) atPowerOn_ = doc_.shared();
    if (!run_.isOn()) atPowerOn_.reset();
    update();
  });
  if (run_.isOn()) atPowerOn_ = doc_.shared();
  inside_ = newBox(QStringLiteral("typeInside"));
  relayout();
}

const Program* ProgramView::program() const {
  return project_ ? project_->program(board_) : nullptr;
}

const Lane* ProgramView::lane(const std::string& id) const {
  if (const Program* held = program())
    for (const auto& l : held->lanes)
      if (l->id == id) return &*l;
  return nullptr;
}

QStringList ProgramView::pinNames() const {
  QStringList names;
  const BoardItem* item = doc_.project().board(board_);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!kind) return names;
  // Those with something on them first.
  QStringList bare;
  for (const BoardPin& pin : kind->pins)
    if (pin.role == PinShape::Role::io)
      (doc_.pinLabel(board_, pin.name).isEmpty() ? bare : names) << str(pin.name);
  return names + bare;
}

// When the project, the board or the width is another one; a document tells of the same more than
// once.
void ProgramView::relayoutIfNew() {
  if (project_ != doc_.shared() || board_ != doc_.board() || laidOutWidth_ != width()) relayout();
}

void ProgramView::relayout() {
  const bool other = project_ != doc_.shared() || board_ != doc_.board();
  const auto kept = std::exchange(project_, doc_.shared());  // the picture so far points into it
  board_ = doc_.board();
  static const Program none;
  const Program* held = program();
  std::map<std::string, QString> labels;
  for (const QString& pin : pinNames())
    labels[pin.toStdString()] = doc_.pinLabel(board_, pin.toStdString());
  told_.named(labels);
  const auto labelOf = [&](const std::string& pin) {
    const auto it = labels.find(pin);
    return it == labels.end() ? QString() : it->second;
  };
  const Folding folded = [&](const Step& step, int level) {
    const auto asked = folds_.find(step.id);
    return asked == folds_.end() ? foldsByItself(step, level) : asked->second;
  };
  const ProgramPicture before = std::exchange(picture_, {});
  open_ = openPlace();
  picture_ = layOutProgram(held ? *held : none, std::max(320.0, width() / zoom_), labelOf, folded,
                           &told_, open_ ? &*open_ : nullptr);
  laidOutWidth_ = width();
  if (other) findTroubles();
  std::erase_if(also_, [&](const std::string& id) { return !doc_.project().step(id); });
  placeBoxes();
  Q_EMIT laidOut();
  paintChanged(before);
}

// The chosen card, and its body's box where that is near.
void ProgramView::showChosen() {
  const ProgramRow* row = rowOf(doc_.selectedStep().toStdString());
  if (!row) return;
  constexpr double near = 200;
  if (!pressing_ && inside_->isVisible())
    if (const QRectF box = inside_->geometry(); box.bottom() - shown(row->box).top() < near)
      Q_EMIT wantVisible(box);
  Q_EMIT wantVisible(shown(row->box));
}

// What was chosen while other panes were shown.
void ProgramView::showEvent(QShowEvent*) { QTimer::singleShot(0, this, &ProgramView::showChosen); }

// Another body is chosen, or a box opened or closed: a row comes or goes, and what is chosen stays
// where it is seen. While the mouse is down nothing moves under it.
void ProgramView::makeRoom() {
  if (pressing_ || openPlace() == open_ || project_ != doc_.shared()) return;
  const std::string id = doc_.selectedStep().toStdString();
  const auto top = [&] {
    const ProgramRow* row = rowOf(id);
    return row ? shown(row->box).top() : 0;
  };
  const double before = top();
  inside_->clear();
  relayout();
  if (const double by = top() - before; by != 0) Q_EMIT shifted(by);
}

// That of the chosen head, else the one that the chosen step stands in; where it has steps, for an
// empty one asks by itself.
std::optional<edits::StepPlace> ProgramView::endOfChosenBody() const {
  if (!also_.empty()) return {};
  const std::string id = doc_.selectedStep().toStdString();
  const Step* chosen = doc_.project().step(id);
  if (!chosen) return {};
  edits::StepPlace place = edits::placeOf(doc_.project(), id);
  if (!chosen->bodies.empty()) {
    place.parent = id;
    place.body = chosen->bodies.front().first;
  }
  const Step* holds = doc_.project().step(place.parent);
  const Steps* steps = holds ? holds->body(place.body) : nullptr;
  if (!steps || steps->empty()) return {};
  place.index = steps->size();
  return place;
}

std::optional<edits::StepPlace> ProgramView::openPlace() const {
  return insert_ ? std::optional(insertAt_) : endOfChosenBody();
}

// Most edits change one card: only that is painted anew.
void ProgramView::paintChanged(const ProgramPicture& before) {
  const auto& rows = picture_.rows;
  bool same = before.rows.size() == rows.size() && before.rails.size() == picture_.rails.size();
  for (std::size_t i = 0; same && i < picture_.rails.size(); ++i)
    same = before.rails[i].points == picture_.rails[i].points;
  if (std::exchange(mendedShown_, false) || !same) return update();
  constexpr int air = 12;  // what is drawn beyond a row's box
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const ProgramRow &was = before.rows[i], &now = rows[i];
    if (was.what == now.what && was.box == now.box && was.tokens == now.tokens &&
        was.owner() == now.owner())
      continue;
    const QRect box = shown(was.box.united(now.box)).toAlignedRect();
    update(0, box.top() - air, width(), box.height() + 2 * air);
  }
}

// The boxes that one types in, where their places are now.
void ProgramView::placeBoxes() {
  const Program* held = program();
  constexpr int boxHeight = 28, air = 10;
  const int below = static_cast<int>(picture_.height * zoom_) + air;
  when_->setGeometry(30, below, std::min(width() - 42, 420), boxHeight);
  setMinimumHeight(below + boxHeight + air);
  // At the end of each rail.
  QStringList lanes;
  const bool begun = held && held->hasSteps();
  for (const ProgramRow& row : picture_.rows) {
    if (row.what != ProgramRow::What::end) continue;
    const QString id = str(row.lane);
    lanes << id;
    if (!ends_.contains(id)) ends_[id] = newBox(QStringLiteral("typeStep-") + id);
    QLineEdit* box = ends_[id];
    const QRectF place = shown(row.box);
    box->setGeometry(QRectF(place.left(), place.top(),
                            begun ? std::min(place.width(), 340.0) : place.width(), boxHeight)
                         .toRect());
    box->setPlaceholderText(begun ? tr("type a step …")
                                  : tr("Type what should happen, for example: set d13 high"));
    box->show();
  }
  for (const QString& id : ends_.keys())
    if (!lanes.contains(id)) {
      QLineEdit* gone = ends_.take(id);
      gone->hide();
      gone->deleteLater();
    }
  if (editor_)
    if (const Token* t = tokenOf(edited_))
      editor_->move(shown(t->box).topLeft().toPoint() - QPoint(3, 2));
  const QRectF open = open_ ? boxOf(*open_) : QRectF();
  if (insert_) {
    if (open.isNull())
      closeBox(insert_);
    else
      insert_->setGeometry(open.toRect());
  }
  const bool inside = !insert_ && !open.isNull();
  if (inside) {
    inside_->setGeometry(open.toRect());
    inside_->setPlaceholderText(invitation(*open_));
  } else if (inside_->hasFocus()) {
    setFocus();
  }
  inside_->setVisible(inside);
  if (operator_) {
    if (const ProgramRow* thread = threadOf(doc_.selectedStep().toStdString()))
      operator_->setGeometry(boxOfOperator(*thread));
    else
      closeOperator();
  }
  card_->follow();
}

void ProgramView::setZoom(double zoom) {
  const double next = std::clamp(zoom, leastZoom, mostZoom);
  if (next == zoom_) return;
  zoom_ = next;
  closeEditor(true);
  relayout();
  update();
  if (const ProgramRow* row = rowOf(doc_.selectedStep().toStdString()))
    Q_EMIT wantVisible(shown(row->box));
}

QRectF ProgramView::shown(const QRectF& box) const {
  return {box.topLeft() * zoom_, box.size() * zoom_};
}

void ProgramView::resizeEvent(QResizeEvent*) {
  if (width() != laidOutWidth_) relayout();
}

// What is wrong with each step, in words.
void ProgramView::findTroubles() {
  troubles_.clear();
  const Program* held = program();
  const BoardItem* item = doc_.project().board(board_);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (!held || !kind) return;
  for (const StepProblem& problem : stepProblems(*held, pinAbilities(*kind)))
    troubles_[problem.step] = str(ignavo::sentence(problem));
}

// The first finding of each step and lane, as they are told.
void ProgramView::noteFindings() {
  found_.clear();
  const auto& findings = doc_.check().findings;
  for (std::size_t i = 0; i < findings.size(); ++i)
    if (!findings[i].meant)
      for (const std::string& step : findings[i].steps) found_.try_emplace(step, i);
}

const Finding* ProgramView::findingOf(const std::string& id) const {
  const auto it = found_.find(id);
  return it == found_.end() || it->second >= doc_.check().findings.size()
             ? nullptr
             : &doc_.check().findings[it->second];
}

QLineEdit* ProgramView::endBox(const std::string& lane) const { return ends_.value(str(lane)); }

const ProgramRow* ProgramView::rowOf(const std::string& step) const {
  for (const ProgramRow& row : picture_.rows)
    if ((row.what == ProgramRow::What::step || row.what == ProgramRow::What::sign) &&
        row.owner() == step)
      return &row;
  return nullptr;
}

const ProgramRow* ProgramView::rowAt(QPointF p) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.box.adjusted(row.what == ProgramRow::What::step ? -26 : 0, 0, 0, 0).contains(p))
      return &row;
  return nullptr;
}

const Token* ProgramView::tokenOf(const FieldRef& field) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.owner() == field.step)
      for (const Token& t : row.tokens)
        if (t.isField() && t.path == field.path) return &t;
  return nullptr;
}

QRectF ProgramView::boxOfStep(const std::string& step) const {
  const ProgramRow* row = rowOf(step);
  return row ? shown(row->box) : QRectF();
}
QString ProgramView::spoken(const ProgramRow& row) const {
  QStringList words;
  for (const Token& t : row.tokens)
    if (t.what != Token::What::knot) words << t.text;
  if (row.what == ProgramRow::What::empty && !row.slim) words << tr("nothing inside yet");
  return words.join(' ');
}

QString ProgramView::troubleOf(const ProgramRow& row) const {
  const auto it = troubles_.find(row.owner());
  return it == troubles_.end() ? QString() : it->second;
}

QString ProgramView::ranText(const std::string& step) const {
  const auto shown = run_.isOn() ? run_.shown() : nullptr;
  if (!shown) return {};
  const auto it = shown->stepCounts.find(step);
  const std::int64_t ran = it == shown->stepCounts.end() ? 0 : it->second;
  return ran == 0   ? tr("It has not run so far.")
         : ran == 1 ? tr("It ran once so far.")
                    : tr("It ran %1 times so far.").arg(QLocale::c().toString(qlonglong(ran)));
}

bool ProgramView::isSelected(const ProgramRow& row) const {
  const bool owns = row.what == ProgramRow::What::step || row.what == ProgramRow::What::sign;
  return owns && (doc_.selectedStep() == str(row.owner()) ||
                  std::find(also_.begin(), also_.end(), row.owner()) != also_.end());
}

QStringList ProgramView::headsAbove(double at) const {
  QStringList out;
  const double y = at / zoom_;
  for (std::size_t i = 0; i < picture_.rows.size(); ++i) {
    const ProgramRow& row = picture_.rows[i];
    const bool sign = row.what == ProgramRow::What::sign;
    if (!sign && (row.what != ProgramRow::What::step || row.step->bodies.empty())) continue;
    if (row.box.bottom() > y) continue;
    // All that stands in it.
    double end = row.box.bottom();
    for (std::size_t k = i + 1; k < picture_.rows.size(); ++k) {
      const ProgramRow& inner = picture_.rows[k];
      if (inner.lane != row.lane || (!sign && inner.level <= row.level)) break;
      if (inner.what != ProgramRow::What::end && inner.what != ProgramRow::What::stop)
        end = inner.box.bottom();
    }
    if (end <= y) continue;
    out << spoken(row);
  }
  return out;
}

// Where steps are added to a body that has none.
QRectF ProgramView::boxOfEmpty(const std::string& step, const std::string& body) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::empty && row.step->id == step && row.body == body)
      return shown(row.box);
  return {};
}
QRectF ProgramView::boxOfSignPin(const std::string& lane) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::sign && row.lane == lane)
      for (const Token& t : row.tokens)
        if (t.what == Token::What::pin) return shown(t.box);
  return {};
}

QRectF ProgramView::boxOfField(const std::string& step, const std::string& path) const {
  const Token* t = tokenOf({step, path});
  return t ? shown(t->box) : QRectF();
}

bool ProgramView::runs(const ProgramRow& row) const {
  const auto shownNow = run_.shown();
  if (!shownNow || !shownNow->powered || !row.step) return false;
  for (const LaneView& l : shownNow->lanes) {
    if (l.step.empty()) continue;
    if (l.step == row.step->id) return true;
    if (row.what != ProgramRow::What::folded) continue;
    bool inside = false;
    for (const auto& [key, body] : row.step->bodies)
      forEachStep(body, [&](const Step& s) { inside = inside || s.id == l.step; });
    if (inside) return true;
  }
  return false;
}

// What started a lane that was running, bounces left out: presses, where there were so many.
QString ProgramView::missedText(const Lane& held, const TriggerKind& kind,
                                std::int64_t missed) const {
  const int count = static_cast<int>(missed);
  if (kind.edge == TriggerKind::Edge::none)
    return count == 1 ? tr("missed once") : tr("%n times missed", nullptr, count);
  std::set<std::string> hanging;
  for (const HangingPart& part : hangingOn(doc_.project(), doc_.nets(), board_, held.trigger.pin))
    hanging.insert((*doc_.project().parts)[static_cast<std::size_t>(part.part)]->id);
  std::int64_t presses = 0;
  for (const Event& e : run_.events()) {
    if (e.what == Event::What::reset || e.what == Event::What::powerOn) presses = 0;
    if (e.what == Event::What::press && hanging.count(e.id) != 0) ++presses;
  }
  if (missed > presses) return tr("%n × not seen", nullptr, count);
  return count == 1 ? tr("1 press not seen") : tr("%n presses not seen", nullptr, count);
}

// Presses of what hangs on a pin that the lane looks at, that were over before anything looked.
int ProgramView::overlooked(const Lane& held) const {
  const auto& events = run_.events();
  if (std::none_of(events.begin(), events.end(),
                   [](const Event& e) { return e.what == Event::What::overlooked; }))
    return 0;
  std::set<std::string> pins;
  forEachStep(held.steps, [&](const Step& step) {
    for (const auto& [key, value] : step.fields)
      forEachPinRead(value, [&](const std::string& pin) { pins.insert(pin); });
  });
  std::set<std::string> hanging;
  for (const std::string& pin : pins)
    for (const HangingPart& part : hangingOn(doc_.project(), doc_.nets(), board_, pin))
      hanging.insert((*doc_.project().parts)[static_cast<std::size_t>(part.part)]->id);
  int out = 0;
  for (const Event& e : run_.events()) {
    if (e.what == Event::What::reset || e.what == Event::What::powerOn) out = 0;
    if (e.what == Event::What::overlooked && hanging.count(e.id) != 0) ++out;
  }
  return out;
}

// How the lane of a sign is just now.
QString ProgramView::stateOf(const ProgramRow& sign) const {
  const auto shownNow = run_.shown();
  const Lane* held = lane(sign.lane);
  const TriggerKind* kind = held ? triggerKind(held->trigger.on) : nullptr;
  if (!shownNow || !shownNow->powered || !kind) return {};
  for (const LaneView& l : shownNow->lanes) {
    if (l.id != sign.lane) continue;
    // First what should not be cut off.
    QStringList words;
    if (const std::int64_t missed = l.missed - l.bounced; missed > 0)
      words << missedText(*held, *kind, missed);
    if (const int presses = overlooked(*held); presses == 1)
      words << tr("1 press not seen");
    else if (presses > 1)
      words << tr("%n presses not seen", nullptr, presses);
    const bool waits = kind->startsAgain() && l.step.empty() && !l.over;
    if (waits && kind->starts == TriggerKind::Starts::clock) {
      words << tr("waiting for its time");
    } else if (waits) {
      // What it listens to: a pin, or the first that its test asks.
      std::string pin = held->trigger.pin;
      if (const Expr* test = startTestOf(held->trigger))
        forEachGetter(*test, [&](const GetterKind& getter, const std::string& name) {
          if (pin.empty() && getter.asksPin()) pin = name;
        });
      const QString label = pin.empty() ? QString() : doc_.pinLabel(board_, pin);
      words << (pin.empty() ? tr("waiting")
                            : tr("waiting for %1").arg(label.isEmpty() ? str(pin) : label));
    }
    if (l.over && kind->once) words << tr("done");
    return words.join(QStringLiteral(" · "));
  }
  return {};
}

}  // namespace ignavo::app
