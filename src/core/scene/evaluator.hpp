// SPDX-License-Identifier: MIT
#pragma once

// Shows the scene at a moment: takes every object up its stack, and dresses what comes out of behaviours that
// wait, fade, are bridged or held.

#include <array>
#include <span>
#include <string>
#include <vector>

#include <hushed/behaviour/attract.hpp>

#include "scene/event_queue.hpp"
#include "scene/flocks.hpp"
#include "scene/inputs.hpp"
#include "scene/layout.hpp"
#include "scene/nearest.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

/// What is asked for.
struct EvalRequest {
  Time now;
  Remember remember = Remember::nothing;
  bool begin = false;        ///< start what is due
  bool around = false;       ///< only what `start_with_dependencies` has gathered may start
  bool ticked_only = false;  ///< only what is evaluated at ticks, but for what stands apart
  bool the_others = false;   ///< only what is not, those having just been
  bool tell = false;         ///< raise events
};

/// One behaviour's view of a moment.
struct BehaviourSample {
  Start start;  ///< the pose coming in, and what it is told
  Pose given;   ///< by the behaviour itself
  Pose out;     ///< with its weight, and without its bridge
  Pose output;  ///< with all
};

class Evaluator final : public SceneQuery {
 public:
  Evaluator(Registry& registry, Layout& layout, TickMemory& ticks, EventQueue& events, const Inputs& inputs,
            const Flocks& flocks, const Nearest& nearest)
      : SceneQuery{registry.user_code},
        registry_{registry},
        layout_{layout},
        ticks_{ticks},
        events_{events},
        inputs_{inputs},
        flocks_{flocks},
        nearest_{nearest} {}

  void evaluate(const EvalRequest& instant) noexcept;
  /// Advances memory to a tick, but for what stands apart.
  void tick(Time at) noexcept;
  /// Those that decide at ticks do, once all has been seen as it is at this one.
  void decide(Time at) noexcept;
  /// What the urges of a behaviour want, in the moment that the world poses show.
  std::vector<UrgeShare> urges(Index behaviour, Time now);
  /// How many ticks those that stand apart may be behind.
  static constexpr std::size_t most_lag = 8;
  std::size_t lag() const { return lag_; }
  /// What stands apart takes the ticks that it is behind, block by block.
  void catch_up() noexcept;
  /// One object alone, with all that it depends on: what is due there starts at `now`.
  void start_with_dependencies(Index object, Time now) noexcept;
  /// Makes room for what `start_with_dependencies` gathers, once the cast is laid out.
  void make_room();
  /// The pose in the parent's space at `now`, which must be the moment the world poses show.
  Pose local(Index object, Time now);
  /// What one behaviour is given and gives at `now`, which must be the moment the world poses show.
  BehaviourSample sample(Index behaviour, Time now, Remember remember = Remember::nothing);
  /// What one behaviour is given and gives at `now`; memory that can be advanced to `now` is.
  BehaviourSample advance_and_sample(Index behaviour, Time now);

  /// Writes down whether the behaviour needs more than its kernel at `now`, and what its clock says.
  void update_lane(Index behaviour, Time now);
  double level(const Run& run, Time now) const;
  bool starts_without_bridge(const BehaviourRecord& behaviour) const;
  /// Sets off a bridge from the pose that was shown to the one that would come out now.
  void bridge(BehaviourRecord& behaviour, const Pose& output, const Pose& out, Time now) const;
  OwnTime own_time_of(const Run& run, Time now) const;
  bool is_frozen(const BehaviourRecord& behaviour) const;
  /// What it gives while it stands still.
  Pose frozen_pose(const BehaviourRecord& behaviour, const Pose& in) const;
  bool adds_displacement(const BehaviourRecord& behaviour) const;
  /// From now on it stands still where it was shown.
  void hold(BehaviourRecord& behaviour, const Pose& in, const Pose& output) const;
  /// It has begun, and did not fail at the last tick.
  bool is_active_behaviour(const BehaviourRecord& behaviour) const;
  Pose bridged(const Run& run, const Pose& out, Time now) const;

  Pose world_of(Object object, std::uint32_t reader) const override;
  const Pose* place_of(Object object, std::uint32_t reader) const override;
  void failed(std::uint32_t behaviour, const BehaviourFailure& failure) const override;
  void emit(std::uint32_t behaviour, std::string_view name, int number, Time at) const override;

