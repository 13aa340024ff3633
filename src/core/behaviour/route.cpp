// SPDX-License-Identifier: MIT
#include <hushed/behaviour/route.hpp>

#include <algorithm>
#include <bit>
#include <cmath>
#include <memory>
#include <span>

#include "behaviour/itinerary.hpp"
#include "behaviour/still_path.hpp"
#include "easing/curve.hpp"
#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/newton.hpp"
#include "lanes/places.hpp"

namespace hushed {

std::optional<Diagnostic> Pauses::check() const {
  for (const Time pause : each)
    if (auto diagnostic = detail::check_any(pause, unit::seconds)) return diagnostic;
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Pauses& to) {
  const auto* list = from.as<Value::List>();
  Pauses taken;
  taken.each.clear();
  for (std::size_t i = 0; i < (list ? list->size() : 1); ++i)
    if (auto diagnostic = detail::read(list ? (*list)[i] : from, unit, taken.each.emplace_back())) return diagnostic;
  to = std::move(taken);
  return std::nullopt;
}

std::optional<Value> write(const Pauses& from, const Unit& unit) {
  if (from.each.size() == 1) return detail::write(from.each[0], unit);
  return detail::write_any(from.each, unit);
}

Form form_of(const Pauses*, const Unit& unit) {
  const Form seconds = form::number(unit);
  return form::any_of({seconds, form::list(seconds, 1, 1'000'000, "a list of numbers")},
                      "a number, 0 or more, or a list with one for each point");
}

namespace {

using namespace detail;

constexpr std::size_t most_at_once = 100;  ///< events
/// The data computed from the values of a route.
struct Track {
  std::shared_ptr<const StillPath> still;  ///< the path, where its points do not move
  std::vector<Vec3> points;                ///< the points, where they move
  Path moving;
  Itinerary itinerary;

  const Path& path() const { return still ? still->path : moving; }
};

bool any_moves(const Route& route) {
  return std::any_of(route.points.begin(), route.points.end(), [](const Place& place) { return place.moves(); });
}

bool is_closed(const Route& route) { return route.ends == RouteEnds::loop; }

void lay_still_path(Track& track, const Route& route) {
  if (track.still && track.still->goes_through(route.points, route.shape, is_closed(route))) return;
  track.still = still_path(route.points, route.shape, is_closed(route));
}

void lay_moving_path(Track& track, const Route& route, const Pose& frame, const SceneQuery& query,
                     std::uint32_t behaviour) {
  track.still.reset();
  track.points.clear();
  for (const Place& place : route.points) track.points.push_back(where_is(place, frame, query, behaviour));
  track.moving.set(track.points, route.shape, is_closed(route), Path::Readings::few);
}

/// The present piece of a route.
struct Lane {
  const Route* route = nullptr;
  Track* track = nullptr;
  double start = 0.0;
  bool onward = true;
  double elapsed = 0.0;
  double raised_visits = 0.0;  ///< the number of visits whose events have been raised
  std::uint32_t behaviour = 0;
  std::uint32_t near_arc = 0;
  std::size_t near_stretch = 0, near_visit = 0;
};

struct RouteState {
  std::optional<double> start = {};  ///< m along the path: set by a change while it runs
  bool onward = true;
  double elapsed = 0.0;  ///< s: own time before the last change of values
  std::uint32_t behaviour = 0;
  Lane lane = {};
  std::shared_ptr<Track> track = {};  ///< computed from the values and this state when a lane is filled
};

bool set_out_onward(const Route& route) { return !route.speed || *route.speed >= 0.0; }

/// The direction at a corner: the incoming one while the route pauses, the outgoing one while it moves.
Path::Side side_of(bool stands, bool onward) { return stands == onward ? Path::Side::behind : Path::Side::ahead; }

/// The present pieces of eight routes, each an arc of its path or a part of one.
struct Lines {
  Row from[3], to[3];
  Row direction[3];  ///< the direction it faces
};
struct Curves {
  Row from, to;      ///< shares of the arc's length
  Row u[10];         ///< a polynomial of the share
  Row c[4][3];       ///< a cubic in u
  Row onward;        ///< 1 or -1, or 0 where it stands
  Row direction[3];  ///< the direction it faces while it pauses
};

/// The present stretch or pause of a route, in seconds of its course, and its next event.
struct Going {
  Lane* lane = nullptr;
  const Path* path = nullptr;
  std::uint32_t behaviour = 0, near_arc = 0;
  Shift<double> shift = {};       ///< of own time into the course
  double begin = 0.0, end = 0.0;  ///< s; equal where the stretch is not known yet
  double length = 0.0;            ///< s
  double from = 0.0, to = 0.0;    ///< m along the path
  bool onward = true;
  bool stands = false;  ///< it has arrived, or never moves
  bool arrived = false;
  bool counted = false;  ///< the visits still to come have been counted
  std::span<const Visit> coming = {};

