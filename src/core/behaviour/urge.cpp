// SPDX-License-Identifier: MIT
#include <hushed/urge.hpp>

#include <array>

#include <hushed/detail/table_reader.hpp>

namespace hushed {

namespace {

template <class One>
EntryKinds::Kind info_of() {
  return {One::name, One::summary, fields_of<One>()};
}

template <class... One>
std::array<EntryKinds::Kind, sizeof...(One)> infos_of(const std::variant<One...>*) {
  return {info_of<One>()...};
}

template <class... One>
Urge made_of(const std::variant<One...>*, std::size_t number) {
  constexpr std::array<Urge (*)(), sizeof...(One)> makers{[] { return Urge{One{}}; }...};
  return makers[number]();
}

std::span<const EntryKinds::Kind> all_urges() {
  return entry_kinds(static_cast<const std::vector<Urge>*>(nullptr)).kinds;
}

const EntryKinds::Kind& info_of(const Urge& urge) { return all_urges()[urge.is.index()]; }

const void* owner(const Urge& urge) {
  return std::visit([](const auto& one) { return static_cast<const void*>(&one); }, urge.is);
}
void* owner(Urge& urge) {
  return std::visit([](auto& one) { return static_cast<void*>(&one); }, urge.is);
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
  static const auto kinds = infos_of(static_cast<const Urge::Any*>(nullptr));
  static const EntryKinds all{"urge", kinds};
  return all;
}

std::string_view Urge::name() const { return info_of(*this).name; }

double Urge::weight() const {
  return std::visit([](const auto& one) { return one.weight; }, is);
}

std::optional<Diagnostic> Urge::check() const {
  const EntryKinds::Kind& kind = info_of(*this);
  for (const FieldInfo& field : kind.fields) {
    if (const auto diagnostic = field.check(owner(*this))) return in_entry(kind, field.name, *diagnostic);
    if (field.required && !field.get(owner(*this)))
      return Diagnostic{{},
                        std::string{kind.name} + ": " + std::string{field.name} + ": this is missing; give " +
                            field.form.description + "."};
  }
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Urge& to) {
  if (!from.as<Value::Table>())
    return detail::expected(from, form_of(static_cast<const Urge*>(nullptr), unit).description);
  detail::Diagnostics diagnostics;
  detail::TableReader table{from, "", diagnostics};
  const Value::Entry* named = table.find("urge");
  if (!named) return Diagnostic{from.place, "\"urge\" is missing; give one, such as urge = \"seek\"."};
  const auto names = urge_names();
  std::optional<Diagnostic> diagnostic;
  const auto chosen = detail::read_name(named->value, names, diagnostic);
  if (!chosen) return Diagnostic{diagnostic->place, "urge: " + diagnostic->text};

  const EntryKinds::Kind& kind = all_urges()[*chosen];
  Urge made = made_of(static_cast<const Urge::Any*>(nullptr), *chosen);
  for (const FieldInfo& field : kind.fields) {
    const Value::Entry* entry = table.find(field.name);
    if (entry)
      table.accept(field.name, field.set(owner(made), entry->value));
    else if (field.required)
      table.report(from.place, in_quotes(field.name) + " is missing; give " + field.form.description + ".");
  }
  table.refuse_the_rest();
  if (!diagnostics.empty())
    return Diagnostic{diagnostics.front().place, std::string{kind.name} + ": " + diagnostics.front().text};
  to = std::move(made);
  return std::nullopt;
}

std::optional<Value> write(const Urge& from, const Unit&) {
  const EntryKinds::Kind& kind = info_of(from);
  Value::Table table;
  table.push_back({"urge", {}, Value{std::string{kind.name}}});
  for (const FieldInfo& field : kind.fields) {
    const auto value = field.get(owner(from));
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
  const EntryKinds::Kind& kind = info_of(to);
  for (const FieldInfo& field : kind.fields)
    if (const auto diagnostic = field.resolve(owner(to), names)) return in_entry(kind, field.name, *diagnostic);
  return std::nullopt;
}

void add_objects(const Urge& from, detail::References& to) {
  for (const FieldInfo& field : info_of(from).fields) field.add_objects(owner(from), to);
}

void aim(std::vector<Urge>& to, Object at) {
  for (Urge& urge : to)
    for (const FieldInfo& field : info_of(urge).fields)
      if (field.aim && field.name == "target") return field.aim(owner(urge), at);
}

}  // namespace hushed
