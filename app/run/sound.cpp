#include "run/sound.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace ignavo::app {

Sound::Sound(Document& document, RunControl& run, QObject* parent)
    : QObject(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("sound"));
  connect(&run_, &RunControl::updated, this, &Sound::play);
  connect(&doc_, &Document::changed, this, &Sound::look);
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (run_.isOn() && !run_.isPaused() && !run_.isLookingBack()) return;
    played_ = -1;
    renderer_.forget();
  });
}

void Sound::use(std::unique_ptr<SoundDevice> device) {
  device_ = std::move(device);
  works_ = device_ && device_->start(rate);
  if (works_) device_->stop();  // until somebody wants to hear it
  if (!works_) device_.reset();
  Q_EMIT changed();
}

void Sound::useWhenNeeded(std::function<std::unique_ptr<SoundDevice>()> device) {
  waiting_ = std::move(device);
  look();
}

void Sound::look() {
  if (!waiting_) return;
  const auto& parts = *doc_.project().parts;
  const bool sounds = std::any_of(parts.begin(), parts.end(), [](const auto& part) {
    const PartKind* kind = catalogue().partKind(part->type);
    return kind && kind->shows == Shows::sound;
  });
  if (sounds) use(std::exchange(waiting_, nullptr)());
}

void Sound::setMuted(bool muted) {
  if (!works_ || muted == muted_) return;
  muted_ = muted;
  played_ = -1;
  renderer_.forget();
  if (muted_)
    device_->stop();
  else if (!device_->start(rate))
    works_ = false, muted_ = true;  // it was taken away
  Q_EMIT changed();
}

void Sound::setVolume(double volume) {
  volume_ = std::clamp(volume, 0.0, 1.0);
  Q_EMIT changed();
}

// What came since. Slower or faster than half or twice the real time it would be another sound.
void Sound::play() {
  constexpr double slowest = 0.5, fastest = 2;
  const double speed = run_.speed();
  const auto trace = run_.trace();
  const bool plays = works_ && !muted_ && run_.isOn() && !run_.isPaused() &&
                     !run_.isLookingBack() && trace && speed >= slowest && speed <= fastest;
  if (!plays) {
    played_ = -1;
    return;
  }
  constexpr Nanoseconds longest = second / 5;  // behind that it would lag
  const Nanoseconds now = trace->end();
  if (played_ < 0 || played_ > now || now - played_ > longest)
    played_ = std::max(trace->begin(), now - second / 20);
  const double each = speed / rate;
  const auto wanted = static_cast<std::size_t>(static_cast<double>(now - played_) * 1e-9 / each);
  std::vector<float> samples(std::min(wanted, device_->room()));
  if (samples.empty()) return;
  renderer_.render(*trace, soundersOf(doc_.project(), *trace), played_, each, samples);
  for (float& sample : samples) sample *= static_cast<float>(volume_);
  device_->write(samples);
  played_ += static_cast<Nanoseconds>(static_cast<double>(samples.size()) * each * 1e9);
}

}  // namespace ignavo::app
