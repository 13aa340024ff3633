// SPDX-License-Identifier: MIT
#include "scene/evaluator.hpp"

#include <algorithm>
#include <cmath>

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"
#include "lanes/memory.hpp"
#include "lanes/pose_blocks.hpp"

namespace hushed::detail {

namespace {

/// The parent pose of objects without a parent. Constant-initialised, so that it exists before any scene.
constexpr PoseBlock identity = [] {
  PoseBlock block{};
  for (int lane = 0; lane < lanes; ++lane) {
    block.rotation[3].at[lane] = 1.0;
    for (Row& scale : block.scale) scale.at[lane] = 1.0;
  }
  return block;
}();

/// Copies these parts (see `part`) of several blocks of poses.
HUSHED_KERNEL void copy_parts(unsigned parts, std::span<const PoseBlock> from, PoseBlock* to) {
  for (const PoseBlock& each : from) {
    // Row by row: of loops, the compiler makes calls of memcpy.
    if ((parts & part::position) != 0) {
      to->position[0] = each.position[0];
      to->position[1] = each.position[1];
      to->position[2] = each.position[2];
    }
    if ((parts & part::rotation) != 0) {
      to->rotation[0] = each.rotation[0];
      to->rotation[1] = each.rotation[1];
      to->rotation[2] = each.rotation[2];
      to->rotation[3] = each.rotation[3];
    }
    if ((parts & part::scale) != 0) {
      to->scale[0] = each.scale[0];
      to->scale[1] = each.scale[1];
      to->scale[2] = each.scale[2];
    }
    ++to;
  }
}

/// True about every sixteenth tick; depends on the time alone.
bool is_sixteenth(Time tick, double step) { return step > 0.0 && std::llround(in_seconds(tick) / step) % 16 == 0; }

int used_lanes(const Group& group, Index block) {
  return static_cast<int>(std::min<Index>(lanes, group.count - block * lanes));
}

}  // namespace

// --- the frame -----------------------------------------------------------------------------------------------

void Evaluator::evaluate(const EvalRequest& request) noexcept {
  ++worlds_edition_;
  Pass pass = pass_at(request);
  for (const Chunk& chunk : layout_.chunks) evaluate_chunk(chunk, pass);
}

void Evaluator::tick(Time at) noexcept {
  const EvalRequest request{
      .now = at, .remember = Remember::tick, .starts = Starts::all, .scope = Scope::at_ticks, .emit_events = true};
  lagging_ticks_[lag_++] = pass_at(request);
  evaluate(request);
  last_tick = at;
}

void Evaluator::decide(Time at) noexcept {
  if (layout_.deciding.empty()) return;
  Pass pass = pass_at({.now = at, .remember = Remember::tick});
  PoseBlock frame;
  for (const Layout::Deciding& each : layout_.deciding) {
    const Group& group = layout_.groups[each.group];
    const StackLevel& stack_level = layout_.stack_levels[each.stack_level];
    Batch& batch = layout_.batches[stack_level.batch];
    const bool has_parent = group.first_child != none;
    pass.context.parent = has_parent ? &frame : &identity;
    pass.context.in_world = !has_parent;
    for (Index block = 0; block < group.blocks(); ++block) {
      const Index place = stack_level.first_block + block;
      if (has_parent) gather_parents(group, block, frame);
      pass.context.active = batch.bits[place].occupied;
      for (int lane = 0; lane < lanes && batch.bits[place].in_transition != 0; ++lane) {
        if ((batch.bits[place].in_transition >> lane & 1U) == 0) continue;
        const Index index = batch.behaviours[std::size_t{place} * lanes + static_cast<std::size_t>(lane)];
        const BehaviourRecord& behaviour = registry_.behaviours[index];
        if (!is_active(behaviour) || is_frozen(behaviour)) pass.context.active &= ~(1U << lane);
      }
      static_cast<AgentBlocks&>(*batch.lane_blocks).decide(place, pass.context);
    }
  }
}

std::vector<UrgeShare> Evaluator::urges(Index index, Time now) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  if (!behaviour.kind->traits().decides || !is_active(behaviour) || is_frozen(behaviour)) return {};
  const ObjectLocation& object = *registry_.objects[behaviour.object].location;
  const Group& group = layout_.groups[object.group];
  PoseBlock frame = identity;
  if (group.first_child != none) gather_parents(group, object.member / lanes, frame);
  Pass pass = pass_at({.now = now});
  pass.context.parent = &frame;
  pass.context.in_world = group.first_child == none;
  const AgentBlocks& blocks = static_cast<const AgentBlocks&>(layout_.lane_blocks(*behaviour.location));
  return blocks.urges(behaviour.location->block, behaviour.location->lane, pass.context);
}

