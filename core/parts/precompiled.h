#pragma once
// What nearly every file of this library reads, parsed once.
#include "parts/list.h"
#include "precompiled.h"
