// SPDX-License-Identifier: MIT
// Reads scene files. The whole file is read and checked first, so that all errors are reported at once. A scene is
// built only from a file without errors.

#include <algorithm>
#include <deque>
#include <tuple>
#include <unordered_map>

#include <hushed/detail/scene_access.hpp>
#include <hushed/detail/table_reader.hpp>
#include <hushed/load.hpp>
#include <hushed/name.hpp>

#include "file_memory.hpp"
#include "motions.hpp"
#include "read_whole.hpp"
#include "scene/artist_base.hpp"
#include "scene/crowd.hpp"
#include "scene/drafts.hpp"
#include "scene/expectation_reader.hpp"
#include "scene/object_reader.hpp"
#include "scene/presets.hpp"
#include "scene/rule_reader.hpp"
#include "toml.hpp"

namespace hushed {

using detail::BehaviourDraft;
using detail::Diagnostics;
using detail::NamesInFile;
using detail::ObjectDraft;
using detail::ObjectReading;
using detail::PresetReader;
using detail::RuleDraft;
using detail::TableReader;

namespace {

constexpr std::int64_t format_version = 1;

}  // namespace

/// What a scene file says, read and checked as a whole.
class detail::SceneFileReader {
 public:
  SceneFileReader(Value document, const std::string& file, const LoadOptions& options)
      : document_{std::move(document)},
        wanted_tick_rate_{options.tick_rate},
        kinds_{kinds_in(options)},
        files_{file},
        motions_{files_, *kinds_, diagnostics_},
        preset_reader_{files_, kind_reader_, diagnostics_} {
    TableReader root{document_, "", diagnostics_};
    read_version(root);
    if (const auto* scene = root.find("scene")) read_scene(scene->value);
    preset_reader_.read(root, file);
    presets_ = preset_reader_.take();
    const auto* objects = root.find("object");
    if (objects && !objects->value.as<Value::Table>())
      diagnostics_.push_back({objects->value.place, "object: write each object as a table, [object.NAME]."});
    else if (base_ || objects)
      read_objects(base_ ? base_->under(objects ? &objects->value : nullptr) : objects->value);
    if (const auto* crowds = root.find("crowd")) read_crowds(crowds->value);
    if (const auto* rules = root.find("rule")) rules_ = detail::read_rules(rules->value, ignored_, diagnostics_);
    if (const auto* view = root.find("view")) read_view(view->value);
    if (const auto* expected = root.find("expect"))
      expectations_ = detail::read_expectations(expected->value, diagnostics_);
    root.refuse_the_rest();
    check_parents();
    for (detail::PresetDraft& preset : presets_)
      for (BehaviourDraft& behaviour : preset.behaviours) motions_.read(behaviour);
    for (ObjectDraft& draft : drafts_)
      for (BehaviourDraft& behaviour : draft.behaviours) motions_.read(behaviour);
    for (ObjectDraft& draft : drafts_)
      for (std::size_t i = 0; i < draft.behaviours.size(); ++i)
        if (draft.behaviours[i].is_sound) check_behaviour(draft, draft.behaviours[i], i == 0);
    for (RuleDraft& rule : rules_)
      if (rule.is_sound) check_rule(rule, NamesInFile{drafts_, by_name_, once_}, diagnostics_);
  }

  /// A copy, which the scene will share.
  static std::shared_ptr<Kinds> kinds_in(const LoadOptions& options) {
    if (options.kinds) return std::make_shared<Kinds>(*options.kinds);
    const auto kinds = options.like ? SceneAccess::kinds(*options.like) : nullptr;
    return kinds ? std::make_shared<Kinds>(*kinds) : std::make_shared<Kinds>();
  }

  Diagnostics& diagnostics() { return diagnostics_; }
  const std::vector<std::string>& files() const { return files_; }

