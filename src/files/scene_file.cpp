// Scene files: what each key means, and what is said of it when it is wrong. Everything is read and checked
// first, so that all complaints come at once; only a file without any becomes a scene.

#include <algorithm>
#include <map>
#include <memory>
#include <set>
#include <unordered_map>

#include <hushed/inside/scene_names.hpp>
#include <hushed/inside/table_reader.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/name.hpp>
#include <hushed/pose_parts.hpp>

#include "read_whole.hpp"
#include "toml.hpp"

namespace hushed {

using inside::Complaints;
using inside::Kind;
using inside::TableReader;

namespace {

constexpr std::int64_t format_version = 1;

struct BehaviourDraft {
  const Kind* kind;
  std::shared_ptr<void> values;
  Common common;
  const Value* source;  ///< its table
  std::string whose;    ///< what complaints call it
  bool is_sound;        ///< each value by itself

  std::string_view name() const { return common.name.empty() ? kind->name() : std::string_view{common.name}; }
};

struct ObjectDraft {
  TextPlace place;
  NewObject object;
  std::string parent;  ///< empty for none
  TextPlace parent_place;
  std::vector<BehaviourDraft> behaviours;
};

void check_name(TableReader& table, TextPlace place, std::string_view name, std::string_view of_what) {
  if (const auto wrong = wrong_with_name(name, of_what)) table.complain(place, *wrong);
}

/// What a behaviour of one object may name, or a rule, as long as the scene is not there yet.
class NamesInFile final : public inside::SceneNames {
 public:
  using Numbers = std::unordered_map<std::string, std::size_t>;
  NamesInFile(const std::vector<ObjectDraft>& drafts, const Numbers& numbers, const ObjectDraft* draft = nullptr)
      : drafts_{drafts}, numbers_{numbers}, draft_{draft} {}

  Object object(std::string_view name) const override {
    const auto found = numbers_.find(std::string{name});
    return found == numbers_.end() ? Object{} : Object{static_cast<std::uint32_t>(found->second), 1, 0};
  }
  const PoseParts* pose(std::string_view name) const override {
    if (!draft_) return nullptr;
    for (const PoseParts& pose : draft_->object.poses)
      if (pose.name == name) return &pose;
    return nullptr;
  }
  std::vector<std::string_view> objects() const override {
    std::vector<std::string_view> names;
    for (const ObjectDraft& draft : drafts_) names.push_back(draft.object.name);
    return names;
  }
  std::vector<std::string_view> poses() const override {
    return draft_ ? poses_of(*draft_) : std::vector<std::string_view>{};
  }
  std::string name_of(Object object) const override { return drafts_[object.index].object.name; }
  std::vector<Object> tagged(std::string_view tag) const override {
    std::vector<Object> found;
    for (const auto& [name, number] : numbers_) {
      const auto& tags = drafts_[number].object.tags;
      if (&drafts_[number] != draft_ && std::find(tags.begin(), tags.end(), tag) != tags.end())
        found.push_back(object(name));
    }
    return found;
  }
  std::vector<std::string_view> tags() const override {
    std::set<std::string_view> all;
    for (const ObjectDraft& draft : drafts_) all.insert(draft.object.tags.begin(), draft.object.tags.end());
    return {all.begin(), all.end()};
  }
  std::vector<std::string_view> behaviours_of(Object object) const override {
    std::vector<std::string_view> names;
    for (const BehaviourDraft& behaviour : drafts_[object.index].behaviours) names.push_back(behaviour.name());
    return names;
  }
  const Kind* kind_of(Object object, std::string_view name) const override {
    for (const BehaviourDraft& behaviour : drafts_[object.index].behaviours)
      if (behaviour.name() == name) return behaviour.kind;
    return nullptr;
  }
  std::vector<std::string_view> poses_of(Object object) const override { return poses_of(drafts_[object.index]); }
  std::string path_of(AnyBehaviour) const override { return ""; }  // in a file there are no handles

 private:
  static std::vector<std::string_view> poses_of(const ObjectDraft& draft) {
    std::vector<std::string_view> names;
    for (const PoseParts& pose : draft.object.poses) names.push_back(pose.name);
    return names;
  }

