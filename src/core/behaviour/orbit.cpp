// SPDX-License-Identifier: MIT
#include <hushed/behaviour/orbit.hpp>

#include <cmath>
#include <memory>

#include <hushed/detail/constants.hpp>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/places.hpp"

namespace hushed {

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Radii& to) {
  const auto* list = from.as<Value::List>();
  if (list && list->size() != 2)
    return detail::expected(from, form_of(static_cast<const Radii*>(nullptr), unit).description);
  Radii taken;
  if (auto diagnostic = detail::read(list ? (*list)[0] : from, unit, taken.a)) return diagnostic;
  if (auto diagnostic = detail::read(list ? (*list)[1] : from, unit, taken.b)) return diagnostic;
  to = taken;
  return std::nullopt;
}

std::optional<Value> write(const Radii& from, const Unit&) {
  if (from.a == from.b) return Value{from.a};
  return Value{Value::List{Value{from.a}, Value{from.b}}};
}

Form form_of(const Radii*, const Unit& unit) {
  return form::any_of({form::number(unit), form::list(form::number(unit), 2, 2, "two numbers, [a, b]")},
                      "a number, 0 or more, or two, [a, b]");
}

namespace {

using namespace detail;

/// The plane perpendicular to an axis: e1 is +X projected onto it, or +Z where the axis is along X.
struct Plane {
  VecOf<double> axis, e1, e2;
};

Plane plane_across(const Vec3& direction) {
  const VecOf<double> axis = unit_of(numbers(direction));
  const VecOf<double> across_x = cross(axis, numbers(axis::right));
  const bool along_x = squared_length(across_x) < 1e-12;
  // axis x (X x axis) is X without its component along the axis.
  const VecOf<double> e2 = unit_of(along_x ? cross(axis, numbers(axis::forward)) : across_x);
  return {axis, cross(e2, axis), e2};
}

/// Radius, angle and height: given, or taken from the position of the object.
struct Figure {
  Radii radius;
  double start = 0.0;  ///< degrees
  double height = 0.0;
};

Figure figure_at(const Vec3& from_centre, const Plane& plane) {
  const VecOf<double> d = numbers(from_centre);
  const double x = dot(d, plane.e1), y = dot(d, plane.e2);
  return {std::sqrt(x * x + y * y), angle_of(y, x) * degrees_per_radian, dot(d, plane.axis)};
}

struct OrbitBlock {
  Row rate, offset;  ///< degrees per second and degrees; with a period, 1 and seconds
  Row lap_lead, lap_rest, lap_inverse;
  Row to_degrees;
  Row centre[3];            ///< includes the height, unless the centre moves
  Row first[3], second[3];  ///< a e1 and b e2
  Row rise[3];              ///< height * axis
  Row axis[3];
  Row way;                               ///< 1, or -1 in the opposite direction
  std::unique_ptr<MovingPlaces> places;  ///< nullptr where the centres are points
};

void go_round(const OrbitBlock& block, const Row (&centre)[3], PoseBlock& poses, OrbitFacing face,
              const EvalContext& context) {
  const auto angle_in = [&](int lane) {
    const PeriodOf<Real> lap{load<Real>(block.lap_lead, lane), load<Real>(block.lap_rest, lane),
                             load<Real>(block.lap_inverse, lane)};
    return load<Real>(block.to_degrees, lane) *
           reduced_product(load<Real>(block.rate, lane), load<Real>(*context.whole, lane),
                           load<Real>(*context.rest, lane), load<Real>(block.offset, lane), lap);
  };
  if (face == OrbitFacing::none) {
    for_each_lane([&](int lane) {
      const auto [sine, cosine] = sine_cosine_of_degrees(angle_in(lane));
      const VecOf<Real> out = load<Real>(block.first, lane) * cosine + load<Real>(block.second, lane) * sine;
      store(poses.position, lane, load<Real>(centre, lane) + (out + load<Real>(block.rise, lane)));
    });
    return;
  }
  for_each_lane([&](int lane) {
    const auto [sine, cosine] = sine_cosine_of_degrees(angle_in(lane));
    const VecOf<Real> first = load<Real>(block.first, lane), second = load<Real>(block.second, lane);
    const VecOf<Real> out = first * cosine + second * sine, along = second * cosine - first * sine;
    const VecOf<Real> arm = out + load<Real>(block.rise, lane);
    store(poses.position, lane, load<Real>(centre, lane) + arm);

    // At the tips of a flat ellipse its velocity is 0. The direction of arrival is outward.
    const Real stands = select(squared_length(along) <= 1e-24 * squared_length(out), Real{1.0}, Real{0.0});
    const Real way = select(stands != 0.0, Real{1.0}, load<Real>(block.way, lane));
    const auto toward = [&](Real to_centre, Real tip, Real moving) {
      return select(face == OrbitFacing::centre, -to_centre, way * select(stands != 0.0, tip, moving));
    };
    const VecOf<Real> direction{toward(arm.x, out.x, along.x), toward(arm.y, out.y, along.y),
                                toward(arm.z, out.z, along.z)};
    const auto looking = facing(direction, load<Real>(block.axis, lane));
    store(poses.rotation, lane, choose(looking.is_good, looking.rotation, load<Real>(poses.rotation, lane)));
  });
}

struct OrbitKernel {
  using Values = Orbit;

