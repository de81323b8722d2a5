#pragma once
#include "parts/kinds.h"

// One function per kind, each in a file of its own; catalogue.cpp lists them.
namespace ignavo {

const PartKind& ledKind();
const PartKind& resistorKind();
const PartKind& buttonKind();

const BoardKind& ternKind();

}  // namespace ignavo
