#pragma once
#include <algorithm>
#include <cassert>
#include <compare>
#include <cstddef>
#include <iterator>
#include <memory>
#include <utility>
#include <vector>

namespace ignavo {

// A long row of values that grows at its end and is forgotten from its beginning. Copies share the
// pages that are full, so that one takes as long as there are pages, and a page more.
template <typename T>
class Pages {
 public:
  static constexpr std::size_t each = 128;  // values of a page

  std::size_t size() const { return full_.size() * each + tail_.size() - dropped_; }
  bool empty() const { return size() == 0; }
  const T& operator[](std::size_t i) const {
    assert(i < size());
    const std::size_t k = i + dropped_, page = k / each;
    return page < full_.size() ? (*full_[page])[k % each] : tail_[k - full_.size() * each];
  }
  const T& front() const { return (*this)[0]; }
  const T& back() const { return (*this)[size() - 1]; }

  void push(T value) {
    tail_.push_back(std::move(value));
    if (tail_.size() < each) return;
    full_.push_back(std::make_shared<const std::vector<T>>(std::move(tail_)));
    tail_.clear();
  }
  void replaceBack(T value) {
    keepFirst(size() - 1);
    push(std::move(value));
  }
  // Forgets all but so many.
  void keepFirst(std::size_t count) {
    assert(count <= size());
    const std::size_t k = count + dropped_, page = k / each;
    if (page < full_.size()) {
      const std::vector<T>& cut = *full_[page];
      tail_.assign(cut.begin(), cut.begin() + static_cast<std::ptrdiff_t>(k % each));
      full_.resize(page);
    } else {
      tail_.resize(k - full_.size() * each);
    }
    tidy();
  }
  void dropFirst(std::size_t count) {
    assert(count <= size());
    dropped_ += count;
    const std::size_t pages = std::min(dropped_ / each, full_.size());
    full_.erase(full_.begin(), full_.begin() + static_cast<std::ptrdiff_t>(pages));
    dropped_ -= pages * each;
    tidy();
  }

  class Iterator {
   public:
    using iterator_category = std::random_access_iterator_tag;
    using value_type = T;
    using difference_type = std::ptrdiff_t;
    using pointer = const T*;
    using reference = const T&;
    Iterator() = default;
    Iterator(const Pages& of, std::size_t place)
        : of_(&of), place_(static_cast<std::ptrdiff_t>(place)) {}
    reference operator*() const { return (*of_)[static_cast<std::size_t>(place_)]; }
    pointer operator->() const { return &**this; }
    reference operator[](difference_type n) const { return *(*this + n); }
    Iterator& operator+=(difference_type n) { return place_ += n, *this; }
    Iterator& operator-=(difference_type n) { return place_ -= n, *this; }
    Iterator& operator++() { return *this += 1; }
    Iterator& operator--() { return *this -= 1; }
    Iterator operator++(int) { return std::exchange(*this, *this + 1); }
    Iterator operator--(int) { return std::exchange(*this, *this - 1); }
    friend Iterator operator+(Iterator a, difference_type n) { return a += n; }
    friend Iterator operator+(difference_type n, Iterator a) { return a += n; }
    friend Iterator operator-(Iterator a, difference_type n) { return a -= n; }
    friend difference_type operator-(Iterator a, Iterator b) { return a.place_ - b.place_; }
    friend bool operator==(Iterator a, Iterator b) { return a.place_ == b.place_; }
    friend auto operator<=>(Iterator a, Iterator b) { return a.place_ <=> b.place_; }

   private:
    const Pages* of_ = nullptr;
    std::ptrdiff_t place_ = 0;
  };
  Iterator begin() const { return {*this, 0}; }
  Iterator end() const { return {*this, size()}; }

 private:
  // What is dropped of the first page stays where that is shared; of the last it need not.
  void tidy() {
    if (!full_.empty()) return;
    tail_.erase(tail_.begin(), tail_.begin() + static_cast<std::ptrdiff_t>(dropped_));
    dropped_ = 0;
  }

  std::vector<std::shared_ptr<const std::vector<T>>> full_;
  std::vector<T> tail_;      // fewer than a page
  std::size_t dropped_ = 0;  // of the first page
};

}  // namespace ignavo