  const std::vector<ObjectDraft>& drafts_;
  const Numbers& numbers_;
  const ObjectDraft* draft_;
};

class Reader {
 public:
  Reader(const Value& document, const LoadOptions& options) : options_{options} {
    TableReader root{document, "", complaints_};
    read_version(root);
    if (const auto* scene = root.find("scene")) read_scene(scene->value);
    if (const auto* objects = root.find("object")) read_objects(objects->value);
    if (const auto* view = root.find("view")) read_view(view->value);
    root.refuse_the_rest();
    check_parents();
    for (ObjectDraft& draft : drafts_)
      for (std::size_t i = 0; i < draft.behaviours.size(); ++i)
        if (draft.behaviours[i].is_sound) check_behaviour(draft, draft.behaviours[i], i == 0);
  }

  Complaints& complaints() { return complaints_; }

  /// The scene, once there is nothing to complain of.
  SceneFile build() {
    SceneFile file{Scene{options_.tick_rate.value_or(tick_rate_)}, name_, std::move(view_), std::move(silences_)};
    std::vector<Object> handles(drafts_.size());
    for (const std::size_t i : parents_first_) {
      ObjectDraft& draft = drafts_[i];
      if (!draft.parent.empty()) draft.object.parent = handles[by_name_.at(draft.parent)];
      handles[i] = file.scene.add(draft.object);
    }
    for (std::size_t i = 0; i < drafts_.size(); ++i)
      for (const BehaviourDraft& behaviour : drafts_[i].behaviours) give(file.scene, handles[i], behaviour);
    return file;
  }

 private:
  /// What only a scene can know (a circle of objects that look at each other) is said with its place too.
  void give(Scene& scene, Object object, const BehaviourDraft& behaviour) const {
    try {
      scene.give(object, *behaviour.kind, behaviour.values.get(), behaviour.common);
    } catch (const Error& error) {
      throw Complaint{behaviour.source->place, error.what()};
    }
  }

  void read_version(TableReader& root) {
    const Value::Entry* entry = root.find("hushed");
    if (!entry) return root.complain({1, 1}, "the file does not say which format it has; begin it with hushed = 1.");
    const auto* version = entry->value.as<std::int64_t>();
    if (!version || *version != format_version)
      root.complain(entry->value.place,
                    "hushed: this program reads format 1, and the file says " + as_text(entry->value) + "; give 1.");
  }