  double distance(double into) const {
    if (stands) return to;
    const double share = larger(smaller((into - begin) / length, 1.0), 0.0);
    return from * (1.0 - share) + to * share;
  }
  double time_at(double distance) const { return begin + (distance - from) / (to - from) * length; }
};

/// The numbers that eight routes at constant speed need every frame: their present pieces.
struct RouteBlock {
  PieceRows piece;
  std::unique_ptr<Lines> lines;
  std::unique_ptr<Curves> curves;
  Going going[lanes];
};

void place_on_lines(const RouteBlock& block, const Lines& lines, const Row& whole, const Row& rest, Row (&position)[3],
                    Row& is_known) {
  for_each_lane([&](int lane) {
    const auto share = share_now(block.piece, lane, load<Real>(whole, lane), load<Real>(rest, lane));
    store(is_known, lane, share.is_known);
    const auto from = load<Real>(lines.from, lane), to = load<Real>(lines.to, lane);
    store(position, lane, between(from, to, share.of_piece));
  });
}

void place_on_curves(const RouteBlock& block, const Curves& curves, const Row& whole, const Row& rest,
                     Row (&position)[3], Row& is_known, Row (&direction)[3]) {
  for_each_lane([&](int lane) {
    const auto share = share_now(block.piece, lane, load<Real>(whole, lane), load<Real>(rest, lane));
    store(is_known, lane, share.is_known);
    const Real from = load<Real>(curves.from, lane), to = load<Real>(curves.to, lane);
    const Real u =
        newton_polynomial([&](int j) { return load<Real>(curves.u[j], lane); }, from + (to - from) * share.of_piece);
    const auto c0 = load<Real>(curves.c[0], lane), c1 = load<Real>(curves.c[1], lane);
    const auto c2 = load<Real>(curves.c[2], lane), c3 = load<Real>(curves.c[3], lane);
    store(position, lane, c0 + (c1 + (c2 + c3 * u) * u) * u);
    const Real way = load<Real>(curves.onward, lane);
    const auto standing = load<Real>(curves.direction, lane);
    const auto slope = (c1 + (c2 * Real{2.0} + c3 * (3.0 * u)) * u) * way;
    const auto stands = way == 0.0;
    store(direction, lane,
          VecOf<Real>{select(stands, standing.x, slope.x), select(stands, standing.y, slope.y),
                      select(stands, standing.z, slope.z)});
  });
}

/// +Z along the motion, +Y close to the parent's; the incoming rotation where the motion is vertical.
void face_along(const Row (&direction)[3], PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const auto looking = facing(load<Real>(direction, lane), VecOf<Real>{0.0, 1.0, 0.0});
    store(poses.rotation, lane, choose(looking.is_good, looking.rotation, load<Real>(poses.rotation, lane)));
  });
}

