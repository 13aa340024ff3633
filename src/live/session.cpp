// SPDX-License-Identifier: MIT
#include "session.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <utility>

#include <hushed/detail/kind.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/key_file.hpp>
#include <hushed/kinds.hpp>
#include <hushed/one_value.hpp>

#include "edit_request.hpp"
#include "scene_json.hpp"
#include "script_text.hpp"
#include "starting_keys.hpp"
#include "wire.hpp"

namespace hushed::detail {

namespace {

constexpr std::size_t most_watches = 32;
constexpr std::int64_t most_points = 4000;  ///< points in one answer
constexpr std::int64_t most_steps = 10'000;
constexpr double least_rate = 1.0;  ///< the least frame rate in 1/s that a client may ask for

std::uint64_t gesture_of(const Request& request) {
  return request.has("gesture") ? static_cast<std::uint64_t>(request.whole("gesture", 0, 9e15)) : 0;
}

bool are_same(const std::optional<Value>& a, const std::optional<Value>& b) {
  return a.has_value() == b.has_value() && (!a || as_text(*a) == as_text(*b));
}

/// The scene that a text says, or nothing where it has errors.
std::optional<Scene> scene_in(const SceneSource& source, const LoadOptions& options) {
  try {
    return read_scene_source(source, options).scene;
  } catch (const LoadError&) {
    return std::nullopt;
  }
}

/// The value at a path; nothing where there is none.
std::optional<std::optional<Value>> value_in(const std::optional<Scene>& scene, const std::string& path) {
  try {
    return scene ? std::optional{scene->get(path)} : std::nullopt;
  } catch (const BadValue&) {
    return std::nullopt;
  }
}

/// Replaces bytes that are not UTF-8 by the replacement character.
std::string as_text_of(const Json& json) { return json.dump(-1, ' ', false, Json::error_handler_t::replace); }

Session::Answer to_one(const Json& json) { return {{as_text_of(json)}}; }
Session::Answer to_all(const Json& json) { return {{as_text_of(json)}, true}; }
Session::Answer to_one(std::string bytes) { return {{std::move(bytes), Message::Kind::bytes}}; }

}  // namespace

Session::Session(Scene& scene) : scene_{scene}, mode_{scene, every_position(scene)} {
  begin({std::nullopt, {}, 1.0}, true);  // like the program before a client connected
}

Session::Session(OpenFile& file) : scene_{file.playing.scene}, file_{&file}, mode_{scene_, watches()} {
  watch_.know(file.playing.files);
}

void Session::begin(const Rhythm& rhythm, bool plays) {
  mode_.set_rhythm(rhythm);
  if (plays) mode_.play();
}

std::vector<Watch> Session::watches_for(const SceneFile* file, const Scene& scene) const {
  std::vector<Watch> watches;
  for (const std::string& text : chosen_watches_) {
    try {
      watches.emplace_back(text, scene);
    } catch (const BadValue&) {  // the object of a watch no longer exists
    }
  }
  if (watches.empty()) watches = file ? watches_of(*file, file_->path.string()) : every_position(scene);
  if (watches.size() > most_watches) watches.resize(most_watches, watches.front());
  return watches;
}

std::vector<Watch> Session::watches() const { return watches_for(file_ ? &file_->playing : nullptr, scene_); }

// --- telling -----------------------------------------------------------------------------------------------------

Json Session::scene() const {
  Json made = scene_in_json(mode_, scene_);
  made["protocol"] = protocol_version;
  made["name"] = file_ ? file_->playing.name : "";
  made["file"] = file_ ? Json(file_->path.filename().string()) : Json();
  if (file_ && file_->playing.view.sky) made["sky"] = css_of(*file_->playing.view.sky);
  if (file_ && file_->playing.view.water) made["water"] = *file_->playing.view.water;
  if (file_ && file_->playing.view.area && file_->playing.view.area->min.allFinite()) {
    const Box& area = *file_->playing.view.area;
    made["area"] = {{area.min.x(), area.min.y(), area.min.z()}, {area.max.x(), area.max.y(), area.max.z()}};
  }
  return made;
}

Json Session::state() const {
  const Rhythm& rhythm = mode_.rhythm();
  const auto reading = watch_.reading();
  return {{"kind", "state"},
          {"playing", mode_.playing()},
          {"playable", mode_.playable_from()},
          {"edition", mode_.edition()},
          {"values", values_edition_},
          {"files", files_edition_},
          {"rate", rhythm.per_second ? Json(*rhythm.per_second) : Json()},
          {"uneven", rhythm.uneven ? Json(*rhythm.uneven) : Json()},
          {"pace", rhythm.pace},
          {"undo", mode_.can_undo()},
          {"redo", mode_.can_redo()},
          {"tries", tries_.in_json()},
          {"edits", file_ ? Json(file_->source.descriptions()) : Json::array()},
          {"held", mode_.held()},
          {"changed", changes_in_json(mode_.changed(), scene_)},
          {"watches", watches_in_json(mode_.watches())},
          {"diagnostics", diagnostics_},
          {"reading", reading ? Json{{"file", reading->file}, {"percent", reading->percent}} : Json()},
          {"lost", lost_}};
}

Json Session::marks() const { return {{"kind", "marks"}, {"from", 0}, {"marks", marks_in_json(mode_.past(), 0)}}; }

std::vector<Session::Answer> Session::greet() const {
  return {to_one(scene()), to_one(state()), to_one(marks()), {{frame_bytes(mode_), Message::Kind::frame}}};
}

void Session::report_changes(Answers& answers) {
  if (!std::exchange(is_scene_sent_, true)) {
    std::string now = as_text_of(scene());
    if (now != sent_scene_) answers.push_back({{now}, true});
    sent_scene_ = std::move(now);
  }
  const auto& happenings = mode_.past().happenings;
  const bool is_another_past = mode_.edition() != sent_edition_;
  if (is_another_past || happenings.size() != sent_happenings_) {
    const std::size_t from = is_another_past || happenings.size() < sent_happenings_ ? 0 : sent_happenings_;
    const Json news{{"kind", "marks"}, {"from", from}, {"marks", marks_in_json(mode_.past(), from)}};
    answers.push_back(to_all(news));
    sent_happenings_ = happenings.size();
  }
  if (std::string now = as_text_of(state()); now != sent_state_) {
    sent_state_ = now;
    answers.push_back({{std::move(now)}, true});
  }
  if (is_another_past || mode_.current() != sent_frame_)
    answers.push_back({{frame_bytes(mode_), Message::Kind::frame}, true});
  sent_edition_ = mode_.edition();
  sent_frame_ = mode_.current();
}

// --- doing -------------------------------------------------------------------------------------------------------

std::vector<Session::Answer> Session::handle(int client, std::string_view text) {
  Answers answers;
  std::string what = "nothing";
  begin_slice();
  try {
    check_for_new_objects();
    const Request request{text};
    what = request.text("do");
    answers = perform(client, request);
    work_on(answers);
  } catch (const std::exception& error) {
    answers.push_back(to_one(Json{{"kind", "refused"}, {"do", what}, {"text", error.what()}}));
  }
  report_changes(answers);
  return answers;
}

Session::Answers Session::perform(int client, const Request& request) {
  const std::string what = request.text("do");
  const auto frame_of = [&] { return request.whole("frame", 0, 1e15); };
  // Requests that change the scene. The caller sends messages about the changes.
  const std::array<std::pair<std::string_view, std::function<void()>>, 19> plain{{
      {"play", [&] { play(request); }},
      {"pause", [&] { mode_.pause(); }},
      {"step", [&] { step(request); }},
      {"show", [&] { mode_.go_to(frame_of()); }},
      {"again", [&] { begin_again(); }},
      {"rhythm", [&] { set_rhythm(request); }},
      {"set", [&] { set(request); }},
      {"reset", [&] { mode_.reset(request.text("path"), gesture_of(request)); }},
      {"undo", [&] { undo(); }},
      {"redo", [&] { redo(); }},
      {"edit", [&] { edit(request); }},
      {"try", [&] { tries_.add(mode_.changed(), present().text); }},
      {"drop try", [&] { tries_.remove(request.text("name")); }},
      {"use try", [&] { use_try(request); }},
      {"input", [&] { announce(request); }},
      {"fire", [&] { mode_.fire(request.text("rule")); }},
      {"press", [&] { keys_.press(client, request.text("key")); }},
      {"release", [&] { keys_.release(client, request.text("key")); }},
      {"axis", [&] { mode_.axis(request.text("name"), std::clamp(request.number("value"), -1.0, 1.0)); }},
  }};
  for (const auto& [name, act] : plain) {
    if (name != what) continue;
    if (what != "step") steps_left_ = 0;  // other requests refer to the current frame
    act();
    if (what != "pause" && what != "show" && what != "press" && what != "release") ++values_edition_;
    return {};
  }
  if (what == "watch") {
    std::vector<std::string> texts = request.texts("watches", most_watches);
    for (const std::string& text : texts) Watch{text, scene_};  // checks all before one is accepted
    chosen_watches_ = std::move(texts);
    mode_.watch(watches());
    return {};
  }
  if (what == "object") {
    const std::string name = request.text("name");
    const auto object = scene_.find(name);
    if (!object) throw BadValue{"no object " + in_quotes(name) + " exists now."};
    return {to_one(object_in_json(scene_, *object))};
  }
  if (what == "urges") return {to_one(urges_in_json(mode_, scene_, request.text("name")))};
  if (what == "rules") return rules();
  if (what == "kinds") return kinds(request);
  if (what == "model") return model(request);
  if (what == "measures") return {to_one(measures_in_json())};
  if (what == "measure" || what == "find") {
    find(client, request);
    return {};
  }
  if (what == "stop finding") {
    search_.leave(client);
    return {};
  }
  if (what == "past") return past(request);
  if (what == "ahead") {
    ahead(client, request);
    return {};
  }
  if (what == "compare") {
    compare(client, request);
    return {};
  }
  if (what == "export") return export_file(client, request);
  if (what == "plan") return plan(request);
  if (what == "keep") return keep(request);
  if (what == "script") return script(request);
  if (what == "write") return write(request);
  throw BadValue{"unknown request " + in_quotes(what) + "."};
}

void Session::play(const Request& request) {
  if (request.has("frame")) mode_.go_to(request.whole("frame", 0, 1e15));
  mode_.resume();
  keys_.agree();
  mode_.play();
}

void Session::step(const Request& request) {
  const std::int64_t by = request.whole("by", -10'000, 10'000), wanted = mode_.current() + by;
  if (wanted <= mode_.last()) return mode_.step(by);
  const std::int64_t disconnected = std::min(steps_left_ + wanted - mode_.last(), most_steps);
  mode_.go_to(mode_.last());
  keys_.agree();
  steps_left_ = disconnected;
}

void Session::begin_slice() {
  if (longest_) until_ = std::chrono::steady_clock::now() + *longest_;
}

void Session::work_on(Answers& answers) {
  bool is_first = true;  // at least one piece of work is done
  for (; steps_left_ > 0 && (is_first || has_time()); --steps_left_) {
    mode_.step(1);
    is_first = false;
  }
  const auto goes_on = [this] { return has_time(); };
  if (predicting_.is_busy() && (is_first || has_time()))
    for (Predicting::Result& result : predicting_.work(mode_, goes_on))
      answers.push_back({{std::move(result.bytes), Message::Kind::bytes}, false, result.client});
  if (comparing_.is_busy() && (is_first || has_time()))
    for (Comparing::Result& result : comparing_.work(mode_, goes_on))
      for (Message& message : result.messages) answers.push_back({std::move(message), false, result.client});
  if (exporting_.is_busy() && (is_first || has_time()))
    for (Exporting::Result& result : exporting_.work(mode_, goes_on))
      answers.push_back({std::move(result.message), false, result.client});
}

std::vector<Session::Answer> Session::leave(int client) {
  Answers answers;
  keys_.leave(client);
  predicting_.leave(client);
  comparing_.leave(client);
  exporting_.leave(client);
  search_.leave(client);
  report_changes(answers);
  return answers;
}

void Session::check_for_new_objects() {
  if (file_ || !mode_.has_new_objects()) return;
  mode_.start_over(watches());
  is_scene_sent_ = false;
}

void Session::begin_again() {
  if (mode_.playable_from() == 0 && mode_.first() == 0) return mode_.go_to(0);
  if (!file_)
    throw BadValue{"the beginning is no longer stored; go to a frame from " + std::to_string(mode_.playable_from()) +
                   " on."};
  const auto changes = mode_.changed();
  const bool was_playing = mode_.playing();
  file_->playing = read_scene_source(file_->source.now(), options());
  feed(scene_, file_->feed);
  mode_.start_over(watches(), changes);
  keys_.agree();
  if (was_playing) mode_.play();
}

void Session::set(const Request& request) {
  mode_.set(request.text("path"), parse_value(request.text("to")), gesture_of(request));
}

void Session::set_rhythm(const Request& request) {
  Rhythm rhythm = mode_.rhythm();
  if (request.has("rate") && file_) {
    rhythm.per_second = request.number("rate");
    if (!(*rhythm.per_second >= least_rate)) throw BadValue{"rate: out of range; give 1 to 1000000 frames per second."};
  }
  if (request.has("pace")) rhythm.pace = request.number("pace");
  if (request.has("uneven"))
    rhythm.uneven = request.is_null("uneven")
                        ? std::nullopt
                        : std::optional{static_cast<std::uint64_t>(request.whole("uneven", 0, 9e15))};
  mode_.set_rhythm(rhythm);
}

std::vector<std::size_t> Session::objects_of(const Request& request) const {
  std::vector<std::size_t> objects;
  for (const std::string& name : request.texts("objects", 64)) {
    const auto found = mode_.past().find(name);
    if (!found) throw BadValue{"no object " + in_quotes(name) + "."};
    objects.push_back(*found);
  }
  return objects;
}

Session::Answers Session::past(const Request& request) {
  Stretch stretch{static_cast<std::uint32_t>(request.whole("ask", 0, 4e9)), objects_of(request),
                  std::clamp(request.whole("first", 0, 1e15), mode_.first(), mode_.last()),
                  std::clamp(request.whole("last", 0, 1e15), mode_.first(), mode_.last()), 1};
  stretch.stride = std::max<std::int64_t>(1, (stretch.last - stretch.first + most_points) / most_points);
  return {to_one(past_bytes(mode_, stretch))};
}

void Session::ahead(int client, const Request& request) {
  if (!file_) throw BadValue{"the future of a running program's scene cannot be computed."};
  Stretch stretch{static_cast<std::uint32_t>(request.whole("ask", 0, 4e9)), objects_of(request), mode_.current(),
                  mode_.current(), 1};
  predicting_.begin(mode_, client, values_edition_, std::move(stretch), request.number("seconds"));
}

// --- the file ----------------------------------------------------------------------------------------------------

std::filesystem::path Session::script_file(const Request& request) const {
  const std::string path = request.text("behaviour");
  const auto behaviour = scene_.find_behaviour(path);
  const auto file = file_ && behaviour ? script_of(scene_, *behaviour) : std::nullopt;
  if (!file) throw BadValue{path + ": no script of a file; only those can be edited here."};
  return *file;
}

Session::Answers Session::script(const Request& request) const {
  const auto file = script_file(request);
  const ScriptText found = read_script(file);
  return {to_one(Json{{"kind", "script"},
                      {"behaviour", request.text("behaviour")},
                      {"file", file.filename().string()},
                      {"version", found.version},
                      {"text", found.text}})};
}

/// The changed file is read again like one that another program has saved.
Session::Answers Session::write(const Request& request) const {
  const auto file = script_file(request);
  const ScriptText now = write_script(file, request.text("version"), request.long_text("text", 64'000));
  return {to_one(Json{{"kind", "written"},
                      {"behaviour", request.text("behaviour")},
                      {"file", file.filename().string()},
                      {"version", now.version}})};
}

Session::Answers Session::plan(const Request& request) {
  if (!file_) throw BadValue{"this scene has no file, so values cannot be kept."};
  return {to_one(keeping_.plan(mode_, scene_, file_->source, request))};
}

Session::Answers Session::keep(const Request& request) {
  if (!file_) throw BadValue{"this scene has no file, so values cannot be kept."};
  const std::string old_text = present().text;
  const Keeping::Kept kept = keeping_.keep(mode_, scene_, file_->source, request);
  file_->source.written(SceneSource{file_->path});
  tries_.take(old_text, present().text, kept.values);
  watch_.know(file_->playing.files);
  ++values_edition_;
  return {to_all({{"kind", "kept"}, {"text", kept.text}})};
}

void Session::check_file() {
  if (!file_ || !watch_.finds_change(file_->playing.files, scene_)) return;
  try {
    read_file_again();
  } catch (const LoadError& error) {
    diagnostics_ = diagnostics_in_json(error);
  } catch (const std::exception& error) {
    diagnostics_ = Json::array({{{"file", file_->path.string()}, {"line", 0}, {"column", 0}, {"text", error.what()}}});
  }
  ++values_edition_;
  ++files_edition_;
  is_scene_sent_ = false;
}

void Session::read_file_again() {
  EditedFile source = file_->source;
  const EditedFile::Taken taken = source.take(SceneSource{file_->path}, options());
  const std::string old_text = present().text;
  load_again(source.now(), old_text);
  file_->source = std::move(source);
  tries_.take(old_text, present().text, {});
  diagnostics_ = nullptr;
  lost_.insert(lost_.end(), taken.lost.begin(), taken.lost.end());
  for (const EditedFile::Step& step : taken.dropped) mode_.forget_mark(step.name(), step.path_changes());
}

void Session::load_again(const SceneSource& source, const std::string& before) {
  SceneFile next = read_scene_source(source, options());
  const std::vector<PlayMode::Changed> tuned = mode_.tuned();
  const auto earlier = tuned.empty() ? std::nullopt : scene_in(source.with_text(before), options());
  std::map<std::string, std::optional<Value>> beginnings;
  std::vector<std::pair<std::string, std::optional<Value>>> wanted;  // the present ones, where the texts say the same
  for (const PlayMode::Changed& change : tuned) {
    try {
      const auto given = next.scene.get(change.path);
      beginnings[change.path] = given;
      const auto was_given = value_in(earlier, change.path).value_or(change.before);
      wanted.emplace_back(change.path, are_same(given, was_given) ? change.now : given);
    } catch (const BadValue&) {  // it no longer exists
    }
  }
  std::vector<Watch> watches = watches_for(&next, next.scene);
  const bool was_playing = mode_.playing();
  const std::int64_t current = mode_.current();
  mode_.go_to(mode_.last());  // the state of the scene is that of the last frame
  const auto go_back = [&] { was_playing ? mode_.play() : mode_.go_to(current); };
  try {
    lost_ = scene_.hot_reload(std::move(next.scene));
  } catch (const VersionFails& error) {
    go_back();
    throw detail::load_error_of(error, next.files);
  }
  for (const auto& [path, value] : wanted)
    if (!are_same(scene_.get(path), value)) value ? scene_.set(path, *value) : scene_.reset(path);
  next.scene = std::move(scene_);
  file_->playing = std::move(next);
  mode_.rebuilt(std::move(watches), [&](const std::string& path) -> std::optional<Value> {
    const auto found = beginnings.find(path);
    return found != beginnings.end() ? found->second : scene_.get(path);
  });
  go_back();
}

// --- editing -----------------------------------------------------------------------------------------------------

void Session::load_edited(const SceneSource& source, const std::string& before, const std::vector<SceneEdit>& renamed,
                          bool is_undone) {
  if (mode_.current() != mode_.last()) (void)read_scene_source(source, options());  // if it throws, no frame is dropped
  mode_.resume();
  std::vector<std::pair<std::string, std::string>> renames;
  for (const SceneEdit& edit : renamed)
    if (const auto* rename = std::get_if<RenameObject>(&edit))
      renames.emplace_back(is_undone ? rename->name : rename->object, is_undone ? rename->object : rename->name);
  if (is_undone) std::reverse(renames.begin(), renames.end());
  std::vector<std::pair<std::string, std::string>> made;
  try {
    for (const auto& [from, to] : renames) {
      if (!scene_.find(from) || scene_.find(to)) continue;  // another program has changed the file
      mode_.rename(from, to);
      made.emplace_back(from, to);
    }
    load_again(source, before);
  } catch (...) {
    for (; !made.empty(); made.pop_back()) mode_.rename(made.back().second, made.back().first);
    throw;
  }
  is_scene_sent_ = false;
}

void Session::edit(const Request& request) {
  if (!file_) throw BadValue{"this scene has no file; only scenes of a file can be edited here."};
  EditedFile::Step step = file_->source.planned(edits_of(request), gesture_of(request), mode_.next_undo(), options());
  const std::vector<PlayMode::Changed> changed = mode_.changed();
  load_edited(file_->source.on_disk().with_text(step.after), step.before, step.edits, false);
  const std::vector<PlayMode::Changed> left = mode_.changed();
  for (const PlayMode::Changed& change : changed)
    if (std::none_of(left.begin(), left.end(), [&](const auto& each) { return each.path == change.path; }))
      step.lost.push_back(change);
  const std::string name = step.name();
  if (file_->source.make(std::move(step))) mode_.mark(name);
}

void Session::undo() {
  const EditedFile::Step* const step = file_ ? file_->source.to_undo(mode_.next_undo()) : nullptr;
  if (step) {
    const std::vector<PlayMode::Changed> lost = step->lost;
    load_edited(file_->source.on_disk().with_text(step->before), step->after, step->edits, true);
    file_->source.undo();
    mode_.put_again(lost);
  }
  mode_.undo();
}

void Session::redo() {
  const EditedFile::Step* const step = file_ ? file_->source.to_redo(mode_.next_redo()) : nullptr;
  if (step) {
    load_edited(file_->source.on_disk().with_text(step->after), step->before, step->edits, false);
    file_->source.redo();
  }
  mode_.redo();
}

// --- tries and files for the page --------------------------------------------------------------------------------

Try Session::present() const { return {"now", mode_.changed(), file_ ? file_->source.now().files().front().text : ""}; }

void Session::use_try(const Request& request) {
  const Try wanted = tries_.find(request.text("name"));
  if (file_ && wanted.text != present().text) {
    if (wanted.is_outdated)
      throw BadValue{"the file has been saved since the try " + wanted.name +
                     ", which has other objects, behaviours or rules; keep another try of them."};
    EditedFile::Step step = file_->source.replaced(wanted.text);
    load_edited(file_->source.on_disk().with_text(step.after), step.before, {}, false);
    const std::string name = step.name();
    file_->source.make(std::move(step));
    mode_.mark(name);
  }
  ++own_gesture_;
  for (const PlayMode::Changed& change : changes_to(wanted, mode_.changed()))
    change.now ? mode_.set(change.path, *change.now, own_gesture_) : mode_.reset(change.path, own_gesture_);
}

void Session::compare(int client, const Request& request) {
  const std::vector<std::string> names = request.texts("tries", 2);
  if (names.size() != 2) throw BadValue{"tries: give two; \"now\" stands for the present values."};
  const auto try_of = [&](const std::string& name) { return name == "now" ? present() : tries_.find(name); };
  comparing_.begin(mode_, client, request, {try_of(names[0]), try_of(names[1])}, present().text, objects_of(request),
                   [this](const Try& each) { return scene_of(each); });
}

Session::Answers Session::export_file(int client, const Request& request) {
  const std::string what = request.text("what"), stem = file_ ? file_->path.stem().string() : "scene";
  if (what == "recording") {
    exporting_.begin(mode_, client, request, stem);
    return {};
  }
  if (what == "keys") return {{file_message(stem + "-keys.csv", key_file_text(mode_.input()))}};
  if (what != "scene") throw BadValue{"what: give recording, keys or scene."};
  if (!file_) throw BadValue{"this scene has no file."};
  const Try wanted = request.has("try") ? tries_.find(request.text("try")) : present();
  std::vector<ValueToKeep> values;
  for (const PlayMode::Changed& change : wanted.changes) values.push_back({change.path, change.now});
  const SceneSource source = file_->source.on_disk().with_text(wanted.text);
  const KeepPlan plan = plan_keep(source, values);
  if (!plan.refusals.empty()) throw BadValue{plan.refusals.front().path + ": " + plan.refusals.front().why};
  std::string text = wanted.text;
  for (const SceneSource::File& file : plan.after)
    if (file.path == source.files().front().path) text = file.text;
  return {{file_message(stem + '-' + wanted.name + ".toml", text)}};
}

Session::Answers Session::model(const Request& request) const {
  const std::string name = request.text("model");
  constexpr std::size_t most_bytes = std::size_t{32} << 20;
  for (const Object object : scene_.objects()) {
    const auto& shape = scene_.shape(object);
    if (!shape || !shape->model || name_of_model(*shape->model) != name) continue;
    std::string bytes = model_bytes(*shape->model, name, most_bytes);
    if (bytes.size() > most_bytes) throw BadValue{"the model is larger than 32 MB; it is shown by its bounds."};
    return {to_one(std::move(bytes))};
  }
  throw BadValue{"no object of this scene has the model " + in_quotes(name) + "."};
}

Scene Session::scene_of(const Try& wanted) const {
  Scene copy = read_scene_source(file_->source.now(), options()).scene;
  SceneAccess::make_copy_of(copy, scene_);
  SceneFile next = read_scene_source(file_->source.on_disk().with_text(wanted.text), {scene_.tick_rate(), &copy});
  copy.hot_reload(std::move(next.scene));
  for (const PlayMode::Changed& change : changes_to(wanted, mode_.changed())) {
    try {
      change.now ? copy.set(change.path, *change.now) : copy.reset(change.path);
    } catch (const BadValue&) {  // of an object or a behaviour that the try does not have
    }
  }
  return copy;
}

Scene Session::separate_scene() const {
  if (!file_) throw BadValue{"this scene has no file from which another could be read, to be played beside it."};
  const auto known = SceneAccess::kinds(scene_);
  const Kinds kinds = known ? known->anew() : Kinds{};
  SceneFile made = read_scene_source(file_->source.now(), {.tick_rate = scene_.tick_rate(), .kinds = &kinds});
  for (const Object object : made.scene.objects())
    for (const AnyBehaviour behaviour : made.scene.behaviours(object)) {
      const Kind& kind = SceneAccess::kind(made.scene, behaviour);
      if (!kind.traits().thread_safe && known && known->find(kind.name()))
        throw BadValue{"the behaviour " + in_quotes(kind.name()) +
                       " is the program's own, and does not say that it may be used by another thread."};
    }
  for (const PlayMode::Changed& change : mode_.changed())
    change.now ? made.scene.set(change.path, *change.now) : made.scene.reset(change.path);
  feed(made.scene, file_->feed);
  for (const InputChange& change : mode_.input()) made.scene.input(change);
  return std::move(made.scene);
}

void Session::find(int client, const Request& request) { search_.begin(client, request, separate_scene()); }

void Session::tell_found(Answers& answers) {
  for (ValueSearch::News& each : search_.news()) {
    if (each.found) {
      try {
        const OneValue value{each.path, scene_};
        std::vector<PlayMode::Changed> changes = mode_.changed();
        const auto known = std::find_if(changes.begin(), changes.end(), [&](const PlayMode::Changed& change) {
          return change.path == value.whole_path();
        });
        const Value now = value.whole_with(scene_, Value{*each.found});
        if (known != changes.end())
          known->now = now;
        else
          changes.push_back({value.whole_path(), scene_.get(value.whole_path()), now});
        each.message["try"] = tries_.add(std::move(changes), present().text).name;
      } catch (const BadValue& error) {  // eight tries, or the value has gone since
        each.message["try"] = nullptr;
        each.message["text"] = error.what();
      }
    }
    answers.push_back({{as_text_of(each.message)}, false, each.client});
  }
}

void Session::announce(const Request& request) {
  mode_.announce(read_key_text(request.long_text("text", 60'000), "the key file"));
}

Session::Answers Session::rules() {
  const SceneSource* const source = file_ ? &file_->source.now() : nullptr;
  return {to_one(rules_in_json(mode_, scene_, source))};
}

Session::Answers Session::kinds(const Request& request) const {
  if (!file_) throw BadValue{"this scene has no file; only scenes of a file can be edited here."};
  const std::string name = request.text("object");
  const auto object = scene_.find(name);
  if (!object) throw BadValue{"no object " + in_quotes(name) + " exists now."};
  Json list = Json::array();
  for (const StartingKind& kind : starting_kinds(scene_, *object, file_->path.parent_path()))
    list.push_back({{"name", kind.name}, {"summary", kind.summary}, {"keys", kind.keys}});
  return {to_one(Json{{"kind", "kinds"}, {"object", name}, {"kinds", list}})};
}

std::vector<Session::Answer> Session::pass(Time real) {
  check_file();
  Answers answers;
  try {
    check_for_new_objects();
    begin_slice();
    mode_.pass(real, longest_ ? [this] { return has_time(); } : std::function<bool()>{});
    work_on(answers);
    tell_found(answers);
  } catch (const std::exception& error) {
    mode_.pause();
    steps_left_ = 0;
    answers.push_back(to_all({{"kind", "refused"}, {"do", "play"}, {"text", error.what()}}));
  }
  report_changes(answers);
  return answers;
}

}  // namespace hushed::detail
