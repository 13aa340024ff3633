#include <hushed/inside/new_file.hpp>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <string>

#include <hushed/error.hpp>

namespace hushed::inside {

NewFile::NewFile(std::filesystem::path path) : path_{std::move(path)}, part_{path_} {
  part_ += '.' + std::to_string(getpid()) + ".part";  // nobody else writes into it
  file_.reset(std::fopen(part_.c_str(), "wb"));
  check(file_ != nullptr);
}

NewFile::~NewFile() {
  if (!file_) return;
  file_.reset();
  std::error_code ignored;
  std::filesystem::remove(part_, ignored);
}

void NewFile::write(std::string_view bytes) {
  check(std::fwrite(bytes.data(), 1, bytes.size(), file_.get()) == bytes.size());
}

void NewFile::write_at(std::uint64_t place, std::string_view bytes) {
  check(fseeko(file_.get(), static_cast<off_t>(place), SEEK_SET) == 0);
  write(bytes);
}

void NewFile::keep() {
  // On the disk before it takes the name, so that a loss of power leaves the old file or the new one.
  check(std::fflush(file_.get()) == 0);
  struct stat old {};
  if (stat(path_.c_str(), &old) == 0) (void)fchmod(fileno(file_.get()), old.st_mode & 07777);
  check(fsync(fileno(file_.get())) == 0);
  check(std::fclose(file_.release()) == 0);
  std::error_code error;
  std::filesystem::rename(part_, path_, error);
  if (error) {
    std::error_code ignored;
    std::filesystem::remove(part_, ignored);
    throw Error{path_.string() + ": it cannot be written: " + error.message() + "."};
  }
  const auto folder = path_.has_parent_path() ? path_.parent_path() : std::filesystem::path{"."};
  if (const int open_folder = open(folder.c_str(), O_RDONLY); open_folder >= 0) {
    (void)fsync(open_folder);  // some file systems know no such thing
    close(open_folder);
  }
}

void NewFile::check(bool went_well) const {
  if (!went_well) throw Error{path_.string() + ": it cannot be written: " + std::strerror(errno) + "."};
}

}  // namespace hushed::inside
