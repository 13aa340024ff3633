// SPDX-License-Identifier: MIT
#pragma once

// Comparing two tries: both are played from the current frame on, in pieces.

#include <array>
#include <deque>
#include <functional>
#include <string>
#include <vector>

#include <hushed/play_mode.hpp>

#include "message.hpp"
#include "request.hpp"
#include "tries.hpp"
#include "wire.hpp"

namespace hushed::detail {

class Comparing {
 public:
  /// A message for a client.
  struct Result {
    int client;
    std::vector<Message> messages;
  };

  bool is_busy() const { return !pending_.empty(); }
  /// Begins to play both tries for some seconds. `objects`: their numbers, whose paths are sent. Replaces what the
  /// client asked for before. Throws `BadValue` for tries of different structure.
  void begin(PlayMode& mode, int client, const Request& request, const std::array<Try, 2>& tries,
             std::vector<std::size_t> objects);
  /// Plays at least one frame, and further ones while `goes_on` returns true. Returns comparisons that are complete.
  std::vector<Result> work(PlayMode& mode, const std::function<bool()>& goes_on);
  void leave(int client);

 private:
  struct Pending {
    int client;
    std::array<Try, 2> tries;
    std::array<Stretch, 2> stretches;
    std::array<PlayMode::Ahead, 2> plays;
  };
  std::deque<Pending> pending_;
};

}  // namespace hushed::detail
