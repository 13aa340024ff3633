// SPDX-License-Identifier: MIT
#include "keep/toml_tables.hpp"

#include <algorithm>
#include <vector>

#include "keep/toml_statements.hpp"

namespace hushed::detail {

namespace {

using What = TomlStatement::What;

/// A text and its statements.
struct Tables {
  explicit Tables(std::string_view given)
      : text{given}, newline{given.find("\r\n") == std::string_view::npos ? "\n" : "\r\n"}, all{statements_of(given)} {}

  /// A run of statements.
  struct Range {
    std::size_t first, end;
  };

  /// The headers of the items of a list of tables.
  std::vector<std::size_t> items(TomlPath path) const {
    std::vector<std::size_t> found;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (all[i].what == What::item && all[i].path.size() == path.size() && all[i].is_below(path)) found.push_back(i);
    return found;
  }
  std::vector<std::size_t> headers_below(TomlPath path) const {
    std::vector<std::size_t> found;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (all[i].is_header() && all[i].is_below(path)) found.push_back(i);
    return found;
  }
  /// An item with the tables inside it that follow.
  Range item_range(std::size_t header) const {
    const std::vector<std::string> path = names(all[header]);
    TomlBlock block = block_of(all, header);
    Range range{block.first, block.end};
    for (std::size_t next = header + 1; next < all.size(); ++next) {
      if (!all[next].is_header()) continue;
      if (all[next].path.size() <= path.size() || !all[next].is_below(path)) break;
      range.end = block_of(all, next).end;
    }
    return range;
  }
  static std::vector<std::string> names(const TomlStatement& statement) {
    std::vector<std::string> path;
    for (const TomlStatement::Part& part : statement.path) path.push_back(part.name);
    return path;
  }

  std::string_view text_of(const Range& range) const {
    const std::size_t from = all[range.first].begin;
    return text.substr(from, all[range.end - 1].end - from);
  }
  bool is_blank(std::size_t statement) const { return all[statement].what == What::blank; }

  /// The text without a range and without blank lines that separated it.
  std::string without(Range range) const {
    const bool begins = range.first == 0 || is_blank(range.first - 1);
    if (begins)
      while (range.end < all.size() && is_blank(range.end)) ++range.end;
    if (range.end == all.size())
      while (range.first > 0 && is_blank(range.first - 1)) --range.first;
    std::string left{text.substr(0, all[range.first].begin)};
    return left.append(text.substr(all[range.end - 1].end));
  }
  /// The text with a block in it, before a statement, and with blank lines around it.
  std::string with(std::size_t before, std::string block) const {
    const std::size_t at = before == all.size() ? text.size() : all[before].begin;
    std::string made{text.substr(0, at)};
    if (!made.empty() && made.back() != '\n') made += newline;
    if (before > 0 && !is_blank(before - 1)) made += newline;
    if (!block.ends_with('\n')) block += newline;
    made += block;
    if (before < all.size() && !is_blank(before)) made += newline;
    return made.append(text.substr(at));
  }

  std::string indentation(std::size_t statement) const {
    const std::string_view line = text.substr(all[statement].begin);
    return std::string{line.substr(0, std::min(line.find_first_not_of(" \t"), line.size()))};
  }

