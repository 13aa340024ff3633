// SPDX-License-Identifier: MIT
#pragma once

// One thread's part of an evaluation: answers what behaviours ask of the scene, and collects what they report.

#include <optional>
#include <span>
#include <utility>
#include <vector>

#include "lanes/conversions.hpp"
#include "scene/feeds.hpp"
#include "scene/flocks.hpp"
#include "scene/inputs.hpp"
#include "scene/layout.hpp"
#include "scene/nearest.hpp"
#include "scene/object_clocks.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

/// An object that was gathered at a tick, and what happens to it then.
struct Gathering {
  Index behaviour;
  Object by;
  Gathered then;
};

/// What the behaviours of one chunk have reported and the scene has not received yet.
struct Reports {
  struct Raised {
    Event event;
    bool for_rules;  ///< see `EventQueue::push_for_program`
  };
  std::vector<Raised> events;
  std::vector<Gathering> gatherings;
};

/// The parts of a scene that behaviours read while they are evaluated, and their own.
struct WorkerData {
  Registry& registry;
  Layout& layout;
  const TickMemory& ticks;
  const ObjectClocks& clocks;
  const Inputs& inputs;
  const Feeds& feeds;
  const Flocks& flocks;
  const Nearest& nearest;
};

class Worker final : public SceneQuery {
 public:
  explicit Worker(const WorkerData& data) : SceneQuery{&data.registry}, data_{data} {}

  /// What is evaluated from now on belongs to a moment, to objects with a clock, and to a chunk, whose reports
  /// are given.
  void turn_to(Time moment, Index clock, Reports& reports) {
    evaluated_at_ = moment;
    clock_ = clock;
    reports_ = &reports;
  }
  /// The lanes of the last block in which code of the user failed, one bit each; forgets them.
  unsigned take_failed_lanes() { return std::exchange(failed_lanes_, 0U); }
  void raise(Event event, bool for_rules = true) const;

  Pose world_of(Object object, std::uint32_t reader) const override;
  PoseLane place_of(Object object, std::uint32_t reader) const override;
  void failed(std::uint32_t behaviour, const BehaviourFailure& failure) const override;
  void emit(std::uint32_t behaviour, EventName name, int number, Time at) const override;

  bool is_there(Object object) const override { return data_.registry.is_there(object); }
  bool has_tag(Object object, std::string_view tag) const override { return data_.registry.has_tag(object, tag); }
  std::optional<Object> nearest(const ObjectList& list, const Vec3& point, Object owner,
                                std::uint32_t reader) const override {
    if (data_.registry.behaviours[reader].common.reads == Reads::now) return std::nullopt;
    return data_.nearest.find(list, numbers(point), owner, evaluated_at_ <= data_.ticks.at);
  }
  bool is_held(std::string_view key) const override { return data_.inputs.key(key).held; }
  double axis(std::string_view name) const override { return data_.inputs.axis(name); }
  std::span<const NeighbourSums> neighbour_sums(std::uint32_t reader) const override {
    return data_.flocks.neighbour_sums(reader);
  }
  std::span<const Obstacle> obstacles(std::uint32_t reader, std::size_t sense) const override {
    return data_.flocks.obstacles(reader, sense);
  }
  FedMotion fed_motion(Object object, Time at) const override { return data_.feeds.motion(object, at); }
  std::uint64_t feeds_edition() const override { return data_.feeds.edition(); }
  void gathered(std::uint32_t behaviour, Object by, Gathered then) const override {
    const Registry& registry = data_.registry;
    if (!registry.presences[registry.behaviours[behaviour].object].ended)
      reports_->gatherings.push_back({behaviour, by, then});
  }

 private:
  WorkerData data_;
  Time evaluated_at_ = {};
  Index clock_ = 0;  ///< see `ObjectClocks`
  Reports* reports_ = nullptr;
  mutable unsigned failed_lanes_ = 0;
};

}  // namespace hushed::detail
