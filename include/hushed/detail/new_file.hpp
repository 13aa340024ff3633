// SPDX-License-Identifier: MIT
#pragma once

// A file that takes its name only when it is complete.

#include <cstdint>
#include <cstdio>
#include <filesystem>
#include <memory>
#include <span>
#include <string_view>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {
namespace detail {

class NewFile {
 public:
  /// Opens a temporary file beside the path. For a symbolic link, its target will be replaced and the link stays. All
  /// functions throw `Error` where writing fails.
  explicit NewFile(std::filesystem::path path);
  ~NewFile();
  NewFile(const NewFile&) = delete;
  NewFile& operator=(const NewFile&) = delete;

  void write(std::string_view bytes);
  void write_at(std::uint64_t place, std::string_view bytes);
  /// Finishes the file: it replaces the file at the path.
  void commit();
  /// It replaces a file that has this content. False, and nothing is changed, where the file has any other by now: both
  /// change places in one step, so that a save in between is seen and put back.
  bool replace_if_unchanged(std::string_view content);

 private:
  void check(bool went_well) const;
  /// Everything is on the disk, with the rights of the old file.
  void complete();
  void sync_folder() const;
  void remove_part() noexcept;

  struct Close {
    void operator()(std::FILE* file) const { std::fclose(file); }
  };
  std::filesystem::path path_, part_;
  std::unique_ptr<std::FILE, Close> file_;
};

}  // namespace detail
}  // namespace hushed
