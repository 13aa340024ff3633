#include <hushed/inside/new_file.hpp>

#include <cerrno>
#include <cstring>
#include <string>

#include <hushed/error.hpp>

namespace hushed::inside {

NewFile::NewFile(std::filesystem::path path) : path_{std::move(path)}, part_{path_} {
  part_ += ".part";
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
  check(std::fflush(file_.get()) == 0);
  check(std::fclose(file_.release()) == 0);
  std::error_code error;
  std::filesystem::rename(part_, path_, error);
  if (error) throw Error{path_.string() + ": it cannot be written: " + error.message() + "."};
}

void NewFile::check(bool went_well) const {
  if (!went_well) throw Error{path_.string() + ": it cannot be written: " + std::strerror(errno) + "."};
}

}  // namespace hushed::inside
