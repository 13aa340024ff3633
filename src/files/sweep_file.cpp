// SPDX-License-Identifier: MIT
#include <hushed/sweep_file.hpp>

#include <algorithm>
#include <charconv>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/error.hpp>
#include <hushed/load.hpp>
#include <hushed/value.hpp>

#include "csv.hpp"
#include "read_whole.hpp"

namespace hushed {

namespace {

using nlohmann::ordered_json;

class TableRows final : public SweepRows {
 public:
  explicit TableRows(const SweepTable& sweep) : paths_{sweep.paths}, measures_{sweep.measures} {}

  std::string header() const override {
    std::string line = fmt::format("{:>6}", "play");
    for (const std::string& name : paths_) line += fmt::format("  {:>{}}", name, width(name));
    for (const std::string& name : measures_) line += fmt::format("  {:>{}}", name, width(name));
    return line + '\n';
  }
  std::string row(const SweepTable::Row& row) const override {
    std::string line = fmt::format("{:>6}", row.number);
    for (std::size_t i = 0; i < paths_.size(); ++i)
      line += fmt::format("  {:>{}}", shortened(row.values[i]), width(paths_[i]));
    for (std::size_t i = 0; i < measures_.size(); ++i) {
      const std::optional<double>& value = row.measured[i];
      line += fmt::format("  {:>{}}", value ? fmt::format("{:.6f}", *value + 0.0) : "none", width(measures_[i]));
    }
    return line + '\n';
  }

 private:
  static std::size_t width(const std::string& name) { return std::max<std::size_t>(name.size(), 10); }
  /// A number of at most eight digits; other texts as they are.
  static std::string shortened(const std::string& text) {
    double number = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    return error == std::errc{} && end == text.data() + text.size() ? fmt::format("{:.8g}", number) : text;
  }
  std::vector<std::string> paths_, measures_;
};

class CsvRows final : public SweepRows {
 public:
  explicit CsvRows(const SweepTable& sweep) : sweep_{sweep} {}

  std::string header() const override {
    std::string line = "play,plays";
    for (const auto* names : {&sweep_.paths, &sweep_.measures})
      for (const std::string& name : *names) line += ',' + detail::csv_cell(name);
    return line + '\n';
  }
  std::string row(const SweepTable::Row& row) const override {
    std::string line = fmt::format("{},{}", row.number, sweep_.plays);
    for (const std::string& value : row.values) line += ',' + detail::csv_cell(value);
    for (const std::optional<double>& value : row.measured) line += ',' + (value ? as_text(*value) : "");
    return line + '\n';
  }

 private:
  SweepTable sweep_;
};

class JsonRows final : public SweepRows {
 public:
  explicit JsonRows(const SweepTable& sweep) : sweep_{sweep} {}

  std::string header() const override { return ""; }
  std::string row(const SweepTable::Row& row) const override {
    ordered_json line{{"play", row.number}, {"plays", sweep_.plays}};
    for (std::size_t i = 0; i < sweep_.paths.size(); ++i) {
      const ordered_json value = ordered_json::parse(row.values[i], nullptr, false);
      line["values"][sweep_.paths[i]] = value.is_number() || value.is_boolean() ? value : ordered_json(row.values[i]);
    }
    for (std::size_t i = 0; i < sweep_.measures.size(); ++i)
      line["measures"][sweep_.measures[i]] = row.measured[i] ? ordered_json(*row.measured[i]) : ordered_json(nullptr);
    return line.dump() + '\n';
  }

