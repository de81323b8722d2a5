#pragma once
// What nearly every file of the core reads, parsed once per library. A file still includes what
// it uses: it builds without this one, too (-DCMAKE_DISABLE_PRECOMPILE_HEADERS=ON).
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <tuple>
#include <unordered_map>
#include <utility>
#include <variant>
#include <vector>
