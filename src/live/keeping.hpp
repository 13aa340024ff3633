// SPDX-License-Identifier: MIT
#pragma once

// Tuned values and edits of play mode that a client writes into the files.

#include <optional>
#include <string>
#include <vector>

#include <hushed/keep.hpp>
#include <hushed/play_mode.hpp>

#include "edited_file.hpp"
#include "message.hpp"
#include "request.hpp"

namespace hushed::detail {

class Keeping {
 public:
  /// What was written.
  struct Kept {
    std::string text;                       ///< in words
    std::vector<PlayMode::Changed> values;  ///< before it
  };

  /// What a request would write, for the client to be asked.
  const Json& plan(const PlayMode& mode, const Scene& scene, const EditedFile& file, const Request& request);
  /// Writes what was planned last. Throws `BadValue` where that has changed since.
  Kept keep(PlayMode& mode, const Scene& scene, const EditedFile& file, const Request& request);

 private:
  /// A tuned value, at its own path or that of its preset.
  struct Target {
    std::string path, place;
    bool is_for_all() const { return place != path; }
  };

  static std::vector<Target> targets_of(const Scene& scene, const Request& request);
  static std::vector<ValueToKeep> values_of(const PlayMode& mode, const std::vector<Target>& targets);
  static void mark_kept(PlayMode& mode, const std::vector<Target>& targets, const KeepPlan& plan);

  std::optional<Json> planned_;  ///< the plan that was last sent
};

}  // namespace hushed::detail
