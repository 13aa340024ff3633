// SPDX-License-Identifier: MIT
#pragma once

// The files whose motion `replay` plays: each is read once for a scene.

#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include <hushed/kinds.hpp>
#include <hushed/motion.hpp>

#include "scene/drafts.hpp"

namespace hushed::detail {

/// What has been read of a file with motions.
struct ReadMotions {
  std::shared_ptr<const MotionFile> content;
  std::vector<std::string> beside;  ///< the paths of the other files that have been read, such as a .bin file
};

/// As `read_motions`, which leaves out the other files.
ReadMotions read_motions_and_beside(const std::filesystem::path& file, const Kinds& kinds);

class MotionReader {
 public:
  /// The files that are read are added to `files`, so that a change of one is noticed.
  MotionReader(std::vector<std::string>& files, const Kinds& kinds, Diagnostics& diagnostics)
      : files_{files}, kinds_{kinds}, diagnostics_{diagnostics} {}

  /// What has been read of a file already, such as the base of the scene.
  void know(const std::string& path, std::shared_ptr<const MotionFile> content) { known_[path] = std::move(content); }
  /// The base of the scene, for a `replay` without a file.
  void set_base(std::shared_ptr<const MotionFile> content) { base_ = std::move(content); }
  /// Reads the file of a behaviour, if it is a `replay`.
  void read(BehaviourDraft& behaviour);

 private:
  std::shared_ptr<const MotionFile> read(const std::string& path) const;

  std::vector<std::string>& files_;
  const Kinds& kinds_;
  Diagnostics& diagnostics_;
  std::shared_ptr<const MotionFile> base_;
  std::map<std::string, std::shared_ptr<const MotionFile>> known_;
};

}  // namespace hushed::detail
