#include "stage/player.hpp"

#include <algorithm>

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"

namespace hushed::inside {

namespace {

constexpr Time default_bridge = std::chrono::milliseconds{250};

/// No parent at all. Made by the compiler, so that it is there before any scene.
constexpr PoseBlock identity = [] {
  PoseBlock block{};
  for (int lane = 0; lane < lanes; ++lane) {
    block.rotation[3].at[lane] = 1.0;
    for (Row& scale : block.scale) scale.at[lane] = 1.0;
  }
  return block;
}();

/// 3x^2 - 2x^3 of how much of `length` has passed.
double smoothstep(Time passed, Time length) {
  if (passed >= length) return 1.0;
  if (passed <= Time{0}) return 0.0;
  const double x = static_cast<double>(passed.count()) / static_cast<double>(length.count());
  return x * x * (3.0 - 2.0 * x);
}

/// The local poses in `pose` become world poses.
HUSHED_KERNEL void compose_block(const PoseBlock& frame, PoseBlock& pose) {
  for_each_lane([&](int lane) { store(pose, lane, compose(load<Real>(frame, lane), load<Real>(pose, lane))); });
}

HUSHED_KERNEL void copy_block(const PoseBlock& from, PoseBlock& to) {
  for_each_lane([&](int lane) { store(to, lane, load<Real>(from, lane)); });
}

void store_pose(Pose& to, const PoseBlock& from, int lane) {
  to.position = {from.position[0].at[lane], from.position[1].at[lane], from.position[2].at[lane]};
  to.rotation.coeffs() = {from.rotation[0].at[lane], from.rotation[1].at[lane], from.rotation[2].at[lane],
                          from.rotation[3].at[lane]};
  to.scale = {from.scale[0].at[lane], from.scale[1].at[lane], from.scale[2].at[lane]};
}

int used_lanes(const Group& group, Index block) {
  return static_cast<int>(std::min<Index>(lanes, group.count - block * lanes));
}

}  // namespace

// --- the frame -----------------------------------------------------------------------------------------------

void Player::play(const Instant& instant) noexcept {
  BlockMoment moment = moment_at(instant);
  for (const Chunk& chunk : layout_.chunks) play_chunk(chunk, instant, moment);
}

void Player::start_around(Index object, Time now) noexcept {
  const Instant instant{.now = now, .begin = true, .around = true};
  gather_dependencies(object);
  // What an object depends on stands at an earlier slot than itself. The others in a block come along: what they
  // show is of no use now, and is shown anew with the next frame.
  std::sort(gathered_.begin(), gathered_.end(),
            [this](Index a, Index b) { return cast_.objects[a].slot < cast_.objects[b].slot; });
  BlockMoment moment = moment_at(instant);
  Index last_group = none, last_block = none;
  for (const Index each : gathered_) {
    const ObjectRecord& record = cast_.objects[each];
    const Index block = record.member / lanes;
    if (record.group == last_group && block == last_block) continue;
    last_group = record.group;
    last_block = block;
    if (!layout_.groups[record.group].still) play_block(layout_.groups[record.group], block, instant, moment);
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
  for (std::size_t i = 0; i < gathered_.size(); ++i) {
    const ObjectRecord& record = cast_.objects[gathered_[i]];
    if (record.parent != none) take(record.parent);
    cast_.for_stack(gathered_[i], [&](Index b) {
      if (cast_.behaviours[b].common.reads != Reads::now) return;
      for (const Object& target : cast_.behaviours[b].looks_at)
        if (cast_.alive(target)) take(target.index);
    });
  }
}

void Player::play_chunk(const Chunk& chunk, const Instant& instant, BlockMoment& moment) noexcept {
  for (Index i = chunk.first_group; i < chunk.first_group + chunk.groups; ++i) {
    const Group& group = layout_.groups[i];
    if (group.still) continue;
    if (instant.ticked_only && !group.ticked) continue;
    for (Index block = 0; block < group.blocks(); ++block) play_block(group, block, instant, moment);
  }
}

/// Eight objects: rest pose, up the stack, into the world.
void Player::play_block(const Group& group, Index block, const Instant& instant, BlockMoment& moment) noexcept {
  const bool has_parent = group.first_child != none;
  const PoseBlock& rest = layout_.rests[group.first_block + block];
  PoseBlock pose;
  copy_block(rest, pose);
  PoseBlock frame;
  if (has_parent) gather_parents(group, block, frame);
  moment.parent = has_parent ? &frame : &identity;

  for (Index i = 0; i < group.storeys; ++i) {
    const Storey& storey = layout_.storeys[group.first_storey + i];
    climb(layout_.batches[storey.batch], storey.first_block + block, pose, moment, instant);
  }

  if (has_parent) compose_block(frame, pose);
  Pose* const worlds = layout_.worlds.data() + group.first_slot + block * lanes;
  const int used = used_lanes(group, block);
  for (int lane = 0; lane < used; ++lane) store_pose(worlds[lane], pose, lane);
}

Pose Player::local(Index index, Time now) {
  const ObjectRecord& object = cast_.objects[index];
  const Group& group = layout_.groups[object.group];
  if (group.first_child == none) return layout_.worlds[object.slot];

  const Index block = object.member / lanes;
  const Instant instant{.now = now};
  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame;
  gather_parents(group, block, frame);
  BlockMoment moment = moment_at(instant);
  moment.parent = &frame;
  for (Index i = 0; i < group.storeys; ++i) {
    const Storey& storey = layout_.storeys[group.first_storey + i];
    climb(layout_.batches[storey.batch], storey.first_block + block, pose, moment, instant);
  }
  return lane_of(pose, static_cast<int>(object.member % lanes));
}

void Player::gather_parents(const Group& group, Index block, PoseBlock& frame) const {
  const Index* const parents = layout_.parents.data() + group.first_child + block * lanes;
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

BlockMoment Player::moment_at(const Instant& instant) {
  shown_ = instant.now;
  const OwnTime scene = own_time(static_cast<double>(instant.now.count()));
  for (int lane = 0; lane < lanes; ++lane) {
    scene_time_.whole.at[lane] = scene.whole;
    scene_time_.rest.at[lane] = scene.rest;
  }
  BlockMoment moment;
  moment.time = instant.now;
  moment.commit = instant.commit;
  moment.step = in_seconds(instant.now - last_tick);
  moment.sight = this;
  return moment;
}

void Player::set_clocks(const Batch& batch, Index block, BlockMoment& moment, OwnTimes& own) const {
  moment.whole = &scene_time_.whole;
  moment.rest = &scene_time_.rest;
  if (batch.on_own_clock[block] == 0) return;

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

void Player::climb(Batch& batch, Index block, PoseBlock& pose, BlockMoment& moment, const Instant& instant) noexcept {
  if (batch.dressed[block] != 0) return climb_dressed(batch, block, pose, moment, instant);
  OwnTimes own;
  set_clocks(batch, block, moment, own);
  moment.active = batch.occupied[block];
  batch.column->evaluate(block, pose, moment);
}

// --- behaviours that start, fade, are bridged or held ----------------------------------------------------------

void Player::climb_dressed(Batch& batch, Index block, PoseBlock& pose, BlockMoment& moment,
                           const Instant& instant) noexcept {
  const std::uint8_t dressed = batch.dressed[block];
  const PoseBlock in = pose;
  moment.active = batch.occupied[block];
  unsigned started = 0;
  for (int lane = 0; lane < lanes; ++lane) {
    if ((dressed >> lane & 1U) == 0) continue;
    BehaviourRecord& behaviour = cast_.behaviours[batch.behaviours[block * lanes + static_cast<Index>(lane)]];
    if (start_if_due(behaviour, lane_of(in, lane), lane, moment, instant)) started |= 1U << lane;
    if (!acts(behaviour) || stands_still(behaviour)) moment.active &= ~(1U << lane);
  }

  OwnTimes own;
  set_clocks(batch, block, moment, own);
  batch.column->evaluate(block, pose, moment);

  for (int lane = 0; lane < lanes; ++lane) {
    if ((dressed >> lane & 1U) == 0) continue;
    const Index index = batch.behaviours[block * lanes + static_cast<Index>(lane)];
    BehaviourRecord& behaviour = cast_.behaviours[index];
    Run& run = behaviour.run;
    const Pose came_in = lane_of(in, lane);
    const bool just_started = (started >> lane & 1U) != 0;
    Pose out = came_in;
    if (stands_still(behaviour)) {
      out = asides_[run.aside].held;
    } else if (acts(behaviour)) {
      const Pose before = just_started ? bridged(run, came_in, instant.now) : came_in;
      out = weighted(behaviour, came_in, lane_of(pose, lane), instant.now);
      if (just_started) bridge(behaviour, before, out, instant.now);
      out = bridged(run, out, instant.now);
    } else if (!run.failed) {
      out = bridged(run, came_in, instant.now);
    }
    set_lane(pose, lane, out);
    note(index, instant.now);
  }
}

/// Starts it if it is time; true where the first pose may differ from the one coming in.
bool Player::start_if_due(BehaviourRecord& behaviour, const Pose& in, int lane, const BlockMoment& moment,
                          const Instant& instant) noexcept {
  Run& run = behaviour.run;
  if (run.phase != Run::Phase::waiting || run.starts_at > instant.now) return false;
  if (!starts_quietly(behaviour) && (!instant.begin || (instant.around && !is_gathered(behaviour.object))))
    return false;
  if (waits_for_lost(behaviour, instant.now)) return false;

  run.phase = Run::Phase::running;
  run.clock = run.starts_at;
  if (behaviour.common.fade > Time{0}) {
    Aside& fading = asides_[run.aside];
    fading.level_from = 0.0;
    fading.level_to = 1.0;
    fading.level_since = run.starts_at;
    fading.level_length = behaviour.common.fade;
  }
  if (instant.begin && !starts_quietly(behaviour)) {
    Moment now{instant.now, 0.0, 0.0, lane_of(*moment.parent, lane), this, {}, 0};
    cast_.roster(behaviour).begin(behaviour.row, {in, now});
    layout_.batches[behaviour.batch].column->fill(behaviour.block, behaviour.lane, behaviour.row);
  }
  note(static_cast<Index>(&behaviour - cast_.behaviours.data()), instant.now);  // its clock runs now
  return !starts_quietly(behaviour);
}

/// What would start while something it looks at is lost waits until that is found.
bool Player::waits_for_lost(BehaviourRecord& behaviour, Time now) noexcept {
  if (behaviour.looks_at.empty()) return false;
  const Object lost = cast_.lost_one(behaviour);
  if (lost.generation == 0) return false;
  behaviour.run.starts_at = when_found;
  const auto index = static_cast<Index>(&behaviour - cast_.behaviours.data());
  events_.push_back({now, "lost", cast_.handle(behaviour.object), cast_.behaviour_handle(index), lost});
  return true;
}

bool Player::starts_quietly(const BehaviourRecord& behaviour) const {
  return !behaviour.kind->needs_start(cast_.roster(behaviour).values(behaviour.row));
}

Pose Player::weighted(const BehaviourRecord& behaviour, const Pose& in, const Pose& given, Time now) const {
  return mix(in, given, behaviour.common.weight * level(behaviour.run, now));
}

double Player::level(const Run& run, Time now) const {
  if (run.aside == none) return 1.0;
  const Aside& fading = asides_[run.aside];
  const double done = smoothstep(now - fading.level_since, fading.level_length);
  if (done == 1.0) return fading.level_to;
  return fading.level_from + (fading.level_to - fading.level_from) * done;
}

void Player::bridge(BehaviourRecord& behaviour, const Pose& shown, const Pose& out, Time now) {
  if (now == Time{0}) return;
  Aside& over = aside(behaviour.run);
  over.position = shown.position - out.position;
  over.scale = shown.scale - out.scale;
  over.rotation = rotation_vector(vector(numbers(shown.rotation) * inverse(numbers(out.rotation))));
  over.bridge_since = now;
  const bool lands_there = over.position.isZero(0.0) && over.scale.isZero(0.0) && over.rotation.isZero(0.0);
  over.bridge_length = lands_there ? Time{0} : behaviour.common.fade > Time{0} ? behaviour.common.fade : default_bridge;
}

Pose Player::bridged(const Run& run, const Pose& out, Time now) const {
  if (run.aside == none) return out;
  const Aside& over = asides_[run.aside];
  if (now >= over.bridge_since + over.bridge_length) return out;
  const double left = 1.0 - smoothstep(now - over.bridge_since, over.bridge_length);
  const auto turn = numbers(rotation(vector(numbers(over.rotation) * left)));
  return {vector(numbers(out.position) + numbers(over.position) * left),
          vector(near_unit(turn * numbers(out.rotation))), vector(numbers(out.scale) + numbers(over.scale) * left)};
}

/// It gives what it last gave: a target is lost, or it was stopped and has memory, which must not move on.
bool Player::stands_still(const BehaviourRecord& behaviour) const {
  return behaviour.run.holding || (behaviour.run.phase == Run::Phase::halted && behaviour.kind->has_memory());
}

bool Player::acts(const BehaviourRecord& behaviour) const {
  const Run& run = behaviour.run;
  return (run.phase == Run::Phase::running || run.phase == Run::Phase::halted) && !run.failed;
}

bool Player::is_dressed(const BehaviourRecord& behaviour, Time now) const {
  const Run& run = behaviour.run;
  if (!acts(behaviour) || stands_still(behaviour)) return true;
  if (behaviour.common.weight != 1.0) return true;
  if (run.aside == none) return false;
  const Aside& aside = asides_[run.aside];
  return now < aside.bridge_since + aside.bridge_length || now < aside.level_since + aside.level_length ||
         aside.level_to != 1.0;
}

OwnTime Player::own_time_of(const Run& run, Time now) const {
  return own_time(static_cast<double>((run.phase == Run::Phase::halted ? run.clock : now - run.clock).count()));
}

void Player::note(Index behaviour, Time now) {
  const BehaviourRecord& record = cast_.behaviours[behaviour];
  if (record.batch == none) return;
  Batch& batch = layout_.batches[record.batch];
  const auto bit = static_cast<std::uint8_t>(1U << record.lane);
  const auto set = [bit](std::uint8_t& bits, bool on) {
    bits = static_cast<std::uint8_t>(on ? bits | bit : bits & ~bit);
  };
  set(batch.dressed[record.block], is_dressed(record, now));

  const bool halted = record.run.phase == Run::Phase::halted;
  set(batch.on_own_clock[record.block], halted || record.run.clock != Time{0});
  const double clock = static_cast<double>(record.run.clock.count());
  batch.clocks[record.block].pace.at[record.lane] = halted ? 0.0 : 1.0;
  batch.clocks[record.block].zero.at[record.lane] = halted ? -clock : clock;
}

Aside& Player::aside(Run& run) {
  if (run.aside == none) {
    run.aside = static_cast<Index>(asides_.size());
    asides_.emplace_back();
  }
  return asides_[run.aside];
}

Probe Player::probe(Index index, Time now) {
  const BehaviourRecord& behaviour = cast_.behaviours[index];
  const ObjectRecord& object = cast_.objects[behaviour.object];
  const Group& group = layout_.groups[object.group];
  const Index block = object.member / lanes;
  const Instant instant{.now = now};

  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame = identity;
  if (group.first_child != none) gather_parents(group, block, frame);
  BlockMoment moment = moment_at(instant);
  moment.parent = &frame;
  for (Index i = 0;; ++i) {
    const Storey& storey = layout_.storeys[group.first_storey + i];
    Batch& batch = layout_.batches[storey.batch];
    const Pose in = lane_of(pose, behaviour.lane);
    const bool is_it = storey.batch == behaviour.batch && storey.first_block + block == behaviour.block;
    if (is_it) {
      PoseBlock bare = pose;
      OwnTimes own;
      set_clocks(batch, behaviour.block, moment, own);
      moment.active = acts(behaviour) ? 1U << behaviour.lane : 0U;
      batch.column->evaluate(behaviour.block, bare, moment);
      Probe found;
      found.start = {in, {now, 0.0, 0.0, lane_of(frame, behaviour.lane), this, {}, 0}};
      found.given = moment.active != 0 ? lane_of(bare, behaviour.lane) : in;
      found.out = moment.active != 0 ? weighted(behaviour, in, found.given, now) : in;
      found.shown =
          stands_still(behaviour) ? asides_[behaviour.run.aside].held : bridged(behaviour.run, found.out, now);
      return found;
    }
    climb(batch, storey.first_block + block, pose, moment, instant);
  }
}

// --- sight ---------------------------------------------------------------------------------------------------

Pose Player::world_of(Object object, std::uint32_t reader) const {
  if (!cast_.alive(object)) return {};
  if (cast_.behaviours[reader].common.reads == Reads::last_tick) {
    const auto found = std::lower_bound(ticks_.objects.begin(), ticks_.objects.end(), object.index);
    const auto at = static_cast<std::size_t>(found - ticks_.objects.begin());
    return shown_ <= ticks_.at ? ticks_.before[at] : ticks_.last[at];
  }
  return layout_.worlds[cast_.objects[object.index].slot];
}

void Player::failed(std::uint32_t behaviour, std::string_view why) const {
  BehaviourRecord& record = cast_.behaviours[behaviour];
  if (record.run.failed) return;
  record.run.failed = true;
  layout_.batches[record.batch].dressed[record.block] |= static_cast<std::uint8_t>(1U << record.lane);
  events_.push_back(
      {shown_, "failed", cast_.handle(record.object), cast_.behaviour_handle(behaviour), {}, std::string{why}});
}

}  // namespace hushed::inside
