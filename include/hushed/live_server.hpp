// SPDX-License-Identifier: MIT
#pragma once

// Play mode in the browser: a page that plays, pauses, steps and tunes a scene. In the library HushedOrbit::live.

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <memory>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

class Kinds;

struct LiveOptions {
  std::string host =
      "127.0.0.1";            ///< the address to listen on; anything but a loopback address lets other computers in
  std::uint16_t port = 0;     ///< 0: a free port
  std::string token = {};     ///< required of every client; a random one where empty
  std::size_t most_tabs = 8;  ///< the greatest number of clients at once
  bool plays = false;         ///< a scene of a file plays from the start
  double per_second = 60.0;   ///< frame rate of a scene of a file; the page may change it
  std::filesystem::path feed = {};  ///< a recording whose poses a scene of a file is fed; see `feed`
  const Kinds* kinds = nullptr;     ///< what a scene file may name; the built-in ones unless given
};

/// Serves the page of one scene. Sockets are handled in a thread of the server; the scene is used only within `serve`,
/// in the thread that calls it.
///
///     Scene harbour = load("harbour.toml");
///     LiveServer server{harbour};
///     std::puts(server.address().c_str());
///     while (game_is_running()) {
///       server.serve(frame_time);  // in the place of harbour.advance(frame_time)
///       draw(harbour);
///     }
///
/// Without a client, `serve` is `advance` and nothing else. A client may pause the scene, slow it down and take it back
/// to an earlier frame; when the last client leaves, the scene plays on.
class LiveServer {
 public:
  /// Throws `Error` where it cannot listen on the address.
  explicit LiveServer(Scene& scene, const LiveOptions& options = {});
  /// Serves the scene of a file. The page may keep tuned values in the file, and the file is read again whenever it
  /// changes. Nothing moves without a client. Throws `LoadError`, or `Error` where it cannot listen on the address.
  explicit LiveServer(const std::filesystem::path& file, const LiveOptions& options = {});
  ~LiveServer();
  LiveServer(const LiveServer&) = delete;
  LiveServer& operator=(const LiveServer&) = delete;

  /// The address to open in a browser: "http://127.0.0.1:41234/?token=..."
  std::string address() const;

  /// Handles the requests of clients, advances the scene by a frame of 0 to 1 s and sends it to the clients.
  template <class Rep, class Period>
  void serve(std::chrono::duration<Rep, Period> frame) {
    pass(seconds(std::chrono::duration<double>(frame).count()));
  }

  /// Serves in real time until `goes_on` returns false, which is called at least ten times a second. For a scene that
  /// no program plays.
  void run(const std::function<bool()>& goes_on);

  Scene& scene();
  std::size_t clients() const;  ///< connected now

 private:
  void pass(Time frame);

  class Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace hushed
