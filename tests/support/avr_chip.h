#pragma once
#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>
#include <array>
#include <memory>
#include <string>
#include <vector>

#include "avr/hex.h"
#include "avr/machine.h"

// A chip on its own, for tests of the core, and programs for it.
namespace ignavo::test {

// Nothing hangs on the pins but what a test puts there.
class BareChip : public avr::Outside {
 public:
  struct Driven {
    int pin;
    avr::Drive drive;
    avr::Cycle at;
  };
  void drive(int pin, avr::Drive drive, avr::Cycle at) override {
    driven.push_back({pin, drive, at});
    now[static_cast<std::size_t>(pin)] = drive;
  }
  std::uint8_t levels(int port, std::uint8_t, avr::Cycle) override {
    std::uint8_t out = 0;
    for (int b = 0; b < avr::pinsPerPort; ++b) {
      const auto pin = static_cast<std::size_t>(avr::pinAt(port, b));
      const bool high =
          now[pin] == avr::Drive::high ||
          (now[pin] != avr::Drive::low && (outer[pin] || now[pin] == avr::Drive::pullUp));
      out = static_cast<std::uint8_t>(out | (high ? 1U << b : 0U));
    }
    return out;
  }
  int measure(int pin, avr::Cycle at) override {
    measured.push_back(at);
    return analog[static_cast<std::size_t>(pin)];
  }
  void sent(std::uint8_t byte, avr::Cycle at) override {
    said += static_cast<char>(byte);
    saidAt.push_back(at);
  }
  // When a pin was driven so.
  std::vector<avr::Cycle> when(int pin, avr::Drive drive) const {
    std::vector<avr::Cycle> out;
    for (const Driven& d : driven)
      if (d.pin == pin && d.drive == drive) out.push_back(d.at);
    return out;
  }

  std::vector<Driven> driven;
  std::array<avr::Drive, 24> now{};
  std::array<bool, 24> outer{};
  std::array<int, 24> analog{};
  std::vector<avr::Cycle> measured;
  std::string said;
  std::vector<avr::Cycle> saidAt;
};

// What a tool prints; fails the test where it cannot be run.
inline std::string ranTool(const QString& program, const QStringList& words, bool* worked) {
  QProcess process;
  process.setProcessChannelMode(QProcess::MergedChannels);
  process.start(program, words);
  *worked = process.waitForStarted() && process.waitForFinished(120'000) && process.exitCode() == 0;
  return process.readAll().toStdString();
}

// A program as flash holds it. `language`: "c", or "S" for the assembler; in the assembler nothing
// stands around it.
inline std::vector<std::uint8_t> compiledBytes(const std::string& chip, const std::string& source,
                                               const char* language = "c",
                                               const QString& elfTo = {}) {
  QTemporaryDir folder;
  const QString file = folder.filePath(QString("program.") + language);
  const QString elf = elfTo.isEmpty() ? folder.filePath("program.elf") : elfTo;
  const QString hex = folder.filePath("program.hex");
  QFile out(file);
  if (!out.open(QIODevice::WriteOnly)) return {};
  out.write(source.c_str());
  out.close();
  QStringList words{"-mmcu=" + QString::fromStdString(chip), "-Os", "-std=gnu11", "-fwrapv"};
  if (QString(language) == "S")
    words << "-nostdlib"
          << "-nostartfiles";
  words << "-o" << elf << file;
  if (QString(language) == "c") words << "-lm";
  bool worked = false;
  const std::string said = ranTool("avr-gcc", words, &worked);
  if (!worked) {
    qWarning("%s", said.c_str());
    return {};
  }
  ranTool("avr-objcopy", {"-O", "ihex", "-R", ".eeprom", elf, hex}, &worked);
  QFile in(hex);
  if (!worked || !in.open(QIODevice::ReadOnly)) return {};
  const avr::Chip& c = *avr::chipNamed(chip);
  return avr::readHex(in.readAll().toStdString(), c.flashBytes()).bytes;
}

// A chip with such a program, at 16 MHz, after power-on.
struct Running {
  Running(const std::string& chip, const std::vector<std::uint8_t>& bytes)
      : machine(*avr::chipNamed(chip),
                std::make_shared<const avr::Flash>(*avr::chipNamed(chip), bytes), 16'000'000) {
    machine.reset(outside);
  }
  void run(avr::Cycle cycles) { machine.run(outside, machine.now() + cycles); }
  std::uint64_t value(avr::Address at, int bytes) const {
    std::uint64_t out = 0;
    for (int k = bytes; k-- > 0;)
      out = out << 8 | machine.memoryAt(static_cast<avr::Address>(at + k));
    return out;
  }
  BareChip outside;
  avr::Machine machine;
};
inline std::unique_ptr<Running> running(const std::string& chip, const std::string& source,
                                        const char* language = "c") {
  const auto bytes = compiledBytes(chip, source, language);
  return bytes.empty() ? nullptr : std::make_unique<Running>(chip, bytes);
}

}  // namespace ignavo::test
