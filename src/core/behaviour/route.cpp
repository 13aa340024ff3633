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

struct Lane {
  const Route* route;
  Track* track;
  double start;
  bool onward;
  double elapsed;
  double told;
  std::uint32_t behaviour;
  std::size_t near_stretch, near_visit;
  std::uint32_t near_part;
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

  /// Whether points move, and whether it looks along.
  static unsigned variant(const Route& route, const State&) {
    return (any_moves(route) ? 1U : 0U) | (route.face == RouteFacing::travel ? 2U : 0U);
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
    lane = {
        &route, &track, state.start.value_or(route.start), state.onward, state.elapsed, state.told, state.behaviour, 0,
        0,      0};
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
      const Moving moving = track.itinerary.at(whole, rest, lane.elapsed, lane.near_stretch);
      const Stretch& stretch = track.itinerary.stretch(moving);
      const double distance = Itinerary::distance(stretch, on_curve(lane.route->easing.curve(), moving.x));
      // Seen from where it comes from: while it stands, and nowhere else.
      const bool stands = moving.x >= 1.0;
      const auto side = stands == stretch.onward ? Path::Side::behind : Path::Side::ahead;
      const Path::Spot spot = track.path.at(distance, side, lane.near_part);
      store(poses.position, index, numbers(spot.position));
      if (looks) store(poses.rotation, index, look_along(spot, stretch.onward, load<double>(poses.rotation, index)));
      if (moment.tell && (!moves || moment.commit)) tell(lane, moving, whole + rest, moment);
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
