// SPDX-License-Identifier: MIT
#pragma once

// The interface between the scene and a kind of behaviour, built in or written by a user.

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <hushed/archive.hpp>
#include <hushed/detail/block.hpp>
#include <hushed/detail/eval_context.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/field.hpp>
#include <hushed/handle.hpp>
#include <hushed/moment.hpp>
#include <hushed/urge_share.hpp>

namespace hushed HUSHED_API {
enum class Gathered;
class RuntimeKind;
}

namespace hushed HUSHED_API {
namespace detail {

/// A query of an agent, answered at every tick: objects with a tag within a radius, or all obstacles with a tag.
struct NeighbourQuery {
  enum class Of { separation, neighbours, obstacles };
  Of of;
  std::string_view tag;
  double within = 0.0;  ///< m in the parent's space; unused for obstacles
  bool level = false;   ///< heights do not count; unused for obstacles
  bool operator==(const NeighbourQuery&) const = default;
};

/// The answer to a query of neighbours: sums over those within the radius, in the order of their names.
struct alignas(64) NeighbourSums {
  Vec3 sum = {0.0, 0.0, 0.0};       ///< sum of n - x; for a separation, of unit(x - n) * (1 - |x - n| / within)
  Vec3 velocity = {0.0, 0.0, 0.0};  ///< m/s
  double count = 0.0;
};

/// An obstacle, in the space of the agent's parent.
struct Obstacle {
  Object object;
  bool is_round;  ///< a sphere, whose radius is half.x(); else a box
  Pose pose;      ///< its centre and the directions of its axes
  Vec3 half;      ///< m along its own axes
  double radius;  ///< m: of its bounding sphere
  Vec3 velocity;  ///< m/s, over the last tick
};

/// A call of user code by a scene, on this thread, while the object lives. That code may not call the scene.
class UserCall {
 public:
  /// `scene` identifies the scene: see `SceneQuery::scene`.
  explicit UserCall(const void* scene);
  ~UserCall();
  UserCall(const UserCall&) = delete;
  UserCall& operator=(const UserCall&) = delete;

  static constexpr std::string_view advice =
      "it called the scene from `apply`, which is not allowed; read other objects by now.world(...), and change "
      "the scene between two frames";

  bool has_called_scene() const { return has_called_scene_; }
  /// As `has_called_scene`, and forgets it.
  bool take_call_of_scene() { return std::exchange(has_called_scene_, false); }
  /// The program calls the scene. Returns true where user code does so from a call by that scene, which is recorded.
  static bool refuses(const void* scene) noexcept;

 private:
  const void* scene_;
  UserCall* outer_;  ///< the call on this thread within which this one is made
  bool has_called_scene_ = false;
};

/// A failure of a behaviour that a user wrote.
struct BehaviourFailure {
  std::string_view why;
  bool is_at_tick;  ///< or at its start: the frame rate has no influence on it
  bool has_memory;
  Pose in;                 ///< the incoming pose
  const Pose* last_given;  ///< its output at the last tick; nullptr where that is not known
};

/// The name of an event that a kernel raises. It refers to a string literal, which outlives every event.
class EventName {
 public:
  template <std::size_t size>
  consteval EventName(const char (&literal)[size]) : text_{literal, size - 1} {}
  constexpr std::string_view text() const { return text_; }

 private:
  std::string_view text_;
};

/// The motion of a fed object at a moment: straight from one pose to another.
struct FedMotion {
  const Pose* from = nullptr;  ///< nullptr, as `to`, where nothing has been fed by then
  const Pose* to = nullptr;
  Time since = Time::min(), arrives = Time::min();
  Time until = Time::max();  ///< from then on it may be another motion

  /// The part of the way that it has covered at a moment, 0 to 1.
  double share(Time at) const {
    return at < arrives ? static_cast<double>((at - since).count()) / static_cast<double>((arrives - since).count())
                        : 1.0;
  }
};

/// What a behaviour may ask of the scene while it is evaluated. `reader` is the index of the behaviour that asks.
class SceneQuery {
 public:
  explicit SceneQuery(const void* of_scene) : scene{of_scene} {}

  const void* const scene;  ///< identifies the scene

