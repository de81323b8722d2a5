#pragma once
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>

#include "format/ordered_object.h"

// JSON with its keys in the order of the file. What every use of it needs is compiled once, in
// json.cpp.
extern template class nlohmann::basic_json<ignavo::OrderedObject>;

namespace ignavo {

using Json = nlohmann::basic_json<OrderedObject>;

// What a text says; nothing, and the parser's words for why, when it is no JSON.
std::optional<Json> parseJson(std::string_view text, std::string& why);

}  // namespace ignavo
