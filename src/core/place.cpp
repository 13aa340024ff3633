// SPDX-License-Identifier: MIT
#include <hushed/place.hpp>

#include <hushed/detail/table_reader.hpp>

namespace hushed {

using detail::expected;

std::optional<Diagnostic> read(const Value& from, const Unit&, Target& to) {
  const auto* name = from.as<std::string>();
  if (!name || name->empty()) return expected(from, "the name of an object");
  to = Target{*name};
  to.where = from.place;
  return std::nullopt;
}

std::optional<Value> write(const Target& from, const Unit&) {
  return from.is_given() ? std::optional{Value{from.name}} : std::nullopt;
}

Form form_of(const Target*, const Unit&) { return form::text("the name of an object"); }

std::optional<Diagnostic> resolve(Target& to, const detail::Names& names) {
  if (to.name.empty()) {
    if (to.object.generation != 0) to.name = names.name_of(to.object);
    return std::nullopt;
  }
  const bool was_found = to.object.generation != 0;
  if (was_found && names.name_of(to.object) == to.name) return std::nullopt;
  const Object found = names.object(to.name);
  if (found.generation == 0 && was_found && names.keeps_lost()) return std::nullopt;
  to.object = found;
  if (found.generation != 0) return std::nullopt;
  return Diagnostic{to.where, "no object " + in_quotes(to.name) + " in this scene" + names.suggest(to.name)};
}

void add_objects(const Target& from, detail::References& to) {
  if (from.object.generation != 0) to.add(from.object);
}

std::optional<Diagnostic> Target::check() const { return std::nullopt; }

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Place& to) {
  if (from.as<std::string>()) {
    Place place;
    if (auto diagnostic = read(from, unit, place.target)) return diagnostic;
    to = std::move(place);
    return std::nullopt;
  }
  if (from.as<Value::Table>()) {
    Place place;
    detail::Diagnostics diagnostics;
    detail::TableReader table{from, "", diagnostics};
    if (!table.has("object")) table.report(from.place, "\"object\" is missing; give the name of an object.");
    table.read("object", unit::none, place.target);
    table.read("offset", unit::metres, place.point);
    if (const Value::Entry* entry = table.find("offset_space"))
      table.accept("offset_space",
                   detail::read_choice(entry->value, allowed(Space::world, Space::target), place.offset_space));
    table.refuse_the_rest();
    if (!diagnostics.empty()) return diagnostics.front();
    to = std::move(place);
    return std::nullopt;
  }
  Vec3 point;
  if (!from.as<Value::List>()) return expected(from, form_of(static_cast<const Place*>(nullptr), unit).description);
  if (auto diagnostic = detail::read(from, unit::metres, point)) return diagnostic;
  to = Place{point};
  return std::nullopt;
}

std::optional<Value> write(const Place& from, const Unit& unit) {
  if (!from.moves()) return detail::write(from.point, unit);
  if (from.point.isZero(0.0)) return write(from.target, unit);
  Value::Table table;
  table.push_back({"object", {}, *write(from.target, unit)});
  table.push_back({"offset", {}, *detail::write(from.point, unit::metres)});
  if (from.offset_space == Space::target) table.push_back({"offset_space", {}, Value{std::string{"target"}}});
  return Value{std::move(table)};
}

Form form_of(const Place*, const Unit&) {
  const Form name = form_of(static_cast<const Target*>(nullptr), unit::none);
  return form::any_of(
      {form::three(unit::metres), name,
       form::table(
           {{"object", name}, {"offset", form::three(unit::metres)}, {"offset_space", form::word({"world", "target"})}},
           "an object and an offset")},
      "a point [x, y, z], the name of an object, or { object = \"...\", offset = [x, y, z] }");
}

std::optional<Diagnostic> Place::check() const {
  if (auto diagnostic = detail::check_choice(offset_space, allowed(Space::world, Space::target))) return diagnostic;
  return detail::check_any(point, unit::metres);
}

bool operator==(const Target& a, const Target& b) {
  return a.object.generation != 0 && b.object.generation != 0 ? a.object == b.object : a.name == b.name;
}

bool operator==(const Place& a, const Place& b) {
  return a.target == b.target && a.point == b.point && a.offset_space == b.offset_space;
}

std::optional<Diagnostic> resolve(Place& to, const detail::Names& names) { return resolve(to.target, names); }

void add_objects(const Place& from, detail::References& to) { add_objects(from.target, to); }

void aim(Place& to, Object at) {
  if (!to.moves()) to.point.setZero();
  to.target = Target{at};
}

}  // namespace hushed
