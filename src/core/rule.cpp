// SPDX-License-Identifier: MIT
#include <hushed/rule.hpp>

#include <algorithm>
#include <array>

#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/detail/scene_names.hpp>
#include <hushed/detail/table_reader.hpp>
#include <hushed/error.hpp>

#include "any_condition.hpp"

namespace hushed {

using detail::AnyCondition;
using detail::SceneNames;
using detail::TableReader;
using Verb = Action::Verb;

// --- in C++ ----------------------------------------------------------------------------------------------------------

Condition pressed(std::string key) { return {KeyCondition{KeyCondition::What::pressed, std::move(key)}}; }
Condition held(std::string key) { return {KeyCondition{KeyCondition::What::held, std::move(key)}}; }
Condition released(std::string key) { return {KeyCondition{KeyCondition::What::released, std::move(key)}}; }
Condition closer_than(PlaceOrTag who, PlaceOrTag to, double within) {
  return {DistanceCondition{std::move(who), std::move(to), within}};
}
Condition farther_than(PlaceOrTag who, PlaceOrTag to, double within) {
  return {DistanceCondition{std::move(who), std::move(to), within, true}};
}
Condition inside(PlaceOrTag who, Box box) { return {AreaCondition{std::move(who), box}}; }
Condition inside(PlaceOrTag who, Sphere sphere) {
  return {AreaCondition{.who = std::move(who), .sphere = std::move(sphere)}};
}
Condition above(std::string watch, double limit) { return {WatchCondition{.watch = std::move(watch), .above = limit}}; }
Condition below(std::string watch, double limit) { return {WatchCondition{.watch = std::move(watch), .below = limit}}; }
Condition between(std::string watch, double low, double high) {
  return {WatchCondition{.watch = std::move(watch), .above = low, .below = high}};
}
Condition after(Time time) { return {TimeCondition{time}}; }
Condition happened(std::string event, Target of) { return {EventCondition{std::move(event), std::move(of)}}; }
Condition running(BehaviourTarget behaviour) { return {RunningCondition{std::move(behaviour)}}; }

Action start(BehaviourTarget behaviour) { return {.verb = Verb::start, .behaviour = std::move(behaviour)}; }
Action stop(BehaviourTarget behaviour) { return {.verb = Verb::stop, .behaviour = std::move(behaviour)}; }
Action toggle(BehaviourTarget behaviour) { return {.verb = Verb::toggle, .behaviour = std::move(behaviour)}; }
Action restart(BehaviourTarget behaviour) { return {.verb = Verb::restart, .behaviour = std::move(behaviour)}; }
Action set(std::string_view path, Value to) {
  const std::size_t dot = path.rfind('.');
  Action action{.verb = Verb::set, .behaviour = std::string{path.substr(0, dot)}, .value = std::move(to)};
  if (dot != std::string_view::npos) action.field = path.substr(dot + 1);
  return action;
}
Action retarget(BehaviourTarget behaviour, ObjectOrTag to) {
  return {.verb = Verb::retarget, .behaviour = std::move(behaviour), .to = std::move(to)};
}
Action place(Target object, std::string pose) {
  return {.verb = Verb::place, .object = std::move(object), .word = std::move(pose)};
}
Action kick(BehaviourTarget behaviour, const Vec3& by) {
  return {.verb = Verb::kick, .behaviour = std::move(behaviour), .by = by};
}
Action hide(Target object) { return {.verb = Verb::hide, .object = std::move(object)}; }
Action show(Target object) { return {.verb = Verb::show, .object = std::move(object)}; }
Action end(Target object) { return {.verb = Verb::end, .object = std::move(object)}; }
Action raise(std::string event) { return {.verb = Verb::raise, .word = std::move(event)}; }

Condition::Condition(KeyCondition one) { AnyCondition::set(*this, std::move(one)); }
Condition::Condition(DistanceCondition one) { AnyCondition::set(*this, std::move(one)); }
Condition::Condition(AreaCondition one) { AnyCondition::set(*this, std::move(one)); }
Condition::Condition(WatchCondition one) { AnyCondition::set(*this, std::move(one)); }
Condition::Condition(TimeCondition one) { AnyCondition::set(*this, one); }
Condition::Condition(EventCondition one) { AnyCondition::set(*this, std::move(one)); }
Condition::Condition(RunningCondition one) { AnyCondition::set(*this, std::move(one)); }

template <class One>
const One* Condition::as() const {
  return std::get_if<One>(&AnyCondition::of(*this));
}
template const KeyCondition* Condition::as<KeyCondition>() const;
template const DistanceCondition* Condition::as<DistanceCondition>() const;
template const AreaCondition* Condition::as<AreaCondition>() const;
template const WatchCondition* Condition::as<WatchCondition>() const;
template const TimeCondition* Condition::as<TimeCondition>() const;
template const EventCondition* Condition::as<EventCondition>() const;
template const RunningCondition* Condition::as<RunningCondition>() const;

bool Condition::is_momentary() const {
  const auto* key = as<KeyCondition>();
  return as<EventCondition>() || (key && key->what != KeyCondition::What::held);
}

PlaceOrTag::PlaceOrTag() = default;
PlaceOrTag::PlaceOrTag(Place at) : place{std::move(at)} {}
PlaceOrTag::PlaceOrTag(Object one) : place{one} {}
PlaceOrTag::PlaceOrTag(const char* name) : place{name} {}
PlaceOrTag::PlaceOrTag(Tagged any) : tagged{std::move(any)} {}

// --- in files --------------------------------------------------------------------------------------------------------

std::optional<Diagnostic> read(const Value& from, const Unit& unit, PlaceOrTag& to) {
  const auto* table = from.as<Value::Table>();
  const bool is_tagged = table && std::any_of(table->begin(), table->end(), [](const Value::Entry& entry) {
                           return entry.key == "tag" || entry.key == "except";
                         });
  return is_tagged ? read(from, unit, to.tagged) : read(from, unit, to.place);
}

Form form_of(const PlaceOrTag*, const Unit& unit) {
  const Form place = form_of(static_cast<const Place*>(nullptr), unit);
  return form::any_of({place, form_of(static_cast<const Tagged*>(nullptr), unit)},
                      place.description + ", or { tag = \"...\" }");
}

namespace {

/// The key that identifies a condition or an action.
struct Head {
  std::string_view key;
  Form (*form)();
  std::vector<std::pair<std::string_view, Form>> (*others)();
};

Form key_form() { return form::text("the name of a key"); }
Form place_or_tag_form() { return form_of(static_cast<const PlaceOrTag*>(nullptr), unit::none); }
Form object_form() { return form_of(static_cast<const Target*>(nullptr), unit::none); }
Form behaviour_form() { return form::text("the path of a behaviour, such as \"bridge.lift\""); }
Form event_form() { return form::text("the name of an event"); }
Form number_form() { return form::number(unit::none); }
Form sphere_form() {
  return form::table(
      {{"at", form_of(static_cast<const Place*>(nullptr), unit::none)}, {"radius", form::number(unit::length)}},
      "{ at = ..., radius = ... }");
}
std::vector<std::pair<std::string_view, Form>> nothing_else() { return {}; }
std::vector<std::pair<std::string_view, Form>> to_within() {
  return {{"to", place_or_tag_form()}, {"within", form::number(unit::length)}};
}
std::vector<std::pair<std::string_view, Form>> box_or_sphere() {
  return {{"box", form_of(static_cast<const Box*>(nullptr), unit::metres)}, {"sphere", sphere_form()}};
}
std::vector<std::pair<std::string_view, Form>> limits() {
  return {
      {"above", number_form()}, {"below", number_form()}, {"between", form::list(number_form(), 2, 2, "two numbers")}};
}
std::vector<std::pair<std::string_view, Form>> of_object() { return {{"of", object_form()}}; }

const std::array<Head, 10> condition_heads{{
    {"pressed", key_form, nothing_else},
    {"held", key_form, nothing_else},
    {"released", key_form, nothing_else},
    {"near", place_or_tag_form, to_within},
    {"far", place_or_tag_form, to_within},
    {"inside", place_or_tag_form, box_or_sphere},
    {"value", [] { return form::text("a watch of one number, such as \"cog.rotation.yaw\""); }, limits},
    {"after", [] { return form::number(unit::seconds); }, nothing_else},
    {"event", event_form, of_object},
    {"running", behaviour_form, nothing_else},
}};

Form any_value() {
  return form::any_of(
      {form::boolean(), number_form(), form::text("a word"), form::list(number_form(), 1, 16, "numbers")},
      "a value of the field");
}
Form nearest_form() {
  return form::table({{"nearest", form_of(static_cast<const Tagged*>(nullptr), unit::none)}},
                     "{ nearest = { tag = \"...\" } }");
}

const std::array<Head, 12> action_heads{{
    {"start", behaviour_form, nothing_else},
    {"stop", behaviour_form, nothing_else},
    {"toggle", behaviour_form, nothing_else},
    {"restart", behaviour_form, nothing_else},
    {"set", [] { return form::text("the path of a value, such as \"lamp.spin.speed\""); },
     [] {
       return std::vector<std::pair<std::string_view, Form>>{{"to", any_value()}};
     }},
    {"retarget", behaviour_form,
     [] {
       return std::vector<std::pair<std::string_view, Form>>{
           {"to", form::any_of({object_form(), nearest_form()}, "an object, or { nearest = { tag = \"...\" } }")}};
     }},
    {"place", object_form,
     [] {
       return std::vector<std::pair<std::string_view, Form>>{{"at", form::text("the name of a pose")}};
     }},
    {"kick", behaviour_form,
     [] {
       return std::vector<std::pair<std::string_view, Form>>{{"by", form::three(unit::of_channel_per_second)}};
     }},
    {"hide", object_form, nothing_else},
    {"show", object_form, nothing_else},
    {"end", object_form, nothing_else},
    {"raise", event_form, nothing_else},
}};

template <std::size_t count>
std::vector<std::string_view> keys_of(const std::array<Head, count>& heads) {
  std::vector<std::string_view> keys;
  for (const Head& head : heads) keys.push_back(head.key);
  return keys;
}

/// The index of the identifying key of a table.
template <std::size_t count>
std::optional<Diagnostic> find_head(const Value& from, const std::array<Head, count>& heads, std::string_view what,
                                    std::size_t& found) {
  const auto* table = from.as<Value::Table>();
  if (!table)
    return detail::expected(from, std::string{what == "action" ? "an " : "a "} + std::string{what} +
                                      " in braces, such as { " + std::string{heads[0].key} + " = \"...\" }");
  std::vector<const Value::Entry*> given;
  for (const Value::Entry& entry : *table)
    for (std::size_t i = 0; i < count; ++i)
      if (entry.key == heads[i].key) {
        given.push_back(&entry);
        found = i;
      }
  if (given.size() == 1) return std::nullopt;
  if (given.size() > 1)
    return Diagnostic{given[1]->place, "found two in one table, " + in_quotes(given[0]->key) + " and " +
                                           in_quotes(given[1]->key) + "; give each a table of its own."};
  const std::string_view first = table->empty() ? std::string_view{} : std::string_view{table->front().key};
  return Diagnostic{table->empty() ? from.place : table->front().place,
                    "unknown " + std::string{what} + " " + in_quotes(first) + suggestion(first, keys_of(heads))};
}

template <std::size_t count>
Form form_of_heads(const std::array<Head, count>& heads, std::string words) {
  std::vector<Form> ways;
  for (const Head& head : heads) {
    auto keys = head.others();
    keys.insert(keys.begin(), {head.key, head.form()});
    ways.push_back(form::table(std::move(keys), std::string{head.key}));
  }
  return form::any_of(std::move(ways), std::move(words));
}

void read_behaviour(TableReader& table, std::string_view key, BehaviourTarget& to) {
  if (table.read_text(key, to.path)) to.where = table.find(key)->value.place;
}

/// A required number.
void read_needed(TableReader& table, std::string_view key, const Unit& unit, std::string_view example, double& to) {
  if (!table.has(key)) table.report(table.place(), in_quotes(key) + " is missing; give " + std::string{example} + ".");
  table.read(key, unit, to);
}

void read_nearness(TableReader& table, std::string_view head, Condition& to) {
  DistanceCondition distance_condition{{}, {}, 0.0, head == "far"};
  table.read(head, unit::none, distance_condition.who);
  if (!table.has("to")) table.report(table.place(), "\"to\" is missing; give an object, a point or a tag.");
  table.read("to", unit::none, distance_condition.to);
  read_needed(table, "within", unit::length, "a distance, such as within = 6 (m)", distance_condition.within);
  to = std::move(distance_condition);
}

void read_within(TableReader& table, Condition& to) {
  AreaCondition within{};
  table.read("inside", unit::none, within.who);
  if (table.has("box") == table.has("sphere"))
    table.report(table.place(), "give either box = [[x, y, z], [x, y, z]] or sphere = { at = ..., radius = ... }.");
  Box box;
  if (table.read("box", unit::metres, box)) within.box = box;
  if (const auto* entry = table.find("sphere")) {
    TableReader sphere{entry->value, table.whose() + "sphere", table.diagnostics()};
    Sphere ball;
    if (!sphere.has("at")) sphere.report(sphere.place(), "\"at\" is missing; give a point or an object.");
    sphere.read("at", unit::none, ball.at);
    read_needed(sphere, "radius", unit::length, "a distance, such as radius = 2 (m)", ball.radius);
    sphere.refuse_the_rest();
    within.sphere = std::move(ball);
  }
  to = std::move(within);
}

void read_measured(TableReader& table, Condition& to) {
  WatchCondition measured;
  if (table.read_text("value", measured.watch)) measured.where = table.find("value")->value.place;
  table.read("above", unit::none, measured.above);
  table.read("below", unit::none, measured.below);
  std::vector<double> limits;
  const bool between = table.read("between", unit::none, limits);
  if (between && limits.size() == 2 && limits[0] <= limits[1] && !measured.above && !measured.below) {
    measured.above = limits[0];
    measured.below = limits[1];
  } else if (table.has("between")) {
    table.report(table.find("between")->value.place,
                 "between: give two numbers, the lower one first, and neither above nor below.");
  } else if (!measured.above && !measured.below) {
    table.report(table.place(), "no limit found; give above = ..., below = ... or between = [..., ...].");
  }
  to = std::move(measured);
}

}  // namespace

std::optional<Diagnostic> read(const Value& from, const Unit&, Condition& to) {
  std::size_t number = 0;
  if (auto diagnostic = find_head(from, condition_heads, "condition", number)) return diagnostic;
  const std::string_view head = condition_heads[number].key;
  detail::Diagnostics diagnostics;
  TableReader table{from, "", diagnostics};
  switch (number) {
    case 0:
    case 1:
    case 2: {
      KeyCondition key{number == 0   ? KeyCondition::What::pressed
                       : number == 1 ? KeyCondition::What::held
                                     : KeyCondition::What::released,
                       {}};
      if (table.read_text(head, key.key) && key.key.empty())
        table.report(table.find(head)->value.place,
                     std::string{head} + ": the name of the key is empty; give one, such as \"H\".");
      to = std::move(key);
      break;
    }
    case 3:
    case 4: read_nearness(table, head, to); break;
    case 5: read_within(table, to); break;
    case 6: read_measured(table, to); break;
    case 7: {
      TimeCondition time{};
      table.read(head, unit::seconds, time.time);
      to = time;
      break;
    }
    case 8: {
      EventCondition event;
      table.read_text(head, event.event);
      table.read("of", unit::none, event.of);
      to = std::move(event);
      break;
    }
    default: {
      RunningCondition one;
      read_behaviour(table, head, one.behaviour);
      to = std::move(one);
    }
  }
  table.refuse_the_rest();
  return diagnostics.empty() ? std::nullopt : std::optional{diagnostics.front()};
}

Form form_of(const Condition*, const Unit&) { return form_of_heads(condition_heads, "a condition"); }

std::optional<Diagnostic> read(const Value& from, const Unit&, Action& to) {
  std::size_t number = 0;
  if (auto diagnostic = find_head(from, action_heads, "action", number)) return diagnostic;
  const std::string_view head = action_heads[number].key;
  detail::Diagnostics diagnostics;
  TableReader table{from, "", diagnostics};
  const auto needs = [&](std::string_view key, std::string_view what) {
    if (table.has(key)) return true;
    table.report(from.place, in_quotes(key) + " is missing; give " + std::string{what} + ".");
    return false;
  };
  to = {};
  to.verb = static_cast<Verb>(number);
  to.where = table.find(head)->value.place;
  switch (to.verb) {
    case Verb::start:
    case Verb::stop:
    case Verb::toggle:
    case Verb::restart: read_behaviour(table, head, to.behaviour); break;
    case Verb::set: {
      std::string path;
      table.read_text(head, path);
      to.behaviour = BehaviourTarget{path.substr(0, path.rfind('.'))};
      to.behaviour.where = to.where;
      to.field = path.find('.') == std::string::npos ? "" : path.substr(path.rfind('.') + 1);
      if (needs("to", "the new value")) to.value = table.find("to")->value;
      break;
    }
    case Verb::retarget:
      read_behaviour(table, head, to.behaviour);
      if (needs("to", "an object, or { nearest = { tag = \"...\" } }")) {
        const Value& whom = table.find("to")->value;
        if (whom.as<Value::Table>()) {
          TableReader nearest{whom, "to", diagnostics};
          if (!nearest.has("nearest"))
            nearest.report(whom.place,
                           "unknown target; give the name of an object, or { nearest = { tag = \"...\" } }.");
          nearest.read("nearest", unit::none, to.to.tagged);
          nearest.refuse_the_rest();
        } else {
          table.read("to", unit::none, to.to.target);
        }
      }
      break;
    case Verb::place:
      table.read(head, unit::none, to.object);
      if (needs("at", "the name of a pose")) table.read_text("at", to.word);
      break;
    case Verb::kick:
      read_behaviour(table, head, to.behaviour);
      if (needs("by", "three numbers")) table.read("by", unit::of_channel_per_second, to.by);
      break;
    case Verb::hide:
    case Verb::show:
    case Verb::end: table.read(head, unit::none, to.object); break;
    case Verb::raise: table.read_text(head, to.word); break;
  }
  table.refuse_the_rest();
  return diagnostics.empty() ? std::nullopt : std::optional{diagnostics.front()};
}

Form form_of(const Action*, const Unit&) { return form_of_heads(action_heads, "an action"); }

// --- names --------------------------------------------------------------------------------------------------

namespace {

std::optional<Diagnostic> resolve_place_or_tag(PlaceOrTag& to, const SceneNames& names) {
  return to.is_tagged() ? resolve(to.tagged, names) : resolve(to.place, names);
}

/// The behaviour's object and kind.
struct Found {
  Object object;
  const detail::Kind* kind = nullptr;
};

std::optional<Diagnostic> find(BehaviourTarget& to, const SceneNames& names, Found& found) {
  if (to.path.empty() && to.handle.generation != 0) to.path = names.path_of(to.handle);
  const std::string_view path = to.path;
  const std::size_t dot = path.find('.');
  if (dot == std::string_view::npos)
    return Diagnostic{
        to.where, in_quotes(path) + " is not the path of a behaviour; give OBJECT.BEHAVIOUR, such as \"bridge.lift\"."};
  found.object = names.object(path.substr(0, dot));
  if (found.object.generation == 0)
    return Diagnostic{to.where, "no object " + in_quotes(path.substr(0, dot)) + " in this scene" +
                                    suggestion(path.substr(0, dot), names.objects())};
  found.kind = names.kind_of(found.object, path.substr(dot + 1));
  if (!found.kind)
    return Diagnostic{to.where, std::string{path.substr(0, dot)} + " has no behaviour " +
                                    in_quotes(path.substr(dot + 1)) +
                                    suggestion(path.substr(dot + 1), names.behaviours_of(found.object))};
  return std::nullopt;
}

std::optional<Diagnostic> check_field(const Action& action, const detail::Kind& kind, const SceneNames& names) {
  const auto [field, is_common] = detail::find_field(kind, action.field);
  if (!field)
    return Diagnostic{action.where, action.behaviour.path + ": unknown key " + in_quotes(action.field) +
                                        suggestion(action.field, detail::field_names(kind))};
  Common common;
  const auto values = kind.make(nullptr);
  void* const owner = is_common ? static_cast<void*>(&common) : values.get();
  if (!owner) return std::nullopt;  // an own kind without default values: checked when the rule acts
  auto diagnostic = field->set(owner, action.value);
  if (!diagnostic) diagnostic = field->resolve(owner, names);
  if (diagnostic && diagnostic->place.line == 0) diagnostic->place = action.where;
  return diagnostic;
}

bool is_from(double low, double number, double high) { return number >= low && number <= high; }  // false for nan

std::optional<Diagnostic> check_number(double low, double number, const std::string& what) {
  if (is_from(low, number, 1e9)) return std::nullopt;
  return Diagnostic{{},
                    what + ": " + as_text(number) + " is out of range; give a number from " +
                        (low == 0.0 ? "0" : "-1e9") + " to 1e9."};
}

/// Checks values that C++ code may have set. Files are checked when they are read.
std::optional<Diagnostic> check_values(const AnyCondition::Variant& condition) {
  if (const auto* key = std::get_if<KeyCondition>(&condition); key && key->key.empty())
    return Diagnostic{{}, "the name of the key is empty; give one, such as \"H\"."};
  if (const auto* event = std::get_if<EventCondition>(&condition); event && event->event.empty())
    return Diagnostic{{}, "the name of the event is empty; give one."};
  if (const auto* nearness = std::get_if<DistanceCondition>(&condition))
    return check_number(0.0, nearness->within, "within");
  if (const auto* area = std::get_if<AreaCondition>(&condition))
    if (area->sphere) return check_number(0.0, area->sphere->radius, "radius");
  if (const auto* measured = std::get_if<WatchCondition>(&condition))
    for (const auto& [limit, name] : {std::pair{measured->above, "above"}, {measured->below, "below"}})
      if (limit)
        if (auto diagnostic = check_number(-1e9, *limit, name)) return diagnostic;
  if (const auto* time = std::get_if<TimeCondition>(&condition); time && time->time < Time{0})
    return Diagnostic{{}, "after: the time is negative; give 0 s or more."};
  return std::nullopt;
}

std::optional<Diagnostic> resolve_values(AnyCondition::Variant& to, const SceneNames& names) {
  if (auto* distance_condition = std::get_if<DistanceCondition>(&to)) {
    if (auto diagnostic = resolve_place_or_tag(distance_condition->who, names)) return diagnostic;
    return resolve_place_or_tag(distance_condition->to, names);
  }
  if (auto* within = std::get_if<AreaCondition>(&to)) {
    if (auto diagnostic = resolve_place_or_tag(within->who, names)) return diagnostic;
    return within->sphere ? resolve(within->sphere->at, names) : std::nullopt;
  }
  if (auto* measured = std::get_if<WatchCondition>(&to)) {
    try {
      measured->resolved.emplace(measured->watch, names);
    } catch (const Error& error) {
      return Diagnostic{measured->where, error.what()};
    }
    if (measured->resolved->columns().size() == 1) return std::nullopt;
    return Diagnostic{measured->where, "watch " + in_quotes(measured->watch) + " has " +
                                           std::to_string(measured->resolved->columns().size()) +
                                           " numbers; give one of them, such as " + measured->resolved->columns()[0] +
                                           "."};
  }
  if (auto* event = std::get_if<EventCondition>(&to))
    return event->of.is_given() ? resolve(event->of, names) : std::nullopt;
  if (auto* one = std::get_if<RunningCondition>(&to)) {
    Found found;
    return find(one->behaviour, names, found);
  }
  return std::nullopt;
}

}  // namespace

std::optional<Diagnostic> resolve(Condition& to, const SceneNames& names) {
  AnyCondition::Variant values = AnyCondition::of(to);
  if (auto diagnostic = check_values(values)) return diagnostic;
  if (auto diagnostic = resolve_values(values, names)) return diagnostic;
  AnyCondition::set(to, std::move(values));
  return std::nullopt;
}

std::optional<Diagnostic> resolve(Action& to, const SceneNames& names) {
  if (to.verb == Verb::raise) {
    return to.word.empty() ? std::optional{Diagnostic{to.where, "the name of the event is empty; give one."}}
                           : std::nullopt;
  }
  if (to.verb == Verb::place || to.verb == Verb::hide || to.verb == Verb::show || to.verb == Verb::end) {
    if (auto diagnostic = resolve(to.object, names)) return diagnostic;
    if (to.verb != Verb::place) return std::nullopt;
    const auto poses = names.poses_of(to.object.object);
    if (std::find(poses.begin(), poses.end(), to.word) != poses.end()) return std::nullopt;
    return Diagnostic{to.where,
                      to.object.name + " has no pose called " + in_quotes(to.word) + suggestion(to.word, poses)};
  }
  Found found;
  if (auto diagnostic = find(to.behaviour, names, found)) return diagnostic;
  if (to.verb == Verb::set) return check_field(to, *found.kind, names);
  if (to.verb == Verb::kick && !found.kind->traits().has_velocity)
    return Diagnostic{to.where, to.behaviour.path + " has no velocity; only springs and agents can be kicked."};
  if (to.verb == Verb::kick && !(to.by.cwiseAbs().maxCoeff() <= 1e9))
    return Diagnostic{to.where, "by: the kick is not finite or beyond 1e9; give numbers from -1e9 to 1e9."};
  if (to.verb != Verb::retarget) return std::nullopt;
  if (!detail::aim_of(*found.kind))
    return Diagnostic{to.where, to.behaviour.path + " has no target that could be replaced."};
  return to.to.is_one() ? resolve(to.to.target, names) : resolve(to.to.tagged, names);
}

}  // namespace hushed
