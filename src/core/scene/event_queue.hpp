// SPDX-License-Identifier: MIT
#pragma once

// The events that the program or the rules have not seen yet.

#include <algorithm>
#include <cstddef>
#include <numeric>
#include <span>
#include <utility>
#include <vector>

#include <hushed/event.hpp>

#include "archived_time.hpp"

namespace hushed::detail {

/// Events in the order in which they were raised. The program sees each event once, after an advance; the rules process
/// each once, at a tick. Both cursors are part of the state of a scene, and so of its snapshots.
class EventQueue {
 public:
  /// Behaviours raise at most that many events in one advance; more are dropped.
  static constexpr std::size_t most = 1'000'000;

  void push(Event event) {
    events_.push_back(std::move(event));
    for_rules_.push_back(true);
  }
  /// An event that rules do not process, because it depends on the frame rate.
  void push_for_program(Event event) {
    events_.push_back(std::move(event));
    for_rules_.push_back(false);
  }
  std::size_t size() const { return events_.size(); }
  bool empty() const { return events_.empty(); }

  /// The events of the last advance, and those raised since.
  std::span<const Event> all() const { return events_; }
  /// The events that no advance has delivered yet.
  std::span<const Event> undelivered() const { return all().subspan(delivered_); }
  /// Called at the end of an advance: the program can see all events.
  void mark_delivered() { delivered_ = events_.size(); }
  /// Called at the beginning of an advance: removes the events that the last one delivered.
  void remove_delivered() {
    events_.erase(events_.begin(), events_.begin() + static_cast<std::ptrdiff_t>(delivered_));
    for_rules_.erase(for_rules_.begin(), for_rules_.begin() + static_cast<std::ptrdiff_t>(delivered_));
    processed_ -= std::min(processed_, delivered_);
    delivered_ = 0;
  }

  /// The next event that the rules have not processed, or nullptr. It counts as processed from now on.
  const Event* next_for_rules() {
    while (processed_ < events_.size() && !for_rules_[processed_]) ++processed_;
    return processed_ < events_.size() ? &events_[processed_++] : nullptr;
  }

  /// Replaces all events by these, which the rules have processed and the program has not seen.
  void replace_by(std::vector<Event> undelivered) {
    events_ = std::move(undelivered);
    for_rules_.assign(events_.size(), true);
    processed_ = events_.size();
    delivered_ = 0;
  }

  void archive(Archive& archive) {
    const std::size_t count = archive.count(events_.size());
    if (archive.is_reading()) {
      events_.assign(count, {});
      for_rules_.assign(count, false);
    }
    for (std::size_t i = 0; i < count; ++i) {
      Event& event = events_[i];
      bool for_rules = for_rules_[i];
      archive_times(archive, event.time);
      archive(event.name, event.subject, event.behaviour, event.other, event.why, event.number, event.rule);
      archive(for_rules);
      for_rules_[i] = for_rules;
    }
    archive(delivered_, processed_);
    if (delivered_ > count || processed_ > count) refuse_damaged_bytes();
  }
  template <class Visit>
  void for_each(Visit&& visit) {
    for (Event& event : events_) visit(event);
  }

  /// Reserves memory, so that pushing and sorting up to `count` events does not allocate.
  void reserve(std::size_t count) {
    events_.reserve(count);
    for_rules_.reserve(count);
    sorted_.reserve(count);
    order_.reserve(count);
  }

  /// Sorts stably by `comes_before`. The rules must have processed all of them.
  template <class Before>
  void sort(Before&& comes_before) {
    if (std::is_sorted(events_.begin(), events_.end(), comes_before)) return;
    order_.resize(events_.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    std::sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) {
      return comes_before(events_[a], events_[b]) || (!comes_before(events_[b], events_[a]) && a < b);
    });
    sorted_.clear();
    for (const std::size_t each : order_) sorted_.push_back(std::move(events_[each]));
    events_.swap(sorted_);
    sorted_.clear();
  }

 private:
  std::vector<Event> events_;
  std::vector<bool> for_rules_;  ///< for each event: rules process it
  std::size_t delivered_ = 0;    ///< the number of events that the last advance delivered
  std::size_t processed_ = 0;    ///< the number of events that the rules have processed
  std::vector<Event> sorted_;    ///< scratch, kept so that sorting does not allocate
  std::vector<std::size_t> order_;
};

}  // namespace hushed::detail
