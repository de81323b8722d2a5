#pragma once
#include <QTemporaryDir>
#include <memory>

#include "make/program_runner.h"

namespace ignavo::app {

// Runs programs by QProcess, in whatever thread it is used in; it needs no event loop.
class ProcessRunner final : public ProgramRunner {
 public:
  std::string folder() override;
  Ran run(const std::vector<std::string>& words,
          const std::function<void(const std::string&)>& line,
          const std::function<bool()>& cancelled) override;

 private:
  std::unique_ptr<QTemporaryDir> folder_;
};

}  // namespace ignavo::app
