#include "stage/flocks.hpp"

#include <algorithm>
#include <set>

#include "lanes/facing.hpp"
#include "lanes/loop.hpp"

namespace hushed::inside {

namespace {

constexpr double same_place = 1e-9;  // m

bool has_tag(const ObjectRecord& object, std::string_view tag) {
  return std::find(object.tags.begin(), object.tags.end(), tag) != object.tags.end();
}

/// Before it is needed.
template <class T>
void fetch(const T& soon) {
#if defined(__GNUC__)
  __builtin_prefetch(&soon);
#endif
}

}  // namespace

Index TickMemory::place_of(Index object) const {
  return static_cast<Index>(std::lower_bound(objects.begin(), objects.end(), object) - objects.begin());
}

bool looks_for_others(std::span<const Sense> before, std::span<const Sense> now) {
  return !std::equal(before.begin(), before.end(), now.begin(), now.end(),
                     [](const Sense& a, const Sense& b) { return a.of == b.of && a.tag == b.tag; });
}

bool looks_as_far(std::span<const Sense> before, std::span<const Sense> now) {
  return std::equal(before.begin(), before.end(), now.begin(), now.end(),
                    [](const Sense& a, const Sense& b) { return a.within == b.within; });
}

bool Flocks::Frame::operator==(const Frame& other) const {
  return parent == other.parent && inherit.position == other.inherit.position &&
         inherit.rotation == other.inherit.rotation && inherit.scale == other.inherit.scale;
}

// --- who looks for whom ----------------------------------------------------------------------------------------------

void Flocks::mark_seen(const Cast& cast, std::vector<bool>& seen) {
  std::set<std::string_view> tags;
  for (const BehaviourRecord& behaviour : cast.behaviours) {
    if (!behaviour.in_use || cast.objects[behaviour.object].ended) continue;
    const auto senses = behaviour.kind->senses(cast.roster(behaviour).values(behaviour.row));
    if (senses.empty()) continue;
    for (const Sense& sense : senses) tags.insert(sense.tag);
    seen[behaviour.object] = true;
    if (const Index parent = cast.objects[behaviour.object].parent; parent != none) seen[parent] = true;
  }
  if (tags.empty()) return;
  for (Index i = 0; i < cast.objects.size(); ++i) {
    const ObjectRecord& object = cast.objects[i];
    const bool is_sought =
        std::any_of(object.tags.begin(), object.tags.end(), [&](const std::string& tag) { return tags.contains(tag); });
    if (object.in_use && !object.ended && is_sought) seen[i] = true;
  }
}

void Flocks::plan() {
  is_stale_ = false;
  flocks_.clear();
  obstacles_.clear();
  askers_.clear();
  answers_.clear();
  for (Index i = 0; i < cast_.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = cast_.behaviours[i];
    if (!behaviour.in_use || cast_.objects[behaviour.object].ended) continue;
    const auto senses = behaviour.kind->senses(cast_.roster(behaviour).values(behaviour.row));
    if (!senses.empty()) ask(i, senses);
  }
}

/// The questions of one behaviour to one flock stand together, and so do the answers of one behaviour.
void Flocks::ask(Index behaviour, std::span<const Sense> senses) {
  const Index object = cast_.behaviours[behaviour].object;
  const Frame frame = frame_of(object);
  if (askers_.empty()) askers_.resize(cast_.behaviours.size());
  Asker& asker = askers_[behaviour];
  asker.first_answer = static_cast<Index>(answers_.size());
  std::vector<Index> asked;
  for (const Sense& sense : senses) {
    if (sense.of == Sense::Of::obstacles) {
      asker.obstacles.push_back(obstacles_of(sense.tag, frame));
      continue;
    }
    const Index flock = flock_of(sense.tag, frame);
    flocks_[flock].reach = std::max(flocks_[flock].reach, sense.within);
    if (std::find(asked.begin(), asked.end(), flock) == asked.end()) asked.push_back(flock);
    answers_.emplace_back();
    ++asker.answers;
  }
  for (const Index each : asked) {
    Flock& flock = flocks_[each];
    std::vector<Question> questions;
    Index answer = 0;
    for (const Sense& sense : senses) {
      if (sense.of == Sense::Of::obstacles) continue;
      if (sense.tag == flock.tag) questions.push_back({sense.of, sense.within, answer});
      ++answer;
    }
    const auto same = std::search(flock.questions.begin(), flock.questions.end(), questions.begin(), questions.end());
    Looker looker{none, ticks_.place_of(object), static_cast<Index>(same - flock.questions.begin()),
                  static_cast<Index>(questions.size()), asker.first_answer};
    if (same == flock.questions.end())
      flock.questions.insert(flock.questions.end(), questions.begin(), questions.end());
    const auto member = std::lower_bound(flock.by_object.begin(), flock.by_object.end(), std::pair{object, Index{0}});
    const bool is_member = member != flock.by_object.end() && member->first == object;
    if (is_member && flock.members[member->second].questions == 0) {
      looker.itself = member->second;
      flock.members[member->second] = looker;
    } else {
      if (is_member) looker.itself = member->second;
      flock.lookers.push_back(looker);
    }
  }
}

Flocks::Frame Flocks::frame_of(Index object) const {
  const ObjectRecord& record = cast_.objects[object];
  return {record.parent, record.parent == none ? Inherit{} : record.inherit};
}

std::vector<Index> Flocks::with_tag(std::string_view tag) const {
  std::vector<Index> members;
  for (Index i = 0; i < cast_.objects.size(); ++i)
    if (cast_.objects[i].in_use && !cast_.objects[i].ended && has_tag(cast_.objects[i], tag)) members.push_back(i);
  std::stable_sort(members.begin(), members.end(),
                   [this](Index a, Index b) { return cast_.objects[a].name < cast_.objects[b].name; });
  return members;
}

Index Flocks::flock_of(std::string_view tag, const Frame& frame) {
  for (Index i = 0; i < flocks_.size(); ++i)
    if (flocks_[i].tag == tag && flocks_[i].frame == frame) return i;
  Flock& flock = flocks_.emplace_back();
  flock.tag = tag;
  flock.frame = frame;
  flock.objects = with_tag(tag);
  const std::size_t count = flock.objects.size();
  for (const Index object : flock.objects) {
    flock.by_object.emplace_back(object, static_cast<Index>(flock.tick_places.size()));
    flock.tick_places.push_back(ticks_.place_of(object));
  }
  std::sort(flock.by_object.begin(), flock.by_object.end());
  flock.points.resize(count);
  flock.earlier.resize(count);
  flock.velocities_by_cell.resize(count);
  flock.is_there.resize(count);
  flock.members.assign(count, {none, none, 0, 0, 0});
  flock.grid.reserve(count);
  for (auto* const each : {&ways_[0], &ways_[1], &ways_[2], &squares_, &is_near_, &shares_})
    each->resize(std::max(each->size(), count));
  return static_cast<Index>(flocks_.size() - 1);
}

Index Flocks::obstacles_of(std::string_view tag, const Frame& frame) {
  for (Index i = 0; i < obstacles_.size(); ++i)
    if (obstacles_[i].tag == tag && obstacles_[i].frame == frame) return i;
  Obstacles& obstacles = obstacles_.emplace_back();
  obstacles.tag = tag;
  obstacles.frame = frame;
  obstacles.objects = with_tag(tag);
  for (const Index object : obstacles.objects) obstacles.tick_places.push_back(ticks_.place_of(object));
  obstacles.here.resize(obstacles.objects.size());
  return static_cast<Index>(obstacles_.size() - 1);
}

// --- looking about ---------------------------------------------------------------------------------------------------

void Flocks::look(Earlier earlier) noexcept {
  if (is_stale_) plan();
  for (Obstacles& obstacles : obstacles_) gather(obstacles);
  for (Flock& flock : flocks_) {
    sort(flock, earlier);
    const auto in_order = flock.grid.in_order();
    constexpr Index soon = 8;
    for (Index place = 0; place < in_order.size(); ++place) {
      // In the order of the cells, they and their answers lie anywhere: the next are called for early.
      if (place + 2 * soon < in_order.size()) fetch(flock.members[in_order[place + 2 * soon]]);
      if (place + soon < in_order.size()) fetch(answers_[flock.members[in_order[place + soon]].first_answer]);
      const Looker& looker = flock.members[in_order[place]];
      if (looker.questions > 0) answer(flock, looker, flock.grid.point(place));
    }
    // Who is hidden is seen by nobody, and sees the others all the same.
    for (std::size_t i = 0; i < flock.members.size(); ++i)
      if (!flock.is_there[i] && flock.members[i].questions > 0) answer(flock, flock.members[i], flock.points[i]);
    const auto frame = numbers(frame_at(flock.frame, ticks_.last));
    for (const Looker& looker : flock.lookers)
      answer(flock, looker, brought_into(frame, numbers(ticks_.last[looker.tick_place].position)));
  }
}

Pose Flocks::frame_at(const Frame& frame, const std::vector<Pose>& poses) const {
  if (frame.parent == none) return {};
  Pose pose = poses[ticks_.place_of(frame.parent)];
  if (!frame.inherit.position) pose.position = Vec3::Zero();
  if (!frame.inherit.rotation) pose.rotation = Quat::Identity();
  if (!frame.inherit.scale) pose.scale = Vec3::Ones();
  return pose;
}

void Flocks::gather(const Flock& flock, const std::vector<Pose>& poses,
                    std::vector<VecOf<double>>& points) const noexcept {
  const auto frame = numbers(frame_at(flock.frame, poses));
  for (std::size_t i = 0; i < flock.objects.size(); ++i) {
    points[i] = numbers(poses[flock.tick_places[i]].position);
    if (flock.frame.parent != none) points[i] = brought_into(frame, points[i]);
  }
}

void Flocks::sort(Flock& flock, Earlier earlier) noexcept {
  std::swap(flock.points, flock.earlier);
  gather(flock, ticks_.last, flock.points);
  if (earlier == Earlier::from_ticks) gather(flock, ticks_.before, flock.earlier);
  for (std::size_t i = 0; i < flock.objects.size(); ++i)
    flock.is_there[i] = !cast_.objects[flock.objects[i]].ended && !cast_.objects[flock.objects[i]].under_hidden;
  flock.grid.sort(flock.points, flock.is_there, flock.reach);
  const double per_second = ticks_.step > 0.0 ? 1.0 / ticks_.step : 0.0;
  const auto in_order = flock.grid.in_order();
  for (std::size_t place = 0; place < in_order.size(); ++place) {
    const std::uint32_t i = in_order[place];
    flock.velocities_by_cell[place] = (flock.points[i] - flock.earlier[i]) * per_second;
  }
}

void Flocks::gather(Obstacles& obstacles) const noexcept {
  const auto now = numbers(frame_at(obstacles.frame, ticks_.last));
  const auto before = numbers(frame_at(obstacles.frame, ticks_.before));
  const double per_second = ticks_.step > 0.0 ? 1.0 / ticks_.step : 0.0;
  obstacles.count = 0;
  for (std::size_t i = 0; i < obstacles.objects.size(); ++i) {
    const ObjectRecord& object = cast_.objects[obstacles.objects[i]];
    if (object.ended || object.under_hidden) continue;
    const Pose pose = vector(brought_into(now, numbers(ticks_.last[obstacles.tick_places[i]])));
    const auto was = brought_into(before, numbers(ticks_.before[obstacles.tick_places[i]].position));
    const Shape shape = object.shape.value_or(Shape{Shape::Kind::sphere, Vec3::Zero()});
    const VecOf<double> size = by_factors(numbers(shape.size), numbers(pose.scale));
    const VecOf<double> half{0.5 * absolute(size.x), 0.5 * absolute(size.y), 0.5 * absolute(size.z)};
    const bool is_round = shape.kind == Shape::Kind::sphere;
    const double radius = larger(larger(half.x, half.y), half.z);
    obstacles.here[obstacles.count++] = {cast_.handle(obstacles.objects[i]),
                                         is_round,
                                         pose,
                                         is_round ? Vec3{Vec3::Constant(radius)} : vector(half),
                                         is_round ? radius : square_root(squared_length(half)),
                                         vector((numbers(pose.position) - was) * per_second)};
  }
}

/// Without a branch on whether each is near enough: those that are not have no share.
HUSHED_KERNEL void Flocks::answer(Flock& flock, const Looker& looker, const VecOf<double>& here) noexcept {
  const auto found = flock.grid.around(here, looker.itself);
  const std::size_t count = found.size();
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
  for (Index q = 0; q < looker.questions; ++q) {
    const Question& question = flock.questions[looker.first_question + q];
    const double most = question.within * question.within;
    for (std::size_t i = 0; i < count; ++i) is_near[i] = select(squares[i] <= most, 1.0, 0.0);
    VecOf<double> velocity{0.0, 0.0, 0.0}, sum = velocity;
    double neighbours = 0.0;
    for (std::size_t i = 0; i < count; ++i) {
      velocity = velocity + flock.velocities_by_cell[found[i]] * is_near[i];
      neighbours += is_near[i];
    }
    if (question.of == Sense::Of::separation) {
      const double over_within = 1.0 / question.within;
      for (std::size_t i = 0; i < count; ++i) {
        const double is_apart = select(squares[i] > same_place * same_place, is_near[i], 0.0);
        shares[i] = is_apart * (over_within - 1.0 / square_root(select(is_apart > 0.0, squares[i], 1.0)));
      }
    }
    if (question.of != Sense::Of::alignment) {
      const double* const part = question.of == Sense::Of::separation ? shares : is_near;
      for (std::size_t i = 0; i < count; ++i) sum = sum + VecOf<double>{x[i], y[i], z[i]} * part[i];
    }
    answers_[looker.first_answer + question.answer] = {vector(sum), vector(velocity), neighbours};
  }
}

// --- what was seen ---------------------------------------------------------------------------------------------------

std::span<const Sensed> Flocks::sensed(Index behaviour) const {
  if (behaviour >= askers_.size()) return {};
  return {answers_.data() + askers_[behaviour].first_answer, askers_[behaviour].answers};
}

std::span<const Obstacle> Flocks::obstacles(Index behaviour, std::size_t sense) const {
  if (behaviour >= askers_.size() || sense >= askers_[behaviour].obstacles.size()) return {};
  const Obstacles& these = obstacles_[askers_[behaviour].obstacles[sense]];
  return {these.here.data(), these.count};
}

}  // namespace hushed::inside
