// SPDX-License-Identifier: MIT
// Building a scene, and advancing time through ticks, exact starts and frames.

#include "scene/scene_impl.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <functional>
#include <numeric>

namespace hushed::detail {

namespace {

/// A new number for each content of any registry, which ties a snapshot to one content.
std::uint64_t next_build() {
  static std::atomic<std::uint64_t> last{0};
  return ++last;
}

bool is_given(const Kind& kind, const void* values, std::string_view key) {
  for (const FieldInfo& field : kind.fields())
    if (field.name == key) return field.get(values).has_value();
  return false;
}

}  // namespace

SceneImpl::SceneImpl(double rate)
    : tick_rate{rate},
      flocks_{registry, ticks_},
      nearest_{registry, ticks_},
      evaluator_{registry, layout, ticks_, events, inputs_, flocks_, nearest_},
      rules_{registry, layout, evaluator_, inputs_} {
  if (!(rate >= 1.0 && rate <= 10'000.0))
    throw BadValue{"the tick rate " + as_text(rate) + " is out of range; give a number from 1 to 10000 (per second)."};
  registry.tick_rate = rate;
}

// --- building ----------------------------------------------------------------------------------------------------

Object SceneImpl::add(const NewObject& object) {
  const Object handle = registry.handle(registry.add(object));
  content_changed_ = true;
  return handle;
}

std::shared_ptr<void> SceneImpl::check_new(Index owner, const Kind& kind, const void* values,
                                           const Common& common) const {
  BehaviourRecord draft;
  draft.kind = &kind;
  draft.object = owner;
  draft.common = common;
  auto found = resolved(draft, values);
  // The incoming pose of the lowest behaviour is the rest pose; that of others is known only when playing.
  const bool known = registry.objects[owner].first_behaviour == none;
  check_values(draft, found.get(), known ? &registry.objects[owner].rest : nullptr);
  check_common(draft, common);
  return found;
}

AnyBehaviour SceneImpl::give(Object object, const Kind& kind, const void* values, const Common& wanted) {
  const Index owner = registry.index(object);
  Common common = wanted;
  if (common.name.empty() && kind.is_anonymous()) common.name = registry.free_name(owner, kind);
  const auto found = check_new(owner, kind, values, common);
  const Index index = registry.give(owner, kind, found.get(), common);
  BehaviourRecord& behaviour = registry.behaviours[index];
  const bool may_jump = !evaluator_.starts_without_bridge(behaviour) || !behaviour.dependencies.empty();
  if (common.fade > Time{0} || !common.enabled || may_jump) behaviour.run.transition.make();
  if (common.enabled) wait(index, now, common.delay);
  content_changed_ = true;
  return registry.behaviour_handle(index);
}

void SceneImpl::refuse(const BehaviourRecord& behaviour, const std::string& text) const {
  const std::string_view name =
      behaviour.common.name.empty() ? behaviour.kind->name() : std::string_view{behaviour.common.name};
  throw BadValue{registry.name(behaviour.object) + '.' + std::string{name} + ": " + text};
}

void SceneImpl::check_values(const BehaviourRecord& behaviour, const void* values, const Pose* in) const {
  for (const FieldInfo& field : behaviour.kind->fields()) {
    if (const auto diagnostic = field.check(values))
      refuse(behaviour, std::string{field.name} + ": " + diagnostic->text);
    if (field.required && !field.get(values))
      refuse(behaviour, std::string{field.name} + ": this is missing; give " + field.form.description + ".");
  }
  for (const OneOf& one_of : behaviour.kind->exactly_one())
    if (const auto diagnostic =
            one_of.check([&](std::string_view key) { return is_given(*behaviour.kind, values, key); }))
      refuse(behaviour, diagnostic->sentence());
  if (const auto diagnostic = behaviour.kind->check(values, in)) refuse(behaviour, diagnostic->sentence());
}

std::shared_ptr<void> SceneImpl::resolved(const BehaviourRecord& behaviour, const void* values) const {
  const NamesInScene names{registry, behaviour.object, behaviour.common.reads};
  auto copy = behaviour.kind->make(values);
  for (const FieldInfo& field : behaviour.kind->fields())
    if (const auto diagnostic = field.resolve(copy.get(), names))
      refuse(behaviour, std::string{field.name} + ": " + diagnostic->text);
  return copy;
}

void SceneImpl::check_common(const BehaviourRecord& behaviour, const Common& common) const {
  for (const FieldInfo& field : common_fields())
    if (const auto diagnostic = field.check(&common))
      refuse(behaviour, std::string{field.name} + ": " + diagnostic->text);
}

/// Schedules a start `delay` after `from`, but not before now. A behaviour that starts without a difference and without
/// a delay starts at once.
void SceneImpl::wait(Index index, Time from, Time delay) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  Run& run = behaviour.run;
  run.phase = Run::Phase::waiting;
  run.waits_from = from;
  run.starts_at = std::max(from + delay, now);
  if (behaviour.kind->traits().has_memory && run.starts_at > Time{0})
    run.starts_at = tick_after(run.starts_at - Time{1});
  if (evaluator_.starts_without_bridge(behaviour)) {
    if (delay > Time{0} || behaviour.common.fade > Time{0}) {
      run.transition.make();
      return;
    }
    run.phase = Run::Phase::running;
    run.clock = run.starts_at;
    return;
  }
  run.transition.make();
  due_.push_back({run.starts_at, index});
  std::push_heap(due_.begin(), due_.end(), std::greater{});
}

void SceneImpl::lay_out_again(Index changed) {
  collect_memory(changed);
  lay_out_from_stores();
}

void SceneImpl::lay_out_from_stores() {
  std::vector<Pose> output(registry.objects.size());
  for (Index i = 0; i < output.size(); ++i)
    output[i] = registry.objects[i].location ? layout.worlds[registry.slot_of(i)] : registry.objects[i].base();

  layout = lay_out(registry);
  evaluator_.reserve();
  evaluator_.last_tick = frame_time(ticks_until(now) - (before_tick_ ? 1 : 0), tick_rate);
  remember_tick_objects(output);
  flocks_.plan();
  flocks_.update();
  nearest_.plan();
  update_all_lanes();
  laid_out_ = true;
  poses_are_current_ = false;
}

/// Copies the state in the lanes to the stores, except that of `but`.
void SceneImpl::collect_memory(Index but) {
  for (const Batch& batch : layout.batches)
    for (const Index b : batch.behaviours)
      if (b != none && b != but && registry.behaviours[b].in_use) collect_memory_of(b);
}

void SceneImpl::fill_lane(const BehaviourRecord& behaviour) {
  layout.lane_blocks(*behaviour.location).fill(behaviour.location->block, behaviour.location->lane, behaviour.row);
}

void SceneImpl::collect_memory_of(Index index) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  layout.lane_blocks(*behaviour.location).collect(behaviour.location->block, behaviour.location->lane, behaviour.row);
}

void SceneImpl::update_all_lanes() {
  due_.clear();
  std::size_t observers = 0, emitters = 0;
  for (Index i = 0; i < registry.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = registry.behaviours[i];
    if (!behaviour.location) continue;
    evaluator_.update_lane(i, now);
    if (behaviour.run.phase == Run::Phase::waiting && !evaluator_.starts_without_bridge(behaviour))
      due_.push_back({behaviour.run.starts_at, i});
    if (!behaviour.dependencies.empty()) ++observers;
    if (behaviour.kind->traits().emits_events) ++emitters;
  }
  const std::size_t capacity = events.size() + 2 * observers + 16 * emitters + 16;  // a frame must not allocate
  events.reserve(capacity);
  rules_.reserve(capacity);
  evaluator_.gatherings.reserve(emitters);
  std::make_heap(due_.begin(), due_.end(), std::greater{});
}

/// Objects whose last tick is read for the first time start with their present pose, or with the rest pose at time 0,
/// when there is no other pose yet.
void SceneImpl::remember_tick_objects(const std::vector<Pose>& output) {
  const auto at_rest = [this](Index object) {
    Pose pose = registry.objects[object].base();
    for (Index child = object; registry.objects[child].parent != none; child = registry.objects[child].parent) {
      const Inherit inherit = registry.objects[child].inherit;
      Pose frame = registry.objects[registry.objects[child].parent].base();
      if (!inherit.position) frame.position = Vec3::Zero();
      if (!inherit.rotation) frame.rotation = Quat::Identity();
      if (!inherit.scale) frame.scale = Vec3::Ones();
      pose = compose(frame, pose);
    }
    return pose;
  };
  ticks_.turn_to(evaluator_.last_tick, layout, registry,
                 [&](Index object) { return now == Time{0} ? at_rest(object) : output[object]; });
}

void SceneImpl::settle() {
  const bool built = content_changed_;
  if (built) {
    registry.remove_ended();
    resolve_names();
    build_ = next_build();
    content_changed_ = false;
    laid_out_ = false;
  }
  refresh();
  if (built) {
    states_.clear();
    next_base_.reset();
    commands_.clear();
    states_.push_back(capture_state());
  }
}

/// Within a tick, behaviours that are due start later, with the tick itself.
void SceneImpl::refresh() {
  if (!laid_out_) lay_out_again();
  if (poses_are_current_) return;
  if (!in_tick_) return present({.now = now, .starts = Starts::all});
  evaluator_.evaluate({.now = now});
  poses_are_current_ = true;
}

void SceneImpl::settle_without_ended() {
  settle();
  if (layout.objects.size() == registry.alive_count) return;
  lay_out_again();
  refresh();
}

// --- time --------------------------------------------------------------------------------------------------------

void SceneImpl::refuse_call_of_behaviour() const {
  UserCode& code = evaluator_.user_code;
  if (!code.is_running) return;
  code.called_scene = true;
  throw Error{std::string{UserCode::advice} + '.'};
}

void SceneImpl::advance(Time step, double rest) noexcept {
  if (evaluator_.user_code.is_running) {
    evaluator_.user_code.called_scene = true;
    return;
  }
  if (is_in_callbacks_) {
    events.push({now, "failed", {}, {}, {}, "a callback called advance, which moves nothing there", 0});
    return;
  }
  const double wanted = rest + rounding_;
  const double whole = std::floor(wanted + 0.5);
  rounding_ = wanted - whole;
  play_on(step + Time{static_cast<std::int64_t>(whole)});
  events.mark_delivered();
  if (!listeners_.empty() && muted == 0) call_listeners();
}

void SceneImpl::play_on(Time step) noexcept {
  events.remove_delivered();
  if (step <= Time{0}) return;
  settle();
  advance_until(step < latest - now ? now + step : latest);
  process_events();
  // Events of one moment and behaviour stay in the order in which they were raised.
  events.sort([this](const Event& a, const Event& b) { return comes_before(a, b); });
}

bool SceneImpl::comes_before(const Event& a, const Event& b) const {
  if (a.time != b.time) return a.time < b.time;
  const auto name = [this](Object subject) {
    return subject.generation == 0 ? std::string_view{} : std::string_view{registry.objects[subject.index].name};
  };
  const int by_name = name(a.subject).compare(name(b.subject));
  if (by_name != 0) return by_name < 0;
  return a.behaviour.index < b.behaviour.index;
}

std::string SceneImpl::describe(const Event& event) const {
  const auto name = [this](Object object) {
    const bool known =
        object.index < registry.objects.size() && registry.objects[object.index].generation == object.generation;
    return known ? registry.name(object.index) : std::string{"what has ended"};
  };
  const std::string who =
      registry.alive(event.behaviour) ? registry.path_of(event.behaviour.index) : name(event.subject);
  if (event.name == "reached") return who + " has reached point " + std::to_string(event.number);
  if (event.name == "lost") return who + " has lost " + name(event.other);
  if (event.name == "gathered")
    return name(event.other) + " has gathered " + name(event.subject) + ", the " + std::to_string(event.number) +
           (event.number % 10 == 1 && event.number % 100 != 11   ? "st"
            : event.number % 10 == 2 && event.number % 100 != 12 ? "nd"
            : event.number % 10 == 3 && event.number % 100 != 13 ? "rd"
                                                                 : "th");
  if (event.name == "fired") return "the rule " + std::string{event.rule} + " fires";
  if (event.name == "failed") return (event.subject.generation == 0 ? "" : who + " has failed: ") + event.why;
  return std::string{event.name} + " is raised" + (event.rule.empty() ? "" : " by the rule " + std::string{event.rule});
}

void SceneImpl::present(const EvalRequest& request) noexcept {
  evaluator_.evaluate(request);
  if (request.starts == Starts::all)
    while (!due_.empty() && due_.front().at <= now) take_due();
  if (now == Time{0}) {
    commit_tick_memory(now);
    decide(now);
  }
  poses_are_current_ = true;
}

Index SceneImpl::take_due() noexcept {
  const Index behaviour = due_.front().behaviour;
  std::pop_heap(due_.begin(), due_.end(), std::greater{});
  due_.pop_back();
  return behaviour;
}

/// Executes ticks and exact starts in the order of their times, then evaluates the frame.
void SceneImpl::advance_until(Time target) noexcept {
  if (now == Time{0} && rules_.memory.judged == Time::min()) evaluate_rules(now);
  Time tick = layout.any_ticked ? tick_after(evaluator_.last_tick) : Time::max();
  if (!layout.any_ticked) evaluator_.last_tick = frame_time(ticks_until(target), tick_rate);
  bool after_tick = false;
  while (true) {
    const Time start = due_.empty() ? Time::max() : due_.front().at;
    const Time next = std::min(tick, start);
    if (next > target) break;
    after_tick = tick <= start && next == target;
    if (tick <= start) {
      this->tick(tick);
      tick = tick_after(tick);
    }
    if (start <= next || evaluator_.lag() == Evaluator::most_lag) evaluator_.catch_up();
    while (!due_.empty() && due_.front().at <= next) {
      const BehaviourRecord& behaviour = registry.behaviours[take_due()];
      if (behaviour.run.phase != Run::Phase::waiting || registry.objects[behaviour.object].ended) continue;
      evaluator_.start_with_dependencies(behaviour.object, next);
      after_tick = false;
    }
  }
  evaluator_.catch_up();
  now = target;
  present({.now = now, .scope = after_tick ? Scope::not_at_ticks : Scope::all, .emit_events = true});
}

void SceneImpl::commit_tick_memory(Time at) noexcept { ticks_.commit(at, layout, registry); }

void SceneImpl::decide(Time at) noexcept {
  ticks_.update_presence(registry);
  flocks_.update();
  evaluator_.decide(at);
}

std::int64_t SceneImpl::ticks_until(Time time) const {
  auto number = static_cast<std::int64_t>(std::floor(in_seconds(time) * tick_rate));
  while (frame_time(number + 1, tick_rate) <= time) ++number;
  while (number > 0 && frame_time(number, tick_rate) > time) --number;
  return number;
}

Time SceneImpl::tick_after(Time time) const {
  return time < Time{0} ? Time{0} : frame_time(ticks_until(time) + 1, tick_rate);
}

}  // namespace hushed::detail