/// Finds the stretch or pause at a time.
void take_stretch(Going& going, const Moving& moving) {
  const Itinerary& itinerary = going.lane->track->itinerary;
  const Stretch& stretch = itinerary.stretch(moving);
  const double end = stretch.begin + stretch.length;
  going.shift = itinerary.shift(moving, going.lane->elapsed);
  going.onward = stretch.onward;
  going.arrived = moving.x >= 1.0;
  going.stands = going.arrived || !(stretch.length < for_ever);
  going.begin = going.arrived ? end : stretch.begin;
  going.end = going.arrived ? itinerary.end_of(moving) : end;
  going.length = stretch.length;
  going.from = stretch.from;
  going.to = stretch.to;
  going.counted = false;
}

void take_line(Lines& lines, int lane, const Path& path, const Path::Arc& arc, double from, double to, bool onward) {
  const Path::Spot first = path.at_share(arc, from);
  store(lines.from, lane, numbers(first.position));
  store(lines.to, lane, numbers(path.at_share(arc, to).position));
  store(lines.direction, lane, numbers(first.direction) * (onward ? 1.0 : -1.0));
}

void take_curve(Curves& curves, int lane, const Path& path, const Path::Arc& arc, double from, double to,
                const Going& going) {
  const VecOf<double> none{0.0, 0.0, 0.0};
  const bool is_line = !path.is_smooth();
  const double way = going.onward ? 1.0 : -1.0;
  curves.from.at[lane] = from;
  curves.to.at[lane] = to;
  for (std::size_t j = 0; j < arc.u.size(); ++j) curves.u[j].at[lane] = is_line ? (j == 1 ? 1.0 : 0.0) : arc.u[j];
  for (int k = 0; k < 4; ++k) store(curves.c[k], lane, is_line && k > 1 ? none : numbers(arc.c[k]));
  if (is_line) store(curves.c[1], lane, numbers(arc.c[1]) - numbers(arc.c[0]));
  curves.onward.at[lane] = going.stands ? 0.0 : way;
  if (going.stands) store(curves.direction, lane, numbers(path.at_share(arc, from).direction) * way);
}

/// Finds the piece at a time of the course, and returns its beginning in s.
double take_piece(RouteBlock& block, int lane, double into) {
  Going& going = block.going[lane];
  const Path& path = *going.path;
  const double distance = going.distance(into);
  const bool arrived = going.arrived || (distance == going.to && !going.stands);
  const Path::OnArc found = path.find(distance, side_of(arrived, going.onward), going.near_arc);
  const Path::Arc& arc = path.arcs()[going.near_arc = found.number];

  double enters = found.distance, leaves = found.distance;
  double begin = going.begin, end = going.end;
  if (!going.stands) {
    const double low = larger(arc.begin, smaller(going.from, going.to));
    const double high = smaller(arc.begin + arc.length, larger(going.from, going.to));
    enters = going.onward ? low : high;
    leaves = going.onward ? high : low;
    begin = going.time_at(enters);
    end = going.time_at(leaves);
  }
  const Shift<double>& shift = going.shift;
  block.piece.set(lane, {shift.first, shift.second, shift.third - begin}, (end - begin) - near_the_ends,
                  end > begin ? 1.0 / (end - begin) : 0.0);
  const auto share = [&](double at) { return arc.length > 0.0 ? smaller((at - arc.begin) / arc.length, 1.0) : 0.0; };
  if (block.lines) take_line(*block.lines, lane, path, arc, share(enters), share(leaves), going.onward);
  if (block.curves) take_curve(*block.curves, lane, path, arc, share(enters), share(leaves), going);
  return begin;
}

/// Raises events up to a number of visits.
void tell(Lane& lane, double visits, double own_seconds, const EvalContext& context) {
  const Itinerary& itinerary = lane.track->itinerary;
  const auto fresh = static_cast<int>(std::min(visits - lane.raised_visits, static_cast<double>(most_at_once)));
  for (int i = 0; i < fresh; ++i) {
    const Visit visit = itinerary.visit(visits - (fresh - i));
    const double ago = own_seconds + lane.elapsed - visit.time;
    context.query->emit(lane.behaviour, "reached", visit.point, context.time - seconds(std::max(ago, 0.0)));
  }
  lane.raised_visits = visits;
}

