// SPDX-License-Identifier: MIT
#include <hushed/detail/new_file.hpp>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <iterator>
#include <string>

#include <hushed/error.hpp>

namespace hushed::detail {

namespace {

/// Follows symbolic links to their end, which may not exist. Returns the path itself where it is no link.
std::filesystem::path behind_links(std::filesystem::path path) {
  constexpr int most_links = 40;  // the limit of the operating system
  std::error_code error;
  for (int i = 0; i < most_links && std::filesystem::is_symlink(path, error); ++i) {
    const auto to = std::filesystem::read_symlink(path, error);
    if (error) break;
    path = path.parent_path() / to;  // an absolute target replaces the whole path
  }
  return path;
}

std::string content_of(const std::filesystem::path& file) {
  std::ifstream in{file, std::ios::binary};
  return {std::istreambuf_iterator<char>{in}, {}};
}

}  // namespace

NewFile::NewFile(std::filesystem::path path) : path_{behind_links(std::move(path))} {
  constexpr int most_tries = 100;
  int opened = -1;
  for (int number = 0; opened < 0 && number < most_tries; ++number) {  // an existing file belongs to another process
    part_ = path_;
    part_ += '.' + std::to_string(getpid()) + (number == 0 ? "" : '-' + std::to_string(number)) + ".part";
    opened = open(part_.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    if (opened < 0 && errno != EEXIST) break;
  }
  check(opened >= 0);
  file_.reset(fdopen(opened, "wb"));
  if (!file_) close(opened);
  check(file_ != nullptr);
}

NewFile::~NewFile() {
  if (!file_) return;
  file_.reset();
  remove_part();
}

void NewFile::write(std::string_view bytes) {
  check(std::fwrite(bytes.data(), 1, bytes.size(), file_.get()) == bytes.size());
}

void NewFile::write_at(std::uint64_t place, std::string_view bytes) {
  check(fseeko(file_.get(), static_cast<off_t>(place), SEEK_SET) == 0);
  write(bytes);
}

void NewFile::complete() {
  // Written to the disk before it is renamed, so that a loss of power leaves either the old or the new file.
  check(std::fflush(file_.get()) == 0);
  struct stat old {};
  if (stat(path_.c_str(), &old) == 0) (void)fchmod(fileno(file_.get()), old.st_mode & 07777);
  check(fsync(fileno(file_.get())) == 0);
}

void NewFile::commit() {
  complete();
  check(std::rename(part_.c_str(), path_.c_str()) == 0);
  file_.reset();
  sync_folder();
}

bool NewFile::replace_if_unchanged(std::string_view content) {
  complete();
  if (content_of(path_) != content) return false;
  if (renameat2(AT_FDCWD, part_.c_str(), AT_FDCWD, path_.c_str(), RENAME_EXCHANGE) != 0) {
    check(errno == EINVAL || errno == ENOSYS);  // this file system cannot exchange two names
    commit();
    return true;
  }
  // The old file has the temporary name now.
  if (content_of(part_) != content) {
    check(renameat2(AT_FDCWD, part_.c_str(), AT_FDCWD, path_.c_str(), RENAME_EXCHANGE) == 0);
    return false;
  }
  file_.reset();
  remove_part();
  sync_folder();
  return true;
}

void NewFile::sync_folder() const {
  const auto folder = path_.has_parent_path() ? path_.parent_path() : std::filesystem::path{"."};
  if (const int open_folder = open(folder.c_str(), O_RDONLY); open_folder >= 0) {
    (void)fsync(open_folder);  // some file systems do not support it
    close(open_folder);
  }
}

void NewFile::remove_part() noexcept {
  std::error_code ignored;
  std::filesystem::remove(part_, ignored);
}

void NewFile::check(bool went_well) const {
  if (!went_well) throw Error{path_.string() + ": the file cannot be written: " + std::strerror(errno) + "."};
}

}  // namespace hushed::detail
