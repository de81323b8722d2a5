#pragma once
#include <cstdint>
#include <functional>
#include <string>
#include <variant>
#include <vector>

// What the tool has to say, before it is put into words: who says it, the whole sentence in
// English with places, and what stands in them. One function that the caller hands in turns the
// English into the words of a language; all else (units, lists) goes through it as well, so that
// no sentence is glued from fragments.
namespace ignavo {

// A number with its unit, in SI units; told with as many digits as matter to people.
struct Quantity {
  enum class Unit : std::uint8_t { volts, amps, watts, seconds, none } unit = Unit::volts;
  double value = 0;
  int digits = 0;  // of a plain number: how many of them count
  bool operator==(const Quantity&) const = default;
};
// What inputs leak: less is told as no current at all.
inline constexpr double leakedAmps = 1e-7;
inline Quantity asVolts(double value) { return {Quantity::Unit::volts, value}; }
inline Quantity asAmps(double value) { return {Quantity::Unit::amps, value}; }
inline Quantity asWatts(double value) { return {Quantity::Unit::watts, value}; }
inline Quantity asSeconds(double value) { return {Quantity::Unit::seconds, value}; }
inline Quantity asNumber(double value, int digits = 6) {
  return {Quantity::Unit::none, value, digits};
}

struct Place;
struct Message {
  std::string
      context;  // whose words: the id of a rule; the same words may mean other things elsewhere
  std::string text;  // whole, in English; {} or {0}, {1}, … for each of:
  std::vector<Place> places;

  Message() = default;
  Message(std::string itsContext, std::string english, std::vector<Place> stands);
  // Something that is told as it is: a name, or a sentence that was made elsewhere.
  Message(std::string asItIs);  // NOLINT: implicit by intent
  Message(const char* asItIs);  // NOLINT: implicit by intent
  Message(const Message&);
  Message(Message&&) noexcept;
  Message& operator=(const Message&);
  Message& operator=(Message&&) noexcept;
  ~Message();
  bool empty() const { return text.empty(); }
  bool operator==(const Message&) const;
  // Words are compared as words: inWords(message) == "…".
  bool operator==(const std::string&) const = delete;
  bool operator==(const char*) const = delete;
};

// What stands in a place: a name or a phrase as it is, a count, a quantity, a message of its own,
// or several of these, told one after the other: "A, B and C".
struct Place {
  using Several = std::vector<Place>;
  std::variant<std::string, std::int64_t, Quantity, Message, Several> what;

  Place(std::string name) : what(std::move(name)) {}                    // NOLINT
  Place(const char* name) : what(std::string(name)) {}                  // NOLINT
  Place(int count) : what(std::int64_t{count}) {}                       // NOLINT
  Place(std::size_t count) : what(static_cast<std::int64_t>(count)) {}  // NOLINT
  Place(Quantity quantity) : what(quantity) {}                          // NOLINT
  Place(Message message) : what(std::move(message)) {}                  // NOLINT
  Place(Several several) : what(std::move(several)) {}                  // NOLINT
  Place(const std::vector<std::string>& names);                         // NOLINT
  bool operator==(const Place&) const = default;
};

// Makes the messages of one context: `const Say say("led-dark"); say("{} stays dark", name)`.
class Say {
 public:
  explicit constexpr Say(const char* context) : context_(context) {}
  template <typename... Stands>
  Message operator()(const char* english, Stands&&... places) const {
    return {context_, english, {Place(std::forward<Stands>(places))...}};
  }

 private:
  const char* context_;
};

// Several sentences, told one behind the other.
class Sentences {
 public:
  Sentences() = default;
  template <typename Text>
  requires std::is_convertible_v<Text, Message> &&(!std::is_same_v<std::decay_t<Text>, Sentences>)
      Sentences(Text&& first) {  // NOLINT: implicit by intent
    add(Message(std::forward<Text>(first)));
  }
  Sentences& add(Message next);
  Sentences& add(const Sentences& next);
  const std::vector<Message>& all() const { return all_; }
  bool empty() const { return all_.empty(); }
  void clear() { all_.clear(); }
  bool operator==(const Sentences&) const = default;

 private:
  std::vector<Message> all_;
};

// The words of a language for an English text of a context. One that gives nothing, or places that
// do not fit, leaves it English.
using Translate =
    std::function<std::string(const std::string& context, const std::string& english)>;
std::string inWords(const Message& message, const Translate& translate = {});
std::string inWords(const Sentences& sentences, const Translate& translate = {});
std::string inWords(const Quantity& quantity, const Translate& translate = {});

}  // namespace ignavo
