#pragma once
#include <QString>
#include <vector>

#include "check/finding.h"

namespace ignavo::app {

// Writes the bench at rest as PNG or SVG, by the name's ending, with the marks
// of these findings; a PNG has `scale` dots to a unit. False: it cannot be written.
bool writeBenchPicture(const Project& project, const QString& path,
                       const std::vector<Finding>& marked = {}, double scale = 2);

}  // namespace ignavo::app
