// SPDX-License-Identifier: MIT
#include <hushed/tagged.hpp>

#include <algorithm>

#include <hushed/detail/table_reader.hpp>

namespace hushed {

namespace {

Diagnostic unknown(const std::string& tag, TextPlace where, const detail::Names& names) {
  return {where, "no object in this scene has the tag " + in_quotes(tag) + suggestion(tag, names.tags())};
}

}  // namespace

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Tag& to) {
  const auto* name = from.as<std::string>();
  if (!name || name->empty())
    return detail::expected(from, form_of(static_cast<const Tag*>(nullptr), unit).description);
  to = Tag{*name};
  to.where = from.place;
  return std::nullopt;
}

std::optional<Value> write(const Tag& from, const Unit&) {
  return from.name.empty() ? std::nullopt : std::optional{Value{from.name}};
}

Form form_of(const Tag*, const Unit&) { return form::text("the tag of some objects"); }

std::optional<Diagnostic> Tag::check() const { return std::nullopt; }

std::optional<Diagnostic> resolve(Tag& to, const detail::Names& names) {
  if (to.name.empty() || names.has_tag(to.name)) return std::nullopt;
  return unknown(to.name, to.where, names);
}

std::optional<Diagnostic> read(const Value& from, const Unit&, Tagged& to) {
  if (!from.as<Value::Table>()) return detail::expected(from, "a tag, such as { tag = \"boat\" }");
  detail::Diagnostics diagnostics;
  detail::TableReader table{from, "", diagnostics};
  Tagged taken;
  if (!table.has("tag")) table.report(from.place, "\"tag\" is missing; give the tag of some objects.");
  if (table.read_text("tag", taken.tag)) taken.where = table.find("tag")->value.place;
  if (const auto* except = table.find("except"); except && except->value.as<std::string>())
    table.read("except", unit::none, taken.except.emplace_back());
  else
    table.read("except", unit::none, taken.except);
  table.refuse_the_rest();
  if (!diagnostics.empty()) return diagnostics.front();
  to = std::move(taken);
  return std::nullopt;
}

std::optional<Value> write(const Tagged& from, const Unit& unit) {
  if (from.tag.empty()) return std::nullopt;
  Value::Table table;
  table.push_back({"tag", {}, Value{from.tag}});
  if (from.except.size() == 1) table.push_back({"except", {}, *write(from.except[0], unit)});
  if (from.except.size() > 1) table.push_back({"except", {}, *detail::write_any(from.except, unit)});
  return Value{std::move(table)};
}

Form form_of(const Tagged*, const Unit&) {
  const Form name = form_of(static_cast<const Target*>(nullptr), unit::none);
  return form::table({{"tag", form::text("a tag")},
                      {"except", form::any_of({name, form::list(name, 1, 1'000'000, "a list of names")},
                                              "the name of an object, or a list of names")}},
                     "every object with a tag");
}

std::optional<Diagnostic> resolve(Tagged& to, const detail::Names& names) {
  for (Target& one : to.except)
    if (auto diagnostic = resolve(one, names)) return diagnostic;
  to.found = names.tagged(to.tag);
  if (!to.found) return unknown(to.tag, to.where, names);
  if (to.except.empty()) return std::nullopt;
  std::vector<Object> left = *to.found;
  std::erase_if(left, [&](Object object) {
    return std::any_of(to.except.begin(), to.except.end(), [&](const Target& one) { return one.object == object; });
  });
  to.found = std::make_shared<const std::vector<Object>>(std::move(left));
  return std::nullopt;
}

bool operator==(const Tagged& a, const Tagged& b) { return a.tag == b.tag && a.except == b.except; }

std::optional<Diagnostic> read(const Value& from, const Unit& unit, ObjectOrTag& to) {
  if (from.as<Value::Table>()) {
    Tagged tagged;
    if (auto diagnostic = read(from, unit, tagged)) return diagnostic;
    to = std::move(tagged);
    return std::nullopt;
  }
  Target one;
  if (read(from, unit, one))
    return detail::expected(from, form_of(static_cast<const ObjectOrTag*>(nullptr), unit).description);
  to = std::move(one);
  return std::nullopt;
}

std::optional<Value> write(const ObjectOrTag& from, const Unit& unit) {
  return from.is_one() ? write(from.target, unit) : write(from.tagged, unit);
}

Form form_of(const ObjectOrTag*, const Unit& unit) {
  return form::any_of(
      {form_of(static_cast<const Target*>(nullptr), unit), form_of(static_cast<const Tagged*>(nullptr), unit)},
      "the name of an object, or { tag = \"...\" }");
}

std::optional<Diagnostic> ObjectOrTag::check() const { return std::nullopt; }

std::optional<Diagnostic> resolve(ObjectOrTag& to, const detail::Names& names) {
  return to.is_one() ? resolve(to.target, names) : resolve(to.tagged, names);
}

void add_objects(const ObjectOrTag& from, detail::References& to) {
  if (from.is_one()) return add_objects(from.target, to);
  to.add(from.tagged.found);
}

std::span<const Object> Tagged::members() const { return found ? std::span{*found} : std::span<const Object>{}; }

ObjectOrTag::ObjectOrTag() = default;
ObjectOrTag::ObjectOrTag(Target one) : target{std::move(one)} {}
ObjectOrTag::ObjectOrTag(Object one) : target{one} {}
ObjectOrTag::ObjectOrTag(const char* name) : target{name} {}
ObjectOrTag::ObjectOrTag(Tagged any) : tagged{std::move(any)} {}

void aim(ObjectOrTag& to, Object at) { to = at; }

}  // namespace hushed
