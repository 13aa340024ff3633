#include <hushed/behaviour/route.hpp>

#include <algorithm>
#include <cmath>
#include <memory>

#include "behaviour/itinerary.hpp"
#include "easing/curve.hpp"
#include "lanes/facing.hpp"
#include "lanes/lane_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/newton.hpp"
#include "lanes/places.hpp"

namespace hushed {

std::optional<Complaint> Pauses::check() const {
  for (const Time pause : each)
    if (auto complaint = inside::check_any(pause, unit::seconds)) return complaint;
  return std::nullopt;
}

std::optional<Complaint> read(const Value& from, const Unit& unit, Pauses& to) {
  const auto* list = from.as<Value::List>();
  Pauses taken;
  taken.each.clear();
  for (std::size_t i = 0; i < (list ? list->size() : 1); ++i)
    if (auto complaint = inside::read(list ? (*list)[i] : from, unit, taken.each.emplace_back())) return complaint;
  to = std::move(taken);
  return std::nullopt;
}

std::optional<Value> write(const Pauses& from, const Unit& unit) {
  if (from.each.size() == 1) return inside::write(from.each[0], unit);
  return inside::write_any(from.each, unit);
}

Form form_of(const Pauses*, const Unit& unit) {
  const Form seconds = form::number(unit);
  return form::any_of({seconds, form::list(seconds, 1, 1'000'000, "a list of numbers")},
                      "a number that is not negative, or a list with one for each point");
}

namespace {

using namespace inside;

constexpr double most_at_once = 100.0;  ///< events

/// What is worked out of a route's values.
struct Track {
  std::vector<Vec3> points;
  Path path;
  PathShape shape = PathShape::straight;
  bool closed = false;
  Path::Readings readings = Path::Readings::many;
  Itinerary itinerary;
};

bool any_moves(const Route& route) {
  return std::any_of(route.points.begin(), route.points.end(), [](const Place& place) { return place.moves(); });
}

/// Makes the path anew where it is not the one through these points.
void lay_path(Track& track, const Route& route) {
  const bool closed = route.ends == RouteEnds::loop;
  const auto readings = any_moves(route) ? Path::Readings::few : Path::Readings::many;
  const bool same = track.path.points() == track.points.size() && track.shape == route.shape &&
                    track.closed == closed && track.readings == readings;
  if (same) return;
  track.shape = route.shape;
  track.closed = closed;
  track.readings = readings;
  track.path.set(track.points, route.shape, closed, readings);
}

/// Where one route is, and where it was last found.
struct Lane {
  const Route* route = nullptr;
  Track* track = nullptr;
  double start = 0.0;
  bool onward = true;
  double elapsed = 0.0;
  double told = 0.0;  ///< visits of which an event was raised
  std::uint32_t behaviour = 0;
  std::uint32_t near_part = 0;
  std::size_t near_stretch = 0, near_visit = 0;
};

struct RouteState {
  std::optional<double> start = {};  ///< m, where it was changed under way
  bool onward = true;
  double elapsed = 0.0;  ///< s, before own time began to count
  std::uint32_t behaviour = 0;
  Lane lane = {};
  std::shared_ptr<Track> track = {};  ///< worked out of the values and of this, whenever a lane is filled
};

bool set_out_onward(const Route& route) { return !route.speed || *route.speed >= 0.0; }

/// Points that do not move; the path through them is kept as long as they stay.
void place_still_points(Track& track, const Route& route) {
  const bool same = track.points.size() == route.points.size() &&
                    std::equal(track.points.begin(), track.points.end(), route.points.begin(),
                               [](const Vec3& a, const Place& b) { return a == b.point; });
  if (same) return;
  track.points.clear();
  for (const Place& place : route.points) track.points.push_back(place.point);
  track.path.set({}, route.shape, false);
}

void place_moving_points(Track& track, const Route& route, const Pose& frame, const Sight& sight,
                         std::uint32_t behaviour) {
  track.points.clear();
  for (const Place& place : route.points) track.points.push_back(where_is(place, frame, sight, behaviour));
  track.path.set({}, route.shape, false);
}

/// A piece of the way that is swept evenly: a part of the path in a stretch without easing, or a pause. It holds for
/// times between `begin` and `end`.
struct Piece {
  Shift<double> shift;
  double begin = 0.0, end = 0.0;      ///< s into the course; none where the two are the same
  double start = 0.0, inverse = 0.0;  ///< s, and 1/s: of the share of it
  double from = 0.0, to = 0.0;        ///< shares of the arc
  bool onward = true;
  Path::Arc arc;
};

/// Which side of a corner is seen: where it comes from while it stands, and where it goes to while it moves.
Path::Side side_of(const Moving& moving, const Stretch& stretch) {
  return (moving.x >= 1.0) == stretch.onward ? Path::Side::behind : Path::Side::ahead;
}

Piece piece_at(const Track& track, const Moving& moving, double elapsed, std::uint32_t& near) {
  const Stretch& stretch = track.itinerary.stretch(moving);
  const double distance = Itinerary::distance(stretch, moving.x);
  Piece piece;
  piece.shift = track.itinerary.shift(moving, elapsed);
  piece.onward = stretch.onward;
  piece.arc = track.path.arc_at(distance, side_of(moving, stretch), near);
  const double first = piece.arc.begin, last = piece.arc.begin + piece.arc.length;
  const auto share_of = [&](double at) {
    // The end of a lap is seen from its beginning, too.
    const double on_arc = at < first && track.path.is_closed() ? at + track.path.length() : at;
    return piece.arc.length > 0.0 ? larger(smaller((on_arc - first) / piece.arc.length, 1.0), 0.0) : 0.0;
  };
  const double way = std::abs(stretch.to - stretch.from);
  if (moving.x >= 1.0 || !(stretch.length < 1e300) || !(way > 0.0)) {
    piece.from = piece.to = share_of(distance);
    piece.begin = stretch.length < 1e300 ? stretch.begin + stretch.length : stretch.begin;
    piece.end = track.itinerary.end_of(moving);
    return piece;
  }
  const double low = larger(first, smaller(stretch.from, stretch.to));
  const double high = smaller(last, larger(stretch.from, stretch.to));
  const double enters = stretch.onward ? low : high, leaves = stretch.onward ? high : low;
  const auto time_at = [&](double at) { return stretch.begin + std::abs(at - stretch.from) / way * stretch.length; };
  piece.begin = piece.start = time_at(enters);
  piece.end = time_at(leaves);
  piece.inverse = piece.end > piece.begin ? 1.0 / (piece.end - piece.begin) : 0.0;
  piece.from = share_of(enters);
  piece.to = share_of(leaves);
  return piece;
}

/// The arcs of eight smooth routes: polynomials and cubics.
struct Curves {
  Row u[10];
  Row c[4][3];
};

/// What eight routes need, and, where they go evenly, the piece that each is on. Within it, and not too near its ends
/// for rounding, no other need be looked for; so what is remembered changes no bit.
struct RouteBlock {
  unsigned untold = 0;       ///< a bit a lane: what was visited at the beginning of the piece
  Row first, second, third;  ///< the shift of own time into the course
  Row begin, end;            ///< s into the course, between which it is this piece
  Row start, inverse;        ///< s, and 1/s: of the share of the piece
  Row from[3], to[3];        ///< straight: its ends
  Row direction[3];          ///< straight, or standing: where it looks
  Row arc_from, arc_to;      ///< smooth: shares of an arc
  std::unique_ptr<Curves> curves;
  Lane* lane[lanes];
};

double share_of_piece(const RouteBlock& block, int lane, double into) {
  return larger(smaller((into - block.start.at[lane]) * block.inverse.at[lane], 1.0), 0.0);
}

void take_piece(RouteBlock& block, int lane, const Piece& piece) {
  constexpr double near_the_ends = 1e-7;  // s
  block.first.at[lane] = piece.shift.first;
  block.second.at[lane] = piece.shift.second;
  block.third.at[lane] = piece.shift.third;
  block.begin.at[lane] = piece.begin + near_the_ends;
  block.end.at[lane] = piece.end - near_the_ends;
  block.start.at[lane] = piece.start;
  block.inverse.at[lane] = piece.inverse;
  if (!block.curves || piece.from == piece.to) {
    const Path::Spot from = piece.arc.at(piece.from);
    store(block.from, lane, numbers(from.position));
    store(block.to, lane, numbers(piece.arc.at(piece.to).position));
    store(block.direction, lane, numbers(from.direction) * (piece.onward ? 1.0 : -1.0));
  }
  block.arc_from.at[lane] = piece.from;
  block.arc_to.at[lane] = piece.to;
  block.untold |= 1U << lane;
  if (!block.curves) return;
  const Path::Arc& arc = piece.arc;
  for (std::size_t j = 0; j < arc.u.size(); ++j)
    block.curves->u[j].at[lane] = arc.is_line ? (j == 1 ? 1.0 : 0.0) : arc.u[j];
  const VecOf<double> along = numbers(arc.c[1]) - (arc.is_line ? numbers(arc.c[0]) : VecOf<double>{0.0, 0.0, 0.0});
  store(block.curves->c[0], lane, numbers(arc.c[0]));
  store(block.curves->c[1], lane, along);
  store(block.curves->c[2], lane, arc.is_line ? VecOf<double>{0.0, 0.0, 0.0} : numbers(arc.c[2]));
  store(block.curves->c[3], lane, arc.is_line ? VecOf<double>{0.0, 0.0, 0.0} : numbers(arc.c[3]));
}

HUSHED_KERNEL void find_shares(const RouteBlock& block, const BlockMoment& moment, Row& share, Row& is_known) {
  for_each_lane([&](int lane) {
    const Shift<Real> shift{load<Real>(block.first, lane), load<Real>(block.second, lane),
                            load<Real>(block.third, lane)};
    const Real into = shift.of(load<Real>(*moment.whole, lane), load<Real>(*moment.rest, lane));
    const auto known = both_hold(into > load<Real>(block.begin, lane), into < load<Real>(block.end, lane));
    const Real part = (into - load<Real>(block.start, lane)) * load<Real>(block.inverse, lane);
    store(is_known, lane, select(known, Real{1.0}, Real{0.0}));
    store(share, lane, larger(smaller(part, Real{1.0}), Real{0.0}));
  });
}

HUSHED_KERNEL void place_on_lines(const RouteBlock& block, const Row& share, PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const auto from = load<Real>(block.from, lane), to = load<Real>(block.to, lane);
    store(poses.position, lane, between(from, to, load<Real>(share, lane)));
  });
}