  /// Builds the scene of a file without errors, with the handles of `like` where it is given. Throws `LoadError`.
  SceneFile build(const Scene* like) {
    try {
      return built(like);
    } catch (const Diagnostic& diagnostic) {
      throw LoadError{files_, {diagnostic}};
    }
  }

 private:
  SceneFile built(const Scene* like) {
    const double rate = wanted_tick_rate_.value_or(tick_rate_);
    SceneFile file{like ? Scene{rate, *like} : Scene{rate}, name_, view_, ignored_};
    for (const detail::PresetDraft& preset : presets_)
      for (const BehaviourDraft& behaviour : preset.behaviours)
        file.scene.add_to_preset(preset.name, {*behaviour.kind, behaviour.values.get()}, behaviour.common);
    std::vector<Object> handles(drafts_.size());
    for (const std::size_t i : parents_first_) {
      ObjectDraft& draft = drafts_[i];
      if (!draft.parent.empty()) draft.object.parent = handles[by_name_.at(draft.parent)];
      handles[i] = file.scene.add(draft.object);
    }
    for (std::size_t i = 0; i < drafts_.size(); ++i) {
      const auto give = [&](const BehaviourDraft& behaviour) {
        if (!behaviour.preset.empty()) return;
        at_place(behaviour.source->place, [&] {
          file.scene.give(handles[i], detail::AnyValues{*behaviour.kind, behaviour.values.get()}, behaviour.common);
        });
      };
      const auto& behaviours = drafts_[i].behaviours;
      const auto others = behaviours.begin() + drafts_[i].from_keys;
      std::for_each(behaviours.begin(), others, give);
      for (const ObjectDraft::Use& use : drafts_[i].uses)
        at_place(use.place, [&] { file.scene.use(handles[i], use.preset, use.own); });
      std::for_each(others, behaviours.end(), give);
    }
    for (const detail::PresetDraft& preset : presets_)
      if (preset.place.file == 0 && !is_used(preset.name)) file.unused_presets.push_back(preset.name);
    for (const RuleDraft& rule : rules_) at_place(rule.place, [&] { file.scene.add_rule(rule.rule); });
    file.files.assign(files_.begin(), files_.end());
    file.expectations = expectations_;
    SceneAccess::mark_base(file.scene, kinds_);
    return file;
  }

  bool is_used(const std::string& preset) const {
    return std::any_of(drafts_.begin(), drafts_.end(), [&](const ObjectDraft& draft) {
      return std::any_of(draft.uses.begin(), draft.uses.end(), [&](const auto& use) { return use.preset == preset; });
    });
  }

  /// Errors that only the scene can find, such as a dependency cycle, are reported with their place too.
  template <class Build>
  static void at_place(TextPlace place, Build&& build) {
    try {
      build();
    } catch (const Error& error) {
      throw Diagnostic{place, error.what()};
    }
  }

  void read_version(TableReader& root) {
    const Value::Entry* entry = root.find("hushed");
    if (!entry) return root.report({1, 1}, "the format version is missing; begin the file with hushed = 1.");
    const auto* version = entry->value.as<std::int64_t>();
    if (!version || *version != format_version)
      root.report(entry->value.place, "hushed: this program reads format version 1, and the file has " +
                                          as_text(entry->value) + "; give 1.");
  }

