// SPDX-License-Identifier: MIT
#pragma once

// What the command line consists of, as read from the declarations of the commands.

#include <string>
#include <vector>

#include <CLI/CLI.hpp>

namespace hushed::cli {

struct OptionDescription {
  std::vector<std::string> names;  ///< "-h", "--help"; empty for a word without a name, such as the scene file
  std::string value;               ///< what the value is: "FILE", "NUMBER"; empty where it takes none
  std::vector<std::string> words;  ///< values to offer
  std::string help;
  bool is_required = false;

  bool takes_file() const { return names.empty() ? words.empty() : value == "FILE"; }
};

struct CommandDescription {
  std::string name, summary;
  std::vector<OptionDescription> options;
  std::string footer;
};

/// The commands of the tool, and `help`.
std::vector<CommandDescription> commands_of(CLI::App& app);

}  // namespace hushed::cli
