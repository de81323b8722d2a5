#pragma once
#include <cstddef>

namespace ignavo {

// An element by a plain int, as indices go through the netlists; -1 and the like are not asked for.
template <typename T>
decltype(auto) at(T& v, int i) {
  return v[static_cast<std::size_t>(i)];
}

}  // namespace ignavo
