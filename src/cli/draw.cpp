// SPDX-License-Identifier: MIT
// hushed draw: draws one play, or several in one picture.

#include <memory>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <hushed/picture.hpp>
#include <hushed/recording_file.hpp>
#include <hushed/value.hpp>

#include "command.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

struct DrawOptions {
  Playing playing;
  std::vector<std::string> scenes;
  std::vector<std::string> watches, measures;
  std::string vary;
  std::string only;
  std::string file = "hushed.png";
  std::string showing = "both", from = "above";
  PictureOptions picture;
};

/// A play to be drawn: of a scene, possibly with one more value set, or of a recording.
struct Draft {
  std::string file, set, label;
};

std::vector<Draft> drafts_of(const DrawOptions& options) {
  std::vector<Draft> drafts;
  if (options.vary.empty()) {
    for (const std::string& scene : options.scenes) drafts.push_back({scene, "", scene});
    return drafts;
  }
  const std::size_t equals = options.vary.find('=');
  if (equals == std::string::npos || options.scenes.size() != 1)
    throw WrongCommandLine{"--vary " + options.vary +
                           ": give one scene, and PATH=VALUE,VALUE, such as lamp.spin.speed=20,40."};
  const std::string path = options.vary.substr(0, equals);
  for (const std::string& value : split_watches(options.vary.substr(equals + 1)))
    drafts.push_back({options.scenes[0], fmt::format("{}={}", path, value), fmt::format("{} = {}", path, value)});
  return drafts;
}

SceneFile opened(const Draft& draft, const std::optional<Recording>& recording, const DrawOptions& options) {
  SceneFile file = recording ? SceneFile{replay(*recording), draft.file, {}} : options.playing.open(draft.file);
  if (!draft.set.empty()) set_value(file.scene, draft.set, "--vary");
  if (recording && recording->frames() > 0) file.scene.advance(recording->times.front());
  return file;
}

/// Notes of the measures of a play up to a frame.
std::vector<Watched::Note> measured(Scene scene, std::int64_t last, const DrawOptions& options) {
  std::vector<Watched::Note> notes;
  const std::vector<Measure> measures = measures_of(options.measures, scene);
  if (measures.empty()) return notes;
  try {
    const std::vector<Measured> found =
        measure(scene, measures, frame_time(last, options.playing.fps), [](double) { return !stop_asked(); });
    for (std::size_t i = 0; i < found.size(); ++i) notes.push_back(note_of(measures[i], found[i]));
  } catch (const BadValue& error) {
    throw WrongCommandLine{std::string{"--measure "} + error.what()};
  }
  return notes;
}

Watched played(const Draft& draft, const DrawOptions& options, std::string& title) {
  std::optional<Recording> recording;
  if (is_recording(draft.file)) recording = read_recording(draft.file);
  SceneFile file = opened(draft, recording, options);
  if (title.empty()) title = file.name.empty() ? draft.file : file.name;
  std::vector<Watch> watches;
  if (options.measures.empty() || !options.watches.empty()) watches = watches_of(options.watches, file, draft.file);
  for (const Measure& measure : measures_of(options.measures, file.scene)) add_watch_of(measure, watches);
  std::int64_t last = options.playing.last_stored_frame(file.scene);
  if (recording && recording->frames() > 0) {  // its own length by default
    const double length = in_seconds(recording->times.back() - recording->times.front());
    if (!options.playing.says_how_long()) last = static_cast<std::int64_t>(length * options.playing.fps + 1e-6);
  }
  Progress progress{last, Prints::no};
  Watched played =
      watch(file.scene, watches, options.playing.times(), options.playing.first_frame(), last, [&](std::int64_t frame) {
        progress.at(frame);
        return !stop_asked();
      });
  played.label = draft.label;
  if (!options.measures.empty()) played.notes = measured(opened(draft, recording, options).scene, last, options);
  return played;
}

template <class E>
E chosen(const std::string& word) {
  for (const auto& [value, name] : choices(E{}))
    if (name == word) return value;
  return E{};
}

