// SPDX-License-Identifier: MIT
#include <hushed/edit.hpp>

#include <hushed/detail/scene_access.hpp>
#include <hushed/kinds.hpp>

#include <algorithm>
#include <functional>

#include <hushed/name.hpp>

#include "file_memory.hpp"
#include "keep/scene_document.hpp"
#include "keep/toml_tables.hpp"
#include "keep/toml_text.hpp"
#include "toml.hpp"

namespace hushed {

namespace {

using detail::inner;
using detail::TomlText;
using Path = std::vector<std::string>;

[[noreturn]] void refuse_form(const std::string& what) {
  throw BadValue{what + " is written in a way that cannot be edited automatically; edit it by hand."};
}

// --- what an edit means -------------------------------------------------------------------------------------------

/// The table with another value at a path, or without one.
Value changed_at(const Value& table, std::span<const std::string> path, const std::optional<Value>& value) {
  Value::Table entries;
  if (const auto* old = table.as<Value::Table>()) entries = *old;
  const auto found = std::find_if(entries.begin(), entries.end(),
                                  [&](const Value::Entry& entry) { return entry.key == path.front(); });
  if (path.size() > 1) {
    const Value below =
        changed_at(found == entries.end() ? Value{Value::Table{}} : found->value, path.subspan(1), value);
    if (found == entries.end())
      entries.push_back({path.front(), {}, below});
    else
      found->value = below;
  } else if (!value) {
    if (found != entries.end()) entries.erase(found);
  } else if (found != entries.end()) {
    found->value = *value;
  } else {
    entries.push_back({path.front(), {}, *value});
  }
  return {std::move(entries), table.place};
}

/// An empty list or table is the same as none.
Value without_empty(const Value& document, const Path& path) {
  const Value* const at = inner(document, path);
  const auto* list = at ? at->as<Value::List>() : nullptr;
  const auto* table = at ? at->as<Value::Table>() : nullptr;
  return (list && list->empty()) || (table && table->empty()) ? changed_at(document, path, std::nullopt) : document;
}

// --- words in strings ---------------------------------------------------------------------------------------------

bool is_of_name(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '-' || c == '_'; }

/// The first place of a name in a text, such as of "lamp" in "distance(lamp, tug)"; npos where it has none.
std::size_t find_name(std::string_view text, std::string_view name, std::size_t from = 0) {
  for (std::size_t at = text.find(name, from); at != std::string_view::npos; at = text.find(name, at + 1)) {
    const std::size_t end = at + name.size();
    if ((at == 0 || !is_of_name(text[at - 1])) && (end == text.size() || !is_of_name(text[end]))) return at;
  }
  return std::string_view::npos;
}

std::string with_name(std::string text, const std::string& old, const std::string& name) {
  for (std::size_t at = find_name(text, old); at != std::string::npos; at = find_name(text, old, at + name.size()))
    text.replace(at, old.size(), name);
  return text;
}

bool is_at(const TextPlace& a, const TextPlace& b) { return a.line == b.line && a.column == b.column; }

/// Visits all strings at a place, or in what begins there, and their paths.
void visit_strings(const Value& value, const TextPlace& place, bool is_inside,
                   const std::function<void(const Value&)>& visit) {
  is_inside = is_inside || is_at(value.place, place);
  if (is_inside && value.as<std::string>()) visit(value);
  if (const auto* list = value.as<Value::List>())
    for (const Value& item : *list) visit_strings(item, place, is_inside, visit);
  if (const auto* table = value.as<Value::Table>())
    for (const Value::Entry& entry : *table)
      visit_strings(entry.value, place, is_inside || is_at(entry.place, place), visit);
}

/// The value with another string at a place.
Value with_string_at(const Value& value, const TextPlace& place, const std::string& text) {
  if (value.as<std::string>()) return is_at(value.place, place) ? Value{text, value.place} : value;
  if (const auto* list = value.as<Value::List>()) {
    Value::List items;
    for (const Value& item : *list) items.push_back(with_string_at(item, place, text));
    return {std::move(items), value.place};
  }
  if (const auto* table = value.as<Value::Table>()) {
    Value::Table entries = *table;
    for (Value::Entry& entry : entries) entry.value = with_string_at(entry.value, place, text);
    return {std::move(entries), value.place};
  }
  return value;
}

// --- editing ------------------------------------------------------------------------------------------------------

/// Makes an edit twice: in the text, and in the values that the text says. Both must agree in the end.
class Editor {
 public:
  Editor(const SceneSource& source, const LoadOptions& options)
      : source_{source}, options_{options}, text_{source.files().front().text}, meant_{text_.document()} {}