HUSHED_KERNEL void place_on_curves(const RouteBlock& block, const Curves& curves, const Row& share, PoseBlock& poses,
                                   Row (&direction)[3]) {
  for_each_lane([&](int lane) {
    const Real from = load<Real>(block.arc_from, lane), to = load<Real>(block.arc_to, lane);
    const Real u = newton_polynomial([&](int j) { return load<Real>(curves.u[j], lane); },
                                     from + (to - from) * load<Real>(share, lane));
    const auto c0 = load<Real>(curves.c[0], lane), c1 = load<Real>(curves.c[1], lane);
    const auto c2 = load<Real>(curves.c[2], lane), c3 = load<Real>(curves.c[3], lane);
    store(poses.position, lane, c0 + (c1 + (c2 + c3 * u) * u) * u);
    const Real way = select(to < from, Real{-1.0}, Real{1.0});
    const auto standing = load<Real>(block.direction, lane);
    const auto slope = (c1 + (c2 * Real{2.0} + c3 * (3.0 * u)) * u) * way;
    const auto stands = to == from;
    store(direction, lane,
          VecOf<Real>{select(stands, standing.x, slope.x), select(stands, standing.y, slope.y),
                      select(stands, standing.z, slope.z)});
  });
}

/// +Z along the way, +Y near the parent's; as it comes in where that is up or down.
HUSHED_KERNEL void look_along(const Row (&direction)[3], PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const auto looking = facing(load<Real>(direction, lane), VecOf<Real>{0.0, 1.0, 0.0});
    store(poses.rotation, lane, choose(looking.is_good, looking.rotation, load<Real>(poses.rotation, lane)));
  });
}

