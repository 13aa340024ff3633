// SPDX-License-Identifier: MIT
#include <hushed/key_file.hpp>

#include <charconv>
#include <map>
#include <optional>

#include <hushed/load.hpp>

#include "read_whole.hpp"

namespace hushed {

namespace {

constexpr std::string_view header = "time,key,change";

std::optional<double> number_of(std::string_view text) {
  double number = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  return error == std::errc{} && end == text.data() + text.size() ? std::optional{number} : std::nullopt;
}

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r')) text.remove_suffix(1);
  return text;
}

class KeyReader {
 public:
  explicit KeyReader(std::string_view text) : text_{text} {
    for (int line = 1; !text_.empty(); ++line) {
      const std::size_t end = std::min(text_.find('\n'), text_.size());
      const std::string_view whole = trimmed(text_.substr(0, end));
      text_.remove_prefix(std::min(end + 1, text_.size()));
      if (whole.empty() || whole.front() == '#' || (line == 1 && whole.starts_with("time"))) continue;
      read(whole, line);
    }
  }

  std::vector<InputChange> changes;
  std::vector<Diagnostic> diagnostics;

 private:
  void read(std::string_view whole, int line) {
    const std::size_t first = whole.find(','), last = whole.rfind(',');
    const auto report = [&](std::size_t column, const std::string& text) {
      diagnostics.push_back({{line, static_cast<int>(column) + 1}, text});
    };
    if (first == std::string_view::npos || first == last)
      return report(0, "expected three columns: time,key,down or time,key,up, such as 1.5,H,down.");
    const std::string_view time = trimmed(whole.substr(0, first)), what = trimmed(whole.substr(last + 1));
    std::string name{trimmed(whole.substr(first + 1, last - first - 1))};
    if (name.size() >= 2 && name.front() == '"' && name.back() == '"') name = name.substr(1, name.size() - 2);
    const auto at = number_of(time);
    if (!at || !(*at >= 0.0 && *at <= 1e6))
      return report(0, in_quotes(time) + " is not a time; give seconds from 0 to 1000000.");
    if (name.empty()) return report(first + 1, "the name of the key is empty; give one, such as H.");
    const bool down = what == "down", up = what == "up";
    const auto value = number_of(what);
    if (!down && !up && !(value && *value >= -1.0 && *value <= 1.0))
      return report(last + 1,
                    in_quotes(what) + " is not a change; give down or up, or a number from -1 to 1 for an axis.");
    InputChange change{seconds(*at), name, InputChange::What::axis, value.value_or(0.0)};
    if (down || up) {
      change.what = down ? InputChange::What::down : InputChange::What::up;
      auto& state = keys_[name];
      if (change.time < state.time)
        return report(0, "key " + in_quotes(name) + " changes earlier than in line " + std::to_string(state.line) +
                             "; put the lines of a key in the order of their times.");
      if (state.is_down == down)
        return report(last + 1, "key " + in_quotes(name) + (down ? " is down already" : " is not down") +
                                    (state.line > 0 ? ", since line " + std::to_string(state.line) : std::string{}) +
                                    "; remove this line, or add its " + (down ? "up" : "down") + " before it.");
      state = {change.time, line, down};
    }
    changes.push_back(std::move(change));
  }

  struct State {
    Time time = {};
    int line = 0;
    bool is_down = false;
  };
  std::string_view text_;
  std::map<std::string, State> keys_;
};

}  // namespace

std::vector<InputChange> read_key_text(std::string_view text, const std::string& name) {
  KeyReader reader{text};
  if (!reader.diagnostics.empty()) throw LoadError{name, reader.diagnostics};
  return std::move(reader.changes);
}

std::vector<InputChange> read_key_file(const std::filesystem::path& file) {
  return read_key_text(detail::read_whole(file, {"a key file, such as harbour-keys.csv", std::uintmax_t{64} << 20}),
                       file.string());
}

std::string key_file_text(std::span<const InputChange> changes) {
  std::string text{header};
  text += '\n';
  for (const InputChange& change : changes) {
    text += as_text(in_seconds(change.time)) + ',' + change.name + ',';
    text += change.what == InputChange::What::axis   ? as_text(change.value)
            : change.what == InputChange::What::down ? "down"
                                                     : "up";
    text += '\n';
  }
  return text;
}

}  // namespace hushed
