// SPDX-License-Identifier: MIT
#pragma once

// Play mode in the browser: a page that plays, halts, steps and tunes a scene. In the library HushedOrbit::live.

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

struct LiveOptions {
  std::string host = "127.0.0.1";  ///< the address to be reached at; another than this computer's own lets others in
  std::uint16_t port = 0;          ///< 0: one that is free
  std::string token = {};          ///< who has it may look and tune; a random one where left empty
  std::size_t most_tabs = 8;       ///< that look at once
  bool plays = false;              ///< a scene of a file, before anybody says so
  double per_second = 60.0;        ///< frames of a scene of a file; the page may change it
};

/// Serves the page of one scene. Sockets are read and written in a thread of its own; the scene is touched in `serve`
/// alone, in the thread of who calls it.
///
///     Scene harbour = load("scenes/harbour.toml");
///     LiveServer server{harbour};
///     std::puts(server.address().c_str());
///     while (game_is_running()) {
///       server.serve(frame_time);  // in the place of harbour.advance(frame_time)
///       draw(harbour);
///     }
///
/// While nobody looks, `serve` is `advance` and nothing else. While somebody does, the page may halt the scene, slow it
/// down, and take it back to an earlier frame; should the last one leave, it goes on.
class LiveServer {
 public:
  /// Throws `Error` where the address cannot be had.
  explicit LiveServer(Scene& scene, const LiveOptions& options = {});
  /// The scene of a file, which the page may write tuned values into, and which is read again whenever it changes.
  /// Nothing moves while nobody looks. Throws `LoadError` too.
  explicit LiveServer(const std::filesystem::path& file, const LiveOptions& options = {});
  ~LiveServer();
  LiveServer(const LiveServer&) = delete;
  LiveServer& operator=(const LiveServer&) = delete;

  /// What to open in a browser: "http://127.0.0.1:41234/?token=..."
  std::string address() const;

  /// Does what the page has asked for, moves the scene on by a frame (0 to a second), and shows it to who looks.
  template <class Rep, class Period>
  void serve(std::chrono::duration<Rep, Period> frame) {
    pass(seconds(std::chrono::duration<double>(frame).count()));
  }

  /// Serves in real time, frame after frame, until `goes_on` returns false: for a scene that no program plays. It is
  /// asked at least ten times a second.
  void run(const std::function<bool()>& goes_on);

  Scene& scene();
  std::size_t clients() const;  ///< that look now

 private:
  void pass(Time frame);

  class Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace hushed
