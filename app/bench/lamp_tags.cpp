#include "bench/lamp_tags.h"

#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
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

LampTags::LampTags(Document& document, RunControl& run, BenchView* bench)
    : QObject(bench), doc_(document), run_(run), bench_(bench) {}

void LampTags::setCalm(bool calm) {
  calm_ = calm;
  refresh();
}

void LampTags::setShown(bool shown) {
  shown_ = shown;
  refresh();
}

std::optional<double> LampTags::steadyLight(const std::string& part) const {
  const auto it = looks_.find(part);
  if (!calm_ || it == looks_.end()) return std::nullopt;
  const LampLook& look = it->second;
  if (look.looks != Looks::blinking || look.perSecond <= calmAbove) return std::nullopt;
  return look.light;
}

QString LampTags::words(const LampLook& look) const {
  if (look.looks == Looks::tooFast) {
    const QString every = shortTime(look.changesEvery);
    return run_.speed() > slowMotion
               ? tr("changes every %1, looks half lit · slow 1/1000").arg(every)
               : tr("changes every %1, looks half lit").arg(every);
  }
  if (calm_ && look.looks == Looks::blinking && look.perSecond > calmAbove)
    return tr("%1 × / s").arg(look.perSecond, 0, 'g', 2);
  return {};
}

QPushButton* LampTags::tagOf(const std::string& part) {
  QPushButton*& tag = tags_[part];
  if (tag) return tag;
  tag = new QPushButton(bench_);
  tag->setObjectName(QStringLiteral("lampTag-") + str(part));
  tag->setProperty("tag", true);
  tag->setFont(theme().text(11));
  connect(tag, &QPushButton::clicked, this, [this, part] {
    const auto it = looks_.find(part);
    if (it != looks_.end() && it->second.looks == Looks::tooFast) run_.setSpeed(slowMotion);
  });
  return tag;
}

void LampTags::refresh() {
  looks_.clear();
  const auto shown = run_.isOn() ? run_.shown() : nullptr;
  const auto trace = shown ? run_.trace() : nullptr;
  if (trace)
    for (const auto& part : *doc_.project().parts) {
      const PartKind* kind = catalogue().partKind(part->type);
      if (!kind || kind->shows != Shows::light || kind->lamps.size() != 1) continue;
      const int signal = trace->find(Signal::What::partAmps, part->id, {});
      if (signal >= 0) looks_[part->id] = lampLook(*trace, signal, shown->now);
    }
  for (auto& [part, tag] : tags_)
    if (looks_.count(part) == 0) tag->hide();
  for (const auto& [part, look] : looks_) {
    const QString said = shown_ ? words(look) : QString();
    if (said.isEmpty()) {
      if (const auto it = tags_.find(part); it != tags_.end()) it->second->hide();
      continue;
    }
    QPushButton* tag = tagOf(part);
    const Part* lamp = doc_.project().part(part);
    tag->setAccessibleName(lamp ? str(lamp->name) + QStringLiteral(": ") + said : said);
    tag->setText(said);
    tag->adjustSize();
    // Beside the lamp; where there is no room, below it.
    const QRectF body = bench_->screenOfPart(part);
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
}

}  // namespace ignavo::app
