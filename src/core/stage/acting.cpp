// What happens at ticks besides motion: input takes effect, rules are judged and act, what was gathered goes, and
// callbacks are told.

#include <algorithm>

#include <hushed/error.hpp>

#include "stage/stage.hpp"

namespace hushed::inside {

// --- input -----------------------------------------------------------------------------------------------------------

void Stage::input(InputChange::What what, std::string_view name, double value) {
  settle();
  forget_later();
  inputs_.add({now, std::string{name}, what, value}, false);
  bound_past();
}

void Stage::input_beforehand(const InputChange& change) {
  settle();
  if (change.time < now)
    throw BadValue{"input at " + as_text(in_seconds(change.time)) + " s comes too late: it is " +
                   as_text(in_seconds(now)) + " s already."};
  forget_later();
  inputs_.add(change, true);
}

// --- ticks -----------------------------------------------------------------------------------------------------------

void Stage::tick(Time at) noexcept {
  if (!rules_.memory.firings.empty()) act_on_rules(at);
  player_.tick(at);
  commit_tick_memory(at);
  inputs_.tick(at);
  if (!player_.gatherings.empty()) gather(at);  // nobody goes for what has gone
  decide(at);
  if (!rules_.empty()) judge(at);
}

void Stage::stand_at(Time tick, bool ticked) noexcept {
  player_.catch_up();
  now = tick;
  in_tick_ = true;
  before_tick_ = !ticked;
  if (!laid_out_) lay_out_again();
  player_.play({.now = now, .the_others = ticked});
  shown_ = true;
}

// --- rules -----------------------------------------------------------------------------------------------------------

void Stage::add_rule(Rule rule) {
  rules_.add(std::move(rule));
  cast_changed_ = true;
}

void Stage::judge(Time tick) noexcept {
  hear_events();
  rules_.judge(tick);
}

/// In the order of the rules' names, at the moment of the tick, before its poses are computed.
void Stage::act_on_rules(Time tick) noexcept {
  stand_at(tick, false);
  for (const RuleMemory::Firing& firing : rules_.memory.firings) {
    const Rule& rule = rules_.rule(firing.rule);
    if (rule.fires != Fires::always) events.push({now, "fired", {}, {}, {}, {}, 0, rule.name});
    for (const Action& action : rule.then) {
      try {
        do_as_told(firing, action);
      } catch (const std::exception& error) {
        events.push({now, "failed", {}, {}, {}, "the rule " + rule.name + ": " + error.what(), 0});
      }
    }
  }
  rules_.memory.firings.clear();
  in_tick_ = before_tick_ = false;
}

/// What has ended is left alone.
void Stage::do_as_told(const RuleMemory::Firing& firing, const Action& action) {
  using Verb = Action::Verb;
  if (action.verb == Verb::raise) {
    hear_events();
    events.push({now, event_called(action.word), {}, {}, {}, {}, 0, rules_.rule(firing.rule).name});
    hear_events();
    rules_.raised(firing);
    return;
  }
  if (!action.behaviour.path.empty()) {
    if (!cast.alive(action.behaviour.handle)) return;
    const Index behaviour = action.behaviour.handle.index;
    if (action.verb == Verb::set) {
      const std::string path = cast.path_of(behaviour) + '.' + action.field;
      return set(resolve(path), path, action.value);
    }
    if (action.verb != Verb::retarget) return carry_out({.verb = action.verb, .target = behaviour, .by = action.by});
    const Object to = action.to.is_one() ? action.to.target.object
                                         : nearest(cast.behaviours[behaviour].object, action.to.tagged.members());
    if (cast.alive(to)) retarget(behaviour, to);
    return;
  }
  const Object object = action.object.object;
  if (!cast.alive(object)) return;
  Index pose = 0;
  if (action.verb == Verb::place)
    while (cast.objects[object.index].poses[pose].name != action.word) ++pose;
  carry_out({.verb = action.verb, .target = object.index, .pose = pose});
}

Object Stage::nearest(Index to, std::span<const Object> among) const {
  const Vec3 here = layout.worlds[cast.slot_of(to)].position;
  Object found;
  double least = 0.0;
  for (const Object object : among) {
    if (object.index == to || !cast.is_there(object)) continue;
    const double distance = (layout.worlds[cast.slot_of(object.index)].position - here).stableNorm();
    if (found.generation != 0 && distance >= least) continue;
    least = distance;
    found = object;
  }
  return found;
}

void Stage::hear_events() noexcept {
  while (const Event* event = events.next_unheard()) rules_.hear(*event);
}

// --- values that rules set -------------------------------------------------------------------------------------------

/// They are part of the play: when time goes back, they go back.
void Stage::find_set_by_rules() {
  set_by_rules_.clear();
  for (Index number = 0; number < rules_.size(); ++number) {
    for (const Action& action : rules_.rule(number).then) {
      if (action.verb == Action::Verb::retarget && cast.alive(action.behaviour.handle)) {
        const Index behaviour = action.behaviour.handle.index;
        set_by_rules_.push_back({behaviour, aim_of(*cast.behaviours[behaviour].kind), false});
      } else if (action.verb == Action::Verb::set && cast.alive(action.behaviour.handle)) {
        set_by_rules_.push_back(resolve(action.behaviour.path + '.' + action.field));
      }
    }
  }
}

void Stage::keep_set_by_rules(Kept& kept) const {
  for (const auto& [index, field, is_common] : set_by_rules_) {
    const BehaviourRecord& behaviour = cast.behaviours[index];
    kept.set_by_rules.push_back(field->get(is_common ? static_cast<const void*>(&behaviour.common)
                                                     : cast.roster(behaviour).values(behaviour.row)));
  }
}

void Stage::take_back_set_by_rules(const Kept& kept) {
  for (std::size_t i = 0; i < set_by_rules_.size(); ++i) {
    const auto& [index, field, is_common] = set_by_rules_[i];
    BehaviourRecord& behaviour = cast.behaviours[index];
    if (is_common) {
      (void)field->put(&behaviour.common, kept.set_by_rules[i]);
      continue;
    }
    Roster& roster = cast.roster(behaviour);
    const auto values = behaviour.kind->make(roster.values(behaviour.row));
    (void)field->put(values.get(), kept.set_by_rules[i]);
    roster.set_values(behaviour.row, resolved(behaviour, values.get()).get());
  }
}

// --- gathering -------------------------------------------------------------------------------------------------------

/// In the order of the names, at the tick itself.
void Stage::gather(Time tick) noexcept {
  auto& gatherings = player_.gatherings;
  std::sort(gatherings.begin(), gatherings.end(), [this](const auto& a, const auto& b) {
    const auto& one = cast.objects[cast.behaviours[a.behaviour].object].name;
    const auto& other = cast.objects[cast.behaviours[b.behaviour].object].name;
    return one != other ? one < other : a.behaviour < b.behaviour;
  });
  stand_at(tick, true);
  for (const auto& [index, by, then] : gatherings) {
    const Index object = cast.behaviours[index].object;
    const int number = cast.alive(by) ? ++cast.objects[by.index].gathered : 0;
    events.push({now, "gathered", cast.handle(object), cast.behaviour_handle(index), by, {}, number});
    if (then == Gathered::hide) set_hidden(object, true);
    if (then == Gathered::end && !cast.objects[object].ended) end_family(object);
  }
  gatherings.clear();
  in_tick_ = false;
}

// --- callbacks -------------------------------------------------------------------------------------------------------

/// After the frame is shown: what they call takes effect now, as what the program calls between two frames does.
void Stage::tell_listeners() noexcept {
  if (events.empty()) return;
  is_telling_ = true;
  const std::vector<Event> told{events.all().begin(), events.all().end()};
  for (const Event& event : told) {
    for (std::size_t i = 0; i < listeners_.size(); ++i) {
      if (listeners_[i].event != event.name) continue;
      const Callback callback = listeners_[i].callback;
      try {
        callback(event);
      } catch (const std::exception& error) {
        events.push({now, "failed", {}, {}, {}, "what listens to " + in_quotes(event.name) + ": " + error.what(), 0});
      } catch (...) {
        events.push({now, "failed", {}, {}, {}, "what listens to " + in_quotes(event.name) + " threw", 0});
      }
    }
  }
  is_telling_ = false;
}

// --- tags ------------------------------------------------------------------------------------------------------------

/// Whoever has a tag by now, and what rules set, since objects and behaviours have come or gone.
void Stage::look_up_again() {
  rules_.look_up_again();
  find_set_by_rules();
  for (Index index = 0; index < cast.behaviours.size(); ++index) {
    BehaviourRecord& behaviour = cast.behaviours[index];
    if (!behaviour.in_use || cast.needs_all(behaviour)) continue;
    const auto values = behaviour.kind->make(cast.roster(behaviour).values(behaviour.row));
    const NamesInScene names{cast, behaviour.object};
    for (const FieldInfo& field : behaviour.kind->fields()) (void)field.resolve(values.get(), names);
    References looks_at = cast.looks_of(*behaviour.kind, values.get());
    if (looks_at == behaviour.looks_at) continue;
    try {
      cast.set_looks(index, std::move(looks_at), behaviour.common.reads);
      cast.roster(behaviour).set_values(behaviour.row, values.get());
    } catch (const Circle&) {  // one of the new ones comes after it: it goes on without them
    }
  }
}

}  // namespace hushed::inside
