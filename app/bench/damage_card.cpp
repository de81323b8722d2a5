#include "bench/damage_card.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "theme/card.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
QString wholeMilliamps(double amps) { return QString::number(std::abs(amps) * 1000, 'f', 0); }
constexpr int margin = 14, widest = 330;
}  // namespace

DamageCard::DamageCard(Document& document, RunControl& run, QWidget* bench)
    : QWidget(bench), doc_(document), run_(run) {
  setObjectName(QStringLiteral("damage"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(16, 8, 10, 8);
  row->setSpacing(12);
  text_ = new QLabel(this);
  text_->setObjectName(QStringLiteral("damageText"));
  text_->setFont(theme().text(13));
  text_->setWordWrap(true);
  row->addWidget(text_, 1);
  replace_ = new QPushButton(tr("Replace it"), this);
  replace_->setObjectName(QStringLiteral("damageReplace"));
  row->addWidget(replace_);
  connect(replace_, &QPushButton::clicked, this, [this] {
    if (pin_.empty())
      run_.replacePart(str(id_));
    else
      run_.replacePin(str(id_), str(pin_));
  });
  hide();
}

QString DamageCard::text() const { return isVisible() ? text_->text() : QString(); }

// What broke last and is broken still.
DamageCard::Broken DamageCard::latest() const {
  const auto s = run_.isOn() ? run_.shown() : nullptr;
  if (!s || !s->project) return {};
  const auto& events = run_.events();
  for (auto h = events.rbegin(); h != events.rend(); ++h) {
    if (h->what != Event::What::broke) continue;
    for (std::size_t i = 0; i < s->project->parts->size() && i < s->state.broken.size(); ++i)
      if ((*s->project->parts)[i]->id == h->id && s->state.broken[i]) return {h->id, {}, h->figure};
    // A pin goes by "board.pin".
    for (const BoardItem& board : s->project->boards)
      for (const std::string& pin : programPins(*s->project, board.id)) {
        const auto p = static_cast<std::size_t>(programPinIndex(*s->project, board.id, pin));
        if (p < s->state.pins.size() && s->state.pins[p] == PinDrive::burnt &&
            h->id == board.id + "." + pin)
          return {board.id, pin, h->figure};
      }
  }
  return {};
}

QString DamageCard::sentence(const Broken& b) const {
  if (!b.pin.empty()) {
    const BoardItem* board = doc_.project().board(b.id);
    const BoardKind* of = board ? catalogue().boardKind(board->type) : nullptr;
    const bool several = doc_.project().boards.size() > 1;
    return tr("Pin %1 gives nothing any more: it gave %2 mA for too long; %3 is the most.")
        .arg(str(several ? b.id + "." + b.pin : b.pin), wholeMilliamps(b.amps),
             wholeMilliamps(of ? of->pinMostAmps : 0));
  }
  const Part* part = doc_.project().part(b.id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind) return tr("Something broke.");
  const QString name = str(part->name);
  if (kind->stores)
    return tr("%1 failed: it got more volts than it bears, or the wrong way round.").arg(name);
  if (kind->burnsAmps > 0)
    return tr("%1 burnt out: it got %2 mA. Above %3 it does not last.")
        .arg(name, wholeMilliamps(b.amps), wholeMilliamps(kind->burnsAmps));
  return tr("%1 is burnt: %2 mA made it far hotter than it bears.")
      .arg(name, wholeMilliamps(b.amps));
}

void DamageCard::refresh() {
  const Broken b = latest();
  setVisible(b.any());
  if (!b.any()) return;
  id_ = b.id;
  pin_ = b.pin;
  text_->setText(sentence(b));
  replace_->setText(b.pin.empty() ? tr("Replace it") : tr("Put in a new chip"));
  const int wide = std::min(widest, parentWidget()->width() - 2 * margin);
  resize(wide, layout()->heightForWidth(wide));
  // At the upper right, where the mat is free.
  move(parentWidget()->width() - wide - margin, margin);
  raise();
}

void DamageCard::paintEvent(QPaintEvent*) { paintCard(*this, theme().danger); }

}  // namespace ignavo::app
