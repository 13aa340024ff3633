// SPDX-License-Identifier: MIT
#pragma once

#include <chrono>
#include <cmath>
#include <exception>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/common.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/error.hpp>
#include <hushed/event.hpp>
#include <hushed/handle.hpp>
#include <hushed/input.hpp>
#include <hushed/own.hpp>
#include <hushed/pose.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/rule.hpp>
#include <hushed/shape.hpp>
#include <hushed/time.hpp>

namespace hushed::detail {  // not visible in a shared library
class SceneImpl;
struct SnapshotData;
}  // namespace hushed::detail

namespace hushed HUSHED_API {

namespace detail {
struct SceneAccess;
class MutedCallbacks;
}  // namespace detail

/// Which parts of its parent's pose a child takes on.
struct Inherit {
  bool position = true;
  bool rotation = true;
  bool scale = true;
  bool operator==(const Inherit&) const = default;
};

/// What `Scene::add` is told of a new object.
struct NewObject {
  std::string name = {};               ///< letters, digits, `-`, `_`; unique. May be left empty: "object-7"
  std::optional<Object> parent = {};   ///< whose space the rest pose is in; the world's if none
  Pose rest = {};                      ///< the pose under all behaviours
  Inherit inherit = {};                ///< what it takes on from its parent
  std::vector<std::string> tags = {};  ///< words by which rules and flocks find it
  std::optional<Shape> shape = {};     ///< how to draw it
  std::vector<PoseParts> poses = {};   ///< each with a name of its own, by which behaviours know it
};

/// The state of a whole scene at one moment: `Scene::snapshot` makes it, `Scene::restore` returns to it.
class Snapshot {
 public:
  Time time() const;

 private:
  friend class Scene;
  std::shared_ptr<const detail::SnapshotData> data_;
};

/// A value of one object's own, in the place of a preset's: {"sway.frequency", Value{0.4}}.
struct OwnValue {
  std::string path;
  Value value;
};

template <class B>
class Tuning;
class NewRule;

/// Objects, what moves them, and the time. Everything else follows from these three: at equal times the poses
/// are equal bit for bit, whatever frames led there.
///
/// A scene may be moved but not copied; handles stay good. Every call of a scene that was moved from throws `Error`
/// (`advance` moves nothing). Use it from one thread at a time. A behaviour of your own may not call it while it is
/// asked for a pose: the call throws `Error`, and the event "failed" says so.
class Scene {
 public:
  /// Motions with memory are advanced `tick_rate` times per second (1 to 10 000, a whole number or not).
  explicit Scene(double tick_rate = 120.0);
  /// A scene in which objects and behaviours get the handles of those that have the same names in another, to be
  /// `hot_reload` by it.
  Scene(double tick_rate, const Scene& like);
  ~Scene();
  Scene(Scene&&) noexcept;
  Scene& operator=(Scene&&) noexcept;

  // --- building -------------------------------------------------------------------------------------------

  /// Adds an object. Throws `BadValue` (a bad or taken name, a pose that is not finite or beyond 1e9),
  /// `StaleHandle` (the parent).
  Object add(const NewObject& object);

  /// Puts a behaviour on top of the object's stack; it starts now. Returns its handle. Throws `BadValue`,
  /// `StaleHandle`, or `DependencyCycle` where the object would have to come after itself.
  template <class B>
  Behaviour<B> give(Object object, const B& behaviour, const Common& common = {}) {
    return Behaviour<B>{give(object, detail::kind_of<B>(), &behaviour, common)};
  }
  AnyBehaviour give(Object object, const detail::Kind& kind, const void* values, const Common& common);

  /// Puts a behaviour on top of a preset, which is there from its first one on. Objects that use it later have it too.
  template <class B>
  void add_to_preset(std::string_view preset, const B& behaviour, const Common& common = {}) {
    add_to_preset(preset, detail::kind_of<B>(), &behaviour, common);
  }
  void add_to_preset(std::string_view preset, const detail::Kind& kind, const void* values, const Common& common);
  /// Gives an object all behaviours of a preset, but for some values. `set` of "preset.bobbing.sway.frequency" moves
  /// all that have no value of their own there; a value that is tuned on one object is its own from then on.
  void use(Object object, std::string_view preset, std::span<const OwnValue> own = {});
  std::vector<std::string> presets() const;  ///< their names

