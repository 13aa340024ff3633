// SPDX-License-Identifier: MIT
#pragma once

#include <filesystem>
#include <functional>
#include <memory>

#include <hushed/detail/export.hpp>
#include <hushed/fwd.hpp>

namespace hushed::detail {
class FileMemory;
}

namespace hushed HUSHED_API {

/// Reads large files of a playing scene (artists' files and recordings) in another thread, before `reload` reads the
/// scene file: it then takes them from memory, unless they have changed again.
///
///     ReadAhead ahead{scene};                                // in the thread that plays the scene
///     std::jthread reader{[ahead, file = playing.files[1]] { ahead.read(file); }};
class ReadAhead {
 public:
  explicit ReadAhead(const Scene& scene);
  /// Reads a file that has changed. In any thread. Mistakes in it are left to `reload`. `progress` is called with the
  /// share that has been read, 0 to 1; what it throws ends the reading. Does nothing where the program reads files
  /// itself (`Kinds::set_file_reader`).
  void read(const std::filesystem::path& file, const std::function<void(double share)>& progress = {}) const;

 private:
  std::shared_ptr<const Kinds> kinds_;
  std::shared_ptr<detail::FileMemory> memory_;
};

}  // namespace hushed