void Evaluator::catch_up() noexcept {
  if (lag_ == 0) return;
  ++worlds_edition_;
  const std::span ticks{lagging_ticks_.data(), lag_};
  const bool can_advance_many = are_alike(ticks);
  for (const Index each : layout_.independent) {
    const Group& group = layout_.groups[each];
    for (Index block = 0; block < group.blocks();) {
      if (can_advance_many && advance_many(group, block, ticks)) {
        ++block;
        continue;
      }
      const Index run = run_length(group, block);
      if (run == 1)
        evaluate_block(group, block, ticks);
      else
        for (Pass& tick : ticks) evaluate_run(group, block, run, tick);
      block += run;
    }
  }
  lag_ = 0;
}

void Evaluator::start_with_dependencies(Index object, Time now) noexcept {
  ++worlds_edition_;
  const EvalRequest request{.now = now, .starts = Starts::start_set};
  collect_dependencies(object);
  // Dependencies have smaller slots. Other objects in the same blocks are evaluated too; the next frame evaluates them
  // again.
  std::sort(start_set_.begin(), start_set_.end(),
            [this](Index a, Index b) { return registry_.slot_of(a) < registry_.slot_of(b); });
  Pass pass = pass_at(request);
  Index last_group = none, last_block = none;
  for (const Index each : start_set_) {
    const ObjectLocation& location = *registry_.objects[each].location;
    const Index block = location.member / lanes;
    if (location.group == last_group && block == last_block) continue;
    last_group = location.group;
    last_block = block;
    if (!layout_.groups[location.group].still) evaluate_block(layout_.groups[location.group], block, pass);
  }
}

void Evaluator::reserve() {
  ++worlds_edition_;  // the layout is new
  start_set_.clear();
  start_set_.reserve(registry_.objects.size());
  start_set_of_.assign(registry_.objects.size(), 0);
  start_set_number_ = 0;
}

void Evaluator::collect_dependencies(Index object) noexcept {
  ++start_set_number_;
  start_set_.clear();
  const auto take = [this](Index each) {
    if (is_in_start_set(each)) return;
    start_set_of_[each] = start_set_number_;
    start_set_.push_back(each);
  };
  take(object);
  for (std::size_t i = 0; i < start_set_.size(); ++i) registry_.for_dependencies(start_set_[i], take);
}

void Evaluator::set_clocks(const Batch& batch, Index block, Pass& pass, OwnTimes& own) const {
  EvalContext& context = pass.context;
  context.whole = &pass.scene.whole;
  context.rest = &pass.scene.rest;
  if (batch.bits[block].on_own_clock == 0) return;

  const Batch::Clocks& clocks = batch.clocks[block];
  const double units = static_cast<double>(context.time.count());
  for (int lane = 0; lane < lanes; ++lane) {
    const OwnTime time = own_time(units * clocks.pace.at[lane] - clocks.zero.at[lane]);
    own.whole.at[lane] = time.whole;
    own.rest.at[lane] = time.rest;
  }
  context.whole = &own.whole;
  context.rest = &own.rest;
}

