#pragma once
#include <optional>
#include <string>
#include <vector>

#include "bench/arranging.h"
#include "bench/taken.h"
#include "format/wiring_words.h"
#include "parts/catalogue.h"

namespace ignavo::wiring {

// Reads one line against a project. Statements stand in wiring_statements.cpp,
// what places parts in wiring_parts.cpp, the names of things in wiring_line.cpp.
class Line {
 public:
  // `board`: whose a pin without a board's name is, and whose program a step is for.
  // `taken`: whoever reads many lines keeps it; it is that of the project when it is asked.
  Line(const Project& project, const std::string& line, const std::string& board, Taken& taken,
       bool completing = false)
      : before_(project), board_(board), words_(line, completing), taken_(taken) {
    out_.project = project;
    if (!project.board(board_)) board_ = project.boards.empty() ? "" : project.boards.front().id;
  }
  Typed read();
  const std::vector<Completion>& offers() const { return words_.offers(); }

 private:
  void fail(Message why) { words_.fail(std::move(why)); }
  void failAt(std::size_t position, Message why) { words_.failAt(position, std::move(why)); }
  bool bad() const { return words_.problem().has_value(); }
  bool isShort(const std::string& name);  // enough for a name; else says so
  Message why(const Obstacle& o, const std::string& type = {}) const {
    return sentence(o, before_, catalogue(), type);
  }
  void take(const Arranged& arranged, std::size_t position, const std::string& type = {}) {
    if (!arranged.clear()) return failAt(position, why(arranged.obstacle, type));
    out_.project = arranged.project;
    out_.ids = arranged.ids;
  }

  // What was taken before the line: to be asked while nothing was done yet.
  Taken& taken() {
    taken_.follow(before_);
    return taken_;
  }

  // Things that are named in lines.
  std::optional<Socket> socket(const char* missing);  // what to say where the line ends here
  std::optional<Socket> pin();
  std::optional<Socket> socketOf(const Word& word, bool pinsFirst = false) const;
  std::optional<Socket> holeOf(const std::string& owner, const std::string& point) const;
  std::optional<Socket> pinOf(const std::string& owner, const std::string& point) const;
  void offerSockets();
  const Part* part();
  std::optional<double> coordinate();
  bool isAddress(const Word& word) const {
    return socketOf(word).has_value() || looksLikeHole(word);
  }
  static bool looksLikeHole(const Word& word);

  // Statements.
  void wire();
  void remove();
  void turnRound();
  void layAnotherWay();
  void move();
  void plug();
  void rename();
  void change();
  void lock(bool on);
  void tidy();
  void straighten();
  void bend();
  void freeRows();
  std::optional<Socket> programPin();
  void pull();
  void label();
  void lineUp();
  void colour();
  // Takes the name of a wire’s colour, or what people call it; nothing: there stands none.
  std::optional<std::string> colourName();
  void addBoard();
  void addBreadboard();
  // "[id] [at x y]", then onto the table.
  void addTable(BoardItem item);
  void title();
  void about();
  bool smallCircuitOnPin();
  bool newPartLine();
  bool step();
  bool named();
  void setQuantity(Part& part, const PropKind& prop, double value);
  bool property(const PartKind& kind, Part& part);
  void placePart(Part part, const PartKind& kind);

  const Project& before_;
  std::string board_;
  Words words_;
  Taken& taken_;
  Typed out_;
};

// A plain number; nothing when anything else stands in the text.
std::optional<double> plainNumber(const std::string& text);

}  // namespace ignavo::wiring
