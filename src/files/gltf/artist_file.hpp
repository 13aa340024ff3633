// SPDX-License-Identifier: MIT
#pragma once

// A glTF 2.0 file that an artist has made: its nodes as objects, their meshes, and its animations.

#include <cstddef>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/fwd.hpp>
#include <hushed/model.hpp>
#include <hushed/motion.hpp>
#include <hushed/pose.hpp>
#include <hushed/shape.hpp>

namespace hushed::detail {

struct ArtistNode {
  std::string name;     ///< of the object: unique, of letters, digits, - and _
  std::string written;  ///< as it is in the file; may be empty
  std::optional<std::size_t> parent;
  Pose pose;
  std::vector<std::string> tags;
  std::string what;  ///< "camera" or "light"; otherwise empty
  std::shared_ptr<const Model> model;
  Box bounds;                ///< of the model
  bool is_instance = false;  ///< one of many of its parent
};

struct ArtistFile {
  std::vector<ArtistNode> nodes;              ///< parents first
  std::shared_ptr<const MotionFile> motions;  ///< its animations, by the names of the objects
  bool is_recording = false;                  ///< of `hushed play --record`: all objects are in the world's space
  std::vector<std::string> notes;             ///< what is not read, with its place
  std::vector<std::string> beside;  ///< the paths of the other files that have been read, such as its .bin file
};

/// Is called with the share that has been read, 0 to 1; what it throws ends the reading.
using ReadProgress = std::function<void(double share)>;

/// Reads a file of at most 256 MB. Throws `LoadError`.
ArtistFile read_artist_file(const std::filesystem::path& file, const Kinds& kinds, const ReadProgress& progress = {});

}  // namespace hushed::detail