  void read_scene(const Value& value) {
    TableReader table{value, "scene", complaints_};
    table.read_text("name", name_);
    constexpr Unit per_second{"per second", 1.0, 10'000.0};
    table.read("tick_rate", per_second, tick_rate_);
    table.refuse_the_rest();
  }

  void read_objects(const Value& value) {
    const auto* objects = value.as<Value::Table>();
    if (!objects) {
      complaints_.push_back({value.place, "object: give each object a table of its own, [object.NAME]."});
      return;
    }
    drafts_.reserve(objects->size());
    for (const Value::Entry& entry : *objects) {
      by_name_.emplace(entry.key, drafts_.size());
      drafts_.push_back(read_object(entry));
    }
  }

  ObjectDraft read_object(const Value::Entry& entry) {
    TableReader table{entry.value, entry.key, complaints_};
    check_name(table, entry.place, entry.key, "an object");

    ObjectDraft draft{entry.place, {}, {}, {}, {}};
    draft.object.name = entry.key;
    draft.object.rest = inside::read_parts(table).over(Pose{});
    if (const auto* parent = table.find("parent"); parent && table.read_text("parent", draft.parent)) {
      draft.parent_place = parent->value.place;
      if (draft.parent.empty())
        table.complain(draft.parent_place, "parent: this is empty; name an object, or leave it out.");
    }
    read_inherit(table, draft.object.inherit);
    read_tags(table, draft.object.tags);
    if (const auto* shape = table.find("shape")) draft.object.shape = read_shape(shape->value, entry.key);
    if (const auto* silence = table.find("silence")) read_silence(silence->value, entry.key);
    if (const auto* poses = table.find("pose")) read_poses(poses->value, entry.key, draft.object.poses);
    if (const auto* behaviours = table.find("behaviour")) read_behaviours(behaviours->value, entry.key, draft);
    table.refuse_the_rest();
    return draft;
  }

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
        table.complain(part.place, "inherit: there is no " + in_quotes(name) + " to inherit" +
                                       suggestion(name, {"position", "rotation", "scale"}));
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

  /// { rings = "the bell is meant to" }: codes of findings, each with its reason.
  void read_silence(const Value& value, const std::string& object) {
    const auto* reasons = value.as<Value::Table>();
    if (!reasons) {
      complaints_.push_back(
          {value.place, object + ": silence: give codes and reasons, such as { rings = \"a bell does\" }."});
      return;
    }
    std::vector<std::string_view> codes;
    for (const FindingCode& each : finding_codes()) codes.push_back(each.code);
    for (const Value::Entry& entry : *reasons) {
      const auto* reason = entry.value.as<std::string>();
      if (std::find(codes.begin(), codes.end(), entry.key) == codes.end())
        complaints_.push_back({entry.place, object + ": silence: nothing that `hushed check` finds is called " +
                                                in_quotes(entry.key) + suggestion(entry.key, codes)});
      else if (!reason || reason->empty())
        complaints_.push_back(
            {entry.value.place, object + ": silence: say in words why " + entry.key + " is right here."});
      else
        silences_.push_back({object, entry.key, *reason});
    }
  }

  void read_poses(const Value& value, const std::string& object, std::vector<PoseParts>& poses) {
    const auto* named = value.as<Value::Table>();
    if (!named) {
      complaints_.push_back(
          {value.place, object + ": give each pose a table of its own, [object." + object + ".pose.NAME]."});
      return;
    }
    for (const Value::Entry& entry : *named) {
      TableReader table{entry.value, object + ".pose." + entry.key, complaints_};
      check_name(table, entry.place, entry.key, "a pose");
      PoseParts parts = inside::read_parts(table);
      if (parts.empty()) table.complain(entry.place, "this is empty; give a position, a rotation or a scale.");
      table.refuse_the_rest();
      parts.name = entry.key;
      poses.push_back(std::move(parts));
    }
  }

  Shape read_shape(const Value& value, const std::string& whose) {
    TableReader table{value, whose + ".shape", complaints_};
    Shape shape;
    if (!table.has("kind"))
      table.complain(table.place(), "\"kind\" is missing; give \"box\", \"sphere\", \"cylinder\" or \"cone\".");
    table.read("kind", unit::none, shape.kind);
    if (const auto* entry = table.find("size"); entry && table.read_size("size", unit::metres, shape.size))
      if (shape.size.minCoeff() <= 0.0)
        table.complain(entry->value.place, "size: every number must be more than 0 (m).");
    table.refuse_the_rest();
    return shape;
  }

  void read_behaviours(const Value& value, const std::string& object, ObjectDraft& draft) {
    const auto* list = value.as<Value::List>();
    if (!list) {
      complaints_.push_back(
          {value.place, object + ": a behaviour is a table in double brackets: [[object." + object + ".behaviour]]."});
      return;
    }
    std::map<std::string, TextPlace> names;
    for (const Value& item : *list) {
      auto behaviour = read_behaviour(item, object);
      if (!behaviour) continue;
      const std::string name =
          behaviour->common.name.empty() ? std::string{behaviour->kind->name()} : behaviour->common.name;
      if (!names.emplace(name, item.place).second)
        complaints_.push_back({item.place, object + ": there is a behaviour called " + in_quotes(name) + " in line " +
                                               std::to_string(names[name].line) +
                                               " already; give this one a name = \"...\" of its own."});
      draft.behaviours.push_back(std::move(*behaviour));
    }
  }

  std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& object) {
    const Kind* kind = read_kind(value, object);
    if (!kind) return std::nullopt;

    Common common;
    std::string label{kind->name()};
    if (const auto* table = value.as<Value::Table>())
      for (const Value::Entry& entry : *table)
        if (entry.key == "name" && entry.value.as<std::string>()) label = *entry.value.as<std::string>();

    TableReader table{value, object + "." + label, complaints_};
    const std::size_t before = complaints_.size();
    table.find("kind");
    if (const auto* entry = table.find("name"); entry && table.read_text("name", common.name))
      check_name(table, entry->value.place, common.name, "a behaviour");

    const std::shared_ptr<void> values = kind->make(nullptr);
    for (const FieldInfo& field : kind->fields()) {
      const Value::Entry* entry = table.find(field.name);
      if (entry)
        table.accept(field.name, field.set(values.get(), entry->value));
      else if (field.required)
        table.complain(value.place,
                       in_quotes(field.name) + " is missing; give " + field.form.in_words +
                           (field.unit.symbol.empty() ? "." : " (" + std::string{field.unit.symbol} + ")."));
    }
    for (const FieldInfo& field : fields_of<Common>())
      if (const auto* entry = table.find(field.name)) table.accept(field.name, field.set(&common, entry->value));
    for (const Either& either : kind->alternatives())
      for (const std::string_view other : either.others)
        if (table.has(either.key) && !other.empty() && table.has(other))
          table.complain(table.find(other)->place, std::string{other} + " cannot stand beside " +
                                                       std::string{either.key} + ", which says the same; keep one.");
    for (const OneOf& one_of : kind->exactly_one())
      if (const auto complaint = one_of.check([&](std::string_view key) { return table.has(key); }))
        table.complain(value.place, complaint->text);
    table.refuse_the_rest();
    return BehaviourDraft{kind, values, common, &value, object + "." + label, complaints_.size() == before};
  }

