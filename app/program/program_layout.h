#pragma once
#include <QRectF>
#include <QString>
#include <functional>
#include <vector>

#include "program/steps.h"
#include "project/edits.h"

namespace ignavo::app {

// One piece of a card's sentence.
struct Token {
  // A knot is an operator on a thread: its box goes round the tokens that follow it.
  enum class What { word, pin, value, level, condition, label, knot } what = What::word;
  QString text;
  std::string path;  // of the expression in the step, for fields
  std::string pin;
  SlotKind::Type type = SlotKind::Type::number;
  QRectF box;  // in the view
  bool isField() const {
    return what == What::pin || what == What::value || what == What::level ||
           what == What::condition || what == What::knot;
  }
  bool operator==(const Token&) const = default;
};

// One row of a lane's drawing.
struct ProgramRow {
  // `thread`: what a lane keeps, from left to right; `folded`: in place of all inside a step;
  // `open`: where a step is typed among others.
  enum class What { sign, step, branch, empty, open, end, stop, thread, folded } what = What::step;
  std::string lane;
  const Step* step = nullptr;  // of step, branch, empty, open and folded rows: the step / its owner
  std::string body;            // of branch, empty and open rows
  bool yes = false;
  bool slim = false;  // an empty otherwise: one row, "no: goes on"
  int level = 0;
  QRectF box;                 // card, signboard or label
  double dotX = 0, dotY = 0;  // station dot on the rail
  std::vector<Token> tokens;
  // Of a thread: where the value of each of its parts is written (LaneView::Part::path).
  struct Under {
    std::string part;
    QRectF box;
  };
  std::vector<Under> values;
  bool own = false;   // of a sign: of an own step
  bool fork = false;  // of a folded row: two ways are in there
  // Whose fields its tokens are: a step's, or of a sign the lane's.
  const std::string& owner() const { return step ? step->id : lane; }
};

// A piece of rail.
struct RailPiece {
  // `back` goes up to where a loop or a lane begins; `rule` stands above the own steps.
  enum class What { trunk, yes, no, body, back, stop, thread, rule } what = What::trunk;
  const Step* owner = nullptr;  // the if or loop it belongs to; null: the lane
  std::vector<QPointF> points;  // drawn with rounded corners
  std::string lane;
  QPointF under;       // where another rail goes over it, as over a bridge; null: nowhere
  bool exit = false;   // leads out of a branch: drawn thin
  bool inner = false;  // the return of a loop in a loop: only drawn while it runs or is pointed at
};

// A gap where a step can be dropped or inserted.
struct ProgramGap {
  edits::StepPlace place;
  double y = 0;
  double x = 0;
  double right = 0;
};

struct ProgramPicture {
  std::vector<ProgramRow> rows;
  std::vector<RailPiece> rails;
  std::vector<ProgramGap> gaps;
  double height = 0;
};

using PinNamer = std::function<QString(const std::string& pin)>;

class TokenCache;
// Is all that is inside a step folded away? `level` counts the bodies around it.
using Folding = std::function<bool(const Step& step, int level)>;
// What is so deep that its cards would have no room.
bool foldsByItself(const Step& step, int level);

// Lays out a program in `width` pixels: lanes below each other, or beside each other where each has
// room; own steps below all others. A place to type at has a row of its own, where it is no empty
// body or the end of a lane, which have one. Pure: the same program gives the same picture; with a
// cache it only gives it sooner.
ProgramPicture layOutProgram(const Program& program, double width, const PinNamer& namer,
                             const Folding& folded = foldsByItself, TokenCache* cache = nullptr,
                             const edits::StepPlace* open = nullptr);

namespace rail {
constexpr double base = 44, indent = 20, cardGap = 18, rowHeight = 28, rowGap = 6, fork = 8;
constexpr double wide = 3.5, thin = 2, bridge = 4;  // of lines, and air beside a bridge
constexpr double laneWidth = 480, laneGap = 20;     // from which on lanes stand side by side
constexpr int deepest = 8;                          // level that is still drawn
}  // namespace rail

}  // namespace ignavo::app
