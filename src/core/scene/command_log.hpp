// SPDX-License-Identifier: MIT
#pragma once

// What the program has called while the scene played, so that `seek` can repeat it. Commands of rules are not in it:
// rules act again by themselves.

#include <algorithm>
#include <cstddef>
#include <string_view>
#include <vector>

#include <hushed/rule.hpp>
#include <hushed/time.hpp>

#include "scene/records.hpp"

namespace hushed::detail {

/// One call that changes a playing scene. Values are not commands: `seek` leaves them as they are.
struct Command {
  Action::Verb verb;
  Index target = none;          ///< an object or a behaviour; of a raise, none
  Index pose = none;            ///< of a place
  std::string_view event = {};  ///< of a raise
  Vec3 by = Vec3::Zero();       ///< of a kick
  Time at = {};                 ///< when it was called
};

/// Commands in the order of their times, and how many of them have been carried out in the present state.
class CommandLog {
 public:
  /// Records a command that is carried out now. Those that were not carried out again are forgotten: the play goes
  /// another way from here.
  void add(const Command& command) {
    commands_.resize(done_ - forgotten_);
    commands_.push_back(command);
    ++done_;
  }
  /// The next command that is due by `now`, or nullptr. It counts as carried out from now on.
  const Command* next(Time now) {
    const bool is_due = done_ - forgotten_ < commands_.size() && commands_[done_ - forgotten_].at <= now;
    return is_due ? &commands_[done_++ - forgotten_] : nullptr;
  }
  /// When the next command is due; `Time::max()` where there is none.
  Time next_time() const {
    return done_ - forgotten_ < commands_.size() ? commands_[done_ - forgotten_].at : Time::max();
  }

  /// How many have been carried out, counted from the beginning of the log.
  std::size_t done() const { return done_; }
  void go_back_to(std::size_t done) { done_ = done; }
  /// Forgets all commands after that time; true where there were any.
  bool forget_after(Time time) {
    const auto later = std::upper_bound(commands_.begin(), commands_.end(), time,
                                        [](Time moment, const Command& command) { return moment < command.at; });
    const bool any = later != commands_.end();
    commands_.erase(later, commands_.end());
    return any;
  }
  /// Forgets the first ones: no state from before the command of that number will be needed again.
  void forget_before(std::size_t number) {
    const std::size_t count = std::min(number - forgotten_, commands_.size());
    commands_.erase(commands_.begin(), commands_.begin() + static_cast<std::ptrdiff_t>(count));
    forgotten_ += count;
  }
  void clear() { *this = {}; }
  std::size_t size() const { return commands_.size(); }

 private:
  std::vector<Command> commands_;
  std::size_t forgotten_ = 0;  ///< how many were dropped at the front
  std::size_t done_ = 0;       ///< counted with the forgotten ones
};

}  // namespace hushed::detail