  const Kind* read_kind(const Value& value, const std::string& object) {
    Complaints ignored;
    TableReader table{value, object, ignored};
    std::string name;
    const Value::Entry* entry = table.find("kind");
    if (!entry) {
      complaints_.push_back({value.place, object + ": this behaviour has no kind; give one, such as kind = \"spin\"."});
      return nullptr;
    }
    if (!table.read_text("kind", name)) {
      complaints_.insert(complaints_.end(), ignored.begin(), ignored.end());
      return nullptr;
    }
    const Kind* kind = find_kind(name);
    if (!kind) {
      std::vector<std::string_view> names;
      for (const Kind* each : kinds()) names.push_back(each->name());
      complaints_.push_back({entry->value.place,
                             object + ": there is no behaviour of kind " + in_quotes(name) + suggestion(name, names)});
    }
    return kind;
  }

  /// All that it names, and its values together. Over nothing, what comes in is the rest pose.
  void check_behaviour(const ObjectDraft& draft, BehaviourDraft& behaviour, bool is_lowest) {
    TableReader table{*behaviour.source, behaviour.whose, complaints_};
    const NamesInFile names{drafts_, by_name_, &draft};
    bool all_found = true;
    for (const FieldInfo& field : behaviour.kind->fields()) {
      auto complaint = field.resolve(behaviour.values.get(), names);
      if (!complaint) continue;
      all_found = false;
      if (complaint->place.line == 0) complaint->place = table.find(field.name)->value.place;
      table.accept(field.name, complaint);
    }
    if (!all_found) return;
    if (const auto complaint = behaviour.kind->check(behaviour.values.get(), is_lowest ? &draft.object.rest : nullptr))
      table.complain(place_named_in(complaint->text, table, behaviour.source->place), complaint->text);
  }

  /// A complaint about values together begins with the key that it is about.
  static TextPlace place_named_in(const std::string& text, TableReader& table, TextPlace otherwise) {
    const Value::Entry* entry = table.find(text.substr(0, text.find(':')));
    return entry ? entry->place : otherwise;
  }

  void read_view(const Value& value) {
    TableReader table{value, "view", complaints_};
    std::vector<Value> watches;
    table.read_names("watch", watches);
    for (const Value& watch : watches) view_.watches.push_back({*watch.as<std::string>(), watch.place});
    Box area;
    if (table.has("area") && table.read("area", unit::metres, area)) view_.area = area;
    if ((area.min.array() > area.max.array()).any())
      table.complain(table.find("area")->value.place, "area: give the lowest corner first, and the highest second.");
    table.refuse_the_rest();
  }

