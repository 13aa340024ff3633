// SPDX-License-Identifier: MIT
// hushed new behaviour: writes a script to begin with.

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>
#include <string>

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/name.hpp>

#include "command.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

constexpr const char* function_of_time = R"(-- What it does, in a sentence.
about = "rises and falls"

-- Each field is a key in scene files and a slider in play mode: its name and its default, then what helps people to
-- give it. A default is a number, true or false, a vector, words{"up", "down"}, object, or tagged.
fields = {
  { "height", 0.5, unit = "m", range = { 0, 100 }, slider = { 0, 2 }, help = "how far it rises and falls" },
  { "period", 4, unit = "s", range = { 0.1, 600 }, slider = { 1, 10 }, help = "time to rise and fall once" },
}

-- Changes the pose that comes from the behaviours below, in the parent's space. It depends on time alone, so it may be
-- called at any moment, in any order. Angles are in degrees, times in seconds.
function apply(pose, now, my)
  local along = 360 * now.since_start / my.period
  pose.position = pose.position + vector(0, my.height * sin(along), 0)
end
)";

constexpr const char* with_memory = R"(-- What it does, in a sentence.
about = "rises to a height, ever slower"

-- Each field is a key in scene files and a slider in play mode: its name and its default, then what helps people to
-- give it. A default is a number, true or false, a vector, words{"up", "down"}, object, or tagged.
fields = {
  { "height", 3, unit = "m", range = { -1000, 1000 }, slider = { 0, 10 }, help = "where it comes to rest" },
  { "half_life", 0.5, unit = "s", range = { 0.001, 60 }, slider = { 0.05, 3 }, help = "time for half of the way" },
}

-- All that it remembers from one tick to the next: numbers and vectors.
memory = { height = 0 }

-- Sets the memory when the behaviour starts.
function begin(pose, now, my, kept)
  kept.height = pose.position.y
end

-- Called once a tick. `now.step` is the time since the last tick, in seconds; 0 at the start.
function apply(pose, now, my, kept)
  kept.height = mix(my.height, kept.height, exp2(-now.step / my.half_life))
  pose.position = vector(pose.position.x, kept.height, pose.position.z)
end
)";

struct NewCommand {
  std::string what, name;
  bool memory = false;
};

void write_behaviour(const NewCommand& command) {
  std::filesystem::path file{command.name};
  if (file.extension() != ".lua") file += ".lua";
  const std::string name = file.stem().string();
  if (const auto wrong = wrong_with_name(name, "a behaviour")) throw WrongCommandLine{*wrong};
  const std::unique_ptr<std::FILE, int (*)(std::FILE*)> out{std::fopen(file.c_str(), "wx"), std::fclose};
  if (!out && errno == EEXIST) throw Error{file.string() + " exists already; choose another name."};
  const auto fail = [&] { throw Error{file.string() + ": the file cannot be written: " + std::strerror(errno) + '.'}; };
  if (!out) fail();
  if (std::fputs(command.memory ? with_memory : function_of_time, out.get()) < 0 || std::fflush(out.get()) != 0) fail();
  Output output;
  output.write(fmt::format(
      "{0} is written. To use it, add these lines to a scene file; the path is relative to that file:\n\n"
      "[[object.NAME.behaviour]]\n"
      "script = \"{0}\"\n"
      "height = 1\n\n"
      "`hushed describe {0}` lists its fields. In `hushed live SCENE` the motion changes as soon as the script is "
      "saved.\n",
      file.string()));
  output.flush();
}

}  // namespace

void add_new(CLI::App& app, int& status) {
  const auto command = std::make_shared<NewCommand>();
  CLI::App* made = app.add_subcommand("new", "Write a behaviour in Lua to begin with");
  made->add_option("WHAT", command->what, "behaviour: a small script, and how to use it")
      ->required()
      ->check(one_of({"behaviour"}));
  made->add_option("NAME", command->name, "its name, or the path of its file: nodding, scripts/nodding.lua")
      ->required();
  made->add_flag("--memory", command->memory, "a behaviour that remembers numbers from tick to tick");
  made->footer(
      "\nAn existing file is never replaced.\n\n"
      "Examples:\n"
      "  hushed new behaviour nodding\n"
      "  hushed new behaviour scripts/winch --memory");
  made->callback([command, &status] {
    write_behaviour(*command);
    status = done;
  });
}

}  // namespace hushed::cli
