#pragma once
// What nearly every test of the core reads, parsed once.
#include <QtTest>
#include <random>

#include "check/finding.h"
#include "demos.h"
#include "format/project_file.h"
#include "precompiled.h"
#include "run/kernel.h"
#include "support/build.h"
