#pragma once
#include <functional>
#include <nlohmann/ordered_map.hpp>
#include <unordered_map>
#include <utility>

namespace ignavo {

// The object of a JSON value: keys in the order of the file, as nlohmann::ordered_map keeps them,
// but found through an index once there are many. A file may hold as many unknown keys as fit in
// it, and each of them must be looked for. Looking up fills the index: not for several threads.
template <typename Key, typename Value, typename Ignored, typename Allocator>
class OrderedObject : public nlohmann::ordered_map<Key, Value, Ignored, Allocator> {
  using Base = nlohmann::ordered_map<Key, Value, Ignored, Allocator>;

 public:
  using Base::Base;
  using typename Base::const_iterator;
  using typename Base::iterator;
  using typename Base::size_type;

  template <typename K>
  std::pair<iterator, bool> emplace(K&& key, Value&& value) {
    const size_type at = placeOf(key);
    if (at != this->size()) return {this->begin() + offset(at), false};
    this->emplace_back(Key(std::forward<K>(key)), std::move(value));
    return {std::prev(this->end()), true};
  }
  template <typename K>
  Value& operator[](K&& key) {
    return emplace(std::forward<K>(key), Value{}).first->second;
  }
  template <typename K>
  iterator find(const K& key) {
    return this->begin() + offset(placeOf(key));
  }
  template <typename K>
  const_iterator find(const K& key) const {
    return this->begin() + offset(placeOf(key));
  }
  template <typename K>
  size_type count(const K& key) const {
    return placeOf(key) == this->size() ? 0 : 1;
  }
  template <typename... Which>
  auto erase(Which&&... which) {
    index_.clear();
    indexed_ = 0;
    return Base::erase(std::forward<Which>(which)...);
  }

 private:
  static constexpr size_type few = 24;  // looked through one by one
  static auto offset(size_type at) { return static_cast<std::ptrdiff_t>(at); }

  // Index of the key; size() when it is not there.
  template <typename K>
  size_type placeOf(const K& key) const {
    const Key wanted(key);
    if (this->size() <= few) {
      for (size_type i = 0; i < this->size(); ++i)
        if (keyAt(i) == wanted) return i;
      return this->size();
    }
    if (indexed_ > this->size()) {  // what it held was moved away
      index_.clear();
      indexed_ = 0;
    }
    for (; indexed_ < this->size(); ++indexed_)
      index_.emplace(std::hash<Key>{}(keyAt(indexed_)), indexed_);
    const auto [from, to] = index_.equal_range(std::hash<Key>{}(wanted));
    for (auto it = from; it != to; ++it)
      if (keyAt(it->second) == wanted) return it->second;
    return this->size();
  }
  const Key& keyAt(size_type i) const { return (this->begin() + offset(i))->first; }

  mutable std::unordered_multimap<std::size_t, size_type> index_;
  mutable size_type indexed_ = 0;
};

}  // namespace ignavo
