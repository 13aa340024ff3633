// SPDX-License-Identifier: MIT
#pragma once

// Recordings of stored frames for a client, written in pieces.

#include <cstdint>
#include <filesystem>
#include <functional>
#include <list>
#include <optional>
#include <string>
#include <vector>

#include <hushed/play_mode.hpp>
#include <hushed/recording_file.hpp>

#include "message.hpp"
#include "request.hpp"

namespace hushed::detail {

/// A file that a client is sent: its name and its content.
Message file_message(const std::string& name, const std::string& content);

class Exporting {
 public:
  struct Result {
    int client;
    Message message;
  };

  bool is_busy() const { return !pending_.empty(); }
  /// Begins a recording of stored frames. `name`: of the file, without extension. Throws `BadValue` where it would be
  /// too large for the page.
  void begin(const PlayMode& mode, int client, const Request& request, const std::string& name);
  /// Writes at least one frame, and further ones while `goes_on` returns true. Returns the files that are complete.
  std::vector<Result> work(const PlayMode& mode, const std::function<bool()>& goes_on);
  void leave(int client);

 private:
  struct Pending {
    int client;
    std::string name;
    std::filesystem::path file;
    std::uint64_t edition;  ///< of the stored frames
    std::int64_t next, last;
    RecordingWriter writer;
  };
  std::list<Pending> pending_;
};

}  // namespace hushed::detail
