// SPDX-License-Identifier: MIT
#pragma once

// The parts that all commands share: exit statuses, errors and interruption.

#include <cstdint>
#include <stdexcept>
#include <string>
#include <vector>

#include <CLI/CLI.hpp>

namespace hushed::cli {

enum Exit : int {
  done = 0,
  not_as_asked = 1,  ///< the scene or the result
  wrong_command_line = 2,
  interrupted = 130,
};

/// An error of the command line that only the scene can show, such as an unknown watch or path.
class WrongCommandLine : public std::runtime_error {
 public:
  using std::runtime_error::runtime_error;
};

/// Checks a number from `low` to `high`. Infinities and nan are out of range.
CLI::Validator number_from(double low, double high);
/// Checks a whole number from `low` to `high`.
CLI::Validator whole_number_from(std::int64_t low, std::int64_t high);
/// Checks that a text is one of these words.
CLI::Validator one_of(std::vector<std::string> words);
/// Accepts any text; completions offer these words.
CLI::Validator suggested(const std::vector<std::string>& words);
/// The words that completions offer for an option: those of `one_of` or `suggested`.
std::vector<std::string> words_offered(CLI::Option& option);

/// Each command is declared in its own file. A command that was called writes its exit status to `status`.
void add_play(CLI::App& app, int& status);
void add_compare(CLI::App& app, int& status);
void add_sweep(CLI::App& app, int& status);
void add_solve(CLI::App& app, int& status);
void add_check(CLI::App& app, int& status);
void add_live(CLI::App& app, int& status);
void add_draw(CLI::App& app, int& status);
void add_describe(CLI::App& app, int& status);
void add_new(CLI::App& app, int& status);
void add_completions(CLI::App& app, int& status);
void add_manual(CLI::App& app, int& status);

/// True after Ctrl-C or a request to terminate.
bool stop_asked();
void listen_for_stop();

}  // namespace hushed::cli
