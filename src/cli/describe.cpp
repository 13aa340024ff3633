// SPDX-License-Identifier: MIT
// hushed describe: lists the kinds of behaviour and their fields.

#include <memory>
#include <string>

#include <fmt/format.h>

#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

#include "command.hpp"
#include "easings.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

std::string list_of_kinds() {
  std::string text = "Behaviours:\n\n";
  for (const detail::Kind* kind : kinds()) text += fmt::format("  {:<10}  {}\n", kind->name(), kind->summary());
  return text +
         "\nhushed describe KIND says what can be tuned, hushed describe easing shows the easings;\n"
         "--schema prints a JSON Schema of scene files.\n";
}

std::string describe_fields(std::span<const FieldInfo> fields) {
  std::string text;
  for (const FieldInfo& field : fields) {
    const std::string unit = field.unit.symbol.empty() ? "" : " (" + std::string{field.unit.symbol} + ")";
    text += fmt::format("  {:<16}  {}{}\n", field.name, field.help, unit);
    std::string form = field.form.description;
    if (field.required)
      form += "; required";
    else
      form += "; " + (field.fallback ? as_text(*field.fallback) + " unless given" : std::string{"none unless given"});
    if (field.slider)
      form += fmt::format("; usually {} to {}", as_text(field.slider->low), as_text(field.slider->high));
    text += fmt::format("  {:<16}  {}\n", "", form);
  }
  return text;
}

const std::string name_in_words = fmt::format(
    "  {:<16}  how it is addressed: object.NAME.field\n  {:<16}  letters, digits, - and _; its kind unless given\n",
    "name", "");

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
  return text + "\nEvery behaviour has:\n\n" + name_in_words + describe_fields(detail::common_fields()) +
         "\nExample:\n" + std::string{kind.example()};
}

const detail::Kind& kind_called(const std::string& name) {
  if (const detail::Kind* kind = find_kind(name)) return *kind;
  std::vector<std::string_view> names;
  for (const detail::Kind* kind : kinds()) names.push_back(kind->name());
  names.push_back("easing");
  throw WrongCommandLine{"there is no behaviour of kind " + in_quotes(name) + suggestion(name, names)};
}

}  // namespace

void add_describe(CLI::App& app, int& status) {
  struct Options {
    std::string kind;
    bool schema = false;
  };
  const auto options = std::make_shared<Options>();
  CLI::App* describe = app.add_subcommand("describe", "Say what behaviours there are and what can be tuned");
  describe->add_option("KIND", options->kind, "one behaviour, such as spin; or easing");
  describe->add_flag("--schema", options->schema, "print a JSON Schema of scene files, for editors");
  describe->footer(
      "\nExamples:\n"
      "  hushed describe\n"
      "  hushed describe travel\n"
      "  hushed describe easing\n"
      "  hushed describe --schema > hushed.schema.json");
  describe->callback([options, &status] {
    if (options->schema && !options->kind.empty())
      throw WrongCommandLine{"--schema covers every kind; leave out " + options->kind + "."};
    Output output;
    output.write(options->schema             ? scene_file_schema()
                 : options->kind.empty()     ? list_of_kinds()
                 : options->kind == "easing" ? easings_in_pictures(terminal_has_unicode())
                                             : description_of(kind_called(options->kind)));
    output.flush();
    status = done;
  });
}

}  // namespace hushed::cli
