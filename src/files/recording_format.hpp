// SPDX-License-Identifier: MIT
#pragma once

// The interface of formats of recordings.

#include <span>
#include <string>

#include <hushed/recording_file.hpp>

namespace hushed {

/// The properties of a recording that are known before its first frame.
struct RecordingPlan {
  std::filesystem::path file;
  std::optional<double> frames_per_second;
  std::string title;

  struct Item {
    std::string name;
    std::optional<std::size_t> parent;  ///< the number of its parent among the items
    std::optional<Shape> shape;
  };
  std::vector<Item> items;
};

class RecordingWriter::Format {
 public:
  virtual ~Format() = default;
  /// The world poses of all items.
  virtual void add(Time time, std::span<const Pose> poses) = 0;
  virtual void finish() = 0;

  std::vector<Object> objects;
  std::vector<Pose> poses;  ///< of the last visible frame
};

namespace detail {

std::unique_ptr<RecordingWriter::Format> rows_format(const RecordingPlan& plan, const std::string& format);
std::unique_ptr<RecordingWriter::Format> gltf_format(const RecordingPlan& plan, bool is_binary);

Recording read_rows(const std::string& text, bool is_csv);
Recording read_gltf(const std::filesystem::path& file, const std::string& text);

}  // namespace detail

}  // namespace hushed
