// SPDX-License-Identifier: MIT
// hushed describe: lists the kinds of behaviour and their fields.

#include <fstream>
#include <iterator>
#include <memory>
#include <string>

#include <fmt/format.h>

#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

#include "command.hpp"
#include "easings.hpp"
#include "measuring.hpp"
#include "output.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

std::string list_of_kinds() {
  std::string text = "Behaviours:\n\n";
  for (const detail::Kind* kind : kinds()) text += fmt::format("  {:<10}  {}\n", kind->name(), kind->summary());
  return text +
         "\n`hushed describe KIND` lists the fields of a kind, `hushed describe easing` shows the easings,\n"
         "`hushed describe measures` lists the measures, `hushed describe --schema` prints a JSON Schema of scene "
         "files.\n";
}

std::string describe_fields(std::span<const FieldInfo> fields) {
  std::string text;
  for (const FieldInfo& field : fields) {
    const std::string unit = field.unit.symbol.empty() ? "" : " (" + std::string{field.unit.symbol} + ")";
    text += fmt::format("  {:<16}  {}{}\n", field.name, field.help, unit);
    std::string form = field.form.description;
    form += field.required ? "; required" : field.fallback ? "; default: " + as_text(*field.fallback) : "; optional";
    if (field.slider)
      form += fmt::format("; usually {} to {}", as_text(field.slider->low), as_text(field.slider->high));
    text += fmt::format("  {:<16}  {}\n", "", form);
  }
  return text;
}

const std::string name_in_words = fmt::format(
    "  {:<16}  its name in paths: OBJECT.NAME.FIELD\n  {:<16}  letters, digits, - and _; default: its kind\n", "name",
    "");

/// Prints the kinds of entries of a list with their keys: "within 5 m", "target, required".
std::string describe_entries(std::string_view list, const EntryKinds& entries) {
  std::string text = fmt::format("\nIn {}, each a table with its name as {}:\n\n", list, entries.key);
  for (const EntryKinds::Kind& kind : entries.kinds) {
    std::string keys;
    for (const FieldInfo& field : kind.fields) {
      const std::string unit = field.unit.symbol.empty() ? std::string{} : fmt::format(" {}", field.unit.symbol);
      const std::string usual = field.required   ? ", required"
                                : field.fallback ? ' ' + as_text(*field.fallback) + unit
                                                 : "";
      keys += (keys.empty() ? "" : "; ") + std::string{field.name} + usual;
    }
    text += fmt::format("  {:<16}  {}\n  {:<16}  {}\n", kind.name, kind.summary, "", keys);
  }
  return text;
}

std::string description_of(const detail::Kind& kind) {
  std::string text =
      fmt::format("{}: {}\n\nFields:\n\n{}", kind.name(), kind.summary(), describe_fields(kind.fields()));
  for (const FieldInfo& field : kind.fields())
    if (field.entries) text += describe_entries(field.name, field.entries());
  if (!kind.exactly_one().empty()) text += '\n';
  for (const OneOf& one_of : kind.exactly_one()) text += "  Give " + one_of.describe() + ".\n";
  for (const Either& either : kind.alternatives())
    text += fmt::format("\n  {} stands instead of {}{}.\n", either.key, either.others[0],
                        either.others[1].empty() ? "" : " and " + std::string{either.others[1]});
  return text + "\nEvery behaviour has:\n\n" + name_in_words + describe_fields(detail::common_fields());
}

/// Adds a script to the kinds, by its file. Throws `LoadError`.
std::shared_ptr<const detail::Kind> load_script(Kinds& known, const std::string& file) {
  std::ifstream in{file, std::ios::binary};
  const std::string text{std::istreambuf_iterator<char>{in}, {}};
  if (!in.is_open() || in.bad()) throw LoadError{file, {{{}, "the file cannot be read; check the path."}}};
  std::vector<Diagnostic> mistakes;
  auto kind = known.load(file, text, {}, mistakes);
  if (!kind) throw LoadError{file, std::move(mistakes)};
  return kind;
}

std::string description_of_script(const std::string& file) {
  Kinds known = kinds_and_scripts();
  const auto kind = load_script(known, file);
  std::string example = "\n[[object.NAME.behaviour]]\nscript = \"" + file + "\"\n";
  for (const FieldInfo& field : kind->fields())
    example += fmt::format("{} = {}\n", field.name,
                           field.fallback ? as_text(*field.fallback)
                           : field.aim    ? "\"OBJECT\""
                                          : "{ tag = \"TAG\" }");
  return description_of(*kind) + "\nExample:\n" + example;
}

// --- Markdown --------------------------------------------------------------------------------------------------------

/// A text in a cell of a table.
std::string in_cell(std::string_view text) {
  std::string cell;
  for (const char c : text) cell += c == '|' ? std::string{"\\|"} : std::string{c};
  return cell;
}

std::string fields_in_markdown(std::span<const FieldInfo> fields) {
  std::string text = "| key | default | values | meaning |\n| --- | --- | --- | --- |\n";
  for (const FieldInfo& field : fields) {
    const std::string unit = field.unit.symbol.empty() ? "" : ' ' + std::string{field.unit.symbol};
    const std::string usual = field.required   ? "required"
                              : field.fallback ? '`' + as_text(*field.fallback) + '`' + unit
                                               : "";
    const std::string values = field.form.description + (unit.empty() ? "" : " (" + unit.substr(1) + ")");
    text += fmt::format("| `{}` | {} | {} | {} |\n", field.name, in_cell(usual), in_cell(values), in_cell(field.help));
  }
  return text;
}