  SceneSource run(const SceneEdit& edit) {
    try {
      std::visit([this](const auto& one) { make(one); }, edit);
    } catch (const Diagnostic&) {
      refuse_form(describe(edit) + ": this part of the file");
    }
    if (!detail::say_the_same(compared(text_.document()), compared(meant_)))
      refuse_form(describe(edit) + ": this part of the file");
    return source_.with_text(text_.text());
  }

 private:
  void make(const AddObject& edit) {
    check_new(edit.name);
    add_table(edit);
  }

  void add_table(const AddObject& edit) {
    const Path path{"object", edit.name};
    const Value* const objects = inner(document(), "object");
    if (objects && !detail::has_header(text_.text(), std::span{path}.first(1)))
      add_key({"object"}, edit.name, edit.keys);
    else
      text_ = TomlText{detail::with_table(text_.text(), path, edit.keys)};
    mean(path, edit.keys);
  }

  void make(const CopyObject& edit) {
    check_new(edit.name);
    const Path path = object_path(edit.object);
    const Value* const object = inner(document(), path);
    if (auto copied = detail::with_table_copied(text_.text(), path, edit.name))
      text_ = TomlText{std::move(*copied)};
    else
      add_key({"object"}, edit.name, *object);
    mean({"object", edit.name}, *inner(meant_, path));
  }

  void make(const RenameObject& edit) {
    check_new(edit.name);
    const Path path = object_path(edit.object);
    if (names_a_tag(edit.object))
      throw BadValue{edit.object + ": a tag has the same name, so uses of the object cannot be told apart from those " +
                     "of the tag; rename it by hand."};
    auto renamed = detail::with_table_renamed(text_.text(), path, edit.name);
    if (!renamed) refuse_form(edit.object);
    const Value table = *inner(meant_, path);
    meant_ = changed_at(changed_at(meant_, path, std::nullopt), Path{"object", edit.name}, table);
    text_ = TomlText{std::move(*renamed)};
    rename_in_expectations(edit.object, edit.name);
    rename_uses(edit.object, edit.name);
  }

  void make(const RemoveObject& edit) {
    const Path path = object_path(edit.object);
    if (!measures_of(edit.object).empty())
      throw BadValue{edit.object + " is named by an expectation in line " +
                     std::to_string(measures_of(edit.object).front().place.line) + "; remove that first."};
    if (auto left = detail::without_table(text_.text(), path)) {
      text_ = TomlText{std::move(*left)};
    } else {
      const Value* const objects = inner(document(), "object");
      text_.take_out(*objects, *detail::entry_of(*objects, edit.object));
    }
    mean(path, std::nullopt);
    remove_watches(edit.object);
  }

  void make(const SetObjectKey& edit) {
    const Path owner = owner_to_edit(edit.object, edit.key != "tags" && edit.key != "use" && edit.key != "tune");
    const Path rotations{"rotation", "axis_angle", "quaternion"};
    if (edit.value && std::find(rotations.begin(), rotations.end(), edit.key) != rotations.end())
      for (const std::string& other : rotations)
        if (other != edit.key) set_key(owner, other, std::nullopt);
    set_key(owner, edit.key, edit.value);
  }

  void make(const AddBehaviour& edit) {
    const Path owner = owner_to_edit(edit.object);
    const std::size_t index =
        edit.before.empty() ? size_of(stack_of(owner)) : index_in(owner, edit.object, edit.before);
    insert(with(owner, "behaviour"), index, edit.keys);
  }

  void make(const RemoveBehaviour& edit) {
    const auto [owner, object, name] = place_of(edit.path);
    erase(with(owner, "behaviour"), index_in(owner, object, name));
  }

  void make(const MoveBehaviour& edit) {
    const auto [owner, object, name] = place_of(edit.path);
    const Path list = with(owner, "behaviour");
    const std::size_t from = index_in(owner, object, name);
    std::size_t to = edit.before.empty() ? size_of(stack_of(owner)) : index_in(owner, object, edit.before);
    if (to > from) --to;
    if (to == from) return;
    const Value item = items_at(list)[from];
    if (auto moved = detail::with_item_moved(text_.text(), list, from, to)) {
      text_ = TomlText{std::move(*moved)};
    } else {
      text_.erase(*inner(document(), list), from);
      text_.insert(*inner(document(), list), to, item);
    }
    Value::List items = *inner(meant_, list)->as<Value::List>();
    items.erase(items.begin() + static_cast<std::ptrdiff_t>(from));
    items.insert(items.begin() + static_cast<std::ptrdiff_t>(to), item);
    mean(list, items);
  }

