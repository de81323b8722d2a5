#pragma once
// What every test of the window reads, parsed once.
#include "demos.h"
#include "support/build.h"
#include "support/window.h"
