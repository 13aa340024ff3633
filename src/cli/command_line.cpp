// SPDX-License-Identifier: MIT
#include "command_line.hpp"

#include "command.hpp"

namespace hushed::cli {

namespace {

/// "FLOAT:NUMBER from 1 to 9" is a NUMBER.
std::string value_of(const CLI::Option& option) {
  if (option.get_items_expected_max() == 0) return "";
  if (option.get_positional()) return option.get_name();
  const std::string type = option.get_type_name();
  if (type.find("NUMBER") != std::string::npos || type.starts_with("INT") || type.starts_with("FLOAT")) return "NUMBER";
  return type.starts_with("TEXT") ? "WORD" : type;
}

OptionDescription description_of(CLI::Option& option) {
  OptionDescription found;
  for (const std::string& name : option.get_snames()) found.names.push_back("-" + name);
  for (const std::string& name : option.get_lnames()) found.names.push_back("--" + name);
  found.value = value_of(option);
  found.words = words_offered(option);
  found.help = option.get_description();
  if (!option.get_default_str().empty()) found.help += " (default: " + option.get_default_str() + ")";
  found.is_required = option.get_required();
  return found;
}

}  // namespace

std::vector<CommandDescription> commands_of(CLI::App& app) {
  std::vector<CommandDescription> all;
  std::vector<std::string> names;
  for (CLI::App* const command : app.get_subcommands(nullptr)) {
    CommandDescription found{command->get_name(), command->get_description(), {}, command->get_footer()};
    for (CLI::Option* const option : command->get_options()) found.options.push_back(description_of(*option));
    names.push_back(found.name);
    all.push_back(std::move(found));
  }
  all.push_back({"help", "Explain a command and its options", {{{}, "COMMAND", names, "the command", false}}, ""});
  return all;
}

}  // namespace hushed::cli