void tell(Lane& lane, const Moving& moving, double own_seconds, const BlockMoment& moment) {
  const Itinerary& itinerary = lane.track->itinerary;
  const double visits = itinerary.visits_until(moving, lane.near_visit);
  const auto fresh = static_cast<int>(std::min(visits - lane.told, most_at_once));
  for (int i = 0; i < fresh; ++i) {
    const Visit visit = itinerary.visit(visits - (fresh - i));
    const double ago = own_seconds + lane.elapsed - visit.time;
    moment.sight->happened(lane.behaviour, "reached", visit.point, moment.time - seconds(std::max(ago, 0.0)));
  }
  lane.told = visits;
}

struct RouteRoom {
  using Values = Route;
  using State = RouteState;
  using Block = RouteBlock;

  static constexpr bool tells = true;
  static bool tells_at_ticks(const Route& route) { return any_moves(route); }

  static void prepare(State& state, const Route& route, std::uint32_t behaviour) {
    state.behaviour = behaviour;
    state.onward = set_out_onward(route);
    state.track = std::make_shared<Track>();
    make_room(*state.track, route);
    if (any_moves(route)) return;
    place_still_points(*state.track, route);
    lay_path(*state.track, route);
  }

  /// Whether points move, whether it looks along, and whether it goes evenly along a path
  /// that stays, or that is smooth.
  static unsigned variant(const Route& route, const State&) {
    return (any_moves(route) ? 1U : 0U) | (route.face == RouteFacing::travel ? 2U : 0U) |
           (!any_moves(route) && route.easing.curve().formula == formula::linear ? 4U : 0U) |
           (route.shape == PathShape::smooth ? 8U : 0U);
  }

