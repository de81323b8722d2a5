#pragma once
#include "program/program_layout.h"
#include "program/step_tokens.h"

namespace ignavo::app {

// What a lane keeps, from left to right: what comes in, operators, what is kept; it goes on in the
// next line where there is no room. Below it the same as a sentence.
struct ThreadPicture {
  ProgramRow row, sentence;
  std::vector<std::vector<QPointF>> lines;
  double bottom = 0;
};
// `at`: its upper left corner; `width`: of the column that it stands in.
ThreadPicture layOutThread(const Lane& lane, const Expr& kept, const TokenMaker& tokens, QPointF at,
                           double width);

}  // namespace ignavo::app