  /// Takes the object out, with its children. Those who look at it hold their place and raise "lost".
  void end(Object object);
  /// Hides the object and its children: it moves on unseen. Those who look at it hold their place.
  void hide(Object object);
  void show(Object object);

  // --- answering ------------------------------------------------------------------------------------------

  /// A rule, to be finished by what it does:
  ///
  ///     harbour.when(pressed("H"), closer_than(pilot, post, 6.0)).then(toggle(bridge_lift));
  template <class... Conditions>
  NewRule when(Condition first, Conditions... others);
  /// Adds a rule with everything that a rule can have. Throws `BadValue` where it names what is not there.
  void add_rule(const Rule& rule);
  /// The names of the rules, in the order in which they are judged.
  std::vector<std::string> rules() const;
  const Rule& rule(std::string_view name) const;  ///< throws `BadValue`
  RuleReport report(std::string_view rule) const;

  /// Calls back for each event of that name, in their order, once `advance` has shown its frame. What it calls on the
  /// scene takes effect then, between two frames: for what must not depend on the frame rate, use a rule. It may call
  /// anything but `advance`, which moves nothing there. Should it throw or call `advance`, the event "failed" says so.
  void on(std::string_view event, std::function<void(const Event&)> callback);

  /// A key goes down or up, or an axis (-1 to 1) is moved: from the next tick on.
  void press(std::string_view key);
  void release(std::string_view key);
  void axis(std::string_view name, double value);
  /// A key goes down or up, or an axis is moved, at a time to come, as from a recorded file. Throws `BadValue` for a
  /// time that has passed.
  void input(const InputChange& change);
  /// The time of the last change of input there was, or is to come; nothing where there is none.
  std::optional<Time> last_input() const;

  // --- time -----------------------------------------------------------------------------------------------

  /// Moves time on by any length; nothing or less moves nothing. `time()` is rounded to the unit of `Time`, and what is
  /// rounded off is carried over to the next call, so that frame times in `float` or nanoseconds do not drift.
  /// Allocates nothing once the scene has been played for one frame since it was last built on.
  template <class Rep, class Period>
  void advance(std::chrono::duration<Rep, Period> step) noexcept {
    const double length = std::chrono::duration<double>(step).count();
    if (!(length > 0.0)) return advance_by(Time{0}, 0.0);
    if (length >= 1e9) return advance_by(seconds(1e9), 0.0);
    if constexpr (std::is_same_v<std::chrono::duration<Rep, Period>, Time>) {
      advance_by(step, 0.0);
    } else {
      // The seconds are exact in any unit, and so the rest is less than one.
      const auto whole = std::chrono::duration_cast<std::chrono::seconds>(step);
      const double rest = std::chrono::duration<double, Time::period>(step - whole).count();
      const double units = std::floor(rest);
      advance_by(whole + Time{static_cast<std::int64_t>(units)}, rest - units);
    }
  }

  Time time() const;
  double tick_rate() const;

  /// Goes to a time, forward or back, and shows what was shown there. What was called on the way (start, stop,
  /// hide, ...) is repeated as far as that time; what was called after it is forgotten. Tuned values stay as
  /// they are now. Throws `BadValue` for a time before 0, or before the scene was last built on.
  void seek(Time time);

  Snapshot snapshot() const;
  /// Throws `BadValue` where the snapshot is another scene's, or objects or behaviours were added since.
  void restore(const Snapshot& snapshot);

  /// Goes on as another scene, which was made to be like this one: with its objects, values and rules, and with the
  /// time and the state of all that is the same in both. What was tuned stays, where the other has the value that was
  /// given. Returns what could not be kept, in sentences. Throws `BadValue` where the other was not made like this one.
  /// Called in a callback of `on`, it is carried out once all callbacks of the frame have been called, and returns
  /// nothing; what is called on this scene until then happens to the old one, whose state is kept.
  std::vector<std::string> hot_reload(Scene&& next);

  // --- looking --------------------------------------------------------------------------------------------

  Pose world(Object object) const;
  Pose local(Object object) const;  ///< in the parent's space, as it comes off the stack
  Pose rest(Object object) const;

  /// Every world pose, in the order of `objects()`. Both spans are valid until the scene is built on or one of its
  /// objects ends.
  std::span<const Pose> world_poses() const;
  std::span<const Object> objects() const;
  /// 4 by 4 matrices, column by column, in the order of `objects()`: 16 floats each. Throws `BadValue` where
  /// there is not room for all.
  void write_matrices(std::span<float> to) const;

