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

/// Reports a first word that is no command.
void check_command(const CLI::App& app, int count, char** words) {
  const std::string_view word = count > 1 ? words[1] : "";
  if (word.empty() || word.front() == '-') return;
  std::vector<std::string> names;
  for (const CLI::App* const command : app.get_subcommands(nullptr)) names.push_back(command->get_name());
  if (std::find(names.begin(), names.end(), word) != names.end()) return;
  throw WrongCommandLine{"there is no command " + in_quotes(word) + suggestion(word, {names.begin(), names.end()}) +
                         " `hushed --help` says what each does."};
}

int run(int count, char** words) {
  CLI::App app{"Plays scripted motion and shows it frame by frame.", "hushed"};
  app.set_version_flag("--version", "hushed " HUSHED_VERSION_STRING);
  app.require_subcommand(1);
  app.footer(
      "\nExamples:\n"
      "  hushed play scenes/harbour.toml --frames 60 --watch lamp.rotation.yaw\n"
      "  hushed describe spin\n\n"
      "`hushed COMMAND --help` says more of each.");
  int status = done;
  add_play(app, status);
  add_draw(app, status);
  add_compare(app, status);
  add_check(app, status);
  add_live(app, status);
  add_describe(app, status);

  try {
    check_command(app, count, words);
    app.parse(count, words);
    return status;
  } catch (const CLI::ParseError& error) {
    std::ostringstream told, diagnostic;
    const bool is_fine = app.exit(error, told, diagnostic) == 0;  // such as --help
    std::fputs(diagnostic.str().c_str(), stderr);
    Output output;
    output.write(told.str());
    output.flush();
    return is_fine ? done : wrong_command_line;
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
