#include <QtTest>

#include "document/process_runner.h"
#include "support/runners.h"

class TestProcessRunner : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void itKeepsItsPromises() { ignavo::test::keepsItsPromises<ignavo::app::ProcessRunner>(); }
};

QTEST_MAIN(TestProcessRunner)
#include "tst_process_runner.moc"
