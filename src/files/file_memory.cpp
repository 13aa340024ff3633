// SPDX-License-Identifier: MIT
#include "file_memory.hpp"

#include <chrono>

#include <hushed/detail/scene_access.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/read_ahead.hpp>

namespace hushed {

namespace detail {

namespace {

constexpr std::size_t most_files = 100;  ///< that are remembered

}  // namespace

std::shared_ptr<FileMemory> FileMemory::of(const Kinds& kinds) {
  if (!kinds.memory_) kinds.memory_ = std::make_shared<FileMemory>();
  return kinds.memory_;
}

FileMemory::Stamps FileMemory::stamps_of(std::vector<std::string> paths) {
  // A file that is written twice within a tick of the disk's clock could have the same stamp.
  constexpr auto settling = std::chrono::milliseconds{50};
  const auto now = std::filesystem::file_time_type::clock::now();
  Stamps stamps;
  for (std::string& path : paths) {
    std::error_code failed;
    const auto time = std::filesystem::last_write_time(path, failed);
    const std::uintmax_t size = failed ? 0 : std::filesystem::file_size(path, failed);
    if (failed || (time <= now && now - time < settling)) return {};
    stamps.push_back({std::move(path), time, size});
  }
  return stamps;
}

template <class T>
std::shared_ptr<const T> FileMemory::known(const std::map<std::string, Read<T>>& all, const std::string& path) {
  const std::lock_guard lock{mutex_};
  const auto found = all.find(path);
  if (found == all.end() || found->second.stamps.empty()) return nullptr;
  std::vector<std::string> paths;
  for (const Stamp& stamp : found->second.stamps) paths.push_back(stamp.path);
  return stamps_of(std::move(paths)) == found->second.stamps ? found->second.content : nullptr;
}

template <class T, class ReadFile>
std::shared_ptr<const T> FileMemory::read_once(std::map<std::string, Read<T>>& all, const std::filesystem::path& file,
                                               ReadFile&& read_file) {
  if (auto content = known(all, file.string())) return content;
  const Stamps before = stamps_of({file.string()});
  std::shared_ptr<const T> content = read_file();
  std::vector<std::string> paths{file.string()};
  paths.insert(paths.end(), content->beside.begin(), content->beside.end());
  Stamps after = stamps_of(std::move(paths));
  const bool is_settled = !before.empty() && !after.empty() && before.front() == after.front();
  const std::lock_guard lock{mutex_};
  if (all.size() > most_files) all.clear();
  all[file.string()] = {content, is_settled ? std::move(after) : Stamps{}};
  return content;
}

std::shared_ptr<const ArtistFile> FileMemory::artist(const std::filesystem::path& file, const Kinds& kinds,
                                                     const ReadProgress& progress) {
  if (kinds.file_reader()) return std::make_shared<const ArtistFile>(read_artist_file(file, kinds, progress));
  return read_once(artists_, file,
                   [&] { return std::make_shared<const ArtistFile>(read_artist_file(file, kinds, progress)); });
}

ReadMotions FileMemory::motions(const std::filesystem::path& file, const Kinds& kinds) {
  if (kinds.file_reader()) return read_motions_and_beside(file, kinds);
  return *read_once(motions_, file,
                    [&] { return std::make_shared<const ReadMotions>(read_motions_and_beside(file, kinds)); });
}

}  // namespace detail

ReadAhead::ReadAhead(const Scene& scene) : kinds_{detail::SceneAccess::kinds(scene)} {
  if (!kinds_) kinds_ = std::make_shared<const Kinds>();
  memory_ = detail::FileMemory::of(*kinds_);
}

void ReadAhead::read(const std::filesystem::path& file, const std::function<void(double)>& progress) const {
  if (kinds_->file_reader()) return;
  const std::string extension = file.extension().string();
  try {
    if (extension == ".glb" || extension == ".gltf") memory_->artist(file, *kinds_, progress);
    if (extension == ".csv" || extension == ".jsonl") memory_->motions(file, *kinds_);
  } catch (const LoadError&) {  // reading the scene file will say it
  }
}

}  // namespace hushed
