#include "stage/player.hpp"

#include <algorithm>
#include <cmath>

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"

namespace hushed::inside {

namespace {

/// No parent at all. Made by the compiler, so that it is there before any scene.
constexpr PoseBlock identity = [] {
  PoseBlock block{};
  for (int lane = 0; lane < lanes; ++lane) {
    block.rotation[3].at[lane] = 1.0;
    for (Row& scale : block.scale) scale.at[lane] = 1.0;
  }
  return block;
}();

/// The local poses in `pose` become world poses.
HUSHED_KERNEL void compose_block(const PoseBlock& frame, PoseBlock& pose) {
  for_each_lane([&](int lane) { store(pose, lane, compose(load<Real>(frame, lane), load<Real>(pose, lane))); });
}

HUSHED_KERNEL void copy_block(const PoseBlock& from, PoseBlock& to) {
  for_each_lane([&](int lane) { store(to, lane, load<Real>(from, lane)); });
}

HUSHED_KERNEL void copy_positions(const PoseBlock& from, PoseBlock& to) {
  for_each_lane([&](int lane) { store(to.position, lane, load<Real>(from.position, lane)); });
}

void copy_other_parts(const PoseBlock& from, PoseBlock& to) {
  std::copy(from.rotation, from.rotation + 4, to.rotation);
  std::copy(from.scale, from.scale + 3, to.scale);
}

void store_position(Pose& to, const PoseBlock& from, int lane) {
  to.position = {from.position[0].at[lane], from.position[1].at[lane], from.position[2].at[lane]};
}

void store_pose(Pose& to, const PoseBlock& from, int lane) {
  to.position = {from.position[0].at[lane], from.position[1].at[lane], from.position[2].at[lane]};
  to.rotation.coeffs() = {from.rotation[0].at[lane], from.rotation[1].at[lane], from.rotation[2].at[lane],
                          from.rotation[3].at[lane]};
  to.scale = {from.scale[0].at[lane], from.scale[1].at[lane], from.scale[2].at[lane]};
}

/// Every sixteenth tick or so, by the time alone.
bool is_sixteenth(Time tick, double step) { return step > 0.0 && std::llround(in_seconds(tick) / step) % 16 == 0; }

int used_lanes(const Group& group, Index block) {
  return static_cast<int>(std::min<Index>(lanes, group.count - block * lanes));
}

}  // namespace

// --- the frame -----------------------------------------------------------------------------------------------

void Player::play(const Instant& instant) noexcept {
  Pass pass = pass_at(instant);
  for (const Chunk& chunk : layout_.chunks) play_chunk(chunk, pass);
}

void Player::tick(Time at) noexcept {
  const Instant instant{.now = at, .remember = Remember::tick, .begin = true, .ticked_only = true, .tell = true};
  late_[behind_++] = pass_at(instant);
  play(instant);
  last_tick = at;
}

void Player::decide(Time at) noexcept {
  if (layout_.deciding.empty()) return;
  Pass pass = pass_at({.now = at, .remember = Remember::tick});
  PoseBlock frame;
  for (const Layout::Deciding& each : layout_.deciding) {
    const Group& group = layout_.groups[each.group];
    const Storey& storey = layout_.storeys[each.storey];
    Batch& batch = layout_.batches[storey.batch];
    const bool has_parent = group.first_child != none;
    pass.moment.parent = has_parent ? &frame : &identity;
    pass.moment.in_world = !has_parent;
    for (Index block = 0; block < group.blocks(); ++block) {
      const Index place = storey.first_block + block;
      if (has_parent) gather_parents(group, block, frame);
      pass.moment.active = batch.bits[place].occupied;
      for (int lane = 0; lane < lanes && batch.bits[place].dressed != 0; ++lane) {
        if ((batch.bits[place].dressed >> lane & 1U) == 0) continue;
        const Index index = batch.behaviours[std::size_t{place} * lanes + static_cast<std::size_t>(lane)];
        const BehaviourRecord& behaviour = cast_.behaviours[index];
        if (!acts(behaviour) || stands_still(behaviour)) pass.moment.active &= ~(1U << lane);
      }
      batch.column->decide(place, pass.moment);
    }
  }
}

std::vector<UrgeShare> Player::urges(Index index, Time now) {
  const BehaviourRecord& behaviour = cast_.behaviours[index];
  if (!acts(behaviour) || stands_still(behaviour)) return {};
  const ObjectLocation& object = *cast_.objects[behaviour.object].location;
  const Group& group = layout_.groups[object.group];
  PoseBlock frame = identity;
  if (group.first_child != none) gather_parents(group, object.member / lanes, frame);
  Pass pass = pass_at({.now = now});
  pass.moment.parent = &frame;
  pass.moment.in_world = group.first_child == none;
  return layout_.column(*behaviour.location).urges(behaviour.location->block, behaviour.location->lane, pass.moment);
}

void Player::catch_up() noexcept {
  if (behind_ == 0) return;
  const std::span late{late_.data(), behind_};
  const bool can_leap = are_alike(late);
  for (const Index each : layout_.apart) {
    const Group& group = layout_.groups[each];
    for (Index block = 0; block < group.blocks(); ++block)
      if (!can_leap || !leap(group, block, late)) play_block(group, block, late);
  }
  behind_ = 0;
}

void Player::start_around(Index object, Time now) noexcept {
  const Instant instant{.now = now, .begin = true, .around = true};
  gather_dependencies(object);
  // What an object depends on stands at an earlier slot than itself. The others in a block come along: what they
  // show is of no use now, and is shown anew with the next frame.
  std::sort(gathered_.begin(), gathered_.end(),
            [this](Index a, Index b) { return cast_.slot_of(a) < cast_.slot_of(b); });
  Pass pass = pass_at(instant);
  Index last_group = none, last_block = none;
  for (const Index each : gathered_) {
    const ObjectLocation& location = *cast_.objects[each].location;
    const Index block = location.member / lanes;
    if (location.group == last_group && block == last_block) continue;
    last_group = location.group;
    last_block = block;
    if (!layout_.groups[location.group].still) play_block(layout_.groups[location.group], block, pass);
  }
}

void Player::make_room() {
  gathered_.clear();
  gathered_.reserve(cast_.objects.size());
  gathered_in_.assign(cast_.objects.size(), 0);
  gathering_ = 0;
}

void Player::gather_dependencies(Index object) noexcept {
  ++gathering_;
  gathered_.clear();
  const auto take = [this](Index each) {
    if (is_gathered(each)) return;
    gathered_in_[each] = gathering_;
    gathered_.push_back(each);
  };
  take(object);
  for (std::size_t i = 0; i < gathered_.size(); ++i) cast_.for_dependencies(gathered_[i], take);
}

void Player::set_clocks(const Batch& batch, Index block, Pass& pass, OwnTimes& own) const {
  BlockMoment& moment = pass.moment;
  moment.whole = &pass.scene.whole;
  moment.rest = &pass.scene.rest;
  if (batch.bits[block].on_own_clock == 0) return;

  const Batch::Clocks& clocks = batch.clocks[block];
  const double units = static_cast<double>(moment.time.count());
  for (int lane = 0; lane < lanes; ++lane) {
    const OwnTime time = own_time(units * clocks.pace.at[lane] - clocks.zero.at[lane]);
    own.whole.at[lane] = time.whole;
    own.rest.at[lane] = time.rest;
  }
  moment.whole = &own.whole;
  moment.rest = &own.rest;
}

void Player::climb_stack(const Group& group, Index height, Index block, PoseBlock& pose, Pass& pass) noexcept {
  const Storey* const storeys = layout_.storeys.data() + group.first_storey;
  OwnTimes own;
  for (Index i = 0; i < height; ++i) {
    Batch& batch = layout_.batches[storeys[i].batch];
    const Index place = storeys[i].first_block + block;
    if (batch.bits[place].dressed == 0) {
      set_clocks(batch, place, pass, own);
      pass.moment.active = batch.bits[place].occupied;
      batch.column->evaluate(place, pose, pass.moment);
      if (failed_lanes_ != 0) show_failed(batch, place, pose, pass.instant.now);
    } else {
      // Nobody else looks at the other parts of poses that only move.
      if (group.touched == part::position) copy_other_parts(layout_.rests[group.first_block + block], pose);
      climb_dressed(batch, place, pose, pass);
    }
  }
}

bool Player::are_alike(std::span<const Pass> ticks) {
  for (std::size_t i = 0; i + 1 < ticks.size(); ++i) {
    if (ticks[i].moment.may_rest) return false;
    if (i > 0 && ticks[i].instant.now - ticks[i - 1].instant.now != ticks[i + 1].instant.now - ticks[i].instant.now)
      return false;
  }
  return ticks.size() > 1;
}

bool Player::leap(const Group& group, Index block, std::span<Pass> ticks) noexcept {
  const Storey& only = layout_.storeys[group.first_storey];
  Batch& batch = layout_.batches[only.batch];
  const Index place = only.first_block + block;
  if (group.storeys != 1 || group.first_child != none || batch.bits[place].dressed != 0) return false;
  PoseBlock pose;
  if (group.touched != part::position) copy_block(layout_.rests[group.first_block + block], pose);
  BlockMoment& last = ticks.back().moment;
  last.active = batch.bits[place].occupied;
  if (!batch.column->leap(place, static_cast<int>(ticks.size()), pose, last)) return false;
  show(group, block, pose);
  return true;
}

void Player::play_chunk(const Chunk& chunk, Pass& pass) noexcept {
  for (Index i = chunk.first_group; i < chunk.first_group + chunk.groups; ++i) {
    const Group& group = layout_.groups[i];
    if (group.still) continue;
    if (pass.instant.ticked_only && (!group.ticked || group.apart)) continue;
    if (pass.instant.the_others && group.ticked) continue;
    for (Index block = 0; block < group.blocks(); ++block) play_block(group, block, pass);
  }
}

void Player::play_block(const Group& group, Index block, std::span<Pass> passes) noexcept {
  const bool has_parent = group.first_child != none;
  const PoseBlock& rest = layout_.rests[group.first_block + block];
  const bool only_moves = group.touched == part::position;
  PoseBlock frame;
  if (has_parent) gather_parents(group, block, frame);
  PoseBlock pose;
  for (Pass& pass : passes) {
    only_moves ? copy_positions(rest, pose) : copy_block(rest, pose);
    shown_ = pass.instant.now;
    pass.moment.parent = has_parent ? &frame : &identity;
    pass.moment.in_world = !has_parent;
    climb_stack(group, group.storeys, block, pose, pass);
  }

  if (has_parent) compose_block(frame, pose);
  show(group, block, pose);
}

void Player::show(const Group& group, Index block, const PoseBlock& pose) noexcept {
  Pose* const worlds = layout_.worlds.data() + group.first_slot + std::size_t{block} * lanes;
  const int used = used_lanes(group, block);
  if (group.touched == part::position)
    for (int lane = 0; lane < used; ++lane) store_position(worlds[lane], pose, lane);
  else
    for (int lane = 0; lane < used; ++lane) store_pose(worlds[lane], pose, lane);
}

Pose Player::local(Index index, Time now) {
  const ObjectLocation& object = *cast_.objects[index].location;
  const Group& group = layout_.groups[object.group];
  if (group.first_child == none) return layout_.worlds[object.slot];

  const Index block = object.member / lanes;
  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame;
  gather_parents(group, block, frame);
  Pass pass = pass_at({.now = now});
  pass.moment.parent = &frame;
  pass.moment.in_world = group.first_child == none;
  climb_stack(group, group.storeys, block, pose, pass);
  return lane_of(pose, static_cast<int>(object.member % lanes));
}

void Player::gather_parents(const Group& group, Index block, PoseBlock& frame) const {
  const Index* const parents = layout_.parents.data() + group.first_child + std::size_t{block} * lanes;
  const int used = used_lanes(group, block);
  for (int lane = 0; lane < lanes; ++lane) {
    const Pose& parent = layout_.worlds[parents[lane < used ? lane : 0]];
    for (int i = 0; i < 3; ++i) {
      frame.position[i].at[lane] = parent.position[i];
      frame.scale[i].at[lane] = parent.scale[i];
    }
    for (int i = 0; i < 4; ++i) frame.rotation[i].at[lane] = parent.rotation.coeffs()[i];
  }
  if (!group.inherit.position) std::copy(identity.position, identity.position + 3, frame.position);
  if (!group.inherit.rotation) std::copy(identity.rotation, identity.rotation + 4, frame.rotation);
  if (!group.inherit.scale) std::copy(identity.scale, identity.scale + 3, frame.scale);
}

Player::Pass Player::pass_at(const Instant& instant) {
  shown_ = instant.now;
  const OwnTime scene = own_time(static_cast<double>(instant.now.count()));
  Pass pass;
  pass.instant = instant;
  for (int lane = 0; lane < lanes; ++lane) {
    pass.scene.whole.at[lane] = scene.whole;
    pass.scene.rest.at[lane] = scene.rest;
  }
  BlockMoment& moment = pass.moment;
  moment.time = instant.now;
  moment.remember = instant.remember;
  moment.tell = instant.tell;
  moment.step = in_seconds(instant.now - last_tick);
  moment.may_rest = instant.remember == Remember::tick && is_sixteenth(instant.now, moment.step);
  moment.sight = this;
  return pass;
}

// --- one behaviour at a moment --------------------------------------------------------------------------------

Probe Player::settle(Index index, Time now) {
  const BehaviourRecord& behaviour = cast_.behaviours[index];
  if (!behaviour.kind->stops_anywhere() || !acts(behaviour)) return probe(index, now);
  return probe(index, now, stands_still(behaviour) ? Remember::standing_still : Remember::now);
}

Probe Player::probe(Index index, Time now, Remember remember) {
  const BehaviourRecord& behaviour = cast_.behaviours[index];
  const BehaviourLocation& location = *behaviour.location;
  const ObjectLocation& object = *cast_.objects[behaviour.object].location;
  const Group& group = layout_.groups[object.group];
  const Index block = object.member / lanes;

  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame = identity;
  if (group.first_child != none) gather_parents(group, block, frame);
  Pass pass = pass_at({.now = now});
  pass.moment.parent = &frame;
  pass.moment.in_world = group.first_child == none;
  const Storey* const storeys = layout_.storeys.data() + group.first_storey;
  Index below = 0;
  while (storeys[below].batch != location.batch || storeys[below].first_block + block != location.block) ++below;
  climb_stack(group, below, block, pose, pass);

  const Pose in = lane_of(pose, location.lane);
  Batch& batch = layout_.batches[location.batch];
  OwnTimes own;
  set_clocks(batch, location.block, pass, own);
  BlockMoment& moment = pass.moment;
  moment.active = acts(behaviour) ? 1U << location.lane : 0U;
  moment.remember = remember;
  batch.column->evaluate(location.block, pose, moment);
  failed_lanes_ = 0;
  Probe found;
  found.given = moment.active != 0 ? lane_of(pose, location.lane) : in;
  found.start = {in, found.given, {now, 0.0, 0.0, lane_of(frame, location.lane), this, {}, index}};
  found.out = moment.active != 0 ? weighted(behaviour, in, found.given, now) : in;
  found.shown = stands_still(behaviour) ? still_pose(behaviour, in) : bridged(behaviour.run, found.out, now);
  return found;
}

// --- sight ---------------------------------------------------------------------------------------------------

Pose Player::world_of(Object object, std::uint32_t reader) const {
  if (!cast_.alive(object)) return {};
  // One that is looked at for the first time is seen as it is now.
  if (cast_.behaviours[reader].common.reads == Reads::last_tick && ticks_.knows(object.index)) {
    const Index at = ticks_.place_of(object.index);
    return shown_ <= ticks_.at ? ticks_.before[at] : ticks_.last[at];
  }
  return layout_.worlds[cast_.slot_of(object.index)];
}

const Pose* Player::place_of(Object object, std::uint32_t reader) const {
  if (!cast_.alive(object) || cast_.behaviours[reader].common.reads != Reads::now) return nullptr;
  return &layout_.worlds[cast_.slot_of(object.index)];
}

void Player::happened(std::uint32_t behaviour, std::string_view name, int number, Time at) const {
  constexpr std::size_t most = 1'000'000;  // in one advance: by then, nobody reads them any more
  if (events_.size() >= most) return;
  const Index object = cast_.behaviours[behaviour].object;
  if (cast_.objects[object].ended) return;
  events_.push({at, name, cast_.handle(object), cast_.behaviour_handle(behaviour), {}, {}, number});
}

/// What fails at a tick is left out until it succeeds at a later one. What fails in a frame leaves no trace but the
/// event: frames must not decide what is shown later.
void Player::failed(std::uint32_t index, const BehaviourFailure& failure) const {
  BehaviourRecord& behaviour = cast_.behaviours[index];
  if (cast_.objects[behaviour.object].ended) return;
  Run& run = behaviour.run;
  if (behaviour.location) {
    const auto bit = static_cast<std::uint8_t>(1U << behaviour.location->lane);
    failed_lanes_ |= bit;
    layout_.batches[behaviour.location->batch].bits[behaviour.location->block].dressed |= bit;
  }
  if (failure.is_at_tick && failure.has_memory && !run.failed) {
    run.failed = true;
    if (failure.last_given) bridge(behaviour, *failure.last_given, failure.in, shown_);
  }
  if (std::exchange(run.failed_at, shown_) != Time::min()) return;  // that has been said
  Event event{
      shown_, "failed", cast_.handle(behaviour.object), cast_.behaviour_handle(index), {}, std::string{failure.why}};
  failure.is_at_tick ? events_.push(std::move(event)) : events_.push_for_program(std::move(event));
}

}  // namespace hushed::inside