void Evaluator::evaluate_stack(const Group& group, Index height, Index block, PoseBlock& pose, Pass& pass) noexcept {
  const StackLevel* const stack_levels = layout_.stack_levels.data() + group.first_stack_level;
  OwnTimes own;
  for (Index i = 0; i < height; ++i) {
    Batch& batch = layout_.batches[stack_levels[i].batch];
    const Index place = stack_levels[i].first_block + block;
    if (batch.bits[place].in_transition == 0) {
      set_clocks(batch, place, pass, own);
      pass.context.active = batch.bits[place].occupied;
      batch.lane_blocks->evaluate(place, pose, pass.context);
      if (failed_lanes_ != 0) show_failed(batch, place, pose, pass.request.now);
    } else {
      evaluate_with_transitions(batch, place, pose, pass);
    }
  }
}

bool Evaluator::are_alike(std::span<const Pass> ticks) {
  for (std::size_t i = 0; i + 1 < ticks.size(); ++i) {
    if (ticks[i].context.may_rest) return false;
    if (i > 0 && ticks[i].request.now - ticks[i - 1].request.now != ticks[i + 1].request.now - ticks[i].request.now)
      return false;
  }
  return ticks.size() > 1;
}

bool Evaluator::advance_many(const Group& group, Index block, std::span<Pass> ticks) noexcept {
  const StackLevel& only = layout_.stack_levels[group.first_stack_level];
  Batch& batch = layout_.batches[only.batch];
  const Index place = only.first_block + block;
  if (group.stack_levels != 1 || group.first_child != none || batch.bits[place].in_transition != 0) return false;
  PoseBlock& pose = layout_.worlds[group.first_block + block];
  copy_parts(group.touched, {&layout_.rests[group.first_block + block], 1}, &pose);
  EvalContext& last = ticks.back().context;
  last.active = batch.bits[place].occupied;
  return batch.lane_blocks->advance_many(place, static_cast<int>(ticks.size()), pose, last);
}

void Evaluator::evaluate_chunk(const Chunk& chunk, Pass& pass) noexcept {
  for (Index i = chunk.first_group; i < chunk.first_group + chunk.groups; ++i) {
    const Group& group = layout_.groups[i];
    if (group.still) continue;
    if (pass.request.scope == Scope::at_ticks && (!group.ticked || group.independent)) continue;
    if (pass.request.scope == Scope::not_at_ticks && group.ticked) continue;
    for (Index block = 0; block < group.blocks();) {
      const Index run = run_length(group, block);
      run > 1 ? evaluate_run(group, block, run, pass) : evaluate_block(group, block, pass);
      block += run;
    }
  }
}

Index Evaluator::run_length(const Group& group, Index first) const {
  constexpr Index longest = 8;  // their poses fit in the first-level cache
  if (!group.takes_runs) return 1;
  Index run = std::min(longest, group.blocks() - first);
  const auto shorten = [&run](auto&& is_part) {
    Index count = 0;
    while (count < run && is_part(count)) ++count;
    run = count;
  };
  const StackLevel* const stack_levels = layout_.stack_levels.data() + group.first_stack_level;
  for (Index i = 0; i < group.stack_levels; ++i) {
    const Batch::LaneBits* const bits =
        &layout_.batches[stack_levels[i].batch].bits[stack_levels[i].first_block + first];
    shorten([bits](Index block) { return bits[block].are_plain(); });
  }
  if (group.first_child != none) {
    const Index* const parents = &layout_.parent_blocks[group.first_block + first];
    shorten([parents](Index block) { return parents[block] != none && parents[block] == *parents + block; });
  }
  return std::max<Index>(run, 1);
}

void Evaluator::evaluate_run(const Group& group, Index first, Index count, Pass& pass) noexcept {
  const std::span poses{&layout_.worlds[group.first_block + first], count};
  copy_parts(group.touched, {&layout_.rests[group.first_block + first], count}, poses.data());

  const bool has_parent = group.first_child != none;
  EvalContext& context = pass.context;
  context.parent = has_parent ? &layout_.worlds[layout_.parent_blocks[group.first_block + first]] : &identity;
  context.in_world = !has_parent;
  context.whole = &pass.scene.whole;
  context.rest = &pass.scene.rest;
  context.active = all_lanes;
  evaluated_at_ = pass.request.now;
  const StackLevel* const stack_levels = layout_.stack_levels.data() + group.first_stack_level;
  for (Index i = 0; i < group.stack_levels; ++i)
    layout_.batches[stack_levels[i].batch].lane_blocks->evaluate_run(stack_levels[i].first_block + first, poses,
                                                                     context);
  if (!has_parent) return;
  for (Index i = 0; i < count; ++i) into_world(context.parent[i], poses[i]);
}

