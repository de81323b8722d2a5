#include <CLI/CLI.hpp>

#include "commands.h"

int main(int argc, char** argv) {
  using namespace ignavo::cli;
  CLI::App app{"Checks, runs and builds Ignavo projects without a window."};
  app.set_version_flag("--version", "ignavo-cli 0.1.0");
  app.require_subcommand(1);
  int status = fine;

  CheckOptions checkOptions;
  CLI::App* checkCommand = app.add_subcommand("check", "Checks circuits and programs");
  checkCommand->add_option("FILE", checkOptions.files, "Projects")->required();
  checkCommand
      ->add_option("--fail-on", checkOptions.failOn,
                   "Gravest severity that is still fine to ignore ends above this one")
      ->check(CLI::IsMember({"danger", "warning", "note"}));
  auto* asJson = checkCommand->add_flag("--json", checkOptions.json, "Print JSON");
  checkCommand
      ->add_flag("--sarif", checkOptions.sarif, "Print SARIF 2.1.0, for editors and build servers")
      ->excludes(asJson);
  checkCommand->callback([&] { status = check(checkOptions); });

  SolveOptions solveOptions;
  CLI::App* solveCommand = app.add_subcommand("solve", "Works out voltages and currents");
  solveCommand->add_option("FILE", solveOptions.file, "Project")->required();
  solveCommand->add_option("--pin", solveOptions.pins, "[BOARD.]PIN=high|low")
      ->type_size(1)
      ->expected(1)
      ->take_all();
  solveCommand->add_option("--press", solveOptions.press, "Part that is held")
      ->type_size(1)
      ->expected(1)
      ->take_all();
  solveCommand->add_option("--set", solveOptions.set, "ID.PROP=VALUE")
      ->type_size(1)
      ->expected(1)
      ->take_all();
  solveCommand->add_flag("--json", solveOptions.json, "Print JSON");
  solveCommand->callback([&] { status = solve(solveOptions); });

  RunOptions runOptions;
  CLI::App* runCommand = app.add_subcommand("run", "Runs programs against their circuits");
  runCommand->add_option("FILE", runOptions.file, "Project")->required();
  runCommand->add_option("--for", runOptions.seconds, "Simulated seconds")->required();
  runCommand
      ->add_option("--at", runOptions.at,
                   "SECONDS \"press ID\"|\"release ID\"|\"set ID.PROP=VALUE\"|\"key NAME\"|\"reset "
                   "[BOARD]\"|\"power off [BOARD]\"|\"power on [BOARD]\"|\"pin "
                   "[BOARD.]D4=high|low|30%|free\"")
      ->type_size(2)
      ->take_all();
  runCommand->add_option("--replay", runOptions.replay, "With the inputs of that recording");
  runCommand
      ->add_option("--probe", runOptions.probes,
                   "SOCKET or PART: its volts, and a part’s amps, beside the rest in VCD and CSV")
      ->take_all();
  runCommand->add_option("--only", runOptions.only, "Id of a step: it alone is done, once");
  runCommand->add_flag("--firmware", runOptions.firmware,
                       "Every board executes its own compiled code, instruction by instruction");
  runCommand->add_option("--hex", runOptions.hex, "The board executes this Intel HEX instead");
  runCommand->add_option("--board", runOptions.board, "Board id, for --hex");
  runCommand->add_option("--vcd", runOptions.vcd, "Write the trace as VCD");
  runCommand->add_option("--csv", runOptions.csv, "Write the trace as CSV");
  runCommand->add_flag("--json", runOptions.json, "Print JSON");
  runCommand->callback([&] { status = run(runOptions); });

  RunOptions compareOptions;
  CLI::App* compareCommand = app.add_subcommand(
      "compare", "Runs programs by their steps and as firmware, and says whether both do the same");
  compareCommand->add_option("FILE", compareOptions.file, "Project")->required();
  compareCommand->add_option("--for", compareOptions.seconds, "Simulated seconds")->required();
  compareCommand->add_option("--at", compareOptions.at, "SECONDS \"press ID\"|…, as for run")
      ->type_size(2)
      ->take_all();
  compareCommand->add_option("--replay", compareOptions.replay,
                             "With the inputs of that recording");
  compareCommand->add_flag("--json", compareOptions.json, "Print JSON");
  compareCommand->callback([&] { status = compare(compareOptions); });

  RunOptions whyOptions;
  std::string whyPart;
  whyOptions.seconds = 1;
  CLI::App* whyCommand = app.add_subcommand(
      "why", "Says why a lamp, sounder, motor or arm is dark, silent or still at the end of a run");
  whyCommand->add_option("FILE", whyOptions.file, "Project")->required();
  whyCommand->add_option("--part", whyPart, "Its id; ID.LEG: a lamp inside; a board’s: its own lamp")->required();
  whyCommand->add_option("--for", whyOptions.seconds, "Simulated seconds; 1 where none are named");
  whyCommand->add_option("--at", whyOptions.at, "SECONDS \"press ID\"|…, as for run")
      ->type_size(2)
      ->take_all();
  whyCommand->add_option("--replay", whyOptions.replay, "With the inputs of that recording");
  whyCommand->add_flag("--json", whyOptions.json, "Print JSON");
  whyCommand->callback([&] { status = why(whyOptions, whyPart); });

  std::string file, out, board;
  bool json = false;
  CLI::App* codeCommand = app.add_subcommand("code", "Prints a board’s program as C");
  codeCommand->add_option("FILE", file, "Project")->required();
  codeCommand->add_option("--board", board, "Board id");
  codeCommand->add_flag("--json", json, "Print JSON");
  codeCommand->callback([&] { status = code(file, board, json); });

  CLI::App* firmwareCommand =
      app.add_subcommand("firmware", "Compiles a board’s program to Intel HEX");
  firmwareCommand->add_option("FILE", file, "Project")->required();
  firmwareCommand->add_option("-o", out, "HEX file to write")->required();
  firmwareCommand->add_option("--board", board, "Board id");
  firmwareCommand->add_flag("--json", json, "Print JSON");
  firmwareCommand->callback([&] { status = firmware(file, out, board, json); });

  bool toText = false;
  CLI::App* wireCommand =
      app.add_subcommand("wire", "Makes a project from a circuit that is written as text");
  wireCommand->add_option("IN", file, "Text, one thing a line; with --text a project")->required();
  wireCommand->add_option("-o", out, "Project file to write; with --text the text")->required();
  wireCommand->add_flag("--text", toText, "The other way round: writes a project as text");
  wireCommand->callback([&] { status = wire(file, out, toText); });

  std::string typed, phraseFile;
  CLI::App* phraseCommand =
      app.add_subcommand("phrase", "Says which step or lane a typed phrase is");
  phraseCommand->add_option("text", typed, "The phrase, as one word")->required();
  phraseCommand->add_option("file", phraseFile, "Project whose pins it may name");
  phraseCommand->add_flag("--json", json, "Print JSON");
  phraseCommand->callback([&] { status = phrase(typed, phraseFile, json); });

  CLI::App* demosCommand = app.add_subcommand("demos", "Lists the examples");
  demosCommand->add_flag("--json", json, "Print JSON");
  demosCommand->callback([&] { status = demos(json); });
  app.add_subcommand("schema", "Prints the JSON Schema of project files")->callback([&] {
    status = schema();
  });
  app.add_subcommand("checks", "Prints the manual of the check rules, as Markdown")->callback([&] {
    status = checks();
  });

  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? fine : wrong;
  }
  return status;
}
