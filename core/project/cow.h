#pragma once
#include <memory>
#include <utility>

namespace ignavo {

// A value that is shared until it is edited. Copying costs one pointer, so a
// list of earlier projects shares everything that did not change. Never null.
template <typename T>
class Cow {
 public:
  Cow() : held_(std::make_shared<T>()) {}
  Cow(T value) : held_(std::make_shared<T>(std::move(value))) {}  // NOLINT: implicit by intent

  const T& operator*() const { return *held_; }
  const T* operator->() const { return held_.get(); }

  // The value for writing; copied first if anybody else looks at it.
  T& edit() {
    if (held_.use_count() > 1) held_ = std::make_shared<T>(*held_);
    return *held_;
  }
  bool sharesWith(const Cow& other) const { return held_ == other.held_; }
  friend bool operator==(const Cow& a, const Cow& b) {
    return a.held_ == b.held_ || *a.held_ == *b.held_;
  }

 private:
  std::shared_ptr<T> held_;
};

}  // namespace ignavo
