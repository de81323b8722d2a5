#include "run/guess_bar.h"

#include <QKeyEvent>
#include <algorithm>

#include "explain/guess.h"
#include "explain/output.h"
#include "project/edits.h"
#include "theme/bar_parts.h"
#include "theme/named_button.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
constexpr std::array choices = {std::pair{"dark", QT_TRANSLATE_NOOP("GuessBar", "dark")},
                                std::pair{"lit", QT_TRANSLATE_NOOP("GuessBar", "lit")},
                                std::pair{"blinking", QT_TRANSLATE_NOOP("GuessBar", "blinking")},
                                std::pair{"unsure", QT_TRANSLATE_NOOP("GuessBar", "not sure")}};
}  // namespace

GuessBar::GuessBar(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  QHBoxLayout* row = barRow(this, "guessBar", {20, 4, 16, 4}, 8);
  setAccessibleName(tr("Guess first"));
  before_ = namedButton(this, row, "guessBefore", QStringLiteral("‹"));
  before_->setAccessibleName(tr("The lamp before"));
  next_ = namedButton(this, row, "guessNext", QStringLiteral("›"));
  next_->setAccessibleName(tr("The next lamp"));
  for (QPushButton* arrow : {before_, next_}) arrow->setFixedWidth(30);
  words_ = barWords(this, "guessWords");
  row->addWidget(words_);
  for (const auto& [looks, words] : choices) {
    auto* choice = namedButton(this, row, (std::string("guess-") + looks).c_str(), tr(words));
    choice->setCheckable(true);
    connect(choice, &QPushButton::clicked, this, [this, looks = looks] { guess(looks); });
    choices_.push_back(choice);
  }
  show_ = namedButton(this, row, "guessShow", tr("Show"));
  show_->setToolTip(tr("Look back at that moment"));
  power_ = namedButton(this, row, "guessPower", tr("Power on"));
  row->addStretch(1);
  close_ = namedButton(this, row, "guessClose", QStringLiteral("×"));
  close_->setProperty("close", true);
  close_->setAccessibleName(tr("No more guessing"));
  close_->setToolTip(tr("Close; what was guessed is kept (Escape)"));
  close_->setFixedWidth(30);
  connect(before_, &QPushButton::clicked, this, [this] { go(-1); });
  connect(next_, &QPushButton::clicked, this, [this] { go(1); });
  connect(show_, &QPushButton::clicked, this, [this] { Q_EMIT momentWanted(showAt_); });
  connect(power_, &QPushButton::clicked, this, &GuessBar::powerWanted);
  connect(close_, &QPushButton::clicked, this, [this] { setWanted(false); });
  connect(&doc_, &Document::changed, this, &GuessBar::refresh);
  connect(&run_, &RunControl::updated, this, &GuessBar::refresh);
  connect(&run_, &RunControl::stateChanged, this, &GuessBar::refresh);
  refresh();
}

// However long a lamp's name is, what stands beside it has room.
void GuessBar::tell(const QString& words) {
  int others = 60;
  for (const QPushButton* button : findChildren<QPushButton*>())
    if (!button->isHidden()) others += button->sizeHint().width() + 8;
  words_->setText(
      words_->fontMetrics().elidedText(words, Qt::ElideRight, std::max(120, width() - others)));
  words_->setToolTip(words);
  words_->setAccessibleName(words);
}

void GuessBar::resizeEvent(QResizeEvent* e) {
  QWidget::resizeEvent(e);
  if (wanted_) refresh();
}

void GuessBar::setWanted(bool wanted) {
  if (wanted == wanted_) return;
  wanted_ = wanted;
  lamp_.clear();
  refresh();
  Q_EMIT wantedChanged(wanted);
}

QString GuessBar::nameOf(const std::string& lamp) const {
  const auto output = outputNamed(doc_.project(), lamp);
  return output ? str(ignavo::nameOf(doc_.project(), *output)) : QString();
}

const Guess* GuessBar::guessOf(const std::string& part) const {
  for (const Guess& guess : doc_.project().guesses)
    if (guess.part == part) return &guess;
  return nullptr;
}

void GuessBar::guess(const char* looks) {
  if (!outputNamed(doc_.project(), lamp_)) return;
  const std::string lamp = lamp_;
  // On to the next that nothing is guessed of.
  const std::vector<std::string> all = lampsOf(doc_.project());
  const auto here = std::find(all.begin(), all.end(), lamp);
  for (std::size_t k = 1; k < all.size() && here != all.end(); ++k) {
    const auto at = (static_cast<std::size_t>(here - all.begin()) + k) % all.size();
    if (guessOf(all[at])) continue;
    lamp_ = all[at];
    break;
  }
  doc_.edit(tr("guess what %1 does").arg(nameOf(lamp)), edits::guess(doc_.project(), lamp, looks));
  refresh();
}

void GuessBar::go(int by) {
  const std::vector<std::string> all = lampsOf(doc_.project());
  if (all.empty()) return;
  const auto here = std::find(all.begin(), all.end(), lamp_);
  const int at = here == all.end() ? 0 : static_cast<int>(here - all.begin());
  const int count = static_cast<int>(all.size());
  lamp_ = all[static_cast<std::size_t>((at + by + count) % count)];
  refresh();
}

void GuessBar::refresh() {
  setVisible(wanted_);
  if (!wanted_) return;
  const std::vector<std::string> all = lampsOf(doc_.project());
  if (std::find(all.begin(), all.end(), lamp_) == all.end())
    lamp_ = all.empty() ? std::string() : all.front();
  for (QPushButton* arrow : {before_, next_}) arrow->setVisible(all.size() > 1);
  show_->hide();
  if (all.empty()) {
    tell(tr("There is no lamp on the bench to guess about."));
    for (QPushButton* choice : choices_) choice->hide();
    return power_->hide();
  }
  run_.isOn() ? tellOutcome() : askNext();
}

void GuessBar::askNext() {
  const Guess* guessed = guessOf(lamp_);
  for (std::size_t k = 0; k < choices_.size(); ++k) {
    choices_[k]->show();
    choices_[k]->setChecked(guessed && guessed->looks == choices[k].first);
    choices_[k]->setAccessibleName(tr("%1 will be %2").arg(nameOf(lamp_), choices_[k]->text()));
  }
  const std::vector<std::string> all = lampsOf(doc_.project());
  power_->setVisible(std::all_of(
      all.begin(), all.end(), [&](const std::string& lamp) { return guessOf(lamp) != nullptr; }));
  tell(tr("What will %1 do?").arg(nameOf(lamp_)));
}

void GuessBar::tellOutcome() {
  for (QPushButton* choice : choices_) choice->hide();
  power_->hide();
  const Guess* guessed = guessOf(lamp_);
  const auto trace = run_.trace();
  const auto output = outputNamed(doc_.project(), lamp_);
  const QString name = nameOf(lamp_);
  if (!guessed) return tell(tr("Nothing was guessed of %1.").arg(name));
  if (!trace || !output) return;
  const int signal = lampSignal(*trace, doc_.project(), *output);
  const GuessOutcome outcome = guessOutcome(guessed->looks, name.toStdString(), *trace, signal);
  tell(outcome.known ? str(outcome.words) : tr("%1: let us see …").arg(name));
  showAt_ = outcome.differs;
  show_->setVisible(outcome.known && outcome.differs >= 0);
}

void GuessBar::keyPressEvent(QKeyEvent* e) {
  if (e->key() != Qt::Key_Escape) return QWidget::keyPressEvent(e);
  setWanted(false);
}

}  // namespace ignavo::app
