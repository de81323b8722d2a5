#include <QHBoxLayout>
#include <QLabel>
#include <cmath>

#include "inspector/inspector.h"
#include "inspector/pictures.h"
#include "inspector/what_if_view.h"
#include "theme/text.h"
#include "theme/theme.h"

// What the check predicts for the part that is selected.
namespace ignavo::app {

void Inspector::addReadings(const Part&, const PartKind&) {
  readings_ = new QWidget(page_);
  into_->addWidget(readings_);
  refreshReadings();
}

// What the check predicts for the worst combination.
void Inspector::refreshReadings() {
  if (!readings_) return;
  const Part* part = doc_.project().part(shownId_.toStdString());
  if (!part) return;
  qDeleteAll(readings_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  delete readings_->layout();
  auto* column = new QVBoxLayout(readings_);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(7);
  for (const Finding& f : doc_.check().findings) {
    if (f.parts.empty() || f.parts.front() != part->id || f.meant) continue;
    auto* l = inspectorLabel(str(f.title), readings_, 13, true);
    l->setStyleSheet(QStringLiteral("color: %1; font-weight: 600; font-size: 13px;")
                         .arg(theme().severity(f.severity).name()));
    column->addWidget(l);
    column->addWidget(inspectorLabel(str(f.reason), readings_, 12.5, false, true));
  }
  const PartKind* kind = catalogue().partKind(part->type);
  for (const WorstReading& w : doc_.check().readings) {
    if (w.part != part->id) continue;
    QStringList when;
    for (const auto& [id, how] : w.pose) {
      const Part* other = doc_.project().part(id);
      if (how == "high") when << tr("%1 goes high").arg(str(id));
      if (how == "left" || how == "right")
        when << tr("%1 is at %2").arg(other ? str(other->name) : str(id), str(how));
      if (how == "pressed") when << tr("%1 is held").arg(other ? str(other->name) : str(id));
    }
    column->addWidget(inspectorLabel(
        when.isEmpty() ? tr("While the power is on") : tr("If %1").arg(when.join(tr(" and "))),
        readings_, 13, true));
    const auto value = [&](const QString& name, const QString& v, const QString& more = {}) {
      auto* r = new QWidget(readings_);
      auto* h = new QHBoxLayout(r);
      h->setContentsMargins(0, 0, 0, 0);
      h->addWidget(inspectorLabel(name, r, 13, false, true), 1);
      auto* number = new QLabel(v, r);
      number->setStyleSheet(
          QStringLiteral("font-family: 'JetBrains Mono'; font-size: 13px; font-weight: 600;"));
      number->setAlignment(Qt::AlignRight);
      h->addWidget(number);
      auto* m = inspectorLabel(more, r, 12, false, true);
      m->setFixedWidth(76);
      h->addWidget(m);
      column->addWidget(r);
    };
    value(tr("Current through it"), currentText(w.amps),
          kind->ratedAmps > 0 ? tr("of %1").arg(str(w.limit)) : QString());
    value(tr("Voltage across it"), QString::number(w.volts, 'f', 2) + tr(" V"));
    if (kind->moves == Moves::spin)
      value(tr("Speed"), QString::number(w.revolutionsPerMinute, 'f', 0), tr("turns / min"));
    if (kind->shows == Shows::light && kind->lamps.size() == 1) {
      const double light = lightOf(w.amps);
      value(tr("Brightness"), light > 0.7        ? tr("bright")
                              : light > 0.35     ? tr("medium")
                              : light > litLight ? tr("dim")
                                                 : tr("dark"));
    } else {
      value(tr("Heat"), QString::number(w.watts * 1000, 'f', 0) + tr(" mW"),
            w.limit.empty() || kind->ratedAmps > 0 ? QString() : tr("of %1").arg(str(w.limit)));
    }
    if (!w.limit.empty()) column->addWidget(makeShareBar(w.share, readings_));

    if (w.path.size() < 2) continue;
    std::vector<PathChip> chips;
    for (const PathPoint& point : w.path) {
      const Part* on = doc_.project().part(point.part);
      const PartKind* k = on ? catalogue().partKind(on->type) : nullptr;
      if (k)
        chips.push_back({k->passes ? str(k->shortText(*on)) : str(on->name), {}, false});
      else
        chips.push_back({str(point.name), doc_.identities().ofNet(point.net), true});
    }
    column->addWidget(inspectorLabel(tr("Path of the current"), readings_, 13, true));
    column->addWidget(makePathStrip(std::move(chips), readings_));
  }
  if (doc_.checkIsCurrent()) column->addWidget(new WhatIfView(doc_, part->id, readings_));
}

}  // namespace ignavo::app
