#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <algorithm>

#include "inspector/inspector.h"
#include "program/facts.h"
#include "project/edits.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"

// The pins of a board that are in use: what hangs on each, what it is called,
// and its own pull-up.
namespace ignavo::app {

namespace {

bool writtenBy(const Program* program, const std::string& pin) {
  bool written = false;
  if (program)
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps,
                  [&](const Step& step) { written = written || pinWritten(step) == pin; });
  return written;
}
}  // namespace

void Inspector::pinRow(const std::string& board, const std::string& pin) {
  const Program* program = doc_.project().program(board);
  if (!program) return;
  auto* w = new QWidget(page_);
  auto* h = new QHBoxLayout(w);
  h->setContentsMargins(0, 0, 0, 0);
  h->setSpacing(8);
  const NetColour colour = doc_.identities().ofNet(doc_.nets().of({board, pin}));
  auto* chip = new QLabel(str(pin), w);
  chip->setAlignment(Qt::AlignCenter);
  chip->setFixedSize(44, 22);
  const QColor casing = theme().casing(colour, theme().card);
  chip->setStyleSheet(
      QStringLiteral("background: %1; color: %2; border: 1px solid %3; border-radius: 7px; "
                     "font-family: 'JetBrains Mono'; font-size: 12.5px; font-weight: 700;")
          .arg(theme().net(colour).name(), theme().netInk(colour).name(),
               (casing.isValid() ? casing : theme().net(colour)).name()));
  h->addWidget(chip);
  auto* label = new QLineEdit(str(program->labelOf(pin)), w);
  const QString hangs = str(hangsOn(doc_.project(), doc_.nets(), board, pin));
  label->setObjectName(QStringLiteral("label-") + str(pin));
  label->setAccessibleName(tr("What %1 is called").arg(str(pin)));
  label->setPlaceholderText(hangs.isEmpty() ? tr("nothing hangs on it") : hangs);
  label->setToolTip(tr("Empty: it is called by what hangs on it"));
  label->setMaxLength(static_cast<int>(limits::nameLetters));
  connect(label, &QLineEdit::editingFinished, this, [this, label, board, pin] {
    const Program* now = doc_.project().program(board);
    const std::string wanted = typedWords(label->text());
    if (!now || wanted == now->labelOf(pin)) return;
    label->setText(str(wanted));
    doc_.edit(
        wanted.empty() ? tr("take the label off %1").arg(str(pin)) : tr("label %1").arg(str(pin)),
        edits::setPinLabel(doc_.project(), board, pin, wanted));
  });
  h->addWidget(label, 1);
  if (writtenBy(program, pin)) {
    auto* output = inspectorLabel(tr("output"), w, 12.5, false, true);
    output->setToolTip(tr("A step sets this pin, so it has no pull-up"));
    h->addWidget(output);
    into_->addWidget(w);
    return;
  }
  auto* pull = new QCheckBox(tr("pull-up"), w);
  pull->setObjectName(QStringLiteral("pull-") + str(pin));
  pull->setAccessibleName(tr("Pull-up of %1").arg(str(pin)));
  pull->setChecked(program->pulledUp(pin));
  pull->setToolTip(
      tr("35 kΩ to 5 V inside the chip: the pin reads high until something pulls it low"));
  connect(pull, &QCheckBox::clicked, this, [this, board, pin](bool on) {
    setFocus();
    doc_.edit((on ? tr("pull up %1") : tr("no pull-up on %1")).arg(str(pin)),
              edits::setPull(doc_.project(), board, pin, on));
  });
  h->addWidget(pull);
  into_->addWidget(w);
}

void Inspector::pinTable(const std::string& board) {
  const BoardItem* item = doc_.project().board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const Program* program = doc_.project().program(board);
  if (!kind || !program) return;
  std::vector<std::string> used;
  for (std::size_t i = 0; i < kind->pins.size(); ++i) {
    const std::string& pin = kind->pins[i].name;
    if (kind->shape.pins[i].role != PinShape::Role::io) continue;
    if (doc_.identities().ofPin(board, pin) >= 0 || !program->labelOf(pin).empty() ||
        program->pulledUp(pin))
      used.push_back(pin);
  }
  into_->addWidget(inspectorLabel(used.empty() ? tr("No pin is in use yet") : tr("Pins in use"),
                                  page_, 13, true));
  if (used.empty())
    into_->addWidget(inspectorLabel(tr("Lay a wire to one, or set one in the program."), page_,
                                    12.5, false, true));
  for (const std::string& pin : used) pinRow(board, pin);
}

}  // namespace ignavo::app