  void make(const SetBehaviourKey& edit) {
    const auto [owner, object, name] = place_of(edit.path);
    set_item_key(with(owner, "behaviour"), index_in(owner, object, name), edit.key, edit.value, edit.path);
  }

  void make(const AddRule& edit) { insert({"rule"}, size_of(inner(document(), "rule")), edit.keys); }
  void make(const RemoveRule& edit) { erase({"rule"}, rule_index(edit.name)); }

  void make(const SetRuleKey& edit) {
    set_item_key({"rule"}, rule_index(edit.rule), edit.key, edit.value, "rule " + edit.rule);
  }

  // --- places in the document ---

  const Value& document() const { return text_.document(); }
  static Path with(Path path, const std::string& key) {
    path.push_back(key);
    return path;
  }
  const Value::List& items_at(const Path& list) const { return *inner(document(), list)->as<Value::List>(); }
  static std::size_t size_of(const Value* list) {
    const auto* items = list ? list->as<Value::List>() : nullptr;
    return items ? items->size() : 0;
  }
  const Value* stack_of(const Path& owner) const { return inner(document(), with(owner, "behaviour")); }

  void check_new(const std::string& name) const {
    if (const auto wrong = wrong_with_name(name, "an object")) throw BadValue{*wrong};
    if (!detail::owner_of(document(), name).empty())
      throw BadValue{"another object is called " + in_quotes(name) + "; give another name."};
  }

  Path owner_path(const std::string& object) const {
    Path path = detail::owner_of(document(), object);
    if (!path.empty()) return path;
    std::vector<std::string_view> names;
    const Value* const objects = inner(document(), "object");
    if (const auto* entries = objects ? objects->as<Value::Table>() : nullptr)
      for (const Value::Entry& entry : *entries) names.emplace_back(entry.key);
    if (is_from_artist(object))
      throw BadValue{object +
                     " comes from the file that the scene is from; change it there, or give it other keys here."};
    throw BadValue{"the file contains no object " + in_quotes(object) + suggestion(object, names)};
  }

  /// True for an object of the file that the scene is from.
  bool is_from_artist(const std::string& object) const {
    const Value* const from = inner(document(), Path{"scene", "from"});
    const auto* name = from ? from->as<std::string>() : nullptr;
    if (!name) return false;
    const auto playing = options_.like ? detail::SceneAccess::kinds(*options_.like) : nullptr;
    const Kinds known = options_.kinds ? *options_.kinds : playing ? *playing : Kinds{};
    const auto path = source_.files().front().path.parent_path() / *name;
    try {
      const auto file = detail::FileMemory::of(known)->artist(path.lexically_normal(), known);
      return std::any_of(file->nodes.begin(), file->nodes.end(), [&](const auto& node) { return node.name == object; });
    } catch (const LoadError&) {  // reading the result will say what is wrong
      return false;
    }
  }

  /// An object of an artist gets a table in the scene file, for what is given instead. `is_of_one`: not of the crowd
  /// that an instance belongs to.
  Path owner_to_edit(const std::string& object, bool is_of_one = false) {
    const Path owner = detail::owner_of(document(), object);
    const bool needs_table = owner.empty() || (is_of_one && owner.front() == "crowd");
    if (needs_table && is_from_artist(object)) add_table({object, Value{Value::Table{}}});
    return owner_path(object);
  }

  /// Of an object with a table of its own.
  Path object_path(const std::string& object) const {
    Path path = owner_path(object);
    if (path.front() == "crowd")
      throw BadValue{object + " belongs to the crowd " + path.back() + "; edit the crowd in the file."};
    return path;
  }

  struct BehaviourPlace {
    Path owner;
    std::string object, name;
  };
  BehaviourPlace place_of(const std::string& path) const {
    const std::vector<std::string> parts = detail::parts_of(path);
    if (parts.size() != 2) throw BadValue{in_quotes(path) + " is not a behaviour; give OBJECT.BEHAVIOUR."};
    return {owner_path(parts[0]), parts[0], parts[1]};
  }

  std::size_t index_in(const Path& owner, const std::string& object, const std::string& name) const {
    const Value* const stack = stack_of(owner);
    const auto index = stack ? detail::index_of_name(*stack, name) : std::nullopt;
    if (!index)
      throw BadValue{object + '.' + name + ": the file does not give the object this behaviour itself; what comes " +
                     "from a preset or from a key of the object is edited there."};
    return *index;
  }

