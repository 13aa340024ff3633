// Behaviours that wait, start, fade, are weighted, bridged or held: what the player does for the few whose kernel is
// not all there is.

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "stage/player.hpp"

namespace hushed::inside {

namespace {

constexpr Time default_bridge = std::chrono::milliseconds{250};

/// 3x^2 - 2x^3 of how much of `length` has passed.
double smoothstep(Time passed, Time length) {
  if (passed >= length) return 1.0;
  if (passed <= Time{0}) return 0.0;
  const double x = static_cast<double>(passed.count()) / static_cast<double>(length.count());
  return x * x * (3.0 - 2.0 * x);
}

}  // namespace

void Player::climb_dressed(Batch& batch, Index block, PoseBlock& pose, Pass& pass) noexcept {
  BlockMoment& moment = pass.moment;
  const Time now = pass.instant.now;
  const std::uint8_t dressed = batch.bits[block].dressed;
  const PoseBlock in = pose;
  moment.active = batch.bits[block].occupied;
  unsigned started = 0;
  for (int lane = 0; lane < lanes; ++lane) {
    if ((dressed >> lane & 1U) == 0) continue;
    BehaviourRecord& behaviour = cast_.behaviours[batch.behaviours[block * lanes + static_cast<Index>(lane)]];
    if (start_if_due(behaviour, lane_of(in, lane), lane, pass)) started |= 1U << lane;
    if (!acts(behaviour) || stands_still(behaviour)) moment.active &= ~(1U << lane);
  }

  OwnTimes own;
  set_clocks(batch, block, pass, own);
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
      const Pose before = just_started ? bridged(run, came_in, now) : came_in;
      out = weighted(behaviour, came_in, lane_of(pose, lane), now);
      if (just_started) bridge(behaviour, before, out, now);
      out = bridged(run, out, now);
    } else if (!run.failed) {
      out = bridged(run, came_in, now);
    }
    set_lane(pose, lane, only(batch.touches | behaviour.once_touched, out, came_in));
    note(index, now);
  }
}

/// Starts it if it is time; true where the first pose may differ from the one coming in.
bool Player::start_if_due(BehaviourRecord& behaviour, const Pose& in, int lane, const Pass& pass) noexcept {
  const Instant& instant = pass.instant;
  const auto index = static_cast<Index>(&behaviour - cast_.behaviours.data());
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
    const Moment now{instant.now, 0.0, 0.0, lane_of(*pass.moment.parent, lane), this, {}, index};
    cast_.roster(behaviour).begin(behaviour.row, {in, bridged(run, in, instant.now), now});
    layout_.batches[behaviour.batch].column->fill(behaviour.block, behaviour.lane, behaviour.row);
  }
  note(index, instant.now);  // its clock runs now
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
  set(batch.bits[record.block].dressed, is_dressed(record, now));

  const bool halted = record.run.phase == Run::Phase::halted;
  set(batch.bits[record.block].on_own_clock, halted || record.run.clock != Time{0});
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

}  // namespace hushed::inside
