// SPDX-License-Identifier: MIT
#pragma once

// The objects and behaviours of a scene: handles, names, tags and dependencies.

#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "scene/records.hpp"
#include "scene/tags.hpp"

namespace hushed::detail {

/// What a scene consists of: everything that adding, removing and re-parenting changes. Snapshots have copies.
struct RegistryContent {
  std::vector<ObjectRecord> objects;
  std::vector<Presence> presences;  ///< one for each of `objects`
  std::vector<BehaviourRecord> behaviours;
  TagIndex tags;
  std::size_t alive_count = 0;
  std::uint64_t presence_edition = 0;  ///< rises whenever an object ends, is hidden or becomes visible again
  /// There is a base: what was read from a file, and what hot reload replaces. The program added the rest.
  bool has_base = false;
  std::vector<std::shared_ptr<const Kind>> kinds;  ///< those of its behaviours that were made at run time
  std::set<std::string> ended_base;                ///< the names of objects of the base that have ended

 protected:
  friend class Registry;
  std::unordered_map<std::string, Index> by_name_;
  std::vector<Index> free_objects_, free_behaviours_;
  std::vector<Index> ended_;
  std::vector<Index> may_name_tags_;  ///< behaviours; some may be others since
};

class Registry : public RegistryContent {
 public:
  Registry();
  /// Objects and behaviours added later get the handles of those with the same names in `other`. To be called before
  /// anything is added.
  void reuse_handles_of(const Registry& other);
  bool shares_handles_with(const Registry& other) const { return serial_ == other.serial_; }

  /// Goes back to an earlier content, with copies of the stores of that time. Nothing has a location afterwards.
  void restore(const RegistryContent& content, std::span<const std::unique_ptr<BehaviourStore>> earlier_stores);

  // --- handles ---
  std::uint32_t handle_scene() const { return serial_; }
  Object handle(Index object) const { return {object, presences[object].generation, serial_}; }
  AnyBehaviour behaviour_handle(Index behaviour) const {
    return {behaviour, behaviours[behaviour].generation, serial_};
  }
  bool knows(Object object) const;  ///< it may have ended, but not for good
  bool alive(Object object) const { return knows(object) && !presences[object.index].ended; }
  bool alive(AnyBehaviour behaviour) const;
  Index index(Object object) const;           ///< throws `StaleHandle`
  Index index(AnyBehaviour behaviour) const;  ///< throws `StaleHandle`

  /// True where the object is hidden itself, or under a hidden one.
  bool should_hide(Index object) const {
    const Index parent = objects[object].parent;
    return presences[object].hidden || (parent != none && presences[parent].under_hidden);
  }
  /// The incoming pose of an object's lowest behaviour.
  Pose base(Index object) const {
    const ObjectRecord& record = objects[object];
    const Index placed = presences[object].placed;
    return placed == none ? record.rest : record.poses[placed].over(record.rest);
  }

  // --- names ---
  Index find(std::string_view name) const;  ///< or none
  Index find_behaviour(Index object, std::string_view name) const;
  /// Throws `BadValue` for a name that is none or taken.
  void rename(Index object, const std::string& name);
  std::string name(Index object) const;
  std::string_view name_of_behaviour(Index behaviour) const;
  /// The name for a new behaviour of an object whose kind has no name: "own", or "own-2", "own-3", ... if that is
  /// taken.
  std::string free_name(Index object, const Kind& kind) const;
  std::string path_of(Index behaviour) const {
    return name(behaviours[behaviour].object) + '.' + std::string{name_of_behaviour(behaviour)};
  }
  /// The names of all objects that were given one.
  std::vector<std::string_view> names() const;

  // --- changes ---
  Index add(const NewObject& object) { return add(object, {}); }
  /// Adds an object of another registry, whose handles this one reuses, with its handle.
  Index add_again(const NewObject& object, Object handle);
  /// Nothing that is added from now on gets a handle of `next`, which reuses those of this registry.
  void leave_handles_to(const Registry& next);
  /// Gives back the indices that were kept for objects which have not been added again.
  void free_unused();
  /// Returns the dependencies of a new behaviour. Throws `BadValue`, `StaleHandle` or `DependencyCycle` where it cannot
  /// be given.
  References check_new(Index object, const Kind& kind, const void* values, const Common& common) const;
  Index give(Index object, const Kind& kind, const void* values, const Common& common);
  /// As `give`, for the resolved values of a scene whose handles this one reuses. What they refer to may have ended.
  Index give_again(Index object, const Kind& kind, const void* values, const Common& common);
  /// Everything that there is becomes the base.
  void mark_base();
  /// To be called before the program changes an object: stores what it was in the base.
  void remember_base(Index object);
  /// Nothing where it has no parent; empty where the parent has no name.
  std::optional<std::string> parent_name(Index object) const;
  /// Takes a behaviour off its object's stack. Its handles are stale afterwards.
  void remove(Index behaviour);
  /// Throws `DependencyCycle` where `parent` depends on the object. `parent` may be none.
  void set_parent(Index object, Index parent);
  void set_tags(Index object, std::vector<std::string> tags);
  void end(Index object);  ///< one object; its handles are stale afterwards
  void revive(Index object);
  /// The objects that have ended and are not removed, in no order.
  const std::vector<Index>& ended() const { return ended_; }
  /// Removes ended objects for good, so that their indices can be used again.
  void remove_ended();
  /// Sets the dependencies of a behaviour, and whether it reads them now or at the last tick. Throws `DependencyCycle`,
  /// and changes nothing, where the object would depend on itself.
  void set_dependencies(Index behaviour, References dependencies, Reads reads);

