#pragma once
#include <QWidget>
#include <vector>

#include "bench/identity.h"
#include "project/project.h"

// Small pictures of the inspector.
namespace ignavo::app {

// The part with its legs named, and where each sits.
QWidget* makePortrait(const Part& part, QWidget* parent);

// The way of the current, from source to ground, as chips on a thread.
struct PathChip {
  QString text;
  NetColour colour;
  bool filled = false;
};
QWidget* makePathStrip(std::vector<PathChip> chips, QWidget* parent);

// A share of a limit; 1 is the limit.
QWidget* makeShareBar(double share, QWidget* parent);

}  // namespace ignavo::app
