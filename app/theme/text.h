#pragma once
#include <QString>
#include <string>

#include "text/message.h"

namespace ignavo::app {

// A text of the core (UTF-8) for Qt.
inline QString str(const std::string& s) { return QString::fromStdString(s); }

// What the core says, in the language of the window: its texts are looked up by their contexts.
QString str(const Message& message);
QString str(const Sentences& sentences);

// To a tenth of a milliampere, or as little as it is.
QString currentText(double amps);

}  // namespace ignavo::app