  /// Recomputes all dependencies after values were restored. Returns true where any changed.
  bool recount_dependencies();

  /// True where an object depends on itself, possibly by way of objects that have ended. Changes refuse that, but
  /// values of different times may lead to it together.
  bool has_cycle() const;

  /// Visits the object and its descendants, each after its parent.
  template <class Visit>
  void for_subtree(Index object, Visit&& visit) const {
    for (Index at = object;;) {
      const bool there = at == object || !presences[at].ended;
      if (there) visit(at);
      if (there && objects[at].first_child != none) {
        at = objects[at].first_child;
        continue;
      }
      while (at != object && objects[at].next_sibling == none) at = objects[at].parent;
      if (at == object) return;
      at = objects[at].next_sibling;
    }
  }
  bool is_there(Object object) const { return alive(object) && !presences[object.index].under_hidden; }
  bool has_tag(Object object, std::string_view tag) const;
  bool needs_all_dependencies(const BehaviourRecord& behaviour) const {
    return behaviour.kind->needs_all_dependencies(store(behaviour).values(behaviour.row));
  }
  /// The dependencies of a behaviour with these values. Calls code of the user where the kind is a user's.
  References dependencies_of(const Kind& kind, const void* values) const {
    const UserCall call{this};
    return kind.dependencies(values);
  }
  /// True where it has, or had, behaviours of a kind that decides at ticks.
  bool has_deciding_kinds() const;
  /// The first dependency that is hidden or has ended, of a behaviour that needs all of them; otherwise an `Object` of
  /// generation 0.
  Object first_lost(const BehaviourRecord& behaviour) const;
  /// Visits the behaviours whose values may name all objects with a tag.
  template <class Visit>
  void for_behaviours_with_tags(Visit&& visit) const {
    for (std::size_t i = 0; i < may_name_tags_.size(); ++i)
      if (names_tags(may_name_tags_[i])) visit(may_name_tags_[i]);
  }
  template <class Visit>
  void for_stack(Index object, Visit&& visit) const {
    for (Index b = objects[object].first_behaviour; b != none; b = behaviours[b].next) visit(b);
  }
  /// Visits the objects that must be evaluated before this one: its parent, and the dependencies that its behaviours
  /// read as they are now.
  template <class Visit>
  void for_dependencies(Index object, Visit&& visit) const {
    for_all_dependencies(object, [&](Index target) {
      if (!presences[target].ended) visit(target);
    });
  }
  /// As `for_dependencies`, with objects that have ended, and that `seek` or a snapshot may bring back.
  template <class Visit>
  void for_all_dependencies(Index object, Visit&& visit) const {
    if (objects[object].parent != none) visit(objects[object].parent);
    for_stack(object, [&](Index b) {
      if (behaviours[b].common.reads != Reads::now) return;
      behaviours[b].dependencies.for_each(handle(object), [&](Object target) {
        if (knows(target)) visit(target.index);
      });
    });
  }

  /// The lane of an object that has a location among all lanes of the world poses: see `Layout::world`.
  Index lane_of_world(Index object) const { return objects[object].location->lane; }

  BehaviourStore& store(const BehaviourRecord& behaviour) { return *stores[behaviour.store]; }
  const BehaviourStore& store(const BehaviourRecord& behaviour) const { return *stores[behaviour.store]; }

  std::vector<std::unique_ptr<BehaviourStore>> stores;
  double tick_rate = 0.0;  ///< per second
  bool has_rules = false;

 private:
  struct Reserved {
    Index index;
    std::uint32_t generation;
  };
  /// Adds an object that is not in use.
  void grow_objects();
  void check_new_name(const std::string& name) const;
  Index add(const NewObject& object, std::optional<Reserved> place);
  Index push_new(BehaviourRecord&& record, const void* values);
  Index store_of(const Kind& kind);
  void push_behaviour(Index object, Index behaviour);
  void free_behaviour(Index behaviour);
  bool names_tags(Index behaviour) const {
    return behaviours[behaviour].in_use && behaviours[behaviour].kind->traits().may_name_tags;
  }
  void link_to_parent(Index object, Index parent);
  void unlink_from_parent(Index object);
  void count_dependencies(Index behaviour, int step);
  /// Throws `DependencyCycle` where one of `targets` is already evaluated after `object`.
  void refuse_cycle(Index object, const References& targets) const;

  std::uint32_t serial_;
  std::vector<const Kind*> store_kinds_;
  std::unordered_map<std::string, Reserved> reserved_objects_, reserved_behaviours_;  ///< by name, by path
};

}  // namespace hushed::detail
