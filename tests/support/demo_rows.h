#pragma once
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "support/runs.h"

// A row of a test for each demo, and the demo of that row.
namespace ignavo::test {

inline void rowPerDemo() {
  QTest::addColumn<QString>("name");
  for (const Demo& demo : demos())
    QTest::newRow(demo.name.c_str()) << QString::fromStdString(demo.name);
}
inline std::shared_ptr<const Project> demoProject(const QString& name) {
  return shared(readProject(demo(name.toStdString())->text).project);
}

}  // namespace ignavo::test
