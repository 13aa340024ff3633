// SPDX-License-Identifier: MIT
#pragma once

// What the library asks of a kind of behaviour, built in or your own.

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <hushed/detail/block.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/field.hpp>
#include <hushed/handle.hpp>
#include <hushed/moment.hpp>
#include <hushed/urge_share.hpp>

namespace hushed HUSHED_API {
enum class Gathered;
}

namespace hushed HUSHED_API {
namespace detail {

/// What a behaviour looks about for at every tick: those with a tag, wherever they are.
struct NeighbourQuery {
  enum class Of { separation, neighbours, obstacles };
  Of of;
  std::string_view tag;
  double within = 0.0;  ///< m in the parent's space; not of obstacles
  bool level = false;   ///< heights do not count; not of obstacles
  bool operator==(const NeighbourQuery&) const = default;
};

/// What those within reach come to, summed in the order of their names.
struct alignas(64) NeighbourSums {
  Vec3 sum = Vec3::Zero();       ///< of n - x; of a separation, of unit(x - n) * (1 - |x - n| / within)
  Vec3 velocity = Vec3::Zero();  ///< m/s
  double count = 0.0;
};

/// Something in the way, in the space of the parent of who looks.
struct Obstacle {
  Object object;
  bool is_round;  ///< a sphere, whose radius is half.x(); else a box
  Pose pose;      ///< its middle, and where its axes are
  Vec3 half;      ///< m along its own axes
  double radius;  ///< m: of the ball around it
  Vec3 velocity;  ///< m/s, over the last tick
};

/// Whether code of the user's is asked for something at the moment. It may not call the scene meanwhile.
struct UserCode {
  bool is_running = false;
  bool called_scene = false;  ///< it did so all the same

  static constexpr std::string_view advice =
      "it called the scene while the scene was asking it for a pose; read other objects by now.world(...), and change "
      "the scene between two frames";

  /// True where the scene was called since this was last asked.
  bool take_call() { return std::exchange(called_scene, false); }
};

/// While it lives, calls of the scene are refused.
class UserCodeGuard {
 public:
  explicit UserCodeGuard(UserCode& code) : code_{code}, before_{std::exchange(code.is_running, true)} {}
  ~UserCodeGuard() { code_.is_running = before_; }
  UserCodeGuard(const UserCodeGuard&) = delete;
  UserCodeGuard& operator=(const UserCodeGuard&) = delete;

 private:
  UserCode& code_;
  bool before_;
};

/// What went wrong when a behaviour of the user's own was asked for a pose.
struct BehaviourFailure {
  std::string_view why;
  bool is_at_tick;  ///< or at its start: frames cannot have led to it
  bool has_memory;
  Pose in;                 ///< the pose that came in
  const Pose* last_given;  ///< at the last tick; nullptr where that is not known
};

/// Gives behaviours the world poses of others, and what is input.
class SceneQuery {
 public:
  explicit SceneQuery(UserCode& code) : user_code{code} {}

  UserCode& user_code;

  /// `reader` is the behaviour that asks: it may read the last tick.
  virtual Pose world_of(Object object, std::uint32_t reader) const = 0;
  /// Where its world pose is kept as long as the scene is not laid out anew; nullptr for who reads the last tick.
  virtual const Pose* place_of(Object object, std::uint32_t reader) const = 0;
  /// A behaviour of the user's own has thrown, or given a pose that is not finite: what comes in goes out.
  virtual void failed(std::uint32_t behaviour, const BehaviourFailure& failure) const = 0;
  /// Something that a behaviour tells of; `name` must be a literal.
  virtual void emit(std::uint32_t behaviour, std::string_view name, int number, Time at) const = 0;

  /// It is in the scene, and not hidden.
  virtual bool is_there(Object object) const = 0;
  /// Of those of a list that are there, but for `owner`, whoever was nearest at the last tick to a point of the world;
  /// of equally near ones the first, and of generation 0 where there is nobody. Nothing where the reader reads what is
  /// now.
  virtual std::optional<Object> nearest(const ObjectList& list, const Vec3& point, Object owner,
                                        std::uint32_t reader) const = 0;
  /// At the last tick.
  virtual bool is_held(std::string_view key) const = 0;
  virtual double axis(std::string_view name) const = 0;  ///< -1 to 1
  /// What its kind's senses of neighbours found at the last tick, in their order.
  virtual std::span<const NeighbourSums> neighbour_sums(std::uint32_t reader) const = 0;
  /// What one of its kind's senses of obstacles found at the last tick; `sense` is the number of that sense.
  virtual std::span<const Obstacle> obstacles(std::uint32_t reader, std::size_t sense) const = 0;
  /// At this tick, the behaviour's object was gathered by another.
  virtual void gathered(std::uint32_t behaviour, Object by, Gathered then) const = 0;

