// SPDX-License-Identifier: MIT
#include <hushed/behaviour/drive.hpp>

#include <algorithm>
#include <array>

#include <hushed/detail/constants.hpp>
#include <hushed/detail/table_reader.hpp>

#include "archived_time.hpp"
#include "lanes/conversions.hpp"
#include "lanes/exponential.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/memory.hpp"

namespace hushed {

namespace {

struct Direction {
  std::string_view name;
  DriveKeys::Names DriveKeys::*keys;
};
constexpr std::array<Direction, 6> directions{{{"forward", &DriveKeys::forward},
                                               {"back", &DriveKeys::back},
                                               {"left", &DriveKeys::left},
                                               {"right", &DriveKeys::right},
                                               {"rise", &DriveKeys::rise},
                                               {"sink", &DriveKeys::sink}}};

}  // namespace

std::optional<Diagnostic> DriveKeys::check() const {
  for (const Direction& direction : directions)
    for (const std::string& key : this->*direction.keys)
      if (key.empty())
        return Diagnostic{{}, std::string{direction.name} + ": the name of a key is empty; give one, such as \"W\"."};
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit&, DriveKeys& to) {
  if (!from.as<Value::Table>())
    return detail::expected(from, form_of(static_cast<const DriveKeys*>(nullptr), {}).description);
  detail::Diagnostics diagnostics;
  detail::TableReader table{from, "", diagnostics};
  DriveKeys taken;
  for (const Direction& direction : directions) {
    std::vector<Value> keys;
    if (!table.read_names(direction.name, keys)) continue;
    (taken.*direction.keys).clear();
    for (const Value& key : keys) (taken.*direction.keys).push_back(*key.as<std::string>());
  }
  table.refuse_the_rest();
  if (!diagnostics.empty()) return diagnostics.front();
  if (auto diagnostic = taken.check()) return Diagnostic{from.place, diagnostic->text};
  to = std::move(taken);
  return std::nullopt;
}

std::optional<Value> write(const DriveKeys& from, const Unit&) {
  Value::Table table;
  for (const Direction& direction : directions) {
    Value::List keys;
    for (const std::string& key : from.*direction.keys) keys.push_back(Value{key});
    table.push_back({std::string{direction.name}, {}, Value{std::move(keys)}});
  }
  return Value{std::move(table)};
}

Form form_of(const DriveKeys*, const Unit&) {
  const Form keys = form::list(form::text("the name of a key"), 0, 100, "a list of keys");
  std::vector<std::pair<std::string_view, Form>> parts;
  for (const Direction& direction : directions) parts.emplace_back(direction.name, keys);
  return form::table(std::move(parts), "lists of keys, such as { forward = [\"W\"], back = [\"S\"] }");
}

std::optional<Diagnostic> Heading::check() const {
  if (space == Space::target && !target.is_given())
    return Diagnostic{{}, "Space::target needs an object; give the object instead, such as .space = camera."};
  return detail::check_choice(space, allowed(Space::world, Space::own, Space::target));
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Heading& to) {
  const auto* word = from.as<std::string>();
  if (word && *word == "world") {
    to = Heading{};
  } else if (word && *word == "own") {
    to = Heading{Space::own};
  } else {
    Target other;
    if (read(from, unit, other))
      return detail::expected(from, form_of(static_cast<const Heading*>(nullptr), unit).description);
    to = Heading{std::move(other)};
  }
  return std::nullopt;
}

std::optional<Value> write(const Heading& from, const Unit& unit) {
  if (from.space == Space::target) return write(from.target, unit);
  return Value{std::string{from.space == Space::own ? "own" : "world"}};
}

Form form_of(const Heading*, const Unit&) { return form::text("\"world\", \"own\", or the name of an object"); }

std::optional<Diagnostic> resolve(Heading& to, const detail::Names& names) {
  return to.space == Space::target ? resolve(to.target, names) : std::nullopt;
}

void add_objects(const Heading& from, detail::References& to) {
  if (from.space == Space::target) add_objects(from.target, to);
}

namespace {

using namespace detail;

/// A vector in the level plane: forward, and to the left.
struct Level {
  double forward = 0.0, left = 0.0;
};
Level operator+(Level a, Level b) { return {a.forward + b.forward, a.left + b.left}; }
Level operator-(Level a, Level b) { return {a.forward - b.forward, a.left - b.left}; }
Level operator*(Level a, double factor) { return {a.forward * factor, a.left * factor}; }
/// Rotated and scaled: the product of two complex numbers.
Level operator*(Level a, Level b) {
  return {a.forward * b.forward - a.left * b.left, a.forward * b.left + a.left * b.forward};
}

Level turned(double angle) {
  const auto [sine, cosine] = sine_cosine(angle);
  return {cosine, sine};
}

/// The mean of a unit vector that turns from 0 to an angle at a constant rate: the chord of an arc over its length.
Level mean_of_turn(double angle) {
  const double half = 0.5 * angle;
  const double chord = absolute(half) < 1e-4 ? 1.0 - half * half * (1.0 / 6.0) : sine_cosine(half).sine / half;
  return turned(half) * chord;
}

struct DriveState {
  Vec3 displacement = Vec3::Zero();  ///< m, in the parent's space
  Vec3 velocity = Vec3::Zero();      ///< m/s
  double turned = 0.0;               ///< rad about the vertical axis of its heading, in [-pi, pi]
  Time until = {};                   ///< the time to which it was last advanced
  std::uint32_t behaviour = 0;
};

struct DriveBlock {
  const Drive* drive[lanes];
  DriveState state[lanes];
};

/// The input of keys and axes, each from -1 to 1.
struct Asked {
  double forward, left, rise;
};

double amount(const Drive& drive, const Direction& direction, const SceneQuery& query) {
  const DriveKeys::Names& keys = drive.keys.*direction.keys;
  const bool held = std::any_of(keys.begin(), keys.end(), [&](const std::string& key) { return query.is_held(key); });
  return held ? 1.0 : query.axis(direction.name);
}

Asked asked(const Drive& drive, const SceneQuery& query) {
  const auto between = [&](std::size_t there, std::size_t back) {
    return larger(smaller(amount(drive, directions[there], query) - amount(drive, directions[back], query), 1.0), -1.0);
  };
  return {between(0, 1), between(2, 3), between(4, 5)};
}

/// The rotation that forward is relative to, in the parent's space.
QuatOf<double> heading(const Drive& drive, const QuatOf<double>& in, const Pose& parent, const DriveState& state,
                       const SceneQuery& query) {
  if (drive.space.space == Space::own) return in;
  const QuatOf<double> out_of_world = inverse(numbers(parent.rotation));
  if (drive.space.space == Space::world) return out_of_world;
  const VecOf<double> ahead = rotate(numbers(query.world_of(drive.space.target.object, state.behaviour).rotation),
                                     VecOf<double>{0.0, 0.0, 1.0});
  return near_unit(out_of_world * rotation_by(VecOf<double>{0.0, angle_of(ahead.x, ahead.z), 0.0}));
}

/// Advances by a step in seconds, with constant input.
void advance(const Drive& drive, const QuatOf<double>& heading, const SceneQuery& query, double step,
             DriveState& state) {
  const bool turns = drive.mode == DriveMode::turn;
  const Asked ask = asked(drive, query);
  const double sideways = turns ? 0.0 : ask.left;
  const double length = square_root(ask.forward * ask.forward + sideways * sideways + ask.rise * ask.rise);
  const double pace = drive.speed / larger(length, 1.0);
  const double turn = turns ? drive.turn_speed.in_radians() * ask.left * step : 0.0;
  const Level start = turns ? turned(state.turned) : Level{1.0, 0.0};

  const VecOf<double> v = rotate(inverse(heading), numbers(state.velocity));
  const Level wanted = start * Level{ask.forward * pace, sideways * pace};
  const double wanted_rise = ask.rise * pace;
  Level level = wanted * turned(turn), way = wanted * mean_of_turn(turn) * step;
  double rise = wanted_rise, way_up = wanted_rise * step;
  if (drive.half_life > Time{}) {
    // The wanted velocity turns at turn / step: v = A e^(i turn t / step) + (v0 - A) e^-kt, A = wanted k / (k + i turn
    // / step).
    const double half_lives = step / in_seconds(drive.half_life);
    const double decay = half_lives * ln_2;
    const double left = power_of_two(-half_lives);
    const double mean = mean_of_decay(decay, left);
    const Level share = Level{decay, -turn} * (decay / (decay * decay + turn * turn));
    const Level steady = wanted * share;
    const Level off = Level{v.z, v.x} - steady;
    level = steady * turned(turn) + off * left;
    way = (steady * mean_of_turn(turn) + off * mean) * step;
    rise = wanted_rise + (v.y - wanted_rise) * left;
    way_up = (wanted_rise + (v.y - wanted_rise) * mean) * step;
  }
  state.velocity = vector(rotate(heading, VecOf<double>{level.left, rise, level.forward}));
  state.displacement += vector(rotate(heading, VecOf<double>{way.left, way_up, way.forward}));
  state.turned = wrapped(radians(state.turned + turn)).in_radians();
}

struct DriveKernel {
  using Values = Drive;

