#pragma once
#include <QThreadPool>

namespace ignavo::app {

// Threads for what takes longer than a frame: checking, compiling, comparing. Not those of Qt's own
// pool, in which its painting waits for its share: the window would stand still with them.
QThreadPool& workers();

}  // namespace ignavo::app
