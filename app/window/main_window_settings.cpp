#include <algorithm>

#include "theme/motion.h"
#include "theme/theme.h"
#include "window/main_window.h"

// What a person arranged, kept from one start to the next.
namespace ignavo::app {

namespace {

constexpr double slowest = 0.001, fastest = 100;

QString sizesKey(const char* which, int station) {
  return QStringLiteral("%1/%2").arg(QLatin1String(which)).arg(station);
}

// Sizes as they were kept; what is none of ours changes nothing.
void takeSizes(const QSettings& from, const QString& key, QList<int>& sizes) {
  const QStringList kept = from.value(key).toStringList();
  if (kept.size() != sizes.size()) return;
  QList<int> read;
  for (const QString& one : kept) {
    bool number = false;
    const int size = one.toInt(&number);
    if (!number || size < 0 || size > 10000) return;
    read << size;
  }
  if (std::any_of(read.begin(), read.end(), [](int size) { return size > 0; })) sizes = read;
}

QStringList asText(const QList<int>& sizes) {
  QStringList out;
  for (const int size : sizes) out << QString::number(size);
  return out;
}

}  // namespace

void MainWindow::useSettings(std::unique_ptr<QSettings> settings) {
  settings_ = std::move(settings);
  const QSize size = settings_->value(QStringLiteral("window/size")).toSize();
  if (size.width() >= minimumWidth() && size.height() >= minimumHeight() && size.width() < 20000 &&
      size.height() < 20000)
    resize(size);
  for (int station = 0; station < stationCount; ++station) {
    takeSizes(*settings_, sizesKey("sides", station), sideSizes_[station]);
    takeSizes(*settings_, sizesKey("below", station), belowSizes_[station]);
  }
  const double speed = settings_->value(QStringLiteral("run/speed"), 1.0).toDouble();
  if (speed >= slowest && speed <= fastest) run_.setSpeed(speed);
  sound_.setVolume(settings_->value(QStringLiteral("run/volume"), 0.5).toDouble());
  if (const ProgramPanes* made = program_.ifMade())
    made->pane->setTextBeside(settings_->value(textBesideKey(), false).toBool());
  if (settings_->contains(QStringLiteral("window/night")))
    setNight(settings_->value(QStringLiteral("window/night")).toBool());
  projectorAction_->setChecked(!scaleFactor(*settings_).isEmpty());
  for (const auto& [key, action] : motions())
    if (settings_->contains(key) && settings_->value(key).toBool() != action->isChecked())
      action->trigger();
  setStation(station_);
}

QByteArray MainWindow::scaleFactor(const QSettings& settings) {
  return settings.value(projectorKey()).toBool() ? QByteArrayLiteral("1.5") : QByteArray();
}

// What moves on the bench: as the desktop asks, until somebody chose.
std::vector<std::pair<QString, QAction*>> MainWindow::motions() const {
  return {{QStringLiteral("bench/dashes"), flowAction_},
          {QStringLiteral("bench/calmLamps"), calmAction_}};
}

void MainWindow::keepSettings() {
  if (!settings_) return;
  rememberSizes();
  if (!isMaximized() && !isFullScreen()) settings_->setValue(QStringLiteral("window/size"), size());
  for (int station = 0; station < stationCount; ++station) {
    settings_->setValue(sizesKey("sides", station), asText(sideSizes_[station]));
    settings_->setValue(sizesKey("below", station), asText(belowSizes_[station]));
  }
  settings_->setValue(QStringLiteral("run/speed"), run_.speed());
  settings_->setValue(QStringLiteral("run/volume"), sound_.volume());
  if (const ProgramPanes* made = program_.ifMade())
    settings_->setValue(textBesideKey(), made->pane->textBeside());
  // Only who chose keeps it: everybody else follows the desktop.
  const bool little = desktopWantsLittleMotion();
  if (bench_->isFlowShown() == little || settings_->contains(QStringLiteral("bench/dashes")))
    settings_->setValue(QStringLiteral("bench/dashes"), bench_->isFlowShown());
  if (bench_->hasCalmLamps() != little || settings_->contains(QStringLiteral("bench/calmLamps")))
    settings_->setValue(QStringLiteral("bench/calmLamps"), bench_->hasCalmLamps());
  if (nightChosen_) settings_->setValue(QStringLiteral("window/night"), theme().dark);
  settings_->sync();
}

}  // namespace ignavo::app