 protected:
  ~SceneQuery() = default;
};

/// A behaviour's own time, as whole seconds and the rest, so that precision does not fade as it grows.
struct OwnTime {
  double whole = 0.0;
  double rest = 0.0;  ///< in [0, 1)
  double seconds() const { return whole + rest; }
};

/// What becomes of memory at a moment.
enum class Remember {
  nothing,        ///< a frame: a partial step is shown, and forgotten
  tick,           ///< it is advanced to this tick
  now,            ///< a change between ticks: it is advanced to this moment. Not by behaviours of the user's own
  standing_still  ///< the same, but it has not moved since it was last advanced
};

/// The moment at which eight behaviours are evaluated.
struct EvalContext {
  Time time;
  const Row* whole;         ///< own times: whole seconds
  const Row* rest;          ///< own times: the rest
  const PoseBlock* parent;  ///< as inherited
  bool in_world;            ///< there is no parent, so that its space is the world's
  unsigned active;          ///< a bit a lane: those that have started and are not held
  Remember remember;
  bool may_rest;  ///< a tick at which what has nearly come to rest may be put to rest
  bool tell;      ///< raise the events since this was last asked
  double step;    ///< s since the last committed tick
  const SceneQuery* query;

  bool is_active(int lane) const { return (active >> lane & 1U) != 0; }
};

/// What is known of one behaviour when it starts, or when its values change.
struct Start {
  Pose in;
  Pose was;  ///< where it was until now: shown at a start; given by itself where its values change
  Moment moment;
};

/// The hot half of a kind: behaviours of one kind and variant, eight to a block, in the order in which
/// their objects are evaluated.
class LaneBlocks {
 public:
  virtual ~LaneBlocks() = default;

  virtual void resize(std::size_t blocks) = 0;
  /// Puts a behaviour's derived numbers in a lane.
  virtual void fill(std::size_t block, int lane, std::uint32_t row) = 0;
  /// Writes what a lane remembers back to where `fill` takes it from.
  virtual void collect(std::size_t, int, std::uint32_t) {}
  /// Takes eight poses through the behaviour.
  virtual void evaluate(std::size_t block, PoseBlock& poses, const EvalContext& context) noexcept = 0;
  /// Once a tick is committed, and all has been seen as it is then: what is wanted until the next.
  virtual void decide(std::size_t, const EvalContext&) noexcept {}
  /// What it would be, were it decided now.
  virtual std::vector<UrgeShare> urges(std::size_t, int, const EvalContext&) const { return {}; }
  /// Takes several ticks of one length in one go, to the same bits, and shows the last. False, and nothing has changed:
  /// it cannot.
  virtual bool advance_many(std::size_t, int, PoseBlock&, const EvalContext&) noexcept { return false; }
};

/// Whose values and memory they are.
struct Owner {
  std::uint32_t behaviour = 0;
  double tick_rate = 0.0;  ///< per second
  Object object = {};
  std::uint64_t number = 0;  ///< of the object's name: two are alike as good as never
};

/// The cold half of a kind: the values and what was taken at the start, one row a behaviour.
class BehaviourStore {
 public:
  virtual ~BehaviourStore() = default;

  virtual std::uint32_t add(const void* values, const Owner& owner) = 0;
  virtual void remove(std::uint32_t row) = 0;
  virtual const void* values(std::uint32_t row) const = 0;
  virtual void set_values(std::uint32_t row, const void* values) = 0;

  /// Rows whose variants differ stand in columns of their own.
  virtual unsigned variant(std::uint32_t row) const = 0;
  virtual std::unique_ptr<LaneBlocks> lane_blocks(unsigned variant) = 0;

