#include "format/json.h"

#include "format/json_text.h"

template class nlohmann::basic_json<ignavo::OrderedObject>;

namespace ignavo {

std::optional<Json> parseJson(std::string_view text, std::string& why) {
  try {
    return Json::parse(text.begin(), text.end());
  } catch (const nlohmann::json::exception& e) {
    why = e.what();
    if (const auto colon = why.find("] "); colon != std::string::npos) why = why.substr(colon + 2);
    return std::nullopt;
  }
}

std::string quotedJson(const std::string& text) {
  return Json(text).dump(-1, ' ', false, Json::error_handler_t::replace);
}

}  // namespace ignavo
