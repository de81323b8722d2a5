#include "document/process_runner.h"

#include <signal.h>
#include <unistd.h>

#include <QProcess>

#include "theme/text.h"

namespace ignavo::app {

std::string ProcessRunner::folder() {
  if (!folder_) folder_ = std::make_unique<QTemporaryDir>();
  return folder_->isValid() ? folder_->path().toStdString() : std::string();
}

Ran ProcessRunner::run(const std::vector<std::string>& words,
                       const std::function<void(const std::string&)>& line,
                       const std::function<bool()>& cancelled) {
  constexpr int waitMilliseconds = 50;
  Ran ran;
  QProcess process;
  process.setProcessChannelMode(QProcess::MergedChannels);
  // In a group of its own, so that what it starts can be ended with it.
  process.setChildProcessModifier([] { setpgid(0, 0); });
  QStringList arguments;
  for (std::size_t i = 1; i < words.size(); ++i) arguments << str(words[i]);
  process.start(str(words.front()), arguments, QIODevice::ReadOnly);
  if (!process.waitForStarted()) return ran;
  ran.started = true;
  LineCutter cutter(line);
  const auto pass = [&] {
    const QByteArray text = process.readAll();
    cutter.add(text.constData(), static_cast<std::size_t>(text.size()));
  };
  const auto pid = static_cast<pid_t>(process.processId());
  while (process.state() != QProcess::NotRunning) {
    if (!ran.cancelled && cancelled && cancelled()) {
      ran.cancelled = true;
      ::kill(-pid, SIGKILL);
    }
    process.waitForReadyRead(waitMilliseconds);
    pass();
  }
  pass();
  cutter.finish();
  ran.exit = process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
  return ran;
}

}  // namespace ignavo::app
