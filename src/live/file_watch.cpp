// SPDX-License-Identifier: MIT
#include "file_watch.hpp"

#include <algorithm>
#include <array>
#include <string_view>

#include <hushed/read_ahead.hpp>

namespace hushed::detail {

namespace {

constexpr auto often = std::chrono::milliseconds{80};
constexpr auto settling_time = std::chrono::milliseconds{60};  ///< after the last write
constexpr std::uintmax_t large_size = std::uintmax_t{1} << 20;

struct Stopped {};

}  // namespace

std::vector<FileWatch::Stamp> FileWatch::stamps_of(const Files& files) {
  std::vector<Stamp> all;
  for (const std::filesystem::path& file : files) {
    std::error_code failed;
    Stamp stamp{std::filesystem::last_write_time(file, failed), 0};
    if (!failed) stamp.size = std::filesystem::file_size(file, failed);
    all.push_back(failed ? Stamp{} : stamp);
  }
  return all;
}

FileWatch::Files FileWatch::large(const Files& files, const std::vector<Stamp>& found) const {
  constexpr std::array<std::string_view, 4> kinds{".glb", ".gltf", ".csv", ".jsonl"};
  Files large;
  for (std::size_t i = 0; i < files.size(); ++i) {
    const bool is_known = i < known_.size() && known_[i] == found[i];
    const std::string extension = files[i].extension().string();
    if (!is_known && found[i].size > large_size && std::find(kinds.begin(), kinds.end(), extension) != kinds.end())
      large.push_back(files[i]);
  }
  return large;
}

bool FileWatch::finds_change(const Files& files, const Scene& scene) {
  const auto now = std::chrono::steady_clock::now();
  if (is_reading_ || now < next_look_) return false;
  next_look_ = now + often;
  std::vector<Stamp> found = stamps_of(files);
  if (found == known_) return false;
  if (Files ahead = large(files, found); !ahead.empty() && found != read_) {
    const auto time = std::filesystem::file_time_type::clock::now();
    const bool is_written = std::any_of(found.begin(), found.end(), [&](const Stamp& each) {
      return each.time <= time && time - each.time < settling_time;  // perhaps only a part of it is there
    });
    if (is_written) return false;
    read_ = std::move(found);
    read_ahead(std::move(ahead), scene);
    return false;
  }
  known_ = std::move(found);
  return true;
}

void FileWatch::read_ahead(Files files, const Scene& scene) {
  stop();
  name_ = files.front().filename().string();
  percent_ = 0;
  is_reading_ = true;
  thread_ = std::thread{[this, files = std::move(files), ahead = ReadAhead{scene}] {
    try {
      for (std::size_t i = 0; i < files.size(); ++i)
        ahead.read(files[i], [&](double share) {
          if (must_stop_) throw Stopped{};
          percent_ = static_cast<int>(100.0 * (static_cast<double>(i) + share) / static_cast<double>(files.size()));
        });
    } catch (const Stopped&) {
    } catch (const std::exception&) {  // no memory, for example: reading the scene file will say it
    }
    is_reading_ = false;
  }};
}

std::optional<FileWatch::Reading> FileWatch::reading() const {
  if (!is_reading_) return std::nullopt;
  return Reading{name_, percent_};
}

void FileWatch::stop() {
  must_stop_ = true;
  if (thread_.joinable()) thread_.join();
  must_stop_ = false;
}

}  // namespace hushed::detail