  static constexpr auto summary = "moves the object by keys and axes";
  static constexpr auto example = R"(
[[object.pilot.behaviour]]
kind       = "drive"
mode       = "turn"          # left and right turn it
space      = "own"
speed      = 6               # metres per second
half_life  = 0.4             # seconds until half of that is reached
)";
  static constexpr auto fields = std::tuple{
      field("keys", &Drive::keys, unit::none, "the keys of each direction"),
      field("speed", &Drive::speed, unit::metres_per_second, "largest speed", slider(0, 20)),
      field("half_life", &Drive::half_life, unit::seconds, "time in which half of the wanted velocity is reached",
            slider(0, 2)),
      field("space", &Drive::space, unit::none, "the axes of \"forward\": the world's, its own, or another object's"),
      field("mode", &Drive::mode, unit::none, "effect of left and right: a movement sideways, or a turn"),
      field("turn_speed", &Drive::turn_speed, unit::degrees_per_second, "turning rate", slider(0, 180))};
  using State = DriveState;
  using Block = DriveBlock;

  static constexpr bool needs_every_tick = true;
  static constexpr bool is_additive = true;

  static void prepare(State& state, const Drive&, const Owner& owner) { state.behaviour = owner.behaviour; }
  /// The variant: whether the rotation is needed, because it changes or because forward is relative to it.
  static unsigned variant(const Drive& drive, const State&) {
    return drive.mode == DriveMode::turn || drive.space.space == Space::own ? 1U : 0U;
  }
  static void archive(Archive& archive, State& state, const Drive&) {
    archive(state.displacement, state.velocity, state.turned);
    archive_times(archive, state.until);
  }
  static unsigned touches(unsigned variant) {
    return variant != 0 ? part::position | part::rotation : unsigned{part::position};
  }

