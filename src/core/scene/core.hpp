// SPDX-License-Identifier: MIT
#pragma once

// The parts of a scene that commands, values, rules and ticks work on, and their layout and poses, which it keeps up to
// date with them.

#include <set>
#include <span>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "scene/clock.hpp"
#include "scene/evaluator.hpp"
#include "scene/event_queue.hpp"
#include "scene/feeds.hpp"
#include "scene/flocks.hpp"
#include "scene/inputs.hpp"
#include "scene/layout.hpp"
#include "scene/layout_editor.hpp"
#include "scene/nearest.hpp"
#include "scene/registry.hpp"
#include "scene/rules.hpp"
#include "scene/start_queue.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

/// The names of events. A view of a name is valid as long as the scene.
class EventNames {
 public:
  std::string_view intern(std::string_view name) {
    const auto found = names_.find(name);
    return found != names_.end() ? *found : *names_.emplace(name).first;
  }

 private:
  std::set<std::string, std::less<>> names_;
};

class SceneCore {
 public:
  /// `tick_rate`: ticks a second, 1 to 10 000. Throws `BadValue`.
  explicit SceneCore(double tick_rate);
  SceneCore(const SceneCore&) = delete;  // its parts refer to each other
  SceneCore& operator=(const SceneCore&) = delete;

  SceneClock clock;
  Registry registry;
  Layout layout;
  EventQueue events;
  EventNames event_names;
  Inputs inputs;
  Feeds feeds;
  TickMemory ticks;
  ObjectClocks clocks;
  Flocks flocks;
  Nearest nearest;
  Evaluator evaluator;
  Rules rules;
  StartQueue starts;

  // --- the run state of behaviours ---
  /// Adds a behaviour at the top of the object's stack. It starts at the present time, after its delay. Throws
  /// `BadValue`, `StaleHandle` or `DependencyCycle` where it cannot be given.
  Index give(Index object, const Kind& kind, const void* values, const Common& common);
  /// As `Registry::give_again`; then it begins.
  Index give_again(Index object, const Kind& kind, const void* values, const Common& common);
  /// Makes a behaviour begin as if it had just been given.
  void begin(Index behaviour);
  /// Schedules a start `delay` after `from`, but not before the present time. A behaviour that starts without a bridge,
  /// a fade and a delay starts at once.
  void schedule_start(Index behaviour, Time from, Time delay);
  /// Resolves the tags in the values of behaviours anew, after objects or behaviours were added or removed.
  void resolve_tags();

  // --- pace ---
  /// The paces of objects may have changed. Layout and poses must be current.
  void update_paces();

  // --- content ---
  /// Removes all ended objects from the layout. Those that cannot be removed alone make it invalid.
  void leave_out_ended();
  /// Removes ended objects for good.
  void remove_ended();
  /// True where another object of the layout is its child, or reads it.
  bool has_readers(Index object) const;
  /// Takes an object out of the layout before its place in it changes. `add_to_layout` puts it back.
  void take_out(Index object);
  /// Takes a behaviour off its object's stack, and the object out of the layout.
  void remove(Index behaviour);
  /// Puts objects that were added or taken out into the layout, or makes the layout invalid, and evaluates them at the
  /// present time, as it does objects that have changed in their place.
  void add_to_layout(std::span<const Index> objects);

  /// The pose of its parent in the world, as far as the object inherits it.
  Pose inherited_frame(Index object) const;

  /// Goes back to an earlier content. The layout and the resolved tags are those of no content yet.
  void restore_content(const RegistryContent& content, std::span<const std::unique_ptr<BehaviourStore>> stores);

  // --- layout and poses ---
  /// The layout no longer matches the registry.
  void invalidate_layout() { is_laid_out_ = false; }
  bool is_laid_out() const { return is_laid_out_; }
  /// The world poses no longer match the present time and state.
  void invalidate_poses() { poses_are_current_ = false; }
  /// Computes layout and poses anew where they are invalid.
  void refresh();
  /// Computes a new layout. `changed` is a behaviour whose state is newer in its store than in its lane.
  void lay_out_again(Index changed = none);
  /// Computes a new layout from the state in the stores; state in the lanes is ignored.
  void lay_out_from_stores();
  /// Removes the layout: every object and behaviour is without a location.
  void clear_layout();
  /// Evaluates everything at the present time, from the last committed tick.
  void evaluate_all(const EvalRequest& request) noexcept;
  /// Makes a tick the present time and evaluates everything there, so that commands can be executed.
  /// `is_committed`: state has been advanced to the tick already.
  void enter_tick(Time tick, bool is_committed) noexcept;
  void leave_tick() { in_tick_ = before_tick_ = false; }

  // --- values and state of behaviours: in their store by row, in the layout by lane ---
  Batch& batch_of(const BehaviourRecord& behaviour) { return layout.batches[behaviour.location->batch]; }
  /// Copies the values and state in the store to the lane.
  void fill_lane(const BehaviourRecord& behaviour);
  /// Copies the values and state of all behaviours to their lanes, and plans their queries.
  void fill_all_lanes();
  /// Copies the state in the lane to the store.
  void collect_state_of(Index behaviour);
  /// Copies the state of all behaviours to their stores, except that of `except`.
  void collect_state(Index except = none);

  // --- ticks ---
  /// Stores the poses and movements of a tick for readers of the last tick.
  void commit_tick_memory(Time at) noexcept { ticks.commit(at, layout, registry); }
  /// Takes over the poses of the last tick from the scene that this one replaces. Objects whose last tick is read for
  /// the first time start with their present pose there.
  void take_ticks_from(const SceneCore& replaced);
  /// Answers the neighbour queries of agents and lets them decide.
  void decide(Time at) noexcept;
  /// Passes new events to the rules.
  void pass_events_to_rules() noexcept;

 private:
  void update_all_lanes();
  void begin_new(Index behaviour);
  void reserve_events();
  void remember_tick_objects(const std::vector<Pose>& output);
  Pose rest_pose_in_world(Index object) const;

  LayoutEditor editor_;
  std::unordered_map<Index, Pose> taken_out_;  ///< the last world poses of objects that the layout no longer has
  std::uint64_t resolved_tags_ = 0;            ///< the edition of the tags that values were last resolved for
  bool is_laid_out_ = false;
  bool poses_are_current_ = false;
  bool in_tick_ = false;      ///< commands are being executed at a tick
  bool before_tick_ = false;  ///< the present time is a tick that is not committed yet
};

}  // namespace hushed::detail
