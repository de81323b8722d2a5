#pragma once
#include <QString>

namespace ignavo::app {

class MainWindow;

// Goes through the examples in the real window as a user would, with mouse and
// key events, says in words what happened and writes a picture. Needs no
// monitor. Returns the exit status: 0 when everything was as it should be.
int rehearse(MainWindow& window, const QString& picture);

}  // namespace ignavo::app
