#pragma once
#include <optional>
#include <string>

#include "format/json_reader.h"
#include "program/steps.h"

namespace ignavo {

struct BoardKind;

// Reads the programs of a project file into a project whose boards are read already.
class ProgramReader {
 public:
  ProgramReader(JsonReader& json, Project& project) : json_(json), project_(project) {}
  void read(const Json& j, const std::string& at);

 private:
  std::optional<std::string> name(const Json& j, const std::string& at, bool taken);
  void readVariable(const Json& j, const std::string& at, Program& program);
  void readList(const Json& j, const std::string& at, Program& program);
  bool isPin(const std::string& name) const;
  std::optional<Lane> readOwn(const Json& j, const std::string& at, const Program& program);
  std::optional<Expr> keyValue(const Json& j, const std::string& at);
  Expr listValue(const Json& j, const SlotKind& slot, const std::string& at);
  std::optional<Lane> readLane(const Json& j, const std::string& at);
  bool readTrigger(const Json& j, const std::string& at, Trigger& out);
  bool readSignal(const Json& j, const std::string& at, Trigger& out);
  std::string pinOf(const Json& j, const char* key, const std::string& at);
  std::optional<Expr> sensed(const Json& j, const Json& sig, const std::string& at, int depth);
  void readSteps(const Json& j, const char* key, const std::string& at, Steps& out, int depth);
  std::optional<Step> readStep(const Json& j, const std::string& at, int depth);
  Expr slotValue(const Json& j, const SlotKind& slot, const std::string& at);
  std::optional<Expr> operands(const Json& j, const std::vector<std::string>& keys,
                               const std::string& at, int depth, Expr e);
  std::optional<Expr> range(const Json& j, const std::string& at, int depth);
  std::optional<Expr> expression(const Json& j, const std::string& at, int depth);

  JsonReader& json_;
  Project& project_;
  const BoardKind* board_ = nullptr;  // whose program is read
  std::size_t count_ = 0;             // of steps, in all programs
};

}  // namespace ignavo
