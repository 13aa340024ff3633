// SPDX-License-Identifier: MIT
#pragma once

// The orders of all tabs that wait to be carried out.

#include <cstddef>
#include <deque>
#include <map>
#include <optional>
#include <string>

namespace hushed::detail {

/// Tabs take turns, one order each, so that a tab that sends many does not hold up another. Of orders that ask for
/// something large, a newer one of the same kind takes the place of one that waits, unless an order in between changes
/// something.
class RequestQueue {
 public:
  /// How many of a tab may wait.
  static constexpr std::size_t most_per_client = 64;

  struct Next {
    int client;
    std::string text;
  };

  /// False where too many of the tab wait already: the order is dropped.
  bool add(int client, std::string text);
  /// The next order, which waits no more.
  std::optional<Next> take();
  void forget(int client) { waiting_.erase(client); }
  bool empty() const { return waiting_.empty(); }

 private:
  struct Waiting {
    std::string kind;  ///< of an order that a newer one may replace; empty of any other
    std::string text;
  };
  std::map<int, std::deque<Waiting>> waiting_;  ///< none of them is empty
  int last_client_ = 0;
};

}  // namespace hushed::detail
