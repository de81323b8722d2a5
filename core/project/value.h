#pragma once

// The special members of a value that many files handle. Declared in its header and defined in
// one file, they are compiled once; left to the compiler, each of those files would compile its
// own, and that is most of what a small file costs. Both need a semicolon behind them.
#define IGNAVO_VALUE(Type)      \
  Type();                       \
  ~Type();                      \
  Type(const Type&);            \
  Type(Type&&) noexcept;        \
  Type& operator=(const Type&); \
  Type& operator=(Type&&) noexcept

#define IGNAVO_VALUE_DEFINED(Type)              \
  Type::Type() = default;                       \
  Type::~Type() = default;                      \
  Type::Type(const Type&) = default;            \
  Type::Type(Type&&) noexcept = default;        \
  Type& Type::operator=(const Type&) = default; \
  Type& Type::operator=(Type&&) noexcept = default
