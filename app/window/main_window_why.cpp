#include "explain/output.h"
#include "parts/hanging.h"
#include "program/facts.h"
#include "theme/text.h"
#include "window/main_window.h"

// "Why is this dark?", asked from everywhere, and where its answers lead; and guesses before power.
namespace ignavo::app {

namespace {

QRect inWindow(const QWidget* window, const QWidget* from, QRectF box) {
  const QRect r = box.toAlignedRect();
  return {from->mapTo(window, r.topLeft()), r.size()};
}

}  // namespace

MainWindow::Cards MainWindow::makeCards() {
  const Cards cards{new HandCard(doc_, run_, this), new WhyCard(doc_, run_, this)};
  connectWhy(cards.why);
  return cards;
}

void MainWindow::connectWhy(WhyCard* why) {
  connect(why, &WhyCard::stepWanted, this, [this](const QString& step) {
    if (station_ != Station::run) setStation(Station::program);
    doc_.selectStep(step);
  });
  connect(why, &WhyCard::momentWanted, this, &MainWindow::showMoment);
  connect(why, &WhyCard::placesWanted, this,
          [this](const std::vector<std::string>& parts, const std::vector<Socket>& sockets) {
            QStringList there;
            for (const std::string& id : parts)
              if (doc_.project().part(id)) there << str(id);
            if (!there.isEmpty()) doc_.select(there);
            bench_->pulse(parts, sockets);
          });
  connect(why, &WhyCard::powerWanted, this, &MainWindow::togglePower);
}

void MainWindow::askWhy(const QString& part) {
  const std::string id = part.toStdString();
  if (!outputNamed(doc_.project(), id)) return;
  cards_->why->open(id, inWindow(this, bench_, bench_->screenOfOutput(id)),
                    inWindow(this, bench_, bench_->rect()));
}

// A step sets a pin: of what hangs on it; of what shows nothing, of the pin itself.
void MainWindow::askWhyOfPin(const QString& board, const QString& pin, QRect global) {
  for (const HangingPart& on :
       hangingOn(doc_.project(), doc_.nets(), board.toStdString(), pin.toStdString())) {
    const auto& part = (*doc_.project().parts)[static_cast<std::size_t>(on.part)];
    const PartKind* kind = catalogue().partKind(part->type);
    if (kind && kind->shows != Shows::nothing) return askWhy(str(part->id));
  }
  const BoardItem* item = doc_.project().board(board.toStdString());
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  if (kind && kind->lampPin == pin.toStdString()) return askWhy(board);
  cards_->why->openPin(board.toStdString(), pin.toStdString(),
                       {mapFromGlobal(global.topLeft()), global.size()});
}

void MainWindow::showMoment(Nanoseconds at) {
  if (!run_.isOn()) return;
  running_->trace->bringIntoSight(at);
  run_.lookAt(at);
}

}  // namespace ignavo::app
