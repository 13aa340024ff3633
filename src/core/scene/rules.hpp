// SPDX-License-Identifier: MIT
#pragma once

// Rules, judged at the end of a tick: which conditions hold, and which rules fire of it at the next.

#include <deque>
#include <optional>
#include <span>
#include <string_view>
#include <unordered_map>
#include <vector>

#include <hushed/rule.hpp>

#include "scene/evaluator.hpp"
#include "scene/inputs.hpp"
#include "scene/layout.hpp"
#include "scene/names.hpp"

namespace hushed::detail {

/// What a play changes of rules.
struct RuleMemory {
  /// What a condition that compares moments saw at the last two ticks; nothing where that is not known yet.
  struct ResolvedCondition {
    std::optional<Watch::Sample> last, before;
  };
  struct State {
    bool holds = false;
    bool fired = false;  ///< since it has been holding; of one that fires once, ever
    Time since = {};     ///< when it began to hold
    RuleReport report = {};
    std::vector<ResolvedCondition> samples;  ///< of each condition that compares moments, in the order of the rule
  };
  /// An event since the last tick, and which of `links` led to it.
  struct Told {
    std::string_view event;
    Object subject;
    Index link;
  };
  /// A rule that raised an event, and the link that led to that rule.
  struct Link {
    Index rule, link;
  };
  struct Firing {
    Index rule, link;
  };

  std::vector<State> states;
  std::vector<Told> told;
  std::vector<Link> links;
  std::vector<Firing> firings;  ///< what is to be done at the next tick, in the order of the rules' names
  Time judged = Time::min();    ///< the last tick
};

class Rules {
 public:
  Rules(Registry& registry, const Layout& layout, Evaluator& player, const Inputs& inputs)
      : registry_{registry}, layout_{layout}, evaluator_{player}, inputs_{inputs} {}

  /// Throws `BadValue`, with what is wrong and a mend.
  void add(Rule rule);
  bool empty() const { return rules_.empty(); }
  const Rule& rule(Index number) const { return rules_[number]; }
  std::size_t size() const { return rules_.size(); }
  Index find(std::string_view name) const;  ///< throws `BadValue`
  std::optional<Index> number_of(std::string_view name) const;
  /// A rule remembers what one of its name on another scene remembered, as far as their conditions are the same.
  void take_state_from(Index number, const Rules& other, Index of_other);
  /// In the order of their names.
  std::span<const Index> in_order() const;

  /// Objects with tags are looked up anew, and whatever rules read is marked.
  void resolve_names();
  /// Room for what a play tells of.
  void make_room(std::size_t events);
  void hear(const Event& event);
  void judge(Time tick) noexcept;
  /// The event that follows has been raised by a rule.
  void raised(const RuleMemory::Firing& by);

  RuleMemory memory;

 private:
  bool holds(const Rule& rule, Index number, Index& link);
  bool holds(const Condition& condition, Index rule, Index& link);
  bool is_near(const DistanceCondition& distance_condition) const;
  bool is_within(const AreaCondition& within) const;
  bool is_measured(const WatchCondition& measured, RuleMemory::ResolvedCondition& samples);
  bool has_happened(const EventCondition& event, Index rule, Index& link) const;
  bool came_of(Index link, Index rule) const;
  AnyBehaviour handle_of(const BehaviourTarget& target) const;
  void save_links();

  /// Shows each place to `visit`, until that returns true; whose it is, or nobody's.
  template <class Visit>
  bool any_place(const PlaceOrTag& someone, Visit&& visit) const;
  std::optional<Vec3> where(const Place& place) const;
  const Pose& world(Object object) const { return layout_.worlds[registry_.slot_of(object.index)]; }
  void mark(Object object);
  /// The object is evaluated at ticks if one of its behaviours raises events.
  void mark_emitters_of(Object object);
  void mark(const Condition& condition);

  Registry& registry_;
  const Layout& layout_;
  Evaluator& evaluator_;
  const Inputs& inputs_;

  std::deque<Rule> rules_;
  mutable std::vector<Index> order_;  ///< sorted by name where `is_in_order_`
  mutable bool is_in_order_ = true;
  std::unordered_map<std::string_view, Index> by_name_;
  std::vector<double> number_;
  std::vector<RuleMemory::Link> saved_links_;
  bool marks_all_emitters_ = false;  ///< a rule hears of events whoever raises them
  std::size_t next_sample_ = 0;      ///< which of the rule's conditions that compare moments is next
  Time tick_ = {};                   ///< that is being judged
};

}  // namespace hushed::detail
