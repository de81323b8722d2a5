#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "project/project.h"
#include "text/message.h"

namespace ignavo {

// What is wrong at one place of a project file.
struct FileProblem {
  enum class Code {
    cannotOpen,  // value: reason of the system
    cannotWrite,
    tooLarge,  // value: bytes, or nothing where nobody counted them
    notJson,   // value: what the parser says
    notAProject,
    newerVersion,
    missing,      // a key that must be there
    wrongType,    // value: what is wanted
    outOfRange,   // value: the allowed range
    unknownKind,  // value: the kind that is not known
    notAChoice,   // value; wanted: the choices
    noSuchOwner,  // value: the id in a socket
    noHole,       // value: address; wanted: owner
    noPin,        // on this board, or wanted
    noLeg,
    badSocket,
    taken,  // value: hole; wanted: id of what is there
    duplicateId,
    tooMany,  // value: limit
    tooDeep,
    tooLong,   // value: limit in letters
    notAFile,  // a folder, a device or a pipe
    readOnly,
    changedBehind,  // someone else wrote the file since it was read
    notReadBack,    // what was written cannot be read again; value: why; wanted: where it is kept
  };
  std::string path;  // "parts[3].legs.anode"; empty for the whole file
  Code code = Code::missing;
  Message value;
  Message wanted;
};
// "parts[3].legs.anode: no hole "k14" on breadboard "bb""
Message sentence(const FileProblem& problem);

// What could be read, and what could not. With problems the project holds all
// that was sound; `readable` is false when nothing could be made of the text.
struct ReadResult {
  Project project;
  std::vector<FileProblem> problems;
  bool readable = false;
  bool sound() const { return readable && problems.empty(); }
};
ReadResult readProject(std::string_view text);
ReadResult readProjectFile(const std::string& path);

// Stable text: known keys in a fixed order, unknown ones behind them, one
// object a line. Reading it gives an equal project.
std::string writeProject(const Project& project);
// A step, several, or a lane as they stand in a file.
std::string writeStep(const Step& step);
std::string writeSteps(const Steps& steps);
std::string writeLane(const Lane& lane);
std::string writeList(const NumberList& list);
std::string writeVariable(const Variable& variable);
// The file is always whole: see replaceFile() in format/files.h. Nothing is replaced by what
// would not read back. `kept`, if given, tells what the file then holds.
struct FileStamp;
std::optional<FileProblem> saveProjectFile(const Project& project, const std::string& path,
                                           const std::optional<FileStamp>& seen,
                                           FileStamp* kept = nullptr);
std::optional<FileProblem> saveProjectFile(const Project& project, const std::string& path);

// JSON Schema (draft 2020-12) of the file, made from the catalogues.
std::string projectSchema();

// Path of a step as the file names it: "programs[0].lanes[1].steps[2]".
std::string stepPath(const Project& project, const std::string& stepId);

}  // namespace ignavo
