// SPDX-License-Identifier: MIT
#include <algorithm>
#include <csignal>
#include <cstdio>
#include <exception>
#include <sstream>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/load.hpp>
#include <hushed/value.hpp>
#include <hushed/version.hpp>

#include "command.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {
volatile std::sig_atomic_t stop = 0;
}

bool stop_asked() { return stop != 0; }

void listen_for_stop() {
  // The second interrupt ends the process at once.
  const auto note = [](int signal) {
    stop = 1;
    std::signal(signal, SIG_DFL);
  };
  std::signal(SIGINT, note);
  std::signal(SIGTERM, note);
  std::signal(SIGHUP, note);
}

namespace {

std::vector<std::string> names_of_commands(const CLI::App& app) {
  std::vector<std::string> names{"help"};
  for (const CLI::App* const command : app.get_subcommands(nullptr)) names.push_back(command->get_name());
  return names;
}

[[noreturn]] void refuse_command(std::string_view word, const std::vector<std::string>& names) {
  throw WrongCommandLine{"unknown command " + in_quotes(word) + suggestion(word, {names.begin(), names.end()}) +
                         " `hushed help` lists all commands."};
}

/// Without a command: the help. `help` and `help COMMAND` are `--help` and `COMMAND --help`.
std::vector<std::string> command_line(const CLI::App& app, int count, char** words) {
  std::vector<std::string> line{words + std::min(count, 1), words + count};
  if (line.empty()) return {"--help"};
  const std::vector<std::string> names = names_of_commands(app);
  const auto check = [&names](const std::string& word) {
    if (!word.starts_with('-') && std::find(names.begin(), names.end(), word) == names.end())
      refuse_command(word, names);
  };
  check(line.front());
  if (line.front() != "help") return line;
  line.erase(line.begin());
  if (line.empty() || line.front() == "help" || line.front().starts_with('-')) return {"--help"};
  check(line.front());
  return {line.front(), "--help"};
}

/// The nearest option of the command to a word that is none: "; did you mean "--frames"?"
std::string nearest_option(const CLI::App& command, const std::string& word) {
  std::vector<std::string> names;
  for (const CLI::Option* const option : command.get_options())
    for (const std::string& name : option->get_lnames()) names.push_back("--" + name);
  const std::string_view nearest = nearest_name(word, {names.begin(), names.end()});
  return nearest.empty() ? "." : "; did you mean " + in_quotes(nearest) + "?";
}

/// What is wrong with the options of a command.
std::string problem_with(const CLI::App& command, const CLI::ParseError& error) {
  const auto extras = command.remaining();
  if (error.get_exit_code() == static_cast<int>(CLI::ExitCodes::ExtrasError) && !extras.empty()) {
    const std::string word = extras.front().substr(0, extras.front().find('='));
    if (word.starts_with('-')) return "unknown option " + in_quotes(word) + nearest_option(command, word);
    return "unexpected argument " + in_quotes(word) + "; remove it.";
  }
  std::string text = error.what();
  if (const std::string required = " is required"; text.ends_with(required))
    return text.substr(0, text.size() - required.size()) + " is missing.";
  return text.ends_with('?') || text.ends_with('.') ? text : text + '.';
}

[[noreturn]] void refuse(const CLI::App& app, const CLI::ParseError& error) {
  const auto commands = app.get_subcommands();
  const CLI::App& command = commands.empty() ? app : *commands.front();
  throw WrongCommandLine{problem_with(command, error) + " `hushed help " +
                         (commands.empty() ? "" : command.get_name()) + "` explains " +
                         (commands.empty() ? "all options." : "the command.")};
}

int run(int count, char** words) {
  CLI::App app{"Plays the motion of scene objects and shows it frame by frame.", "hushed"};
  app.set_version_flag("--version", "hushed " HUSHED_VERSION_STRING);
  app.require_subcommand(1);
  app.footer(
      "\nExamples:\n"
      "  hushed play scenes/harbour.toml --frames 60 --watch lamp.rotation.yaw\n"
      "  hushed describe spin\n\n"
      "`hushed help COMMAND` explains a command and its options.");
  int status = done;
  add_play(app, status);
  add_draw(app, status);
  add_compare(app, status);
  add_sweep(app, status);
  add_solve(app, status);
  add_check(app, status);
  add_live(app, status);
  add_describe(app, status);
  add_new(app, status);
  add_completions(app, status);
  add_manual(app, status);

  try {
    std::vector<std::string> line = command_line(app, count, words);
    std::reverse(line.begin(), line.end());  // the order in which CLI11 takes them
    app.parse(line);
    return status;
  } catch (const CLI::Success& help) {  // such as --help
    std::ostringstream text, nothing;
    app.exit(help, text, nothing);
    Output output;
    output.write(text.str());
    output.flush();
    return done;
  } catch (const CLI::ParseError& error) {
    refuse(app, error);
  }
}

}  // namespace

}  // namespace hushed::cli

int main(int count, char** words) {
  using namespace hushed::cli;
  std::signal(SIGPIPE, SIG_IGN);  // a reader that closes the pipe is not an error

  try {
    return run(count, words);
  } catch (const WrongCommandLine& error) {
    std::fprintf(stderr, "hushed: %s\n", error.what());
    return wrong_command_line;
  } catch (const hushed::LoadError& error) {
    std::fprintf(stderr, "%s\n", error.what());
    return not_as_asked;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "hushed: %s\n", error.what());
    return not_as_asked;
  }
}
