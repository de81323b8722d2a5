#include "program/program_view.h"

#include <algorithm>

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
  connect(card_, &TypingCard::picked, this, [this](const QString& phrase) {
    auto* box = qobject_cast<QLineEdit*>(focusWidget());
    if (!box || box == editor_) return;
    box->setText(phrase);
    card_->hide();
    commit(box);
  });
  connect(&doc_, &Document::changed, this, [this] { mendedStep_.clear(); });
  connect(&doc_, &Document::changed, this, &ProgramView::relayout);
  connect(&doc_, &Document::boardChosen, this, &ProgramView::relayout);
  connect(&doc_, &Document::stepSelected, this, [this] {
    if (const ProgramRow* row = rowOf(doc_.selectedStep().toStdString()))
      Q_EMIT wantVisible(row->box);
    update();
  });
  connect(&doc_, &Document::checked, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::updated, this, qOverload<>(&QWidget::update));
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (run_.isOn() && !atPowerOn_) atPowerOn_ = doc_.shared();
    if (!run_.isOn()) atPowerOn_.reset();
    update();
  });
  relayout();
}

const Program* ProgramView::program() const {
  return project_ ? project_->program(board_) : nullptr;
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

void ProgramView::relayout() {
  project_ = doc_.shared();
  board_ = doc_.board();
  static const Program none;
  const Program* held = program();
  // Asked once for each pin, however many steps name it.
  std::map<std::string, QString> labels;
  const auto labelOf = [&](const std::string& pin) {
    const auto [it, fresh] = labels.try_emplace(pin);
    if (fresh && !pin.empty()) it->second = doc_.pinLabel(board_, pin);
    return it->second;
  };
  picture_ = layOutProgram(held ? *held : none, std::max(320, width()), labelOf);
  laidOutWidth_ = width();
  findTroubles();
  constexpr int boxHeight = 28, air = 10;
  const int below = static_cast<int>(picture_.height) + air;
  when_->setGeometry(30, below, std::min(width() - 42, 420), boxHeight);
  setMinimumHeight(below + boxHeight + air);

  // A box to type in at the end of each rail.
  QStringList lanes;
  for (const ProgramRow& row : picture_.rows) {
    if (row.what != ProgramRow::What::end) continue;
    const QString id = str(row.lane);
    lanes << id;
    if (!ends_.contains(id)) ends_[id] = newBox(QStringLiteral("typeStep-") + id);
    QLineEdit* box = ends_[id];
    box->setGeometry(
        QRectF(row.box.left(), row.box.top(), std::min(row.box.width(), 340.0), 28).toRect());
    box->setPlaceholderText(held && held->hasSteps()
                                ? tr("type a step …")
                                : tr("Type what should happen, for example: set d13 high"));
    if (!(held && held->hasSteps())) box->resize(static_cast<int>(row.box.width()), 28);
    box->show();
  }
  for (const QString& id : ends_.keys())
    if (!lanes.contains(id)) {
      QLineEdit* gone = ends_.take(id);
      gone->hide();
      gone->deleteLater();
    }
  if (editor_)
    if (const Token* t = tokenOf(edited_)) editor_->move(t->box.topLeft().toPoint() - QPoint(3, 2));
  update();
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
  const ProgramRow* row = rowOf(field.step);
  if (!row) return nullptr;
  for (const Token& t : row->tokens)
    if (t.isField() && t.path == field.path) return &t;
  return nullptr;
}

QRectF ProgramView::boxOfStep(const std::string& step) const {
  const ProgramRow* row = rowOf(step);
  return row ? row->box : QRectF();
}
QString ProgramView::spoken(const ProgramRow& row) const {
  QStringList words;
  for (const Token& t : row.tokens) words << t.text;
  if (row.what == ProgramRow::What::empty && !row.slim) words << tr("nothing inside yet");
  return words.join(' ');
}

QString ProgramView::troubleOf(const ProgramRow& row) const {
  const auto it = troubles_.find(row.owner());
  return it == troubles_.end() ? QString() : it->second;
}

bool ProgramView::isSelected(const ProgramRow& row) const {
  const bool owns = row.what == ProgramRow::What::step || row.what == ProgramRow::What::sign;
  return owns && doc_.selectedStep() == str(row.owner());
}

QStringList ProgramView::headsAbove(double y) const {
  QStringList out;
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
      return row.box;
  return {};
}
QRectF ProgramView::boxOfSignPin(const std::string& lane) const {
  for (const ProgramRow& row : picture_.rows)
    if (row.what == ProgramRow::What::sign && row.lane == lane)
      for (const Token& t : row.tokens)
        if (t.what == Token::What::pin) return t.box;
  return {};
}

QRectF ProgramView::boxOfField(const std::string& step, const std::string& path) const {
  const Token* t = tokenOf({step, path});
  return t ? t->box : QRectF();
}

}  // namespace ignavo::app
