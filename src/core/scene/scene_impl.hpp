// SPDX-License-Identifier: MIT
#pragma once

// The implementation of `Scene`: registry, layout, time, and the commands that change a playing scene.

#include <functional>
#include <memory>
#include <set>
#include <string_view>
#include <vector>

#include <hushed/detail/scene_access.hpp>
#include <hushed/scene.hpp>

#include "scene/command_log.hpp"
#include "scene/evaluator.hpp"
#include "scene/event_queue.hpp"
#include "scene/flocks.hpp"
#include "scene/inputs.hpp"
#include "scene/layout.hpp"
#include "scene/nearest.hpp"
#include "scene/registry.hpp"
#include "scene/rules.hpp"

namespace hushed::detail {

/// The greatest time of a scene.
inline constexpr Time latest = std::chrono::seconds{1'000'000'000};

/// The state of a scene at a moment: everything that playing changes.
struct SceneState {
  Time time;
  Time last_tick;
  std::uint64_t build;  ///< identifies the content of the registry
  std::vector<std::unique_ptr<BehaviourStore>> stores;
  std::vector<Common> commons;
  std::vector<Run> runs;
  struct Presence {
    bool ended, hidden, under_hidden;
    Index placed;
    int gathered;
  };
  std::vector<Presence> presences;
  TickMemory ticks;
  InputState input;
  RuleMemory rules;
  std::vector<PresetRecord> presets;
  std::vector<std::vector<std::string_view>> owns;  ///< `BehaviourRecord::own` of each behaviour
  std::vector<std::optional<Value>> set_by_rules;   ///< values of `SceneImpl::set_by_rules_`
  EventQueue events;
  std::size_t commands;  ///< the number of commands executed by then
  double rounding;       ///< of `SceneImpl::rounding_`
};

/// The content of a snapshot: a state, and what `seek` needs to go further back.
struct SnapshotData {
  std::shared_ptr<const SceneState> state;
  CommandLog commands;
  Inputs inputs;
  std::vector<std::shared_ptr<const SceneState>> past;
};

class SceneImpl {
 public:
  explicit SceneImpl(double tick_rate);
  /// A scene whose objects and behaviours get the handles of those with the same names in another.
  SceneImpl(double tick_rate, const SceneImpl& like) : SceneImpl{tick_rate} {
    registry.reuse_handles_of(like.registry);
  }
  /// Takes the time, and the state of everything that both have in common, from another scene. Returns sentences about
  /// what was lost.
  std::vector<std::string> take_state_from(SceneImpl& old);

  // --- time ---
  /// Advances by `step` and a fraction of a unit of `Time`; the rounding error is carried over to the next step.
  void advance(Time step, double rest) noexcept;
  /// Advances time; events wait for the next `advance` to be delivered.
  void play_on(Time step) noexcept;
  void seek(Time time);
  std::shared_ptr<const SnapshotData> snapshot();
  void restore(const SnapshotData& snapshot);

  // --- building and looking ---
  Object add(const NewObject& object);
  AnyBehaviour give(Object object, const Kind& kind, const void* values, const Common& common);
  /// Updates layout and poses after building or a command.
  void settle();
  /// Like `settle`; also computes a new layout where objects have ended, so that it has no others than the scene.
  void settle_without_ended();

  // --- calls ---
  void start(Index behaviour) { command({Action::Verb::start, behaviour}); }
  void stop(Index behaviour) { command({Action::Verb::stop, behaviour}); }
  void restart(Index behaviour) { command({Action::Verb::restart, behaviour}); }
  void toggle(Index behaviour) { command({Action::Verb::toggle, behaviour}); }
  void kick(Index behaviour, const Vec3& by);
  /// Retargets by hand: `seek` does not take it back.
  void tune_target(Index behaviour, Object to) {
    retarget(behaviour, to);
    drop_past_states();
  }
  void hide(Index object) { command({Action::Verb::hide, object}); }
  void show(Index object) { command({Action::Verb::show, object}); }
  void end(Index object) { command({Action::Verb::end, object}); }
  void place(Index object, std::string_view pose);
  void raise(std::string_view event);

  void input(InputChange::What what, std::string_view name, double value);
  void input_beforehand(const InputChange& change);
  std::optional<Time> last_input() const { return inputs_.last(); }
  void add_rule(Rule rule);
  using Callback = std::function<void(const Event&)>;
  void listen(std::string event, Callback callback) { listeners_.push_back({std::move(event), std::move(callback)}); }

  void add_to_preset(std::string_view preset, const Kind& kind, const void* values, const Common& common);
  void use(Object object, std::string_view preset, std::span<const OwnValue> own);
  const std::vector<PresetRecord>& presets() const { return presets_; }

  /// Changes values by hand: changed fields are the behaviour's own from then on.
  void tune_values(Index behaviour, const void* values);
  void tune_common(Index behaviour, const Common& common);
  /// Sets a value by its path, or resets it to its default where there is none.
  void tune(std::string_view path, const std::optional<Value>& value);
  std::optional<Value> get(std::string_view path);
  Index find_behaviour(std::string_view path) const;
  std::string preset_path_of(Index behaviour) const;
  bool is_own(std::string_view path) const;

  std::string describe(const Event& event) const;
  Pose local(Index object) { return evaluator_.local(object, now); }
  std::vector<UrgeShare> urges(Index behaviour) { return evaluator_.urges(behaviour, now); }

  Registry registry;
  Layout layout;
  Time now = {};
  double tick_rate;
  EventQueue events;
  const Rules& rules() const { return rules_; }

  /// Throws `Error` while a user's behaviour is being called, and records that it called the scene.
  void refuse_call_of_behaviour() const;
  /// While greater than 0, no callback is called.
  int muted = 0;
  /// Where calls of callbacks are recorded; nullptr for nowhere.
  Journal* journal = nullptr;
  /// Callbacks of the program are being called.
  bool is_in_callbacks() const { return is_in_callbacks_; }
  /// The content is replaced by `next` after the last callback of this frame.
  void reload_later(std::unique_ptr<SceneImpl> next) { pending_reload_ = std::move(next); }
  bool has_pending_reload() const { return pending_reload_ != nullptr; }
  std::unique_ptr<SceneImpl> take_pending_reload() { return std::move(pending_reload_); }

 private:
  struct PresetPath {
    PresetRecord* preset;
    PresetBehaviour* behaviour;
    std::string_view field;
  };
  struct Listener {
    std::string event;
    Callback callback;
  };
  struct PathEnd {
    Index behaviour;
    const FieldInfo* field;
    bool is_common;
  };
  /// A behaviour whose start must be evaluated at exactly its time.
  struct PendingStart {
    Time at;
    Index behaviour;
    bool operator>(const PendingStart& other) const { return at > other.at; }
  };

  bool comes_before(const Event& a, const Event& b) const;
  /// Records a command of the program and executes it.
  void command(Command command);
  /// Executes a command of the program, of a rule or of `seek`.
  void execute(const Command& command);
  /// Brings layout and poses to `now`.
  void refresh();
  void retarget(Index behaviour, Object to);
  void set_values(Index behaviour, const void* values);
  void set_common(Index behaviour, const Common& common);
  void set(const PathEnd& path, std::string_view text, const std::optional<Value>& value);
  /// Drops states of the past, which no longer match a value that was changed by hand.
  void drop_past_states();
  void log_enabled(Index behaviour, bool was_enabled);
  void execute_start(Index behaviour);
  void execute_stop(Index behaviour);
  void execute_restart(Index behaviour);
  void execute_toggle(Index behaviour);
  void execute_kick(Index behaviour, const Vec3& by);
  void execute_place(Index object, Index pose);
  void show_base(Index object);
  void fade_to(BehaviourRecord& behaviour, double level);
  void set_hidden(Index object, bool hidden);
  void end_subtree(Index object);
  /// A dependency of the behaviour is lost: it holds `output`, unless it goes on without.
  void lose(Index behaviour, Object lost, const Pose& output);
  void hold_readers(Index lost);
  void release_readers(Index back);
  /// Starts a bridge from the output before a change to the output now.
  void bridge_over(Index behaviour, const Pose& output);

  void wait(Index behaviour, Time from, Time delay);
  void stop_waiting_for_lost(Index behaviour);
  void drop_later_commands();
  /// Counts a command or a change of input, and drops the oldest ones where there are too many; `seek` cannot go back
  /// before them then.
  void limit_past();
  [[noreturn]] void refuse(const BehaviourRecord& behaviour, const std::string& text) const;
  /// Returns the values with all names resolved. Throws where the behaviour cannot be given.
  std::shared_ptr<void> check_new(Index owner, const Kind& kind, const void* values, const Common& common) const;
  void check_common(const BehaviourRecord& behaviour, const Common& common) const;
  void check_values(const BehaviourRecord& behaviour, const void* values, const Pose* in) const;
  /// A copy of the values with all names resolved.
  std::shared_ptr<void> resolved(const BehaviourRecord& behaviour, const void* values) const;
  /// `changed` is a behaviour whose state is newer in its store than in its lane.
  void lay_out_again(Index changed = none);
  /// Computes a new layout from the state in the stores; state in the lanes is ignored.
  void lay_out_from_stores();
  Batch& batch_of(const BehaviourRecord& behaviour) { return layout.batches[behaviour.location->batch]; }
  /// Writes the values and state in the store into the lane.
  void fill_lane(const BehaviourRecord& behaviour);
  void collect_memory(Index but = none);
  void collect_memory_of(Index behaviour);
  void update_all_lanes();
  void remember_tick_objects(const std::vector<Pose>& output);
  /// Evaluates everything at `now`, from the last tick that is committed.
  void present(const EvalRequest& request) noexcept;
  /// Removes the earliest pending start and returns its behaviour.
  Index take_due() noexcept;
  void advance_until(Time target) noexcept;
  /// Stores the poses and movements of this tick for readers of the last tick.
  void commit_tick_memory(Time at) noexcept;
  /// Answers the neighbour queries of agents and lets them decide.
  void decide(Time at) noexcept;

  void evaluate_rules(Time tick) noexcept;
  void tick(Time at) noexcept;
  /// Evaluates everything at a tick before commands are executed there. `ticked`: the tick is committed already.
  void stand_at(Time tick, bool ticked) noexcept;
  void perform_rule_actions(Time tick) noexcept;
  void perform(const RuleMemory::Firing& firing, const Action& action);
  Object nearest(Index to, std::span<const Object> among) const;
  void gather(Time tick) noexcept;
  void process_events() noexcept;
  void call_listeners() noexcept;
  std::string_view event_called(std::string_view name);
  void resolve_names();
  PresetRecord& preset_called(std::string_view name);
  std::optional<PresetPath> preset_path(std::string_view path);
  void set_in_preset(const PresetPath& path, const std::optional<Value>& value);
  std::optional<Value> get_from_preset(const PresetPath& path) const;
  void mark_own(Index behaviour, std::string_view field);
  void remember_given_values(BehaviourRecord& behaviour);
  void clear_locations();
  void take_objects_from(const SceneImpl& old, std::vector<std::string>& lost);
  std::optional<std::string> agree(SceneImpl& old, Index behaviour);
  void begin_anew(Index behaviour);
  void take_behaviour_state_from(const SceneImpl& old, Index behaviour);
  void take_rules_from(SceneImpl& old, std::vector<std::string>& lost);
  void find_set_by_rules();
  void capture_set_by_rules(SceneState& state) const;
  void restore_set_by_rules(const SceneState& state);
  Time tick_after(Time time) const;
  std::int64_t ticks_until(Time time) const;
  std::shared_ptr<const SceneState> capture_state();
  void restore_state(const SceneState& state, bool values_too);
  PathEnd resolve(std::string_view path) const;

  TickMemory ticks_;
  Flocks flocks_;
  Nearest nearest_;
  std::vector<PendingStart> due_;  ///< a heap, the earliest first
  Evaluator evaluator_;
  Inputs inputs_;
  Rules rules_;
  std::vector<PresetRecord> presets_;
  std::vector<PathEnd> set_by_rules_;  ///< values that rules set, which are part of the play
  std::set<std::string, std::less<>> event_names_;
  std::vector<Listener> listeners_;
  bool is_in_callbacks_ = false;
  std::unique_ptr<SceneImpl> pending_reload_;
  bool in_tick_ = false;      ///< actions are being executed at a tick
  bool before_tick_ = false;  ///< `now` is a tick that is not committed yet
  std::uint64_t build_ = 0;
  bool content_changed_ = true;  ///< objects, behaviours or rules were added or removed
  bool laid_out_ = false;
  bool poses_are_current_ = false;  ///< the world poses are those of `now`
  double rounding_ = 0.0;           ///< units of `Time`: rounding error of `now`, -0.5 to 0.5

  CommandLog commands_;
  std::vector<std::shared_ptr<const SceneState>>
      states_;                                   ///< in the order of time; `seek` goes back to the first at most
  std::shared_ptr<const SceneState> next_base_;  ///< a later state that replaces the first when the log is shortened
  std::size_t commands_since_next_base_ = 0;
};

}  // namespace hushed::detail