  std::size_t rule_index(const std::string& name) const {
    const Value* const rules = inner(document(), "rule");
    const auto index = rules ? detail::index_of_name(*rules, name) : std::nullopt;
    if (!index) throw BadValue{"the file contains no rule " + in_quotes(name) + "."};
    return *index;
  }

  bool names_a_tag(const std::string& name) const {
    bool is_found = false;
    for (const char* owners : {"object", "crowd"}) {
      const Value* const all = inner(document(), owners);
      if (const auto* entries = all ? all->as<Value::Table>() : nullptr)
        for (const Value::Entry& entry : *entries)
          if (const Value* const tags = inner(entry.value, "tags"))
            visit_strings(*tags, tags->place, true,
                          [&](const Value& tag) { is_found = is_found || *tag.as<std::string>() == name; });
    }
    return is_found;
  }

  // --- changes of the text and of what it means ---

  void mean(const Path& path, const std::optional<Value>& value) { meant_ = changed_at(meant_, path, value); }

  static Value compared(const Value& document) {
    Value made = without_empty(document, {"rule"});
    for (const char* owners : {"object", "crowd"})
      if (const Value* const all = inner(document, owners))
        if (const auto* entries = all->as<Value::Table>())
          for (const Value::Entry& entry : *entries) made = without_empty(made, {owners, entry.key, "behaviour"});
    return without_empty(made, {"object"});
  }

  void add_key(const Path& table, const std::string& key, const Value& value) {
    if (!text_.add(*inner(document(), table), key, value)) refuse_form(table.back());
  }

  void set_key(const Path& owner, const std::string& key, const std::optional<Value>& value) {
    if (!is_name(key)) throw BadValue{in_quotes(key) + " is not a key."};
    const Value* table = inner(document(), owner);
    if (!table->as<Value::Table>()) refuse_form(owner.back());
    if (!detail::entry_of(*table, key) && !value) return;
    mean(with(owner, key), value);
    if (!detail::entry_of(*table, key))
      if (auto headed = detail::with_header(text_.text(), owner)) text_ = TomlText{std::move(*headed)};
    write_key(*inner(document(), owner), key, value, owner.back());
  }

  void set_item_key(const Path& list, std::size_t index, const std::string& key, const std::optional<Value>& value,
                    const std::string& whose) {
    if (!is_name(key)) throw BadValue{in_quotes(key) + " is not a key."};
    write_key(items_at(list)[index], key, value, whose);
    Value::List items = *inner(meant_, list)->as<Value::List>();
    items[index] = changed_at(items[index], Path{key}, value);
    mean(list, items);
  }

  void write_key(const Value& table, const std::string& key, const std::optional<Value>& value,
                 const std::string& whose) {
    const Value::Entry* const old = detail::entry_of(table, key);
    if (old && value)
      text_.replace(old->value, *value);
    else if (old)
      text_.take_out(table, *old);
    else if (value && !text_.add(table, key, *value))
      refuse_form(whose);
  }

  void insert(const Path& list, std::size_t index, const Value& item) {
    if (!item.as<Value::Table>()) throw BadValue{list.back() + ": give a table of keys."};
    const Value* const old = inner(document(), list);
    const bool is_in_brackets = size_of(old) > 0 && !detail::has_header(text_.text(), list);
    const Path owner{list.begin(), list.end() - 1};
    if (is_in_brackets)
      text_.insert(*old, index, item);
    else if (auto next = detail::with_item(text_.text(), list, index, item))
      text_ = TomlText{std::move(*next)};
    else
      add_key(owner, list.back(), Value::List{item});
    Value::List items;
    if (const Value* const meant = inner(meant_, list)) items = *meant->as<Value::List>();
    items.insert(items.begin() + static_cast<std::ptrdiff_t>(index), item);
    mean(list, items);
  }

  void erase(const Path& list, std::size_t index) {
    if (auto left = detail::without_item(text_.text(), list, index))
      text_ = TomlText{std::move(*left)};
    else
      text_.erase(*inner(document(), list), index);
    Value::List items = *inner(meant_, list)->as<Value::List>();
    items.erase(items.begin() + static_cast<std::ptrdiff_t>(index));
    mean(list, items);
  }

  void remove_watches(const std::string& object) {
    const Path path{"view", "watch"};
    const Value* const watches = inner(document(), path);
    if (!watches || !watches->as<Value::List>()) return;
    Value::List left = *watches->as<Value::List>();
    for (std::size_t i = left.size(); i-- > 0;) {
      const auto* text = left[i].as<std::string>();
      if (!text || find_name(*text, object) == std::string::npos) continue;
      text_.erase(*inner(document(), path), i);
      left.erase(left.begin() + static_cast<std::ptrdiff_t>(i));
    }
    mean(path, left);
  }

