#pragma once
#include <QObject>
#include <atomic>
#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "make/firmware.h"
#include "make/program_runner.h"

namespace ignavo::app {

// Compiles what boards run, in another thread. One errand at a time: a new one takes the place of
// the one before.
class FirmwareMaker : public QObject {
  Q_OBJECT
 public:
  explicit FirmwareMaker(QObject* parent = nullptr);
  ~FirmwareMaker() override;

  // How the compiler is run; asked in the other thread.
  std::function<std::unique_ptr<ProgramRunner>()> newRunner;

  // By board id, in the order wanted. The first that cannot be made is the last.
  using Made = std::vector<std::pair<std::string, Firmware>>;
  void make(std::shared_ptr<const Project> project, std::vector<std::string> boards);
  bool isBusy() const { return busy_; }
  // Ends what is under way; it is told as cancelled.
  void cancel();
  // Ends it as well, and nothing more is heard of it.
  void forget();

 Q_SIGNALS:
  void line(const QString& said);  // by the compiler
  void progressed(double share);   // 0 … 1
  void made(const ignavo::app::FirmwareMaker::Made& all);

 private:
  struct Errand;
  bool busy_ = false;
  std::shared_ptr<Errand> errand_;
};

}  // namespace ignavo::app
