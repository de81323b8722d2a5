#include <QApplication>
#include <QDir>
#include <QPointer>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>
#include <condition_variable>
#include <cstdio>
#include <functional>
#include <mutex>
#include <random>

#include "demos.h"
#include "document/recovery.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Windows that are killed while somebody types quickly. This program is its own victim: started
// with a folder in IGNAVO_VICTIM it opens a window, types steps and says when each was there.
namespace {

std::size_t stepsOf(const Project& p) {
  std::size_t n = 0;
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) forEachStep(lane->steps, [&](const Step&) { ++n; });
  return n;
}

// The typing window's time: each step takes 40 ms of it, however slow the machine is, and a write
// to the disk takes at most 200 ms.
class TypingClock final : public Clock {
 public:
  double seconds() override { return milliseconds_ * 1e-3; }
  void sleepToFrame(std::unique_lock<std::mutex>& lock, std::condition_variable& wake) override {
    machineClock().sleepToFrame(lock, wake);
  }
  void later(QObject* context, int milliseconds, std::function<void()> what) override {
    calls_.push_back({milliseconds_ + milliseconds, context, std::move(what)});
  }
  int milliseconds() const { return milliseconds_; }
  void stepTyped(const Recovery& recovery) {
    milliseconds_ += 40;
    std::vector<Call> due;
    std::erase_if(calls_, [&](const Call& call) {
      if (call.at <= milliseconds_) due.push_back(call);
      return call.at <= milliseconds_;
    });
    for (const Call& call : due)
      if (call.context) call.what();
    QCoreApplication::processEvents();
    writingFor_ = recovery.isWriting() ? writingFor_ + 40 : 0;
    while (writingFor_ >= 200 && recovery.isWriting())
      QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
  }

 private:
  struct Call {
    int at;
    QPointer<QObject> context;
    std::function<void()> what;
  };
  int milliseconds_ = 0, writingFor_ = 0;
  std::vector<Call> calls_;
};

// Types until it is killed. Each line: how many steps there are, and milliseconds of its clock.
int typeQuickly(const QString& folder, const QString& file) {
  Answers answers;
  lookAsInDaylight();
  TypingClock clock;
  auto window = openWindow(answers, &clock);
  window->setRecoveryFolder(folder);
  if (!file.isEmpty() && !window->openPath(file)) return 1;
  ProgramView* view = window->program()->view();
  window->setStation(Station::program);
  const std::string lane = window->document().project().programs[0]->lanes[0]->id;
  for (;;) {
    QLineEdit* box = view->endBox(lane);
    box->setFocus();
    QTest::keyClicks(box, QStringLiteral("flip d13"));
    QTest::keyClick(box, Qt::Key_Return);
    std::printf("%zu %d\n", stepsOf(window->document().project()), clock.milliseconds());
    std::fflush(stdout);
    clock.stepTyped(*window->recovery());
  }
}

// One such window in a process of its own.
class Victim {
 public:
  Victim(const QString& folder, const QString& file) {
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("IGNAVO_VICTIM"), folder);
    environment.insert(QStringLiteral("IGNAVO_VICTIM_FILE"), file);
    process_.setProcessEnvironment(environment);
    process_.start(QCoreApplication::applicationFilePath(), {});
  }
  bool begins() { return process_.waitForReadyRead(30000); }
  // Gives how many steps were there a second before the last one.
  std::size_t kill() {
    process_.kill();
    process_.waitForFinished(10000);
    std::vector<std::pair<std::size_t, int>> said;
    for (const QByteArray& line : process_.readAllStandardOutput().split('\n')) {
      const QList<QByteArray> words = line.split(' ');
      if (words.size() == 2) said.emplace_back(words[0].toULong(), words[1].toInt());
    }
    std::size_t old = 0;
    for (const auto& [steps, at] : said)
      if (at <= said.back().second - 1000) old = steps;
    return old;
  }

 private:
  QProcess process_;
};

}  // namespace

class TestKills : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void atMostTheLastSecondIsLost() {
    std::mt19937 random(30);
    int kills = 0;
    for (int round = 0; round < 15; ++round) {
      QTemporaryDir folder, files;
      // An empty start, an opened file, or one of each side by side: two windows each time.
      const QString file = files.filePath("berth.ignavo");
      QVERIFY(
          !saveProjectFile(readProject(demo("berth-signals")->text).project, file.toStdString()));
      Victim one(folder.path(), round % 3 == 1 ? file : QString());
      Victim other(folder.path(), round % 3 == 0 ? QString() : file);
      QVERIFY(one.begins() && other.begins());
      QTest::qWait(static_cast<int>(300 + random() % 1700));
      std::vector<std::size_t> old{one.kill(), other.kill()};
      kills += 2;
      // What the next window is offered, one after another.
      Answers answers;
      auto window = openWindow(answers);
      window->setRecoveryFolder(folder.path());
      std::vector<std::size_t> back;
      while (auto* bring = visibleChild<QPushButton>(window.get(), "bringBack")) {
        QTest::mouseClick(bring, Qt::LeftButton);
        back.push_back(stepsOf(window->document().project()));
        if (back.size() > 4) break;
      }
      QVERIFY2(back.size() <= 2, qPrintable(QString::number(back.size())));
      // A window that had a second of work has left it, and of that what was older.
      std::sort(old.begin(), old.end());
      std::sort(back.begin(), back.end());
      while (back.size() < 2) back.insert(back.begin(), 0);
      for (std::size_t k = 0; k < 2; ++k)
        QVERIFY2(
            back[k] >= old[k],
            qPrintable(QString("round %1: %2 of %3 steps").arg(round).arg(back[k]).arg(old[k])));
    }
    QCOMPARE(kills, 30);
  }
};

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  loadFonts();
  if (qEnvironmentVariableIsSet("IGNAVO_VICTIM"))
    return typeQuickly(qEnvironmentVariable("IGNAVO_VICTIM"),
                       qEnvironmentVariable("IGNAVO_VICTIM_FILE"));
  TestKills test;
  return QTest::qExec(&test, argc, argv);
}
#include "tst_kills.moc"
