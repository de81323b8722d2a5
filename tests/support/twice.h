#pragma once
#include "project/project.h"

// A project beside itself on one bench: everything in it once more, under other ids.
namespace ignavo::test {

inline std::string twinOf(const std::string& id) { return id.empty() ? id : id + "x"; }

inline Socket twinOf(Socket s) { return {twinOf(s.owner), s.point}; }

inline void renameSteps(Steps& steps) {
  for (Step& step : steps) {
    step.id = twinOf(step.id);
    for (auto& [key, body] : step.bodies) renameSteps(body);
  }
}

inline Project twice(const Project& project) {
  constexpr double aside = 80;  // pitches: beside all that is there
  Project out = project;
  for (BoardItem board : project.boards) {
    board.id = twinOf(board.id), board.at.x += aside;
    out.boards.push_back(board);
  }
  for (BreadboardItem board : project.breadboards) {
    board.id = twinOf(board.id), board.at.x += aside;
    out.breadboards.push_back(board);
  }
  for (const auto& held : *project.parts) {
    Part part = *held;
    part.id = twinOf(part.id);
    if (part.at) part.at->x += aside;
    for (Leg& leg : part.legs)
      if (leg.in) leg.in = twinOf(*leg.in);
    out.parts.edit().push_back(Cow<Part>(std::move(part)));
  }
  for (const auto& held : *project.wires) {
    Wire wire = *held;
    wire.id = twinOf(wire.id);
    wire.from = twinOf(wire.from), wire.to = twinOf(wire.to);
    for (Point& bend : wire.bends) bend.x += aside;
    out.wires.edit().push_back(Cow<Wire>(std::move(wire)));
  }
  for (const auto& held : project.programs) {
    Program program = *held;
    program.board = twinOf(program.board);
    for (auto& lane : program.lanes) {
      lane.edit().id = twinOf(lane->id);
      renameSteps(lane.edit().steps);
    }
    out.programs.push_back(Cow<Program>(std::move(program)));
  }
  return out;
}

}  // namespace ignavo::test
