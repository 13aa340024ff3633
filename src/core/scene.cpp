// SPDX-License-Identifier: MIT
#include <hushed/scene.hpp>

#include <algorithm>
#include <utility>

#include <hushed/behaviour/pace.hpp>

#include "lanes/pose_blocks.hpp"
#include "scene/event_text.hpp"
#include "scene/scene_impl.hpp"
#include "scene/state_bytes.hpp"
#include "scene/value_path.hpp"

namespace hushed {

using detail::Index;
using detail::none;
using detail::SceneImpl;

namespace {

/// The implementation with up-to-date poses.
const SceneImpl& settled(SceneImpl& impl) {
  impl.settle();
  return impl;
}

/// The implementation with a layout that has the scene's objects and no others.
const SceneImpl& without_ended(SceneImpl& impl) {
  impl.settle_without_ended();
  return impl;
}

/// Writes the matrices of all objects.
template <class Number>
void write_all(const SceneImpl& present, MatrixLayout layout, std::span<Number> to) {
  const detail::Layout& scene = present.layout();
  layout.origin += present.origin();
  const std::size_t count = scene.count;
  if (to.size() < count * 16)
    throw BadValue{"write_matrices needs a span of " + std::to_string(count * 16) + " numbers, 16 for each of " +
                   std::to_string(count) + " objects; it was given " + std::to_string(to.size()) + "."};
  const detail::AxisMap map = detail::axis_map(layout);
  Number* out = to.data();
  for (const detail::Group& group : scene.groups) {
    for (Index block = 0; block < group.blocks(); ++block) {
      const auto used = static_cast<int>(std::min<Index>(detail::lanes, group.count - block * detail::lanes));
      detail::write_matrices(scene.worlds[group.first_block + block], used, map, layout.order, out);
      out += 16 * used;
    }
  }
}

}  // namespace

Pose Moment::world(Object object) const {
  if (!readable->contains(object, owner)) throw BadValue{"it reads an object that it does not name in dependencies()"};
  return query->world_of(object, behaviour);
}

std::vector<std::byte> Snapshot::to_bytes() const {
  if (!data_) throw BadValue{"this snapshot is empty; take one with Scene::snapshot."};
  return detail::to_bytes(*data_);
}

Time Snapshot::time() const { return data_ ? data_->state->time : Time{0}; }

Scene::Scene(double tick_rate) : impl_{std::make_unique<SceneImpl>(tick_rate)} {}
Scene::Scene(double tick_rate, const Scene& like) : impl_{std::make_unique<SceneImpl>(tick_rate, like.impl())} {}
Scene::~Scene() = default;
Scene::Scene(Scene&&) noexcept = default;
Scene& Scene::operator=(Scene&&) noexcept = default;

detail::SceneImpl& Scene::impl() const {
  if (!impl_) throw Error{"this scene was moved from; use the scene that it was moved to."};
  impl_->refuse_call_of_behaviour();
  return *impl_;
}

Object Scene::add(const NewObject& object) { return impl().add(object); }

AnyBehaviour Scene::give(Object object, const detail::AnyValues& behaviour, const Common& common) {
  return impl().give(object, behaviour.kind(), behaviour.data(), common);
}

void Scene::add_to_preset(std::string_view preset, const detail::AnyValues& behaviour, const Common& common) {
  impl().add_to_preset(preset, behaviour.kind(), behaviour.data(), common);
}

void Scene::use(Object object, std::string_view preset, std::span<const OwnValue> own) {
  impl().use(object, preset, own);
}

std::vector<std::string> Scene::presets() const {
  std::vector<std::string> names;
  for (const auto& preset : impl().presets().all()) names.push_back(preset.name);
  return names;
}

void Scene::remove(AnyBehaviour behaviour) { impl().remove(impl().registry().index(behaviour)); }
void Scene::set_rest(Object object, const Pose& rest) { impl().set_rest(impl().registry().index(object), rest); }
void Scene::set_parent(Object object, std::optional<Object> parent, KeepPose keep) {
  const detail::Registry& registry = impl().registry();
  impl().set_parent(registry.index(object), parent ? registry.index(*parent) : detail::none, keep);
}
void Scene::set_tags(Object object, std::vector<std::string> tags) {
  impl().set_tags(impl().registry().index(object), std::move(tags));
}
void Scene::set_number(Object object, std::uint64_t number) {
  impl().set_number(impl().registry().index(object), number);
}

void Scene::end(Object object) {
  impl().command(Action::Verb::end, impl().registry().index(object));
  made([object](Scene& scene) { scene.end(object); });
}
void Scene::hide(Object object) {
  impl().command(Action::Verb::hide, impl().registry().index(object));
  made([object](Scene& scene) { scene.hide(object); });
}
void Scene::show(Object object) {
  impl().command(Action::Verb::show, impl().registry().index(object));
  made([object](Scene& scene) { scene.show(object); });
}

NewRule::NewRule(Scene& scene) : scene_{scene} {}
NewRule::NewRule(const NewRule&) = default;
NewRule::~NewRule() = default;

NewRule& NewRule::called(std::string_view name) {
  rule_.name = name;
  return *this;
}
void NewRule::add(std::vector<Condition>& to, Condition condition) { to.push_back(std::move(condition)); }
void NewRule::add(Action action) { rule_.then.push_back(std::move(action)); }
void NewRule::finish() { scene_.add_rule(rule_); }

void Scene::add_rule(const Rule& rule) { impl().add_rule(rule); }

std::vector<std::string> Scene::rules() const {
  std::vector<std::string> names;
  for (const Index number : impl().rules().in_order()) names.push_back(impl().rules().rule(number).name);
  return names;
}

const Rule& Scene::rule(std::string_view name) const { return impl().rules().rule(impl().rules().find(name)); }

RuleReport Scene::report(std::string_view rule) const {
  const auto& state = impl().rules().memory.states[impl().rules().find(rule)];
  RuleReport report = state.report;
  if (state.holds) report.holding_since = state.since;
  report.conditions = state.conditions;
  return report;
}

void Scene::on(std::string_view event, std::function<void(const Event&)> callback) {
  impl().callbacks.add(std::string{event}, std::move(callback));
}

void Scene::press(std::string_view key) {
  impl().input(InputChange::What::down, key, 0.0);
  made([key = std::string{key}](Scene& scene) { scene.press(key); });
}
void Scene::release(std::string_view key) {
  impl().input(InputChange::What::up, key, 0.0);
  made([key = std::string{key}](Scene& scene) { scene.release(key); });
}
void Scene::axis(std::string_view name, double value) {
  impl().input(InputChange::What::axis, name, value);
  made([name = std::string{name}, value](Scene& scene) { scene.axis(name, value); });
}
void Scene::input(const InputChange& change) {
  impl().announce_input(change);
  made([change](Scene& scene) { scene.input(change); });
}
std::optional<Time> Scene::last_input() const { return impl().last_input(); }

void Scene::advance_by(Time step, double rest) noexcept {
  if (!impl_) return;
  SceneImpl* const advanced = impl_.get();
  advanced->advance(step, rest);
  // Within a callback, the replacement waits for the last callback of the frame.
  if (impl_.get() == advanced && !advanced->callbacks.are_running() && advanced->has_pending_reload()) {
    SceneImpl::Reload reload = advanced->take_pending_reload();
    replace_by(std::move(reload.next), reload.changes);
  }
}

template <class Call>
void Scene::made(Call&& call) {
  if (impl_->callbacks.are_running() && impl_->callbacks.journal)
    impl_->callbacks.journal->emplace_back(std::forward<Call>(call));
}

std::vector<std::string> Scene::replace_by(std::unique_ptr<SceneImpl> next, ProgramChanges changes) {
  auto lost = next->take_state_from(*impl_, changes);
  next->callbacks.muted = impl_->callbacks.muted;
  impl_ = std::move(next);
  return lost;
}

Time Scene::time() const { return impl().clock().now; }
double Scene::tick_rate() const { return impl().clock().tick_rate; }
void Scene::set_threads(int count) { impl().set_threads(count); }
int Scene::threads() const { return impl().threads(); }
std::vector<std::string> Scene::hot_reload(Scene&& next, ProgramChanges changes) {
  if (!impl().registry().shares_handles_with(next.impl().registry()))
    throw BadValue{
        "the new scene was not made as a successor of this one; give this scene to its constructor: Scene "
        "next{present}."};
  if (!impl().callbacks.are_running()) impl().try_versions_of(next.impl());
  auto successor = std::exchange(next.impl_, std::make_unique<SceneImpl>(impl().clock().tick_rate));
  if (!impl().callbacks.are_running()) return replace_by(std::move(successor), changes);
  impl().reload_later({std::move(successor), changes});
  return {};
}

void Scene::seek(Time time) { impl().seek(time); }

Snapshot Scene::snapshot() const {
  Snapshot snapshot;
  snapshot.data_ = impl().snapshot();
  return snapshot;
}

Snapshot Scene::snapshot_from(std::span<const std::byte> bytes) const {
  Snapshot snapshot;
  snapshot.data_ = impl().snapshot_from(bytes);
  return snapshot;
}

void Scene::restore(const Snapshot& snapshot) {
  if (!snapshot.data_) throw BadValue{"this snapshot is empty; take one with Scene::snapshot."};
  impl().restore(*snapshot.data_);
}

void Scene::shift_origin(const Vec3& by) { impl().shift_origin(by); }
const Vec3& Scene::origin() const { return impl().origin(); }

Pose Scene::world(Object object) const { return impl().to_world(detail::SceneAccess::world(*this, object)); }

Pose Scene::local(Object object) const {
  const Index index = impl().registry().index(object);
  return impl().to_space_of(impl().registry().objects[index].parent, impl().local(index));
}

Pose Scene::rest(Object object) const {
  const detail::ObjectRecord& record = impl().registry().objects[impl().registry().index(object)];
  return impl().to_space_of(record.parent, record.rest);
}

std::span<const Pose> Scene::world_poses() const { return impl().world_poses(); }
std::span<const Object> Scene::objects() const {
  const SceneImpl& present = without_ended(impl());
  return present.layout().objects(present.registry());
}
std::size_t Scene::index_of(Object object) const {
  const SceneImpl& present = without_ended(impl());
  return present.layout().place_of(*present.registry().objects[present.registry().index(object)].location);
}

void Scene::write_matrices(std::span<float> to, const MatrixLayout& layout) const {
  write_all(without_ended(impl()), layout, to);
}
void Scene::write_matrices(std::span<double> to, const MatrixLayout& layout) const {
  write_all(without_ended(impl()), layout, to);
}

std::span<const Event> Scene::events() const { return impl().events().all(); }

std::string Scene::describe(const Event& event) const { return detail::describe(impl().registry(), event); }

bool Scene::alive(Object object) const { return impl().registry().alive(object); }
bool Scene::hidden(Object object) const {
  return impl().registry().presences[impl().registry().index(object)].under_hidden;
}

std::optional<Object> Scene::find(std::string_view name) const {
  const Index found = impl().registry().find(name);
  return found == none ? std::nullopt : std::optional{impl().registry().handle(found)};
}

std::string Scene::name(Object object) const { return impl().registry().name(impl().registry().index(object)); }

std::optional<Object> Scene::parent(Object object) const {
  const Index parent = impl().registry().objects[impl().registry().index(object)].parent;
  return parent == none ? std::nullopt : std::optional{impl().registry().handle(parent)};
}

const std::optional<Shape>& Scene::shape(Object object) const {
  return impl().registry().objects[impl().registry().index(object)].shape;
}

const std::vector<std::string>& Scene::tags(Object object) const {
  return impl().registry().objects[impl().registry().index(object)].tags;
}

std::uint64_t Scene::number(Object object) const {
  return impl().registry().objects[impl().registry().index(object)].number;
}

std::size_t Scene::size() const { return impl().registry().alive_count; }

void Scene::set_pace(Object object, double rate) {
  const detail::Registry& registry = impl().registry();
  const detail::Index index = registry.index(object);
  detail::Index pace = detail::none;
  registry.for_stack(index, [&](detail::Index b) {
    if (registry.behaviours[b].kind == &detail::kind_of<Pace>()) pace = b;
  });
  const Pace values{.rate = rate};
  if (pace == detail::none)
    give(object, values);
  else
    set_values(registry.behaviour_handle(pace), {detail::kind_of<Pace>(), &values});
}

Tuning<Common> Scene::tune_common(AnyBehaviour behaviour) {
  return Tuning<Common>{*this, behaviour, common(behaviour)};
}

const Common& Scene::common(AnyBehaviour behaviour) const {
  return impl().registry().behaviours[impl().registry().index(behaviour)].common;
}

std::string_view Scene::kind(AnyBehaviour behaviour) const { return values_of(behaviour).kind().name(); }

detail::AnyValues Scene::values_of(AnyBehaviour behaviour) const {
  const auto& record = impl().registry().behaviours[impl().registry().index(behaviour)];
  return {*record.kind, impl().registry().store(record).values(record.row)};
}

void Scene::set_values(AnyBehaviour behaviour, const detail::AnyValues& values) {
  impl().tune_values(impl().registry().index(behaviour), values.data());
  if (impl_->callbacks.are_running() && impl_->callbacks.journal)
    made([behaviour, &kind = values.kind(), copy = values.kind().make(values.data())](Scene& scene) {
      scene.set_values(behaviour, {kind, copy.get()});
    });
}

void Scene::set_common(AnyBehaviour behaviour, const Common& common) {
  impl().tune_common(impl().registry().index(behaviour), common);
  made([behaviour, common](Scene& scene) { scene.set_common(behaviour, common); });
}

void Scene::set(std::string_view path, const Value& value) {
  impl().tune(path, value);
  made([path = std::string{path}, value](Scene& scene) { scene.set(path, value); });
}
void Scene::reset(std::string_view path) {
  impl().tune(path, std::nullopt);
  made([path = std::string{path}](Scene& scene) { scene.reset(path); });
}
std::string Scene::preset_path(AnyBehaviour behaviour) const {
  return impl().presets().path_of(impl().registry().index(behaviour));
}
bool Scene::is_own(std::string_view path) const { return impl().presets().is_own(path); }
std::optional<Value> Scene::get(std::string_view path) const { return impl().get(path); }

void Scene::start(AnyBehaviour behaviour) {
  impl().command(Action::Verb::start, impl().registry().index(behaviour));
  made([behaviour](Scene& scene) { scene.start(behaviour); });
}
void Scene::stop(AnyBehaviour behaviour) {
  impl().command(Action::Verb::stop, impl().registry().index(behaviour));
  made([behaviour](Scene& scene) { scene.stop(behaviour); });
}
void Scene::restart(AnyBehaviour behaviour) {
  impl().command(Action::Verb::restart, impl().registry().index(behaviour));
  made([behaviour](Scene& scene) { scene.restart(behaviour); });
}

void Scene::toggle(AnyBehaviour behaviour) {
  impl().command(Action::Verb::toggle, impl().registry().index(behaviour));
  made([behaviour](Scene& scene) { scene.toggle(behaviour); });
}

void Scene::kick(AnyBehaviour behaviour, const Vec3& by) {
  impl().kick(impl().registry().index(behaviour), by);
  made([behaviour, by = Vec3{by}](Scene& scene) { scene.kick(behaviour, by); });
}

void Scene::retarget(AnyBehaviour behaviour, Object to) {
  impl().tune_target(impl().registry().index(behaviour), to);
  made([behaviour, to](Scene& scene) { scene.retarget(behaviour, to); });
}
void Scene::place(Object object, std::string_view pose) {
  impl().place(impl().registry().index(object), pose);
  made([object, pose = std::string{pose}](Scene& scene) { scene.place(object, pose); });
}
void Scene::feed(Object object, const Pose& given) { feed_at(object, given, std::nullopt); }
void Scene::feed(Object object, const Pose& given, Time at) { feed_at(object, given, at); }
void Scene::feed_at(Object object, const Pose& given, std::optional<Time> at) {
  const Index index = impl().registry().index(object);
  const Pose pose = impl().fed_pose(index, given);
  impl().feed(index, pose, at);
  made([object, pose, at](Scene& scene) { scene.impl().feed(scene.impl().registry().index(object), pose, at); });
}
void Scene::teleport(Object object, const Pose& given) {
  const Index index = impl().registry().index(object);
  const Pose pose = impl().fed_pose(index, given);
  impl().teleport(index, pose);
  made([object, pose](Scene& scene) { scene.impl().teleport(scene.impl().registry().index(object), pose); });
}
void Scene::raise(std::string_view event) {
  impl().raise(event);
  made([event = std::string{event}](Scene& scene) { scene.raise(event); });
}

bool Scene::running(AnyBehaviour behaviour) const {
  const auto& run = impl().registry().behaviours[impl().registry().index(behaviour)].run;
  return run.is_started();
}

std::vector<std::string> Scene::poses(Object object) const {
  std::vector<std::string> names;
  for (const PoseParts& pose : impl().registry().objects[impl().registry().index(object)].poses)
    names.push_back(pose.name);
  return names;
}

std::vector<AnyBehaviour> Scene::behaviours(Object object) const {
  std::vector<AnyBehaviour> all;
  impl().registry().for_stack(impl().registry().index(object),
                              [&](Index behaviour) { all.push_back(impl().registry().behaviour_handle(behaviour)); });
  return all;
}

std::vector<Object> Scene::dependencies(AnyBehaviour behaviour) const {
  impl().settle();
  const detail::BehaviourRecord& record = impl().registry().behaviours[impl().registry().index(behaviour)];
  std::vector<Object> all;
  record.dependencies.for_each(impl().registry().handle(record.object), [&](Object object) { all.push_back(object); });
  return all;
}

std::vector<UrgeShare> Scene::urges(AnyBehaviour behaviour) const {
  return impl().urges(impl().registry().index(behaviour));
}

std::string Scene::path(AnyBehaviour behaviour) const {
  return impl().registry().path_of(impl().registry().index(behaviour));
}

std::span<const FieldInfo> Scene::fields(AnyBehaviour behaviour) const { return values_of(behaviour).kind().fields(); }

std::optional<AnyBehaviour> Scene::find_behaviour(std::string_view path) const {
  const Index found = detail::find_behaviour(impl().registry(), path);
  return found == none ? std::nullopt : std::optional{impl().registry().behaviour_handle(found)};
}

// --- for frames and play mode ----------------------------------------------------------------------------------------

const detail::Kind& detail::SceneAccess::kind(const Scene& scene, AnyBehaviour behaviour) {
  return scene.values_of(behaviour).kind();
}

std::optional<Object> detail::SceneAccess::handle_at(const Scene& scene, std::uint32_t index) {
  const detail::Registry& registry = scene.impl().registry();
  if (index >= registry.objects.size() || !registry.alive(registry.handle(index))) return std::nullopt;
  return registry.handle(index);
}

Inherit detail::SceneAccess::inherit(const Scene& scene, Object object) {
  return scene.impl().registry().objects[scene.impl().registry().index(object)].inherit;
}

void detail::SceneAccess::rename(Scene& scene, Object object, const std::string& name) {
  scene.impl().rename(scene.impl().registry().index(object), name);
}

Pose detail::SceneAccess::world(const Scene& scene, Object object) {
  const SceneImpl& present = settled(scene.impl());
  return present.layout().world(present.registry().lane_of_world(present.registry().index(object)));
}

Pose detail::SceneAccess::local(const Scene& scene, Object object) {
  return scene.impl().local(scene.impl().registry().index(object));
}

void detail::SceneAccess::mark_base(Scene& scene, std::shared_ptr<const Kinds> kinds) {
  scene.impl().mark_base(std::move(kinds));
}
std::shared_ptr<const Kinds> detail::SceneAccess::kinds(const Scene& scene) { return scene.impl().kinds(); }

void detail::SceneAccess::make_copy_of(Scene& copy, const Scene& original) {
  const Snapshot now = original.snapshot();
  copy.impl().take_content(*now.data_);
  copy.restore(copy.snapshot_from(now.to_bytes()));
}

void detail::SceneAccess::restore(Scene& scene, const Snapshot& snapshot, Time fed_until) {
  if (snapshot.data_) scene.impl().restore(*snapshot.data_, fed_until);
}

void detail::SceneAccess::play_on(Scene& scene, Time step) noexcept {
  if (scene.impl_) scene.impl_->play_on(step);
}

void detail::SceneAccess::advance_silently(Scene& scene, Time step) noexcept {
  const MutedCallbacks muted{scene};
  scene.advance(step);
}

detail::Journal detail::SceneAccess::advance(Scene& scene, Time step) {
  Journal journal;
  scene.impl().callbacks.journal = &journal;
  scene.advance(step);
  scene.impl().callbacks.journal = nullptr;
  return journal;
}

detail::MutedCallbacks::MutedCallbacks(Scene& scene) : scene_{scene} { ++scene_.impl().callbacks.muted; }
detail::MutedCallbacks::~MutedCallbacks() {
  if (scene_.impl_) --scene_.impl_->callbacks.muted;
}

}  // namespace hushed