std::string entries_in_markdown(const EntryKinds& entries) {
  std::string text = fmt::format("| {} | wants to move | keys and defaults |\n| --- | --- | --- |\n", entries.key);
  for (const EntryKinds::Kind& kind : entries.kinds) {
    std::string keys;
    for (const FieldInfo& field : kind.fields) {
      const std::string unit = field.unit.symbol.empty() ? "" : ' ' + std::string{field.unit.symbol};
      keys += (keys.empty() ? "`" : ", `") + std::string{field.name} + '`' +
              (field.required   ? " (required)"
               : field.fallback ? ' ' + as_text(*field.fallback) + unit
                                : "");
    }
    text += fmt::format("| `{}` | {} | {} |\n", kind.name, in_cell(kind.summary), in_cell(keys));
  }
  return text;
}

std::string in_markdown(const detail::Kind& kind) {
  std::string text = fields_in_markdown(kind.fields());
  for (const OneOf& one_of : kind.exactly_one()) text += "\nGive exactly one of " + one_of.describe() + ".\n";
  for (const Either& either : kind.alternatives())
    text += fmt::format("\n`{}` excludes `{}`{}.\n", either.key, either.others[0],
                        either.others[1].empty() ? "" : " and `" + std::string{either.others[1]} + '`');
  for (const FieldInfo& field : kind.fields())
    if (field.entries) text += '\n' + entries_in_markdown(field.entries());
  return text;
}

std::string kinds_in_markdown() {
  std::string text = "| kind | what it does |\n| --- | --- |\n";
  for (const detail::Kind* kind : kinds()) text += fmt::format("| `{}` | {} |\n", kind->name(), kind->summary());
  return text;
}

// --- the command -----------------------------------------------------------------------------------------------------

constexpr std::string_view common = "common", easing = "easing", measures = "measures";

const detail::Kind& kind_called(const std::string& name) {
  if (const detail::Kind* kind = find_kind(name)) return *kind;
  std::vector<std::string_view> names;
  for (const detail::Kind* kind : kinds()) names.push_back(kind->name());
  names.push_back(easing);
  names.push_back(common);
  names.push_back(measures);
  throw WrongCommandLine{"unknown kind " + in_quotes(name) + suggestion(name, names)};
}

struct DescribeCommand {
  std::vector<std::string> kinds;
  bool schema = false, markdown = false;
};

/// The schema with the fields of these scripts.
std::string schema_with(const std::vector<std::string>& scripts) {
  Kinds known = kinds_and_scripts();
  for (const std::string& script : scripts) {
    if (!script.ends_with(".lua"))
      throw WrongCommandLine{"--schema covers all kinds; remove " + in_quotes(script) + ", or give scripts."};
    load_script(known, script);
  }
  return scene_file_schema(known);
}

std::string text_of(const DescribeCommand& command) {
  if (command.schema) return schema_with(command.kinds);
  if (command.kinds.size() > 1)
    throw WrongCommandLine{"only --schema takes several; remove " + in_quotes(command.kinds[1]) + "."};
  const std::string kind = command.kinds.empty() ? "" : command.kinds.front();
  if (command.markdown) {
    if (kind.empty()) return kinds_in_markdown();
    if (kind == measures) return measures_in_markdown();
    return kind == common ? fields_in_markdown(detail::common_fields()) : in_markdown(kind_called(kind));
  }
  if (kind.empty()) return list_of_kinds();
  if (kind == easing) return easings_in_pictures(terminal_has_unicode());
  if (kind == measures) return list_of_measures();
  if (kind == common) return "Every behaviour has:\n\n" + name_in_words + describe_fields(detail::common_fields());
  if (kind.ends_with(".glb") || kind.ends_with(".gltf")) return describe_artist_file(kind);
  if (kind.ends_with(".lua")) return description_of_script(kind);
  const detail::Kind& found = kind_called(kind);
  return description_of(found) + "\nExample:\n" + std::string{found.example()};
}

}  // namespace

void add_describe(CLI::App& app, int& status) {
  const auto command = std::make_shared<DescribeCommand>();
  CLI::App* describe = app.add_subcommand("describe", "List the behaviours and their fields");
  std::vector<std::string> words{std::string{easing}, std::string{common}, std::string{measures}};
  for (const detail::Kind* kind : kinds()) words.emplace_back(kind->name());
  describe
      ->add_option("KIND", command->kinds,
                   "a behaviour, such as spin, a script, such as circling.lua, or a glTF file; easing: the easings; "
                   "common: the fields that "
                   "every behaviour has; measures: numbers of a whole motion")
      ->check(suggested(words));
  describe->add_flag("--schema", command->schema,
                     "print a JSON Schema of scene files, for editors; with the fields of the scripts that are given");
  describe->add_flag("--markdown", command->markdown, "print tables in Markdown, for documents");
  describe->footer(
      "\nExamples:\n"
      "  hushed describe\n"
      "  hushed describe travel\n"
      "  hushed describe easing\n"
      "  hushed describe measures\n"
      "  hushed describe scenes/scripts/winch.lua\n"
      "  hushed describe scenes/artist.glb\n"
      "  hushed describe --schema > hushed.schema.json\n"
      "  hushed describe --schema scripts/*.lua > hushed.schema.json");
  describe->callback([command, &status] {
    Output output;
    output.write(text_of(*command));
    output.flush();
    status = done;
  });
}

}  // namespace hushed::cli