  /// The world pose of an object, now or at the last tick as the reader's `reads` says.
  virtual Pose world_of(Object object, std::uint32_t reader) const = 0;
  /// The lane of its world pose, valid until the next layout; none where the reader reads the last tick.
  virtual PoseLane place_of(Object object, std::uint32_t reader) const = 0;
  /// Reports that a user's behaviour threw or gave a pose that is not finite. The incoming pose passes through.
  virtual void failed(std::uint32_t behaviour, const BehaviourFailure& failure) const = 0;
  /// Raises an event of a behaviour at a time up to the present.
  virtual void emit(std::uint32_t behaviour, EventName name, int number, Time at) const = 0;

  /// True where the object is in the scene and visible.
  virtual bool is_there(Object object) const = 0;
  virtual bool has_tag(Object object, std::string_view tag) const = 0;
  /// The visible object of a list, other than `owner`, that was nearest to a point of the world at the last tick; the
  /// first of equally near ones; of generation 0 where there is none. Nothing where the reader reads poses as they are
  /// now.
  virtual std::optional<Object> nearest(const ObjectList& list, const Vec3& point, Object owner,
                                        std::uint32_t reader) const = 0;
  /// Whether a key was held at the last tick.
  virtual bool is_held(std::string_view key) const = 0;
  virtual double axis(std::string_view name) const = 0;  ///< -1 to 1
  /// The answers to its queries of neighbours at the last tick, in the order of the queries.
  virtual std::span<const NeighbourSums> neighbour_sums(std::uint32_t reader) const = 0;
  /// The answer to one of its queries of obstacles; `query` counts these from 0.
  virtual std::span<const Obstacle> obstacles(std::uint32_t reader, std::size_t query) const = 0;
  /// The motion of a fed object. Its poses are valid until the program feeds the scene again.
  virtual FedMotion fed_motion(Object object, Time at) const = 0;
  /// A number that changes whenever the results of `fed_motion` may have changed.
  virtual std::uint64_t feeds_edition() const = 0;
  /// Reports that the behaviour's object was gathered by another at this tick.
  virtual void gathered(std::uint32_t behaviour, Object by, Gathered then) const = 0;

 protected:
  ~SceneQuery() = default;
};

/// The circumstances in which a behaviour starts or its values change.
struct Start {
  Pose in;
  Pose was;  ///< until now: the displayed pose at a start, its own output at a change
  Moment moment;
};

/// The numbers that every frame needs, of behaviours of one kind and variant: eight to a block, in the order in which
/// their objects are evaluated.
class LaneBlocks {
 public:
  virtual ~LaneBlocks() = default;

  virtual void resize(std::size_t blocks) = 0;
  /// Writes the numbers of one behaviour into a lane.
  virtual void fill(std::size_t block, int lane, std::uint32_t row) = 0;
  /// Copies the state in a lane back to the store.
  virtual void collect(std::size_t, int, std::uint32_t) {}
  /// Transforms eight poses.
  virtual void evaluate(std::size_t block, PoseBlock& poses, const EvalContext& context) noexcept = 0;
  /// True where `evaluate_run` may be called: no behaviour can fail.
  virtual bool takes_runs() const { return false; }
  /// Transforms the poses of several blocks one after another, all of whose lanes are active. Only the last may have
  /// unused lanes, which the context tells. The frames of the parents are contiguous, unless they are in the world.
  virtual void evaluate_run(std::size_t, std::span<PoseBlock>, const EvalContext&) noexcept {}
  /// True where `advance_many` may be called.
  virtual bool advances_many() const { return false; }
  /// Advances several blocks by several ticks of equal length, with the result of advancing one by one, bit for bit,
  /// and writes the poses at the last tick. Stops at the first block for which it cannot, and returns the number of
  /// those before it.
  virtual std::size_t advance_many(std::size_t, int, std::span<PoseBlock>, const EvalContext&) noexcept { return 0; }
};

/// The blocks of a kind that decides at ticks.
class AgentBlocks : public LaneBlocks {
 public:
  /// Once a tick is committed and all neighbour queries are answered: computes what is wanted until the next tick.
  virtual void decide(std::size_t block, const EvalContext& context) noexcept = 0;
  /// What each urge of one agent would want if it decided now.
  virtual std::vector<UrgeShare> urges(std::size_t block, int lane, const EvalContext& context) const = 0;
};

/// The behaviour that a row of a store belongs to.
struct Owner {
  std::uint32_t behaviour = 0;
  double tick_rate = 0.0;  ///< per second
  Object object = {};
  std::uint64_t number = 0;  ///< hash of the object's name; collisions are practically impossible
};

/// Values and state of all behaviours of a kind, one row each.
class BehaviourStore {
 public:
  virtual ~BehaviourStore() = default;

