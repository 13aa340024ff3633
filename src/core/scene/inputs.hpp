// SPDX-License-Identifier: MIT
#pragma once

// Keys and axes at ticks. A change between two ticks takes effect at the second.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/archive.hpp>
#include <hushed/input.hpp>

namespace hushed::detail {

/// The state of all keys and axes.
struct InputState {
  struct Key {
    bool held = false;      ///< at the last tick
    bool pressed = false;   ///< since the tick before
    bool released = false;  ///< since the tick before
  };
  std::vector<Key> keys;     ///< by number
  std::vector<double> axes;  ///< by number
  std::size_t taken = 0;     ///< the number of changes that have taken effect, counted from the beginning
};

class Inputs {
 public:
  /// Throws `BadValue`. A change that was announced `beforehand` is repeated after going back in time; others are not.
  void add(const InputChange& change, bool beforehand);
  /// Lets all changes before that time take effect.
  void tick(Time at) noexcept;

  const InputState::Key& key(std::string_view name) const;
  double axis(std::string_view name) const;

  const InputState& state() const { return state_; }
  std::optional<Time> last() const {
    return changes_.empty() ? std::nullopt : std::optional{changes_.back().what.time};
  }
  /// Returns to a state; changes since then take effect again.
  void rewind(const InputState& state);
  /// Drops changes after that time that were not announced beforehand. Returns true where there were any.
  bool forget_after(Time time);
  /// Drops changes that had taken effect in that state; no earlier state will be needed again.
  void forget_before(const InputState& state);
  void archive(Archive& archive);
  /// Numbers keys and axes as `then` does, which may be of another scene. To be called before `rewind`.
  void use_numbers_of(const Inputs& then);
  /// Returns to earlier inputs, and keeps changes that were announced since.
  void restore_state(const Inputs& then);

 private:
  struct Change {
    InputChange what;
    std::size_t number;  ///< the index of its key or axis
    std::size_t serial;
    bool beforehand;
  };
  /// Inserts in the order of times, and returns the index.
  std::size_t insert(Change change);
  std::size_t number_of(std::vector<std::string>& names, const std::string& name);

  std::vector<Change> changes_;  ///< in the order of their times
  std::size_t forgotten_ = 0;    ///< the number of changes dropped at the front
  std::vector<std::string> keys_, axes_;
  InputState state_;
  std::size_t made_ = 0;
};

}  // namespace hushed::detail
