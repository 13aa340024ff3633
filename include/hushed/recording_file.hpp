// SPDX-License-Identifier: MIT
#pragma once

// Recordings as files: CSV, JSON Lines and glTF 2.0, see docs/reference/recordings.md. In the library
// HushedOrbit::files.

#include <filesystem>
#include <memory>
#include <optional>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {

/// Writes a recording while a scene plays, in memory that does not grow with its length. Nothing is to be seen under
/// the file's name until `finish`, which replaces what was there whole.
///
///     RecordingWriter writer{"harbour.glb", harbour, 60.0};
///     for (int frame = 0; frame <= 600; ++frame) {
///       writer.add(harbour);
///       harbour.advance(frame_time);
///     }
///     writer.finish();
class RecordingWriter {
 public:
  /// The extension says the format: .csv, .jsonl, .glb or .gltf (which has a .bin beside it). `frames_per_second` is
  /// told to readers of glTF where the frames are even. Throws `Error` where the extension says nothing, or the file
  /// cannot be made.
  RecordingWriter(const std::filesystem::path& file, const Scene& scene,
                  std::optional<double> frames_per_second = std::nullopt, const std::string& title = "");
  ~RecordingWriter();
  RecordingWriter(RecordingWriter&&) noexcept;

  /// The scene as it is now is the next frame. An object that has ended stays where it was.
  void add(const Scene& scene);
  /// Puts the file in its place. Throws `Error` where it cannot be written.
  void finish();

  class Format;

 private:
  std::unique_ptr<Format> format_;
};

/// Whether a file's extension is that of a recording.
bool is_recording(const std::filesystem::path& file);

/// Reads a recording back. Of glTF, only what `RecordingWriter` has written. Throws `LoadError`.
Recording read_recording(const std::filesystem::path& file);

}  // namespace hushed