  virtual std::uint32_t add(const void* values, const Owner& owner) = 0;
  virtual void remove(std::uint32_t row) = 0;
  virtual const void* values(std::uint32_t row) const = 0;
  virtual void set_values(std::uint32_t row, const void* values) = 0;

  /// Rows of different variants are in different blocks.
  virtual unsigned variant(std::uint32_t row) const = 0;
  virtual std::unique_ptr<LaneBlocks> lane_blocks(unsigned variant) = 0;

  /// Sets the state at a start.
  virtual void begin(std::uint32_t row, const Start& start) noexcept = 0;
  /// Puts the motion so far into the state, so that own time can start from zero under the next values. Returns false
  /// where there is no phase to keep.
  virtual bool absorb(std::uint32_t row, OwnTime time, const Start& now, const void* next_values) = 0;

  /// Adds to the velocity in the state. Returns false where the kind has none.
  virtual bool kick(std::uint32_t, const Vec3&) { return false; }
  /// Reverses a motion between two ends. Returns false where it is none.
  virtual bool turn_back(std::uint32_t, OwnTime, const Start&) { return false; }

  /// A copy of all rows.
  virtual std::unique_ptr<BehaviourStore> copy() const = 0;
  /// Takes the states of a copy, and its values if wanted. Returns false where no values have changed.
  virtual bool restore(const BehaviourStore& copy, bool values_too) = 0;
  /// Writes the state of a row, or reads it once the values have been set. Throws `BadValue`.
  virtual void archive(std::uint32_t row, Archive& archive) = 0;
  /// Copies the state of one row of another store of the kind.
  virtual void take_state(std::uint32_t row, const BehaviourStore& from, std::uint32_t from_row) = 0;
};

/// The entries of a store, by row. An entry stays at its address, so that kernels may point to it. Rows of removed
/// entries are used again.
template <class Entry>
class RowTable {
 public:
  RowTable() = default;
  RowTable(const RowTable& other) : size_{other.size_}, free_{other.free_} {
    chunks_.resize(other.chunks_.size());
    for (std::size_t i = 0; i < chunks_.size(); ++i) {
      chunks_[i].reserve(chunk_size);
      chunks_[i].assign(other.chunks_[i].begin(), other.chunks_[i].end());
    }
  }
  RowTable& operator=(const RowTable&) = delete;

  std::uint32_t add(Entry entry) {
    if (free_.empty()) {
      append(std::move(entry));
      return static_cast<std::uint32_t>(size_ - 1);
    }
    const std::uint32_t row = free_.back();
    free_.pop_back();
    (*this)[row] = std::move(entry);
    return row;
  }
  void remove(std::uint32_t row) { free_.push_back(row); }

  std::size_t size() const { return size_; }
  Entry& operator[](std::size_t row) { return chunks_[row / chunk_size][row % chunk_size]; }
  const Entry& operator[](std::size_t row) const { return chunks_[row / chunk_size][row % chunk_size]; }

 private:
  static constexpr std::size_t chunk_size = 64;

  void append(Entry entry) {
    if (size_ % chunk_size == 0) chunks_.emplace_back().reserve(chunk_size);
    chunks_.back().push_back(std::move(entry));
    ++size_;
  }

