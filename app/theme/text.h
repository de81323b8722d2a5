#pragma once
#include <QString>
#include <string>

namespace ignavo::app {

// A text of the core (UTF-8) for Qt.
inline QString str(const std::string& s) { return QString::fromStdString(s); }

}  // namespace ignavo::app