  /// What happened during the last `advance`, and in calls since the one before, in the order of its moment,
  /// then of the names.
  std::span<const Event> events() const;
  std::string describe(const Event& event) const;

  bool alive(Object object) const;   ///< the handle is not stale
  bool hidden(Object object) const;  ///< it, or one above it, is hidden
  std::optional<Object> find(std::string_view name) const;
  std::string name(Object object) const;
  std::optional<Object> parent(Object object) const;
  const std::optional<Shape>& shape(Object object) const;
  const std::vector<std::string>& tags(Object object) const;
  std::vector<std::string> poses(Object object) const;  ///< the names of its named poses
  std::size_t size() const;                             ///< how many objects there are

  /// Its stack, the lowest first.
  std::vector<AnyBehaviour> behaviours(Object object) const;
  std::vector<Object> dependencies(AnyBehaviour behaviour) const;
  /// What each urge of an agent wants just now, and last what comes of it; empty of others, and while it stands still.
  std::vector<UrgeShare> urges(AnyBehaviour behaviour) const;
  std::string path(AnyBehaviour behaviour) const;       ///< "lamp.spin"
  std::string_view kind(AnyBehaviour behaviour) const;  ///< "spin"; of your own, what you call it
  /// The preset that it comes from, as in "preset.bobbing.sway"; empty for none.
  std::string preset_path(AnyBehaviour behaviour) const;
  /// Whether that value of a behaviour that comes from a preset is its own.
  bool is_own(std::string_view path) const;

  // --- tuning ---------------------------------------------------------------------------------------------

  /// The values of a behaviour, to be changed in place: `scene.tune(turning)->speed = degrees(60);` The change
  /// takes effect at the end of the statement, without a jump, and keeps the phase of what is under way.
  /// Throws `BadValue` there, and changes nothing, where a value is out of its range.
  template <class B>
  Tuning<B> tune(Behaviour<B> behaviour);
  /// What every behaviour has (weight, fade, delay, enabled, reads), to be changed in place, as by `tune`.
  Tuning<Common> tune_common(AnyBehaviour behaviour);

  template <class B>
  const B& values(Behaviour<B> behaviour) const {
    return *static_cast<const B*>(values_of(behaviour));
  }
  /// Those of a behaviour that is a B, or nullptr.
  template <class B>
  const B* values_if(AnyBehaviour behaviour) const {
    return &kind_of(behaviour) == &detail::kind_of<B>() ? static_cast<const B*>(values_of(behaviour)) : nullptr;
  }
  const Common& common(AnyBehaviour behaviour) const;
  /// The fields that its kind has; none for a behaviour of your own without any.
  std::span<const FieldInfo> fields(AnyBehaviour behaviour) const;

  /// Sets or reads one value by its path, "lamp.spin.speed". Throws `BadValue` with a mend.
  void set(std::string_view path, const Value& value);
  std::optional<Value> get(std::string_view path) const;
  /// Makes a value what it is where nobody gives it: its default, or left out. Throws `BadValue`.
  void reset(std::string_view path);

  void start(AnyBehaviour behaviour);    ///< goes on from where it was stopped, or starts
  void stop(AnyBehaviour behaviour);     ///< halts its own time; with a fade, its weight falls to 0
  void restart(AnyBehaviour behaviour);  ///< starts again from the beginning
  /// A glide turns back from where it is; any other behaviour is stopped, or started.
  void toggle(AnyBehaviour behaviour);
  /// Adds to the velocity of a spring that is under way: m/s, deg/s about the axes of its space, or 1/s, as its channel
  /// is. Throws `BadValue` where there is none.
  void kick(AnyBehaviour behaviour, const Vec3& by);
  /// Gives it another target, without a jump. Throws `BadValue` where it has none, `StaleHandle`, `DependencyCycle`.
  void retarget(AnyBehaviour behaviour, Object to);
  /// One of its named poses takes the place of its rest pose: a jump.
  void place(Object object, std::string_view pose);
  /// Something has happened: rules hear of it at the next tick.
  void raise(std::string_view event);
  bool running(AnyBehaviour behaviour) const;
  /// The behaviour called "lamp.spin", if there is one.
  std::optional<AnyBehaviour> find_behaviour(std::string_view path) const;
  /// The behaviour called "lamp.spin", if there is one and it is a B:
  /// `scene.tune(*scene.find_behaviour<Spin>("lamp.spin"))->speed = ...`.
  template <class B>
  std::optional<Behaviour<B>> find_behaviour(std::string_view path) const {
    const auto found = find_behaviour(path);
    if (!found || &kind_of(*found) != &detail::kind_of<B>()) return std::nullopt;
    return Behaviour<B>{*found};
  }

