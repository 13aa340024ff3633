// SPDX-License-Identifier: MIT
// hushed completions: scripts that complete the words of a command line.

#include <memory>

#include <fmt/format.h>

#include "command.hpp"
#include "command_line.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

std::string joined(const std::vector<std::string>& words, std::string_view between = " ") {
  std::string text;
  for (const std::string& word : words) text += (text.empty() ? "" : std::string{between}) + word;
  return text;
}

std::vector<std::string> names_of(const std::vector<CommandDescription>& commands) {
  std::vector<std::string> names;
  for (const CommandDescription& command : commands) names.push_back(command.name);
  return names;
}

/// In single quotes, for a shell.
std::string for_shell(std::string_view text) {
  std::string all = "'";
  for (const char letter : text) all += letter == '\'' ? std::string{"'\\''"} : std::string{letter};
  return all + "'";
}

// --- bash ------------------------------------------------------------------------------------------------------------

std::string bash(const std::vector<CommandDescription>& commands) {
  std::string values, options;
  for (const CommandDescription& command : commands) {
    std::vector<std::string> names;
    bool takes_files = false;
    for (const OptionDescription& option : command.options) {
      names.insert(names.end(), option.names.begin(), option.names.end());
      if (option.names.empty()) {
        names.insert(names.end(), option.words.begin(), option.words.end());
        takes_files = takes_files || option.takes_file();
      } else if (!option.value.empty()) {
        std::string patterns;
        for (const std::string& name : option.names)
          patterns += fmt::format("{}'{} {}'", patterns.empty() ? "" : "|", command.name, name);
        const std::string reply = option.takes_file() ? "-f" : fmt::format("-W {}", for_shell(joined(option.words)));
        values += fmt::format("    {}) COMPREPLY=($(compgen {} -- \"$word\")); return ;;\n", patterns, reply);
      }
    }
    options +=
        fmt::format("    {}) words={} files={} ;;\n", command.name, for_shell(joined(names)), takes_files ? 1 : 0);
  }
  return fmt::format(
      R"(# Completes the command line of hushed in bash.

_hushed() {{
  local word=${{COMP_WORDS[COMP_CWORD]}} before=${{COMP_WORDS[COMP_CWORD-1]}} command= words= files=0 i
  for ((i = 1; i < COMP_CWORD; ++i)); do
    [[ ${{COMP_WORDS[i]}} == -* ]] || {{ command=${{COMP_WORDS[i]}}; break; }}
  done
  if [[ -z $command ]]; then
    COMPREPLY=($(compgen -W {} -- "$word"))
    return
  fi
  case "$command $before" in
{}  esac
  case $command in
{}  esac
  COMPREPLY=($(compgen -W "$words" -- "$word"))
  [[ $files == 1 && $word != -* ]] && COMPREPLY+=($(compgen -f -- "$word"))
  return 0
}}
complete -o filenames -F _hushed hushed
)",
      for_shell(joined(names_of(commands)) + " --help --version"), values, options);
}

// --- zsh -------------------------------------------------------------------------------------------------------------

/// For the specification of an argument, in which colons and brackets have a meaning.
std::string escaped(std::string_view text) {
  std::string all;
  for (const char letter : text) {
    if (letter == ':' || letter == '[' || letter == ']' || letter == '\\') all += '\\';
    all += letter;
  }
  return all;
}

std::string zsh(const std::vector<CommandDescription>& commands) {
  std::string list, cases;
  for (const CommandDescription& command : commands) {
    list += fmt::format("    {}\n", for_shell(command.name + ":" + escaped(command.summary)));
    std::string arguments;
    for (const OptionDescription& option : command.options) {
      const std::string values = option.takes_file()    ? "_files"
                                 : option.words.empty() ? " "
                                                        : "(" + joined(option.words) + ")";
      const std::string value = option.value.empty() ? "" : ":" + option.value + ":" + values;
      if (option.names.empty())
        arguments += fmt::format(" \\\n        {}", for_shell(":" + option.value + ":" + values));
      for (const std::string& name : option.names)
        arguments +=
            fmt::format(" \\\n        {}", for_shell(fmt::format("*{}[{}]{}", name, escaped(option.help), value)));
    }
    cases += fmt::format("      {}) _arguments{} ;;\n", command.name, arguments);
  }
  return fmt::format(R"(#compdef hushed
# Completes the command line of hushed in zsh.

_hushed() {{
  local -a commands
  commands=(
{}  )
  local state line
  _arguments -C '1: :->command' '*:: :->options'
  case $state in
    command) _describe command commands ;;
    options) case $line[1] in
{}    esac ;;
  esac
}}
_hushed "$@"
)",
                     list, cases);
}

// --- fish ------------------------------------------------------------------------------------------------------------

std::string fish(const std::vector<CommandDescription>& commands) {
  std::string text = "# Completes the command line of hushed in fish.\n\ncomplete -c hushed -f\n";
  const std::string names = joined(names_of(commands));
  for (const CommandDescription& command : commands) {
    text += fmt::format("\ncomplete -c hushed -n 'not __fish_seen_subcommand_from {}' -a {} -d {}\n", names,
                        command.name, for_shell(command.summary));
    for (const OptionDescription& option : command.options) {
      text += fmt::format("complete -c hushed -n '__fish_seen_subcommand_from {}'", command.name);
      for (const std::string& name : option.names)
        text += name.starts_with("--") ? " -l " + name.substr(2) : " -s " + name.substr(1);
      if (!option.names.empty() && !option.value.empty()) text += " -r";
      if (option.takes_file()) text += " -F";
      if (!option.words.empty()) text += " -a " + for_shell(joined(option.words));
      text += " -d " + for_shell(option.help) + "\n";
    }
  }
  return text;
}

std::string completions(const std::vector<CommandDescription>& commands, const std::string& shell) {
  if (shell == "bash") return bash(commands);
  return shell == "zsh" ? zsh(commands) : fish(commands);
}

}  // namespace

void add_completions(CLI::App& app, int& status) {
  const auto shell = std::make_shared<std::string>();
  CLI::App* command = app.add_subcommand("completions", "Print a script that completes command lines in your shell");
  command->add_option("SHELL", *shell, "bash, zsh or fish")->required()->check(one_of({"bash", "zsh", "fish"}));
  command->footer(
      "\nExamples:\n"
      "  hushed completions bash > ~/.local/share/bash-completion/completions/hushed\n"
      "  hushed completions fish > ~/.config/fish/completions/hushed.fish");
  command->callback([&app, shell, &status] {
    Output output;
    output.write(completions(commands_of(app), *shell));
    output.flush();
    status = done;
  });
}

}  // namespace hushed::cli
