// SPDX-License-Identifier: MIT
#include "scene/rules.hpp"

#include <algorithm>
#include <numeric>

#include <hushed/error.hpp>
#include <hushed/name.hpp>

#include "any_condition.hpp"

namespace hushed::detail {

namespace {

constexpr std::array<std::vector<Condition> Rule::*, 3> lists{&Rule::when, &Rule::any, &Rule::unless};

/// Finds the members of a tag. A tag without members is no mistake here.
void resolve_tag(Tagged& tagged, const NamesInScene& names) {
  if (!tagged.tag.empty()) (void)resolve(tagged, names);
}

void resolve_tags(Condition& condition, const NamesInScene& names) {
  if (const auto* distance = condition.as<DistanceCondition>()) {
    DistanceCondition found = *distance;
    resolve_tag(found.who.tagged, names);
    resolve_tag(found.to.tagged, names);
    condition = std::move(found);
  } else if (const auto* area = condition.as<AreaCondition>()) {
    AreaCondition found = *area;
    resolve_tag(found.who.tagged, names);
    condition = std::move(found);
  }
}

}  // namespace

// --- building --------------------------------------------------------------------------------------------------------

void Rules::add(Rule rule) {
  const bool is_name_chosen = rule.name.empty();
  if (is_name_chosen) rule.name = free_name();
  const auto refuse = [&](const std::string& text) { throw BadValue{"rule " + in_quotes(rule.name) + ": " + text}; };
  if (const auto wrong = wrong_with_name(rule.name, "a rule")) throw BadValue{*wrong};
  if (by_name_.contains(rule.name)) refuse("another rule has this name; give this one a name of its own.");
  if (rule.when.empty() && rule.any.empty()) refuse("no condition; give one, such as after(seconds(2)).");
  if (rule.then.empty()) refuse("no action; give one, such as toggle(bridge_lift).");
  if (rule.held_for < Time{0}) refuse("held_for is negative; give 0 or more.");
  if (const auto diagnostic = check_choice(rule.fires)) refuse("fires: " + diagnostic->text);
  if (const auto diagnostic = resolve_all(rule)) refuse(diagnostic->text);
  push(std::move(rule), is_name_chosen);
}

Index Rules::add_again(Rule rule, bool is_name_chosen) {
  if (rule.name.empty()) rule.name = free_name();
  return push(std::move(rule), is_name_chosen);
}

std::string Rules::free_name() const {
  for (std::size_t i = rules_.size() + 1;; ++i) {
    const std::string number = std::to_string(i);
    std::string name = "rule-" + std::string(number.size() < 3 ? 3 - number.size() : 0, '0') + number;
    if (!by_name_.contains(name)) return name;
  }
}

std::optional<Diagnostic> Rules::resolve_all(Rule& rule) const {
  const NamesInScene names{registry_};
  for (const auto list : lists)
    for (Condition& condition : rule.*list) {
      if (auto diagnostic = resolve(condition, names)) return diagnostic;
      if (const auto* running = condition.as<RunningCondition>()) {
        RunningCondition found = *running;
        found.behaviour.handle = handle_of(found.behaviour);
        condition = std::move(found);
      }
    }
  for (Action& action : rule.then) {
    if (auto diagnostic = resolve(action, names)) return diagnostic;
    if (!action.behaviour.path.empty()) action.behaviour.handle = handle_of(action.behaviour);
  }
  return std::nullopt;
}

Index Rules::push(Rule&& rule, bool is_name_chosen) {
  rules_.push_back(std::move(rule));
  const std::string_view name = rules_.back().name;
  const auto number = static_cast<Index>(rules_.size() - 1);
  by_name_.emplace(name, number);
  memory.states.emplace_back();
  order_.push_back(number);
  is_in_order_ = false;
  is_name_chosen_.push_back(is_name_chosen);
  return number;
}

std::optional<Index> Rules::number_of(std::string_view name) const {
  const auto found = by_name_.find(name);
  return found == by_name_.end() ? std::nullopt : std::optional{found->second};
}

void Rules::take_state_from(Index number, const Rules& other, Index of_other) {
  const auto watched = [](const Rule& rule) {
    std::vector<std::string_view> texts;
    for (const auto list : lists)
      for (const Condition& condition : rule.*list)
        if (const auto* measured = condition.as<WatchCondition>(); measured && measured->resolved->needs_past())
          texts.push_back(measured->resolved->text());
    return texts;
  };
  RuleMemory::State& state = memory.states[number];
  state = other.memory.states[of_other];
  const auto texts = watched(rules_[number]);
  if (texts != watched(other.rules_[of_other])) state.samples.assign(texts.size(), {});
}

Index Rules::find(std::string_view name) const {
  if (const auto number = number_of(name)) return *number;
  std::vector<std::string_view> names;
  for (const Rule& rule : rules_) names.push_back(rule.name);
  throw BadValue{"no rule " + in_quotes(name) + " in this scene" + suggestion(name, names)};
}

AnyBehaviour Rules::handle_of(const BehaviourTarget& target) const {
  const std::size_t dot = target.path.find('.');
  const Index object = registry_.find(target.path.substr(0, dot));
  return registry_.behaviour_handle(registry_.find_behaviour(object, std::string_view{target.path}.substr(dot + 1)));
}

std::span<const Index> Rules::in_order() const {
  if (!is_in_order_)
    std::sort(order_.begin(), order_.end(), [this](Index a, Index b) { return rules_[a].name < rules_[b].name; });
  is_in_order_ = true;
  return order_;
}

bool Rules::resolve_names() {
  std::vector<Index> before = std::exchange(marked_, {});
  for (const Index object : before)
    if (object < registry_.objects.size()) registry_.objects[object].is_read_by_rules = false;
  registry_.has_rules = !rules_.empty();
  marks_all_emitters_ = false;
  const NamesInScene names{registry_};
  for (Index number = 0; number < rules_.size(); ++number) {
    Rule& rule = rules_[number];
    std::size_t sample_count = 0;
    for (Action& action : rule.then) resolve_tag(action.to.tagged, names);
    for (const auto list : lists)
      for (Condition& condition : rule.*list) {
        resolve_tags(condition, names);
        if (const auto* measured = condition.as<WatchCondition>())
          sample_count += measured->resolved->needs_past() ? 1 : 0;
        mark(condition);
      }
    memory.states[number].samples.resize(sample_count);
    memory.states[number].conditions.resize(rule.when.size() + rule.any.size() + rule.unless.size());
  }
  if (marks_all_emitters_)
    for (Index object = 0; object < registry_.objects.size(); ++object)
      if (registry_.presences[object].in_use) mark_emitters_of(registry_.handle(object));
  std::sort(before.begin(), before.end());
  return std::any_of(marked_.begin(), marked_.end(), [&](Index object) {
    return registry_.objects[object].location && !std::binary_search(before.begin(), before.end(), object);
  });
}

/// Marks the object: it is evaluated at ticks.
void Rules::mark(Object object) {
  if (!registry_.alive(object)) return;
  if (!std::exchange(registry_.objects[object.index].is_read_by_rules, true)) marked_.push_back(object.index);
}

void Rules::mark(const Condition& condition) {
  const auto mark_place_or_tag = [this](const PlaceOrTag& someone) {
    mark(someone.place.target.object);
    for (const Object object : someone.tagged.members()) mark(object);
  };
  const AnyCondition::Variant& values = AnyCondition::of(condition);
  if (const auto* distance_condition = std::get_if<DistanceCondition>(&values)) {
    mark_place_or_tag(distance_condition->who);
    mark_place_or_tag(distance_condition->to);
  } else if (const auto* within = std::get_if<AreaCondition>(&values)) {
    mark_place_or_tag(within->who);
    if (within->sphere) mark(within->sphere->at.target.object);
  } else if (const auto* measured = std::get_if<WatchCondition>(&values)) {
    mark(measured->resolved->object());
    if (measured->resolved->other()) mark(*measured->resolved->other());
  } else if (const auto* event = std::get_if<EventCondition>(&values)) {
    if (event->of.is_given())
      mark_emitters_of(event->of.object);
    else
      marks_all_emitters_ = true;
  }
}

void Rules::mark_emitters_of(Object object) {
  if (!registry_.alive(object)) return;
  registry_.for_stack(object.index, [&](Index b) {
    if (registry_.behaviours[b].kind->traits().emits_events) mark(object);
  });
}

void Rules::reserve(std::size_t events) {
  memory.received.reserve(events);
  memory.firings.reserve(rules_.size());
  const std::size_t links = std::min(rules_.size() * rules_.size(), std::size_t{4096});
  memory.links.reserve(links);
  saved_links_.reserve(links);
  number_.reserve(4);
}

// --- evaluation ------------------------------------------------------------------------------------------------------

void Rules::receive(const Event& event) {
  if (!rules_.empty()) memory.received.push_back({event.name, event.subject, none});
}

void Rules::raised(const RuleMemory::Firing& by) {
  memory.links.push_back({by.rule, by.link});
  memory.received.back().link = static_cast<Index>(memory.links.size() - 1);
}

void Rules::evaluate(Time tick) noexcept {
  tick_ = tick;
  memory.firings.clear();
  for (const Index number : in_order()) {
    const Rule& rule = rules_[number];
    RuleMemory::State& state = memory.states[number];
    Index link = none;
    if (!rule.enabled) {
      state.holds = false;
      std::fill(state.conditions.begin(), state.conditions.end(), false);
      continue;
    }
    ++state.report.ticks;
    if (!holds(rule, number, link)) {
      state.holds = false;
      if (rule.fires != Fires::once) state.fired = false;
      continue;
    }
    ++state.report.held;
    const auto momentary = [](const Condition& condition) { return condition.is_momentary(); };
    const bool is_new = !state.holds || std::any_of(rule.when.begin(), rule.when.end(), momentary) ||
                        std::any_of(rule.any.begin(), rule.any.end(), momentary);
    if (is_new) {
      state.since = tick;
      if (rule.fires != Fires::once) state.fired = false;
    }
    state.holds = true;
    if (tick - state.since < rule.held_for || (state.fired && rule.fires != Fires::always)) continue;
    state.fired = true;
    ++state.report.fired;
    memory.firings.push_back({number, link});
  }
  save_links();
  memory.received.clear();
  memory.evaluated_at = tick;
}

/// Conditions that compare moments are always evaluated: they compare one tick with the next.
bool Rules::holds(const Rule& rule, Index number, Index& link) {
  next_sample_ = 0;
  std::vector<bool>& each = memory.states[number].conditions;
  std::size_t next = 0;
  const auto test = [&](const Condition& condition, Index& from) {
    const bool is_held = holds(condition, number, from);
    each[next++] = is_held;
    return is_held;
  };
  bool all = true, one = rule.any.empty(), none_of = true;
  for (const Condition& condition : rule.when) all = test(condition, link) && all;
  for (const Condition& condition : rule.any) one = test(condition, link) || one;
  Index ignored = none;
  for (const Condition& condition : rule.unless) none_of = !test(condition, ignored) && none_of;
  return all && one && none_of;
}

bool Rules::holds(const Condition& condition, Index rule, Index& link) {
  const AnyCondition::Variant& values = AnyCondition::of(condition);
  if (const auto* key = std::get_if<KeyCondition>(&values)) {
    const InputState::Key& now = inputs_.key(key->key);
    return key->what == KeyCondition::What::pressed ? now.pressed
           : key->what == KeyCondition::What::held  ? now.held
                                                    : now.released;
  }
  if (const auto* distance_condition = std::get_if<DistanceCondition>(&values)) return is_near(*distance_condition);
  if (const auto* within = std::get_if<AreaCondition>(&values)) return is_within(*within);
  if (const auto* measured = std::get_if<WatchCondition>(&values)) {
    // Other conditions have no samples.
    RuleMemory::ResolvedCondition nothing;
    return is_measured(*measured,
                       measured->resolved->needs_past() ? memory.states[rule].samples[next_sample_++] : nothing);
  }
  if (const auto* from = std::get_if<TimeCondition>(&values)) return tick_ >= from->time;
  if (const auto* event = std::get_if<EventCondition>(&values)) return has_happened(*event, rule, link);
  const AnyBehaviour behaviour = std::get<RunningCondition>(values).behaviour.handle;
  if (!registry_.alive(behaviour)) return false;
  return registry_.behaviours[behaviour.index].run.is_started();
}

std::optional<Vec3> Rules::where(const Place& place) const {
  if (!place.moves()) return place.point;
  if (!registry_.is_there(place.target.object)) return std::nullopt;
  const Pose& target = world(place.target.object);
  const bool is_turned = place.offset_space == Space::target;
  return Vec3{target.position + (is_turned ? Vec3{target.rotation * place.point} : place.point)};
}

template <class Visit>
bool Rules::any_place(const PlaceOrTag& someone, Visit&& visit) const {
  if (!someone.is_tagged()) {
    const auto place = where(someone.place);
    return place && visit(*place, someone.place.target.object);
  }
  const auto members = someone.tagged.members();
  return std::any_of(members.begin(), members.end(), [&](Object object) {
    return registry_.is_there(object) && visit(world(object).position, object);
  });
}

/// True where any two different objects are within the distance. `farther`: none are, and both subjects exist.
bool Rules::is_near(const DistanceCondition& distance_condition) const {
  bool any = false;
  const bool near = any_place(distance_condition.who, [&](const Vec3& here, Object one) {
    return any_place(distance_condition.to, [&](const Vec3& there, Object other) {
      if (one.generation != 0 && one == other && distance_condition.who.is_tagged()) return false;
      any = true;
      return (there - here).stableNorm() <= distance_condition.within;
    });
  });
  return distance_condition.farther ? any && !near : near;
}

bool Rules::is_within(const AreaCondition& within) const {
  return any_place(within.who, [&](const Vec3& place, Object) {
    const Box& box = within.box;
    if (!within.sphere) return (place.array() >= box.min.array()).all() && (place.array() <= box.max.array()).all();
    const auto centre = where(within.sphere->at);
    return centre && (place - *centre).stableNorm() <= within.sphere->radius;
  });
}

/// A speed is not known at the first tick at which it is evaluated, nor an acceleration at the first two; the condition
/// does not hold then. At time 0 everything is at rest.
bool Rules::is_measured(const WatchCondition& measured, RuleMemory::ResolvedCondition& samples) {
  const Watch& watch = *measured.resolved;
  const auto other = watch.other();
  if (!registry_.alive(watch.object()) || (other && !registry_.alive(*other))) {
    samples = {};
    return false;
  }
  const Pose pose = watch.is_local() ? evaluator_.local(watch.object().index, tick_) : world(watch.object());
  number_.clear();
  if (watch.needs_past()) {
    const Watch::Sample now{pose, tick_};
    if (tick_ == Time{0}) samples = {now, now};
    const auto [last, before] = std::exchange(samples, {now, samples.last});
    if (!last || (!before && watch.past_samples() > 1)) return false;
    watch.read_motion(Watch::motion(before.value_or(*last), *last, now), number_);
  } else {
    watch.read(pose, other ? world(*other) : Pose{}, number_);
  }
  return (!measured.above || number_[0] > *measured.above) && (!measured.below || number_[0] < *measured.below);
}

/// A rule does not process an event that it led to itself.
bool Rules::has_happened(const EventCondition& event, Index rule, Index& link) const {
  for (const RuleMemory::ReceivedEvent& received : memory.received) {
    if (received.event != event.event || (event.of.is_given() && !(received.subject == event.of.object))) continue;
    if (came_of(received.link, rule)) continue;
    link = received.link;
    return true;
  }
  return false;
}

bool Rules::came_of(Index link, Index rule) const {
  for (; link != none; link = memory.links[link].link)
    if (memory.links[link].rule == rule) return true;
  return false;
}

/// Keeps the links that led to a rule which is going to fire.
void Rules::save_links() {
  saved_links_.clear();
  for (RuleMemory::Firing& firing : memory.firings) {
    const Index first = firing.link;
    if (first != none) firing.link = static_cast<Index>(saved_links_.size());
    for (Index link = first; link != none; link = memory.links[link].link) {
      const bool is_last = memory.links[link].link == none;
      saved_links_.push_back({memory.links[link].rule, is_last ? none : static_cast<Index>(saved_links_.size() + 1)});
    }
  }
  memory.links.swap(saved_links_);
}

}  // namespace hushed::detail
