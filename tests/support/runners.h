#pragma once
#include <QtTest>
#include <string>
#include <vector>

#include "make/program_runner.h"

// What every way of running other programs promises (make/program_runner.h), for tests.
namespace ignavo::test {

template <typename Runner>
void keepsItsPromises() {
  Runner runner;
  std::vector<std::string> lines;
  const auto line = [&](const std::string& l) { lines.push_back(l); };
  const Ran ran =
      runner.run({"sh", "-c", "echo one; echo two >&2; printf three; exit 3"}, line, {});
  QVERIFY(ran.started && !ran.cancelled);
  QCOMPARE(ran.exit, 3);
  QVERIFY(lines == (std::vector<std::string>{"one", "two", "three"}));
  QVERIFY(!runner.run({"no-such-program-anywhere"}, line, {}).started);

  // A line is told when it comes, and ending a program ends what it has started as well.
  std::string child;
  const Ran ended = runner.run(
      {"sh", "-c", "sleep 600 & echo $!; wait; echo over"},
      [&](const std::string& l) { child = l; }, [&] { return !child.empty(); });
  QVERIFY(ended.started && ended.cancelled);
  QVERIFY(child != "over");
  const QString stat = QStringLiteral("/proc/%1/stat").arg(QString::fromStdString(child));
  QTRY_VERIFY([&] {  // gone, or waiting to be buried
    QFile file(stat);
    return !file.open(QIODevice::ReadOnly) || file.readAll().contains(") Z ");
  }());

  // Its folder goes with it.
  QString folder;
  {
    Runner other;
    folder = QString::fromStdString(other.folder());
    QVERIFY(QFile::exists(folder));
    QCOMPARE(QString::fromStdString(other.folder()), folder);
  }
  QVERIFY(!QFile::exists(folder));
}

}  // namespace ignavo::test
