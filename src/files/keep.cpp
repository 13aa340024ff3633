// SPDX-License-Identifier: MIT
#include <hushed/keep.hpp>

#include <algorithm>
#include <deque>
#include <system_error>

#include <hushed/detail/new_file.hpp>
#include <hushed/edit.hpp>
#include <hushed/load.hpp>

#include "keep/line_changes.hpp"
#include "keep/scene_document.hpp"
#include "keep/toml_text.hpp"
#include "read_whole.hpp"
#include "toml.hpp"

namespace hushed {

namespace {

using detail::entry_of;
using detail::inner;
using detail::parts_of;
using detail::TomlText;

std::string read(const std::filesystem::path& file) {
  return detail::read_whole(file, {"a scene file, such as harbour.toml", std::uintmax_t{64} << 20});
}

/// The behaviour with a name in a list of behaviours.
const Value* behaviour_in(const Value* owner, std::string_view name) {
  const Value* const list = owner ? inner(*owner, "behaviour") : nullptr;
  const auto index = list ? detail::index_of_name(*list, name) : std::nullopt;
  return index ? &(*list->as<Value::List>())[*index] : nullptr;
}

/// The place of a value in a file: a key of a table. The value may be missing.
struct Spot {
  const Value* table = nullptr;
  std::string key;
  std::string note = {};
};

/// Finds a value in the table of an object's own values, whose keys may be dotted or nested.
std::optional<Spot> spot_in_tune(const Value& table, const std::string& path, const std::string& before = "") {
  for (const Value::Entry& entry : *table.as<Value::Table>()) {
    const std::string full = before.empty() ? entry.key : before + '.' + entry.key;
    if (full == path) return Spot{&table, entry.key};
    if (path.starts_with(full + '.') && entry.value.as<Value::Table>())
      if (auto found = spot_in_tune(entry.value, path, full)) return found;
  }
  return std::nullopt;
}

class Planner {
 public:
  /// Plans changes of edited texts; `source`: the texts as they are in the files.
  Planner(const SceneSource& source, const SceneSource& edited) {
    for (const SceneSource::File& file : edited.files()) {
      const auto original = std::find_if(source.files().begin(), source.files().end(),
                                         [&](const SceneSource::File& each) { return each.path == file.path; });
      const std::string& before = original == source.files().end() ? file.text : original->text;
      texts_.push_back({file.path, before, TomlText{file.text}});
      for (const detail::LineChange& change : detail::line_changes(before, file.text))
        plan_.lines.push_back({"", file.path, change.number, change.before, change.after, ""});
    }
  }

  void put(const ValueToKeep& kept) {
    try {
      const std::vector<std::string> parts = parts_of(kept.path);
      if (parts.size() == 4 && parts[0] == "preset")
        put_in_preset(kept, parts);
      else if (parts.size() == 3)
        put_on_object(kept, parts);
      else
        refuse(kept, "this is not the path of a value; give OBJECT.BEHAVIOUR.FIELD.");
    } catch (const Diagnostic&) {
      refuse(kept,
             "the way this part of the file is written cannot be edited automatically; change the value by hand.");
    }
  }

  KeepPlan take() {
    for (Text& text : texts_) {
      if (text.now.text() == text.original) continue;
      plan_.before.push_back({text.path, text.original});
      plan_.after.push_back({text.path, text.now.text()});
    }
    return std::move(plan_);
  }

 private:
  struct Text {
    std::filesystem::path path;
    std::string original;
    TomlText now;
  };

  void refuse(const ValueToKeep& kept, std::string why) { plan_.refusals.push_back({kept.path, std::move(why)}); }

  void put_in_preset(const ValueToKeep& kept, const std::vector<std::string>& parts) {
    for (Text& text : texts_) {
      const Value* const presets = inner(text.now.document(), "preset");
      const Value* const preset = presets ? inner(*presets, parts[1]) : nullptr;
      if (const Value* const behaviour = behaviour_in(preset, parts[2]))
        return write(text, {behaviour, parts[3], "for all objects that use " + parts[1]}, kept);
    }
    refuse(kept, "no file contains this preset; write it by hand.");
  }

  void put_on_object(const ValueToKeep& kept, const std::vector<std::string>& parts) {
    Text& main = texts_.front();
    const Value* const objects = inner(main.now.document(), "object");
    const Value* const object = objects ? inner(*objects, parts[0]) : nullptr;
    if (!object) return put_on_crowd(kept, parts);
    if (const Value* const behaviour = behaviour_in(object, parts[1])) return write(main, {behaviour, parts[2]}, kept);
    if (stands_for(*object, parts)) return write(main, {object, parts[1]}, kept);

    const std::string preset = preset_with(*object, parts[1]);
    if (preset.empty())
      return refuse(kept, "the file gives " + parts[0] + " no behaviour of this name; write it by hand.");
    const std::string path = preset + '.' + parts[1] + '.' + parts[2];
    const Value* const tune = inner(*object, "tune");
    if (tune && tune->as<Value::Table>()) {
      if (const auto spot = spot_in_tune(*tune, path)) return write(main, *spot, kept);
      return write(main, {tune, '"' + path + '"'}, kept);
    }
    if (!kept.value) return;  // the preset has this value already
    write(main, {object, "tune"}, {kept.path, Value{Value::Table{{'"' + path + '"', {}, *kept.value}}}});
  }

