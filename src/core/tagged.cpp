#include <hushed/tagged.hpp>

#include <algorithm>

#include <hushed/inside/table_reader.hpp>

namespace hushed {

namespace {

Complaint unknown(const std::string& tag, TextPlace where, const inside::Names& names) {
  return {where, "no object here has the tag " + in_quotes(tag) + suggestion(tag, names.tags())};
}

}  // namespace

std::optional<Complaint> read(const Value& from, const Unit& unit, Tag& to) {
  const auto* name = from.as<std::string>();
  if (!name || name->empty()) return inside::expected(from, form_of(static_cast<const Tag*>(nullptr), unit).in_words);
  to = Tag{*name};
  to.where = from.place;
  return std::nullopt;
}

std::optional<Value> write(const Tag& from, const Unit&) {
  return from.name.empty() ? std::nullopt : std::optional{Value{from.name}};
}

Form form_of(const Tag*, const Unit&) { return form::text("a tag that objects have"); }

std::optional<Complaint> resolve(Tag& to, const inside::Names& names) {
  if (to.name.empty() || names.has_tag(to.name)) return std::nullopt;
  return unknown(to.name, to.where, names);
}

std::optional<Complaint> read(const Value& from, const Unit&, Tagged& to) {
  if (!from.as<Value::Table>()) return inside::expected(from, "a tag, such as { tag = \"boat\" }");
  inside::Complaints complaints;
  inside::TableReader table{from, "", complaints};
  Tagged taken;
  if (!table.has("tag")) table.complain(from.place, "\"tag\" is missing; give a tag that objects have.");
  if (table.read_text("tag", taken.tag)) taken.where = table.find("tag")->value.place;
  if (const auto* but_not = table.find("but_not"); but_not && but_not->value.as<std::string>())
    table.read("but_not", unit::none, taken.but_not.emplace_back());
  else
    table.read("but_not", unit::none, taken.but_not);
  table.refuse_the_rest();
  if (!complaints.empty()) return complaints.front();
  to = std::move(taken);
  return std::nullopt;
}

std::optional<Value> write(const Tagged& from, const Unit& unit) {
  if (from.tag.empty()) return std::nullopt;
  Value::Table table;
  table.push_back({"tag", {}, Value{from.tag}});
  if (from.but_not.size() == 1) table.push_back({"but_not", {}, *write(from.but_not[0], unit)});
  if (from.but_not.size() > 1) table.push_back({"but_not", {}, *inside::write_any(from.but_not, unit)});
  return Value{std::move(table)};
}

Form form_of(const Tagged*, const Unit&) {
  const Form name = form_of(static_cast<const Target*>(nullptr), unit::none);
  return form::table({{"tag", form::text("a tag")},
                      {"but_not", form::any_of({name, form::list(name, 1, 1'000'000, "a list of names")},
                                               "the name of an object, or a list of names")}},
                     "every object with a tag");
}

std::optional<Complaint> resolve(Tagged& to, const inside::Names& names) {
  for (Target& one : to.but_not)
    if (auto complaint = resolve(one, names)) return complaint;
  to.found = names.tagged(to.tag);
  if (!to.found) return unknown(to.tag, to.where, names);
  if (to.but_not.empty()) return std::nullopt;
  std::vector<Object> left = *to.found;
  std::erase_if(left, [&](Object object) {
    return std::any_of(to.but_not.begin(), to.but_not.end(), [&](const Target& one) { return one.object == object; });
  });
  to.found = std::make_shared<const std::vector<Object>>(std::move(left));
  return std::nullopt;
}

bool operator==(const Tagged& a, const Tagged& b) { return a.tag == b.tag && a.but_not == b.but_not; }

std::optional<Complaint> read(const Value& from, const Unit& unit, Whom& to) {
  if (from.as<Value::Table>()) {
    Tagged tagged;
    if (auto complaint = read(from, unit, tagged)) return complaint;
    to = std::move(tagged);
    return std::nullopt;
  }
  Target one;
  if (read(from, unit, one)) return inside::expected(from, form_of(static_cast<const Whom*>(nullptr), unit).in_words);
  to = std::move(one);
  return std::nullopt;
}

std::optional<Value> write(const Whom& from, const Unit& unit) {
  return from.is_one() ? write(from.target, unit) : write(from.tagged, unit);
}

Form form_of(const Whom*, const Unit& unit) {
  return form::any_of(
      {form_of(static_cast<const Target*>(nullptr), unit), form_of(static_cast<const Tagged*>(nullptr), unit)},
      "the name of an object, or { tag = \"...\" }");
}

std::optional<Complaint> resolve(Whom& to, const inside::Names& names) {
  return to.is_one() ? resolve(to.target, names) : resolve(to.tagged, names);
}

void add_objects(const Whom& from, inside::References& to) {
  if (from.is_one()) return add_objects(from.target, to);
  to.add(from.tagged.found);
}

}  // namespace hushed
