#pragma once
// What nearly every file that reads or writes JSON reads itself, parsed once.
#include "format/json_reader.h"
#include "precompiled.h"
