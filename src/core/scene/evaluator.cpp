// SPDX-License-Identifier: MIT
#include "scene/evaluator.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"
#include "lanes/memory.hpp"
#include "lanes/pose_blocks.hpp"
#include "scene/bridge.hpp"

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
void copy_parts(unsigned parts, std::span<const PoseBlock> from, PoseBlock* to) {
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

/// Copies the parts of rest poses that a group of objects whose behaviours are all active depends on.
void take_rests(const Group& group, std::span<const PoseBlock> rests, PoseBlock* to) {
  if (const unsigned needed = group.touched & ~group.overwritten; needed != 0) in_lanes<copy_parts>(needed, rests, to);
}

/// True about every sixteenth tick; depends on the time alone.
bool is_sixteenth(Time tick, double step) { return step > 0.0 && std::llround(in_seconds(tick) / step) % 16 == 0; }

void put_into_world(const Group& group, const PoseBlock& frame, PoseBlock& poses) {
  (group.touched & part::scale) != 0 ? into_world(frame, poses) : place_in_world(frame, poses);
}

int used_lanes(const Group& group, Index block) {
  return static_cast<int>(std::min<Index>(lanes, group.count - block * lanes));
}

}  // namespace

// --- threads ---------------------------------------------------------------------------------------------------

void Evaluator::set_threads(int count) {
  pool_.set_size(count);
  while (workers_.size() < static_cast<std::size_t>(count)) workers_.push_back(std::make_unique<Worker>(data_));
  workers_.resize(static_cast<std::size_t>(count));
}

template <class Body>
void Evaluator::for_each_chunk(Body&& body) noexcept {
  if (pool_.size() == 1) {
    for (const Chunk& chunk : layout_.chunks) body(*workers_.front(), chunk);
    return deliver_reports();
  }
  for (const Layout::Wave& wave : layout_.waves) {
    std::atomic<Index> next{wave.for_caller};
    auto take = [&](int number) noexcept {
      Worker& worker = *workers_[static_cast<std::size_t>(number)];
      const auto evaluate = [&](Index i) { body(worker, layout_.chunks[layout_.chunks_in_waves[wave.first + i]]); };
      for (Index i = 0; i < wave.for_caller && number == 0; ++i) evaluate(i);
      for (Index i = 0; (i = next.fetch_add(1, std::memory_order_relaxed)) < wave.count;) evaluate(i);
    };
    const Index for_others = wave.count - wave.for_caller;
    const bool can_help = for_others > 1 || (for_others == 1 && wave.for_caller > 0);
    can_help ? pool_.run(take) : take(0);
  }
  deliver_reports();
}

void Evaluator::deliver_reports() noexcept {
  for (Reports& reports : reports_) {
    for (Reports::Raised& raised : reports.events) {
      if (events_.size() >= EventQueue::most) break;
      raised.for_rules ? events_.push(std::move(raised.event)) : events_.push_for_program(std::move(raised.event));
    }
    reports.events.clear();
    gatherings.insert(gatherings.end(), reports.gatherings.begin(), reports.gatherings.end());
    reports.gatherings.clear();
  }
}

// --- the frame -----------------------------------------------------------------------------------------------

void Evaluator::evaluate(const EvalRequest& request) noexcept {
  ++worlds_edition_;
  const Pass pass = pass_at(request);
  if (threads() > 1) nearest_.update(request.now <= data_.ticks.at);
  for_each_chunk([&](Worker& worker, const Chunk& chunk) {
    Pass own = pass.by(worker);
    evaluate_chunk(chunk, own);
  });
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
  const Pass pass = pass_at({.now = at, .remember = Remember::tick});
  for_each_chunk([&](Worker& worker, const Chunk& chunk) {
    Pass own = pass.by(worker);
    decide_chunk(chunk, own);
  });
}

