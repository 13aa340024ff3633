// SPDX-License-Identifier: MIT
#pragma once

// A scene file whose structure is being edited: its text as it is on disk, and the edits that are not written yet.

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <hushed/edit.hpp>
#include <hushed/keep.hpp>
#include <hushed/play_mode.hpp>

namespace hushed::detail {

class EditedFile {
 public:
  /// Edits that are made, undone and redone together.
  struct Step {
    std::vector<SceneEdit> edits;
    std::uint64_t gesture = 0;                 ///< steps of the same gesture, other than 0, are one
    std::string before, after;                 ///< the text of the scene file
    std::vector<PlayMode::Changed> lost = {};  ///< tuned values of what the step removed
    /// For `PlayMode::mark`.
    std::string name() const { return "edit " + std::to_string(number); }
    /// For `PlayMode::forget_mark`.
    std::vector<PlayMode::PathChange> path_changes() const;
    int number = 0;
  };

  EditedFile(SceneSource source) : on_disk_{std::move(source)}, now_{on_disk_} {}

  const SceneSource& on_disk() const { return on_disk_; }
  const SceneSource& now() const { return now_; }
  /// What the edits are that are not on disk, and those on disk that were undone.
  std::vector<std::string> descriptions() const;

  /// The step that these edits would be. Throws `BadValue`.
  Step planned(std::vector<SceneEdit> edits, std::uint64_t gesture, const std::string& last_mark,
               const LoadOptions& options) const;
  /// The step that replaces the whole text. It is lost where the file changes meanwhile.
  Step replaced(std::string text) const;
  /// Makes a planned step. Returns false where it is part of the last one.
  bool make(Step step);
  /// The step of that mark, where it can be undone or redone next.
  const Step* to_undo(const std::string& mark) const;
  const Step* to_redo(const std::string& mark) const;
  void undo();
  void redo();
  Step& last() { return steps_[done_ - 1]; }

  /// What a change of the files by another program has done to the steps.
  struct Taken {
    std::vector<std::string> lost;  ///< a sentence for each edit that cannot be made again
    std::vector<Step> dropped;      ///< steps that were on disk already; they can no longer be undone
  };
  /// The files have changed: makes the edits again in the new text.
  Taken take(SceneSource source, const LoadOptions& options);
  /// The edits were written, and perhaps tuned values with them. They can still be undone.
  void written(SceneSource source);

 private:
  std::vector<std::string> descriptions_of(std::size_t first, std::size_t last) const;

  SceneSource on_disk_, now_;
  std::vector<Step> steps_;
  std::size_t done_ = 0;
  std::size_t kept_ = 0;             ///< the number of steps that are on disk
  std::vector<std::string> undone_;  ///< descriptions of steps that were on disk, and can no longer be made again
  int count_ = 0;
};

}  // namespace hushed::detail
