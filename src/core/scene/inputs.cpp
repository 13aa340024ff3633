// SPDX-License-Identifier: MIT
#include "scene/inputs.hpp"

#include <algorithm>
#include <iterator>
#include <utility>

#include <hushed/error.hpp>

#include <hushed/value.hpp>
#include "archived_time.hpp"

namespace hushed::detail {

namespace {

std::size_t place_of(const std::vector<std::string>& names, std::string_view name) {
  return static_cast<std::size_t>(std::find(names.begin(), names.end(), name) - names.begin());
}

}  // namespace

void Inputs::add(const InputChange& change, bool beforehand) {
  const bool is_axis = change.what == InputChange::What::axis;
  if (change.what < InputChange::What::down || change.what > InputChange::What::axis)
    throw BadValue{"unknown change of input, number " + std::to_string(static_cast<int>(change.what)) +
                   "; give down, up or axis."};
  if (change.name.empty())
    throw BadValue{is_axis ? "the name of the axis is empty; give one, such as \"forward\"."
                           : "the name of the key is empty; give one, such as \"H\"."};
  if (is_axis && !(change.value >= -1.0 && change.value <= 1.0))
    throw BadValue{"axis " + in_quotes(change.name) + ": " + as_text(change.value) +
                   " is out of range; give a number from -1 to 1."};
  const std::size_t number = number_of(is_axis ? axes_ : keys_, change.name);
  insert({change, number, made_++, beforehand});
  state_.keys.resize(keys_.size());
  state_.axes.resize(axes_.size());
}

std::size_t Inputs::insert(Change change) {
  const auto after = std::upper_bound(changes_.begin(), changes_.end(), change.what.time,
                                      [](Time time, const Change& each) { return time < each.what.time; });
  return static_cast<std::size_t>(changes_.insert(after, std::move(change)) - changes_.begin());
}

void Inputs::tick(Time at) noexcept {
  for (InputState::Key& key : state_.keys) key.pressed = key.released = false;
  for (; state_.taken - forgotten_ < changes_.size(); ++state_.taken) {
    const auto& [change, number, serial, beforehand] = changes_[state_.taken - forgotten_];
    if (change.time >= at) break;
    if (change.what == InputChange::What::axis) {
      state_.axes[number] = change.value;
      continue;
    }
    InputState::Key& key = state_.keys[number];
    const bool goes_down = change.what == InputChange::What::down;
    if (key.held == goes_down) continue;  // a key that repeats itself
    key.held = goes_down;
    (goes_down ? key.pressed : key.released) = true;
  }
}

const InputState::Key& Inputs::key(std::string_view name) const {
  static const InputState::Key untouched;
  const std::size_t number = place_of(keys_, name);
  return number < state_.keys.size() ? state_.keys[number] : untouched;
}

double Inputs::axis(std::string_view name) const {
  const std::size_t number = place_of(axes_, name);
  return number < state_.axes.size() ? state_.axes[number] : 0.0;
}

bool Inputs::forget_after(Time time) {
  return std::erase_if(changes_, [time](const Change& each) { return !each.beforehand && each.what.time > time; }) > 0;
}

void Inputs::rewind(const InputState& state) {
  state_ = state;
  state_.keys.resize(keys_.size());
  state_.axes.resize(axes_.size());
}

void Inputs::restore_state(const Inputs& then) {
  std::vector<Change> since;
  std::copy_if(changes_.begin(), changes_.end(), std::back_inserter(since),
               [&](const Change& each) { return each.beforehand && each.serial >= then.made_; });
  changes_ = then.changes_;
  forgotten_ = then.forgotten_;
  rewind(then.state_);
  for (Change& each : since)
    if (insert(std::move(each)) + forgotten_ < state_.taken) ++state_.taken;
}

/// Changes that have taken effect are left out: the state has them.
void Inputs::archive(Archive& archive) {
  archive(keys_, axes_);
  const bool is_reading = archive.is_reading();
  if (is_reading) state_ = {std::vector<InputState::Key>(keys_.size()), std::vector<double>(axes_.size()), 0};
  for (InputState::Key& key : state_.keys) archive(key.held, key.pressed, key.released);
  for (double& axis : state_.axes) archive(axis);
  const std::size_t taken = state_.taken - forgotten_;
  const std::size_t coming = archive.count(is_reading ? 0 : changes_.size() - taken);
  if (is_reading) {
    changes_.assign(coming, {});
    forgotten_ = 0;
    made_ = coming;
  }
  for (std::size_t i = is_reading ? 0 : taken; i < changes_.size(); ++i) {
    Change& change = changes_[i];
    archive_times(archive, change.what.time);
    archive(change.what.name, change.what.what, change.what.value, change.number, change.beforehand);
    if (!is_reading) continue;
    change.serial = i;
    if (change.number >= (change.what.what == InputChange::What::axis ? axes_ : keys_).size()) refuse_damaged_bytes();
  }
}

void Inputs::use_numbers_of(const Inputs& then) {
  const auto merge = [](std::vector<std::string> first, const std::vector<std::string>& more) {
    for (const std::string& name : more)
      if (place_of(first, name) == first.size()) first.push_back(name);
    return first;
  };
  keys_ = merge(then.keys_, keys_);
  axes_ = merge(then.axes_, axes_);
  for (Change& each : changes_)
    each.number = place_of(each.what.what == InputChange::What::axis ? axes_ : keys_, each.what.name);
}

void Inputs::forget_before(const InputState& state) {
  const std::size_t count = state.taken - forgotten_;
  changes_.erase(changes_.begin(), changes_.begin() + static_cast<std::ptrdiff_t>(count));
  forgotten_ = state.taken;
}

std::size_t Inputs::number_of(std::vector<std::string>& names, const std::string& name) {
  const std::size_t number = place_of(names, name);
  if (number == names.size()) names.push_back(name);
  return number;
}

}  // namespace hushed::detail