  void put_on_crowd(const ValueToKeep& kept, const std::vector<std::string>& parts) {
    Text& main = texts_.front();
    const std::size_t dash = parts[0].rfind('-');
    const Value* const crowds = inner(main.now.document(), "crowd");
    const Value* const crowd = crowds && dash != std::string::npos ? inner(*crowds, parts[0].substr(0, dash)) : nullptr;
    if (const Value* const behaviour = behaviour_in(crowd, parts[1]))
      return write(main, {behaviour, parts[2], "for all objects of the crowd " + parts[0].substr(0, dash)}, kept);
    if (crowd && stands_for(*crowd, parts))
      return write(main, {crowd, parts[1], "for all objects of the crowd " + parts[0].substr(0, dash)}, kept);
    refuse(kept, crowd ? "the file cannot hold a value for one member of a crowd; tune the preset instead."
                       : "the file contains no object of this name; write it by hand.");
  }

  /// True where a key of the object's table is the value: `pace`, which stands for the rate of a behaviour.
  static bool stands_for(const Value& object, const std::vector<std::string>& parts) {
    return parts[1] == "pace" && parts[2] == "rate" && inner(object, "pace") != nullptr;
  }

  std::string preset_with(const Value& object, const std::string& behaviour) const {
    const Value* const use = inner(object, "use");
    if (!use || !use->as<Value::List>()) return "";
    for (const Value& name : *use->as<Value::List>()) {
      if (!name.as<std::string>()) continue;
      for (const Text& text : texts_) {
        const Value* const presets = inner(text.now.document(), "preset");
        const Value* const preset = presets ? inner(*presets, *name.as<std::string>()) : nullptr;
        if (behaviour_in(preset, behaviour)) return *name.as<std::string>();
      }
    }
    return "";
  }

  /// Changes the text and reads it again. Returns true where the value is in it and no other value has changed.
  void write(Text& text, const Spot& spot, const ValueToKeep& kept) {
    TomlText next = text.now;
    const Value::Entry* const old = entry_of(*spot.table, spot.key);
    // The corresponding table in the copy.
    const Value* const table = found_again(next.document(), *spot.table);
    if (old && kept.value)
      next.replace(old->value, *kept.value);
    else if (old)
      next.take_out(*table, *entry_of(*table, spot.key));
    else if (kept.value && !next.add(*table, spot.key, *kept.value))
      return refuse(
          kept,
          "its table exists only in dotted keys, which cannot be edited automatically; change the value by hand.");
    if (!differs_there_alone(text.now.document(), next.document(), *spot.table, spot.key, kept.value))
      return refuse(
          kept, "the way this part of the file is written cannot be edited automatically; change the value by hand.");
    note_line(text, next.text(), spot, kept.path);
    text.now = std::move(next);
  }

  /// The corresponding table in another document that was read from equal text.
  static const Value* found_again(const Value& in, const Value& table) {
    const auto is_there = [&](const Value& each) {
      return each.as<Value::Table>() && each.place.line == table.place.line &&
             each.place.column == table.place.column && detail::say_the_same(each, table);
    };
    if (is_there(in)) return &in;
    if (const auto* entries = in.as<Value::Table>())
      for (const Value::Entry& entry : *entries)
        if (const Value* const found = found_again(entry.value, table)) return found;
    if (const auto* items = in.as<Value::List>())
      for (const Value& item : *items)
        if (const Value* const found = found_again(item, table)) return found;
    return nullptr;
  }

  static bool differs_there_alone(const Value& before, const Value& after, const Value& table, const std::string& key,
                                  const std::optional<Value>& value) {
    if (&before == &table) {
      std::string plain = key;
      std::erase(plain, '"');
      const auto *old = before.as<Value::Table>(), *now = after.as<Value::Table>();
      if (!old || !now) return false;
      for (const Value::Entry& entry : *old) {
        const auto* other = entry_of(after, entry.key);
        if (entry.key != plain && (!other || !detail::say_the_same(entry.value, other->value))) return false;
      }
      for (const Value::Entry& entry : *now)
        if (entry.key != plain && !entry_of(before, entry.key)) return false;
      const auto* made = entry_of(after, plain);
      return value ? made && (detail::say_the_same(made->value, *value) || value->as<Value::Table>()) : !made;
    }
    const auto *list = before.as<Value::List>(), *other_list = after.as<Value::List>();
    if (list && other_list && list->size() == other_list->size()) {
      for (std::size_t i = 0; i < list->size(); ++i)
        if (!differs_there_alone((*list)[i], (*other_list)[i], table, key, value)) return false;
      return true;
    }
    const auto *entries = before.as<Value::Table>(), *others = after.as<Value::Table>();
    if (entries && others && entries->size() == others->size()) {
      for (const Value::Entry& entry : *entries) {
        const auto* other = entry_of(after, entry.key);
        if (!other || !differs_there_alone(entry.value, other->value, table, key, value)) return false;
      }
      return true;
    }
    return detail::say_the_same(before, after);
  }

