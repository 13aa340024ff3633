// SPDX-License-Identifier: MIT
#pragma once

// The future as it would be, for clients, computed in pieces.

#include <cstdint>
#include <deque>
#include <functional>
#include <string>
#include <vector>

#include <hushed/play_mode.hpp>

#include "request.hpp"
#include "wire.hpp"

namespace hushed::detail {

class Predicting {
 public:
  struct Result {
    int client;
    std::string bytes;
  };

  bool is_busy() const { return !pending_.empty(); }
  /// At most two for each client: the future before its last change, and the future after it. A newer request replaces
  /// one between them, or one for the same values. `edition`: of the values.
  void begin(PlayMode& mode, int client, std::uint64_t edition, Stretch stretch, double seconds);
  /// Computes at least a piece, and further ones while `goes_on` returns true. Returns what is complete.
  std::vector<Result> work(PlayMode& mode, const std::function<bool()>& goes_on);
  void leave(int client);

 private:
  struct Pending {
    int client;
    std::uint64_t edition;
    Stretch stretch;
    PlayMode::Ahead ahead;
  };
  std::deque<Pending> pending_;
};

}  // namespace hushed::detail
