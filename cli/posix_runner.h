#pragma once
#include "make/program_runner.h"

namespace ignavo {

// Runs programs with nothing but POSIX. For one thread at a time.
class PosixRunner final : public ProgramRunner {
 public:
  PosixRunner() = default;
  ~PosixRunner() override;
  PosixRunner(const PosixRunner&) = delete;
  PosixRunner& operator=(const PosixRunner&) = delete;

  std::string folder() override;
  Ran run(const std::vector<std::string>& words,
          const std::function<void(const std::string&)>& line,
          const std::function<bool()>& cancelled) override;

 private:
  std::string folder_;
};

}  // namespace ignavo
