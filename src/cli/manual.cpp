// SPDX-License-Identifier: MIT
// hushed manual: the manual page, in the language of man.

#include <fmt/format.h>

#include <hushed/version.hpp>

#include "command.hpp"
#include "command_line.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

/// Text in which no character is a request or an escape.
std::string plain(std::string_view text) {
  std::string all;
  bool begins_line = true;
  for (const char letter : text) {
    if (begins_line && (letter == '.' || letter == '\'')) all += "\\&";
    if (letter == '\\')
      all += "\\e";
    else if (letter == '-')
      all += "\\-";
    else
      all += letter;
    begins_line = letter == '\n';
  }
  return all;
}

std::string term(const OptionDescription& option) {
  std::string text;
  for (const std::string& name : option.names) text += (text.empty() ? "\\fB" : ", \\fB") + plain(name) + "\\fR";
  if (option.value.empty()) return text;
  return text + (text.empty() ? "" : " ") + "\\fI" + plain(option.value) + "\\fR";
}

std::string section_of(const CommandDescription& command) {
  std::string usage = "hushed " + command.name;
  for (const OptionDescription& option : command.options)
    if (option.names.empty()) usage += option.is_required ? " " + option.value : " [" + option.value + "]";
  std::string text = fmt::format(".SS {}\n{}.\n", plain(usage), plain(command.summary));
  for (const OptionDescription& option : command.options)
    text += fmt::format(".TP\n{}\n{}\n", term(option), plain(option.help));
  if (!command.footer.empty()) text += fmt::format(".PP\n.nf\n{}\n.fi\n", plain(command.footer.substr(1)));
  return text;
}

std::string manual(const std::vector<CommandDescription>& commands, const std::string& summary) {
  std::string sections;
  for (const CommandDescription& command : commands) sections += section_of(command);
  return fmt::format(
      R"(.TH HUSHED 1 "" "hushed {}" "User Commands"
.SH NAME
hushed \- plays the motion of scene objects
.SH SYNOPSIS
.B hushed
\fICOMMAND\fR [\fIOPTIONS\fR]
.SH DESCRIPTION
{}
A scene is a file in TOML, which says what moves and how.
.SH COMMANDS
{}.SH EXIT STATUS
.TP
0
everything is as asked
.TP
1
the scene has errors, or a check or comparison failed
.TP
2
the command line is wrong
.TP
130
interrupted; the output so far is complete
)",
      HUSHED_VERSION_STRING, plain(summary), sections);
}

}  // namespace

void add_manual(CLI::App& app, int& status) {
  CLI::App* command = app.add_subcommand("manual", "Print the manual page, for man");
  command->footer("\nExamples:\n  hushed manual | man -l -");
  command->callback([&app, &status] {
    Output output;
    output.write(manual(commands_of(app), app.get_description()));
    output.flush();
    status = done;
  });
}

}  // namespace hushed::cli
