// SPDX-License-Identifier: MIT
#pragma once

// Evaluates rules at the end of a tick: which conditions hold, and which rules fire at the next tick.

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

/// The state of all rules.
struct RuleMemory {
  /// The samples of a condition that compares moments, at the last two ticks; nothing where not known yet.
  struct ResolvedCondition {
    std::optional<Watch::Sample> last, before;
  };
  struct State {
    bool holds = false;
    bool fired = false;  ///< since its conditions hold; for `Fires::once`, ever
    Time since = {};     ///< when its conditions began to hold
    RuleReport report = {};
    std::vector<ResolvedCondition> samples;  ///< for each condition that compares moments, in order
    std::vector<bool> conditions = {};       ///< which held at the last tick; not saved as bytes
  };
  /// An event since the last tick, and the link that led to it.
  struct ReceivedEvent {
    std::string_view event;
    Object subject;
    Index link;
  };
  /// A rule that raised an event, and the link that led to that rule. A rule that no longer exists is `none`.
  struct Link {
    Index rule, link;
  };
  struct Firing {
    Index rule, link;
  };

  std::vector<State> states;
  std::vector<ReceivedEvent> received;
  std::vector<Link> links;
  std::vector<Firing> firings;      ///< rules whose actions are executed at the next tick, in the order of names
  Time evaluated_at = Time::min();  ///< the tick of the last evaluation
};

class Rules {
 public:
  Rules(Registry& registry, const Layout& layout, Evaluator& evaluator, const Inputs& inputs)
      : registry_{registry}, layout_{layout}, evaluator_{evaluator}, inputs_{inputs} {}

  /// Throws `BadValue` with a hint.
  void add(Rule rule);
  /// Adds a rule of a scene whose handles this one reuses, under its name or, where it has none, under another. What it
  /// refers to may have ended. Returns its number.
  Index add_again(Rule rule, bool is_name_chosen);
  /// All rules that there are become the base.
  void mark_base() { base_count_ = rules_.size(); }
  /// The number of rules of the base: the first ones.
  std::size_t base_count() const { return base_count_; }
  /// True where the program gave it no name.
  bool is_name_chosen(Index number) const { return is_name_chosen_[number]; }
  /// Resolves all names in a rule. Returns the first mistake.
  std::optional<Diagnostic> resolve_all(Rule& rule) const;
  bool empty() const { return rules_.empty(); }
  const Rule& rule(Index number) const { return rules_[number]; }
  std::size_t size() const { return rules_.size(); }
  Index find(std::string_view name) const;  ///< throws `BadValue`
  std::optional<Index> number_of(std::string_view name) const;
  /// Copies the state of a rule of another scene, as far as their conditions are equal.
  void take_state_from(Index number, const Rules& other, Index of_other);
  /// The rules in the order of their names.
  std::span<const Index> in_order() const;

  /// Resolves tags anew, and marks objects that rules read. Returns true where one of the layout is newly marked.
  bool resolve_names();
  /// Reserves memory for the events of a play.
  void reserve(std::size_t events);
  void receive(const Event& event);
  void evaluate(Time tick) noexcept;
  /// The next event was raised by this rule.
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

  /// Calls `visit(point, object)` for each point of the subject, until it returns true.
  template <class Visit>
  bool any_place(const PlaceOrTag& someone, Visit&& visit) const;
  std::optional<Vec3> where(const Place& place) const;
  Pose world(Object object) const { return layout_.world(registry_.lane_of_world(object.index)); }
  void mark(Object object);
  /// The object is evaluated at ticks if one of its behaviours raises events.
  void mark_emitters_of(Object object);
  void mark(const Condition& condition);

  Registry& registry_;
  const Layout& layout_;
  Evaluator& evaluator_;
  const Inputs& inputs_;

  std::string free_name() const;
  Index push(Rule&& rule, bool is_name_chosen);

  std::deque<Rule> rules_;
  std::size_t base_count_ = 0;
  std::vector<bool> is_name_chosen_;
  mutable std::vector<Index> order_;  ///< sorted by name where `is_in_order_`
  mutable bool is_in_order_ = true;
  std::unordered_map<std::string_view, Index> by_name_;
  std::vector<double> number_;
  std::vector<RuleMemory::Link> saved_links_;
  std::vector<Index> marked_;        ///< objects
  bool marks_all_emitters_ = false;  ///< a rule waits for events of any object
  std::size_t next_sample_ = 0;      ///< the index of the rule's next condition that compares moments
  Time tick_ = {};                   ///< the tick of the present evaluation
};

}  // namespace hushed::detail