void Evaluator::evaluate_block(const Group& group, Index block, std::span<Pass> passes) noexcept {
  const bool has_parent = group.first_child != none;
  const PoseBlock& rest = layout_.rests[group.first_block + block];
  PoseBlock& pose = layout_.worlds[group.first_block + block];
  PoseBlock gathered;
  const PoseBlock& frame = frame_of(group, block, gathered);
  for (Pass& pass : passes) {
    copy_parts(group.touched, {&rest, 1}, &pose);
    evaluated_at_ = pass.request.now;
    pass.context.parent = &frame;
    pass.context.in_world = !has_parent;
    evaluate_stack(group, group.stack_levels, block, pose, pass);
  }
  if (has_parent) into_world(frame, pose);
}

Pose Evaluator::local(Index index, Time now) {
  const ObjectLocation& object = *registry_.objects[index].location;
  const Group& group = layout_.groups[object.group];
  if (group.first_child == none) return layout_.world(object.lane);

  const Index block = object.member / lanes;
  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame;
  gather_parents(group, block, frame);
  Pass pass = pass_at({.now = now});
  pass.context.parent = &frame;
  pass.context.in_world = group.first_child == none;
  evaluate_stack(group, group.stack_levels, block, pose, pass);
  return lane_of(pose, static_cast<int>(object.member % lanes));
}

const PoseBlock& Evaluator::frame_of(const Group& group, Index block, PoseBlock& gathered) const {
  if (group.first_child == none) return identity;
  const Index parent_block = layout_.parent_blocks[group.first_block + block];
  if (parent_block != none) return layout_.worlds[parent_block];
  gather_parents(group, block, gathered);
  return gathered;
}

void Evaluator::gather_parents(const Group& group, Index block, PoseBlock& frame) const {
  const Index* const parents = layout_.parents.data() + group.first_child + std::size_t{block} * lanes;
  const int used = used_lanes(group, block);
  for (int lane = 0; lane < lanes; ++lane) {
    const Index parent = parents[lane < used ? lane : 0];
    store(frame, lane, load<double>(layout_.worlds[parent / lanes], static_cast<int>(parent % lanes)));
  }
  if (!group.inherit.position) std::copy(identity.position, identity.position + 3, frame.position);
  if (!group.inherit.rotation) std::copy(identity.rotation, identity.rotation + 4, frame.rotation);
  if (!group.inherit.scale) std::copy(identity.scale, identity.scale + 3, frame.scale);
}

Evaluator::Pass Evaluator::pass_at(const EvalRequest& request) {
  evaluated_at_ = request.now;
  const OwnTime scene = own_time(static_cast<double>(request.now.count()));
  Pass pass;
  pass.request = request;
  for (int lane = 0; lane < lanes; ++lane) {
    pass.scene.whole.at[lane] = scene.whole;
    pass.scene.rest.at[lane] = scene.rest;
  }
  EvalContext& context = pass.context;
  context.time = request.now;
  context.remember = request.remember;
  context.emit_events = request.emit_events;
  context.step = in_seconds(request.now - last_tick);
  context.may_rest = request.remember == Remember::tick && is_sixteenth(request.now, context.step);
  context.query = this;
  return pass;
}

// --- one behaviour at a moment --------------------------------------------------------------------------------

BehaviourSample Evaluator::advance_and_sample(Index index, Time now) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  if (!behaviour.kind->traits().advances_to_any_time || !is_active(behaviour)) return sample(index, now);
  return sample(index, now, is_frozen(behaviour) ? Remember::standing_still : Remember::now);
}