  static void begin(State& state, const Drive&, const Start& start) {
    const std::uint32_t behaviour = state.behaviour;
    state = {};
    state.until = start.moment.time;
    state.behaviour = behaviour;
  }
  static void fill(Block& block, int lane, const Drive& drive, const State& state) {
    block.drive[lane] = &drive;
    block.state[lane] = state;
  }
  static void collect(const Block& block, int lane, State& state) { state = block.state[lane]; }

  static void evaluate(Block& block, unsigned, PoseBlock& poses, const EvalContext& context) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      const Drive& drive = *block.drive[lane];
      DriveState state = block.state[lane];
      const QuatOf<double> in = load<double>(poses.rotation, lane);
      const QuatOf<double> from = heading(drive, in, lane_of(*context.parent, lane), state, *context.query);
      const Time step = context.time - state.until;
      if (step > Time{} && context.remember != Remember::standing_still)
        advance(drive, from, *context.query, in_seconds(step), state);
      state.until = context.time;
      if (context.remember != Remember::nothing) block.state[lane] = state;
      store(poses.position, lane, load<double>(poses.position, lane) + numbers(state.displacement));
      if (drive.mode == DriveMode::strafe) continue;
      const QuatOf<double> turn = rotation_by(VecOf<double>{0.0, state.turned, 0.0});
      store(poses.rotation, lane, near_unit(from * turn * inverse(from) * in));
    }
  }

  static std::optional<Diagnostic> check(const Drive&, const Pose*) { return std::nullopt; }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Drive>() {
  static const KernelKind<DriveKernel> kind;
  return kind;
}

}  // namespace hushed
