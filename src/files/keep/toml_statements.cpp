// SPDX-License-Identifier: MIT
#include "keep/toml_statements.hpp"

#include <algorithm>

namespace hushed::detail {

namespace {

using What = TomlStatement::What;

class Scanner {
 public:
  explicit Scanner(std::string_view text) : text_{text} {}

  std::vector<TomlStatement> run() {
    if (text_.starts_with("\xEF\xBB\xBF")) at_ = 3;
    while (at_ < text_.size()) {
      const std::size_t begin = made_.empty() ? 0 : at_;
      TomlStatement statement = next();
      at_ = std::min(text_.find('\n', at_), text_.size() - 1) + 1;
      statement.begin = begin;
      statement.end = at_;
      made_.push_back(std::move(statement));
    }
    return std::move(made_);
  }

 private:
  /// Scans a statement up to the end of its value or header.
  TomlStatement next() {
    TomlStatement statement;
    skip_blanks();
    const char c = at_ < text_.size() ? text_[at_] : '\n';
    if (c == '\n' || c == '\r') return statement;
    if (c == '#') {
      statement.what = What::comment;
      return statement;
    }
    if (c == '[') {
      const bool is_item = text_.substr(at_).starts_with("[[");
      at_ += is_item ? 2 : 1;
      statement.what = is_item ? What::item : What::table;
      statement.path = path();
      return statement;
    }
    statement.what = What::entry;
    statement.path = path();
    skip_blanks();
    if (at_ < text_.size() && text_[at_] == '=') ++at_;
    skip_blanks();
    if (at_ >= text_.size()) return statement;
    if (text_[at_] == '"' || text_[at_] == '\'')
      at_ = past_string(text_, at_);
    else if (text_[at_] == '[' || text_[at_] == '{')
      at_ = past_brackets(text_, at_);
    return statement;
  }

  std::vector<TomlStatement::Part> path() {
    std::vector<TomlStatement::Part> parts;
    while (true) {
      skip_blanks();
      const std::size_t begin = at_;
      if (at_ < text_.size() && (text_[at_] == '"' || text_[at_] == '\'')) {
        at_ = past_string(text_, at_);
        parts.push_back({begin, at_ - begin, std::string{text_.substr(begin + 1, at_ - begin - 2)}});
      } else {
        at_ = std::min(text_.find_first_of(" \t.=]\r\n", at_), text_.size());
        parts.push_back({begin, at_ - begin, std::string{text_.substr(begin, at_ - begin)}});
      }
      skip_blanks();
      if (at_ >= text_.size() || text_[at_] != '.') return parts;
      ++at_;
    }
  }

  void skip_blanks() {
    while (at_ < text_.size() && is_space_or_tab(text_[at_])) ++at_;
  }

  std::string_view text_;
  std::size_t at_ = 0;
  std::vector<TomlStatement> made_;
};

}  // namespace

std::size_t past_string(std::string_view text, std::size_t at) {
  const char quote = text[at];
  const std::string three(3, quote);
  const bool is_long = text.substr(at).starts_with(three);
  at += is_long ? 3 : 1;
  while (at < text.size()) {
    if (quote == '"' && text[at] == '\\') {
      at += 2;
    } else if (is_long ? text.substr(at).starts_with(three) : text[at] == quote) {
      at += is_long ? 3 : 1;
      // Up to two more quotes may belong to a long string.
      for (int more = 0; is_long && more < 2 && at < text.size() && text[at] == quote; ++more) ++at;
      return at;
    } else {
      ++at;
    }
  }
  return text.size();
}

std::size_t past_brackets(std::string_view text, std::size_t at) {
  int depth = 0;
  while (at < text.size()) {
    const char c = text[at];
    if (c == '"' || c == '\'') {
      at = past_string(text, at);
      continue;
    }
    if (c == '#') {
      at = std::min(text.find('\n', at), text.size());
      continue;
    }
    if (c == '[' || c == '{') ++depth;
    if ((c == ']' || c == '}') && --depth == 0) return at + 1;
    ++at;
  }
  return text.size();
}

bool TomlStatement::is_below(std::span<const std::string> above) const {
  return path.size() >= above.size() &&
         std::equal(above.begin(), above.end(), path.begin(),
                    [](const std::string& name, const Part& part) { return part.name == name; });
}

std::vector<TomlStatement> statements_of(std::string_view text) { return Scanner{text}.run(); }

TomlBlock block_of(std::span<const TomlStatement> statements, std::size_t header) {
  TomlBlock block{header, header + 1};
  while (block.first > 0 && statements[block.first - 1].what == What::comment) --block.first;
  std::size_t next = header + 1;
  for (; next < statements.size() && !statements[next].is_header(); ++next)
    if (statements[next].what == What::entry) block.end = next + 1;
  std::size_t below = block.end;
  while (below < statements.size() && statements[below].what == What::comment) ++below;
  if (below == statements.size() || !statements[below].is_header()) block.end = below;
  return block;
}

}  // namespace hushed::detail
