// SPDX-License-Identifier: MIT
#include "scene/flocks.hpp"

#include <algorithm>
#include <set>

#include "lanes/conversions.hpp"
#include "lanes/loop.hpp"

namespace hushed::detail {

namespace {

bool has_tag(const ObjectRecord& object, std::string_view tag) {
  return std::find(object.tags.begin(), object.tags.end(), tag) != object.tags.end();
}

template <class Visit>
void for_observers(const Registry& registry, Visit&& visit) {
  if (!registry.has_deciding_kinds()) return;
  for (Index i = 0; i < registry.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = registry.behaviours[i];
    if (!behaviour.in_use || registry.presences[behaviour.object].ended) continue;
    const auto neighbour_queries = behaviour.kind->neighbour_queries(registry.store(behaviour).values(behaviour.row));
    if (!neighbour_queries.empty()) visit(i, neighbour_queries);
  }
}

/// The objects with one of the tags, in the order of their indices.
template <class Tags>
std::vector<Index> with_one_of(const Registry& registry, const Tags& tags) {
  std::vector<Index> all;
  if (tags.empty()) return all;
  for (Index i = 0; i < registry.objects.size(); ++i) {
    const ObjectRecord& object = registry.objects[i];
    const auto is_sought = [&](const std::string& tag) { return tags.contains(tag); };
    if (registry.presences[i].is_alive() && std::any_of(object.tags.begin(), object.tags.end(), is_sought))
      all.push_back(i);
  }
  return all;
}

std::set<std::string_view> tags_sought(const Registry& registry, bool as_obstacles) {
  std::set<std::string_view> tags;
  for_observers(registry, [&](Index, std::span<const NeighbourQuery> neighbour_queries) {
    for (const NeighbourQuery& query : neighbour_queries)
      if ((query.of == NeighbourQuery::Of::obstacles) == as_obstacles) tags.insert(query.tag);
  });
  return tags;
}

void put_in_order_of_names(const Registry& registry, std::vector<Index>& objects) {
  std::stable_sort(objects.begin(), objects.end(),
                   [&](Index a, Index b) { return registry.objects[a].name < registry.objects[b].name; });
}

}  // namespace

bool needs_other_neighbours(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now) {
  return !std::equal(before.begin(), before.end(), now.begin(), now.end(),
                     [](const NeighbourQuery& a, const NeighbourQuery& b) {
                       return a.of == b.of && a.tag == b.tag && a.level == b.level;
                     });
}

bool has_equal_range(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now) {
  return std::equal(before.begin(), before.end(), now.begin(), now.end(),
                    [](const NeighbourQuery& a, const NeighbourQuery& b) { return a.within == b.within; });
}

// --- queries ---------------------------------------------------------------------------------------------------------

std::vector<Index> Flocks::find_movers(const Registry& registry) {
  std::set<Index> all;
  for_observers(registry, [&](Index behaviour, std::span<const NeighbourQuery> neighbour_queries) {
    for (const NeighbourQuery& query : neighbour_queries)
      if (query.of != NeighbourQuery::Of::obstacles) all.insert(registry.behaviours[behaviour].object);
  });
  for (const Index object : with_one_of(registry, tags_sought(registry, false))) all.insert(object);
  std::vector<Index> movers(all.begin(), all.end());
  put_in_order_of_names(registry, movers);
  return movers;
}

void Flocks::mark_observed(const Registry& registry, std::vector<bool>& visited) {
  for_observers(registry, [&](Index behaviour, std::span<const NeighbourQuery>) {
    const Index parent = registry.objects[registry.behaviours[behaviour].object].parent;
    if (parent != none) visited[parent] = true;
  });
  for (const Index object : with_one_of(registry, tags_sought(registry, true))) visited[object] = true;
}

void Flocks::plan() {
  is_stale_ = false;
  flocks_.clear();
  obstacles_.clear();
  askers_.clear();
  obstacles_asked_.clear();
  answers_.clear();
  tags_.clear();
  mover_places_.assign(registry_.objects.size(), none);
  for (Index place = 0; place < ticks_.movers.size(); ++place) mover_places_[ticks_.movers[place]] = place;
  for_observers(registry_, [this](Index behaviour, std::span<const NeighbourQuery> neighbour_queries) {
    ask(behaviour, neighbour_queries);
  });
}

bool Flocks::seek_one_of(std::span<const std::string> tags) const {
  return std::any_of(tags.begin(), tags.end(), [this](const std::string& tag) { return tags_.contains(tag); });
}

/// The answers of one behaviour are contiguous.
void Flocks::ask(Index behaviour, std::span<const NeighbourQuery> neighbour_queries) {
  const Index object = registry_.behaviours[behaviour].object;
  const Frame frame = frame_of(object);
  if (askers_.empty()) askers_.resize(registry_.behaviours.size());
  Asker& asker = askers_[behaviour];
  asker.first_answer = static_cast<Index>(answers_.size());
  asker.first_obstacles = static_cast<Index>(obstacles_asked_.size());
  std::vector<Index> asked;
  for (const NeighbourQuery& query : neighbour_queries) {
    tags_.emplace(query.tag);
    if (query.of == NeighbourQuery::Of::obstacles) {
      obstacles_asked_.push_back(obstacles_of({query.tag, frame}));
      ++asker.obstacles;
      continue;
    }
    const Index flock = flock_of({query.tag, frame, query.level});
    flocks_[flock].reach = std::max(flocks_[flock].reach, query.within);
    if (std::find(asked.begin(), asked.end(), flock) == asked.end()) asked.push_back(flock);
    answers_.emplace_back();
    ++asker.answers;
  }
  for (const Index flock : asked) ask(flocks_[flock], object, asker, neighbour_queries);
}

/// The questions of one behaviour to one flock are contiguous.
void Flocks::ask(Flock& flock, Index object, const Asker& asker, std::span<const NeighbourQuery> neighbour_queries) {
  std::vector<Question> questions;
  Index answer = 0;
  for (const NeighbourQuery& query : neighbour_queries) {
    if (query.of == NeighbourQuery::Of::obstacles) continue;
    if (query.tag == flock.who.tag && query.level == flock.who.level)
      questions.push_back({query.of, query.within, answer});
    ++answer;
  }
  const auto same = std::search(flock.questions.begin(), flock.questions.end(), questions.begin(), questions.end());
  const Observer observer{static_cast<Index>(same - flock.questions.begin()), static_cast<Index>(questions.size()),
                          asker.first_answer};
  if (same == flock.questions.end()) flock.questions.insert(same, questions.begin(), questions.end());

  const auto place = std::lower_bound(flock.places.begin(), flock.places.end(), mover_places_[object]);
  const bool is_member = place != flock.places.end() && *place == mover_places_[object];
  const Index member = is_member ? static_cast<Index>(place - flock.places.begin()) : none;
  if (is_member && flock.observers[member].questions == 0)
    flock.observers[member] = observer;
  else
    flock.outsiders.push_back({observer, member, mover_places_[object]});
}

Flocks::Frame Flocks::frame_of(Index object) const {
  const ObjectRecord& record = registry_.objects[object];
  return {record.parent, record.parent == none ? Inherit{} : record.inherit};
}

Index Flocks::flock_of(const Tagged& who) {
  for (Index i = 0; i < flocks_.size(); ++i)
    if (flocks_[i].who == who) return i;
  Flock& flock = flocks_.emplace_back();
  flock.who = who;
  for (Index place = 0; place < ticks_.movers.size(); ++place)
    if (has_tag(registry_.objects[ticks_.movers[place]], who.tag)) flock.places.push_back(place);
  const std::size_t count = flock.places.size();
  if (who.frame.parent != none || who.level || count != ticks_.movers.size()) flock.moves.resize(count);
  flock.is_there.resize(count);
  flock.observers.resize(count);
  flock.grid.reserve(count);
  for (auto* const each : {&ways_[0], &ways_[1], &ways_[2], &squares_, &is_near_, &shares_})
    each->resize(std::max(each->size(), count));
  return static_cast<Index>(flocks_.size() - 1);
}

Index Flocks::obstacles_of(const Tagged& who) {
  for (Index i = 0; i < obstacles_.size(); ++i)
    if (obstacles_[i].who == who) return i;
  Obstacles& obstacles = obstacles_.emplace_back();
  obstacles.who = who;
  obstacles.objects = with_one_of(registry_, std::set{who.tag});
  put_in_order_of_names(registry_, obstacles.objects);
  for (const Index object : obstacles.objects) obstacles.poses.push_back(ticks_.place_of(object));
  obstacles.here.resize(obstacles.objects.size());
  return static_cast<Index>(obstacles_.size() - 1);
}

// --- looking about ---------------------------------------------------------------------------------------------------

void Flocks::update() noexcept {
  if (is_stale_) plan();
  for (Obstacles& obstacles : obstacles_) gather(obstacles);
  for (Flock& flock : flocks_) {
    gather(flock);
    flock.grid.sort(moves_of(flock), flock.is_there, flock.reach);
    answer_all(flock);
  }
}

PoseOf<double> Flocks::frame_at(const Frame& frame, const std::vector<Pose>& poses) const {
  Pose pose;
  if (frame.parent == none) return numbers(pose);
  const Pose& parent = poses[ticks_.place_of(frame.parent)];
  if (frame.inherit.position) pose.position = parent.position;
  if (frame.inherit.rotation) pose.rotation = parent.rotation;
  if (frame.inherit.scale) pose.scale = parent.scale;
  return numbers(pose);
}

std::span<const Move> Flocks::moves_of(const Flock& flock) const {
  return flock.moves.size() == flock.places.size() ? std::span{flock.moves} : std::span{ticks_.moves};
}

void Flocks::gather(Flock& flock) const noexcept {
  for (std::size_t i = 0; i < flock.places.size(); ++i) flock.is_there[i] = ticks_.is_there[flock.places[i]];
  if (flock.who.frame.parent == none) {
    for (std::size_t i = 0; i < flock.moves.size(); ++i) flock.moves[i] = ticks_.moves[flock.places[i]];
  } else {
    const auto now = frame_at(flock.who.frame, ticks_.last), before = frame_at(flock.who.frame, ticks_.before);
    for (std::size_t i = 0; i < flock.moves.size(); ++i) {
      const Move& move = ticks_.moves[flock.places[i]];
      flock.moves[i] = {brought_into(now, move.now), brought_into(before, move.before)};
    }
  }
  if (flock.who.level)
    for (Move& move : flock.moves) move.now.y = move.before.y = 0.0;
}

void Flocks::gather(Obstacles& obstacles) const noexcept {
  const auto now = frame_at(obstacles.who.frame, ticks_.last), before = frame_at(obstacles.who.frame, ticks_.before);
  const double per_second = ticks_.step > 0.0 ? 1.0 / ticks_.step : 0.0;
  obstacles.count = 0;
  for (std::size_t i = 0; i < obstacles.objects.size(); ++i) {
    const ObjectRecord& object = registry_.objects[obstacles.objects[i]];
    const Presence& presence = registry_.presences[obstacles.objects[i]];
    if (presence.ended || presence.under_hidden) continue;
    static const Shape point{Shape::Kind::sphere, Vec3::Zero()};
    const Shape& shape = object.shape ? *object.shape : point;
    Pose pose = vector(brought_into(now, numbers(ticks_.last[obstacles.poses[i]])));
    auto was = brought_into(before, numbers(ticks_.before[obstacles.poses[i]].position));
    if (!shape.centre.isZero()) {
      const auto middle_of = [&shape](const Pose& of) { return composed_position(numbers(of), numbers(shape.centre)); };
      pose.position = vector(middle_of(pose));
      was = brought_into(before, middle_of(ticks_.before[obstacles.poses[i]]));
    }
    const VecOf<double> size = by_factors(numbers(shape.size), numbers(pose.scale));
    const VecOf<double> half{0.5 * absolute(size.x), 0.5 * absolute(size.y), 0.5 * absolute(size.z)};
    const bool is_round = shape.kind == Shape::Kind::sphere;
    const double radius = larger(larger(half.x, half.y), half.z);
    obstacles.here[obstacles.count++] = {registry_.handle(obstacles.objects[i]),
                                         is_round,
                                         pose,
                                         is_round ? Vec3{Vec3::Constant(radius)} : vector(half),
                                         is_round ? radius : square_root(squared_length(half)),
                                         vector((numbers(pose.position) - was) * per_second)};
  }
}

/// In the order of cells, members and their answers are scattered in memory: they are prefetched.
void Flocks::answer_all(Flock& flock) noexcept {
  const auto in_order = flock.grid.in_order();
  constexpr std::size_t soon = 8;
  for (Index place = 0; place < in_order.size(); ++place) {
    if (place + 2 * soon < in_order.size()) fetch(flock.observers[in_order[place + 2 * soon]]);
    if (place + soon < in_order.size()) {
      const Observer& next = flock.observers[in_order[place + soon]];
      for (Index i = 0; i < next.questions; ++i) fetch(answers_[next.first_answer + i]);
    }
    const Observer& observer = flock.observers[in_order[place]];
    if (observer.questions > 0)
      in_lanes<&Flocks::answer>(*this, flock, observer, flock.grid.point(place), flock.grid.around(place));
  }
  // A hidden object is not found, but its own queries are answered.
  const auto observe = [&](const Observer& observer, const VecOf<double>& here, Index itself) {
    in_lanes<&Flocks::answer>(*this, flock, observer, here, flock.grid.around(here, itself));
  };
  for (Index i = 0; i < flock.observers.size() && in_order.size() < flock.observers.size(); ++i)
    if (!flock.is_there[i] && flock.observers[i].questions > 0) observe(flock.observers[i], moves_of(flock)[i].now, i);
  const auto frame = frame_at(flock.who.frame, ticks_.last);
  for (const Outsider& outsider : flock.outsiders) {
    auto here = brought_into(frame, ticks_.moves[outsider.place].now);
    if (flock.who.level) here.y = 0.0;
    observe(outsider.observer, here, outsider.member);
  }
}

/// Without a branch on the distance: candidates outside the radius have weight 0.
void Flocks::answer(const Flock& flock, const Observer& observer, const VecOf<double>& here,
                    std::span<const std::uint32_t> found) {
  const std::size_t count = found.size();
  const double per_second = ticks_.step > 0.0 ? 1.0 / ticks_.step : 0.0;
  double* const __restrict x = ways_[0].data();
  double* const __restrict y = ways_[1].data();
  double* const __restrict z = ways_[2].data();
  double* const __restrict squares = squares_.data();
  double* const __restrict is_near = is_near_.data();
  double* const __restrict shares = shares_.data();
  for (std::size_t i = 0; i < count; ++i) {
    const VecOf<double> way = flock.grid.point(found[i]) - here;
    x[i] = way.x;
    y[i] = way.y;
    z[i] = way.z;
    squares[i] = squared_length(way);
  }
  for (Index q = 0; q < observer.questions; ++q) {
    const Question& question = flock.questions[observer.first_question + q];
    const double most = question.within * question.within;
    for (std::size_t i = 0; i < count; ++i) is_near[i] = select(squares[i] <= most, 1.0, 0.0);
    VecOf<double> way{0.0, 0.0, 0.0}, sum = way;
    double neighbours = 0.0;
    for (std::size_t i = 0; i < count; ++i) {
      way = way + flock.grid.way(found[i]) * is_near[i];
      neighbours += is_near[i];
    }
    const double* part = is_near;
    if (question.of == NeighbourQuery::Of::separation) {
      const double over_within = 1.0 / larger(question.within, same_place);
      for (std::size_t i = 0; i < count; ++i) {
        const double is_apart = select(squares[i] > same_place * same_place, is_near[i], 0.0);
        shares[i] = is_apart * (over_within - 1.0 / square_root(select(is_apart > 0.0, squares[i], 1.0)));
      }
      part = shares;
    }
    for (std::size_t i = 0; i < count; ++i) sum = sum + VecOf<double>{x[i], y[i], z[i]} * part[i];
    answers_[observer.first_answer + question.answer] = {vector(sum), vector(way * per_second), neighbours};
  }
}

// --- answers ---------------------------------------------------------------------------------------------------------

std::span<const NeighbourSums> Flocks::neighbour_sums(Index behaviour) const {
  if (behaviour >= askers_.size()) return {};
  return {answers_.data() + askers_[behaviour].first_answer, askers_[behaviour].answers};
}

std::span<const Obstacle> Flocks::obstacles(Index behaviour, std::size_t query) const {
  if (behaviour >= askers_.size() || query >= askers_[behaviour].obstacles) return {};
  const Obstacles& these = obstacles_[obstacles_asked_[askers_[behaviour].first_obstacles + query]];
  return {these.here.data(), these.count};
}

}  // namespace hushed::detail
