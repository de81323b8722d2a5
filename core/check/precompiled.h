#pragma once
// What nearly every rule reads, parsed once.
#include "check/rules/list.h"
#include "precompiled.h"
#include "project/edits.h"
