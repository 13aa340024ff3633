// SPDX-License-Identifier: MIT
#pragma once

// Recordings as files: CSV, JSON Lines and glTF 2.0, see docs/reference/recordings.md. In the library
// HushedOrbit::files.

#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {

/// Writes a recording while a scene plays, in constant memory. The file appears under its name, or replaces an older
/// one, when `finish` is called.
///
///     RecordingWriter writer{"harbour.glb", harbour, 60.0};
///     for (int frame = 0; frame <= 600; ++frame) {
///       writer.add(harbour);
///       harbour.advance(frame_time);
///     }
///     writer.finish();
class RecordingWriter {
 public:
  /// The extension chooses the format: .csv, .jsonl, .glb or .gltf (with a .bin beside it). `frames_per_second` is
  /// stored in glTF where the frames are even. Throws `Error` for any other extension, or where the file cannot be
  /// created.
  RecordingWriter(const std::filesystem::path& file, const Scene& scene,
                  std::optional<double> frames_per_second = std::nullopt, const std::string& title = "");
  /// For frames of the objects of a recording, which `add` with poses gives.
  RecordingWriter(const std::filesystem::path& file, const Recording& like,
                  std::optional<double> frames_per_second = std::nullopt, const std::string& title = "");
  ~RecordingWriter();
  RecordingWriter(RecordingWriter&&) noexcept;

  /// Adds the scene as it is now as the next frame. An object that has ended stays at its last pose.
  void add(const Scene& scene);
  /// Adds a frame of world poses, one for each object.
  void add(Time time, std::span<const Pose> poses);
  /// Completes the file. Throws `Error` where it cannot be written.
  void finish();

  class Format;

 private:
  std::unique_ptr<Format> format_;
};

/// True where the file's extension is that of a recording.
bool is_recording(const std::filesystem::path& file);

/// Reads a recording; of glTF files, only those of `RecordingWriter`. Throws `LoadError`.
Recording read_recording(const std::filesystem::path& file);

}  // namespace hushed