  std::vector<std::vector<Entry>> chunks_;  ///< a chunk never grows beyond the memory reserved for it
  std::size_t size_ = 0;
  std::vector<std::uint32_t> free_;
};

/// A pose with these parts of `pose` and the other parts of `others`.
inline Pose only(unsigned parts, const Pose& pose, const Pose& others) {
  return {(parts & part::position) != 0 ? pose.position : others.position,
          (parts & part::rotation) != 0 ? pose.rotation : others.rotation,
          (parts & part::scale) != 0 ? pose.scale : others.scale};
}

/// What is true of all behaviours of a kind.
struct KindTraits {
  bool has_memory = false;            ///< it has state that is advanced from tick to tick; otherwise a function of time
  bool advances_to_any_time = false;  ///< its state can be advanced to any moment, and so be changed between ticks
  bool needs_every_tick = false;  ///< each tick depends on what happened at the last: it takes every tick in its turn
  bool decides = false;           ///< it decides at ticks, once they are committed: its blocks are `AgentBlocks`
  bool emits_events = false;
  bool reports_each_lost = false;   ///< where it goes on without a lost dependency, it raises "lost" nevertheless
  bool is_additive = false;         ///< its output is its input and a remembered displacement, which a stop keeps
  bool has_velocity = false;        ///< a kick adds to its velocity
  bool holds_when_stopped = false;  ///< its motion does not follow from its own time: stopped, it gives its last pose
  bool one_an_object = false;       ///< an object has one behaviour of the kind at most
  bool may_name_tags = false;       ///< its values may name all objects with a tag
  bool thread_safe = true;          ///< its behaviours may be evaluated on any thread; otherwise on the caller's
  bool bridges = true;              ///< a change of values is bridged; otherwise it shows at once
};

/// One kind of behaviour. Those that are made at run time belong to a `shared_ptr`, which scenes and snapshots share.
class Kind : public std::enable_shared_from_this<Kind> {
 public:
  virtual ~Kind() = default;

  virtual std::string_view name() const = 0;
  /// Several behaviours of the kind on one object may be left without a name: they are called "own", "own-2", ...
  virtual bool is_anonymous() const { return false; }
  virtual std::string_view summary() const = 0;
  virtual std::span<const FieldInfo> fields() const = 0;
  virtual std::span<const Either> alternatives() const = 0;
  virtual std::span<const OneOf> exactly_one() const = 0;
  virtual std::string_view example() const = 0;

  virtual const KindTraits& traits() const = 0;
  /// The parts of the pose that behaviours of a variant may change.
  virtual unsigned touches(unsigned) const { return part::all; }
  /// Those of them that do not depend on the incoming pose.
  virtual unsigned overwrites(unsigned) const { return 0; }
  /// Its neighbour queries with these values.
  virtual std::vector<NeighbourQuery> neighbour_queries(const void*) const { return {}; }
  /// It holds its pose unless all objects are there that it names by themselves. Otherwise it goes on with those that
  /// are. It always goes on with the objects of a list that are there.
  virtual bool needs_all_dependencies(const void*) const { return true; }
  /// A function of time whose events depend on other objects, and are therefore raised at ticks.
  virtual bool emits_events_at_ticks(const void*) const { return false; }
  /// `begin` must be called, or the first pose may differ from the incoming one.
  virtual bool needs_start(const void* values) const = 0;
  virtual References dependencies(const void* values) const = 0;
  /// Checks the values together. `in` is the incoming pose, or nullptr where it is not known.
  virtual std::optional<Diagnostic> check(const void* values, const Pose* in) const = 0;

  /// The kind, where it was made at run time. (Without `dynamic_cast`, which needs type information.)
  virtual const RuntimeKind* as_runtime() const { return nullptr; }

  virtual std::unique_ptr<BehaviourStore> store() const = 0;
  /// A copy of the values, or default values for nullptr; nullptr where the type has no default.
  virtual std::shared_ptr<void> make(const void* values) const = 0;
};

/// The objects that the fields of the values at `owner` name.
References objects_named(std::span<const FieldInfo> fields, const void* owner);

/// The names of the fields whose values differ.
std::vector<std::string_view> changed_fields(std::span<const FieldInfo> fields, const void* before, const void* after);

/// A field of a kind, or a field that every behaviour has; nullptr where neither has that name.
struct FieldFound {
  const FieldInfo* field = nullptr;
  bool is_common = false;
};
FieldFound find_field(const Kind& kind, std::string_view name);
/// All names that `find_field` finds.
std::vector<std::string_view> field_names(const Kind& kind);

/// The field that `retarget` changes, or nullptr.
const FieldInfo* aim_of(const Kind& kind);

/// The fields that every behaviour has.
std::span<const FieldInfo> common_fields();

}  // namespace detail
}  // namespace hushed
