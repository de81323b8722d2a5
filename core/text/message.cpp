#include "text/message.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <cmath>

namespace ignavo {

namespace {

constexpr const char* asItIs = "{}";  // what needs no words of a language

using Arguments = fmt::dynamic_format_arg_store<fmt::format_context>;

std::string translated(const std::string& context, const std::string& english,
                       const Translate& translate) {
  if (!translate || english == asItIs) return english;
  std::string out = translate(context, english);
  return out.empty() ? english : out;
}

std::string filled(const std::string& context, const std::string& english,
                   const std::vector<std::string>& values, const Translate& translate) {
  Arguments arguments;
  for (const std::string& value : values) arguments.push_back(value);
  const std::string text = translated(context, english, translate);
  try {
    return fmt::vformat(text, arguments);
  } catch (const fmt::format_error&) {  // a translation with places that are not there
    return fmt::vformat(english, arguments);
  }
}

std::string wordsOf(const Place& place, const Translate& translate);

std::string listOf(const Place::Several& several, const Translate& translate) {
  std::string out;
  for (std::size_t i = 0; i < several.size(); ++i) {
    std::string next = wordsOf(several[i], translate);
    if (i == 0)
      out = std::move(next);
    else
      out = filled("list", i + 1 == several.size() ? "{} and {}" : "{}, {}",
                   {std::move(out), std::move(next)}, translate);
  }
  return out;
}

std::string wordsOf(const Place& place, const Translate& translate) {
  struct Visit {
    const Translate& translate;
    std::string operator()(const std::string& name) const { return name; }
    std::string operator()(std::int64_t count) const { return std::to_string(count); }
    std::string operator()(const Quantity& quantity) const { return inWords(quantity, translate); }
    std::string operator()(const Message& message) const { return inWords(message, translate); }
    std::string operator()(const Place::Several& several) const {
      return listOf(several, translate);
    }
  };
  return std::visit(Visit{translate}, place.what);
}

}  // namespace

Message::Message(std::string itsContext, std::string english, std::vector<Place> stands)
    : context(std::move(itsContext)), text(std::move(english)), places(std::move(stands)) {}
Message::Message(std::string words) {
  if (words.empty()) return;
  text = asItIs;
  places.emplace_back(std::move(words));
}
Message::Message(const char* words) : Message(std::string(words)) {}
Message::Message(const Message&) = default;
Message::Message(Message&&) noexcept = default;
Message& Message::operator=(const Message&) = default;
Message& Message::operator=(Message&&) noexcept = default;
Message::~Message() = default;
bool Message::operator==(const Message&) const = default;

Place::Place(const std::vector<std::string>& names) {
  Several several;
  for (const std::string& name : names) several.emplace_back(name);
  what = std::move(several);
}

Sentences& Sentences::add(Message next) {
  if (!next.empty()) all_.push_back(std::move(next));
  return *this;
}
Sentences& Sentences::add(const Sentences& next) {
  for (const Message& message : next.all_) add(message);
  return *this;
}

std::string inWords(const Message& message, const Translate& translate) {
  std::vector<std::string> values;
  for (const Place& place : message.places) values.push_back(wordsOf(place, translate));
  return filled(message.context, message.text, values, translate);
}

std::string inWords(const Sentences& sentences, const Translate& translate) {
  std::string out;
  for (const Message& message : sentences.all()) {
    if (!out.empty()) out += ' ';
    out += inWords(message, translate);
  }
  return out;
}

std::string inWords(const Quantity& quantity, const Translate& translate) {
  const auto told = [&](const char* unit, std::string number) {
    return filled("unit", unit, {std::move(number)}, translate);
  };
  const double size = std::abs(quantity.value);
  switch (quantity.unit) {
    case Quantity::Unit::amps: {
      const double milli = size * 1000;
      if (milli >= 9950) return told("{} A", fmt::format("{:.0f}", size));
      if (milli >= 999.5) return told("{} A", fmt::format("{:.1f}", size));
      constexpr double little = 0.05;  // told as 0.0 mA
      if (size > leakedAmps && milli < little)
        return told("{} µA", fmt::format("{:.2g}", size * 1e6));
      const int digits = milli >= 9.95 ? 0 : 1;
      return told("{} mA", fmt::format("{:.{}f}", milli, digits));
    }
    case Quantity::Unit::watts:
      if (size >= 0.9995) return told("{} W", fmt::format("{:.2g}", quantity.value));
      return told("{} mW", fmt::format("{:.0f}", quantity.value * 1000));
    case Quantity::Unit::seconds:
      if (size > 0 && size < 0.9995e-6)
        return told("{} ns", fmt::format("{:.3g}", quantity.value * 1e9));
      if (size < 0.9995e-3) return told("{} µs", fmt::format("{:.0f}", quantity.value * 1e6));
      if (size < 0.9995) return told("{} ms", fmt::format("{:.0f}", quantity.value * 1e3));
      if (size >= 999.5) return told("{} s", fmt::format("{:.0f}", quantity.value));
      return told("{} s", fmt::format("{:.3g}", quantity.value));
    case Quantity::Unit::none:
      return fmt::format("{:.{}g}", quantity.value, quantity.digits);
    case Quantity::Unit::volts:
      break;
  }
  std::string number = fmt::format("{:.1f}", quantity.value);
  if (number.ends_with(".0")) number.resize(number.size() - 2);
  return told("{} V", std::move(number));
}

}  // namespace ignavo
