#pragma once
#include <functional>
#include <optional>
#include <utility>

namespace ignavo::app {

// What is made when it is first asked for, so that a start costs no more than it shows.
template <class Made>
class Late {
 public:
  // `make` may be called once, later, or never; it does not ask for what it makes.
  void madeBy(std::function<Made()> make) { make_ = std::move(make); }

  Made* operator->() {
    if (!made_) made_.emplace(make_());
    return &*made_;
  }
  // Null until somebody asked.
  Made* ifMade() { return made_ ? &*made_ : nullptr; }
  const Made* ifMade() const { return made_ ? &*made_ : nullptr; }

 private:
  std::function<Made()> make_;
  std::optional<Made> made_;
};

}  // namespace ignavo::app
