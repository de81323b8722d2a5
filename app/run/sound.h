#pragma once
#include <QObject>
#include <memory>
#include <span>

#include "document/document.h"
#include "run/audio.h"
#include "run/run_control.h"

namespace ignavo::app {

// What samples go to: the machine's sound card, or what a test puts in its place.
class SoundDevice {
 public:
  virtual ~SoundDevice() = default;
  // False: there is none.
  virtual bool start(int rate) = 0;
  virtual void stop() = 0;
  // How many samples it takes at once without waiting.
  virtual std::size_t room() = 0;
  virtual void write(std::span<const float> samples) = 0;
};

// Piezos and buzzers are heard while time runs about as fast as it really does. Muted at first.
class Sound : public QObject {
  Q_OBJECT
 public:
  Sound(Document& document, RunControl& run, QObject* parent = nullptr);
  // Whoever has none stays silent, and says so to nobody.
  void use(std::unique_ptr<SoundDevice> device);
  void setMuted(bool muted);
  bool isMuted() const { return muted_; }
  void setVolume(double volume);  // 0 … 1
  double volume() const { return volume_; }
  bool hasDevice() const { return works_; }

 Q_SIGNALS:
  void changed();

 private:
  void play();

  Document& doc_;
  RunControl& run_;
  std::unique_ptr<SoundDevice> device_;
  bool works_ = false, muted_ = true;
  double volume_ = 0.5;
  static constexpr int rate = 44'100;
  AudioRenderer renderer_{rate};
  Nanoseconds played_ = -1;  // up to there; -1: nothing yet
};

}  // namespace ignavo::app
