// SPDX-License-Identifier: MIT
#pragma once

// A small server for the page and the messages of clients, in its own thread. It does not know scenes.

#include <chrono>
#include <cstdint>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/live_server.hpp>

#include "message.hpp"

namespace hushed::detail {

/// An event of a client.
struct ClientEvent {
  enum class What { connected, message, disconnected };
  What what;
  int client;
  std::string text = {};
};

/// Limits of the server.
struct ServerLimits {
  std::chrono::milliseconds timeout{10'000};                ///< for a request, a handshake, or sending a message
  std::size_t most_connections = 32;                        ///< of all kinds
  std::size_t most_header = std::size_t{8} * 1024;          ///< bytes of a request
  std::size_t largest_message = std::size_t{64} * 1024;     ///< bytes of one message of a client
  std::size_t most_unread = 64;                             ///< messages of a client that wait for the scene's thread
  std::size_t most_unsent = std::size_t{16} * 1024 * 1024;  ///< bytes that wait for a client to take them
};

class WebServer {
 public:
  /// Throws `Error` where it cannot listen on the address. `page` must outlive the server.
  WebServer(const LiveOptions& options, std::string_view page, const ServerLimits& limits = {});
  ~WebServer();
  WebServer(const WebServer&) = delete;
  WebServer& operator=(const WebServer&) = delete;

  std::string address() const;

  bool has_events() const;
  /// Removes and returns all waiting events.
  std::vector<ClientEvent> take_events();
  /// Waits until there is an event, at most for the given time.
  void wait_for_events(std::chrono::nanoseconds longest);
  /// Sends to a client, if it is still connected.
  void send(int client, Message message);

 private:
  class Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace hushed::detail