  void note_line(const Text& text, const std::string& next, const Spot& spot, const std::string& path) {
    const std::string& now = text.now.text();
    if (now == next) return;
    const std::size_t shorter = std::min(now.size(), next.size());
    std::size_t same = 0;
    while (same < shorter && now[same] == next[same]) ++same;
    std::size_t tail = 0;
    while (tail < shorter - same && now[now.size() - 1 - tail] == next[next.size() - 1 - tail]) ++tail;
    const auto lines = [](const std::string& all, std::size_t from, std::size_t to) {
      const std::size_t start = from == 0 ? 0 : all.rfind('\n', from - 1) + 1;
      std::size_t end = std::min(all.find('\n', to > from && all[to - 1] == '\n' ? to - 1 : to), all.size());
      if (end > start && all[end - 1] == '\r') --end;
      return all.substr(start, end - start);
    };
    const auto count = [](const std::string& all) { return std::count(all.begin(), all.end(), '\n'); };
    std::string before = lines(now, same, now.size() - tail), after = lines(next, same, next.size() - tail);
    auto number = std::count(next.begin(), next.begin() + static_cast<std::ptrdiff_t>(same), '\n') + 1;
    if (count(next) > count(now)) {  // a line was added: the last of the lines that differ
      const std::size_t at = after.rfind('\n');
      number += std::count(after.begin(), after.end(), '\n');
      after = at == std::string::npos ? after : after.substr(at + 1);
      before.clear();
    } else if (count(next) < count(now)) {
      before = before.substr(0, before.find('\n'));
      after.clear();
    }
    plan_.lines.push_back({path, text.path, static_cast<int>(number), before, after, spot.note});
  }

  std::vector<Text> texts_;
  KeepPlan plan_;
};

}  // namespace

SceneSource::SceneSource(const std::filesystem::path& file) {
  files_.push_back({file, read(file)});
  for (std::size_t i = 0; i < files_.size(); ++i) {
    const std::filesystem::path from = files_[i].path;
    Value document;
    try {
      document = detail::parse_toml(files_[i].text);
    } catch (const Diagnostic& diagnostic) {
      throw LoadError{from.string(), {diagnostic}};
    }
    const Value* const includes = inner(document, "include");
    if (!includes || !includes->as<Value::List>()) continue;
    for (const Value& name : *includes->as<Value::List>()) {
      if (!name.as<std::string>()) continue;
      const std::filesystem::path included = from.parent_path() / *name.as<std::string>();
      const bool is_known = std::any_of(files_.begin(), files_.end(), [&](const File& known) {
        std::error_code failed;
        return std::filesystem::equivalent(known.path, included, failed) && !failed;
      });
      if (!is_known) files_.push_back({included, read(included)});
    }
  }
}

KeepPlan plan_keep(const SceneSource& source, std::span<const ValueToKeep> values) {
  return plan_keep(source, source, values);
}

KeepPlan plan_keep(const SceneSource& source, const SceneSource& edited, std::span<const ValueToKeep> values) {
  Planner planner{source, edited};
  for (const ValueToKeep& value : values) planner.put(value);
  return planner.take();
}

namespace {

[[noreturn]] void refuse_changed(const SceneSource::File& file) {
  throw FileChanged{
      file.path.string() +
      ": the file was changed by another program since it was read. Nothing was written; read the file again "
      "first."};
}

}  // namespace

void keep(const KeepPlan& plan) {
  for (const SceneSource::File& file : plan.before)
    if (read(file.path) != file.text) refuse_changed(file);
  // All new files are complete before the first one replaces an old one.
  std::deque<detail::NewFile> next;
  for (const SceneSource::File& file : plan.after) next.emplace_back(file.path).write(file.text);
  std::size_t kept = 0;
  try {
    for (; kept < next.size(); ++kept)
      if (!next[kept].replace_if_unchanged(plan.before[kept].text)) refuse_changed(plan.before[kept]);
  } catch (const Error& error) {
    for (std::size_t i = 0; i < kept; ++i) {  // restores the old files, so that all or none are changed
      detail::NewFile old{plan.after[i].path};
      old.write(plan.before[i].text);
      if (!old.replace_if_unchanged(plan.after[i].text))
        throw Error{std::string{error.what()} + " Only " + plan.after[i].path.string() +
                    " was written, and another program has changed it since."};
    }
    throw;
  }
}

}  // namespace hushed
