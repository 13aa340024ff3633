// SPDX-License-Identifier: MIT
#include "scene/registry.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <unordered_set>
#include <utility>

#include <hushed/name.hpp>
#include <hushed/own.hpp>

#include "scene/pose_check.hpp"

namespace hushed::detail {

namespace {

std::uint32_t next_serial() {
  static std::atomic<std::uint32_t> last{0};
  return ++last;
}

/// By Fowler, Noll and Vo (FNV-1a, 64 bits).
std::uint64_t number_of(std::string_view name) {
  std::uint64_t number = 0xCBF29CE484222325ULL;
  for (const char letter : name) number = (number ^ static_cast<unsigned char>(letter)) * 0x100000001B3ULL;
  return number;
}

void check_name(std::string_view name, std::string_view of_what) {
  if (const auto wrong = wrong_with_name(name, of_what)) throw BadValue{*wrong};
}

void check_poses(const NewObject& object) {
  for (std::size_t i = 0; i < object.poses.size(); ++i) {
    const PoseParts& pose = object.poses[i];
    check_name(pose.name, "a pose");
    const auto refuse = [&](const std::string& text) {
      throw BadValue{object.name + ": pose " + in_quotes(pose.name) + ": " + text};
    };
    if (pose.empty()) refuse("the pose is empty; give it a position, a rotation or a scale.");
    if (const auto diagnostic = pose.check()) refuse(diagnostic->text);
    for (std::size_t j = 0; j < i; ++j)
      if (object.poses[j].name == pose.name) refuse("another pose of this object has this name; rename one.");
  }
}

}  // namespace

Registry::Registry() : serial_{next_serial()} {}

void Registry::reuse_handles_of(const Registry& other) {
  serial_ = other.serial_;
  for (Index i = 0; i < other.objects.size(); ++i) {
    const ObjectRecord& object = other.objects[i];
    const std::uint32_t generation = other.presences[i].generation;
    const bool is_alive = other.presences[i].is_alive();
    grow_objects();
    presences[i].generation = generation + 1;
    if (is_alive && !object.name.empty())
      reserved_objects_.emplace(object.name, Reserved{i, generation});
    else if (!is_alive || !other.has_base || object.is_base)
      free_objects_.push_back(i);  // others may be added again
  }
  behaviours.resize(other.behaviours.size());
  for (Index i = 0; i < behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = other.behaviours[i];
    behaviours[i].in_use = false;
    behaviours[i].generation = behaviour.generation + 1;
    if (behaviour.in_use && !other.presences[behaviour.object].ended)
      reserved_behaviours_.emplace(other.path_of(i), Reserved{i, behaviour.generation});
    else
      free_behaviours_.push_back(i);
  }
}

void Registry::restore(const RegistryContent& content,
                       std::span<const std::unique_ptr<BehaviourStore>> earlier_stores) {
  const std::uint64_t last_edition = presence_edition, tags_edition = tags.edition();
  const auto all_kinds = std::move(kinds);  // stores of later kinds stay
  static_cast<RegistryContent&>(*this) = content;
  kinds = all_kinds;
  for (ObjectRecord& object : objects) object.location.reset();
  for (BehaviourRecord& behaviour : behaviours) behaviour.location.reset();
  for (std::size_t i = 0; i < stores.size(); ++i)
    stores[i] = i < earlier_stores.size() ? earlier_stores[i]->copy() : store_kinds_[i]->store();
  presence_edition = last_edition + 1;  // editions are never used twice
  tags.continue_from(tags_edition);
}

bool Registry::knows(Object object) const {
  return object.scene == serial_ && object.index < objects.size() &&
         presences[object.index].generation == object.generation && presences[object.index].in_use;
}

bool Registry::alive(AnyBehaviour behaviour) const {
  return behaviour.scene == serial_ && behaviour.index < behaviours.size() &&
         behaviours[behaviour.index].generation == behaviour.generation && behaviours[behaviour.index].in_use &&
         !presences[behaviours[behaviour.index].object].ended;
}

Index Registry::index(Object object) const {
  if (alive(object)) return object.index;
  if (object.generation == 0) throw StaleHandle{"the handle is empty; use one that Scene::add returned."};
  if (object.scene != serial_)
    throw StaleHandle{"the handle is of an object of another scene; use one that this scene returned."};
  throw StaleHandle{"the object of this handle has ended; check Scene::alive before you use it."};
}

Index Registry::index(AnyBehaviour behaviour) const {
  if (alive(behaviour)) return behaviour.index;
  if (behaviour.generation == 0) throw StaleHandle{"the handle is empty; use one that Scene::give returned."};
  if (behaviour.scene != serial_)
    throw StaleHandle{"the handle is of a behaviour of another scene; use one that this scene returned."};
  throw StaleHandle{
      "the behaviour of this handle was removed, or its object has ended; check Scene::alive before you use it."};
}

Index Registry::find(std::string_view name) const {
  const auto found = by_name_.find(std::string{name});
  return found == by_name_.end() ? none : found->second;
}

Index Registry::find_behaviour(Index object, std::string_view name) const {
  if (const auto& behaviours_of = objects[object].behaviours) {
    const auto known = behaviours_of->find(std::string{name});
    return known == behaviours_of->end() ? none : known->second;
  }
  Index found = none;
  for_stack(object, [&](Index b) {
    if (name_of_behaviour(b) == name) found = b;
  });
  return found;
}

std::string Registry::name(Index object) const {
  const std::string& name = objects[object].name;
  return name.empty() ? "object-" + std::to_string(object) : name;
}

std::string_view Registry::name_of_behaviour(Index behaviour) const {
  const BehaviourRecord& record = behaviours[behaviour];
  return record.common.name.empty() ? record.kind->name() : std::string_view{record.common.name};
}

std::string Registry::free_name(Index object, const Kind& kind) const {
  std::string name{kind.name()};
  for (int number = 2; find_behaviour(object, name) != none; ++number)
    name = std::string{kind.name()} + '-' + std::to_string(number);
  return name;
}

std::vector<std::string_view> Registry::names() const {
  std::vector<std::string_view> all;
  for (Index i = 0; i < objects.size(); ++i)
    if (presences[i].is_alive() && !objects[i].name.empty()) all.push_back(objects[i].name);
  return all;
}

Index Registry::add_again(const NewObject& object, Object handle) {
  for (auto i = static_cast<Index>(objects.size()); i <= handle.index; ++i) {
    grow_objects();
    free_objects_.push_back(i);
  }
  std::erase(free_objects_, handle.index);
  return add(object, Reserved{handle.index, handle.generation});
}

void Registry::leave_handles_to(const Registry& next) {
  const auto leave = [](auto& free, const auto& of_next) {
    std::erase_if(free, [&](Index i) { return i < of_next.size() && of_next[i].in_use; });
  };
  while (objects.size() < next.objects.size()) grow_objects();
  while (behaviours.size() < next.behaviours.size()) behaviours.emplace_back().in_use = false;
  leave(free_objects_, next.presences);
  leave(free_behaviours_, next.behaviours);
}

void Registry::grow_objects() {
  objects.emplace_back();
  presences.emplace_back().in_use = false;
}

void Registry::free_unused() {
  std::vector<bool> is_taken(objects.size());
  for (const Index i : free_objects_) is_taken[i] = true;
  for (const auto& [name, reserved] : reserved_objects_) is_taken[reserved.index] = true;
  for (Index i = 0; i < objects.size(); ++i)
    if (!presences[i].in_use && !is_taken[i]) free_objects_.push_back(i);
}

void Registry::check_new_name(const std::string& name) const {
  check_name(name, "an object");
  if (by_name_.contains(name))
    throw BadValue{"an object called " + in_quotes(name) + " exists already; give this one another name."};
}

void Registry::rename(Index object, const std::string& name) {
  check_new_name(name);
  if (!objects[object].name.empty()) by_name_.erase(objects[object].name);
  by_name_.emplace(name, object);
  for (ObjectRecord& other : objects)
    if (other.in_base && other.in_base->parent == objects[object].name) other.in_base->parent = name;
  objects[object].name = name;
}

Index Registry::add(const NewObject& object, std::optional<Reserved> place) {
  if (!object.name.empty()) check_new_name(object.name);
  const Index parent = object.parent ? index(*object.parent) : none;

  ObjectRecord record;
  record.name = object.name;
  record.rest = checked(object.rest, "the rest pose", [&] { return object.name.empty() ? "an object" : object.name; });
  record.inherit = object.inherit;
  record.parent = parent;
  record.tags = object.tags;
  record.number = object.number;
  record.shape = object.shape;
  if (record.shape)
    if (const auto diagnostic = check_choice(record.shape->kind))
      throw BadValue{object.name + ": shape: kind: " + diagnostic->text};
  if (record.shape && !(record.shape->size.minCoeff() > 0.0 && near_enough(record.shape->size)))
    throw BadValue{object.name + ": shape: size: give numbers above 0 and at most 1e9."};
  if (record.shape && !near_enough(record.shape->centre))
    throw BadValue{object.name + ": shape: centre: give numbers from -1e9 to 1e9."};
  check_poses(object);
  record.poses = object.poses;
  record.clock = parent == none ? 0 : objects[parent].clock;

  if (const auto reserved = reserved_objects_.find(object.name); reserved != reserved_objects_.end()) {
    if (!place) place = reserved->second;
    reserved_objects_.erase(reserved);
  }
  if (!place && free_objects_.empty()) {
    free_objects_.push_back(static_cast<Index>(objects.size()));
    grow_objects();
  }
  if (!place) {
    place = Reserved{free_objects_.back(), presences[free_objects_.back()].generation};
    free_objects_.pop_back();
  }
  const Index at = place->index;
  presences[at] = {.generation = place->generation};
  objects[at] = std::move(record);
  presences[at].under_hidden = should_hide(at);
  link_to_parent(at, parent);
  if (!object.name.empty()) by_name_.emplace(object.name, at);
  tags.add(objects[at].tags, handle(at), *this);
  ++alive_count;
  return at;
}

References Registry::check_new(Index object, const Kind& kind, const void* values, const Common& common) const {
  const std::string_view name = common.name.empty() ? kind.name() : std::string_view{common.name};
  check_name(name, "a behaviour");
  if (find_behaviour(object, name) != none)
    throw BadValue{this->name(object) + " has a behaviour called " + in_quotes(name) +
                   " already; give this one another name."};
  if (kind.traits().one_an_object)
    for_stack(object, [&](Index b) {
      if (behaviours[b].kind == &kind)
        throw BadValue{this->name(object) + ": it has a behaviour " + in_quotes(kind.name()) +
                       " already, and can have one only; change the values of that one."};
    });
  References dependencies = dependencies_of(kind, values);
  for (const Object& target : dependencies.each) index(target);
  if (common.reads == Reads::now) refuse_cycle(object, dependencies);
  return dependencies;
}

Index Registry::give(Index object, const Kind& kind, const void* values, const Common& common) {
  BehaviourRecord record;
  record.dependencies = check_new(object, kind, values, common);
  record.kind = &kind;
  record.object = object;
  record.common = common;
  return push_new(std::move(record), values);
}

Index Registry::give_again(Index object, const Kind& kind, const void* values, const Common& common) {
  BehaviourRecord record;
  record.dependencies = dependencies_of(kind, values);
  if (common.reads == Reads::now) refuse_cycle(object, record.dependencies);
  record.kind = &kind;
  record.object = object;
  record.common = common;
  return push_new(std::move(record), values);
}

Index Registry::push_new(BehaviourRecord&& record, const void* values) {
  const Index object = record.object;
  const std::string_view name = record.common.name.empty() ? record.kind->name() : std::string_view{record.common.name};
  record.store = store_of(*record.kind);
  Index at = 0;
  const auto reserved = reserved_behaviours_.find(this->name(object) + '.' + std::string{name});
  if (reserved != reserved_behaviours_.end()) {
    at = reserved->second.index;
    record.generation = reserved->second.generation;
    behaviours[at] = std::move(record);
    reserved_behaviours_.erase(reserved);
  } else if (free_behaviours_.empty()) {
    at = static_cast<Index>(behaviours.size());
    behaviours.push_back(std::move(record));
  } else {
    at = free_behaviours_.back();
    free_behaviours_.pop_back();
    record.generation = behaviours[at].generation;
    behaviours[at] = std::move(record);
  }
  behaviours[at].row =
      stores[behaviours[at].store]->add(values, {at, tick_rate, handle(object), number_of(this->name(object))});
  count_dependencies(at, 1);
  if (names_tags(at)) {
    if (may_name_tags_.size() == may_name_tags_.capacity())
      std::erase_if(may_name_tags_, [&](Index b) { return b == at || !names_tags(b); });
    may_name_tags_.push_back(at);
  }

  push_behaviour(object, at);
  return at;
}

void Registry::mark_base() {
  has_base = true;
  for (Index i = 0; i < objects.size(); ++i) objects[i].is_base = presences[i].in_use;
  for (BehaviourRecord& behaviour : behaviours) behaviour.is_base = behaviour.in_use;
}

void Registry::remember_base(Index index) {
  ObjectRecord& object = objects[index];
  if (!object.is_base || object.in_base) return;
  object.in_base.make() = {object.rest, parent_name(index), object.tags};
}

std::optional<std::string> Registry::parent_name(Index object) const {
  const Index parent = objects[object].parent;
  return parent == none ? std::nullopt : std::optional{objects[parent].name};
}

void Registry::push_behaviour(Index object, Index behaviour) {
  constexpr Index many = 16;
  ObjectRecord& record = objects[object];
  (record.last_behaviour == none ? record.first_behaviour : behaviours[record.last_behaviour].next) = behaviour;
  record.last_behaviour = behaviour;
  if (++record.stack < many) return;
  auto& by_name = record.behaviours.make();
  if (record.stack == many)
    for_stack(object, [&](Index b) { by_name.emplace(name_of_behaviour(b), b); });
  else
    by_name.emplace(name_of_behaviour(behaviour), behaviour);
}

void Registry::remove(Index behaviour) {
  ObjectRecord& object = objects[behaviours[behaviour].object];
  if (object.behaviours) object.behaviours->erase(std::string{name_of_behaviour(behaviour)});
  Index before = none;
  for_stack(behaviours[behaviour].object, [&](Index b) {
    if (behaviours[b].next == behaviour) before = b;
  });
  (before == none ? object.first_behaviour : behaviours[before].next) = behaviours[behaviour].next;
  if (object.last_behaviour == behaviour) object.last_behaviour = before;
  --object.stack;
  free_behaviour(behaviour);
}

void Registry::free_behaviour(Index behaviour) {
  count_dependencies(behaviour, -1);
  stores[behaviours[behaviour].store]->remove(behaviours[behaviour].row);
  const std::uint32_t generation = behaviours[behaviour].generation + 1;
  behaviours[behaviour] = BehaviourRecord{};
  behaviours[behaviour].generation = generation;
  behaviours[behaviour].in_use = false;
  free_behaviours_.push_back(behaviour);
}

void Registry::link_to_parent(Index object, Index parent) {
  ObjectRecord& record = objects[object];
  record.parent = parent;
  record.next_sibling = record.previous_sibling = none;
  if (parent == none) return;
  record.next_sibling = objects[parent].first_child;
  if (record.next_sibling != none) objects[record.next_sibling].previous_sibling = object;
  objects[parent].first_child = object;
  ++objects[parent].dependants;
}

void Registry::unlink_from_parent(Index object) {
  const ObjectRecord& record = objects[object];
  if (record.parent == none) return;
  --objects[record.parent].dependants;
  if (record.previous_sibling != none)
    objects[record.previous_sibling].next_sibling = record.next_sibling;
  else
    objects[record.parent].first_child = record.next_sibling;
  if (record.next_sibling != none) objects[record.next_sibling].previous_sibling = record.previous_sibling;
}

void Registry::set_parent(Index object, Index parent) {
  if (parent != none) {
    References targets;
    targets.add(handle(parent));
    refuse_cycle(object, targets);
  }
  unlink_from_parent(object);
  link_to_parent(object, parent);
}

bool Registry::has_tag(Object object, std::string_view tag) const {
  if (!alive(object)) return false;
  const std::vector<std::string>& own = objects[object.index].tags;
  return std::find(own.begin(), own.end(), tag) != own.end();
}

void Registry::set_tags(Index object, std::vector<std::string> wanted) {
  tags.remove(objects[object].tags);
  objects[object].tags = std::move(wanted);
  tags.add(objects[object].tags, handle(object), *this);
}

void Registry::end(Index object) {
  presences[object].ended = true;
  ended_.push_back(object);
  if (!objects[object].name.empty()) by_name_.erase(objects[object].name);
  if (objects[object].is_base) ended_base.insert(objects[object].name);
  tags.remove(objects[object].tags);
  --alive_count;
  ++presence_edition;
}

void Registry::revive(Index object) {
  presences[object].ended = false;
  std::erase(ended_, object);
  if (!objects[object].name.empty()) by_name_.emplace(objects[object].name, object);
  if (objects[object].is_base) ended_base.erase(objects[object].name);
  tags.add(objects[object].tags, handle(object), *this);
  ++alive_count;
  ++presence_edition;
}

void Registry::remove_ended() {
  std::sort(ended_.begin(), ended_.end());
  for (const Index object : ended_) {
    while (objects[object].first_behaviour != none) {
      const Index behaviour = objects[object].first_behaviour;
      objects[object].first_behaviour = behaviours[behaviour].next;
      free_behaviour(behaviour);
    }
    unlink_from_parent(object);
  }
  for (const Index object : ended_) {
    objects[object] = ObjectRecord{};
    presences[object] = {.generation = presences[object].generation + 1, .in_use = false};
    free_objects_.push_back(object);
  }
  ended_.clear();
}

void Registry::set_dependencies(Index behaviour, References dependencies, Reads reads) {
  BehaviourRecord& record = behaviours[behaviour];
  if (dependencies == record.dependencies && reads == record.common.reads) return;
  const auto key = [](Object object) { return std::uint64_t{object.index} << 32 | object.generation; };
  std::unordered_set<std::uint64_t> known;  // present dependencies may have ended
  for (const Object& target : record.dependencies.each) known.insert(key(target));
  for (const Object& target : dependencies.each)
    if (!known.contains(key(target))) index(target);
  if (reads == Reads::now) refuse_cycle(record.object, dependencies);
  count_dependencies(behaviour, -1);
  record.dependencies = std::move(dependencies);
  record.common.reads = reads;
  count_dependencies(behaviour, 1);
}

bool Registry::recount_dependencies() {
  bool changed = false;
  for (ObjectRecord& object : objects) object.dependants = 0;
  for (Index i = 0; i < objects.size(); ++i)
    if (presences[i].in_use && objects[i].parent != none) ++objects[objects[i].parent].dependants;
  for (Index b = 0; b < behaviours.size(); ++b) {
    if (!behaviours[b].in_use) continue;
    References dependencies = dependencies_of(*behaviours[b].kind, store(behaviours[b]).values(behaviours[b].row));
    changed = changed || dependencies != behaviours[b].dependencies;
    behaviours[b].dependencies = std::move(dependencies);
    count_dependencies(b, 1);
  }
  return changed;
}

bool Registry::has_cycle() const {
  std::vector<Index> missing(objects.size(), 0);  // of each object: dependencies that have not been visited
  std::vector<std::vector<Index>> dependants(objects.size());
  std::vector<Index> open;
  std::size_t left = 0;
  for (Index object = 0; object < objects.size(); ++object) {
    if (!presences[object].in_use) continue;
    ++left;
    for_all_dependencies(object, [&](Index on) {
      ++missing[object];
      dependants[on].push_back(object);
    });
    if (missing[object] == 0) open.push_back(object);
  }
  while (!open.empty()) {
    const Index object = open.back();
    open.pop_back();
    --left;
    for (const Index dependant : dependants[object])
      if (--missing[dependant] == 0) open.push_back(dependant);
  }
  return left > 0;
}

bool Registry::has_deciding_kinds() const {
  return std::any_of(store_kinds_.begin(), store_kinds_.end(), [](const Kind* kind) { return kind->traits().decides; });
}

Object Registry::first_lost(const BehaviourRecord& behaviour) const {
  if (behaviour.dependencies.each.empty() || !needs_all_dependencies(behaviour)) return {};
  for (const Object target : behaviour.dependencies.each)
    if (!is_there(target)) return target;
  return {};
}

Index Registry::store_of(const Kind& kind) {
  const auto found = std::find(store_kinds_.begin(), store_kinds_.end(), &kind);
  if (found != store_kinds_.end()) return static_cast<Index>(found - store_kinds_.begin());
  store_kinds_.push_back(&kind);
  if (auto shared = kind.weak_from_this().lock()) kinds.push_back(std::move(shared));
  stores.push_back(kind.store());
  return static_cast<Index>(stores.size() - 1);
}

void Registry::count_dependencies(Index behaviour, int step) {
  const BehaviourRecord& record = behaviours[behaviour];
  if (record.common.reads != Reads::now) return;
  record.dependencies.for_each(handle(record.object), [&](Object target) {
    if (target.index < objects.size() && presences[target.index].generation == target.generation)
      objects[target.index].dependants += static_cast<Index>(step);
  });
}

void Registry::refuse_cycle(Index object, const References& targets) const {
  const auto report = [this, object](const std::vector<Index>& way) {
    std::vector<std::string> members{name(object)};
    for (const Index member : way) members.push_back(name(member));
    throw DependencyCycle{std::move(members)};
  };
  for (const Object& target : targets.each)
    if (target.index == object && knows(target)) report({});
  if (objects[object].dependants == 0) return;

  // Depth first from each target along what it depends on; `way` is the path to where we are.
  std::unordered_set<Index> visited;
  struct Step {
    Index object;
    std::size_t depth;
  };
  targets.for_each(handle(object), [&](Object target) {
    if (!knows(target)) return;  // it was removed for good
    std::vector<Step> open{{target.index, 0}};
    std::vector<Index> way;
    while (!open.empty()) {
      const Step step = open.back();
      open.pop_back();
      if (!visited.insert(step.object).second) continue;
      way.resize(step.depth);
      way.push_back(step.object);
      for_all_dependencies(step.object, [&](Index next) {
        if (next == object) report(way);
        open.push_back({next, step.depth + 1});
      });
    }
  });
}

}  // namespace hushed::detail