  void read_scene(const Value& value) {
    TableReader table{value, "scene", diagnostics_};
    table.read_text("name", name_);
    std::string from;
    if (const auto* entry = table.find("from"); entry && table.read_text("from", from)) read_base(*entry, from);
    constexpr Unit per_second{"per second", 1.0, 10'000.0};
    table.read("tick_rate", per_second, tick_rate_);
    ScriptLimits limits;
    double steps = limits.steps;
    table.read("script_steps", Unit{"", 1'000.0, 1e9}, steps);
    table.read("script_memory", Unit{"MB", 0.1, 1'000.0}, limits.memory);
    limits.steps = static_cast<int>(steps);
    kind_reader_.set_limits(limits);
    table.refuse_the_rest();
  }

  /// The file of an artist under the objects of this one.
  void read_base(const Value::Entry& entry, const std::string& name) {
    const std::string path = (std::filesystem::path{files_.front()}.parent_path() / name).lexically_normal().string();
    try {
      const auto memory = FileMemory::of(*kinds_);
      const auto base = memory->artist(path, *kinds_);
      const auto motions = base->is_recording ? memory->motions(path, *kinds_).content : base->motions;
      files_.push_back(path);
      files_.insert(files_.end(), base->beside.begin(), base->beside.end());
      base_.emplace(base, entry.value.place);
      motions_.know(path, motions);
      motions_.set_base(motions);
    } catch (const LoadError& error) {
      diagnostics_.push_back({entry.value.place, "from: " + name + ": " + error.diagnostics().front().sentence()});
    }
  }

  void read_objects(const Value& value) {
    const auto* objects = value.as<Value::Table>();
    drafts_.reserve(objects->size());
    for (const Value::Entry& entry : *objects) {
      TableReader table{entry.value, entry.key, diagnostics_};
      check_name(table, entry.place, entry.key, "an object");
      take(read_object(table, entry.key, entry.place, reading_));
      if (base_) base_->dress(drafts_.back().object);
    }
  }

  void read_crowds(const Value& value) {
    const auto* crowds = value.as<Value::Table>();
    if (!crowds) {
      diagnostics_.push_back({value.place, "crowd: write each crowd as a table, [crowd.NAME]."});
      return;
    }
    for (const Value::Entry& entry : *crowds) {
      std::vector<ObjectDraft*> instances;
      for (const std::string& name : base_ ? base_->instances_of(entry.key) : std::vector<std::string>{})
        if (const auto found = by_name_.find(name); found != by_name_.end())
          instances.push_back(&drafts_[found->second]);
      if (!instances.empty()) {
        detail::give_to_instances(entry, instances, reading_);
        continue;
      }
      if (base_ && is_meant_for_instances(entry)) continue;
      for (ObjectDraft& member : detail::read_crowd(entry, reading_)) take(std::move(member));
    }
  }

  /// Reports a crowd that names a node without instances, and says nothing of its own.
  bool is_meant_for_instances(const Value::Entry& entry) {
    const auto* keys = entry.value.as<Value::Table>();
    const auto is_own = [](const Value::Entry& key) { return key.key == "count" || key.key == "box"; };
    const std::vector<std::string> all = base_->instanced();
    if (!keys || all.empty() || std::any_of(keys->begin(), keys->end(), is_own)) return false;
    const std::vector<std::string_view> names{all.begin(), all.end()};
    diagnostics_.push_back(
        {entry.place, entry.key + ": no node of the file that the scene is from has this name and instances" +
                          suggestion(entry.key, names)});
    return true;
  }

  void take(ObjectDraft&& draft) {
    const auto [found, is_new] = by_name_.emplace(draft.object.name, drafts_.size());
    if (is_new)
      drafts_.push_back(std::move(draft));
    else
      diagnostics_.push_back({draft.place, draft.object.name + ": another object has this name, in line " +
                                               std::to_string(drafts_[found->second].place.line) + "; rename one."});
  }

  /// Checks the names in the values of a behaviour, and its values together. The incoming pose of the lowest behaviour
  /// is the rest pose.
  void check_behaviour(const ObjectDraft& draft, BehaviourDraft& behaviour, bool is_lowest) {
    TableReader table{*behaviour.source, behaviour.whose, diagnostics_};
    const NamesInFile names{drafts_, by_name_, once_, &draft};
    bool all_found = true;
    for (const FieldInfo& field : behaviour.kind->fields()) {
      auto diagnostic = field.resolve(behaviour.values.get(), names);
      if (!diagnostic) continue;
      all_found = false;
      if (diagnostic->place.line == 0) diagnostic->place = table.find(field.name)->value.place;
      table.accept(field.name, diagnostic);
    }
    if (!all_found) return;
    if (const auto diagnostic = behaviour.kind->check(behaviour.values.get(), is_lowest ? &draft.object.rest : nullptr))
      table.report(place_of(*diagnostic, table, behaviour.source->place), diagnostic->sentence());
  }

  /// The place of the key that a diagnostic is about, or `otherwise` where the table has no such key.
  static TextPlace place_of(const Diagnostic& diagnostic, TableReader& table, TextPlace otherwise) {
    const Value::Entry* entry = diagnostic.key.empty() ? nullptr : table.find(diagnostic.key);
    return entry ? entry->place : otherwise;
  }

  void read_view(const Value& value) {
    TableReader table{value, "view", diagnostics_};
    std::vector<Value> watches;
    table.read_names("watch", watches);
    for (const Value& watch : watches) view_.watches.push_back({*watch.as<std::string>(), watch.place});
    std::string keys;
    if (table.read_text("keys", keys)) view_.keys = std::filesystem::path{files_.front()}.parent_path() / keys;
    detail::read_colour(table, "sky", view_.sky);
    double water = 0.0;
    if (table.has("water") && table.read("water", unit::metres, water)) view_.water = water;
    Box area;
    if (table.has("area") && table.read("area", unit::metres, area)) view_.area = area;
    if ((area.min.array() > area.max.array()).any())
      table.report(table.find("area")->value.place, "area: give the lowest corner first, and the highest second.");
    table.refuse_the_rest();
  }

  /// Reports missing parents and cycles of parents. Otherwise finds an order with parents first.
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
          diagnostics_.push_back({draft.parent_place, draft.object.name + ": parent: no object " +
                                                          in_quotes(draft.parent) + " in this scene" +
                                                          suggestion(draft.parent, names)});
          break;
        }
        at = parent->second;
        if (marks[at] == Mark::open) report_cycle(way, at);
      }
      for (auto each = way.rbegin(); each != way.rend(); ++each) {
        marks[*each] = Mark::done;
        parents_first_.push_back(*each);
      }
    }
  }

  void report_cycle(const std::vector<std::size_t>& way, std::size_t first) {
    std::string circle;
    for (auto member = std::find(way.begin(), way.end(), first); member != way.end(); ++member)
      circle += drafts_[*member].object.name + " -> ";
    diagnostics_.push_back({drafts_[first].parent_place, "the parents form a cycle: " + circle +
                                                             drafts_[first].object.name + ". Remove one parent."});
  }

  Value document_;  ///< which the drafts refer to
  std::optional<double> wanted_tick_rate_;
  std::shared_ptr<Kinds> kinds_;
  Diagnostics diagnostics_;
  std::string name_;
  double tick_rate_ = 120.0;
  View view_;
  std::vector<IgnoredFinding> ignored_;
  std::vector<Expectation> expectations_;
  std::vector<std::string> files_;  ///< the files that diagnostics refer to
  KindReader kind_reader_{*kinds_, files_};
  MotionReader motions_;
  std::optional<ArtistBase> base_;
  PresetReader preset_reader_;
  detail::PresetDrafts presets_;
  std::deque<Value> tuned_;
  ObjectReading reading_{kind_reader_, diagnostics_, presets_, ignored_, tuned_};
  std::vector<RuleDraft> rules_;
  std::vector<ObjectDraft> drafts_;
  std::unordered_map<std::string, std::size_t> by_name_;
  detail::FoundOnce once_;
  std::vector<std::size_t> parents_first_;
};

namespace {

/// Sorts diagnostics by their place. Equal ones, of a crowd or of several users of a preset, are reported once.
std::vector<Diagnostic> each_said_once(std::vector<Diagnostic> diagnostics) {
  const auto place = [](const Diagnostic& diagnostic) {
    return std::tuple{diagnostic.place.file, diagnostic.place.line, diagnostic.place.column};
  };
  const auto what = [](const Diagnostic& diagnostic) {
    const std::string_view text = diagnostic.text;
    const std::size_t end_of_whose = text.find(": ");
    return end_of_whose == std::string_view::npos ? text : text.substr(end_of_whose);
  };
  std::stable_sort(diagnostics.begin(), diagnostics.end(),
                   [&](const Diagnostic& a, const Diagnostic& b) { return place(a) < place(b); });
  std::vector<Diagnostic> said;
  std::size_t others = 0;
  const auto count_others = [&] {
    if (others > 0) said.back().text += " (and " + std::to_string(others) + " more like this)";
    others = 0;
  };
  for (Diagnostic& diagnostic : diagnostics) {
    if (!said.empty() && place(said.back()) == place(diagnostic) && what(said.back()) == what(diagnostic)) {
      ++others;
      continue;
    }
    count_others();
    said.push_back(std::move(diagnostic));
  }
  count_others();
  return said;
}

std::string all_lines(const std::vector<std::string>& files, const std::vector<Diagnostic>& diagnostics) {
  std::string text;
  for (const Diagnostic& diagnostic : diagnostics) {
    if (!text.empty()) text += '\n';
    text += files[static_cast<std::size_t>(diagnostic.place.file)] + ':';
    if (diagnostic.place.line > 0)
      text += std::to_string(diagnostic.place.line) + ':' + std::to_string(diagnostic.place.column) + ':';
    text += ' ' + diagnostic.text;
  }
  return text;
}

}  // namespace

LoadError::LoadError(std::string file, std::vector<Diagnostic> diagnostics)
    : LoadError{std::vector{std::move(file)}, std::move(diagnostics)} {}

LoadError::LoadError(std::vector<std::string> files, std::vector<Diagnostic> diagnostics)
    : Error{all_lines(files, diagnostics)}, files_{std::move(files)}, diagnostics_{std::move(diagnostics)} {}

namespace {

/// Reads a text and checks it. Throws `LoadError`.
std::unique_ptr<detail::SceneFileReader> read(std::string_view text, const std::string& name,
                                              const LoadOptions& options) {
  if (text.find('\0') != std::string_view::npos)
    throw LoadError{name, {{{}, "this is not a text file; give a scene file in TOML."}}};
  Value document;
  try {
    document = detail::parse_toml(text);
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{name, {diagnostic}};
  }
  auto reader = std::make_unique<detail::SceneFileReader>(std::move(document), name, options);
  if (!reader->diagnostics().empty())
    throw LoadError{reader->files(), each_said_once(std::move(reader->diagnostics()))};
  return reader;
}

std::unique_ptr<detail::SceneFileReader> read(const std::filesystem::path& file, const LoadOptions& options) {
  const detail::WhatToRead what{"a scene file, such as harbour.toml", std::uintmax_t{64} << 20};
  const auto kinds = detail::SceneFileReader::kinds_in(options);
  return read(detail::read_whole(file, what, *kinds), file.string(), options);
}

LoadOptions like(const Scene& scene, LoadOptions options) {
  options.like = &scene;
  return options;
}

/// Returns sentences about what was lost. Throws `LoadError`.
std::vector<std::string> replace(Scene& playing, SceneFile& next, ProgramChanges changes) {
  try {
    return playing.hot_reload(std::move(next.scene), changes);
  } catch (const VersionFails& error) {
    throw detail::load_error_of(error, next.files);
  }
}

/// Replaces all that was read from the file. Returns sentences about what was lost.
std::vector<std::string> replace(SceneFile& playing, SceneFile next, ProgramChanges changes) {
  auto lost = replace(playing.scene, next, changes);
  next.scene = std::move(playing.scene);
  playing = std::move(next);
  return lost;
}

}  // namespace

SceneFile read_scene_text(std::string_view text, const std::string& name, const LoadOptions& options) {
  return read(text, name, options)->build(options.like);
}

SceneFile read_scene_file(const std::filesystem::path& file, const LoadOptions& options) {
  return read(file, options)->build(options.like);
}

std::vector<Watch> watches_of(const SceneFile& file, const std::string& name) {
  std::vector<Watch> watches;
  std::vector<Diagnostic> diagnostics;
  for (const View::Watch& watch : file.view.watches) {
    try {
      watches.emplace_back(watch.text, file.scene);
    } catch (const Error& error) {
      diagnostics.push_back({watch.place, std::string{"view: "} + error.what()});
    }
  }
  if (!diagnostics.empty()) throw LoadError{name, diagnostics};
  return watches.empty() ? every_position(file.scene) : watches;
}

LoadError detail::load_error_of(const VersionFails& error, const std::vector<std::filesystem::path>& files) {
  std::vector<std::string> names;
  Diagnostic found{{}, error.what()};
  for (const std::filesystem::path& file : files) {
    names.push_back(file.string());
    const std::string_view problem = error.problem();
    if (!problem.starts_with(names.back() + ':')) continue;
    const std::size_t begin = names.back().size() + 1, end = problem.find(':', begin);
    const int line = std::atoi(error.problem().c_str() + begin);
    if (line > 0 && end != std::string_view::npos)
      found = {{line, 1, static_cast<int>(names.size() - 1)}, std::string{problem.substr(end + 2)} + '.'};
  }
  return LoadError{std::move(names), {std::move(found)}};
}

std::vector<std::string> reload(Scene& scene, const std::filesystem::path& file, const LoadOptions& options,
                                ProgramChanges changes) {
  SceneFile next = read(file, like(scene, options))->build(&scene);
  return replace(scene, next, changes);
}

std::vector<std::string> reload(SceneFile& playing, const std::filesystem::path& file, const LoadOptions& options,
                                ProgramChanges changes) {
  return replace(playing, read(file, like(playing.scene, options))->build(&playing.scene), changes);
}

PreparedScene::PreparedScene(std::unique_ptr<detail::SceneFileReader> reader) : reader_{std::move(reader)} {}
PreparedScene::PreparedScene(PreparedScene&&) noexcept = default;
PreparedScene& PreparedScene::operator=(PreparedScene&&) noexcept = default;
PreparedScene::~PreparedScene() = default;

detail::SceneFileReader& PreparedScene::reader() const {
  if (!reader_) throw BadValue{"this prepared scene was moved from; prepare another."};
  return *reader_;
}

PreparedScene prepare(const std::filesystem::path& file, const LoadOptions& options) {
  auto reader = read(file, options);
  (void)reader->build(nullptr);  // some mistakes, such as a dependency cycle, only a scene finds
  return PreparedScene{std::move(reader)};
}

std::vector<std::string> adopt(Scene& scene, PreparedScene prepared, ProgramChanges changes) {
  SceneFile next = prepared.reader().build(&scene);
  return replace(scene, next, changes);
}

std::vector<std::string> adopt(SceneFile& playing, PreparedScene prepared, ProgramChanges changes) {
  return replace(playing, prepared.reader().build(&playing.scene), changes);
}

Scene load(const std::filesystem::path& file) { return read_scene_file(file).scene; }

Value parse_value(std::string_view text) {
  if (is_name(text) && text != "true" && text != "false" && text != "inf" && text != "nan" &&
      text.find_first_not_of("0123456789-_") != std::string_view::npos && !(text[0] >= '0' && text[0] <= '9') &&
      text != "-inf" && text != "-nan")
    return Value{std::string{text}};
  try {
    const Value document = detail::parse_toml(std::string{"value = "}.append(text));
    const auto& table = *document.as<Value::Table>();
    if (table.size() == 1) return table[0].value;
  } catch (const Diagnostic&) {
  }
  throw BadValue{in_quotes(text) + " is not a value; give a number, a list such as [0, 1, 0], or a name."};
}

}  // namespace hushed
