// SPDX-License-Identifier: MIT
#include "scene/scene_impl.hpp"

#include <algorithm>

#include <hushed/behaviour/fed.hpp>

#include "scene/checks.hpp"
#include "scene/event_text.hpp"
#include "scene/hot_reload.hpp"
#include "scene/pose_check.hpp"

namespace hushed::detail {

SceneImpl::SceneImpl(double tick_rate)
    : core_{tick_rate},
      commands_{core_},
      values_{core_, commands_},
      rule_actions_{core_, commands_, values_},
      stepper_{core_, commands_, rule_actions_},
      presets_{core_, values_, log_},
      history_{core_, commands_, rule_actions_, presets_, stepper_, log_} {}

SceneImpl::SceneImpl(double tick_rate, const SceneImpl& like) : SceneImpl{tick_rate} {
  core_.registry.reuse_handles_of(like.core_.registry);
}

// --- building --------------------------------------------------------------------------------------------------------

Object SceneImpl::add(const NewObject& object) {
  NewObject in_own_coordinates = object;
  if (!object.parent) in_own_coordinates.rest = from_world(object.rest);
  const Index added = core_.registry.add(in_own_coordinates);
  change_content_of(added);
  return core_.registry.handle(added);
}

AnyBehaviour SceneImpl::give(Object object, const Kind& kind, const void* values, const Common& common) {
  const Index index = core_.registry.index(object), given = core_.give(index, kind, values, common);
  core_.take_out(index);
  change_content_of(index);
  return core_.registry.behaviour_handle(given);
}

void SceneImpl::add_to_preset(std::string_view preset, const Kind& kind, const void* values, const Common& common) {
  presets_.add(preset, kind, values, common);
}

void SceneImpl::use(Object object, std::string_view preset, std::span<const OwnValue> own) {
  const Index index = core_.registry.index(object);
  presets_.use(index, preset, own);
  core_.take_out(index);
  change_content_of(index);
}

void SceneImpl::add_rule(Rule rule) {
  core_.rules.add(std::move(rule));
  core_.invalidate_layout();  // ticks may matter to more objects
  content_changed_ = true;
}

// --- changing objects ------------------------------------------------------------------------------------------------

void SceneImpl::change_content_of(Index object) {
  changed_objects_.push_back(object);
  content_changed_ = true;
}

void SceneImpl::remove(Index behaviour) {
  settle();
  const Index object = core_.registry.behaviours[behaviour].object;
  const Pose before = core_.evaluator.local(object, core_.clock.now);
  const unsigned touched = core_.batch_of(core_.registry.behaviours[behaviour]).touches |
                           core_.registry.behaviours[behaviour].run.once_touched;
  core_.remove(behaviour);
  change_content_of(object);
  bridge_object(object, before, touched);
}

void SceneImpl::bridge_object(Index object, const Pose& from, unsigned parts) {
  const Index top = core_.registry.objects[object].last_behaviour;
  if (top == none) return;
  BehaviourRecord& behaviour = core_.registry.behaviours[top];
  behaviour.run.once_touched |= parts;
  settle();
  if (core_.evaluator.is_frozen(behaviour))
    core_.evaluator.hold(behaviour, core_.evaluator.sample(top, core_.clock.now).start.in, from);
  else
    commands_.bridge_over(top, from);
  evaluate_later(object);  // and the past begins after this
}

void SceneImpl::evaluate_later(Index object) {
  if (core_.has_readers(object)) core_.invalidate_poses();
  change_content_of(object);
}

void SceneImpl::set_rest(Index object, const Pose& rest) {
  const Pose pose = from_space_of(core_.registry.objects[object].parent,
                                  checked(rest, "the rest pose", [&] { return core_.registry.name(object); }));
  core_.registry.remember_base(object);
  core_.registry.objects[object].rest = pose;
  commands_.update_base(object);
  evaluate_later(object);
}

void SceneImpl::set_parent(Index object, Index parent, KeepPose keep) {
  settle();
  ObjectRecord& record = core_.registry.objects[object];
  if (record.parent == parent) return;
  const Pose world = core_.layout.world(core_.registry.lane_of_world(object));
  const Pose old_frame = core_.inherited_frame(object);
  core_.registry.remember_base(object);
  core_.registry.set_parent(object, parent);
  const Index clock_of_parent = parent == none ? 0 : core_.registry.objects[parent].clock;
  if (record.clock != clock_of_parent) core_.clocks.make_own(core_.registry, object);  // its time does not jump
  core_.take_out(object);
  const Pose frame = core_.inherited_frame(object);
  if (keep == KeepPose::world) {
    record.rest = into(frame, compose(old_frame, core_.registry.base(object)));
    core_.registry.presences[object].placed = none;
  }
  change_content_of(object);
  commands_.update_hidden_below(object);
  if (keep == KeepPose::world) bridge_object(object, into(frame, world), part::all);
}

void SceneImpl::set_tags(Index object, std::vector<std::string> tags) {
  settle();
  // Behaviours that read the object are advanced to the present first, so that nothing jumps.
  const auto advance = [this](Index behaviour) {
    const BehaviourRecord& reader = core_.registry.behaviours[behaviour];
    const bool is_laid_out = reader.location && core_.registry.objects[reader.object].location;
    if (is_laid_out) core_.evaluator.advance_and_sample(behaviour, core_.clock.now);
  };
  core_.layout.for_readers_of_lists(core_.registry, object, advance);
  core_.registry.remember_base(object);
  core_.registry.set_tags(object, std::move(tags));
  core_.take_out(object);
  change_content_of(object);
}

// --- the origin of the world -----------------------------------------------------------------------------------------

void SceneImpl::shift_origin(const Vec3& by) {
  const Vec3 origin = origin_ + by;
  if (!near_enough(by) || !near_enough(origin))
    throw BadValue{"the origin would be at a place that is not finite or beyond 1e9 m; give numbers from -1e9 to 1e9."};
  origin_ = origin;
  world_poses_edition_ = 0;
}

Pose SceneImpl::to_world(Pose own) const {
  if (!origin_.isZero(0.0)) own.position -= origin_;
  return own;
}

Pose SceneImpl::from_world(Pose world) const {
  if (!origin_.isZero(0.0)) world.position += origin_;
  return world;
}

// --- reading ---------------------------------------------------------------------------------------------------------

void SceneImpl::settle() {
  if (!content_changed_) return core_.refresh();
  core_.remove_ended();
  rule_actions_.resolve_names();
  core_.resolve_tags();
  core_.add_to_layout(changed_objects_);
  changed_objects_.clear();
  content_changed_ = false;
  core_.refresh();
  core_.update_paces();
  history_.restart();
}

void SceneImpl::settle_without_ended() {
  settle();
  core_.leave_out_ended();
  core_.refresh();
}

std::span<const Pose> SceneImpl::world_poses() {
  settle_without_ended();
  if (world_poses_edition_ == core_.evaluator.worlds_edition()) return world_poses_;
  world_poses_.clear();
  world_poses_.reserve(core_.layout.count);
  core_.layout.for_worlds([this](const Pose& pose) { world_poses_.push_back(to_world(pose)); });
  world_poses_edition_ = core_.evaluator.worlds_edition();
  return world_poses_;
}

Pose SceneImpl::local(Index object) {
  settle();
  return core_.evaluator.local(object, core_.clock.now);
}

std::vector<UrgeShare> SceneImpl::urges(Index behaviour) {
  settle();
  return core_.evaluator.urges(behaviour, core_.clock.now);
}

std::optional<Value> SceneImpl::get(std::string_view path) { return presets_.get(path); }

// --- playing ---------------------------------------------------------------------------------------------------------

void SceneImpl::advance(Time step, double rest) noexcept {
  if (UserCall::refuses(&core_.registry)) return;
  if (callbacks.are_running()) {
    core_.events.push({core_.clock.now,
                       "failed",
                       {},
                       {},
                       {},
                       "a callback called Scene::advance; it was ignored, because the scene is between two frames",
                       0});
    return;
  }
  play_on(core_.clock.rounded_step(step, rest));
  core_.events.mark_delivered();
  callbacks.call(core_.events, core_.clock.now);
}

void SceneImpl::set_threads(int count) {
  if (count < 1 || count > ThreadPool::most)
    throw BadValue{"the number of threads is " + std::to_string(count) + "; give one from 1 to " +
                   std::to_string(ThreadPool::most) + '.'};
  if (count > 1 && !ThreadPool::is_available())
    throw BadValue{"the library was built without threads; build it with the option HUSHED_THREADS, or give 1."};
  if (count == threads()) return;
  settle();
  core_.evaluator.set_threads(count);
  core_.invalidate_layout();  // the size of chunks depends on it
}

void SceneImpl::play_on(Time step) noexcept {
  core_.events.remove_delivered();
  if (step <= Time{0}) return;
  settle();
  history_.begin_past();
  const Time now = core_.clock.now, end = step < latest - now ? now + step : latest;
  core_.feeds.begin_step(now, end);
  stepper_.advance_to(end);
  core_.pass_events_to_rules();
  // Events of one moment and behaviour stay in the order in which they were raised.
  core_.events.sort([this](const Event& a, const Event& b) { return comes_before(core_.registry, a, b); });
}

void SceneImpl::seek(Time time) {
  settle();
  history_.seek(time);
}

std::shared_ptr<const SnapshotData> SceneImpl::snapshot() {
  settle();
  return history_.snapshot();
}

std::shared_ptr<const SnapshotData> SceneImpl::snapshot_from(std::span<const std::byte> bytes) {
  settle();
  return history_.snapshot_from(bytes);
}

void SceneImpl::restore(const SnapshotData& snapshot, std::optional<Time> fed_until) {
  settle();
  history_.restore(snapshot, fed_until);
}

void SceneImpl::take_content(const SnapshotData& snapshot) {
  settle();
  history_.take_content(snapshot);
}

// --- commands and input ----------------------------------------------------------------------------------------------

void SceneImpl::command(Action::Verb verb, Index target) {
  settle();
  history_.execute({.verb = verb, .target = target});
}

void SceneImpl::kick(Index index, const Vec3& by) {
  settle();
  const BehaviourRecord& behaviour = core_.registry.behaviours[index];
  if (!behaviour.kind->traits().has_velocity)
    refuse(core_.registry, behaviour, "it has no velocity; only springs and agents can be kicked.");
  if (!(by.cwiseAbs().maxCoeff() <= 1e9))
    refuse(core_.registry, behaviour, "the kick is not finite or beyond 1e9; give numbers from -1e9 to 1e9.");
  history_.execute({.verb = Action::Verb::kick, .target = index, .by = by});
}

void SceneImpl::place(Index object, std::string_view pose) {
  settle();
  const auto& poses = core_.registry.objects[object].poses;
  const auto found = std::find_if(poses.begin(), poses.end(), [&](const PoseParts& each) { return each.name == pose; });
  if (found == poses.end()) {
    std::vector<std::string_view> names;
    for (const PoseParts& each : poses) names.push_back(each.name);
    throw BadValue{core_.registry.name(object) + " has no pose called " + in_quotes(pose) + suggestion(pose, names)};
  }
  history_.execute({.verb = Action::Verb::place, .target = object, .pose = static_cast<Index>(found - poses.begin())});
}

Index SceneImpl::fed_behaviour(Index object) const {
  Index found = none;
  core_.registry.for_stack(object, [&](Index b) {
    if (core_.registry.behaviours[b].kind == &kind_of<Fed>()) found = b;
  });
  if (found == none)
    throw BadValue{core_.registry.name(object) +
                   " takes no poses; give it the behaviour Fed, or write `fed = true` for it in its file."};
  return found;
}

Pose SceneImpl::fed_pose(Index object, const Pose& given) const {
  Pose pose = checked(given, "the fed pose", [&] { return core_.registry.name(object); });
  if (origin_.isZero(0.0)) return pose;
  const BehaviourRecord& behaviour = core_.registry.behaviours[fed_behaviour(object)];
  const auto& fed = *static_cast<const Fed*>(core_.registry.store(behaviour).values(behaviour.row));
  return fed.space == Space::world ? from_world(pose) : from_space_of(core_.registry.objects[object].parent, pose);
}

void SceneImpl::feed(Index index, const Pose& pose, std::optional<Time> at) {
  settle();
  const Object object = core_.registry.handle(index);
  const Time now = core_.clock.now;
  if (!core_.feeds.knows(object)) {
    const Index behaviour = fed_behaviour(index);
    const Start start = core_.evaluator.sample(behaviour, now).start;
    const BehaviourRecord& record = core_.registry.behaviours[behaviour];
    const auto& fed = *static_cast<const Fed*>(core_.registry.store(record).values(record.row));
    const bool is_in_world = fed.space == Space::world;
    core_.feeds.set_out(object, is_in_world ? compose(start.moment.parent, start.in) : start.in, now, at.has_value());
  }
  if (at && (*at <= now || *at <= core_.feeds.last(object) || *at > latest))
    throw BadValue{core_.registry.name(index) + ": the time of the fed pose is " + as_text(in_seconds(*at)) +
                   " s; give one after the present time, " + as_text(in_seconds(now)) +
                   " s, and after that of the last pose that was fed, " +
                   as_text(in_seconds(core_.feeds.last(object))) + " s."};
  history_.feed(object, pose, at);
}

void SceneImpl::teleport(Index index, const Pose& pose) {
  settle();
  (void)fed_behaviour(index);
  history_.teleport(core_.registry.handle(index), pose);
}

void SceneImpl::raise(std::string_view event) {
  if (event.empty()) throw BadValue{"the name of the event is empty; give one."};
  settle();
  history_.execute({.verb = Action::Verb::raise, .event = core_.event_names.intern(event)});
}

void SceneImpl::input(InputChange::What what, std::string_view name, double value) {
  settle();
  history_.add_input(what, name, value);
}

void SceneImpl::announce_input(const InputChange& change) {
  settle();
  history_.announce_input(change);
}

// --- values ----------------------------------------------------------------------------------------------------------

void SceneImpl::tune_values(Index behaviour, const void* values) {
  settle();
  presets_.tune_values(behaviour, values);
  history_.drop_past_states();
}

void SceneImpl::tune_common(Index behaviour, const Common& common) {
  settle();
  presets_.tune_common(behaviour, common);
  history_.drop_past_states();
}

void SceneImpl::tune_target(Index behaviour, Object to) {
  settle();
  values_.retarget(behaviour, to);
  history_.drop_past_states();
}

void SceneImpl::tune(std::string_view path, const std::optional<Value>& value) {
  settle();
  presets_.tune(path, value);
  history_.drop_past_states();
}

// --- user code and hot reload ----------------------------------------------------------------------------------------

void SceneImpl::refuse_call_of_behaviour() const {
  if (UserCall::refuses(&core_.registry)) throw Error{std::string{UserCall::advice} + '.'};
}

std::vector<std::string> SceneImpl::take_state_from(SceneImpl& old, ProgramChanges changes) {
  old.settle();
  callbacks.take_from(old.callbacks);
  origin_ = old.origin_;
  core_.evaluator.set_threads(old.threads());
  content_changed_ = true;
  HotReload reload{core_, presets_, old.core_, old.presets_, old.values_, changes};
  auto lost = reload.run();
  if (reload.new_versions().empty()) return lost;
  settle();
  for (const auto& [index, output] : reload.new_versions())
    if (core_.registry.behaviours[index].location) commands_.bridge_over(index, output);
  core_.invalidate_poses();
  history_.restart();
  return lost;
}

void SceneImpl::try_versions_of(const SceneImpl& next) {
  settle();
  try_new_versions(core_, next.core_);
}

void SceneImpl::reload_later(Reload reload) {
  core_.registry.leave_handles_to(reload.next->core_.registry);
  pending_reload_ = std::move(reload);
}

void SceneImpl::mark_base(std::shared_ptr<const Kinds> kinds) {
  kinds_ = std::move(kinds);
  core_.registry.mark_base();
  core_.rules.mark_base();
  presets_.mark_base();
}

}  // namespace hushed::detail
