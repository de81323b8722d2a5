#include <QScrollArea>

#include "check/evidence.h"
#include "theme/text.h"
#include "window/main_window.h"

// The Check station in its window: findings and readings, and what shows them on the bench.
namespace ignavo::app {

MainWindow::CheckPanes MainWindow::makeChecking() {
  auto* findings = new FindingsPane(doc_);
  auto* readings = new ReadingsPane(doc_);
  auto* scroll = new QScrollArea;
  scroll->setWidget(readings);
  scroll->setWidgetResizable(true);
  right_->addWidget(findings);
  below_->addWidget(scroll);
  explain(findings, tr("Findings"),
          tr("What the check found, each with its reason and its remedy."));
  explain(readings, tr("Readings"),
          tr("The worst volts, milliamps and heat of each part and pin."));
  const CheckPanes panes{findings, readings, scroll};
  connectChecking(panes);
  return panes;
}

void MainWindow::connectChecking(const CheckPanes& panes) {
  connect(panes.findings, &FindingsPane::hovered, this, [this](int index) {
    const bool there = index >= 0 && index < static_cast<int>(doc_.check().findings.size());
    const Finding* f = there ? &doc_.check().findings[static_cast<std::size_t>(index)] : nullptr;
    bench_->showPose(f ? &f->pose : nullptr);
    if (!f) return;
    bench_->pulse(f->parts, f->sockets);
    const std::vector<Evidence> all = evidenceOf(doc_.project(), *f);
    if (!all.empty()) bench_->callOut(str(all[0].words), all[0].part, all[0].socket);
    bench_->say(tr("A click on the finding goes through its places, one after another."));
  });
  connect(panes.readings, &ReadingsPane::pointed, this, [this](int index) {
    const auto& all = doc_.check().readings;
    const bool there = index >= 0 && index < static_cast<int>(all.size());
    const WorstReading* r = there ? &all[static_cast<std::size_t>(index)] : nullptr;
    bench_->showPose(r ? &r->pose : nullptr);
    if (r && !r->part.empty()) bench_->pulse({r->part}, {});
  });
  connect(panes.readings, &ReadingsPane::chosen, this, [this](int index) {
    const auto& all = doc_.check().readings;
    if (index < 0 || index >= static_cast<int>(all.size())) return;
    const WorstReading& r = all[static_cast<std::size_t>(index)];
    if (!r.part.empty()) doc_.select({str(r.part)});
  });
  connect(panes.findings, &FindingsPane::emptied, bench_, qOverload<>(&QWidget::setFocus));
  connect(panes.findings, &FindingsPane::stepWanted, this, [this](const QString& step) {
    setStation(Station::program);
    doc_.selectStep(step);
  });
  connect(panes.findings, &FindingsPane::chosen, this, [this](int index) {
    if (index < 0 || index >= static_cast<int>(doc_.check().findings.size())) return;
    showEvidence(doc_.check().findings[static_cast<std::size_t>(index)]);
  });
  connect(panes.findings, &FindingsPane::previewWanted, this, [this](int index, int remedy) {
    const auto& all = doc_.check().findings;
    const bool there =
        remedy >= 0 && index >= 0 && index < static_cast<int>(all.size()) &&
        remedy < static_cast<int>(all[static_cast<std::size_t>(index)].remedies.size());
    bench_->preview(
        there
            ? &all[static_cast<std::size_t>(index)].remedies[static_cast<std::size_t>(remedy)].after
            : nullptr);
  });
  connect(panes.findings, &FindingsPane::whyWanted, this, &MainWindow::askWhy);
}

// Each click on a finding goes on to the next thing that shows it.
void MainWindow::showEvidence(const Finding& f) {
  const std::vector<Evidence> all = evidenceOf(doc_.project(), f);
  if (all.empty()) return;
  const QString which = str(f.rule) + str(f.title);
  evidenceAt_ = which == evidenceOf_ ? (evidenceAt_ + 1) % static_cast<int>(all.size()) : 0;
  evidenceOf_ = which;
  const Evidence& e = all[static_cast<std::size_t>(evidenceAt_)];
  bench_->showPose(&f.pose);
  bench_->callOut(str(e.words), e.part, e.socket);
  if (!e.part.empty()) doc_.select({str(e.part)});
  if (!e.step.empty()) doc_.selectStep(str(e.step));
  bench_->pulse(e.part.empty() ? std::vector<std::string>() : std::vector<std::string>{e.part},
                e.socket ? std::vector<Socket>{*e.socket} : std::vector<Socket>());
  bench_->say(tr("%1 of %2 · %3").arg(evidenceAt_ + 1).arg(all.size()).arg(str(e.words)));
}

}  // namespace ignavo::app
