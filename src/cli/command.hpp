// SPDX-License-Identifier: MIT
#pragma once

// What the commands share: how they end, and how they are told to stop.

#include <stdexcept>
#include <string>

#include <CLI/CLI.hpp>

namespace hushed::cli {

enum Exit : int {
  done = 0,
  not_as_asked = 1,  ///< the scene or the result
  wrong_command_line = 2,
  interrupted = 130,
};

/// A mistake on the command line that only the scene can show: a watch or a path that leads nowhere.
class WrongCommandLine : public std::runtime_error {
 public:
  using std::runtime_error::runtime_error;
};

/// A number from `low` to `high`: infinities and what is not a number are refused like any other that is out of range.
CLI::Validator number_from(double low, double high);

/// Each command declares itself in its own file, and leaves its exit status in `status` when it was called.
void add_play(CLI::App& app, int& status);
void add_compare(CLI::App& app, int& status);
void add_check(CLI::App& app, int& status);
void add_live(CLI::App& app, int& status);
void add_draw(CLI::App& app, int& status);
void add_describe(CLI::App& app, int& status);

/// Whether Ctrl-C was pressed, or the program was asked to end.
bool stop_asked();
void listen_for_stop();

}  // namespace hushed::cli
