// SPDX-License-Identifier: MIT
#pragma once

// The past of a scene: states that `seek` and snapshots go back to.

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

#include "scene/command_log.hpp"
#include "scene/core.hpp"
#include "scene/presets.hpp"
#include "scene/rule_actions.hpp"
#include "scene/stepper.hpp"

namespace hushed::detail {

/// The state of a scene at a moment: everything that playing changes.
struct SceneState {
  Time time;
  double rounding;  ///< `SceneClock::rounding`
  Time last_tick;
  std::vector<std::unique_ptr<BehaviourStore>> stores;
  /// A behaviour whose values were changed since it was given.
  struct Changed {
    Index behaviour;
    Given given;
    Common present;  ///< those of its values that every behaviour has
  };
  std::vector<Changed> changed;  ///< in the order of their indices
  std::vector<Run> runs;         ///< of each behaviour
  struct Own {
    Index behaviour;
    std::vector<std::string_view> fields;
  };
  std::vector<Own> owns;  ///< `BehaviourRecord::own`, of behaviours that have some, in the order of their indices
  std::vector<Presence> presences;  ///< of each object
  TickMemory ticks;
  std::vector<ObjectClock> clocks;
  InputState input;
  RuleMemory rules;
  std::vector<std::optional<Value>> set_by_rules;  ///< `RuleActions::capture_set_values`
  std::vector<PresetRecord> presets;
  EventQueue events;
  std::size_t shown_jumps;  ///< `Feeds::shown_jumps`
  std::size_t commands;     ///< the number of commands executed by then
};

/// The content of a snapshot: a state, and what `seek` needs to go further back.
struct SnapshotData {
  std::uint64_t scene;    ///< identifies the scene
  std::uint64_t content;  ///< identifies the objects, behaviours and rules that the state belongs to
  std::shared_ptr<const RegistryContent> registry;
  std::uint64_t hash;  ///< `content_hash`
  std::size_t rules;   ///< their number
  std::shared_ptr<const SceneState> state;
  CommandLog log;
  Inputs inputs;
  Feeds feeds;
  std::vector<std::shared_ptr<const SceneState>> past;
  bool wants_past;  ///< the first state of the past had still to be stored
};

/// Layout and poses must be current (`SceneCore::refresh`) when a function is called.
class History {
 public:
  History(SceneCore& core, Commands& commands, RuleActions& rule_actions, Presets& presets, Stepper& stepper,
          CommandLog& log)
      : core_{core},
        commands_{commands},
        rule_actions_{rule_actions},
        presets_{presets},
        stepper_{stepper},
        log_{log} {}

  /// Forgets the past, after objects, behaviours or rules were added or removed. It begins anew with the next step, or
  /// in a large scene in which that happens all the time, once it has not happened for a second.
  void restart();
  /// Stores the first state of a new past if one is due. To be called before each step.
  void begin_past();
  /// Records a command of the program and executes it.
  void execute(Command command);
  /// Records a change of input at the present time.
  void add_input(InputChange::What what, std::string_view name, double value);
  /// Records a change of input that has yet to come. Throws `BadValue` where its time is past.
  void announce_input(const InputChange& change);
  /// Feeds a pose to an object, for the end of the next step or for a time to come.
  void feed(Object object, const Pose& pose, std::optional<Time> at);
  /// Lets a fed object jump to a pose.
  void teleport(Object object, const Pose& pose);
  /// Drops the states of the past, which no longer match a value that was changed by hand, except the first.
  void drop_past_states();

  /// Plays the scene again from the latest state before a time. Tuned values stay as they are. Throws `BadValue` where
  /// nothing is known of that time.
  void seek(Time time);
  std::shared_ptr<const SnapshotData> snapshot() const;
  /// Reads a snapshot that another scene of equal content has written. Throws `BadValue` where the bytes are damaged or
  /// the content differs.
  std::shared_ptr<const SnapshotData> snapshot_from(std::span<const std::byte> bytes);
  /// Objects and behaviours become those of the snapshot. Throws `BadValue` where it belongs to another scene, or rules
  /// were added since. `fed_until`: what was fed until that time stays, instead of what had been fed at the snapshot.
  void restore(const SnapshotData& snapshot, std::optional<Time> fed_until);
  /// Objects and behaviours, with their indices, become those of a snapshot of another scene, which was made by the
  /// same calls and gave this one its handles. Bytes of that scene can be read then.
  void take_content(const SnapshotData& snapshot) { restore_content(snapshot); }

 private:
  /// A new number, for a scene or the content of one.
  static std::uint64_t next_content();
  void restore_content(const SnapshotData& snapshot);

  using States = std::vector<std::shared_ptr<const SceneState>>;

  std::shared_ptr<SceneState> capture() const;
  /// As `capture`, where all motions have been copied back to the stores, or do not matter.
  std::shared_ptr<SceneState> copy_state() const;
  /// The scene as it is now, whose state was captured.
  std::shared_ptr<SnapshotData> with(std::shared_ptr<const SceneState> state) const;
  /// What goes back to a state: what playing changes alone, the values of behaviours too, or everything, after objects
  /// and behaviours have been replaced.
  enum class GoesBack { play, values, content };
  void restore_state(const SceneState& state, GoesBack what);
  /// Returns true where behaviours read other poses than before: the present ones, or those of the last tick.
  bool restore_behaviours(const SceneState& state, bool values_too);
  void restore_presences(const SceneState& state);
  /// Returns true where the dependencies of behaviours have changed. After objects, which the values may name.
  bool restore_values_of_rules(const SceneState& state);
  /// True where the layout fits the behaviours' values and dependencies.
  bool layout_fits() const;

  /// Drops states at or after the present time: the future will be played anew.
  void drop_future_states();
  /// Drops the oldest commands, changes of input and fed poses where there are too many. `seek` cannot go back before
  /// them then.
  void limit_past();
  void forget_older_half();
  /// Forgets the whole past.
  void forget_all();
  void play_again_to(Time time);
  void store_state();

  SceneCore& core_;
  Commands& commands_;
  RuleActions& rule_actions_;
  Presets& presets_;
  Stepper& stepper_;
  CommandLog& log_;
  const std::uint64_t scene_ = next_content();  ///< a hot reload makes another scene of it
  std::uint64_t content_ = 0;
  mutable std::shared_ptr<const RegistryContent> registry_;  ///< a copy of the content, once a snapshot needs it
  mutable std::uint64_t hash_ = 0;                           ///< `content_hash` of `registry_`
  bool wants_past_ = true;                                   ///< the first state is to be stored
  Time changed_at_ = {};                                     ///< the last time at which something was added or removed
  bool changes_follow_ = false;                              ///< the last two changes were less than a second apart
  States states_;  ///< in the order of time; `seek` goes back to the first at most, and not at all where there is none
  std::shared_ptr<const SceneState> next_base_;  ///< a later state that replaces the first when the log is shortened
  std::size_t changes_since_next_base_ = 0;      ///< commands and changes of input
  std::size_t fed_since_next_base_ = 0;          ///< poses
};

}  // namespace hushed::detail
