// SPDX-License-Identifier: MIT
#pragma once

// Evaluates the scene at a moment: every object up its stack of behaviours, with the transitions of those that wait,
// fade, are bridged or hold their pose (transitions.cpp).

#include <array>
#include <memory>
#include <span>
#include <vector>

#include "scene/event_queue.hpp"
#include "scene/layout.hpp"
#include "scene/nearest.hpp"
#include "scene/registry.hpp"
#include "scene/thread_pool.hpp"
#include "scene/worker.hpp"

namespace hushed::detail {

/// Which behaviours may start in an evaluation, of those that are due.
enum class Starts {
  none,
  all,
  start_set  ///< those of the objects in the start set
};

/// Which groups are evaluated.
enum class Scope {
  all,
  at_ticks,     ///< those that are evaluated at ticks, without the independent ones
  not_at_ticks  ///< the others, where those have just been evaluated
};

/// What one evaluation does.
struct EvalRequest {
  Time now;
  Remember remember = Remember::nothing;
  Starts starts = Starts::none;
  Scope scope = Scope::all;
  bool emit_events = false;
};

/// The poses of one behaviour at a moment.
struct BehaviourSample {
  Start start;  ///< the incoming pose and the arguments of the evaluation
  Pose given;   ///< the output of the kernel
  Pose out;     ///< with its weight, without its bridge
  Pose output;  ///< with its weight and its bridge
};

class Evaluator {
 public:
  Evaluator(const WorkerData& data, Nearest& nearest, EventQueue& events)
      : registry_{data.registry}, layout_{data.layout}, data_{data}, nearest_{nearest}, events_{events} {
    set_threads(1);
  }

  /// The number of threads that evaluate the scene, with the calling one. The layout is to be computed anew afterwards.
  void set_threads(int count);
  int threads() const { return pool_.size(); }

  /// Evaluates the world poses of all groups in the scope of the request.
  void evaluate(const EvalRequest& request) noexcept;
  /// Advances state to a tick. Independent groups take the tick later, in `catch_up`.
  void tick(Time at) noexcept;
  /// Lets agents decide, once the neighbour queries of this tick are answered.
  void decide(Time at) noexcept;
  /// What each urge of an agent would want at `now`; empty for other kinds. The world poses must be those of `now`.
  std::vector<UrgeShare> urges(Index behaviour, Time now);
  /// The largest number of ticks by which independent groups may lag.
  static constexpr std::size_t most_lag = 8;
  std::size_t lag() const { return lag_; }
  /// Advances independent groups by the ticks they lag, block by block.
  void catch_up() noexcept;
  /// Adds an object and all its dependencies to what `evaluate_start_set` evaluates.
  void add_to_start_set(Index object) noexcept;
  /// Evaluates the start set at `now`; behaviours of it that are due there start. It is empty afterwards.
  void evaluate_start_set(Time now) noexcept;
  /// Reserves memory, after a new layout.
  void reserve();
  /// Reserves memory for an object that was added to the layout.
  void add(Index object);
  /// To be called before an object is removed from the layout.
  void remove(Index object);
  /// The number of events, and of gatherings, for which a frame needs memory.
  std::size_t most_events() const { return all_counts_.events(); }
  std::size_t most_gatherings() const { return all_counts_.emitters; }
  /// The pose in the parent's space at `now`. The world poses must be those of `now`.
  Pose local(Index object, Time now);
  /// The poses of one behaviour at `now`. The world poses must be those of `now`.
  BehaviourSample sample(Index behaviour, Time now, Remember remember = Remember::nothing);
  /// The poses of one behaviour at `now`. Its state is advanced to `now` where its kind allows that.
  BehaviourSample advance_and_sample(Index behaviour, Time now);

  /// Updates the lane of a behaviour: whether it is in a transition at `now`, and its clock.
  void update_lane(Index behaviour, Time now);
  bool starts_without_bridge(const BehaviourRecord& behaviour) const;
  OwnTime own_time_of(const BehaviourRecord& behaviour, Time now) const;
  /// The time of an object, which passes at its pace, at a time of the scene.
  Time object_time(Index object, Time at) const { return data_.clocks.own_at(registry_.objects[object].clock, at); }
  bool is_frozen(const BehaviourRecord& behaviour) const;
  /// The output of a frozen behaviour.
  Pose frozen_pose(const BehaviourRecord& behaviour, const Pose& in) const;
  bool adds_displacement(const BehaviourRecord& behaviour) const;
  /// Stores the pose that a frozen behaviour gives from now on.
  void hold(BehaviourRecord& behaviour, const Pose& in, const Pose& output) const;
  /// True where it has begun and did not fail at the last tick.
  bool is_active(const BehaviourRecord& behaviour) const;

  /// A number that changes whenever world poses may have changed.
  std::uint64_t worlds_edition() const { return worlds_edition_; }

  Time last_tick = {};  ///< the tick to which state was last advanced

  /// The objects that were gathered at the last tick, until the scene has dealt with them.
  std::vector<Gathering> gatherings;

