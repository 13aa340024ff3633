// SPDX-License-Identifier: MIT
#include <hushed/urge.hpp>

#include <array>

#include <hushed/detail/table_reader.hpp>
#include <hushed/field.hpp>

#include "any_urge.hpp"

namespace hushed {

using detail::AnyUrge;
using Variant = AnyUrge::Variant;

namespace {

/// The name, summary and fields of an urge.
template <class One>
struct Table;
template <>
struct Table<urge::Seek> {
  static constexpr auto name = "seek";
  static constexpr auto summary = "towards a place at full speed";
  static constexpr auto fields =
      std::tuple{field("target", &urge::Seek::target, unit::none, "the place", required),
                 field("weight", &urge::Seek::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Flee> {
  static constexpr auto name = "flee";
  static constexpr auto summary = "away from a place that is near";
  static constexpr auto fields =
      std::tuple{field("target", &urge::Flee::target, unit::none, "the place", required),
                 field("within", &urge::Flee::within, unit::length, "largest distance at which it acts", slider(0, 20)),
                 field("weight", &urge::Flee::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Arrive> {
  static constexpr auto name = "arrive";
  static constexpr auto summary = "to a place, braking to rest there";
  static constexpr auto fields =
      std::tuple{field("target", &urge::Arrive::target, unit::none, "the place", required),
                 field("slow_radius", &urge::Arrive::slow_radius, unit::length, "distance at which it begins to brake",
                       slider(0, 20)),
                 field("weight", &urge::Arrive::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Wander> {
  static constexpr auto name = "wander";
  static constexpr auto summary = "a random walk of the direction";
  static constexpr auto fields = std::tuple{
      field("radius", &urge::Wander::radius, unit::length, "radius of the circle of random directions", slider(0, 5)),
      field("distance", &urge::Wander::distance, unit::length, "distance of that circle ahead: larger is straighter",
            slider(0, 5)),
      field("rate", &urge::Wander::rate, unit::turning_speed, "change of direction in a second", slider(0, 360)),
      field("seed", &urge::Wander::seed, unit::none, "seed of the random walk"),
      field("weight", &urge::Wander::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Pursue> {
  static constexpr auto name = "pursue";
  static constexpr auto summary = "to the point where it meets a moving target";
  static constexpr auto fields =
      std::tuple{field("target", &urge::Pursue::target, unit::none, "the target", required),
                 field("weight", &urge::Pursue::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Evade> {
  static constexpr auto name = "evade";
  static constexpr auto summary = "away from the point where it would meet a moving target";
  static constexpr auto fields = std::tuple{
      field("target", &urge::Evade::target, unit::none, "the target", required),
      field("within", &urge::Evade::within, unit::length, "largest distance at which it acts", slider(0, 20)),
      field("weight", &urge::Evade::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Separation> {
  static constexpr auto name = "separation";
  static constexpr auto summary = "away from neighbours";
  static constexpr auto fields =
      std::tuple{field("tag", &urge::Separation::tag, unit::none, "the tag of the neighbours", required),
                 field("within", &urge::Separation::within, unit::length, "radius of the neighbourhood", slider(0, 20)),
                 field("weight", &urge::Separation::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Alignment> {
  static constexpr auto name = "alignment";
  static constexpr auto summary = "the mean velocity of its neighbours";
  static constexpr auto fields =
      std::tuple{field("tag", &urge::Alignment::tag, unit::none, "the tag of the neighbours", required),
                 field("within", &urge::Alignment::within, unit::length, "radius of the neighbourhood", slider(0, 20)),
                 field("weight", &urge::Alignment::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Cohesion> {
  static constexpr auto name = "cohesion";
  static constexpr auto summary = "to the centre of its neighbours";
  static constexpr auto fields =
      std::tuple{field("tag", &urge::Cohesion::tag, unit::none, "the tag of the neighbours", required),
                 field("within", &urge::Cohesion::within, unit::length, "radius of the neighbourhood", slider(0, 20)),
                 field("weight", &urge::Cohesion::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Path> {
  static constexpr auto name = "path";
  static constexpr auto summary = "along a line, within a width";
  static constexpr auto fields = std::tuple{
      field("points", &urge::Path::points, unit::none, "the points of the line", required),
      field("ahead", &urge::Path::ahead, unit::length, "distance ahead on the line to aim at", slider(0, 10)),
      field("width", &urge::Path::width, unit::length, "width of the corridor around the line", slider(0, 10)),
      field("weight", &urge::Path::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};
template <>
struct Table<urge::Avoid> {
  static constexpr auto name = "avoid";
  static constexpr auto summary = "past obstacles in its path";
  static constexpr auto fields = std::tuple{
      field("tag", &urge::Avoid::tag, unit::none, "the tag of the obstacles: spheres, or the boxes around other shapes",
            required),
      field("ahead", &urge::Avoid::ahead, unit::length, "distance of look-ahead at full speed", slider(0, 20)),
      field("margin", &urge::Avoid::margin, unit::length, "distance kept from obstacles", slider(0, 5)),
      field("weight", &urge::Avoid::weight, unit::ratio, "share of the wanted turn: 0 none, 1 or more all",
            slider(0, 1))};
};
template <>
struct Table<urge::Contain> {
  static constexpr auto name = "contain";
  static constexpr auto summary = "back into a box";
  static constexpr auto fields =
      std::tuple{field("box", &urge::Contain::box, unit::metres,
                       "bounds [[min], [max]] in the parent's space; inf for no bound", required),
                 field("weight", &urge::Contain::weight, unit::ratio, "weight among the urges", slider(0, 5))};
};

template <class One>
EntryKinds::Kind info_of() {
  return {Table<One>::name, Table<One>::summary, fields_of<Table<One>>()};
}

template <class... One>
std::array<EntryKinds::Kind, sizeof...(One)> infos_of(const std::variant<One...>*) {
  return {info_of<One>()...};
}

/// The default values of the urge of a number.
template <class... One>
Variant default_values(const std::variant<One...>*, std::size_t number) {
  constexpr std::array<Variant (*)(), sizeof...(One)> makers{[] { return Variant{One{}}; }...};
  return makers[number]();
}

std::span<const EntryKinds::Kind> all_urges() {
  return entry_kinds(static_cast<const std::vector<Urge>*>(nullptr)).kinds;
}

const EntryKinds::Kind& info_of(const Variant& values) { return all_urges()[values.index()]; }

const void* owner(const Variant& values) {
  return std::visit([](const auto& one) { return static_cast<const void*>(&one); }, values);
}
void* owner(Variant& values) {
  return std::visit([](auto& one) { return static_cast<void*>(&one); }, values);
}

std::vector<std::string_view> urge_names() {
  std::vector<std::string_view> names;
  for (const EntryKinds::Kind& kind : all_urges()) names.push_back(kind.name);
  return names;
}

Diagnostic in_entry(const EntryKinds::Kind& kind, std::string_view key, const Diagnostic& diagnostic) {
  return {diagnostic.place, std::string{kind.name} + ": " + std::string{key} + ": " + diagnostic.text};
}

}  // namespace

const EntryKinds& entry_kinds(const std::vector<Urge>*) {
  static const auto kinds = infos_of(static_cast<const Variant*>(nullptr));
  static const EntryKinds all{"urge", kinds};
  return all;
}

Urge::Urge(urge::Seek one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Flee one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Arrive one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Wander one) { AnyUrge::set(*this, one); }
Urge::Urge(urge::Pursue one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Evade one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Separation one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Alignment one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Cohesion one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Path one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Avoid one) { AnyUrge::set(*this, std::move(one)); }
Urge::Urge(urge::Contain one) { AnyUrge::set(*this, std::move(one)); }

template <class One>
const One* Urge::as() const {
  return std::get_if<One>(&AnyUrge::of(*this));
}
template const urge::Seek* Urge::as<urge::Seek>() const;
template const urge::Flee* Urge::as<urge::Flee>() const;
template const urge::Arrive* Urge::as<urge::Arrive>() const;
template const urge::Wander* Urge::as<urge::Wander>() const;
template const urge::Pursue* Urge::as<urge::Pursue>() const;
template const urge::Evade* Urge::as<urge::Evade>() const;
template const urge::Separation* Urge::as<urge::Separation>() const;
template const urge::Alignment* Urge::as<urge::Alignment>() const;
template const urge::Cohesion* Urge::as<urge::Cohesion>() const;
template const urge::Path* Urge::as<urge::Path>() const;
template const urge::Avoid* Urge::as<urge::Avoid>() const;
template const urge::Contain* Urge::as<urge::Contain>() const;

std::string_view Urge::name() const { return info_of(AnyUrge::of(*this)).name; }

double Urge::weight() const {
  return std::visit([](const auto& one) { return one.weight; }, AnyUrge::of(*this));
}

bool Urge::operator==(const Urge& other) const {
  return values_ == other.values_ || AnyUrge::of(*this) == AnyUrge::of(other);
}

std::optional<Diagnostic> Urge::check() const {
  const Variant& values = AnyUrge::of(*this);
  const EntryKinds::Kind& kind = info_of(values);
  for (const FieldInfo& field : kind.fields) {
    if (const auto diagnostic = field.check(owner(values))) return in_entry(kind, field.name, *diagnostic);
    if (field.required && !field.get(owner(values)))
      return Diagnostic{
          {},
          std::string{kind.name} + ": " + std::string{field.name} + ": missing; give " + field.form.description + "."};
  }
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Urge& to) {
  if (!from.as<Value::Table>())
    return detail::expected(from, form_of(static_cast<const Urge*>(nullptr), unit).description);
  detail::Diagnostics diagnostics;
  detail::TableReader table{from, "", diagnostics};
  const Value::Entry* named = table.find("urge");
  if (!named) return Diagnostic{from.place, "\"urge\" is missing; give the name of an urge, such as urge = \"seek\"."};
  const auto names = urge_names();
  std::optional<Diagnostic> diagnostic;
  const auto chosen = detail::read_name(named->value, names, diagnostic);
  if (!chosen) return Diagnostic{diagnostic->place, "urge: " + diagnostic->text};

  const EntryKinds::Kind& kind = all_urges()[*chosen];
  Variant values = default_values(static_cast<const Variant*>(nullptr), *chosen);
  for (const FieldInfo& field : kind.fields) {
    const Value::Entry* entry = table.find(field.name);
    if (entry)
      table.accept(field.name, field.set(owner(values), entry->value));
    else if (field.required)
      table.report(from.place, in_quotes(field.name) + " is missing; give " + field.form.description + ".");
  }
  table.refuse_the_rest();
  if (!diagnostics.empty())
    return Diagnostic{diagnostics.front().place, std::string{kind.name} + ": " + diagnostics.front().text};
  AnyUrge::set(to, std::move(values));
  return std::nullopt;
}

std::optional<Value> write(const Urge& from, const Unit&) {
  const Variant& values = AnyUrge::of(from);
  const EntryKinds::Kind& kind = info_of(values);
  Value::Table table;
  table.push_back({"urge", {}, Value{std::string{kind.name}}});
  for (const FieldInfo& field : kind.fields) {
    const auto value = field.get(owner(values));
    const bool is_usual = value && field.fallback && as_text(*value) == as_text(*field.fallback);
    if (value && !is_usual) table.push_back({std::string{field.name}, {}, *value});
  }
  return Value{std::move(table)};
}

Form form_of(const Urge*, const Unit&) {
  std::vector<Form> ways;
  for (const EntryKinds::Kind& kind : all_urges()) {
    std::vector<std::pair<std::string_view, Form>> keys{{"urge", form::word({kind.name})}};
    for (const FieldInfo& field : kind.fields) keys.emplace_back(field.name, field.form);
    ways.push_back(form::table(std::move(keys), std::string{kind.name}));
  }
  return form::any_of(std::move(ways), "a table with an urge, such as { urge = \"seek\", target = \"buoy\" }");
}

std::optional<Diagnostic> resolve(Urge& to, const detail::Names& names) {
  Variant values = AnyUrge::of(to);
  const EntryKinds::Kind& kind = info_of(values);
  for (const FieldInfo& field : kind.fields)
    if (const auto diagnostic = field.resolve(owner(values), names)) return in_entry(kind, field.name, *diagnostic);
  AnyUrge::set(to, std::move(values));
  return std::nullopt;
}

void add_objects(const Urge& from, detail::References& to) {
  const Variant& values = AnyUrge::of(from);
  for (const FieldInfo& field : info_of(values).fields) field.add_objects(owner(values), to);
}

void aim(std::vector<Urge>& to, Object at) {
  for (Urge& urge : to) {
    Variant values = AnyUrge::of(urge);
    for (const FieldInfo& field : info_of(values).fields)
      if (field.aim && field.name == "target") {
        field.aim(owner(values), at);
        return AnyUrge::set(urge, std::move(values));
      }
  }
}

}  // namespace hushed
