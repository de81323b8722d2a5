#include "run/audio.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "parts/catalogue.h"
#include "run/motion.h"

// Each sample comes from four means of a quarter of its time, through a low pass (a sinc under a
// Hann window, 32 quarters long): a tone above what can be heard does not come back as a lower one.
namespace ignavo {

namespace {

constexpr int quarters = 4;

const std::array<double, AudioRenderer::taps>& lowPass() {
  static const std::array<double, AudioRenderer::taps> all = [] {
    constexpr double cutoff = 0.42 / quarters;  // of the rate of the quarters
    std::array<double, AudioRenderer::taps> out{};
    double sum = 0;
    for (std::size_t k = 0; k < out.size(); ++k) {
      const double at = static_cast<double>(k) - (static_cast<double>(out.size()) - 1) / 2;
      const double sinc = std::sin(2 * std::numbers::pi * cutoff * at) / (std::numbers::pi * at);
      const double window =
          0.5 - 0.5 * std::cos(2 * std::numbers::pi * (static_cast<double>(k) + 0.5) /
                               static_cast<double>(out.size()));
      out[k] = sinc * window;
      sum += out[k];
    }
    for (double& tap : out) tap /= sum;
    return out;
  }();
  return all;
}

}  // namespace

std::vector<Sounder> soundersOf(const Project& project, const Trace& trace) {
  std::vector<Sounder> out;
  for (const auto& part : *project.parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    if (!kind || (kind->moves != Moves::tone && kind->moves != Moves::buzz)) continue;
    const bool buzzes = kind->moves == Moves::buzz;
    const int signal = trace.find(
        kind->tracedVolts ? Signal::What::partVolts : Signal::What::partAmps, part->id, {});
    if (signal >= 0) out.push_back({signal, buzzes});
  }
  return out;
}

void AudioRenderer::render(const Trace& trace, const std::vector<Sounder>& sounders,
                           Nanoseconds from, double secondsEach, std::span<float> out) {
  constexpr double fullVolts = 5, loudest = 0.3;
  constexpr double steady = 0.995;  // what is slower than some 35 Hz is taken away
  constexpr double slew = 0.01;
  filters_.resize(sounders.size());
  std::fill(out.begin(), out.end(), 0.0F);
  const double step = secondsEach * 1e9;
  for (std::size_t s = 0; s < sounders.size(); ++s) {
    Filter& filter = filters_[s];
    for (std::size_t i = 0; i < out.size(); ++i) {
      const Nanoseconds begin = from + static_cast<Nanoseconds>(static_cast<double>(i) * step);
      const Nanoseconds end =
          std::max(begin + 1, from + static_cast<Nanoseconds>(static_cast<double>(i + 1) * step));
      const bool known = begin >= trace.begin() && end <= trace.end();
      if (sounders[s].buzzes) {
        const double amps = known ? trace.valueAt(sounders[s].signal, begin) : 0;
        const double wanted = amps > buzzerAmps ? 1 : 0;
        filter.loud += std::clamp(wanted - filter.loud, -slew, slew);
        const double angle =
            2 * std::numbers::pi * std::fmod(static_cast<double>(begin) * 1e-9 * buzzerHertz, 1.0);
        const double wave = std::sin(angle) + std::sin(3 * angle) / 3 + std::sin(5 * angle) / 5;
        out[i] += static_cast<float>(loudest * filter.loud * wave);
        continue;
      }
      for (int k = 0; k < quarters; ++k) {
        const Nanoseconds a = begin + (end - begin) * k / quarters,
                          b = std::max(a + 1, begin + (end - begin) * (k + 1) / quarters);
        double volts = filter.last;
        if (known)
          volts = trace.integral(sounders[s].signal, a, b) / (static_cast<double>(b - a) * 1e-9);
        if (!std::isfinite(volts)) volts = 0;
        filter.last = volts;
        filter.quarters[filter.place] = volts;
        filter.place = (filter.place + 1) % taps;
      }
      double share = 0;
      for (std::size_t k = 0; k < taps; ++k)
        share += lowPass()[k] * filter.quarters[(filter.place + k) % taps] / fullVolts;
      filter.held = share - filter.before + steady * filter.held;
      filter.before = share;
      out[i] += static_cast<float>(loudest * filter.held);
    }
  }
  for (float& sample : out) sample = std::clamp(sample, -1.0F, 1.0F);
}

}  // namespace ignavo