  /// Takes what is "taken when it starts".
  virtual void begin(std::uint32_t row, const Start& start) noexcept = 0;
  /// Takes in the motion so far, so that own time can count from zero again under the values that follow.
  /// False: it has no phase to keep.
  virtual bool absorb(std::uint32_t row, OwnTime time, const Start& now, const void* next_values) = 0;

  /// Adds to a velocity that is remembered. False: there is none.
  virtual bool kick(std::uint32_t, const Vec3&) { return false; }
  /// Turns a motion back that goes from one end to another. False: it is not of that sort.
  virtual bool turn_back(std::uint32_t, OwnTime, const Start&) { return false; }

  /// A copy of everything, and its return.
  virtual std::unique_ptr<BehaviourStore> copy() const = 0;
  virtual void restore(const BehaviourStore& copy, bool values_too) = 0;
  /// What one row of another roster of the kind has taken and remembers.
  virtual void take_state(std::uint32_t row, const BehaviourStore& from, std::uint32_t from_row) = 0;
};

/// Parts of a pose, as bits.
namespace part {
inline constexpr unsigned position = 1, rotation = 2, scale = 4, all = 7;
}

/// These parts of a pose, and the others of another.
inline Pose only(unsigned parts, const Pose& pose, const Pose& others) {
  return {(parts & part::position) != 0 ? pose.position : others.position,
          (parts & part::rotation) != 0 ? pose.rotation : others.rotation,
          (parts & part::scale) != 0 ? pose.scale : others.scale};
}

/// One kind of behaviour.
class Kind {
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

  /// Advanced from tick to tick, rather than a function of time.
  virtual bool has_memory() const = 0;
  /// Its memory can be advanced to any moment, and so be changed between ticks.
  virtual bool advances_to_any_time() const { return false; }
  /// The parts of the pose that behaviours of a variant may change; the others go through untouched.
  virtual unsigned touches(unsigned) const { return part::all; }
  /// It raises events.
  virtual bool tells() const { return false; }
  /// What goes on at one tick matters to the next: it takes every tick in its turn.
  virtual bool listens() const { return false; }
  /// It decides at ticks, once they are committed.
  virtual bool decides() const { return false; }
  /// What it looks about for.
  virtual std::vector<NeighbourQuery> neighbour_queries(const void*) const { return {}; }
  /// What comes out is what comes in, and a displacement that it remembers: stopped, it keeps the displacement alone.
  virtual bool adds() const { return false; }
  /// Its values are changed without a jump. False: a change shows at once.
  virtual bool bridges() const { return true; }
  /// It has a velocity that can be added to.
  virtual bool has_velocity() const { return false; }
  /// Without all that it looks at it holds its place.
  virtual bool needs_all(const void*) const { return true; }
  /// Where it goes on without, it tells of its loss all the same. Otherwise any of those it looks at would do.
  virtual bool misses_each() const { return false; }
  /// A function of time whose events depend on where others are: they are judged at ticks.
  virtual bool tells_at_ticks(const void*) const { return false; }
  /// `begin` must be called, or the first pose may differ from the one coming in.
  virtual bool needs_start(const void* values) const = 0;
  virtual References dependencies(const void* values) const = 0;
  /// What is wrong with the values together, given the pose that is known to come in (or none).
  virtual std::optional<Diagnostic> check(const void* values, const Pose* in) const = 0;

  virtual std::unique_ptr<BehaviourStore> store() const = 0;
  /// A copy of the values, or default values where given nullptr; nullptr where there are none.
  virtual std::shared_ptr<void> make(const void* values) const = 0;
};

/// What the fields of the values at `owner` name.
References objects_named(std::span<const FieldInfo> fields, const void* owner);

/// The names of the fields whose values differ.
std::vector<std::string_view> changed_fields(std::span<const FieldInfo> fields, const void* before, const void* after);

/// A field of a kind, or one that every behaviour has; nullptr where there is none of that name.
struct FieldFound {
  const FieldInfo* field = nullptr;
  bool is_common = false;
};
FieldFound find_field(const Kind& kind, std::string_view name);
/// Every name that `find_field` knows.
std::vector<std::string_view> field_names(const Kind& kind);

/// The field that says whom a kind goes by, if there is one.
const FieldInfo* aim_of(const Kind& kind);

/// The one `Kind` of B.
template <class B>
const Kind& kind_of();

}  // namespace detail
}  // namespace HUSHED_API