  /// Parents that are not there, and circles of them; otherwise finds an order with parents first.
  void check_parents() {
    std::vector<std::string_view> names;
    enum class Mark { untouched, open, done };
    std::vector<Mark> marks(drafts_.size(), Mark::untouched);
    for (std::size_t start = 0; start < drafts_.size(); ++start) {
      std::vector<std::size_t> way;
      std::size_t at = start;
      while (marks[at] == Mark::untouched) {
        marks[at] = Mark::open;
        way.push_back(at);
        const ObjectDraft& draft = drafts_[at];
        if (draft.parent.empty()) break;
        const auto parent = by_name_.find(draft.parent);
        if (parent == by_name_.end()) {
          if (names.empty())
            for (const ObjectDraft& each : drafts_) names.push_back(each.object.name);
          complaints_.push_back({draft.parent_place, draft.object.name + ": the parent " + in_quotes(draft.parent) +
                                                         " is not in this scene" + suggestion(draft.parent, names)});
          break;
        }
        at = parent->second;
        if (marks[at] == Mark::open) complain_of_circle(way, at);
      }
      for (auto each = way.rbegin(); each != way.rend(); ++each) {
        marks[*each] = Mark::done;
        parents_first_.push_back(*each);
      }
    }
  }

  void complain_of_circle(const std::vector<std::size_t>& way, std::size_t first) {
    std::string circle;
    for (auto member = std::find(way.begin(), way.end(), first); member != way.end(); ++member)
      circle += drafts_[*member].object.name + " -> ";
    complaints_.push_back({drafts_[first].parent_place, "these are each other's parents in a circle: " + circle +
                                                            drafts_[first].object.name + ". Take one parent out."});
  }

  LoadOptions options_;
  Complaints complaints_;
  std::string name_;
  double tick_rate_ = 120.0;
  View view_;
  std::vector<Silence> silences_;
  std::vector<ObjectDraft> drafts_;
  std::unordered_map<std::string, std::size_t> by_name_;
  std::vector<std::size_t> parents_first_;
};

std::string all_lines(const std::string& file, const std::vector<Complaint>& complaints) {
  std::string text;
  for (const Complaint& complaint : complaints) {
    if (!text.empty()) text += '\n';
    text += file + ':';
    if (complaint.place.line > 0)
      text += std::to_string(complaint.place.line) + ':' + std::to_string(complaint.place.column) + ':';
    text += ' ' + complaint.text;
  }
  return text;
}

}  // namespace

LoadError::LoadError(std::string file, std::vector<Complaint> complaints)
    : Error{all_lines(file, complaints)}, file_{std::move(file)}, complaints_{std::move(complaints)} {}

SceneFile read_scene_text(std::string_view text, const std::string& name, const LoadOptions& options) {
  if (text.find('\0') != std::string_view::npos)
    throw LoadError{name, {{{}, "this is not a text file; give a scene file in TOML."}}};
  Value document;
  try {
    document = inside::parse_toml(text);
  } catch (const Complaint& complaint) {
    throw LoadError{name, {complaint}};
  }
  Reader reader{document, options};
  Complaints& complaints = reader.complaints();
  if (!complaints.empty()) {
    std::stable_sort(complaints.begin(), complaints.end(), [](const Complaint& a, const Complaint& b) {
      return a.place.line != b.place.line ? a.place.line < b.place.line : a.place.column < b.place.column;
    });
    throw LoadError{name, complaints};
  }
  try {
    return reader.build();
  } catch (const Complaint& complaint) {
    throw LoadError{name, {complaint}};
  }
}

SceneFile read_scene_file(const std::filesystem::path& file, const LoadOptions& options) {
  return read_scene_text(inside::read_whole(file, {"a scene file, such as harbour.toml", std::uintmax_t{64} << 20}),
                         file.string(), options);
}

Scene load(const std::filesystem::path& file) { return read_scene_file(file).scene; }

Value parse_value(std::string_view text) {
  if (is_name(text) && text != "true" && text != "false" && text != "inf" && text != "nan" &&
      text.find_first_not_of("0123456789-_") != std::string_view::npos && !(text[0] >= '0' && text[0] <= '9') &&
      text != "-inf" && text != "-nan")
    return Value{std::string{text}};
  try {
    const Value document = inside::parse_toml(std::string{"value = "}.append(text));
    const auto& table = *document.as<Value::Table>();
    if (table.size() == 1) return table[0].value;
  } catch (const Complaint&) {
  }
  throw BadValue{in_quotes(text) + " is not a value; give a number, a list such as [0, 1, 0], or a word."};
}

}  // namespace hushed
