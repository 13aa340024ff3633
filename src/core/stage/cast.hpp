#pragma once

// Who is in the scene: objects, their behaviours, their names, and who depends on whom.

#include <memory>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "stage/records.hpp"
#include "stage/tags.hpp"

namespace hushed::inside {

class Cast {
 public:
  Cast();
  /// Before anything is added: what will have the names of what is in another gets its handles.
  void keep_handles_of(const Cast& other);
  bool has_handles_of(const Cast& other) const { return serial_ == other.serial_; }

  // --- handles ---
  Object handle(Index object) const { return {object, objects[object].generation, serial_}; }
  AnyBehaviour behaviour_handle(Index behaviour) const {
    return {behaviour, behaviours[behaviour].generation, serial_};
  }
  bool alive(Object object) const;
  bool alive(AnyBehaviour behaviour) const;
  Index index(Object object) const;           ///< throws `StaleHandle`
  Index index(AnyBehaviour behaviour) const;  ///< throws `StaleHandle`

  // --- names ---
  Index find(std::string_view name) const;  ///< or none
  Index find_behaviour(Index object, std::string_view name) const;
  std::string name(Index object) const;
  std::string_view name_of_behaviour(Index behaviour) const;
  std::string path_of(Index behaviour) const {
    return name(behaviours[behaviour].object) + '.' + std::string{name_of_behaviour(behaviour)};
  }
  /// Every object that has a name of its own.
  std::vector<std::string_view> names() const;

  // --- changes ---
  Index add(const NewObject& object);
  /// Throws `BadValue`, `StaleHandle` or `Circle` where it cannot be given; otherwise what it looks at.
  References check_new(Index object, const Kind& kind, const void* values, const Common& common) const;
  Index give(Index object, const Kind& kind, const void* values, const Common& common);
  void end(Index object);  ///< one object; its handles are stale from now on
  void bring_back(Index object);
  /// Takes the ended objects out for good, so that their places can be used again.
  void sweep();
  /// Sets what the behaviour looks at and how it reads, and throws `Circle`, changing nothing, where it cannot.
  void set_looks(Index behaviour, References looks_at, Reads reads);

  /// Reads again what every behaviour looks at, after values have been put back. True where any looks elsewhere.
  bool recount_looks();

  /// The object and all below it, each after its parent.
  template <class Visit>
  void for_family(Index object, Visit&& visit) const {
    for (Index at = object;;) {
      const bool there = at == object || !objects[at].ended;
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
  bool is_there(Object object) const { return alive(object) && !objects[object.index].under_hidden; }
  bool needs_all(const BehaviourRecord& behaviour) const {
    return behaviour.kind->needs_all(roster(behaviour).values(behaviour.row));
  }
  /// What a behaviour with these values looks at. A behaviour of the user's own says so itself.
  References looks_of(const Kind& kind, const void* values) const {
    const UserCodeGuard guard{user_code};
    return kind.looks_at(values);
  }
  /// The first of what the behaviour cannot do without that is hidden or has ended.
  Object lost_one(const BehaviourRecord& behaviour) const;
  template <class Visit>
  void for_stack(Index object, Visit&& visit) const {
    for (Index b = objects[object].first_behaviour; b != none; b = behaviours[b].next) visit(b);
  }
  /// What the object must come after: its parent, and what its behaviours look at as it is now.
  template <class Visit>
  void for_dependencies(Index object, Visit&& visit) const {
    if (objects[object].parent != none) visit(objects[object].parent);
    for_stack(object, [&](Index b) {
      if (behaviours[b].common.reads != Reads::now) return;
      behaviours[b].looks_at.for_each(handle(object), [&](Object target) {
        if (alive(target)) visit(target.index);
      });
    });
  }

  /// Where the world pose of an object that is laid out stands.
  Index slot_of(Index object) const { return objects[object].location->slot; }

  Roster& roster(const BehaviourRecord& behaviour) { return *rosters[behaviour.roster]; }
  const Roster& roster(const BehaviourRecord& behaviour) const { return *rosters[behaviour.roster]; }

  std::vector<ObjectRecord> objects;
  std::vector<BehaviourRecord> behaviours;
  std::vector<std::unique_ptr<Roster>> rosters;
  TagIndex tags;
  std::size_t alive_count = 0;
  std::uint64_t comings = 0;  ///< counts whenever anybody ends or is hidden, or is back
  double tick_rate = 0.0;     ///< per second
  bool has_rules = false;
  mutable UserCode user_code;  ///< code of the user's that is being called

 private:
  Index roster_of(const Kind& kind);
  void put_on_top(Index object, Index behaviour);
  void count_looks(Index behaviour, int step);
  /// Throws `Circle` where one of `targets` already comes after `object`.
  void refuse_circle(Index object, const References& targets) const;

  std::uint32_t serial_;
  std::vector<const Kind*> roster_kinds_;
  struct Reserved {
    Index index;
    std::uint32_t generation;
  };
  std::unordered_map<std::string, Index> by_name_;
  std::unordered_map<std::string, Reserved> reserved_objects_, reserved_behaviours_;  ///< by name, by path
  std::vector<Index> free_objects_, free_behaviours_;
};

}  // namespace hushed::inside
