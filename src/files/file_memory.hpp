// SPDX-License-Identifier: MIT
#pragma once

// Large files that scenes have read: those of artists, and recordings.

#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include <hushed/fwd.hpp>
#include <hushed/motion.hpp>

#include "gltf/artist_file.hpp"
#include "motions.hpp"

namespace hushed::detail {

/// Reads a file again only where it has changed on the disk. Files of a program's own reader are read every time. Any
/// thread may use it.
class FileMemory {
 public:
  /// The memory of a list of kinds, which its copies share.
  static std::shared_ptr<FileMemory> of(const Kinds& kinds);

  /// Each throws `LoadError`. `progress` is called in this thread, with the share that has been read.
  std::shared_ptr<const ArtistFile> artist(const std::filesystem::path& file, const Kinds& kinds,
                                           const ReadProgress& progress = {});
  ReadMotions motions(const std::filesystem::path& file, const Kinds& kinds);

 private:
  struct Stamp {
    std::string path;
    std::filesystem::file_time_type time;
    std::uintmax_t size;
    bool operator==(const Stamp&) const = default;
  };
  using Stamps = std::vector<Stamp>;
  template <class T>
  struct Read {
    std::shared_ptr<const T> content;
    Stamps stamps;  ///< of the file and of those beside it; empty where they changed only just now
  };

  static Stamps stamps_of(std::vector<std::string> paths);
  template <class T, class ReadFile>
  std::shared_ptr<const T> read_once(std::map<std::string, Read<T>>& all, const std::filesystem::path& file,
                                     ReadFile&& read_file);
  template <class T>
  std::shared_ptr<const T> known(const std::map<std::string, Read<T>>& all, const std::string& path);

  std::mutex mutex_;
  std::map<std::string, Read<ArtistFile>> artists_;
  std::map<std::string, Read<ReadMotions>> motions_;
};

}  // namespace hushed::detail
