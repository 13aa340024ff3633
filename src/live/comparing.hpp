// SPDX-License-Identifier: MIT
#pragma once

// Comparing two tries: both are played from the current frame on, in pieces.

#include <array>
#include <deque>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <hushed/frames.hpp>
#include <hushed/play_mode.hpp>
#include <hushed/recording.hpp>

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
  /// client asked for before. `present`: the text of the scene that plays; for a try with another one, `scene_of` makes
  /// a scene as it would be now. Throws `BadValue`.
  void begin(PlayMode& mode, int client, const Request& request, const std::array<Try, 2>& tries,
             const std::string& present, std::vector<std::size_t> objects,
             const std::function<Scene(const Try&)>& scene_of);
  /// Plays at least one frame, and further ones while `goes_on` returns true. Returns comparisons that are complete.
  std::vector<Result> work(PlayMode& mode, const std::function<bool()>& goes_on);
  void leave(int client);

 private:
  /// A play of a scene of its own, as it was when it was made.
  struct PlayBeside {
    PlayBeside(Scene made, std::int64_t frames);
    void go_on(const std::function<bool()>& goes_on);

    Scene scene;
    Recording recording;
    RecordingBuilder builder{scene, recording};
    FrameTimes times;
    Time start = scene.time();
    std::int64_t left;  ///< frames
  };
  /// In the scene of play mode, or beside it.
  struct Play {
    std::optional<PlayMode::Ahead> ahead;
    std::unique_ptr<PlayBeside> beside;

    bool is_complete() const { return beside ? beside->left == 0 : ahead->is_complete(); }
    const Recording& recording() const { return beside ? beside->recording : ahead->recording(); }
  };
  struct Pending {
    int client;
    std::array<Try, 2> tries;
    std::array<std::uint32_t, 2> asks;
    std::vector<std::string> objects;
    std::array<Play, 2> plays;
  };
  static std::string path_bytes(const Pending& pending, std::size_t which);

  std::deque<Pending> pending_;
};

}  // namespace hushed::detail