BehaviourSample Evaluator::sample(Index index, Time now, Remember remember) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourLocation& location = *behaviour.location;
  const ObjectLocation& object = *registry_.objects[behaviour.object].location;
  const Group& group = layout_.groups[object.group];
  const Index block = object.member / lanes;

  PoseBlock pose = layout_.rests[group.first_block + block];
  PoseBlock frame = identity;
  if (group.first_child != none) gather_parents(group, block, frame);
  Pass pass = pass_at({.now = now});
  pass.context.parent = &frame;
  pass.context.in_world = group.first_child == none;
  const StackLevel* const stack_levels = layout_.stack_levels.data() + group.first_stack_level;
  Index below = 0;
  while (stack_levels[below].batch != location.batch || stack_levels[below].first_block + block != location.block)
    ++below;
  evaluate_stack(group, below, block, pose, pass);

  const Pose in = lane_of(pose, location.lane);
  Batch& batch = layout_.batches[location.batch];
  OwnTimes own;
  set_clocks(batch, location.block, pass, own);
  EvalContext& context = pass.context;
  context.active = is_active(behaviour) ? 1U << location.lane : 0U;
  context.remember = remember;
  batch.lane_blocks->evaluate(location.block, pose, context);
  failed_lanes_ = 0;
  BehaviourSample found;
  found.given = context.active != 0 ? lane_of(pose, location.lane) : in;
  found.start = {in, found.given, {now, 0.0, 0.0, lane_of(frame, location.lane), this, {}, index}};
  found.out = context.active != 0 ? weighted(behaviour, in, found.given, now) : in;
  found.output = is_frozen(behaviour) ? frozen_pose(behaviour, in) : bridged(behaviour.run, found.out, now);
  return found;
}

// --- queries -------------------------------------------------------------------------------------------------

Pose Evaluator::world_of(Object object, std::uint32_t reader) const {
  if (!registry_.alive(object)) return {};
  // An object that is read for the first time is read as it is now.
  if (registry_.behaviours[reader].common.reads == Reads::last_tick && ticks_.knows(object.index)) {
    const Index at = ticks_.place_of(object.index);
    return evaluated_at_ <= ticks_.at ? ticks_.before[at] : ticks_.last[at];
  }
  return layout_.world(registry_.lane_of_world(object.index));
}

PoseLane Evaluator::place_of(Object object, std::uint32_t reader) const {
  if (!registry_.alive(object) || registry_.behaviours[reader].common.reads != Reads::now) return {};
  const Index lane = registry_.lane_of_world(object.index);
  return {&layout_.worlds[lane / lanes], static_cast<int>(lane % lanes)};
}

void Evaluator::emit(std::uint32_t behaviour, EventName name, int number, Time at) const {
  constexpr std::size_t most = 1'000'000;  // in one advance; more are dropped
  if (events_.size() >= most) return;
  const Index object = registry_.behaviours[behaviour].object;
  if (registry_.objects[object].ended) return;
  events_.push({at, name.text(), registry_.handle(object), registry_.behaviour_handle(behaviour), {}, {}, number});
}

/// A behaviour that fails at a tick is skipped until it succeeds at a later one. A failure in a frame has no effect but
/// the event: frames must not influence later poses.
void Evaluator::failed(std::uint32_t index, const BehaviourFailure& failure) const {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  if (registry_.objects[behaviour.object].ended) return;
  Run& run = behaviour.run;
  if (behaviour.location) {
    const auto bit = static_cast<std::uint8_t>(1U << behaviour.location->lane);
    failed_lanes_ |= bit;
    layout_.batches[behaviour.location->batch].bits[behaviour.location->block].in_transition |= bit;
  }
  if (failure.is_at_tick && failure.has_memory && !run.failed) {
    run.failed = true;
    if (failure.last_given) bridge(behaviour, *failure.last_given, failure.in, evaluated_at_);
  }
  if (std::exchange(run.failed_at, evaluated_at_) != Time::min()) return;  // it has been reported
  Event event{
      evaluated_at_,           "failed", registry_.handle(behaviour.object), registry_.behaviour_handle(index), {},
      std::string{failure.why}};
  failure.is_at_tick ? events_.push(std::move(event)) : events_.push_for_program(std::move(event));
}

}  // namespace hushed::detail
