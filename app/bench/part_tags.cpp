#include "bench/part_tags.h"

#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "explain/output.h"
#include "parts/hanging.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

constexpr double calmAbove = 3;  // flashes a second
constexpr double slowMotion = 0.001;

// With two digits: "190 ns", "0.52 ms"; what flickers in the third is of no use.
QString shortTime(Nanoseconds time) {
  struct Unit {
    const char* name;
    double nanoseconds;
  };
  constexpr Unit units[] = {{"s", 1e9}, {"ms", 1e6}, {"µs", 1e3}, {"ns", 1}};
  const Unit* unit = units;
  while (unit->nanoseconds > 1 && static_cast<double>(time) < unit->nanoseconds) ++unit;
  double number = static_cast<double>(time) / unit->nanoseconds;
  if (number >= 100) number = std::round(number / 10) * 10;
  return QString::number(number, 'f', number < 10 ? 1 : 0) + QLatin1Char(' ') +
         QString::fromUtf8(unit->name);
}

}  // namespace

PartTags::PartTags(Document& document, RunControl& run, BenchView* bench)
    : QObject(bench), doc_(document), run_(run), bench_(bench) {
  why_ = new QPushButton(QStringLiteral("?"), bench_);
  why_->setObjectName(QStringLiteral("whyTag"));
  why_->setProperty("tag", true);
  why_->setFont(theme().text(12, QFont::Bold));
  why_->setToolTip(tr("Why is it dark, silent or still, or why is it not? (?)"));
  why_->hide();
  connect(why_, &QPushButton::clicked, this,
          [this] { Q_EMIT whyWanted(doc_.selection().value(0)); });
  connect(&doc_, &Document::selectionChanged, this, &PartTags::showWhy);
}

void PartTags::setCalm(bool calm) {
  calm_ = calm;
  refresh();
}

void PartTags::setShown(bool shown) {
  shown_ = shown;
  refresh();
}

std::optional<double> PartTags::steadyLight(const std::string& part) const {
  const auto it = looks_.find(part);
  if (!calm_ || it == looks_.end()) return std::nullopt;
  const LampLook& look = it->second;
  if (look.looks != Looks::blinking || look.perSecond <= calmAbove) return std::nullopt;
  return look.light;
}

QString PartTags::words(const LampLook& look) const {
  if (look.looks == Looks::tooFast) {
    const QString every = shortTime(look.changesEvery);
    return run_.speed() > slowMotion
               ? tr("changes every %1, looks half lit · slow 1/1000").arg(every)
           : !run_.isPaused() ? tr("changes every %1, looks half lit · look closer").arg(every)
                              : tr("changes every %1, looks half lit").arg(every);
  }
  if (calm_ && look.looks == Looks::blinking && look.perSecond > calmAbove)
    return tr("%1 × / s").arg(look.perSecond, 0, 'g', 2);
  return {};
}

QPushButton* PartTags::tagOf(const std::string& part) {
  QPushButton*& tag = tags_[part];
  if (tag) return tag;
  tag = new QPushButton(bench_);
  tag->setObjectName(QStringLiteral("partTag-") + str(part));
  tag->setProperty("tag", true);
  tag->setFont(theme().text(11));
  connect(tag, &QPushButton::clicked, this, [this, part] {
    const auto it = looks_.find(part);
    if (it == looks_.end())
      Q_EMIT hearWanted(muted_);  // a sounder
    else if (it->second.looks == Looks::tooFast && run_.speed() > slowMotion)
      run_.setSpeed(slowMotion);
    else if (it->second.looks == Looks::tooFast && !run_.isPaused())
      Q_EMIT closerLookWanted(it->second.changesEvery);
  });
  return tag;
}

void PartTags::setHearing(bool available, bool muted) {
  hears_ = available;
  muted_ = muted;
  refresh();
}

