// SPDX-License-Identifier: MIT
#include "request.hpp"

#include <cmath>

#include <hushed/error.hpp>
#include <hushed/value.hpp>

namespace hushed::detail {

namespace {

BadValue wrong(const char* key, const std::string& hint) { return BadValue{std::string{key} + ": " + hint}; }

}  // namespace

Request::Request(std::string_view text)
    : json_(Json::parse(text, nullptr, false)) {  // braces would make a list with one element
  if (!json_.is_object()) throw BadValue{"not a request; send JSON such as {\"do\": \"play\"}."};
}

const Json& Request::part(const char* key) const {
  const auto found = json_.find(key);
  if (found == json_.end()) throw wrong(key, "missing.");
  return *found;
}

std::string Request::text(const char* key) const {
  const Json& found = part(key);
  if (!found.is_string()) throw wrong(key, "expected a string.");
  std::string text = found.get<std::string>();
  if (text.empty() || text.size() > 4096) throw wrong(key, "expected 1 to 4096 characters.");
  return text;
}

std::string Request::long_text(const char* key, std::size_t most) const {
  const Json& found = part(key);
  if (!found.is_string()) throw wrong(key, "expected a string.");
  std::string text = found.get<std::string>();
  if (text.size() > most) throw wrong(key, "expected at most " + std::to_string(most) + " characters.");
  return text;
}

double Request::number(const char* key) const {
  const Json& found = part(key);
  if (!found.is_number() || !std::isfinite(found.get<double>())) throw wrong(key, "expected a number.");
  return found.get<double>();
}

std::int64_t Request::whole(const char* key, double low, double high) const {
  const double number = this->number(key);
  if (number != std::floor(number) || number < low || number > high)
    throw wrong(key, "expected a whole number from " + as_text(low) + " to " + as_text(high) + ".");
  return static_cast<std::int64_t>(number);
}

std::vector<std::string> Request::texts(const char* key, std::size_t most) const {
  const Json& found = part(key);
  if (!found.is_array() || found.size() > most)
    throw wrong(key, "expected a list of at most " + std::to_string(most) + " strings.");
  std::vector<std::string> texts;
  for (const Json& each : found) {
    if (!each.is_string()) throw wrong(key, "expected a list of strings.");
    texts.push_back(each.get<std::string>());
  }
  return texts;
}

std::vector<Request> Request::list(const char* key, std::size_t most) const {
  const Json& found = part(key);
  if (!found.is_array() || found.size() > most)
    throw wrong(key, "expected a list of at most " + std::to_string(most) + " tables.");
  std::vector<Request> list;
  for (const Json& each : found) {
    if (!each.is_object()) throw wrong(key, "expected a list of tables.");
    list.emplace_back(each);
  }
  return list;
}

}  // namespace hushed::detail
