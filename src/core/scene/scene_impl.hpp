// SPDX-License-Identifier: MIT
#pragma once

// The implementation of `Scene`: brings its parts together.

#include <functional>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/scene.hpp>

#include "scene/callbacks.hpp"
#include "scene/commands.hpp"
#include "scene/core.hpp"
#include "scene/history.hpp"
#include "scene/presets.hpp"
#include "scene/rule_actions.hpp"
#include "scene/stepper.hpp"
#include "scene/values.hpp"

namespace hushed::detail {

/// Each part uses those declared before it. Functions for the program first bring layout and poses up to date.
class SceneImpl {
 public:
  /// `tick_rate`: ticks a second, 1 to 10 000. Throws `BadValue`.
  explicit SceneImpl(double tick_rate);
  /// A scene whose objects and behaviours get the handles of those with the same names in another.
  SceneImpl(double tick_rate, const SceneImpl& like);

  // --- building ---
  Object add(const NewObject& object);
  AnyBehaviour give(Object object, const Kind& kind, const void* values, const Common& common);
  void add_to_preset(std::string_view preset, const Kind& kind, const void* values, const Common& common);
  void use(Object object, std::string_view preset, std::span<const OwnValue> own);
  void add_rule(Rule rule);

  // --- changing objects ---
  void remove(Index behaviour);
  void set_rest(Index object, const Pose& rest);
  /// `parent` may be none. Throws `DependencyCycle`.
  void set_parent(Index object, Index parent, KeepPose keep);
  void set_tags(Index object, std::vector<std::string> tags);
  void set_number(Index object, std::uint64_t number) { core_.registry.objects[object].number = number; }

  // --- the origin of the world ---
  void shift_origin(const Vec3& by);
  const Vec3& origin() const { return origin_; }
  /// A pose in the scene's own coordinates as it is in the world.
  Pose to_world(Pose own) const;
  /// A pose in the world in the scene's own coordinates.
  Pose from_world(Pose world) const;
  /// As `to_world` and `from_world` where `parent` is none; poses in the space of a parent stay as they are.
  Pose to_space_of(Index parent, const Pose& own) const { return parent == none ? to_world(own) : own; }
  Pose from_space_of(Index parent, const Pose& pose) const { return parent == none ? from_world(pose) : pose; }

  // --- reading ---
  /// Brings layout and poses up to date.
  void settle();
  /// Brings layout and poses up to date. The layout has no objects that have ended.
  void settle_without_ended();
  const Registry& registry() const { return core_.registry; }
  const Layout& layout() const { return core_.layout; }
  const SceneClock& clock() const { return core_.clock; }
  const EventQueue& events() const { return core_.events; }
  const Rules& rules() const { return core_.rules; }
  const Presets& presets() const { return presets_; }
  /// The time of the last change of input that has been announced.
  std::optional<Time> last_input() const { return core_.inputs.last(); }
  /// The poses in the world in the order of slots, copied from their blocks where they have changed since the last
  /// call.
  std::span<const Pose> world_poses();
  Pose local(Index object);
  std::vector<UrgeShare> urges(Index behaviour);
  std::optional<Value> get(std::string_view path);

  // --- playing ---
  /// Advances time by `step` and a fraction of a unit of `Time`, and calls callbacks.
  void advance(Time step, double rest) noexcept;
  /// Advances time. Events wait for the next `advance` to be delivered.
  void play_on(Time step) noexcept;
  /// 1 to `ThreadPool::most`. Throws `BadValue`.
  void set_threads(int count);
  int threads() const { return core_.evaluator.threads(); }
  void seek(Time time);
  std::shared_ptr<const SnapshotData> snapshot();
  std::shared_ptr<const SnapshotData> snapshot_from(std::span<const std::byte> bytes);
  /// `fed_until`: what was fed until that time stays, instead of what had been fed at the snapshot.
  void restore(const SnapshotData& snapshot, std::optional<Time> fed_until = {});

  /// See `History::take_content`.
  void take_content(const SnapshotData& snapshot);

  // --- commands and input ---
  /// Executes a command on an object or a behaviour.
  void command(Action::Verb verb, Index target);
  void kick(Index behaviour, const Vec3& by);
  void place(Index object, std::string_view pose);
  /// A pose that is fed to an object, in the scene's own coordinates. Throws `BadValue`.
  Pose fed_pose(Index object, const Pose& given) const;
  /// A pose for a fed object, in the scene's own coordinates, for the end of the next step or for a time to come.
  void feed(Index object, const Pose& pose, std::optional<Time> at);
  void teleport(Index object, const Pose& pose);
  void raise(std::string_view event);
  void rename(Index object, const std::string& name) { core_.registry.rename(object, name); }
  void input(InputChange::What what, std::string_view name, double value);
  void announce_input(const InputChange& change);

  // --- values, changed by the program: `seek` does not take them back ---
  void tune_values(Index behaviour, const void* values);
  void tune_common(Index behaviour, const Common& common);
  void tune_target(Index behaviour, Object to);
  /// Sets a value by its path, or resets it to its default where there is none.
  void tune(std::string_view path, const std::optional<Value>& value);

  // --- calls of user code ---
  Callbacks callbacks;
  /// Throws `Error` while a user's behaviour is being called, and records that it called the scene.
  void refuse_call_of_behaviour() const;

  // --- hot reload ---
  /// Takes the time and the state of everything that both have in common from another scene. Returns sentences about
  /// what was lost.
  std::vector<std::string> take_state_from(SceneImpl& old, ProgramChanges changes);
  /// Everything that there is becomes the base: what hot reload replaces, while what comes later is the program's.
  void mark_base(std::shared_ptr<const Kinds> kinds);
  /// The kinds that its file may name, where it was read from one.
  const std::shared_ptr<const Kinds>& kinds() const { return kinds_; }
  struct Reload {
    std::unique_ptr<SceneImpl> next;
    ProgramChanges changes;
  };
  /// Tries the new versions of kinds that `next` has. Throws `VersionFails`.
  void try_versions_of(const SceneImpl& next);
  /// The content is replaced after the last callback of this frame.
  void reload_later(Reload reload);
  bool has_pending_reload() const { return pending_reload_.next != nullptr; }
  Reload take_pending_reload() { return std::move(pending_reload_); }

 private:
  SceneCore core_;
  Commands commands_;
  Values values_;
  RuleActions rule_actions_;
  Stepper stepper_;
  CommandLog log_;
  Presets presets_;
  History history_;
  std::vector<Pose> world_poses_;  ///< those of `world_poses_edition_`
  std::uint64_t world_poses_edition_ = 0;
  Vec3 origin_ = Vec3::Zero();
  /// The behaviour that takes the poses that are fed to an object. Throws `BadValue` where there is none.
  Index fed_behaviour(Index object) const;
  /// The object was added, or must be taken out of the layout and put back.
  void change_content_of(Index object);
  /// The object has changed in its place in the layout.
  void evaluate_later(Index object);
  /// The highest behaviour of a changed object goes over smoothly from this pose in the parent's space, in these parts.
  void bridge_object(Index object, const Pose& from, unsigned parts);
  bool content_changed_ = true;         ///< objects, behaviours or rules were added or removed
  std::vector<Index> changed_objects_;  ///< to be added to the layout
  Reload pending_reload_ = {};
  std::shared_ptr<const Kinds> kinds_;
};

}  // namespace hushed::detail
