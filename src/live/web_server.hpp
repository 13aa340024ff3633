// SPDX-License-Identifier: MIT
#pragma once

// The way in: a small server of the page and of its tabs' messages, in a thread of its own. It knows no scene.

#include <chrono>
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/live_server.hpp>

#include "message.hpp"

namespace hushed::detail {

/// What a tab has done.
struct ClientEvent {
  enum class What { connected, message, disconnected };
  What what;
  int client;
  std::string text = {};
};

/// How much it puts up with.
struct ServerLimits {
  std::chrono::milliseconds timeout{10'000};                ///< for a request, a handshake, a message to be taken
  std::size_t most_connections = 32;                        ///< of tabs and others
  std::size_t most_header = std::size_t{8} * 1024;          ///< bytes of a request
  std::size_t largest_message = std::size_t{64} * 1024;     ///< bytes of one message of a tab
  std::size_t most_unread = 64;                             ///< messages of a tab that wait for the scene's thread
  std::size_t most_unsent = std::size_t{16} * 1024 * 1024;  ///< bytes that wait for a tab to take them
};

class WebServer {
 public:
  /// Throws `Error` where the address cannot be had. The page must outlive it.
  WebServer(const LiveOptions& options, std::string_view page, const ServerLimits& limits = {});
  ~WebServer();
  WebServer(const WebServer&) = delete;
  WebServer& operator=(const WebServer&) = delete;

  std::string address() const;

  bool has_events() const;
  /// All that came since the last time.
  std::vector<ClientEvent> take_events();
  /// Until there is some, but no longer than that.
  void wait_for_events(std::chrono::nanoseconds longest);
  /// To one tab, if it is there still.
  void send(int client, Message message);

 private:
  class Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace hushed::detail
