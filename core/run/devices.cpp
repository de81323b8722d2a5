#include "run/devices.h"

#include <algorithm>

namespace ignavo {

Devices::Devices(const Devices& other)
    : tree_(other.tree_), versions_(other.versions_), first_(other.first_) {
  devices_.reserve(other.devices_.size());
  for (const auto& device : other.devices_) devices_.push_back(copyOf(*device));
}

std::unique_ptr<Device> Devices::copyOf(const Device& device) {
  std::unique_ptr<Device> copy = device.copy();
  copy->place_ = device.place_;
  copy->version_ = device.version_;
  return copy;
}

void Devices::follow(const Devices& later) {
  assert(versions_ <= later.versions_);
  devices_.resize(later.devices_.size());
  for (std::size_t i = 0; i < devices_.size(); ++i) {
    const Device& device = *later.devices_[i];
    if (!devices_[i] || devices_[i]->version_ != device.version_)
      devices_[i] = copyOf(device);
    else
      devices_[i]->place_ = device.place_;
  }
  tree_ = later.tree_;
  versions_ = later.versions_;
  first_ = later.first_;
}

Devices& Devices::operator=(const Devices& other) {
  if (this != &other) *this = Devices(other);
  return *this;
}

int Devices::add(std::unique_ptr<Device> device) {
  devices_.push_back(std::move(device));
  devices_.back()->version_ = ++versions_;
  plant();
  return count() - 1;
}

// The tree anew.
void Devices::plant() {
  std::size_t wide = 1;
  while (wide < devices_.size()) wide *= 2;
  tree_.assign(2 * wide, never);
  for (std::size_t i = 0; i < devices_.size(); ++i) {
    devices_[i]->place_ = static_cast<int>(i);
    tree_[wide + i] = devices_[i]->due();
  }
  for (std::size_t k = wide; k-- > 1;) tree_[k] = std::min(tree_[2 * k], tree_[2 * k + 1]);
  std::size_t k = 1;
  while (k < wide) k = tree_[2 * k] == tree_[k] ? 2 * k : 2 * k + 1;
  first_ = static_cast<int>(k - wide);
}

void Devices::note(Device& device) {
  device.version_ = ++versions_;
  const std::size_t wide = leaves();
  std::size_t k = wide + static_cast<std::size_t>(device.place_);
  const Nanoseconds due = device.due();
  if (tree_[k] == due) return;
  tree_[k] = due;
  while (k > 1) {
    k /= 2;
    const Nanoseconds earlier = std::min(tree_[2 * k], tree_[2 * k + 1]);
    if (tree_[k] == earlier && k > 1) break;
    tree_[k] = earlier;
  }
  k = 1;
  while (k < wide) k = tree_[2 * k] == tree_[k] ? 2 * k : 2 * k + 1;
  first_ = static_cast<int>(k - wide);
}

Nanoseconds Devices::dueBeside(int place) const {
  Nanoseconds soonest = never;
  for (std::size_t k = leaves() + static_cast<std::size_t>(place); k > 1; k /= 2)
    soonest = std::min(soonest, tree_[k ^ 1]);
  return soonest;
}

Device::Done Devices::act(Run& run) {
  Device& device = *devices_[static_cast<std::size_t>(first_)];
  const Device::Done done = device.act(run);
  note(device);
  return done;
}

void Devices::jump(int place, const Device& then, Nanoseconds later, std::int64_t times) {
  Device& device = *devices_[static_cast<std::size_t>(place)];
  device.jump(then, later, times);
  note(device);
}

std::vector<std::unique_ptr<Device>> Devices::exchange(
    int from, int until, std::vector<std::unique_ptr<Device>> others) {
  const auto begin = devices_.begin() + from, end = devices_.begin() + until;
  std::vector<std::unique_ptr<Device>> out(std::make_move_iterator(begin),
                                           std::make_move_iterator(end));
  for (auto& device : others) device->version_ = ++versions_;
  devices_.insert(devices_.erase(begin, end), std::make_move_iterator(others.begin()),
                  std::make_move_iterator(others.end()));
  plant();
  return out;
}

}  // namespace ignavo
