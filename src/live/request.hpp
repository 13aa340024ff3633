// SPDX-License-Identifier: MIT
#pragma once

// A request of a client: JSON such as {"do": "step", "by": -1}. Functions throw `BadValue` where a value is missing or
// of another type.

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json.hpp>

namespace hushed::detail {

using Json = nlohmann::json;

class Request {
 public:
  explicit Request(std::string_view text);
  explicit Request(Json json) : json_(std::move(json)) {}

  bool has(const char* key) const { return json_.contains(key); }
  bool is_null(const char* key) const { return part(key).is_null(); }
  std::string text(const char* key) const;  ///< 1 to 4096 bytes
  /// Of at most that many bytes; may be empty.
  std::string long_text(const char* key, std::size_t most) const;
  double number(const char* key) const;  ///< finite
  std::int64_t whole(const char* key, double low, double high) const;
  std::vector<std::string> texts(const char* key, std::size_t most) const;
  std::vector<Request> list(const char* key, std::size_t most) const;

 private:
  const Json& part(const char* key) const;

  Json json_;
};

}  // namespace hushed::detail
