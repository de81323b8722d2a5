#include "theme/text.h"

#include <QCoreApplication>

namespace ignavo::app {

namespace {
std::string translate(const std::string& context, const std::string& english) {
  return QCoreApplication::translate(context.c_str(), english.c_str()).toStdString();
}
}  // namespace

QString str(const Message& message) { return str(inWords(message, translate)); }
QString str(const Sentences& sentences) { return str(inWords(sentences, translate)); }

}  // namespace ignavo::app