void PartTags::refresh() {
  looks_.clear();
  const auto shown = run_.isOn() ? run_.shown() : nullptr;
  const auto trace = shown ? run_.trace() : nullptr;
  std::map<std::string, QString> said;
  if (trace && shown_) {
    const auto& parts = *shown->project->parts;
    for (std::size_t i = 0; i < parts.size(); ++i) {
      const PartKind* kind = catalogue().partKind(parts[i]->type);
      if (!kind || !doc_.project().part(parts[i]->id)) continue;
      if (kind->shows == Shows::light && kind->lamps.size() == 1) {
        const int signal = trace->find(Signal::What::partAmps, parts[i]->id, {});
        if (signal < 0) continue;
        looks_[parts[i]->id] = lampLook(*trace, signal, shown->now);
        said[parts[i]->id] = words(looks_[parts[i]->id]);
      } else if (hears_ && i < shown->motion.size() && kind->shows == Shows::sound &&
                 shown->motion[i].hertz > 0) {
        const QString hertz = QString::number(shown->motion[i].hertz, 'f', 0);
        said[parts[i]->id] = muted_ ? tr("sounds at %1 Hz · hear it").arg(hertz)
                                    : tr("sounds at %1 Hz · mute").arg(hertz);
      }
    }
  }
  if (trace && shown_) lookAtBoardLamps(*shown, *trace, said);
  showWhy();
  for (auto& [part, tag] : tags_)
    if (said.count(part) == 0 || said[part].isEmpty()) tag->hide();
  for (const auto& [part, words] : said)
    if (!words.isEmpty()) show(part, words);
}

// A board's own lamp, where nothing on its pin says the same.
void PartTags::lookAtBoardLamps(const Snapshot& shown, const Trace& trace,
                                std::map<std::string, QString>& said) {
  for (const BoardItem& board : doc_.project().boards) {
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (!kind || kind->lampPin.empty() ||
        !hangingOn(doc_.project(), doc_.nets(), board.id, kind->lampPin).empty())
      continue;
    const int signal = trace.find(Signal::What::pinLevel, board.id, kind->lampPin);
    if (signal < 0) continue;
    looks_[board.id] = lampLook(trace, signal, shown.now);
    said[board.id] = words(looks_[board.id]);
  }
}

// Above what is selected alone, while there is a run to ask about.
void PartTags::showWhy() {
  const QStringList selected = doc_.selection();
  const std::string id = selected.value(0).toStdString();
  const auto output = outputNamed(doc_.project(), id);
  const bool asks = shown_ && run_.isOn() && selected.size() == 1 && output;
  why_->setVisible(asks);
  if (!asks) return;
  why_->setAccessibleName(tr("Why is %1 so?").arg(str(nameOf(doc_.project(), *output))));
  why_->adjustSize();
  const QRectF body = bench_->screenOfOutput(id);
  why_->move(std::clamp(static_cast<int>(body.right()) - 8, 4,
                        std::max(4, bench_->width() - why_->width() - 4)),
             std::clamp(static_cast<int>(body.top()) - why_->height() + 2, 4,
                        std::max(4, bench_->height() - why_->height() - 4)));
  why_->raise();
}

// Beside the part; where there is no room, below it; within the bench.
void PartTags::show(const std::string& part, const QString& said) {
  QPushButton* tag = tagOf(part);
  const auto named = outputNamed(doc_.project(), part);
  tag->setAccessibleName(named ? str(nameOf(doc_.project(), *named)) + QStringLiteral(": ") + said
                               : said);
  tag->setText(said);
  tag->adjustSize();
  const QRectF body = bench_->screenOfOutput(part);
  int x = static_cast<int>(body.right()) + 6;
  int y = static_cast<int>(body.center().y()) - tag->height() / 2;
  if (x + tag->width() > bench_->width() - 4) {
    x = static_cast<int>(body.center().x()) - tag->width() / 2;
    y = static_cast<int>(body.bottom()) + 6;
  }
  tag->move(std::clamp(x, 4, std::max(4, bench_->width() - tag->width() - 4)),
            std::clamp(y, 4, std::max(4, bench_->height() - tag->height() - 4)));
  tag->show();
  tag->raise();
}

}  // namespace ignavo::app
