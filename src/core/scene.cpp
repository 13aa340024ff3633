#include <hushed/scene.hpp>

#include <algorithm>
#include <utility>

#include "stage/stage.hpp"

namespace hushed {

using inside::Index;
using inside::none;
using inside::Stage;

namespace {

/// A stage on which everything can be looked at.
const Stage& settled(Stage& stage) {
  stage.settle();
  return stage;
}

/// A stage whose layout has the objects of the scene, and no others.
const Stage& without_ended(Stage& stage) {
  stage.settle_without_ended();
  return stage;
}

}  // namespace

Pose Moment::world(Object object) const {
  if (!seen->contains(object, owner)) throw BadValue{"it looks at an object that it does not name in looks_at()"};
  return sight->world_of(object, behaviour);
}

Time Snapshot::time() const { return data_ ? data_->state->time : Time{0}; }

Scene::Scene(double tick_rate) : stage_{std::make_unique<Stage>(tick_rate)} {}
Scene::Scene(double tick_rate, const Scene& like) : stage_{std::make_unique<Stage>(tick_rate, like.stage())} {}
Scene::~Scene() = default;
Scene::Scene(Scene&&) noexcept = default;
Scene& Scene::operator=(Scene&&) noexcept = default;

inside::Stage& Scene::stage() const {
  if (!stage_) throw Error{"this scene was moved from; use the scene that it was moved to."};
  stage_->refuse_call_of_behaviour();
  return *stage_;
}

Object Scene::add(const NewObject& object) { return stage().add(object); }

AnyBehaviour Scene::give(Object object, const inside::Kind& kind, const void* values, const Common& common) {
  return stage().give(object, kind, values, common);
}

void Scene::add_to_preset(std::string_view preset, const inside::Kind& kind, const void* values, const Common& common) {
  stage().add_to_preset(preset, kind, values, common);
}

void Scene::use(Object object, std::string_view preset, std::span<const OwnValue> own) {
  stage().use(object, preset, own);
}

std::vector<std::string> Scene::presets() const {
  std::vector<std::string> names;
  for (const auto& preset : stage().presets()) names.push_back(preset.name);
  return names;
}

void Scene::end(Object object) {
  stage().end(stage().cast.index(object));
  made([object](Scene& scene) { scene.end(object); });
}
void Scene::hide(Object object) {
  stage().hide(stage().cast.index(object));
  made([object](Scene& scene) { scene.hide(object); });
}
void Scene::show(Object object) {
  stage().show(stage().cast.index(object));
  made([object](Scene& scene) { scene.show(object); });
}

void Scene::add_rule(const Rule& rule) { stage().add_rule(rule); }

std::vector<std::string> Scene::rules() const {
  std::vector<std::string> names;
  for (const Index number : stage().rules().in_order()) names.push_back(stage().rules().rule(number).name);
  return names;
}

const Rule& Scene::rule(std::string_view name) const { return stage().rules().rule(stage().rules().find(name)); }

RuleReport Scene::report(std::string_view rule) const {
  const auto& state = stage().rules().memory.states[stage().rules().find(rule)];
  RuleReport report = state.report;
  if (state.holds) report.holding_since = state.since;
  return report;
}

void Scene::on(std::string_view event, std::function<void(const Event&)> callback) {
  stage().listen(std::string{event}, std::move(callback));
}

void Scene::press(std::string_view key) {
  stage().input(InputChange::What::down, key, 0.0);
  made([key = std::string{key}](Scene& scene) { scene.press(key); });
}
void Scene::release(std::string_view key) {
  stage().input(InputChange::What::up, key, 0.0);
  made([key = std::string{key}](Scene& scene) { scene.release(key); });
}
void Scene::axis(std::string_view name, double value) {
  stage().input(InputChange::What::axis, name, value);
  made([name = std::string{name}, value](Scene& scene) { scene.axis(name, value); });
}
void Scene::input(const InputChange& change) {
  stage().input_beforehand(change);
  made([change](Scene& scene) { scene.input(change); });
}
std::optional<Time> Scene::last_input() const { return stage().last_input(); }

void Scene::advance_by(Time step, double rest) noexcept {
  if (!stage_) return;
  Stage* const advanced = stage_.get();
  advanced->advance(step, rest);
  // A callback that calls this has its frame's other callbacks behind it.
  if (stage_.get() == advanced && !advanced->is_telling() && advanced->has_successor())
    replace_by(advanced->take_successor());
}

template <class Call>
void Scene::made(Call&& call) {
  if (stage_->is_telling() && stage_->journal) stage_->journal->emplace_back(std::forward<Call>(call));
}

std::vector<std::string> Scene::replace_by(std::unique_ptr<Stage> next) {
  auto lost = next->take_over(*stage_);
  next->muted = stage_->muted;
  stage_ = std::move(next);
  return lost;
}

Time Scene::time() const { return stage().now; }
double Scene::tick_rate() const { return stage().tick_rate; }
std::vector<std::string> Scene::become(Scene&& next) {
  if (!stage().cast.has_handles_of(next.stage().cast))
    throw BadValue{"this scene was not made to be like the one that is to become it; give that to its constructor."};
  auto successor = std::exchange(next.stage_, std::make_unique<Stage>(stage().tick_rate));
  if (!stage().is_telling()) return replace_by(std::move(successor));
  stage().succeed_later(std::move(successor));
  return {};
}

void Scene::seek(Time time) { stage().seek(time); }

Snapshot Scene::snapshot() const {
  Snapshot snapshot;
  snapshot.data_ = stage().snapshot();
  return snapshot;
}

void Scene::restore(const Snapshot& snapshot) {
  if (!snapshot.data_) throw BadValue{"this snapshot is empty; take one with Scene::snapshot."};
  stage().restore(*snapshot.data_);
}

Pose Scene::world(Object object) const {
  const Stage& present = settled(stage());
  return present.layout.worlds[present.cast.slot_of(present.cast.index(object))];
}

Pose Scene::local(Object object) const {
  stage().settle();
  return stage().local(stage().cast.index(object));
}

Pose Scene::rest(Object object) const { return stage().cast.objects[stage().cast.index(object)].rest; }

std::span<const Pose> Scene::world_poses() const { return without_ended(stage()).layout.worlds; }
std::span<const Object> Scene::objects() const { return without_ended(stage()).layout.objects; }

void Scene::write_matrices(std::span<float> to) const {
  const auto& worlds = without_ended(stage()).layout.worlds;
  if (to.size() < worlds.size() * 16)
    throw BadValue{"write_matrices needs room for " + std::to_string(worlds.size() * 16) + " floats, 16 for each of " +
                   std::to_string(worlds.size()) + " objects, and was given " + std::to_string(to.size()) + "."};
  float* out = to.data();
  for (const Pose& pose : worlds) {
    const auto turned = pose.rotation.toRotationMatrix();
    for (int column = 0; column < 3; ++column) {
      for (int row = 0; row < 3; ++row) *out++ = static_cast<float>(turned(row, column) * pose.scale[column]);
      *out++ = 0.0F;
    }
    for (int row = 0; row < 3; ++row) *out++ = static_cast<float>(pose.position[row]);
    *out++ = 1.0F;
  }
}

std::span<const Event> Scene::events() const { return stage().events.all(); }

std::string Scene::in_words(const Event& event) const { return stage().in_words(event); }

bool Scene::alive(Object object) const { return stage().cast.alive(object); }
bool Scene::hidden(Object object) const { return stage().cast.objects[stage().cast.index(object)].under_hidden; }

std::optional<Object> Scene::find(std::string_view name) const {
  const Index found = stage().cast.find(name);
  return found == none ? std::nullopt : std::optional{stage().cast.handle(found)};
}

std::string Scene::name(Object object) const { return stage().cast.name(stage().cast.index(object)); }

std::optional<Object> Scene::parent(Object object) const {
  const Index parent = stage().cast.objects[stage().cast.index(object)].parent;
  return parent == none ? std::nullopt : std::optional{stage().cast.handle(parent)};
}

const std::optional<Shape>& Scene::shape(Object object) const {
  return stage().cast.objects[stage().cast.index(object)].shape;
}

const std::vector<std::string>& Scene::tags(Object object) const {
  return stage().cast.objects[stage().cast.index(object)].tags;
}

std::size_t Scene::size() const { return stage().cast.alive_count; }

Tuning<Common> Scene::tune_common(AnyBehaviour behaviour) {
  return Tuning<Common>{*this, behaviour, common(behaviour)};
}

const Common& Scene::common(AnyBehaviour behaviour) const {
  return stage().cast.behaviours[stage().cast.index(behaviour)].common;
}

std::string_view Scene::kind(AnyBehaviour behaviour) const { return kind_of(behaviour).name(); }

const inside::Kind& Scene::kind_of(AnyBehaviour behaviour) const {
  return *stage().cast.behaviours[stage().cast.index(behaviour)].kind;
}

const void* Scene::values_of(AnyBehaviour behaviour) const {
  const auto& record = stage().cast.behaviours[stage().cast.index(behaviour)];
  return stage().cast.roster(record).values(record.row);
}

void Scene::set_values(AnyBehaviour behaviour, const void* values) {
  stage().tune_values(stage().cast.index(behaviour), values);
  if (stage_->is_telling() && stage_->journal)
    made(
        [behaviour, copy = kind_of(behaviour).make(values)](Scene& scene) { scene.set_values(behaviour, copy.get()); });
}

void Scene::set_common(AnyBehaviour behaviour, const Common& common) {
  stage().tune_common(stage().cast.index(behaviour), common);
  made([behaviour, common](Scene& scene) { scene.set_common(behaviour, common); });
}

void Scene::set(std::string_view path, const Value& value) {
  stage().tune(path, value);
  made([path = std::string{path}, value](Scene& scene) { scene.set(path, value); });
}
void Scene::reset(std::string_view path) {
  stage().tune(path, std::nullopt);
  made([path = std::string{path}](Scene& scene) { scene.reset(path); });
}
std::string Scene::preset_path(AnyBehaviour behaviour) const {
  return stage().preset_path_of(stage().cast.index(behaviour));
}
bool Scene::is_own(std::string_view path) const { return stage().is_own(path); }
std::optional<Value> Scene::get(std::string_view path) const { return stage().get(path); }

void Scene::start(AnyBehaviour behaviour) {
  stage().start(stage().cast.index(behaviour));
  made([behaviour](Scene& scene) { scene.start(behaviour); });
}
void Scene::stop(AnyBehaviour behaviour) {
  stage().stop(stage().cast.index(behaviour));
  made([behaviour](Scene& scene) { scene.stop(behaviour); });
}
void Scene::restart(AnyBehaviour behaviour) {
  stage().restart(stage().cast.index(behaviour));
  made([behaviour](Scene& scene) { scene.restart(behaviour); });
}

void Scene::toggle(AnyBehaviour behaviour) {
  stage().toggle(stage().cast.index(behaviour));
  made([behaviour](Scene& scene) { scene.toggle(behaviour); });
}

void Scene::kick(AnyBehaviour behaviour, const Vec3& by) {
  stage().kick(stage().cast.index(behaviour), by);
  made([behaviour, by = Vec3{by}](Scene& scene) { scene.kick(behaviour, by); });
}

void Scene::retarget(AnyBehaviour behaviour, Object to) {
  stage().tune_target(stage().cast.index(behaviour), to);
  made([behaviour, to](Scene& scene) { scene.retarget(behaviour, to); });
}
void Scene::place(Object object, std::string_view pose) {
  stage().place(stage().cast.index(object), pose);
  made([object, pose = std::string{pose}](Scene& scene) { scene.place(object, pose); });
}
void Scene::raise(std::string_view event) {
  stage().raise(event);
  made([event = std::string{event}](Scene& scene) { scene.raise(event); });
}

bool Scene::running(AnyBehaviour behaviour) const {
  const auto& run = stage().cast.behaviours[stage().cast.index(behaviour)].run;
  return run.is_started();
}

std::vector<std::string> Scene::poses(Object object) const {
  std::vector<std::string> names;
  for (const PoseParts& pose : stage().cast.objects[stage().cast.index(object)].poses) names.push_back(pose.name);
  return names;
}

std::vector<AnyBehaviour> Scene::behaviours(Object object) const {
  std::vector<AnyBehaviour> all;
  stage().cast.for_stack(stage().cast.index(object),
                         [&](Index behaviour) { all.push_back(stage().cast.behaviour_handle(behaviour)); });
  return all;
}

std::vector<Object> Scene::looks_at(AnyBehaviour behaviour) const {
  stage().settle();
  const inside::BehaviourRecord& record = stage().cast.behaviours[stage().cast.index(behaviour)];
  std::vector<Object> all;
  record.looks_at.for_each(stage().cast.handle(record.object), [&](Object object) { all.push_back(object); });
  return all;
}

std::vector<UrgeShare> Scene::urges(AnyBehaviour behaviour) const {
  stage().settle();
  return stage().urges(stage().cast.index(behaviour));
}

std::string Scene::path(AnyBehaviour behaviour) const { return stage().cast.path_of(stage().cast.index(behaviour)); }

std::span<const FieldInfo> Scene::fields(AnyBehaviour behaviour) const { return kind_of(behaviour).fields(); }

std::optional<AnyBehaviour> Scene::find_behaviour(std::string_view path) const {
  const Index found = stage().find_behaviour(path);
  return found == none ? std::nullopt : std::optional{stage().cast.behaviour_handle(found)};
}

// --- for frames and play mode ----------------------------------------------------------------------------------------

void inside::SceneAccess::play_on(Scene& scene, Time step) noexcept {
  if (scene.stage_) scene.stage_->play_on(step);
}

void inside::SceneAccess::advance_silently(Scene& scene, Time step) noexcept {
  const MutedCallbacks muted{scene};
  scene.advance(step);
}

inside::Journal inside::SceneAccess::advance(Scene& scene, Time step) {
  Journal journal;
  scene.stage().journal = &journal;
  scene.advance(step);
  scene.stage().journal = nullptr;
  return journal;
}

inside::MutedCallbacks::MutedCallbacks(Scene& scene) : scene_{scene} { ++scene_.stage().muted; }
inside::MutedCallbacks::~MutedCallbacks() {
  if (scene_.stage_) --scene_.stage_->muted;
}

}  // namespace hushed
