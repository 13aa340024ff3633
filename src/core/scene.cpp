#include <hushed/scene.hpp>

#include <algorithm>

#include "stage/stage.hpp"

namespace hushed {

using inside::Index;
using inside::none;
using inside::Stage;

namespace {

/// A stage on which everything can be looked at.
const Stage& settled(const std::unique_ptr<Stage>& stage) {
  stage->settle();
  return *stage;
}

}  // namespace

Pose Moment::world(Object object) const {
  if (std::find(seen.begin(), seen.end(), object) == seen.end())
    throw BadValue{"it looks at an object that it does not name in looks_at()"};
  return sight->world_of(object, behaviour);
}

Time Snapshot::time() const { return kept_ ? kept_->time : Time{0}; }

Scene::Scene(double tick_rate) : stage_{std::make_unique<Stage>(tick_rate)} {}
Scene::Scene(double tick_rate, const Scene& like) : stage_{std::make_unique<Stage>(tick_rate, *like.stage_)} {}
Scene::~Scene() = default;
Scene::Scene(Scene&&) noexcept = default;
Scene& Scene::operator=(Scene&&) noexcept = default;

Object Scene::add(const NewObject& object) { return stage_->add(object); }

AnyBehaviour Scene::give(Object object, const inside::Kind& kind, const void* values, const Common& common) {
  return stage_->give(object, kind, values, common);
}

void Scene::add_to_preset(std::string_view preset, const inside::Kind& kind, const void* values, const Common& common) {
  stage_->add_to_preset(preset, kind, values, common);
}

void Scene::use(Object object, std::string_view preset, std::span<const OwnValue> own) {
  stage_->use(object, preset, own);
}

std::vector<std::string> Scene::presets() const {
  std::vector<std::string> names;
  for (const auto& preset : stage_->presets()) names.push_back(preset.name);
  return names;
}

void Scene::end(Object object) { stage_->end(stage_->cast.index(object)); }
void Scene::hide(Object object) { stage_->hide(stage_->cast.index(object)); }
void Scene::show(Object object) { stage_->show(stage_->cast.index(object)); }

void Scene::add_rule(const Rule& rule) { stage_->add_rule(rule); }

std::vector<std::string> Scene::rules() const {
  std::vector<std::string> names;
  for (const Index number : stage_->rules().in_order()) names.push_back(stage_->rules().rule(number).name);
  return names;
}

const Rule& Scene::rule(std::string_view name) const { return stage_->rules().rule(stage_->rules().find(name)); }

RuleReport Scene::report(std::string_view rule) const {
  const auto& state = stage_->rules().memory.states[stage_->rules().find(rule)];
  RuleReport report = state.report;
  if (state.holds) report.holding_since = state.since;
  return report;
}

void Scene::on(std::string_view event, std::function<void(const Event&)> callback) {
  stage_->listen(std::string{event}, std::move(callback));
}

void Scene::press(std::string_view key) { stage_->input(InputChange::What::down, key, 0.0); }
void Scene::release(std::string_view key) { stage_->input(InputChange::What::up, key, 0.0); }
void Scene::axis(std::string_view name, double value) { stage_->input(InputChange::What::axis, name, value); }
void Scene::input(const InputChange& change) { stage_->input_beforehand(change); }
std::optional<Time> Scene::last_input() const { return stage_->last_input(); }

void Scene::advance_by(Time step) noexcept { stage_->advance(step); }
Time Scene::time() const { return stage_->now; }
double Scene::tick_rate() const { return stage_->tick_rate; }
std::vector<std::string> Scene::become(Scene&& next) {
  if (!stage_->cast.has_handles_of(next.stage_->cast))
    throw BadValue{"this scene was not made to be like the one that is to become it; give that to its constructor."};
  auto lost = next.stage_->take_over(*stage_);
  stage_ = std::move(next.stage_);
  next.stage_ = std::make_unique<Stage>(stage_->tick_rate);
  return lost;
}

void Scene::seek(Time time) { stage_->seek(time); }

Snapshot Scene::snapshot() const {
  Snapshot snapshot;
  snapshot.kept_ = stage_->keep();
  return snapshot;
}

void Scene::restore(const Snapshot& snapshot) {
  if (!snapshot.kept_) throw BadValue{"this snapshot is empty; take one with Scene::snapshot."};
  stage_->restore(*snapshot.kept_);
}

Pose Scene::world(Object object) const {
  const Stage& stage = settled(stage_);
  return stage.layout.worlds[stage.cast.objects[stage.cast.index(object)].slot];
}

Pose Scene::local(Object object) const {
  stage_->settle();
  return stage_->local(stage_->cast.index(object));
}

Pose Scene::rest(Object object) const { return stage_->cast.objects[stage_->cast.index(object)].rest; }

std::span<const Pose> Scene::world_poses() const { return settled(stage_).layout.worlds; }
std::span<const Object> Scene::objects() const { return settled(stage_).layout.objects; }

void Scene::write_matrices(std::span<float> to) const {
  const auto& worlds = settled(stage_).layout.worlds;
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

std::span<const Event> Scene::events() const { return stage_->events; }

std::string Scene::in_words(const Event& event) const { return stage_->in_words(event); }

bool Scene::alive(Object object) const { return stage_->cast.alive(object); }
bool Scene::hidden(Object object) const { return stage_->cast.objects[stage_->cast.index(object)].under_hidden; }

std::optional<Object> Scene::find(std::string_view name) const {
  const Index found = stage_->cast.find(name);
  return found == none ? std::nullopt : std::optional{stage_->cast.handle(found)};
}

std::string Scene::name(Object object) const { return stage_->cast.name(stage_->cast.index(object)); }

std::optional<Object> Scene::parent(Object object) const {
  const Index parent = stage_->cast.objects[stage_->cast.index(object)].parent;
  return parent == none ? std::nullopt : std::optional{stage_->cast.handle(parent)};
}

const std::optional<Shape>& Scene::shape(Object object) const {
  return stage_->cast.objects[stage_->cast.index(object)].shape;
}

const std::vector<std::string>& Scene::tags(Object object) const {
  return stage_->cast.objects[stage_->cast.index(object)].tags;
}

std::size_t Scene::size() const { return stage_->cast.alive_count; }

Tuning<Common> Scene::tune_common(AnyBehaviour behaviour) {
  return Tuning<Common>{*this, behaviour, common(behaviour)};
}

const Common& Scene::common(AnyBehaviour behaviour) const {
  return stage_->cast.behaviours[stage_->cast.index(behaviour)].common;
}

std::string_view Scene::kind(AnyBehaviour behaviour) const { return kind_of(behaviour).name(); }

const inside::Kind& Scene::kind_of(AnyBehaviour behaviour) const {
  return *stage_->cast.behaviours[stage_->cast.index(behaviour)].kind;
}

const void* Scene::values_of(AnyBehaviour behaviour) const {
  const auto& record = stage_->cast.behaviours[stage_->cast.index(behaviour)];
  return stage_->cast.roster(record).values(record.row);
}

void Scene::set_values(AnyBehaviour behaviour, const void* values) {
  stage_->tune_values(stage_->cast.index(behaviour), values);
}

void Scene::set_common(AnyBehaviour behaviour, const Common& common) {
  stage_->set_common(stage_->cast.index(behaviour), common);
}

void Scene::set(std::string_view path, const Value& value) { stage_->set(path, value); }
void Scene::reset(std::string_view path) { stage_->set(path, std::nullopt); }
std::string Scene::preset_path(AnyBehaviour behaviour) const {
  return stage_->preset_path_of(stage_->cast.index(behaviour));
}
bool Scene::is_own(std::string_view path) const { return stage_->is_own(path); }
std::optional<Value> Scene::get(std::string_view path) const { return stage_->get(path); }

void Scene::start(AnyBehaviour behaviour) { stage_->start(stage_->cast.index(behaviour)); }
void Scene::stop(AnyBehaviour behaviour) { stage_->stop(stage_->cast.index(behaviour)); }
void Scene::restart(AnyBehaviour behaviour) { stage_->restart(stage_->cast.index(behaviour)); }

void Scene::toggle(AnyBehaviour behaviour) { stage_->toggle(stage_->cast.index(behaviour)); }

void Scene::kick(AnyBehaviour behaviour, const Vec3& by) { stage_->kick(stage_->cast.index(behaviour), by); }

void Scene::retarget(AnyBehaviour behaviour, Object to) { stage_->retarget(stage_->cast.index(behaviour), to); }
void Scene::place(Object object, std::string_view pose) { stage_->place(stage_->cast.index(object), pose); }
void Scene::raise(std::string_view event) { stage_->raise(event); }

bool Scene::running(AnyBehaviour behaviour) const {
  const auto& run = stage_->cast.behaviours[stage_->cast.index(behaviour)].run;
  return run.phase == inside::Run::Phase::running && stage_->is_wanted(run);
}

std::vector<std::string> Scene::poses(Object object) const {
  std::vector<std::string> names;
  for (const PoseParts& pose : stage_->cast.objects[stage_->cast.index(object)].poses) names.push_back(pose.name);
  return names;
}

std::vector<AnyBehaviour> Scene::behaviours(Object object) const {
  std::vector<AnyBehaviour> all;
  stage_->cast.for_stack(stage_->cast.index(object),
                         [&](Index behaviour) { all.push_back(stage_->cast.behaviour_handle(behaviour)); });
  return all;
}

std::vector<Object> Scene::looks_at(AnyBehaviour behaviour) const {
  return stage_->cast.behaviours[stage_->cast.index(behaviour)].looks_at;
}

std::vector<UrgeShare> Scene::urges(AnyBehaviour behaviour) const {
  stage_->settle();
  return stage_->urges(stage_->cast.index(behaviour));
}

std::string Scene::path(AnyBehaviour behaviour) const { return stage_->cast.path_of(stage_->cast.index(behaviour)); }

std::span<const FieldInfo> Scene::fields(AnyBehaviour behaviour) const { return kind_of(behaviour).fields(); }

std::optional<AnyBehaviour> Scene::find_behaviour(std::string_view path) const {
  const Index found = stage_->find_behaviour(path);
  return found == none ? std::nullopt : std::optional{stage_->cast.behaviour_handle(found)};
}

}  // namespace hushed
