#include "inspector/what_if_view.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "inspector/inspector.h"
#include "project/edits.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/wheel.h"
#include "theme/wrapping.h"

namespace ignavo::app {

namespace {
constexpr int plotHeight = 128, voltSteps = 105, curvePoints = 61;
constexpr double shownLimits = 2.5;  // the plot ends at so many times the limit
}  // namespace

WhatIfView::WhatIfView(Document& document, const std::string& part, QWidget* parent)
    : QWidget(parent), doc_(document), part_(part) {
  setObjectName(QStringLiteral("whatIf"));
  all_ = whatIfs(doc_.project(), doc_.check(), part);
  if (all_.empty()) {
    hide();
    return;
  }
  const Theme& t = theme();
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(5);
  auto* head = new Wrapping(4, this);
  inspectorLabel(tr("What if"), head, 13, true)->setContentsMargins(0, 4, 4, 0);
  auto* group = new QButtonGroup(this);
  for (std::size_t i = 0; i < all_.size(); ++i) {
    auto* b = new QToolButton(head);
    b->setObjectName(QStringLiteral("whatIf%1").arg(i));
    const Part* of = doc_.project().part(all_[i].part);
    const PartKind* kind = of ? catalogue().partKind(of->type) : nullptr;
    b->setText(kind ? (kind->passes ? str(kind->shortText(*of)) : literal(str(of->name)))
                    : tr("5 V supply"));
    b->setCheckable(true);
    b->setChecked(i == 0);
    b->setProperty("segment", true);
    group->addButton(b, static_cast<int>(i));
  }
  column->addWidget(head);
  connect(group, &QButtonGroup::idClicked, this, &WhatIfView::choose);

  auto* row = new QHBoxLayout;
  slider_ = new QSlider(Qt::Horizontal, this);
  slider_->setObjectName(QStringLiteral("whatIfSlider"));
  slider_->setAccessibleName(tr("What if the value were another one"));
  new WheelPasses(slider_);
  row->addWidget(slider_, 1);
  value_ = new QLabel(this);
  value_->setObjectName(QStringLiteral("whatIfValue"));
  value_->setFont(t.mono(13, QFont::Bold));
  value_->setMinimumWidth(70);
  value_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  row->addWidget(value_);
  column->addLayout(row);
  result_ = inspectorLabel({}, this, 12.5);
  result_->setObjectName(QStringLiteral("whatIfResult"));
  result_->setWordWrap(true);
  column->addWidget(result_);
  plot_ = new CurvePlot(this);
  plot_->setObjectName(QStringLiteral("whatIfPlot"));
  plot_->setFixedHeight(plotHeight);
  column->addWidget(plot_);
  keep_ = new QPushButton(this);
  keep_->setObjectName(QStringLiteral("whatIfKeep"));
  column->addWidget(keep_, 0, Qt::AlignLeft);
  connect(slider_, &QSlider::valueChanged, this, &WhatIfView::turned);
  connect(keep_, &QPushButton::clicked, this, &WhatIfView::keep);
  choose(0);
}

double WhatIfView::valueAt(int step) const {
  const WhatIf& w = prediction_->what();
  if (!w.series.empty())
    return w.series[static_cast<std::size_t>(
        std::clamp(step, 0, static_cast<int>(w.series.size()) - 1))];
  return w.min + (w.max - w.min) * step / voltSteps;
}

int WhatIfView::stepOf(double value) const {
  const WhatIf& w = prediction_->what();
  if (w.series.empty())
    return static_cast<int>(std::lround((value - w.min) / (w.max - w.min) * voltSteps));
  int best = 0;
  for (int i = 0; i < static_cast<int>(w.series.size()); ++i)
    if (std::abs(std::log(w.series[static_cast<std::size_t>(i)] / value)) <
        std::abs(std::log(w.series[static_cast<std::size_t>(best)] / value)))
      best = i;
  return best;
}

QString WhatIfView::valueText(double value) const {
  return prediction_->what().unit == "Ω" ? str(ohmsText(value))
                                         : QStringLiteral("%1 V").arg(value, 0, 'f', 1);
}

void WhatIfView::choose(int which) {
  prediction_ = std::make_unique<Prediction>(doc_.project(), doc_.check(), part_,
                                             all_[static_cast<std::size_t>(which)]);
  const WhatIf& w = prediction_->what();
  const QSignalBlocker quiet(slider_);
  slider_->setRange(0, w.series.empty() ? voltSteps : static_cast<int>(w.series.size()) - 1);
  slider_->setPageStep(w.series.empty() ? 10 : 6);
  slider_->setValue(stepOf(w.now));
  plotCurve();
  turned();
}

void WhatIfView::plotCurve() {
  const WhatIf& w = prediction_->what();
  CurvePlot::Curve c;
  c.from = w.min;
  c.to = w.max;
  c.logarithmic = w.logarithmic;
  c.unit = tr("mA");
  double most = 0;
  for (int i = 0; i < curvePoints; ++i) {
    const double share = static_cast<double>(i) / (curvePoints - 1);
    const double at =
        w.logarithmic ? w.min * std::pow(w.max / w.min, share) : w.min + (w.max - w.min) * share;
    const Predicted p = prediction_->at(at);
    if (!p.solved) continue;
    c.points << QPointF(at, p.amps * 1000);
    most = std::max(most, p.amps * 1000);
  }
  c.limit = prediction_->limitAmps() * 1000;
  if (c.limit > 0) {
    most = std::clamp(most, c.limit * 1.2, c.limit * shownLimits);
    c.limitWords = tr("made for %1 mA").arg(c.limit, 0, 'g', 3);
  }
  c.most = most > 0 ? most * 1.08 : 1;  // nothing flows: up to one milliampere
  // Numbers with few digits.
  constexpr double little = 0.5, micro = 1000;
  inUnits_ = most > 0 && most < little ? micro : 1;
  if (inUnits_ == micro) {
    c.unit = tr("µA");
    c.most *= micro;
    for (QPointF& point : c.points) point.ry() *= micro;
  }
  if (w.logarithmic) {
    // A label for each decade, as people say it.
    for (double d = 0.1; d <= w.max * 1.01; d *= 10)
      if (d >= w.min * 0.99) c.marks.emplace_back(d, str(ohmsText(d)));
  } else {
    for (const double v : {3.0, 5.0, 9.0, 12.0})
      c.marks.emplace_back(v, QStringLiteral("%1 V").arg(v));
  }
  plot_->setCurve(std::move(c));
  plot_->setNow({w.now, prediction_->at(w.now).amps * 1000 * inUnits_});
}

QString WhatIfView::resultText(const Predicted& p) const {
  if (!p.solved) return tr("This cannot be worked out.");
  QStringList words{currentText(p.amps)};
  const Part* part = doc_.project().part(part_);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (kind && kind->shows == Shows::light)
    words << (p.light > 0.7        ? tr("bright")
              : p.light > 0.35     ? tr("medium")
              : p.light > litLight ? tr("dim")
                                   : tr("dark"));
  if (p.share > 0)
    words << (prediction_->limitAmps() > 0
                  ? tr("%1 % of %2 mA")
                        .arg(p.share * 100, 0, 'f', 0)
                        .arg(prediction_->limitAmps() * 1000, 0, 'g', 3)
                  : tr("%1 % of its rating").arg(p.share * 100, 0, 'f', 0));
  if (kind && kind->burnsAmps > 0 && p.amps > kind->burnsAmps) words << tr("it burns out");
  if (p.restShare > 1) words << tr("and the resistor gets too hot");
  return words.join(QStringLiteral(" · "));
}

void WhatIfView::turned() {
  const WhatIf& w = prediction_->what();
  const bool same = slider_->value() == stepOf(w.now);
  const double value = same ? w.now : valueAt(slider_->value());
  const Predicted p = prediction_->at(value);
  value_->setText(valueText(value));
  result_->setText(resultText(p));
  const bool over = p.share > 1 || p.restShare > 1;
  result_->setStyleSheet(QStringLiteral("font-size: 12.5px; color: %1;")
                             .arg((over ? theme().danger : theme().ink).name()));
  plot_->setTried({value, p.amps * 1000 * inUnits_});
  keep_->setVisible(!w.part.empty());
  keep_->setEnabled(!same);
  keep_->setText(same ? tr("It is %1 now").arg(valueText(w.now))
                      : tr("Take %1").arg(valueText(value)));
}

// Night and day have other colours.
void WhatIfView::changeEvent(QEvent* e) {
  QWidget::changeEvent(e);
  if (e->type() != QEvent::PaletteChange || !prediction_) return;
  plotCurve();
  turned();
}

void WhatIfView::keep() {
  const WhatIf w = prediction_->what();
  const double value = valueAt(slider_->value());
  const Part* part = doc_.project().part(w.part);
  if (!part) return;
  doc_.edit(tr("change %1 to %2").arg(str(part->name), valueText(value)),
            edits::changePart(doc_.project(), w.part, [&](Part& q) { q.setProp(w.prop, value); }));
}

}  // namespace ignavo::app
