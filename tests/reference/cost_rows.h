#pragma once
#include "reference/cost_fields.h"
#include "reference/measured_costs.h"

namespace ignavo::test {

// What is measured, in an order in which each row only builds on those before it.
inline std::vector<CostRow> costRows() {
  using Lanes = std::vector<std::pair<std::string, std::string>>;
  using T = CostTable;
  const std::string round = "Round and round";
  std::vector<CostRow> out;

  // ---- freely: what a round through a loop takes
  const auto freely = [&](const std::string& name, std::vector<int T::*> fields,
                          const std::string& with, const std::string& without,
                          std::vector<std::string> names = {}) {
    out.push_back(
        {name,
         std::move(fields),
         {},
         false,
         true,
         {{{round, with}}, names},
         without.empty() ? CostRow::Program{} : CostRow::Program{{{round, without}}, names}});
  };
  freely("flipPin", {&T::flipPin}, "flip D8\nflip D9\nflip D10\n", "flip D8\n");
  freely("jump", {&T::jump}, "flip D8\n", "");
  freely("setPin", {&T::setPin}, "flip D8\nset D9 high\nset D9 low\n", "flip D8\n");
  freely("setLevel", {&T::setLevel}, "flip D8\ndim D9 to 40 %\ndim D9 to 60 %\n",
         "flip D8\ndim D9 to 40 %\n");
  freely("countTurn", {&T::countTurn}, "repeat 200 times\n  flip D8\n", "flip D8\n");

  // ---- in turns: a step in place of a flip of D9, while others change what it works with
  const std::vector<std::string> names{"variable u is 3",
                                       "variable v is 5",
                                       "variable w is 0",
                                       "variable x is 0.5",
                                       "variable y is 1.5",
                                       "variable z is 0.1",
                                       "variable p is true",
                                       "variable q is false",
                                       "variable f is false",
                                       "variable k is 2",
                                       "variable h is 0.001",
                                       "list levels is 90, 70, 50, 30, 10",
                                       "list gauge is 0.5, 1.5, 2.5"};
  const Lanes others{
      {round,
       "add 37 to u\nadd 11 to v\nadd 0.37 to x\nadd 1.1 to y\nlet p be not p\nlet q be u > "
       "v\nlet k be 5 - k\nlet h be 0.003 - h\n"},
      {"Every 0.2 s", "if w > 2000000000 or z > 2000000000 or f\n  flip D12\n"}};
  const auto program = [&](const std::string& steps, const std::string& beside = "") {
    Lanes lanes{{round, steps}};
    lanes.insert(lanes.end(), others.begin(), others.end());
    if (!beside.empty()) lanes.insert(lanes.begin(), {"When power comes on", beside});
    return CostRow::Program{std::move(lanes), names};
  };
  const auto step = [&](const std::string& name, std::vector<int T::*> fields,
                        const std::string& with, const std::string& without = "flip D9\n",
                        const std::string& beside = "") {
    out.push_back({name,
                   std::move(fields),
                   {},
                   false,
                   false,
                   program(with, beside),
                   program(without, beside)});
  };
  const auto operation = [&](const std::string& op, bool real, const std::string& with) {
    out.push_back({op, {}, op, real, false, program(with), program("flip D9\n")});
  };
  // Two lanes, for one alone would run freely.
  const CostRow::Program alone{{{round, "flip D9\n"}, {round, "flip D10\n"}}, {}};
  const auto beside = [&](const std::string& name, std::vector<int T::*> fields, Lanes more) {
    Lanes lanes = alone.lanes;
    lanes.insert(lanes.end(), more.begin(), more.end());
    out.push_back({name, std::move(fields), {}, false, false, {lanes, {}}, alone});
  };
  // Of lanes many, for how the compiler arranges the first few is a matter of luck.
  const auto crowd = [&](const std::string& name, std::vector<int T::*> fields, Lanes more) {
    constexpr int few = 2, many = 12;
    const auto times = [&](int count) {
      Lanes lanes = alone.lanes;
      for (int i = 0; i < count; ++i) lanes.insert(lanes.end(), more.begin(), more.end());
      return CostRow::Program{
          lanes, {"variable u is 3", "variable p is true", "variable k is 2", "variable x is 0.5"}};
    };
    out.push_back({name, std::move(fields), {}, false, false, times(many), times(few)});
  };
  crowd("step", {&T::step}, {{round, "flip D11\n"}});
  crowd("waiting", {&T::waiting}, {{round, "wait 100 s\nflip D11\n"}});
  {
    Lanes lanes = alone.lanes;
    for (int i = 0; i < 4; ++i) lanes.push_back({round, "flip D11\n"});
    out.push_back({"turn", {&T::turn}, {}, false, false, {lanes, {}}, {}});
  }
  crowd("idle", {&T::idle}, {{"When power comes on", "flip D10\n"}});
  beside("watch", {&T::watch}, {{"Each time D2 goes high", "flip D10\n"}});
  crowd("every", {&T::every}, {{"Every 100 s", "flip D10\n"}});
  crowd("waitBegun", {&T::waitBegun}, {{round, "flip D11\nwait 0.0005 s\n"}});
  const auto started = [&](const std::string& sign) {
    Lanes lanes = alone.lanes;
    lanes.push_back({round, "let p be not p\nwait 0.0015 s\n"});
    lanes.push_back({"Every 100 s", "let q be p\n"});
    for (int i = 0; i < 6; ++i) lanes.push_back({sign, "flip D10\n"});
    return CostRow::Program{lanes, {"variable p is true", "variable q is false"}};
  };
  out.push_back(
      {"starts", {&T::starts}, {}, false, false, started("Each time p"), started("Each time q")});
  crowd("comes", {&T::comes}, {{"Every 0.002 s", "flip D10\n"}});
  crowd("countTurnKept", {&T::countTurnKept}, {{round, "repeat 200 times\n  flip D10\n"}});
  {
    // What is done once, at the start, makes no turn longer later on, but it has to be counted.
    const auto counted = [&](const char* once) {
      Lanes lanes = alone.lanes;
      lanes.push_back({"When power comes on", once});
      return CostRow::Program{lanes, {"variable x is 0.5"}};
    };
    out.push_back({"counting",
                   {&T::counting},
                   {},
                   false,
                   false,
                   counted("let x be x ÷ 3 ÷ 5 ÷ 7 ÷ 9 ÷ 11 ÷ 13 ÷ 15\n"),
                   counted("let x be x ÷ 3\n")});
  }
  beside("line", {&T::line}, {{"Each time D2 goes high", "post \"ferry\"\n"}});

  step("loadAndStore", {&T::load, &T::store}, "let w be u\n");
  step("constant", {&T::constant}, "let w be 5\nlet w be 500\n");
  step("convert", {&T::convert}, "let z be u\n");
  step("item", {&T::item}, "let w be item k of levels\n");
  step("setPinTo", {&T::setPinTo}, "set D9 to p\n");
  step("setLevelTo", {&T::setLevelTo}, "dim D9 to x\n");
  step("readPin", {&T::readPin}, "let f be D2\n");
  step("readLevel", {&T::readLevel}, "let z be level of A0\n");
  step("branch", {&T::branch}, "if p\n  flip D9\n");
  step("seconds", {&T::seconds}, "let z be seconds since power-on\n");
  step("random", {&T::random}, "let w be random from 1 to 6\n");
  step("randomOfPower", {&T::randomOfPower}, "let w be random from 1 to 8\n");
  step("wait", {&T::wait}, "flip D9\nwait h\n");
  step("readKey", {&T::readKey}, "let f be key a held\n", "let f be D2\n");

  for (const bool real : {false, true}) {
    const std::string a = real ? "x" : "u", b = real ? "y" : "v", to = real ? "z" : "w";
    const auto two = [&](const std::string& op, const std::string& between) {
      operation(op, real, "let " + to + " be " + a + " " + between + " " + b + "\n");
    };
    for (const char* op : {"+", "-"}) two(op, op);
    two("*", "×");
    for (const char* op : {"=", "≠", "<", "≤", ">", "≥"})
      operation(op, real, "let f be " + a + " " + op + " " + b + "\n");
    operation("mod", real, "let " + to + " be remainder of " + a + " ÷ " + b + "\n");
    operation("min", real, "let " + to + " be smaller of " + a + " and " + b + "\n");
    operation("max", real, "let " + to + " be larger of " + a + " and " + b + "\n");
    operation("abs", real, "let " + to + " be size of " + a + "\n");
  }
  operation("/", true, "let z be x ÷ y\n");
  operation("round", true, "let w be round x\n");
  operation("map", true, "let z be map x from 0 … 10 to 0 … 100\n");

  const auto keeps = [&](const std::string& name, int T::*field, const std::string& with,
                         const std::string& without) {
    const auto kept = [&](const std::string& value) {
      CostRow::Program p = program("flip D9\n");
      p.lanes.push_back({"Keep D10 at " + value, ""});
      return p;
    };
    out.push_back({name, {field}, {}, false, false, kept(with), kept(without)});
  };
  keeps("sense", &T::sense, "flips on p", "p");
  keeps("wave", &T::wave, "wave of 5 Hz with 50 %", "p");
  keeps("waveHertz", &T::waveHertz, "wave of k with 50 %", "wave of 5 Hz with 50 %");
  keeps("waveDuty", &T::waveDuty, "wave of 5 Hz with y", "wave of 5 Hz with 50 %");

  return out;
}

// The table as core/program/cost_rows.h has it.
inline std::string costRowsText(const CostTable& costs) {
  std::string out =
      "#pragma once\n\n// Cycles, as they were measured on the chip's core. Written by "
      "scripts/measure-costs; how it\n// measures stands in tests/reference/measured_costs.h, and "
      "a test keeps to it.\nnamespace ignavo::measured {\n\n";
  for (const auto& [name, field] : costFields())
    out +=
        "inline constexpr int " + std::string(name) + " = " + std::to_string(costs.*field) + ";\n";
  out +=
      "\n// With whole operands, and with floats.\nstruct OperatorCost {\n  const char* name;\n"
      "  int whole, real;\n};\ninline constexpr OperatorCost operators[] = {\n";
  for (std::size_t i = 0; i < costs.operations.size(); ++i)
    out += "    {\"" + std::string(measured::operators[i].name) + "\", " +
           std::to_string(costs.operations[i].whole) + ", " +
           std::to_string(costs.operations[i].real) + "},\n";
  return out + "};\n\n}  // namespace ignavo::measured\n";
}

}  // namespace ignavo::test