  static unsigned touches(unsigned variant) { return part::position | ((variant & 2U) != 0 ? part::rotation : 0U); }
  static bool needs_start(const Route&) { return true; }
  static void begin(State& state, const Route& route, const Start&) {
    state.start.reset();
    state.onward = set_out_onward(route);
    state.elapsed = state.lane.told = 0.0;
  }

  static void absorb(State& state, const Route& route, OwnTime time, const Start& now, const Route& next) {
    const auto work_out = [&](const Route& of) {
      Track& track = *state.track;
      if (any_moves(of)) {
        place_moving_points(track, of, now.moment.parent, *now.moment.sight, state.behaviour);
      } else {
        place_still_points(track, of);
      }
      lay_path(track, of);
      track.itinerary.plan(of, track.path, state.start.value_or(of.start), state.onward);
    };
    work_out(route);
    std::size_t near = 0;
    const Moving moving = state.track->itinerary.at(time.whole, time.rest, state.elapsed, near);
    const Stretch stretch = state.track->itinerary.stretch(moving);

    make_room(*state.track, next);
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
    const Moving after = state.track->itinerary.at(0.0, 0.0, state.elapsed, near = 0);
    state.lane.told = state.track->itinerary.visits_until(after, near = 0);
  }

  static void fill(Block& block, int index, const Route& route, State& state) {
    Track& track = *state.track;
    Lane& lane = state.lane;
    block.lane[index] = &lane;
    if (route.shape == PathShape::smooth && !block.curves) block.curves = std::make_unique<Curves>();
    const double told = lane.told;
    lane = Lane{};
    lane.told = told;
    lane.route = &route;
    lane.track = &track;
    lane.start = state.start.value_or(route.start);
    lane.onward = state.onward;
    lane.elapsed = state.elapsed;
    lane.behaviour = state.behaviour;
    block.begin.at[index] = block.end.at[index] = 0.0;  // its piece is to be looked for
    if (any_moves(route)) return;
    place_still_points(track, route);
    lay_path(track, route);
    track.itinerary.plan(route, track.path, lane.start, lane.onward);
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const BlockMoment& moment) {
    const bool looks = (variant & 2U) != 0, is_even = (variant & 4U) != 0, is_smooth = (variant & 8U) != 0;
    if (!is_even) return search(block, (variant & 1U) != 0, looks, poses, moment);

    Row share, is_known, direction[3];
    find_shares(block, moment, share, is_known);
    for (int lane = 0; lane < lanes; ++lane) {
      const bool is_told = !moment.tell || (block.untold >> lane & 1U) == 0;
      if ((is_known.at[lane] == 0.0 || !is_told) && (moment.active >> lane & 1U) != 0)
        share.at[lane] = enter_piece(block, lane, moment);
    }
    if (is_smooth) {
      place_on_curves(block, *block.curves, share, poses, direction);
      if (looks) look_along(direction, poses);
    } else {
      place_on_lines(block, share, poses);
      if (looks) look_along(block.direction, poses);
    }
  }