int run(const DrawOptions& options) {
  if (!options.file.ends_with(".png") && !options.file.ends_with(".svg"))
    throw WrongCommandLine{"--to " + options.file + ": unknown format; give a file that ends in .png or .svg."};
  listen_for_stop();
  PictureOptions picture = options.picture;
  picture.showing = chosen<Showing>(options.showing);
  picture.from = chosen<ViewFrom>(options.from);
  if (!options.only.empty()) picture.only = split_watches(options.only);
  std::vector<Watched> plays;
  for (const Draft& draft : drafts_of(options)) plays.push_back(played(draft, options, picture.title));
  for (const std::string& name : picture.only)
    if (!plays.front().recording.find(name)) {
      const std::vector<std::string_view> names{plays.front().recording.objects.begin(),
                                                plays.front().recording.objects.end()};
      throw WrongCommandLine{"--only: no object " + in_quotes(name) + suggestion(name, names)};
    }
  if (stop_asked()) {
    fmt::print(stderr, "hushed: stopped before the play was complete; no picture was written.\n");
    return interrupted;
  }
  draw(plays, options.file, picture);
  fmt::print(stderr, "hushed: drew {} frames of {} objects in {}.\n", plays.front().recording.frames(),
             plays.front().recording.objects.size(), options.file);
  return done;
}

std::vector<std::string> words_of(const auto& all) {
  std::vector<std::string> words;
  for (const auto& [value, name] : all) words.emplace_back(name);
  return words;
}

}  // namespace

void add_draw(CLI::App& app, int& status) {
  const auto options = std::make_shared<DrawOptions>();
  CLI::App* draw = app.add_subcommand("draw", "Draw a play: paths in space, and curves of watched numbers");
  draw->add_option("SCENE", options->scenes, "a scene or a recording; several are drawn in one picture")->required();
  draw->add_option("--to", options->file, "the picture's file, .png or .svg")->type_name("FILE")->capture_default_str();
  draw->add_option("--show", options->showing, "both, curves or paths")
      ->check(one_of(words_of(choices(Showing{}))))
      ->capture_default_str();
  draw->add_option("--from", options->from, "viewpoint of the paths: above, side or angle")
      ->check(one_of(words_of(choices(ViewFrom{}))))
      ->capture_default_str();
  add_playing(*draw, options->playing, Zoom::yes);
  draw->add_option("--watch", options->watches, "numbers to plot; default: the watches of [view] in the scene file")
      ->type_name("WATCH")
      ->expected(1)
      ->take_all();
  add_measures(*draw, options->measures, "mark this in the curves");
  draw->add_option("--vary", options->vary, "play once with each of these values, such as hook.spring.damping=0.1,0.3")
      ->type_name("PATH=VALUES");
  draw->add_option("--only", options->only, "draw only the paths of these objects, such as ferry,tug")
      ->type_name("OBJECTS");
  draw->add_option("--ghosts", options->picture.ghosts_every, "frames between two ghosts (shapes drawn along a path)")
      ->check(whole_number_from(1, 1'000'000'000));
  draw->add_option("--width", options->picture.width, "pixels")
      ->check(whole_number_from(320, 10'000))
      ->capture_default_str();
  draw->add_option("--height", options->picture.height, "pixels")
      ->check(whole_number_from(320, 10'000))
      ->capture_default_str();
  draw->footer(
      "\nExamples:\n"
      "  hushed draw scenes/harbour.toml\n"
      "  hushed draw scenes/harbour.toml --show paths --from angle --only ferry,tug --to ferry.svg\n"
      "  hushed draw scenes/harbour.toml --show curves --watch hook.position --frames 240:480\n"
      "  hushed draw scenes/harbour.toml --show curves --watch hook.position.x --vary hook.spring.damping=0.1,0.3,1\n"
      "  hushed draw scenes/harbour.toml --show curves --measure \"peak(hook.position.x)\"");
  draw->callback([options, &status] { status = run(*options); });
}

}  // namespace hushed::cli