 private:
  template <class B>
  friend class Tuning;
  friend detail::SceneAccess;
  friend detail::MutedCallbacks;

  void advance_by(Time step, double rest) noexcept;
  /// What every call goes through. Throws `Error` for a scene that was moved from, and while a behaviour is asked.
  detail::SceneImpl& impl() const;
  std::vector<std::string> replace_by(std::unique_ptr<detail::SceneImpl> next);
  /// A call has been made that can be made again, should it have been made by a callback that is journaled.
  template <class Call>
  void made(Call&& call);
  const detail::Kind& kind_of(AnyBehaviour behaviour) const;
  const void* values_of(AnyBehaviour behaviour) const;
  void set_values(AnyBehaviour behaviour, const void* values);
  void set_common(AnyBehaviour behaviour, const Common& common);

  std::unique_ptr<detail::SceneImpl> impl_;
};

/// The values of a behaviour while they are being changed; they take effect when it goes out of scope. (It is a B, so
/// that a dot does as well where the field is a class, such as an angle; C++ forbids it for a plain number.)
template <class B>
class Tuning : public B {
 public:
  Tuning(const Tuning&) = delete;
  Tuning& operator=(const Tuning&) = delete;

  B* operator->() { return this; }

  /// Throws `BadValue` where a value is out of its range, unless another error is on its way already.
  ~Tuning() noexcept(false) {
    if (std::uncaught_exceptions() > errors_before_) return;
    if constexpr (std::is_same_v<B, Common>) {
      scene_.set_common(behaviour_, *this);
    } else {
      scene_.set_values(behaviour_, static_cast<const B*>(this));
    }
  }

 private:
  friend class Scene;
  Tuning(Scene& scene, AnyBehaviour behaviour, const B& values) : B{values}, scene_{scene}, behaviour_{behaviour} {}

  Scene& scene_;
  AnyBehaviour behaviour_;
  int errors_before_ = std::uncaught_exceptions();
};

/// A rule that is being put together; it begins to be judged when it is told what to do.
class NewRule {
 public:
  template <class... Conditions>
  NewRule& unless(Conditions... conditions) {
    (rule_.unless.push_back(std::move(conditions)), ...);
    return *this;
  }
  /// One of these must hold too.
  template <class... Conditions>
  NewRule& any(Conditions... conditions) {
    (rule_.any.push_back(std::move(conditions)), ...);
    return *this;
  }
  NewRule& called(std::string name) {
    rule_.name = std::move(name);
    return *this;
  }
  NewRule& once() { return firing(Fires::once); }
  NewRule& at_every_tick() { return firing(Fires::always); }
  /// They must have held that long.
  template <class Rep, class Period>
  NewRule& lasting(std::chrono::duration<Rep, Period> time) {
    rule_.held_for = seconds(std::chrono::duration<double>(time).count());
    return *this;
  }

  /// Throws `BadValue` where what the rule names is not in the scene.
  template <class... Actions>
  void then(Action first, Actions... others) {
    rule_.then.push_back(std::move(first));
    (rule_.then.push_back(std::move(others)), ...);
    scene_.add_rule(rule_);
  }

 private:
  friend class Scene;
  explicit NewRule(Scene& scene) : scene_{scene} {}
  NewRule& firing(Fires fires) {
    rule_.fires = fires;
    return *this;
  }

  Scene& scene_;
  Rule rule_;
};

template <class... Conditions>
NewRule Scene::when(Condition first, Conditions... others) {
  NewRule made{*this};
  made.rule_.when.push_back(std::move(first));
  (made.rule_.when.push_back(std::move(others)), ...);
  return made;
}

template <class B>
Tuning<B> Scene::tune(Behaviour<B> behaviour) {
  return Tuning<B>{*this, behaviour, values(behaviour)};
}

}  // namespace HUSHED_API