  /// The texts of expectations that name an object.
  std::vector<Value> measures_of(const std::string& object) const {
    std::vector<Value> found;
    const Value* const expectations = inner(document(), "expect");
    if (const auto* list = expectations ? expectations->as<Value::List>() : nullptr)
      for (const Value& each : *list)
        if (const Value* const measure = inner(each, "measure"))
          if (const auto* text = measure->as<std::string>(); text && find_name(*text, object) != std::string::npos)
            found.push_back(*measure);
    return found;
  }

  void rename_in_expectations(const std::string& old, const std::string& name) {
    std::vector<Value> measures = measures_of(old);
    if (measures.empty()) return;
    replace_strings(measures, old, name);
  }

  /// The reader says where the old name is used: the renamed scene has errors there.
  void rename_uses(const std::string& old, const std::string& name) {
    constexpr int most_rounds = 8;
    for (int round = 0; round < most_rounds; ++round) {
      try {
        const SceneFile read = read_scene_source(source_.with_text(text_.text()), options_);
        (void)watches_of(read, source_.files().front().path.string());
        return;
      } catch (const LoadError& error) {
        std::vector<Value> uses;
        for (const Diagnostic& diagnostic : error.diagnostics())
          if (diagnostic.place.file == 0)
            visit_strings(document(), diagnostic.place, false, [&](const Value& text) {
              if (find_name(*text.as<std::string>(), old) != std::string::npos) uses.push_back(text);
            });
        if (uses.empty()) throw BadValue{error.what()};
        replace_strings(uses, old, name);
      }
    }
    throw BadValue{old + ": not all uses of the name could be found; rename it by hand."};
  }

  void replace_strings(std::vector<Value>& strings, const std::string& old, const std::string& name) {
    const auto is_earlier = [](const Value& a, const Value& b) {
      return a.place.line != b.place.line ? a.place.line < b.place.line : a.place.column < b.place.column;
    };
    std::sort(strings.begin(), strings.end(), is_earlier);
    const auto is_same = [](const Value& a, const Value& b) { return is_at(a.place, b.place); };
    strings.erase(std::unique(strings.begin(), strings.end(), is_same), strings.end());
    meant_ = document();
    // The last one first, so that the places of those before it stay true.
    for (auto each = strings.rbegin(); each != strings.rend(); ++each) {
      const std::string renamed = with_name(*each->as<std::string>(), old, name);
      meant_ = with_string_at(meant_, each->place, renamed);
      text_.replace(*each, Value{renamed});
    }
  }

  const SceneSource& source_;
  const LoadOptions& options_;
  TomlText text_;
  Value meant_;  ///< what the text must say in the end
};

}  // namespace

std::string describe(const SceneEdit& edit) {
  struct Words {
    std::string operator()(const AddObject& one) const { return one.name + " is added"; }
    std::string operator()(const CopyObject& one) const { return one.name + " is added, a copy of " + one.object; }
    std::string operator()(const RenameObject& one) const { return one.object + " is renamed " + one.name; }
    std::string operator()(const RemoveObject& one) const { return one.object + " is removed"; }
    std::string operator()(const SetObjectKey& one) const { return one.object + ": " + one.key + " is changed"; }
    std::string operator()(const AddBehaviour& one) const {
      return one.object + '.' + detail::name_in(one.keys) + " is added";
    }
    std::string operator()(const RemoveBehaviour& one) const { return one.path + " is removed"; }
    std::string operator()(const MoveBehaviour& one) const { return one.path + " is moved"; }
    std::string operator()(const SetBehaviourKey& one) const { return one.path + '.' + one.key + " is changed"; }
    std::string operator()(const AddRule& one) const { return "the rule " + detail::name_in(one.keys) + " is added"; }
    std::string operator()(const RemoveRule& one) const { return "the rule " + one.name + " is removed"; }
    std::string operator()(const SetRuleKey& one) const {
      return "the rule " + one.rule + ": " + one.key + " is changed";
    }
  };
  return std::visit(Words{}, edit);
}

SceneSource edited(const SceneSource& source, const SceneEdit& edit, const LoadOptions& options) {
  return Editor{source, options}.run(edit);
}

Value document_of(const SceneSource& source) {
  const SceneSource::File& file = source.files().front();
  try {
    return detail::parse_toml(file.text);
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.path.string(), {diagnostic}};
  }
}

SceneFile read_scene_source(const SceneSource& source, const LoadOptions& options) {
  const SceneSource::File& file = source.files().front();
  return read_scene_text(file.text, file.path.string(), options);
}

}  // namespace hushed
