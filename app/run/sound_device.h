#pragma once
#include <cstddef>
#include <span>

namespace ignavo::app {

// What samples go to: the machine's sound card, or what a test puts in its place.
class SoundDevice {
 public:
  virtual ~SoundDevice() = default;
  // So many samples a second. False: there is none.
  virtual bool start(int rate) = 0;
  virtual void stop() = 0;
  // How many samples it takes at once without waiting.
  virtual std::size_t room() = 0;
  virtual void write(std::span<const float> samples) = 0;
};

}  // namespace ignavo::app
