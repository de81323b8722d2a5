#include "theme/motion.h"

#include <QSettings>
#include <QStandardPaths>

namespace ignavo::app {

bool desktopWantsLittleMotion() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation);
  const QSettings kde(folder + QStringLiteral("/kdeglobals"), QSettings::IniFormat);
  bool number = false;
  const double factor =
      kde.value(QStringLiteral("KDE/AnimationDurationFactor")).toString().toDouble(&number);
  if (number && factor <= 0) return true;
  for (const char* version : {"gtk-4.0", "gtk-3.0"}) {
    const QSettings gtk(
        folder + QLatin1Char('/') + QLatin1String(version) + QStringLiteral("/settings.ini"),
        QSettings::IniFormat);
    const QString animates =
        gtk.value(QStringLiteral("Settings/gtk-enable-animations")).toString().toLower();
    if (animates == QLatin1String("0") || animates == QLatin1String("false")) return true;
  }
  return false;
}

}  // namespace ignavo::app
