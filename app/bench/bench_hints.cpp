#include <QAccessible>
#include <algorithm>

#include "bench/bench_view.h"
#include "bench/wiring.h"
#include "theme/text.h"

// One sentence at a time: the next useful thing, or what is in the way.
namespace ignavo::app {

void BenchView::setHint(const QString& hint) {
  if (hint == hint_) return;
  hint_ = hint;
  setAccessibleDescription(hint_);
  QAccessibleEvent said(this, QAccessible::DescriptionChanged);
  QAccessible::updateAccessibility(&said);
  Q_EMIT hintChanged(hint_);
}

QString BenchView::obstacleText(const Obstacle& o, const std::string& type) const {
  return str(sentence(o, doc_.project(), catalogue(), type));
}

// One sentence: the next useful thing for what is under the pointer or selected.
void BenchView::refreshHover() {
  if (mode_ == Mode::placing) {
    const PartKind* kind = catalogue().partKind(inHandType_);
    const BreadboardKind* table = breadboardKind(inHandType_);
    setHint(QStringLiteral("Click where %1 should go. R turns it, Esc puts it back.")
                .arg(kind    ? str(kind->label)
                     : table ? str(table->name)
                             : QStringLiteral("the board")));
    return;
  }
  if (mode_ == Mode::wiring) {
    setHint(wireFrom_ ? QStringLiteral("Click or let go at the hole where the wire should end. "
                                       "With Shift another one follows. Esc puts it back.")
                      : QStringLiteral("Click the hole, pin or leg where the wire should begin."));
    return;
  }
  if (mode_ == Mode::idle) hover_ = hitAt(mouse_);
  if (cursorShown_) return;
  switch (hover_.what) {
    case Hit::What::socket:
      setHint(doc_.project().board(hover_.socket.owner)
                  ? QStringLiteral("Drag from this pin to a hole to lay a wire.")
                  : QStringLiteral("Drag from this hole to another to lay a wire."));
      break;
    case Hit::What::leg: {
      const Part* part = doc_.project().part(hover_.id);
      const Footprint* print = part ? catalogue().part(part->type) : nullptr;
      const Leg* leg = part ? part->leg(hover_.leg) : nullptr;
      const bool goes = print && (print->leads || (print->stretches && leg && leg->in));
      setHint(goes ? QStringLiteral("Drag the leg to another hole.")
              : leg && !leg->in
                  ? QStringLiteral("Drag from this leg to a hole to clip a wire to it.")
                  : QStringLiteral("Drag to move it. W lays a wire from this leg."));
      break;
    }
    case Hit::What::wireEnd:
      setHint(QStringLiteral("Drag this end of the wire to another hole."));
      break;
    case Hit::What::cap: {
      const Part* part = doc_.project().part(hover_.id);
      const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
      QStringList keys;
      for (const KeyTie& tie : doc_.project().keys)
        if (tie.part == hover_.id) keys << str(tie.key);
      setHint(kind && kind->pressable && !keys.isEmpty()
                  ? QStringLiteral("Press and hold, or at the Run station with the key %1.")
                        .arg(keys.join(QStringLiteral(", ")))
              : kind && kind->pressable
                  ? QStringLiteral(
                        "Press and hold. With Shift, or at the lock, it stays held until you "
                        "click again.")
                  : QStringLiteral("Click to slide it to the other side."));
      break;
    }
    case Hit::What::knob:
      if (const Part* part = doc_.project().part(hover_.id))
        if (const PartKind* kind = catalogue().partKind(part->type))
          setHint(str(kind->knobWords.drag));
      break;
    case Hit::What::latch:
      setHint(QStringLiteral("Click to keep the button held, or to let it go."));
      break;
    case Hit::What::mark:
      setHint(QStringLiteral("Click to read what was found here."));
      break;
    case Hit::What::wire:
      setHint(QStringLiteral("Double-click to bend the wire, Y tidies it, Del removes it."));
      break;
    case Hit::What::bend:
      setHint(QStringLiteral("Drag the bend. A double-click takes it out."));
      break;
    case Hit::What::part: {
      const Part* part = doc_.project().part(hover_.id);
      const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
      if (kind && kind->pressable && !run_.isOn())
        setHint(QStringLiteral("Power is off. P switches it on; then press the cap."));
      else if (part && part->locked)
        setHint(QStringLiteral("It is locked. L unlocks it."));
      else if (kind && kind->print.polarised)
        setHint(QStringLiteral("Drag to move it. F turns it round, Del removes it."));
      else
        setHint(QStringLiteral("Drag to move it, Del removes it."));
      break;
    }
    case Hit::What::pinName: {
      const QString pin = str(hover_.socket.point);
      setHint(heldText(hover_.socket.owner, hover_.socket.point).isEmpty()
                  ? QStringLiteral("Drag up or down: %1 is in your hand. A click shows it larger.")
                        .arg(pin)
                  : QStringLiteral("%1 is held by hand. A click shows it larger, and lets it go.")
                        .arg(pin));
      break;
    }
    case Hit::What::board:
      setHint(QStringLiteral("Drag from a pin to a hole to lay a wire."));
      break;
    case Hit::What::breadboard:
      setHint(QStringLiteral("Drag the breadboard by its edge to move it with all that is on it."));
      break;
    case Hit::What::none:
      if (!doc_.selection().isEmpty())
        setHint(QStringLiteral("Arrow keys move it, F turns it round, Del removes it."));
      else if (doc_.project().parts->empty())
        setHint(QStringLiteral(
            "Take a part from the cabinet, or type a step for the board’s own lamp."));
      else if (!run_.isOn())
        setHint(QStringLiteral("P switches the power on."));
      else if (const auto pin = doc_.hasSteps() ? std::nullopt : firstUsedPin())
        setHint(QStringLiteral("No program yet: drag the name %1 on the board up, and its level is "
                               "in your hand.")
                    .arg(str(pin->point)));
      else
        setHint(QStringLiteral("T resets the board, Ctrl+Space pauses, P switches the power off."));
  }
}

}  // namespace ignavo::app
