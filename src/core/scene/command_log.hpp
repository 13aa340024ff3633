// SPDX-License-Identifier: MIT
#pragma once

// The commands of the program, so that `seek` can repeat them. Commands of rules are not recorded: rules act again by
// themselves.

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
  Index target = none;          ///< an object or a behaviour; none for raise
  Index pose = none;            ///< for place; none: the pose of the next jump in what was fed
  std::string_view event = {};  ///< for raise
  Vec3 by = Vec3::Zero();       ///< for kick
  Time at = {};                 ///< when it was called
};

/// Commands in the order of their times, and the number of them that have been executed in the present state.
class CommandLog {
 public:
  /// Records a command that is executed now. Commands that were not executed again are dropped: the play differs from
  /// here on.
  void add(const Command& command) {
    commands_.resize(done_ - forgotten_);
    commands_.push_back(command);
    ++done_;
  }
  /// The next command that is due by `now`, or nullptr. It counts as executed from now on.
  const Command* next(Time now) {
    const bool is_due = done_ - forgotten_ < commands_.size() && commands_[done_ - forgotten_].at <= now;
    return is_due ? &commands_[done_++ - forgotten_] : nullptr;
  }
  /// The time of the next command; `Time::max()` where there is none.
  Time next_time() const {
    return done_ - forgotten_ < commands_.size() ? commands_[done_ - forgotten_].at : Time::max();
  }

  /// The number of executed commands, counted from the beginning of the log.
  std::size_t done() const { return done_; }
  void go_back_to(std::size_t done) { done_ = done; }
  /// Drops all commands after that time. Returns true where there were any.
  bool forget_after(Time time) {
    const auto later = std::upper_bound(commands_.begin(), commands_.end(), time,
                                        [](Time moment, const Command& command) { return moment < command.at; });
    const bool any = later != commands_.end();
    commands_.erase(later, commands_.end());
    return any;
  }
  /// Drops the commands before that number; no earlier state will be needed again.
  void forget_before(std::size_t number) {
    const std::size_t count = std::min(number - forgotten_, commands_.size());
    commands_.erase(commands_.begin(), commands_.begin() + static_cast<std::ptrdiff_t>(count));
    forgotten_ += count;
  }
  void clear() { *this = {}; }
  std::size_t size() const { return commands_.size(); }

 private:
  std::vector<Command> commands_;
  std::size_t forgotten_ = 0;  ///< the number of commands dropped at the front
  std::size_t done_ = 0;       ///< counted with the dropped ones
};

}  // namespace hushed::detail