void Evaluator::decide_chunk(const Chunk& chunk, Pass& pass) noexcept {
  PoseBlock frame;
  for (Index i = chunk.first_deciding; i < chunk.first_deciding + chunk.deciding; ++i) {
    const Layout::Deciding& each = layout_.deciding[i];
    const Group& group = layout_.groups[each.group];
    const StackLevel& stack_level = layout_.stack_levels[each.stack_level];
    Batch& batch = layout_.batches[stack_level.batch];
    const bool has_parent = group.first_child != none;
    turn_to(group, pass);
    pass.context.parent = has_parent ? &frame : &identity;
    pass.context.in_world = !has_parent;
    for (Index block = 0; block < group.blocks(); ++block) {
      const Index place = stack_level.first_block + block;
      if (has_parent) gather_parents(group, block, frame);
      pass.context.active = all_lanes;
      pass.context.used = batch.bits[place].occupied;
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
  turn_to(group, pass);
  pass.context.parent = &frame;
  pass.context.in_world = group.first_child == none;
  const AgentBlocks& blocks = static_cast<const AgentBlocks&>(layout_.lane_blocks(*behaviour.location));
  return blocks.urges(behaviour.location->block, behaviour.location->lane, pass.context);
}

void Evaluator::catch_up() noexcept {
  if (lag_ == 0) return;
  ++worlds_edition_;
  for_each_chunk([&](Worker& worker, const Chunk& chunk) {
    if (chunk.independent == 0) return;
    std::array<Pass, most_lag> ticks;
    for (std::size_t i = 0; i < lag_; ++i) ticks[i] = lagging_ticks_[i].by(worker);
    catch_up_chunk(chunk, {ticks.data(), lag_});
  });
  lag_ = 0;
}

void Evaluator::catch_up_chunk(const Chunk& chunk, std::span<Pass> ticks) noexcept {
  const bool can_advance_many = are_alike(ticks);
  for (Index i = chunk.first_independent; i < chunk.first_independent + chunk.independent; ++i) {
    const Group& group = layout_.groups[layout_.independent[i]];
    for (Index block = 0; block < group.blocks();) {
      const Index run = run_length(group, block);
      const Index done = can_advance_many && group.advances_many ? advance_many(group, block, run, ticks) : 0;
      if (run - done == 1)
        evaluate_block(group, block + done, ticks);
      else if (done < run)
        for (Pass& tick : ticks) evaluate_run(group, block + done, run - done, tick);
      block += run;
    }
  }
}

void Evaluator::add_to_start_set(Index object) noexcept {
  const auto take = [this](Index each) {
    if (is_in_start_set(each)) return;
    start_set_of_[each] = start_set_number_;
    start_set_.push_back(each);
  };
  std::size_t next = start_set_.size();
  take(object);
  for (; next < start_set_.size(); ++next) registry_.for_dependencies(start_set_[next], take);
}

void Evaluator::evaluate_start_set(Time now) noexcept {
  ++worlds_edition_;
  const EvalRequest request{.now = now, .starts = Starts::start_set};
  // Dependencies stand before. Other objects in the same blocks are evaluated too; the next frame evaluates them
  // again.
  std::sort(start_set_.begin(), start_set_.end(),
            [this](Index a, Index b) { return registry_.lane_of_world(a) < registry_.lane_of_world(b); });
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
  deliver_reports();
  start_set_.clear();
  ++start_set_number_;
}

void Evaluator::reserve() {
  ++worlds_edition_;  // the layout is new
  start_set_.clear();
  start_set_.reserve(registry_.objects.size());
  start_set_of_.assign(registry_.objects.size(), 0);
  start_set_number_ = 1;

  reports_.assign(layout_.chunks.size(), {});
  counts_.assign(layout_.chunks.size(), {});
  all_counts_ = {};
  for (const BehaviourRecord& behaviour : registry_.behaviours)
    if (behaviour.location) count_reports_of(behaviour, 1);
  for (Index chunk = 0; chunk < reports_.size(); ++chunk) reserve_reports(chunk);
}

void Evaluator::add(Index object) {
  ++worlds_edition_;
  if (start_set_of_.size() < registry_.objects.size()) {
    start_set_of_.resize(registry_.objects.capacity(), 0);
    start_set_.reserve(registry_.objects.capacity());
  }
  reports_.resize(layout_.chunks.size());
  counts_.resize(layout_.chunks.size());
  registry_.for_stack(object, [this](Index b) { count_reports_of(registry_.behaviours[b], 1); });
  reserve_reports(layout_.groups[registry_.objects[object].location->group].chunk);
}

void Evaluator::remove(Index object) {
  ++worlds_edition_;
  registry_.for_stack(object, [this](Index b) {
    if (registry_.behaviours[b].location) count_reports_of(registry_.behaviours[b], -1);
  });
}

void Evaluator::count_reports_of(const BehaviourRecord& behaviour, int step) {
  Counts& own = counts_[layout_.groups[registry_.objects[behaviour.object].location->group].chunk];
  for (Counts* const count : {&own, &all_counts_}) {
    if (!behaviour.dependencies.empty()) count->observers += static_cast<std::size_t>(step);
    if (behaviour.kind->traits().emits_events) count->emitters += static_cast<std::size_t>(step);
  }
}

void Evaluator::reserve_reports(Index chunk) {
  const auto reserve = [](auto& reports, std::size_t most) {
    if (reports.capacity() < most) reports.reserve(std::max(most, reports.capacity() * 2));
  };
  reserve(reports_[chunk].events, counts_[chunk].events());
  reserve(reports_[chunk].gatherings, counts_[chunk].emitters);
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
      pass.context.active = all_lanes;
      pass.context.used = batch.bits[place].occupied;
      batch.lane_blocks->evaluate(place, pose, pass.context);
      if (const unsigned failed = pass.worker->take_failed_lanes(); failed != 0)
        show_failed(batch, place, failed, pose, pass.request.now);
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

Index Evaluator::advance_many(const Group& group, Index first, Index count, std::span<Pass> ticks) noexcept {
  const StackLevel& only = layout_.stack_levels[group.first_stack_level];
  Batch& batch = layout_.batches[only.batch];
  const Index place = only.first_block + first;
  if (batch.bits[place].in_transition != 0) return 0;
  const std::span poses{&layout_.worlds[group.first_block + first], count};
  take_rests(group, {&layout_.rests[group.first_block + first], count}, poses.data());
  EvalContext& last = ticks.back().context;
  last.active = last.used = all_lanes;
  return static_cast<Index>(batch.lane_blocks->advance_many(place, static_cast<int>(ticks.size()), poses, last));
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
  take_rests(group, {&layout_.rests[group.first_block + first], count}, poses.data());

  const bool has_parent = group.first_child != none;
  EvalContext& context = pass.context;
  context.parent = has_parent ? &layout_.worlds[layout_.parent_blocks[group.first_block + first]] : &identity;
  context.in_world = !has_parent;
  context.whole = &pass.scene.whole;
  context.rest = &pass.scene.rest;
  context.active = all_lanes;
  turn_to(group, pass);
  const StackLevel* const stack_levels = layout_.stack_levels.data() + group.first_stack_level;
  for (Index i = 0; i < group.stack_levels; ++i) {
    const Batch& batch = layout_.batches[stack_levels[i].batch];
    const Index first_place = stack_levels[i].first_block + first;
    context.used = batch.bits[first_place + count - 1].occupied;
    batch.lane_blocks->evaluate_run(first_place, poses, context);
  }
  if (!has_parent) return;
  for (Index i = 0; i < count; ++i) put_into_world(group, context.parent[i], poses[i]);
}

void Evaluator::evaluate_block(const Group& group, Index block, std::span<Pass> passes) noexcept {
  const bool has_parent = group.first_child != none;
  const PoseBlock& rest = layout_.rests[group.first_block + block];
  PoseBlock& pose = layout_.worlds[group.first_block + block];
  PoseBlock gathered;
  const PoseBlock& frame = frame_of(group, block, gathered);
  for (Pass& pass : passes) {
    in_lanes<copy_parts>(group.touched, std::span{&rest, 1}, &pose);
    turn_to(group, pass);
    pass.context.parent = &frame;
    pass.context.in_world = !has_parent;
    evaluate_stack(group, group.stack_levels, block, pose, pass);
  }
  if (has_parent) put_into_world(group, frame, pose);
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
  turn_to(group, pass);
  pass.context.parent = &frame;
  pass.context.in_world = group.first_child == none;
  evaluate_stack(group, group.stack_levels, block, pose, pass);
  deliver_reports();
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
  Pass pass;
  pass.worker = workers_.front().get();
  pass.request = request;
  pass.last_tick = last_tick;
  set_times(pass, 0);
  EvalContext& context = pass.context;
  context.scene_time = request.now;
  context.remember = request.remember;
  context.emit_events = request.emit_events;
  context.may_rest = request.remember == Remember::tick && is_sixteenth(request.now, context.step);
  context.query = pass.worker;
  return pass;
}

void Evaluator::set_times(Pass& pass, Index clock) const {
  const ObjectClocks& clocks = data_.clocks;
  pass.clock = clock;
  EvalContext& context = pass.context;
  context.time = clocks.own_at(clock, pass.request.now);
  const Time step = context.time - clocks.own_at(clock, pass.last_tick);
  context.step = in_seconds(step);
  context.step_units = in_units(step);
  const double left = 1.0 / registry_.tick_rate - in_seconds(pass.request.now - pass.last_tick);
  context.to_next_tick = std::max(left, 0.0) * clocks.pace(clock);
  const OwnTime time = own_time(static_cast<double>(context.time.count()));
  for (int lane = 0; lane < lanes; ++lane) {
    pass.scene.whole.at[lane] = time.whole;
    pass.scene.rest.at[lane] = time.rest;
  }
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
  turn_to(group, pass);
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
  context.used = all_lanes;
  context.remember = remember;
  batch.lane_blocks->evaluate(location.block, pose, context);
  pass.worker->take_failed_lanes();
  deliver_reports();
  BehaviourSample found;
  found.given = context.active != 0 ? lane_of(pose, location.lane) : in;
  found.start = {
      in,
      found.given,
      {.time = pass.context.time, .parent = lane_of(frame, location.lane), .query = pass.worker, .behaviour = index}};
  found.out = context.active != 0 ? weighted(behaviour, in, found.given, now) : in;
  found.output = is_frozen(behaviour) ? frozen_pose(behaviour, in) : bridged(behaviour.run, found.out, now);
  return found;
}

}  // namespace hushed::detail