  bool is_there(Object object) const override { return registry_.is_there(object); }
  std::optional<Object> nearest(const ObjectList& list, const Vec3& point, Object owner,
                                std::uint32_t reader) const override {
    if (registry_.behaviours[reader].common.reads == Reads::now) return std::nullopt;
    return nearest_.find(list, numbers(point), owner, evaluated_at_ <= ticks_.at);
  }
  bool is_held(std::string_view key) const override { return inputs_.key(key).held; }
  double axis(std::string_view name) const override { return inputs_.axis(name); }
  std::span<const NeighbourSums> neighbour_sums(std::uint32_t reader) const override {
    return flocks_.neighbour_sums(reader);
  }
  std::span<const Obstacle> obstacles(std::uint32_t reader, std::size_t sense) const override {
    return flocks_.obstacles(reader, sense);
  }
  void gathered(std::uint32_t behaviour, Object by, Gathered then) const override {
    if (!registry_.objects[registry_.behaviours[behaviour].object].ended) gatherings.push_back({behaviour, by, then});
  }

  Time last_tick = {};  ///< when memory was last advanced

  /// Who was gathered at a tick, and what is to become of it.
  struct Gathering {
    Index behaviour;
    Object by;
    Gathered then;
  };
  mutable std::vector<Gathering> gatherings;

 private:
  void collect_dependencies(Index object) noexcept;
  bool is_in_start_set(Index object) const { return start_set_of_[object] == start_set_number_; }
  struct OwnTimes {
    Row whole, rest;
  };
  /// One time through the scene, or through some of it.
  struct Pass {
    EvalRequest instant;
    EvalContext context;  ///< what is the same for all blocks, and where it stands in the one at hand
    OwnTimes scene;       ///< of what started with the scene
  };

  void evaluate_chunk(const Chunk& chunk, Pass& pass) noexcept;
  /// Eight objects: rest pose, up the stack, into the world.
  void evaluate_block(const Group& group, Index block, Pass& pass) noexcept {
    evaluate_block(group, block, std::span{&pass, 1});
  }
  /// Eight objects through several passes, one after another; only the last one shows.
  void evaluate_block(const Group& group, Index block, std::span<Pass> passes) noexcept;
  /// Eight in the world.
  void store_worlds(const Group& group, Index block, const PoseBlock& pose) noexcept;
  /// Several ticks of one length, and nothing is put to rest at one of them that is not the last.
  static bool are_alike(std::span<const Pass> ticks);
  /// Eight through all of them in one go, if that can be.
  bool advance_many(const Group& group, Index block, std::span<Pass> ticks) noexcept;
  Pass pass_at(const EvalRequest& instant);
  /// Points the moment to own times of the block; they may be in `own`.
  void set_clocks(const Batch& batch, Index block, Pass& pass, OwnTimes& own) const;
  /// Up to the storey of that number, which is left out.
  void evaluate_stack(const Group& group, Index height, Index block, PoseBlock& pose, Pass& pass) noexcept;
  /// Those lanes of a block that have just failed show what comes in, bridged.
  void show_failed(const Batch& batch, Index block, PoseBlock& pose, Time now) const;
  void evaluate_with_transitions(Batch& batch, Index block, PoseBlock& pose, Pass& pass) noexcept;
  bool waits_for_lost(BehaviourRecord& behaviour, Time now) noexcept;
  bool start_if_due(BehaviourRecord& behaviour, const Pose& in, int lane, const Pass& pass) noexcept;
  Pose weighted(const BehaviourRecord& behaviour, const Pose& in, const Pose& given, Time now) const;
  bool is_in_transition(const BehaviourRecord& behaviour, Time now) const;
  void gather_parents(const Group& group, Index block, PoseBlock& frame) const;

  Registry& registry_;
  Layout& layout_;
  TickMemory& ticks_;
  EventQueue& events_;
  const Inputs& inputs_;
  const Flocks& flocks_;
  const Nearest& nearest_;
  mutable std::uint8_t failed_lanes_ = 0;     ///< of the block that was evaluated last: a bit a lane
  Time evaluated_at_ = {};                    ///< the moment that is being evaluated
  std::array<Pass, most_lag> lagging_ticks_;  ///< the ticks that what stands apart is behind
  std::size_t lag_ = 0;

  std::vector<Index> start_set_;             ///< an object and all that it depends on
  std::vector<std::uint32_t> start_set_of_;  ///< by object: the last gathering it was in
  std::uint32_t start_set_number_ = 0;
};

}  // namespace hushed::detail
