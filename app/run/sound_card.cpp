#include <QAudioFormat>
#include <QAudioSink>
#include <QMediaDevices>
#include <memory>

#include "run/sound_device.h"

// The machine's sound card: a library of its own, which is loaded where something could be heard.

namespace ignavo::app {

namespace {

class SoundCard final : public SoundDevice {
 public:
  bool start(int rate) override {
    const QAudioDevice device = QMediaDevices::defaultAudioOutput();
    if (device.isNull()) return false;
    QAudioFormat format;
    format.setSampleRate(rate);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Float);
    if (!device.isFormatSupported(format)) return false;
    sink_ = std::make_unique<QAudioSink>(device, format);
    constexpr int tenth = 10;  // of a second lies ready
    sink_->setBufferSize(format.bytesForDuration(1'000'000 / tenth));
    io_ = sink_->start();
    return io_ != nullptr;
  }
  void stop() override {
    if (sink_) sink_->stop();
    io_ = nullptr;
    sink_.reset();
  }
  std::size_t room() override {
    return sink_ ? static_cast<std::size_t>(sink_->bytesFree()) / sizeof(float) : 0;
  }
  void write(std::span<const float> samples) override {
    if (io_)
      io_->write(reinterpret_cast<const char*>(samples.data()),
                 static_cast<qint64>(samples.size_bytes()));
  }

 private:
  std::unique_ptr<QAudioSink> sink_;
  QIODevice* io_ = nullptr;
};

}  // namespace

}  // namespace ignavo::app

extern "C" Q_DECL_EXPORT ignavo::app::SoundDevice* ignavoSoundCard() {
  return new ignavo::app::SoundCard;
}
