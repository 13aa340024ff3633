// SPDX-License-Identifier: MIT
#include "scene/presets.hpp"

#include <algorithm>

#include "read_whole.hpp"
#include "scene/behaviour_reader.hpp"
#include "toml.hpp"

namespace hushed::detail {

namespace {

constexpr std::uintmax_t largest_file = std::uintmax_t{64} << 20;

std::filesystem::path as_one(const std::filesystem::path& file) {
  std::error_code failed;
  const auto canonical = std::filesystem::weakly_canonical(file, failed);
  return failed ? file.lexically_normal() : canonical;
}

/// "bobbing.sway.frequency", whether written as one key in quotes or as dotted ones.
void flatten(const Value::Table& table, const std::string& before, int depth, std::vector<Value::Entry>& to) {
  for (const Value::Entry& entry : table) {
    const std::string path = before.empty() ? entry.key : before + '.' + entry.key;
    const auto dots = static_cast<int>(std::count(path.begin(), path.end(), '.'));
    const auto* inner = entry.value.as<Value::Table>();
    if (inner && dots < 2 && depth < 3)
      flatten(*inner, path, depth + 1, to);
    else
      to.push_back({path, entry.place, entry.value});
  }
}

/// The behaviour's table with these keys in the place of its own.
Value merged(const Value& source, const std::vector<const Value::Entry*>& own) {
  Value::Table table = *source.as<Value::Table>();
  for (const Value::Entry* entry : own) {
    const std::string key = entry->key.substr(entry->key.rfind('.') + 1);
    const auto found =
        std::find_if(table.begin(), table.end(), [&](const Value::Entry& each) { return each.key == key; });
    if (found != table.end())
      *found = {key, entry->place, entry->value};
    else
      table.push_back({key, entry->place, entry->value});
  }
  return {std::move(table), source.place};
}

const PresetDraft* find(const PresetDrafts& presets, std::string_view name) {
  for (const PresetDraft& preset : presets)
    if (preset.name == name) return &preset;
  return nullptr;
}

std::vector<std::string_view> names_of(const PresetDrafts& presets) {
  std::vector<std::string_view> names;
  for (const PresetDraft& preset : presets) names.push_back(preset.name);
  return names;
}

}  // namespace

void PresetReader::read(TableReader& document, const std::filesystem::path& file) {
  open_.push_back(as_one(file));
  std::vector<Value> included;
  document.read_names("include", included);
  for (const Value& name : included) include(name, file);
  if (const auto* presets = document.find("preset")) read_presets(presets->value);
  done_.push_back(open_.back());
  open_.pop_back();
}

void PresetReader::include(const Value& name, const std::filesystem::path& from) {
  const std::filesystem::path file = from.parent_path() / *name.as<std::string>();
  const std::filesystem::path one = as_one(file);
  const auto report = [&](const std::string& text) { diagnostics_.push_back({name.place, "include: " + text}); };
  if (std::find(done_.begin(), done_.end(), one) != done_.end()) return;
  if (const auto first = std::find(open_.begin(), open_.end(), one); first != open_.end()) {
    std::string circle;
    for (auto each = first; each != open_.end(); ++each) circle += each->filename().string() + " -> ";
    return report("the files include each other in a cycle: " + circle + one.filename().string() +
                  ". Remove one include.");
  }
  Value document;
  try {
    const std::string text = read_whole(file, {"a file of presets, such as kit.toml", largest_file}, kinds_.kinds());
    files_.push_back(file.string());
    document = parse_toml(text, static_cast<int>(files_.size()) - 1);
  } catch (const LoadError& error) {
    return report(error.diagnostics().front().text);
  } catch (const Diagnostic& diagnostic) {
    diagnostics_.push_back(diagnostic);
    return;
  }
  documents_.push_back(std::move(document));
  TableReader root{documents_.back(), "", diagnostics_};
  if (!root.has("hushed")) root.report(root.place(), "the format version is missing; begin the file with hushed = 1.");
  read(root, file);
  for (const char* other : {"scene", "object", "view", "rule", "crowd", "expect"})
    if (const auto* entry = root.find(other))
      root.report(entry->place,
                  std::string{other} + ": not allowed in an included file, which contains only presets; remove it.");
  root.refuse_the_rest();
}

void PresetReader::read_presets(const Value& value) {
  const auto* presets = value.as<Value::Table>();
  if (!presets) {
    diagnostics_.push_back(
        {value.place, "preset: write each behaviour of a preset as a table, [[preset.NAME.behaviour]]."});
    return;
  }
  for (const Value::Entry& entry : *presets) {
    TableReader table{entry.value, "preset." + entry.key, diagnostics_};
    check_name(table, entry.place, entry.key, "a preset");
    PresetDraft preset{entry.key, entry.place, {}};
    if (const auto* other = find(presets_, entry.key))
      table.report(entry.place, "another preset has this name: line " + std::to_string(other->place.line) + " of " +
                                    files_[static_cast<std::size_t>(other->place.file)] + "; rename one.");
    if (const auto* behaviours = table.find("behaviour"))
      preset.behaviours = read_behaviours(behaviours->value, entry.key, "preset." + entry.key, kinds_, diagnostics_);
    else
      table.report(entry.place, "no behaviour; give at least one, [[preset." + entry.key + ".behaviour]].");
    check_names(preset.behaviours, entry.key, diagnostics_);
    table.refuse_the_rest();
    presets_.push_back(std::move(preset));
  }
}

void read_uses(TableReader& table, ObjectDraft& draft, ObjectReading& reading) {
  std::vector<Value> names;
  table.read_names("use", names);
  std::vector<Value::Entry> own;
  if (const auto* tune = table.find("tune")) {
    if (const auto* values = tune->value.as<Value::Table>())
      flatten(*values, "", 0, own);
    else
      table.report(tune->value.place, "tune: expected a table, such as { \"bobbing.sway.frequency\" = 0.4 }.");
  }
  std::vector<bool> taken(own.size(), false);
  for (const Value& name : names) {
    const std::string& wanted = *name.as<std::string>();
    const PresetDraft* preset = find(reading.presets, wanted);
    if (!preset) {
      table.report(name.place, "use: no preset " + in_quotes(wanted) + " in this scene" +
                                   (reading.presets.empty() ? "; include the file that contains it."
                                                            : suggestion(wanted, names_of(reading.presets))));
      continue;
    }
    ObjectDraft::Use use{wanted, name.place};
    for (const BehaviourDraft& behaviour : preset->behaviours) {
      const std::string path = wanted + '.' + std::string{behaviour.name()} + '.';
      std::vector<const Value::Entry*> values;
      for (std::size_t i = 0; i < own.size(); ++i) {
        if (!own[i].key.starts_with(path)) continue;
        taken[i] = true;
        values.push_back(&own[i]);
        use.own.push_back({own[i].key.substr(wanted.size() + 1), own[i].value});
      }
      if (!behaviour.is_sound) continue;  // which has been said of the preset
      reading.tuned.push_back(merged(*behaviour.source, values));
      auto read = read_behaviour(reading.tuned.back(), draft.object.name, reading.kinds, reading.diagnostics);
      if (!read) continue;
      read->preset = wanted;
      draft.behaviours.push_back(std::move(*read));
    }
    draft.uses.push_back(std::move(use));
  }
  for (std::size_t i = 0; i < own.size(); ++i) {
    if (taken[i]) continue;
    std::vector<std::string> known;
    for (const ObjectDraft::Use& use : draft.uses)
      for (const BehaviourDraft& behaviour : find(reading.presets, use.preset)->behaviours)
        known.push_back(use.preset + '.' + std::string{behaviour.name()});
    const std::string path = own[i].key.substr(0, own[i].key.rfind('.'));
    table.report(own[i].place, "tune: the object uses no preset with the behaviour " + in_quotes(path) +
                                   suggestion(path, {known.begin(), known.end()}));
  }
}

}  // namespace hushed::detail
