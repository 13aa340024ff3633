// SPDX-License-Identifier: MIT
#pragma once

// The program's callbacks for events.

#include <functional>
#include <string>
#include <vector>

#include <hushed/detail/scene_access.hpp>
#include <hushed/event.hpp>

#include "scene/event_queue.hpp"

namespace hushed::detail {

class Callbacks {
 public:
  using Callback = std::function<void(const Event&)>;

  void add(std::string event, Callback callback) { listeners_.push_back({std::move(event), std::move(callback)}); }
  /// Calls the callbacks for all events of the queue. A callback that throws raises a `failed` event at `now`.
  void call(EventQueue& events, Time now) noexcept;
  /// A callback is being called.
  bool are_running() const { return are_running_; }
  /// Takes over the callbacks of another scene.
  void take_from(Callbacks& other) { listeners_ = std::move(other.listeners_); }

  int muted = 0;               ///< while it is greater than 0, no callback is called
  Journal* journal = nullptr;  ///< records the calls that callbacks make; nullptr: they are not recorded

 private:
  struct Listener {
    std::string event;
    Callback callback;
  };
  std::vector<Listener> listeners_;
  bool are_running_ = false;
};

}  // namespace hushed::detail
