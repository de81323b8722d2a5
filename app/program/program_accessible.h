#pragma once

namespace ignavo::app {

// Lets screen readers go through a program: the children of a ProgramView are its signs, steps,
// branches and boxes in reading order, and theirs the fields. Once for the application.
void makeProgramsAccessible();

}  // namespace ignavo::app
