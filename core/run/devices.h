#pragma once
#include <cassert>
#include <memory>
#include <vector>

#include "run/device.h"

namespace ignavo {

// The devices of a run in a fixed order, and which of them is due first: of those due at one
// moment, the first in order. A value: copies copy the devices.
//
// A tournament: the moments are the leaves of a binary tree, each inner node the earlier of its
// two; a device that changes plays its way up again, in as many games as the tree is high.
class Devices {
 public:
  Devices() = default;
  Devices(const Devices& other);
  Devices& operator=(const Devices& other);
  Devices(Devices&&) noexcept = default;
  Devices& operator=(Devices&&) noexcept = default;

  // Becomes what it has become since, in the same run: copies only the devices that changed.
  void follow(const Devices& later);

  int add(std::unique_ptr<Device> device);  // its place
  int count() const { return static_cast<int>(devices_.size()); }
  const Device& at(int place) const { return *devices_[static_cast<std::size_t>(place)]; }
  // As its own kind, which must be the right one.
  template <typename Kind>
  const Kind& as(int place) const {
    assert(dynamic_cast<const Kind*>(&at(place)));
    return static_cast<const Kind&>(at(place));
  }
  // Lets something happen to a device, and notes when it is due then.
  template <typename Kind, typename What>
  decltype(auto) touch(int place, What&& what) {
    assert(dynamic_cast<const Kind*>(&at(place)));
    Device& device = *devices_[static_cast<std::size_t>(place)];
    struct Note {
      Devices& list;
      Device& device;
      ~Note() { list.note(device); }
    } after{*this, device};
    return what(static_cast<Kind&>(device));
  }

  // The one that is due first, and when; 0 and `never` where none is.
  int first() const { return first_; }
  Nanoseconds due() const { return tree_.empty() ? never : tree_[1]; }
  Nanoseconds dueOf(int place) const { return tree_[leaves() + static_cast<std::size_t>(place)]; }
  // How often anything changed: the same number, nothing did.
  std::uint64_t changes() const { return versions_; }
  // When the first of all others than one is due.
  Nanoseconds dueBeside(int place) const;
  // Lets the first one act.
  Device::Done act(Run& run);

  // Where it changed since: the same number, the same state.
  std::uint64_t version(int place) const { return at(place).version_; }
  void jump(int place, const Device& then, Nanoseconds later, std::int64_t times);
  // Takes a run of devices out, or puts others in their place; all behind them move.
  std::vector<std::unique_ptr<Device>> exchange(int from, int until,
                                                std::vector<std::unique_ptr<Device>> others);

 private:
  static std::unique_ptr<Device> copyOf(const Device& device);
  void note(Device& device);
  void plant();
  std::size_t leaves() const { return tree_.size() / 2; }

  std::vector<std::unique_ptr<Device>> devices_;
  std::vector<Nanoseconds> tree_;  // [1] the root, [k] above [2k] and [2k + 1]
  std::uint64_t versions_ = 0;     // given out so far
  int first_ = 0;
};

}  // namespace ignavo
