// SPDX-License-Identifier: MIT
#pragma once

// Keys and axes as they are at ticks. What changes between two ticks takes effect at the second.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/input.hpp>

namespace hushed::detail {

/// What a play changes of it.
struct InputState {
  struct Key {
    bool held = false;      ///< at the last tick
    bool pressed = false;   ///< since the tick before
    bool released = false;  ///< since the tick before
  };
  std::vector<Key> keys;     ///< by number
  std::vector<double> axes;  ///< by number
  std::size_t taken = 0;     ///< how many changes have taken effect, counted from the beginning
};

class Inputs {
 public:
  /// Throws `BadValue`. What is made known beforehand comes again after going back in time; the rest is forgotten.
  void add(const InputChange& change, bool beforehand);
  /// What changed before that moment takes effect.
  void tick(Time at) noexcept;

  const InputState::Key& key(std::string_view name) const;
  double axis(std::string_view name) const;

  const InputState& state() const { return state_; }
  std::optional<Time> last() const {
    return changes_.empty() ? std::nullopt : std::optional{changes_.back().what.time};
  }
  /// Back to a state: what has changed since comes again.
  void rewind(const InputState& state);
  /// What was not made known beforehand will not come again after that time.
  /// True where there was any.
  bool forget_after(Time time);
  /// What had taken effect in that state will not come again: it is dropped.
  void forget_before(const InputState& state);
  /// As it was then, but for what has been made known beforehand since.
  void restore_state(const Inputs& then);

 private:
  struct Change {
    InputChange what;
    std::size_t number;  ///< of its key or axis
    std::size_t serial;
    bool beforehand;
  };
  /// Where it is put.
  std::size_t insert(Change change);
  std::size_t number_of(std::vector<std::string>& names, const std::string& name);

  std::vector<Change> changes_;  ///< in the order of their times
  std::size_t forgotten_ = 0;    ///< how many were dropped before the first of them
  std::vector<std::string> keys_, axes_;
  InputState state_;
  std::size_t made_ = 0;
};

}  // namespace hushed::detail
