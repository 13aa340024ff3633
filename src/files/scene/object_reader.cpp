// SPDX-License-Identifier: MIT
#include "scene/object_reader.hpp"

#include <algorithm>
#include <string>
#include <utility>

#include <hushed/behaviour/fed.hpp>
#include <hushed/behaviour/pace.hpp>

#include "scene/behaviour_reader.hpp"
#include "scene/presets.hpp"

namespace hushed::detail {

namespace {

void read_inherit(TableReader& table, Inherit& inherit) {
  std::vector<Value> parts;
  if (!table.read_names("inherit", parts)) return;
  inherit = {false, false, false};
  for (const Value& part : parts) {
    const std::string& name = *part.as<std::string>();
    if (name == "position")
      inherit.position = true;
    else if (name == "rotation")
      inherit.rotation = true;
    else if (name == "scale")
      inherit.scale = true;
    else
      table.report(part.place,
                   "inherit: unknown value " + in_quotes(name) + suggestion(name, {"position", "rotation", "scale"}));
  }
}

void read_tags(TableReader& table, std::vector<std::string>& tags) {
  std::vector<Value> words;
  table.read_names("tags", words);
  for (const Value& word : words) {
    check_name(table, word.place, *word.as<std::string>(), "a tag");
    tags.push_back(*word.as<std::string>());
  }
}

void read_poses(const Value& value, const std::string& object, std::vector<PoseParts>& poses,
                Diagnostics& diagnostics) {
  const auto* named = value.as<Value::Table>();
  if (!named) {
    diagnostics.push_back({value.place, object + ": write each pose as a table, [object." + object + ".pose.NAME]."});
    return;
  }
  for (const Value::Entry& entry : *named) {
    TableReader table{entry.value, object + ".pose." + entry.key, diagnostics};
    check_name(table, entry.place, entry.key, "a pose");
    PoseParts parts = read_parts(table);
    if (parts.empty()) table.report(entry.place, "the pose is empty; give a position, a rotation or a scale.");
    table.refuse_the_rest();
    parts.name = entry.key;
    poses.push_back(std::move(parts));
  }
}

/// Adds the behaviour that a key of the object stands for, below all others.
template <class B>
void add_for_key(const Value::Entry& entry, const B& values, ObjectDraft& draft, ObjectReading& reading) {
  const Value& none = reading.tuned.emplace_back(Value::Table{}, entry.value.place);
  const Kind& kind = kind_of<B>();
  std::string whose = draft.object.name + '.' + std::string{kind.name()};
  draft.behaviours.push_back({&kind, kind.make(&values), {}, &none, std::move(whose), true});
  ++draft.from_keys;
}

/// `fed = true`, and `pace = 0.5`.
void read_keys_of_behaviours(TableReader& table, ObjectDraft& draft, ObjectReading& reading) {
  bool is_fed = false;
  if (const auto* entry = table.find("fed"); entry && table.read("fed", unit::none, is_fed) && is_fed)
    add_for_key(*entry, Fed{}, draft, reading);
  Pace pace;
  if (const auto* entry = table.find("pace"); entry && table.read("pace", unit::time_rate, pace.rate))
    add_for_key(*entry, pace, draft, reading);
}

}  // namespace

void read_colour(TableReader& table, std::string_view key, std::optional<Colour>& to) {
  std::string text;
  const auto* entry = table.find(key);
  if (!entry || !table.read_text(key, text)) return;
  to = colour_of_css(text);
  if (to) return;
  const std::string what = std::string{key} + ": " + in_quotes(text);
  table.report(entry->value.place, text.starts_with('#')
                                       ? what + " is not a colour; give # and three or six hexadecimal digits."
                                       : what + " is not a colour of CSS" + suggestion(text, colour_names()));
}

namespace {

Shape read_shape(const Value& value, const std::string& whose, Diagnostics& diagnostics) {
  TableReader table{value, whose + ".shape", diagnostics};
  Shape shape;
  if (!table.has("kind"))
    table.report(table.place(), "\"kind\" is missing; give \"box\", \"sphere\", \"cylinder\" or \"cone\".");
  table.read("kind", unit::none, shape.kind);
  if (const auto* entry = table.find("size"); entry && table.read_size("size", unit::metres, shape.size))
    if (shape.size.minCoeff() <= 0.0)
      table.report(entry->value.place, "size: found a number that is 0 or less; give numbers above 0 (m).");
  table.read("centre", unit::metres, shape.centre);
  read_colour(table, "colour", shape.colour);
  table.read("glow", unit::none, shape.glow);
  table.refuse_the_rest();
  return shape;
}

}  // namespace

ObjectDraft read_object(TableReader& table, const std::string& name, TextPlace place, ObjectReading& reading) {
  ObjectDraft draft{place, {}, {}, {}, {}, 0, {}};
  draft.object.name = name;
  draft.object.rest = read_parts(table).over(Pose{});
  if (const auto* parent = table.find("parent"); parent && table.read_text("parent", draft.parent)) {
    draft.parent_place = parent->value.place;
    if (draft.parent.empty())
      table.report(draft.parent_place, "parent: the name is empty; give the name of an object, or remove this key.");
  }
  read_inherit(table, draft.object.inherit);
  read_tags(table, draft.object.tags);
  if (const auto* shape = table.find("shape")) draft.object.shape = read_shape(shape->value, name, reading.diagnostics);
  if (const auto* ignore = table.find("ignore"))
    read_ignored(ignore->value, name, reading.ignored, reading.diagnostics);
  if (const auto* poses = table.find("pose")) read_poses(poses->value, name, draft.object.poses, reading.diagnostics);
  read_keys_of_behaviours(table, draft, reading);
  read_uses(table, draft, reading);
  if (const auto* behaviours = table.find("behaviour"))
    for (BehaviourDraft& behaviour :
         read_behaviours(behaviours->value, name, "object." + name, reading.kinds, reading.diagnostics))
      draft.behaviours.push_back(std::move(behaviour));
  check_names(draft.behaviours, name, reading.diagnostics);
  table.refuse_the_rest();
  return draft;
}

}  // namespace hushed::detail
