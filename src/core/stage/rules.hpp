#pragma once

// Rules, judged at the end of a tick: which conditions hold, and which rules fire of it at the next.

#include <array>
#include <deque>
#include <span>
#include <string_view>
#include <vector>

#include <hushed/rule.hpp>

#include "stage/inputs.hpp"
#include "stage/layout.hpp"
#include "stage/names.hpp"
#include "stage/player.hpp"

namespace hushed::inside {

/// What a play changes of rules.
struct RuleMemory {
  struct State {
    bool holds = false;
    bool fired = false;  ///< since it has been holding; of one that fires once, ever
    Time since = {};     ///< when it began to hold
    RuleReport report = {};
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
  std::vector<std::array<Watch::Seen, 2>> seen;  ///< the last two ticks of what looks back; the later first
  Time judged = Time::min();                     ///< the last tick
};

class Rules {
 public:
  Rules(Cast& cast, const Layout& layout, Player& player, const Inputs& inputs, const std::vector<Aside>& asides)
      : cast_{cast}, layout_{layout}, player_{player}, inputs_{inputs}, asides_{asides} {}

  /// Throws `BadValue`, with what is wrong and a mend.
  void add(Rule rule);
  bool empty() const { return rules_.empty(); }
  const Rule& rule(Index number) const { return rules_[number]; }
  std::size_t size() const { return rules_.size(); }
  Index find(std::string_view name) const;  ///< throws `BadValue`
  /// In the order of their names.
  std::span<const Index> in_order() const { return order_; }

  /// Objects with tags are looked up anew, and whatever rules read is marked.
  void look_up_again();
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
  bool is_near(const Nearness& nearness) const;
  bool is_within(const Within& within) const;
  bool is_measured(const Measured& measured);
  bool has_happened(const Happens& event, Index rule, Index& link) const;
  bool came_of(Index link, Index rule) const;
  AnyBehaviour handle_of(const BehaviourTarget& target) const;
  void keep_links();

  /// Shows each place to `visit`, until that returns true; whose it is, or nobody's.
  template <class Visit>
  bool any_place(const Someone& someone, Visit&& visit) const;
  std::optional<Vec3> where(const Place& place) const;
  const Pose& world(Object object) const { return layout_.worlds[cast_.objects[object.index].slot]; }
  void mark(Object object);
  void mark(const Condition& condition);

  Cast& cast_;
  const Layout& layout_;
  Player& player_;
  const Inputs& inputs_;
  const std::vector<Aside>& asides_;

  std::deque<Rule> rules_;
  std::vector<Index> order_;
  std::vector<double> number_;
  std::vector<RuleMemory::Link> kept_links_;
  std::size_t looks_ = 0;  ///< how many measures look back
  Time tick_ = {};         ///< that is being judged
};

}  // namespace hushed::inside
