#include "theme/text.h"

#include <QCoreApplication>
#include <cmath>

namespace ignavo::app {

namespace {
std::string translate(const std::string& context, const std::string& english) {
  return QCoreApplication::translate(context.c_str(), english.c_str()).toStdString();
}
}  // namespace

QString str(const Message& message) { return str(inWords(message, translate)); }
QString str(const Sentences& sentences) { return str(inWords(sentences, translate)); }

QString currentText(double amps) {
  const double milli = std::abs(amps) * 1000;
  if (milli < 0.05) return str(inWords(asAmps(amps), translate));
  return QCoreApplication::translate("unit", "%1 mA").arg(milli, 0, 'f', 1);
}

}  // namespace ignavo::app
