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
  enum class What { word, pin, value, level, condition, label } what = What::word;
  QString text;
  std::string path;  // of the expression in the step, for fields
  std::string pin;
  SlotKind::Type type = SlotKind::Type::number;
  QRectF box;  // in the view
  bool isField() const {
    return what == What::pin || what == What::value || what == What::level ||
           what == What::condition;
  }
};

// One row of a lane's drawing.
struct ProgramRow {
  enum class What { sign, step, branch, empty, end, stop } what = What::step;
  std::string lane;
  const Step* step = nullptr;  // of step, branch and empty rows: the step / its owner
  std::string body;            // of branch and empty rows
  bool yes = false;
  bool slim = false;  // an empty otherwise: one row, "no: goes on"
  int level = 0;
  QRectF box;                 // card, signboard or label
  double dotX = 0, dotY = 0;  // station dot on the rail
  std::vector<Token> tokens;
  // Whose fields its tokens are: a step's, or of a sign the lane's.
  const std::string& owner() const { return step ? step->id : lane; }
};

// A piece of rail.
struct RailPiece {
  enum class What { trunk, yes, no, body, back, stop } what = What::trunk;
  const Step* owner = nullptr;  // the if or loop it belongs to; null: the lane
  std::vector<QPointF> points;  // drawn with rounded corners
  std::string lane;
  QPointF under;      // where another rail goes over it, as over a bridge; null: nowhere
  bool exit = false;  // leads out of a branch: drawn thin
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

// Lays out a program in `width` pixels. Pure: the same program gives the same picture.
ProgramPicture layOutProgram(const Program& program, double width, const PinNamer& namer);

namespace rail {
constexpr double base = 44, indent = 20, cardGap = 18, rowHeight = 28, rowGap = 6, fork = 8;
constexpr double wide = 3.5, thin = 2, bridge = 4;  // of lines, and air beside a bridge
}  // namespace rail

}  // namespace ignavo::app
