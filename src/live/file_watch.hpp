// SPDX-License-Identifier: MIT
#pragma once

// Notices that files of a scene have changed.

#include <atomic>
#include <chrono>
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include <hushed/fwd.hpp>

namespace hushed::detail {

/// Looks at files every now and then. Large ones that have changed are first read in a thread of their own, while the
/// scene plays on.
class FileWatch {
 public:
  using Files = std::vector<std::filesystem::path>;
  struct Reading {
    std::string file;
    int percent;
  };

  FileWatch() = default;
  FileWatch(const FileWatch&) = delete;
  FileWatch& operator=(const FileWatch&) = delete;
  ~FileWatch() { stop(); }

  /// The files as they are now are known.
  void know(const Files& files) { known_ = stamps_of(files); }
  /// True where they have changed, and it is time to read them; they are known then.
  bool finds_change(const Files& files, const Scene& scene);
  /// What is being read in the thread.
  std::optional<Reading> reading() const;

 private:
  struct Stamp {
    std::filesystem::file_time_type time = {};
    std::uintmax_t size = 0;
    bool operator==(const Stamp&) const = default;
  };

  static std::vector<Stamp> stamps_of(const Files& files);
  /// The large files that differ from the known ones.
  Files large(const Files& files, const std::vector<Stamp>& found) const;
  void read_ahead(Files files, const Scene& scene);
  void stop();

  std::vector<Stamp> known_;
  std::vector<Stamp> read_;  ///< those that have been read in the thread
  std::chrono::steady_clock::time_point next_look_ = {};
  std::thread thread_;
  std::string name_;  ///< of the file that the thread reads
  std::atomic<int> percent_ = 0;
  std::atomic<bool> is_reading_ = false, must_stop_ = false;
};

}  // namespace hushed::detail
