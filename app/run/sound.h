#pragma once
#include <QObject>
#include <functional>
#include <memory>

#include "document/document.h"
#include "run/audio.h"
#include "run/run_control.h"
#include "run/sound_device.h"

namespace ignavo::app {

// Piezos and buzzers are heard while time runs about as fast as it really does. Muted at first.
class Sound : public QObject {
  Q_OBJECT
 public:
  Sound(Document& document, RunControl& run, QObject* parent = nullptr);
  // Whoever has none stays silent, and says so to nobody.
  void use(std::unique_ptr<SoundDevice> device);
  // The same, once there is something on the bench that could be heard.
  void useWhenNeeded(std::function<std::unique_ptr<SoundDevice>()> device);
  void setMuted(bool muted);
  bool isMuted() const { return muted_; }
  void setVolume(double volume);  // 0 … 1
  double volume() const { return volume_; }
  bool hasDevice() const { return works_; }

 Q_SIGNALS:
  void changed();

 private:
  void play();
  void look();  // for something to be heard

  Document& doc_;
  RunControl& run_;
  std::function<std::unique_ptr<SoundDevice>()> waiting_;  // until it is needed
  std::unique_ptr<SoundDevice> device_;
  bool works_ = false, muted_ = true;
  double volume_ = 0.5;
  static constexpr int rate = 44'100;
  AudioRenderer renderer_{rate};
  Nanoseconds played_ = -1;  // up to there; -1: nothing yet
};

}  // namespace ignavo::app