 private:
  void count_reports_of(const BehaviourRecord& behaviour, int step);
  void reserve_reports(Index chunk);
  bool is_in_start_set(Index object) const { return start_set_of_[object] == start_set_number_; }
  struct OwnTimes {
    Row whole, rest;
  };
  /// One evaluation of some or all groups.
  struct Pass {
    EvalRequest request;
    EvalContext context;  ///< the arguments that are equal for all blocks, and those of the present block
    OwnTimes scene;       ///< own times of behaviours that started with their object
    Worker* worker;       ///< the one that evaluates
    Time last_tick;       ///< before the moment
    Index clock;          ///< the clock whose times the context has; see `ObjectClocks`

    Pass by(Worker& other) const {
      Pass pass = *this;
      pass.worker = &other;
      pass.context.query = &other;
      return pass;
    }
  };

  /// Calls `body(worker, chunk)` for each chunk, after the chunks that it depends on; on several threads where there
  /// are several. Then the reports of all chunks are delivered, in the order of chunks.
  template <class Body>
  void for_each_chunk(Body&& body) noexcept;
  void deliver_reports() noexcept;
  /// What a worker evaluates from now on belongs to a block of this group.
  void turn_to(const Group& group, Pass& pass) {
    if (pass.clock != group.clock) set_times(pass, group.clock);
    pass.worker->turn_to(pass.request.now, group.clock, reports_[group.chunk]);
  }
  /// Sets the times of a pass to those of objects with this clock.
  void set_times(Pass& pass, Index clock) const;

  void evaluate_chunk(const Chunk& chunk, Pass& pass) noexcept;
  void decide_chunk(const Chunk& chunk, Pass& pass) noexcept;
  void catch_up_chunk(const Chunk& chunk, std::span<Pass> ticks) noexcept;
  /// Evaluates eight objects: rest poses, the stack, world poses.
  void evaluate_block(const Group& group, Index block, Pass& pass) noexcept {
    evaluate_block(group, block, std::span{&pass, 1});
  }
  /// The number of blocks from `first` on that can be evaluated at once: 1 or more.
  Index run_length(const Group& group, Index first) const;
  void evaluate_run(const Group& group, Index first, Index count, Pass& pass) noexcept;
  /// Evaluates eight objects in several passes, one after another, in their block of world poses.
  void evaluate_block(const Group& group, Index block, std::span<Pass> passes) noexcept;
  /// True for several ticks of equal length of which none but the last may put a motion to rest.
  static bool are_alike(std::span<const Pass> ticks);
  /// Advances the blocks of a run by several ticks at once. Stops at the first block for which that cannot be done, and
  /// returns the number of those before it.
  Index advance_many(const Group& group, Index first, Index count, std::span<Pass> ticks) noexcept;
  Pass pass_at(const EvalRequest& request);
  /// Points the context to the own times of the block, which may be stored in `own`.
  void set_clocks(const Batch& batch, Index block, Pass& pass, OwnTimes& own) const;
  /// Evaluates the lowest `height` levels of the stack.
  void evaluate_stack(const Group& group, Index height, Index block, PoseBlock& pose, Pass& pass) noexcept;
  /// Replaces the output of lanes whose behaviour has just failed by the incoming pose, bridged.
  void show_failed(const Batch& batch, Index block, unsigned failed, PoseBlock& pose, Time now) const;
  void evaluate_with_transitions(Batch& batch, Index block, PoseBlock& pose, Pass& pass) noexcept;
  bool waits_for_lost(BehaviourRecord& behaviour, const Pass& pass) noexcept;
  bool start_if_due(BehaviourRecord& behaviour, const Pose& in, int lane, const Pass& pass) noexcept;
  Pose weighted(const BehaviourRecord& behaviour, const Pose& in, const Pose& given, Time now) const;
  bool is_in_transition(const BehaviourRecord& behaviour, Time now) const;
  /// The poses of the parents of a block, as inherited: a block of world poses, where the parents are its lanes; else
  /// they are copied to `gathered`.
  const PoseBlock& frame_of(const Group& group, Index block, PoseBlock& gathered) const;
  void gather_parents(const Group& group, Index block, PoseBlock& frame) const;

  Registry& registry_;
  Layout& layout_;
  const WorkerData data_;
  Nearest& nearest_;
  EventQueue& events_;
  ThreadPool pool_;
  std::vector<std::unique_ptr<Worker>> workers_;  ///< one for each thread; the first is the calling thread's
  std::vector<Reports> reports_;                  ///< of each chunk
  struct Counts {
    std::size_t observers = 0, emitters = 0;
    std::size_t events() const { return 2 * observers + 16 * emitters; }
  };
  std::vector<Counts> counts_;  ///< of each chunk: behaviours that may report something
  Counts all_counts_;
  std::array<Pass, most_lag> lagging_ticks_;  ///< the ticks by which independent groups lag
  std::size_t lag_ = 0;
  std::uint64_t worlds_edition_ = 1;

  std::vector<Index> start_set_;             ///< objects, and all their dependencies
  std::vector<std::uint32_t> start_set_of_;  ///< by object: the number of the last start set with it
  std::uint32_t start_set_number_ = 1;
};

}  // namespace hushed::detail