 private:
  SweepTable sweep_;
};

constexpr const char* made_by = "give a file made by `hushed sweep`.";

[[noreturn]] void fail(std::size_t line, std::string text) {
  throw Diagnostic{{static_cast<int>(line), 1}, std::move(text)};
}

std::size_t whole_number(const std::string& text, std::size_t line, std::size_t column) {
  const double number = detail::number_of(text, line, column);
  if (number < 0.0 || number > 1e6 || number != static_cast<double>(static_cast<std::size_t>(number)))
    fail(line, in_quotes(text) + " is not the number of a play.");
  return static_cast<std::size_t>(number);
}

/// Adds a row; `plays` is what the line says about the whole sweep.
void add(SweepTable& sweep, SweepTable::Row row, std::size_t plays, std::size_t line) {
  if (sweep.plays == 0) sweep.plays = plays;
  if (plays != sweep.plays) fail(line, "the number of plays is not that of the first line.");
  if (row.number >= plays) fail(line, fmt::format("play {} does not exist in a sweep of {} plays.", row.number, plays));
  sweep.rows.push_back(std::move(row));
}

SweepTable read_csv(const std::string& text) {
  SweepTable sweep;
  bool has_header = false;
  detail::for_each_line(text, [&](std::string_view line, std::size_t number) {
    const std::vector<std::string> cells = detail::cells_of(line);
    if (!has_header) {
      has_header = true;
      if (cells.size() < 4 || cells[0] != "play" || cells[1] != "plays")
        fail(1, std::string{"the first columns are not play and plays; "} + made_by);
      for (std::size_t i = 2; i < cells.size(); ++i)  // only measures have brackets
        (cells[i].find('(') == std::string::npos ? sweep.paths : sweep.measures).push_back(cells[i]);
      return;
    }
    if (cells.size() != 2 + sweep.paths.size() + sweep.measures.size())
      fail(number, fmt::format("found {} cells; the header has {} columns.", cells.size(),
                               2 + sweep.paths.size() + sweep.measures.size()));
    SweepTable::Row row{whole_number(cells[0], number, 1), {}, {}};
    for (std::size_t i = 2; i < cells.size(); ++i) {
      if (i < 2 + sweep.paths.size())
        row.values.push_back(cells[i]);
      else
        row.measured.push_back(cells[i].empty() ? std::nullopt
                                                : std::optional{detail::number_of(cells[i], number, i + 1)});
    }
    add(sweep, std::move(row), whole_number(cells[1], number, 2), number);
  });
  return sweep;
}

SweepTable read_json_lines(const std::string& text) {
  SweepTable sweep;
  detail::for_each_line(text, [&](std::string_view line, std::size_t number) {
    const ordered_json json = ordered_json::parse(line, nullptr, false);
    const auto has = [&](const char* key, auto is) { return json.contains(key) && (json[key].*is)(); };
    if (!json.is_object() || !has("play", &ordered_json::is_number_unsigned) ||
        !has("plays", &ordered_json::is_number_unsigned) || !has("values", &ordered_json::is_object) ||
        !has("measures", &ordered_json::is_object))
      fail(number, std::string{"the line is not a play of a sweep; "} + made_by);
    SweepTable::Row row{json["play"].get<std::size_t>(), {}, {}};
    std::vector<std::string> paths, measures;
    for (const auto& [path, value] : json["values"].items()) {
      paths.push_back(path);
      row.values.push_back(value.is_string()   ? value.get<std::string>()
                           : value.is_number() ? as_text(value.get<double>())
                                               : value.dump());
    }
    for (const auto& [measure, value] : json["measures"].items()) {
      if (!value.is_null() && !value.is_number()) fail(number, in_quotes(measure) + " is not a number.");
      measures.push_back(measure);
      row.measured.push_back(value.is_null() ? std::nullopt : std::optional{value.get<double>()});
    }
    if (sweep.rows.empty()) {
      sweep.paths = paths;
      sweep.measures = measures;
    }
    if (paths != sweep.paths || measures != sweep.measures)
      fail(number, "the values or measures are not those of the first line.");
    add(sweep, std::move(row), json["plays"].get<std::size_t>(), number);
  });
  return sweep;
}

}  // namespace

std::unique_ptr<SweepRows> make_sweep_rows(const std::string& format, const SweepTable& sweep) {
  if (format == "table") return std::make_unique<TableRows>(sweep);
  if (format == "csv") return std::make_unique<CsvRows>(sweep);
  if (format == "jsonl") return std::make_unique<JsonRows>(sweep);
  throw BadValue{"unknown format " + in_quotes(format) + "; give table, csv or jsonl."};
}

SweepTable read_sweep(const std::filesystem::path& file, std::size_t* length) {
  const bool is_csv = file.extension() == ".csv";
  if (!is_csv && file.extension() != ".jsonl")
    throw LoadError{file.string(), {{{}, "unknown format; give a file that ends in .csv or .jsonl."}}};
  std::string text = detail::read_whole(file, {"a sweep, such as damping.csv", std::uintmax_t{1} << 30});
  text.resize(text.rfind('\n') + 1);  // npos + 1 is 0
  if (length) *length = text.size();
  try {
    return is_csv ? read_csv(text) : read_json_lines(text);
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.string(), {diagnostic}};
  }
}

SweepTable join(std::span<const SweepTable> parts) {
  SweepTable whole;
  for (const SweepTable& part : parts) {
    if (whole.paths.empty()) {
      whole.paths = part.paths;
      whole.measures = part.measures;
      whole.plays = part.plays;
    }
    if (part.paths != whole.paths || part.measures != whole.measures ||
        (!part.rows.empty() && part.plays != whole.plays && whole.plays != 0))
      throw BadValue{"the parts are not of one sweep: their values, measures or numbers of plays differ."};
    if (whole.plays == 0) whole.plays = part.plays;
    whole.rows.insert(whole.rows.end(), part.rows.begin(), part.rows.end());
  }
  std::stable_sort(whole.rows.begin(), whole.rows.end(),
                   [](const SweepTable::Row& a, const SweepTable::Row& b) { return a.number < b.number; });
  const auto is_same_play = [](const SweepTable::Row& a, const SweepTable::Row& b) { return a.number == b.number; };
  for (std::size_t i = 1; i < whole.rows.size(); ++i)
    if (is_same_play(whole.rows[i - 1], whole.rows[i]) && whole.rows[i - 1] != whole.rows[i])
      throw BadValue{"the parts are not of one sweep: play " + std::to_string(whole.rows[i].number) +
                     " has different results."};
  whole.rows.erase(std::unique(whole.rows.begin(), whole.rows.end(), is_same_play), whole.rows.end());
  return whole;
}

}  // namespace hushed