  static std::optional<Complaint> check(const Route& route, const Pose*) {
    if (route.points.empty()) return Complaint{{}, "points: there is none; give one or more."};
    if (route.points.size() > 1'000'000) return Complaint{{}, "points: more than a million; give fewer."};
    const std::size_t pauses = route.pause.each.size();
    if (pauses != 1 && pauses != route.points.size())
      return Complaint{{},
                       "pause: there are " + std::to_string(pauses) + " of them and " +
                           std::to_string(route.points.size()) + " points; give one for all, or one for each."};
    return std::nullopt;
  }

 private:
  /// Finds the piece that the moment is on, and the share of it.
  static double enter_piece(Block& block, int index, const BlockMoment& moment) {
    Lane& lane = *block.lane[index];
    const double whole = moment.whole->at[index], rest = moment.rest->at[index];
    const Moving moving = lane.track->itinerary.at(whole, rest, lane.elapsed, lane.near_stretch);
    take_piece(block, index, piece_at(*lane.track, moving, lane.elapsed, lane.near_part));
    if (moment.tell) {
      tell(lane, moving, whole + rest, moment);
      block.untold &= ~(1U << index);
    }
    return share_of_piece(block, index, moving.into);
  }

  /// Where points move, or the way is eased, the place is looked for every time.
  static void search(Block& block, bool moves, bool looks, PoseBlock& poses, const BlockMoment& moment) {
    Row direction[3] = {};
    for (int index = 0; index < lanes; ++index) {
      if ((moment.active >> index & 1U) == 0) continue;
      Lane& lane = *block.lane[index];
      Track& track = *lane.track;
      if (moves) {
        place_moving_points(track, *lane.route, lane_of(*moment.parent, index), *moment.sight, lane.behaviour);
        lay_path(track, *lane.route);
        track.itinerary.plan(*lane.route, track.path, lane.start, lane.onward);
      }
      const double whole = moment.whole->at[index], rest = moment.rest->at[index];
      const Moving moving = track.itinerary.at(whole, rest, lane.elapsed, lane.near_stretch);
      const Stretch& stretch = track.itinerary.stretch(moving);
      const double distance = Itinerary::distance(stretch, on_curve(lane.route->easing.curve(), moving.x));
      const Path::Spot spot = track.path.at(distance, side_of(moving, stretch), lane.near_part);
      store(poses.position, index, numbers(spot.position));
      store(direction, index, numbers(spot.direction) * (stretch.onward ? 1.0 : -1.0));
      if (moment.tell && (!moves || moment.commit)) tell(lane, moving, whole + rest, moment);
    }
    if (looks) look_along(direction, poses);
  }

  static void make_room(Track& track, const Route& route) {
    track.points.reserve(route.points.size());
    track.itinerary.reserve(route.points.size());
    if (any_moves(route)) track.path.reserve(route.points.size(), route.shape);
  }

  /// Another speed or easing: the same stretches, in other times.
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
const inside::Kind& inside::kind_of<Route>() {
  static const LaneKind<RouteRoom> kind;
  return kind;
}

}  // namespace hushed