  static constexpr auto summary = "moves the object around a centre, on a circle or an ellipse";
  static constexpr auto example = R"(
[object.mast]
position = [0, 6, 0]

[[object.gull.behaviour]]
kind   = "orbit"
centre = { object = "mast", offset = [0, 3, 0] }   # goes along where the mast goes
radius = 4
period = 8           # seconds for once round
face   = "travel"
)";
  static constexpr std::array exactly_one{OneOf{{"speed", "period"}}};
  static constexpr auto fields = std::tuple{
      field("centre", &Orbit::centre, unit::metres, "the centre; default: the origin of the parent's space"),
      field("axis", &Orbit::axis, unit::direction, "normal of the plane of the orbit"),
      field("radius", &Orbit::radius, unit::length,
            "radius, or the two semi-axes of an ellipse; default: from the position at the start", slider(0, 20)),
      field("speed", &Orbit::speed, unit::degrees_per_second, "angle per second; negative goes the other way",
            slider(-180, 180)),
      field("period", &Orbit::period, unit::signed_seconds, "time of one revolution", slider(1, 60)),
      field("start", &Orbit::start, unit::degrees, "angle at which it begins; default: 0", slider(-180, 180)),
      field("height", &Orbit::height, unit::metres, "distance from the centre along the axis; default: 0",
            slider(-10, 10)),
      field("face", &Orbit::face, unit::none, "what its +Z points to")};

  struct State {
    double turned = 0.0;  ///< degrees, before the last change of speed
    Figure taken;         ///< used where no radius is given
    std::uint32_t behaviour = 0;
  };

  using Block = OrbitBlock;

  static void prepare(State& state, const Orbit&, const Owner& owner) { state.behaviour = owner.behaviour; }

  using CentreMoves = VariantField<bool, 0, 1>;
  using Facing = VariantField<OrbitFacing, 1, 2>;
  static unsigned variant(const Orbit& orbit, const State&) {
    return CentreMoves::put(orbit.centre.moves()) | Facing::put(orbit.face);
  }

  static void archive(Archive& archive, State& state, const Orbit&) {
    archive(state.turned, state.taken.radius.a, state.taken.radius.b, state.taken.start, state.taken.height);
  }
  static unsigned touches(unsigned variant) {
    return Facing::of(variant) == OrbitFacing::none ? part::position : part::position | part::rotation;
  }
  static unsigned overwrites(unsigned) { return part::position; }
  static bool needs_start(const Orbit&) { return true; }

