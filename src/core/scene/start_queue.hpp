// SPDX-License-Identifier: MIT
#pragma once

// The behaviours whose start must be evaluated at exactly its time.

#include <algorithm>
#include <functional>
#include <vector>

#include <hushed/time.hpp>

#include "scene/records.hpp"

namespace hushed::detail {

/// A priority queue; the earliest start is first.
class StartQueue {
 public:
  void push(Time at, Index behaviour) {
    append(at, behaviour);
    std::push_heap(starts_.begin(), starts_.end(), std::greater{});
  }
  /// Removes the earliest start and returns its behaviour. The queue must not be empty.
  Index take() noexcept {
    const Index behaviour = starts_.front().behaviour;
    std::pop_heap(starts_.begin(), starts_.end(), std::greater{});
    starts_.pop_back();
    return behaviour;
  }
  /// The time of the earliest start; `Time::max()` where there is none.
  Time next_time() const { return starts_.empty() ? Time::max() : starts_.front().at; }

  void clear() { starts_.clear(); }
  /// Adds a start without ordering the queue. `make_order` must follow before any other use.
  void append(Time at, Index behaviour) { starts_.push_back({at, behaviour}); }
  void make_order() { std::make_heap(starts_.begin(), starts_.end(), std::greater{}); }

 private:
  struct Start {
    Time at;
    Index behaviour;
    bool operator>(const Start& other) const { return at > other.at; }
  };
  std::vector<Start> starts_;
};

}  // namespace hushed::detail
