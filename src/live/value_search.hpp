// SPDX-License-Identifier: MIT
#pragma once

// Measures, and values for wishes, found in a thread beside the play.

#include <atomic>
#include <functional>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include <nlohmann/json.hpp>

#include <hushed/scene.hpp>
#include <hushed/solve.hpp>

#include "request.hpp"

namespace hushed::detail {

class ValueSearch {
 public:
  /// What a client is told. `found`: a value that fulfils the wish.
  struct News {
    int client;
    Json message;
    std::optional<double> found = {};
    std::string path = {};  ///< of the value
  };

  ValueSearch() = default;
  ~ValueSearch() { stop(); }
  ValueSearch(const ValueSearch&) = delete;
  ValueSearch& operator=(const ValueSearch&) = delete;

  /// Begins what a request asks for: `measure`, or `find` with `path`, `low`, `high` and `want`. `scene` is at its
  /// beginning and shares nothing with another thread. Throws `BadValue` where the request is wrong, or another client
  /// waits for a result; replaces what the same client asked for before.
  void begin(int client, const Request& request, Scene scene);
  void stop();
  void leave(int client);
  /// What has come since.
  std::vector<News> news();

 private:
  void tell(News news);

  std::mutex lock_;  ///< of the news
  std::vector<News> news_;
  std::atomic<bool> is_stopped_ = false, is_working_ = false;
  int client_ = 0;
  std::jthread worker_;  ///< declared last: it uses all others
};

/// The kinds of measures, for the page.
Json measures_in_json();

}  // namespace hushed::detail