/// Raises the events that are due in the present course.
void tell_next(Going& going, double into, const EvalContext& context) {
  std::size_t due = 0;
  while (due < going.coming.size() && going.coming[due].time <= into) ++due;
  const std::size_t left_out = due > most_at_once ? due - most_at_once : 0;
  for (const Visit& visit : going.coming.subspan(left_out, due - left_out))
    context.query->emit(going.behaviour, "reached", visit.point, context.time - seconds(into - visit.time));
  going.coming = going.coming.subspan(due);
  going.lane->raised_visits += static_cast<double>(due);
}

struct RouteKernel {
  using Values = Route;

  static constexpr auto summary = "moves the object along waypoints, then stops, loops or returns";
  static constexpr auto example = R"(
[[object.ferry.behaviour]]
kind   = "route"
points = [[0, 0, 0], [20, 0, 5], [30, 0, -10]]     # or names of objects
shape  = "smooth"
speed  = 4                                         # metres per second
ends   = "loop"
pause  = [5, 0, 5]                                 # seconds, at the first and the last
face   = "travel"
)";
  static constexpr std::array exactly_one{OneOf{{"speed", "duration"}}};
  static constexpr auto fields = std::tuple{
      field("points", &Route::points, unit::metres, "the waypoints, one or more", required),
      field("speed", &Route::speed, unit::metres_per_second, "speed along the route; negative goes backwards",
            slider(-10, 10)),
      field("duration", &Route::duration, unit::seconds, "time for the whole route without pauses, instead of speed",
            slider(1, 120)),
      field("shape", &Route::shape, unit::none, "straight lines, or a smooth curve through the points"),
      field("ends", &Route::ends, unit::none, "what happens at the last point"),
      field("pause", &Route::pause, unit::seconds, "pause at each point"),
      field("easing", &Route::easing, unit::none, "progress over time, for each stretch between pauses"),
      field("face", &Route::face, unit::none, "what its +Z points to"),
      field("start", &Route::start, unit::metres, "distance along the route at which it begins", slider(0, 100))};
  using State = RouteState;
  using Block = RouteBlock;

  static constexpr bool emits_events = true;
  static bool emits_events_at_ticks(const Route& route) { return any_moves(route); }

  static void prepare(State& state, const Route& route, const Owner& owner) {
    state.behaviour = owner.behaviour;
    state.onward = set_out_onward(route);
    state.track = std::make_shared<Track>();
    reserve_points(*state.track, route);
    if (!any_moves(route)) lay_still_path(*state.track, route);
  }

  using Moves = VariantField<bool, 0, 1>;
  using Faces = VariantField<bool, 1, 1>;
  using Even = VariantField<bool, 2, 1>;  ///< at constant speed
  using Smooth = VariantField<bool, 3, 1>;
  /// The variant: whether points move, whether the object faces along the path, and whether its speed is constant along
  /// a path of straight lines or a smooth path that does not move.
  static unsigned variant(const Route& route, const State&) {
    const bool moves = any_moves(route);
    return Moves::put(moves) | Faces::put(route.face == RouteFacing::travel) |
           Even::put(!moves && route.easing.curve().formula == formula::linear) |
           Smooth::put(route.shape == PathShape::smooth);
  }

  static void archive(Archive& archive, State& state, const Route&) {
    archive(state.start, state.onward, state.elapsed, state.lane.raised_visits);
  }
  static unsigned touches(unsigned variant) { return part::position | (Faces::of(variant) ? part::rotation : 0U); }
  static unsigned overwrites(unsigned) { return part::position; }
  static bool needs_start(const Route&) { return true; }
  static void begin(State& state, const Route& route, const Start&) {
    state.start.reset();
    state.onward = set_out_onward(route);
    state.elapsed = state.lane.raised_visits = 0.0;
  }

  static void absorb(State& state, const Route& route, OwnTime time, const Start& now, const Route& next) {
    const auto work_out = [&](const Route& of) {
      Track& track = *state.track;
      if (any_moves(of)) {
        lay_moving_path(track, of, now.moment.parent, *now.moment.query, state.behaviour);
      } else {
        lay_still_path(track, of);
      }
      track.itinerary.plan(of, track.path(), state.start.value_or(of.start), state.onward);
    };
    work_out(route);
    std::size_t near = 0;
    const Moving moving = state.track->itinerary.at(time.whole, time.rest, state.elapsed, near);
    const Stretch stretch = state.track->itinerary.stretch(moving);

    reserve_points(*state.track, next);
    if (goes_the_same_way(route, next)) {
      work_out(next);
      state.elapsed = state.track->itinerary.time_of(moving);
    } else {
      state.start = Itinerary::distance(stretch, route.easing(moving.x));
      const bool turned = set_out_onward(route) != set_out_onward(next);
      state.onward = stretch.onward != turned;
      state.elapsed = 0.0;
      work_out(next);
    }
    std::size_t near_after = 0, near_visit = 0;
    const Moving after = state.track->itinerary.at(0.0, 0.0, state.elapsed, near_after);
    state.lane.raised_visits = state.track->itinerary.visits_until(after, near_visit);
  }

  static void fill(Block& block, int index, const Route& route, State& state) {
    Track& track = *state.track;
    Lane& lane = state.lane;
    if (route.shape == PathShape::straight && !block.lines) block.lines = std::make_unique<Lines>();
    if (route.shape == PathShape::smooth && !block.curves) block.curves = std::make_unique<Curves>();
    const double raised = lane.raised_visits;
    lane = Lane{};
    lane.raised_visits = raised;
    lane.route = &route;
    lane.track = &track;
    lane.start = state.start.value_or(route.start);
    lane.onward = state.onward;
    lane.elapsed = state.elapsed;
    lane.behaviour = state.behaviour;
    Going& going = block.going[index];
    going = {};
    going.lane = &lane;
    going.behaviour = state.behaviour;
    block.piece.forget(index);  // its piece must be found anew
    if (any_moves(route)) return;
    lay_still_path(track, route);
    track.itinerary.plan(route, track.path(), lane.start, lane.onward);
    going.path = &track.path();
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const bool faces = Faces::of(variant), is_smooth = Smooth::of(variant);
    if (!Even::of(variant)) return search(block, Moves::of(variant), faces, poses, context);

    Row is_known, direction[3];
    const auto place = [&] {
      const Row &whole = *context.whole, &rest = *context.rest;
      if (is_smooth) {
        in_lanes<place_on_curves>(block, *block.curves, whole, rest, poses.position, is_known, direction);
      } else {
        in_lanes<place_on_lines>(block, *block.lines, whole, rest, poses.position, is_known);
      }
    };
    place();
    if (!all_hold(is_known) && look_for(block, context, is_known)) place();
    if (faces) in_lanes<face_along>(is_smooth ? direction : block.lines->direction, poses);
  }

  static std::optional<Diagnostic> check(const Route& route, const Pose*) {
    if (route.points.empty()) return about("points", "the list is empty; give at least one point.");
    if (route.points.size() > 1'000'000) return about("points", "the list has more than a million points; give fewer.");
    const std::size_t pauses = route.pause.each.size();
    if (pauses != 1 && pauses != route.points.size())
      return about("pause", "found " + std::to_string(pauses) + " pauses for " + std::to_string(route.points.size()) +
                                " points; give one for all, or one for each.");
    return std::nullopt;
  }

 private:
  /// Finds the next piece where the present one has ended, and raises the events of visits that are due.
  static bool look_for(Block& block, const EvalContext& context, const Row& is_known) {
    bool any = false;
    for (int index = 0; index < lanes; ++index) {
      if (is_known.at[index] != 0.0 || !context.is_active(index)) continue;
      look_for(block, index, context);
      any = true;
    }
    return any;
  }

  static void look_for(Block& block, int index, const EvalContext& context) {
    Going& going = block.going[index];
    const double whole = context.whole->at[index], rest = context.rest->at[index];
    double into = going.shift.of(whole, rest);
    if (!(into > going.begin + near_the_ends && into < going.end - near_the_ends)) {
      Lane& lane = *going.lane;
      take_stretch(going, lane.track->itinerary.at(whole, rest, lane.elapsed, lane.near_stretch));
      into = going.shift.of(whole, rest);
    }
    const double begin = take_piece(block, index, into);
    if (!context.emit_events) {
      block.piece.forget(index);  // so that it is not skipped
      return;
    }
    if (going.counted) {
      tell_next(going, into, context);
    } else {
      Lane& lane = *going.lane;
      const Moving moving = lane.track->itinerary.course_at(whole, rest, lane.elapsed);
      tell(lane, lane.track->itinerary.visits_until(moving, lane.near_visit), whole + rest, context);
      going.coming = lane.track->itinerary.coming(moving, lane.near_visit);
      going.counted = true;
    }
    if (!going.coming.empty())
      block.piece.last.at[index] = smaller(block.piece.last.at[index], going.coming.front().time - begin);
  }

  /// Where points move or an easing is set, the place is computed at every evaluation.
  static void search(Block& block, bool moves, bool faces, PoseBlock& poses, const EvalContext& context) {
    Row direction[3] = {};
    for (int index = 0; index < lanes; ++index) {
      if (!context.is_active(index)) continue;
      Lane& lane = *block.going[index].lane;
      Track& track = *lane.track;
      if (moves) {
        lay_moving_path(track, *lane.route, lane_of(*context.parent, index), *context.query, lane.behaviour);
        track.itinerary.plan(*lane.route, track.path(), lane.start, lane.onward);
      }
      const double whole = context.whole->at[index], rest = context.rest->at[index];
      const Moving moving = track.itinerary.at(whole, rest, lane.elapsed, lane.near_stretch);
      const Stretch& stretch = track.itinerary.stretch(moving);
      const double distance = Itinerary::distance(stretch, on_curve(lane.route->easing.curve(), moving.x));
      const Path::Spot spot = track.path().at(distance, side_of(moving.x >= 1.0, stretch.onward), lane.near_arc);
      store(poses.position, index, numbers(spot.position));
      store(direction, index, numbers(spot.direction) * (stretch.onward ? 1.0 : -1.0));
      if (context.emit_events && (!moves || context.remember == Remember::tick))
        tell(lane, track.itinerary.visits_until(moving, lane.near_visit), whole + rest, context);
    }
    if (faces) in_lanes<face_along>(direction, poses);
  }

  static void reserve_points(Track& track, const Route& route) {
    track.itinerary.reserve(route.points.size());
    if (!any_moves(route)) return;
    track.points.reserve(route.points.size());
    track.moving.reserve(route.points.size(), route.shape);
  }

  /// Another speed or easing changes the times of the stretches, not the stretches.
  static bool goes_the_same_way(const Route& a, const Route& b) {
    const auto stands = [](const Route& route) { return route.speed == 0.0; };
    const auto rests = [](const Route& route) {
      std::vector<bool> any;
      for (std::size_t i = 0; i < route.points.size(); ++i) any.push_back(route.pause.at(i) > Time{0});
      return any;
    };
    return a.points == b.points && a.shape == b.shape && a.ends == b.ends && a.start == b.start &&
           rests(a) == rests(b) && set_out_onward(a) == set_out_onward(b) && !stands(a) && !stands(b);
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Route>() {
  static const KernelKind<RouteKernel> kind;
  return kind;
}

}  // namespace hushed
