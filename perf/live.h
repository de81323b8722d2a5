#pragma once
#include "project/project.h"

namespace ignavo::app {
class MainWindow;
}

// Of the window while a run is on. Each prints what it measured.
namespace perf {

void framesOfARun(ignavo::app::MainWindow& window, ignavo::Project large);
void tenMillionEdges(ignavo::app::MainWindow& window);
void manyStretches(ignavo::app::MainWindow& window);
void latency(ignavo::app::MainWindow& window);
void starts(const char* self);
int wholeWindow(int& argc, char** argv, bool settles);

}  // namespace perf
