#include <hushed/behaviour/route.hpp>

#include <algorithm>
#include <cmath>
#include <memory>

#include "behaviour/itinerary.hpp"
#include "easing/curve.hpp"
#include "lanes/facing.hpp"
#include "lanes/lane_kind.hpp"
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
  Itinerary itinerary;
};

bool any_moves(const Route& route) {
  return std::any_of(route.points.begin(), route.points.end(), [](const Place& place) { return place.moves(); });
}

/// Makes the path anew where it is not the one through these points.
void lay_path(Track& track, const Route& route) {
  const bool closed = route.ends == RouteEnds::loop;
  const bool same = track.path.points() == track.points.size() && track.shape == route.shape && track.closed == closed;
  if (same) return;
  track.shape = route.shape;
  track.closed = closed;
  track.path.set(track.points, route.shape, closed, any_moves(route) ? Path::Readings::few : Path::Readings::many);
}

struct RouteState {
  std::optional<double> start = {};  ///< m, where it was changed under way
  bool onward = true;
  double elapsed = 0.0;  ///< s, before own time began to count
  double told = 0.0;     ///< visits of which an event was raised
  std::uint32_t behaviour = 0;
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
/// times between `begin` and `end`, and not too near them for rounding; what is remembered changes no bit.
struct Piece {
  Shift shift;
  double begin = 0.0, end = 0.0;      ///< s into the course; none where the two are the same
  double start = 0.0, inverse = 0.0;  ///< s, and 1/s: of the share of it
  double from = 0.0, to = 0.0;        ///< shares of the arc
  bool onward = true;
  bool untold = true;  ///< the visits at its beginning
  Path::Arc arc;

  bool holds_at(double into) const {
    constexpr double near_the_ends = 1e-7;
    return into > begin + near_the_ends && into < end - near_the_ends;
  }
  Path::Spot at(double into) const {
    const double share = larger(smaller((into - start) * inverse, 1.0), 0.0);
    return arc.at(from + (to - from) * share);
  }
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

struct Lane {
  Piece piece;
  const Route* route = nullptr;
  Track* track = nullptr;
  double start = 0.0;
  bool onward = true;
  double elapsed = 0.0;
  double told = 0.0;
  std::uint32_t behaviour = 0;
  std::uint32_t near_part = 0;
  std::size_t near_stretch = 0, near_visit = 0;
};

struct RouteBlock {
  Lane lane[lanes];
};

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

/// +Z along the path, as it goes; standing, as it came.
QuatOf<double> look_along(const Path::Spot& spot, bool onward, const QuatOf<double>& in) {
  const VecOf<double> direction = numbers(spot.direction) * (onward ? 1.0 : -1.0);
  const auto looking = facing(direction, numbers(up));
  return choose(looking.is_good, looking.rotation, in);
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

  /// Whether points move, whether it looks along, and whether it goes evenly along a path that stays.
  static unsigned variant(const Route& route, const State&) {
    return (any_moves(route) ? 1U : 0U) | (route.face == RouteFacing::travel ? 2U : 0U) |
           (!any_moves(route) && route.easing.curve().formula == formula::linear ? 4U : 0U);
  }

  static unsigned touches(unsigned variant) { return part::position | ((variant & 2U) != 0 ? part::rotation : 0U); }
  static bool needs_start(const Route&) { return true; }
  static void begin(State& state, const Route& route, const Start&) {
    state.start.reset();
    state.onward = set_out_onward(route);
    state.elapsed = state.told = 0.0;
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
    state.told = state.track->itinerary.visits_until(after, near = 0);
  }

  static void fill(Block& block, int index, const Route& route, const State& state) {
    Track& track = *state.track;
    Lane& lane = block.lane[index];
    lane = Lane{};
    lane.route = &route;
    lane.track = &track;
    lane.start = state.start.value_or(route.start);
    lane.onward = state.onward;
    lane.elapsed = state.elapsed;
    lane.told = state.told;
    lane.behaviour = state.behaviour;
    if (any_moves(route)) return;
    place_still_points(track, route);
    lay_path(track, route);
    track.itinerary.plan(route, track.path, lane.start, lane.onward);
  }

  static void collect(const Block& block, int lane, State& state) { state.told = block.lane[lane].told; }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const BlockMoment& moment) {
    const bool moves = (variant & 1U) != 0, looks = (variant & 2U) != 0;
    for (int index = 0; index < lanes; ++index) {
      if ((moment.active >> index & 1U) == 0) continue;
      Lane& lane = block.lane[index];
      Track& track = *lane.track;
      if (moves) {
        place_moving_points(track, *lane.route, lane_of(*moment.parent, index), *moment.sight, lane.behaviour);
        lay_path(track, *lane.route);
        track.itinerary.plan(*lane.route, track.path, lane.start, lane.onward);
      }
      const double whole = moment.whole->at[index], rest = moment.rest->at[index];
      const auto place = [&](const Path::Spot& spot, bool onward) {
        store(poses.position, index, numbers(spot.position));
        if (looks) store(poses.rotation, index, look_along(spot, onward, load<double>(poses.rotation, index)));
      };
      Piece& piece = lane.piece;
      const bool is_even = (variant & 4U) != 0;
      const double into = piece.shift.of(whole, rest);
      if (is_even && piece.holds_at(into) && !(moment.tell && piece.untold)) {
        place(piece.at(into), piece.onward);
        continue;
      }
      const Moving moving = track.itinerary.at(whole, rest, lane.elapsed, lane.near_stretch);
      const Stretch& stretch = track.itinerary.stretch(moving);
      if (is_even) {
        piece = piece_at(track, moving, lane.elapsed, lane.near_part);
        place(piece.at(moving.into), piece.onward);
      } else {
        const double distance = Itinerary::distance(stretch, on_curve(lane.route->easing.curve(), moving.x));
        place(track.path.at(distance, side_of(moving, stretch), lane.near_part), stretch.onward);
      }
      if (moment.tell && (!moves || moment.commit)) {
        tell(lane, moving, whole + rest, moment);
        piece.untold = false;
      }
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
