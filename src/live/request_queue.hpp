// SPDX-License-Identifier: MIT
#pragma once

// The waiting requests of all clients.

#include <cstddef>
#include <deque>
#include <map>
#include <optional>
#include <string>

namespace hushed::detail {

/// Clients take turns, one request each, so that a client with many requests does not delay another. A newer request
/// for something large replaces a waiting one of its kind, unless a request between them changes the scene.
class RequestQueue {
 public:
  /// The greatest number of waiting requests of one client.
  static constexpr std::size_t most_per_client = 64;

  struct Next {
    int client;
    std::string text;
  };

  /// False where too many of the client wait already: the request is dropped.
  bool add(int client, std::string text);
  /// Removes and returns the next request.
  std::optional<Next> take();
  void forget(int client) { waiting_.erase(client); }
  bool empty() const { return waiting_.empty(); }

 private:
  struct Waiting {
    std::string kind;  ///< the kind of a request that a newer one may replace; otherwise empty
    std::string text;
  };
  std::map<int, std::deque<Waiting>> waiting_;  ///< by client; no queue is empty
  int last_client_ = 0;
};

}  // namespace hushed::detail