  static void begin(State& state, const Orbit& orbit, const Start& start) {
    state.turned = 0.0;
    if (!orbit.radius) state.taken = taken_from(state, orbit, start);
  }

  static void absorb(State& state, const Orbit& orbit, OwnTime time, const Start& now, const Orbit& next) {
    const Pace pace = pace_of(orbit);
    state.turned =
        pace.to_degrees * reduced_product(pace.rate, time.whole, time.rest, state.turned / pace.to_degrees, pace.lap);
    if (!next.radius && orbit.radius) {
      state.turned = 0.0;
      state.taken = taken_from(state, next, now);
    } else if (next.radius && !orbit.radius) {  // keeps the angle that was taken
      state.turned += state.taken.start - next.start.value_or(degrees(0)).in_degrees();
    }
  }

  static void fill(Block& block, int lane, const Orbit& orbit, const State& state) {
    const Plane plane = plane_across(orbit.axis);
    const Figure figure = figure_of(orbit, state);
    const Pace pace = pace_of(orbit);
    block.rate.at[lane] = pace.rate;
    block.offset.at[lane] = (figure.start + state.turned) / pace.to_degrees;
    block.lap_lead.at[lane] = pace.lap.lead;
    block.lap_rest.at[lane] = pace.lap.rest;
    block.lap_inverse.at[lane] = pace.lap.inverse;
    block.to_degrees.at[lane] = pace.to_degrees;
    block.way.at[lane] = pace.rate * pace.to_degrees < 0.0 ? -1.0 : 1.0;
    store(block.centre, lane, numbers(orbit.centre.point));
    store(block.first, lane, plane.e1 * figure.radius.a);
    store(block.second, lane, plane.e2 * figure.radius.b);
    store(block.rise, lane, plane.axis * figure.height);
    store(block.axis, lane, plane.axis);
    if (!orbit.centre.moves()) return;
    if (!block.places) block.places = std::make_unique<MovingPlaces>();
    block.places->set(lane, orbit.centre, state.behaviour);
  }

  static void evaluate(const Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const OrbitFacing face = Facing::of(variant);
    if (!CentreMoves::of(variant)) return in_lanes<go_round>(block, block.centre, poses, face, context);
    Row centre[3];
    block.places->gather(context, *context.parent, centre);
    in_lanes<go_round>(block, centre, poses, face, context);
  }

  static std::optional<Diagnostic> check(const Orbit& orbit, const Pose*) {
    if (orbit.period && *orbit.period == 0.0)
      return about("period",
                   "0 s is too short; give the time of one revolution, in seconds. Negative goes the other way.");
    if (!orbit.radius && (orbit.start || orbit.height))
      return about(
          orbit.start ? "start" : "height",
          "without a radius, the orbit begins at the object's position; give a radius too, or remove this key.");
    return std::nullopt;
  }

 private:
  /// rate * t reduced to one lap: in degrees, or in seconds of a period, so that a full lap is exact.
  struct Pace {
    double rate, to_degrees;
    PeriodOf<double> lap;
  };

  static Pace pace_of(const Orbit& orbit) {
    if (orbit.period) return {1.0, 360.0 / *orbit.period, period_of(std::abs(*orbit.period))};
    return {orbit.speed->in_degrees(), 1.0, period_of(360.0)};
  }

  static Figure figure_of(const Orbit& orbit, const State& state) {
    if (!orbit.radius) return state.taken;
    return {*orbit.radius, orbit.start.value_or(degrees(0)).in_degrees(), orbit.height.value_or(0.0)};
  }

  static Figure taken_from(const State& state, const Orbit& orbit, const Start& start) {
    const Vec3 centre = where_is(orbit.centre, start.moment.parent, *start.moment.query, state.behaviour);
    return figure_at(vector(numbers(start.was.position) - numbers(centre)), plane_across(orbit.axis));
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Orbit>() {
  static const KernelKind<OrbitKernel> kind;
  return kind;
}

}  // namespace hushed
