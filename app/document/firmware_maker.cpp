#include "document/firmware_maker.h"

#include <QCoreApplication>
#include <QPointer>

#include "document/process_runner.h"
#include "document/workers.h"

namespace ignavo::app {

struct FirmwareMaker::Errand {
  std::atomic<bool> cancelled = false;
};

FirmwareMaker::FirmwareMaker(QObject* parent)
    : QObject(parent), newRunner([] { return std::make_unique<ProcessRunner>(); }) {}

FirmwareMaker::~FirmwareMaker() { forget(); }

void FirmwareMaker::cancel() {
  if (errand_) errand_->cancelled = true;
}

void FirmwareMaker::forget() {
  cancel();
  errand_.reset();
  busy_ = false;
}

void FirmwareMaker::make(std::shared_ptr<const Project> project, std::vector<std::string> boards) {
  forget();
  busy_ = true;
  errand_ = std::make_shared<Errand>();
  QPointer<FirmwareMaker> self(this);
  // To this thread, unless nobody waits for it any more.
  const auto tell = [self, errand = errand_](auto what) {
    QMetaObject::invokeMethod(
        qApp,
        [self, errand, what = std::move(what)] {
          if (self && self->errand_ == errand) what(*self);
        },
        Qt::QueuedConnection);
  };
  workers().start([tell, errand = errand_, project = std::move(project), boards = std::move(boards),
                   newRunner = newRunner] {
    Made all;
    for (const std::string& board : boards) {
      const std::unique_ptr<ProgramRunner> runner = newRunner();
      BuildWatch watch;
      watch.cancelled = [&] { return errand->cancelled.load(); };
      // What the compiler says is shown while it is still at work.
      watch.line = [&](const std::string& line) {
        tell([line](FirmwareMaker& m) { Q_EMIT m.line(QString::fromStdString(line)); });
      };
      watch.stage = [&](BuildWatch::Stage stage) {
        const double done =
            static_cast<double>(stage) / static_cast<double>(BuildWatch::Stage::done);
        const double share =
            (static_cast<double>(all.size()) + done) / static_cast<double>(boards.size());
        tell([share](FirmwareMaker& m) { Q_EMIT m.progressed(share); });
      };
      all.emplace_back(board, buildFirmware(*project, board, *runner, watch));
      if (all.back().second.code != Firmware::Code::done) break;
    }
    tell([all = std::move(all)](FirmwareMaker& m) {
      m.busy_ = false;
      Q_EMIT m.made(all);
    });
  });
}

}  // namespace ignavo::app