  std::string_view text;
  std::string newline;
  std::vector<TomlStatement> all;
};

std::string joined(TomlPath path) {
  std::string all;
  for (const std::string& name : path) all += (all.empty() ? "" : ".") + name;
  return all;
}

/// Lines of keys, their signs in one column.
std::string lines_of(const Value& keys, const std::string& indentation, const std::string& newline) {
  const auto& entries = *keys.as<Value::Table>();
  std::size_t width = 0;
  for (const Value::Entry& entry : entries) width = std::max(width, entry.key.size());
  std::string lines;
  for (const Value::Entry& entry : entries) {
    lines += indentation + entry.key;
    lines.append(width - entry.key.size(), ' ').append(" = ").append(as_text(entry.value)).append(newline);
  }
  return lines;
}

/// Replaces one part of the paths of some headers.
void rename_part(std::string& text, const Tables& tables, const std::vector<std::size_t>& headers, std::size_t part,
                 const std::string& name, std::size_t offset = 0) {
  for (auto header = headers.rbegin(); header != headers.rend(); ++header) {
    const TomlStatement::Part& old = tables.all[*header].path[part];
    text.replace(old.at - offset, old.size, name);
  }
}

}  // namespace

bool has_header(std::string_view text, TomlPath path) { return !Tables{text}.headers_below(path).empty(); }

std::optional<std::string> with_item(std::string_view text, TomlPath path, std::size_t index, const Value& keys) {
  const Tables tables{text};
  const std::vector<std::size_t> items = tables.items(path);
  const auto block = [&](const std::string& indentation) {
    return indentation + "[[" + joined(path) + "]]" + tables.newline + lines_of(keys, indentation, tables.newline);
  };
  if (index < items.size())
    return tables.with(tables.item_range(items[index]).first, block(tables.indentation(items[index])));
  if (!items.empty()) return tables.with(tables.item_range(items.back()).end, block(tables.indentation(items.back())));
  const auto owners = tables.headers_below(path.first(path.size() - 1));
  if (path.size() == 1) return tables.with(tables.all.size(), block(""));
  if (owners.empty()) return std::nullopt;
  return tables.with(block_of(tables.all, owners.back()).end, block(""));
}

std::optional<std::string> without_item(std::string_view text, TomlPath path, std::size_t index) {
  const Tables tables{text};
  const std::vector<std::size_t> items = tables.items(path);
  if (index >= items.size()) return std::nullopt;
  return tables.without(tables.item_range(items[index]));
}

std::optional<std::string> with_item_moved(std::string_view text, TomlPath path, std::size_t from, std::size_t to) {
  const Tables tables{text};
  const std::vector<std::size_t> items = tables.items(path);
  if (from >= items.size() || to >= items.size()) return std::nullopt;
  const Tables::Range range = tables.item_range(items[from]);
  const std::string block{tables.text_of(range)}, rest = tables.without(range);
  const Tables others{rest};
  const std::vector<std::size_t> left = others.items(path);
  if (left.empty()) return std::string{text};
  return others.with(to < left.size() ? others.item_range(left[to]).first : others.item_range(left.back()).end, block);
}

std::string with_table(std::string_view text, TomlPath path, const Value& keys) {
  const Tables tables{text};
  const auto beside = tables.headers_below(path.first(path.size() - 1));
  const std::string block = "[" + joined(path) + "]" + tables.newline + lines_of(keys, "", tables.newline);
  return tables.with(beside.empty() ? tables.all.size() : block_of(tables.all, beside.back()).end, block);
}

std::optional<std::string> with_header(std::string_view text, TomlPath path) {
  const Tables tables{text};
  const auto inside = tables.headers_below(path);
  if (inside.empty()) return std::nullopt;
  for (const std::size_t header : inside)
    if (tables.all[header].path.size() == path.size()) return std::nullopt;
  return tables.with(block_of(tables.all, inside.front()).first, "[" + joined(path) + "]" + tables.newline);
}

std::optional<std::string> without_table(std::string_view text, TomlPath path) {
  std::string left{text};
  bool is_found = false;
  while (true) {
    const Tables tables{left};
    const auto headers = tables.headers_below(path);
    if (headers.empty()) break;
    is_found = true;
    const TomlBlock block = block_of(tables.all, headers.back());
    left = tables.without({block.first, block.end});
  }
  return is_found ? std::optional{left} : std::nullopt;
}

std::optional<std::string> with_table_renamed(std::string_view text, TomlPath path, const std::string& name) {
  const Tables tables{text};
  const auto headers = tables.headers_below(path);
  if (headers.empty()) return std::nullopt;
  std::string renamed{text};
  rename_part(renamed, tables, headers, path.size() - 1, name);
  return renamed;
}

std::optional<std::string> with_table_copied(std::string_view text, TomlPath path, const std::string& name) {
  const Tables tables{text};
  const auto headers = tables.headers_below(path);
  if (headers.empty()) return std::nullopt;
  std::string copy;
  for (const std::size_t header : headers) {
    const TomlBlock block = block_of(tables.all, header);
    std::string part{tables.text_of({header, block.end})};
    rename_part(part, tables, {header}, path.size() - 1, name, tables.all[header].begin);
    if (!part.ends_with('\n')) part += tables.newline;
    copy += (copy.empty() ? "" : tables.newline) + part;
  }
  return tables.with(block_of(tables.all, headers.back()).end, copy);
}

}  // namespace hushed::detail
