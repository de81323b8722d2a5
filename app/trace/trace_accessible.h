#pragma once

namespace ignavo::app {

// Lets screen readers go through the trace: the children of a TraceView are its lines, its marks
// and what happened in sight, and those of a line its edges in sight. Once for the application.
void makeTracesAccessible();

}  // namespace ignavo::app
