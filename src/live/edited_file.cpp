// SPDX-License-Identifier: MIT
#include "edited_file.hpp"

#include <algorithm>
#include <iterator>
#include <utility>

namespace hushed::detail {

namespace {

constexpr std::size_t most_edits = 1000;

SceneSource with_edits(SceneSource source, const std::vector<SceneEdit>& edits, const LoadOptions& options) {
  for (const SceneEdit& edit : edits) source = edited(source, edit, options);
  return source;
}

const std::string& text_of(const SceneSource& source) { return source.files().front().text; }

}  // namespace

std::vector<PlayMode::PathChange> EditedFile::Step::path_changes() const {
  std::vector<PlayMode::PathChange> all;
  for (const SceneEdit& edit : edits) {
    if (const auto* renamed = std::get_if<RenameObject>(&edit)) all.push_back({renamed->object, renamed->name});
    if (const auto* object = std::get_if<RemoveObject>(&edit)) all.push_back({object->object, ""});
    if (const auto* behaviour = std::get_if<RemoveBehaviour>(&edit)) all.push_back({behaviour->path, ""});
  }
  return all;
}

std::vector<std::string> EditedFile::descriptions_of(std::size_t first, std::size_t last) const {
  std::vector<std::string> all;
  for (std::size_t i = first; i < last; ++i)  // nothing where `last` is before `first`
    if (steps_[i].before != steps_[i].after) {
      for (const SceneEdit& edit : steps_[i].edits) all.push_back(describe(edit));
      if (steps_[i].edits.empty()) all.push_back("the objects and behaviours of a try");
    }
  return all;
}

std::vector<std::string> EditedFile::descriptions() const {
  std::vector<std::string> all = undone_;
  for (const std::string& each : descriptions_of(done_, kept_)) all.push_back("undone: " + each);
  for (std::string& each : descriptions_of(kept_, done_)) all.push_back(std::move(each));
  return all;
}

EditedFile::Step EditedFile::planned(std::vector<SceneEdit> edits, std::uint64_t gesture, const std::string& last_mark,
                                     const LoadOptions& options) const {
  const bool goes_on = gesture != 0 && done_ > kept_ && steps_[done_ - 1].gesture == gesture &&
                       steps_[done_ - 1].name() == last_mark && steps_[done_ - 1].edits.size() == edits.size();
  if (!goes_on && done_ >= most_edits) throw BadValue{"there are too many edits; keep them first."};
  Step step{std::move(edits), gesture, goes_on ? steps_[done_ - 1].before : text_of(now_), ""};
  step.number = goes_on ? steps_[done_ - 1].number : count_ + 1;
  step.after = text_of(with_edits(on_disk_.with_text(step.before), step.edits, options));
  return step;
}

EditedFile::Step EditedFile::replaced(std::string text) const {
  Step step{{}, 0, text_of(now_), std::move(text)};
  step.number = count_ + 1;
  return step;
}

bool EditedFile::make(Step step) {
  now_ = on_disk_.with_text(step.after);
  const bool goes_on = done_ > 0 && steps_[done_ - 1].number == step.number;
  for (const std::string& each : descriptions_of(done_, kept_)) undone_.push_back("undone: " + each);
  kept_ = std::min(kept_, done_);
  steps_.resize(goes_on ? done_ - 1 : done_);
  steps_.push_back(std::move(step));
  done_ = steps_.size();
  if (!goes_on) ++count_;
  return !goes_on;
}

const EditedFile::Step* EditedFile::to_undo(const std::string& mark) const {
  return done_ > 0 && steps_[done_ - 1].name() == mark ? &steps_[done_ - 1] : nullptr;
}

const EditedFile::Step* EditedFile::to_redo(const std::string& mark) const {
  return done_ < steps_.size() && steps_[done_].name() == mark ? &steps_[done_] : nullptr;
}

void EditedFile::undo() { now_ = on_disk_.with_text(steps_[--done_].before); }
void EditedFile::redo() { now_ = on_disk_.with_text(steps_[done_++].after); }

EditedFile::Taken EditedFile::take(SceneSource source, const LoadOptions& options) {
  Taken taken;
  const std::size_t on_disk = std::min(kept_, done_);
  for (const std::string& each : descriptions_of(done_, kept_))
    taken.lost.push_back("The file has changed, and what was undone is in it again: " + each + '.');
  const auto first_left = steps_.begin() + static_cast<std::ptrdiff_t>(kept_);
  taken.dropped.assign(std::make_move_iterator(steps_.begin()), std::make_move_iterator(first_left));
  steps_.erase(steps_.begin(), first_left);
  done_ -= on_disk;
  kept_ = 0;
  undone_.clear();
  on_disk_ = std::move(source);
  now_ = on_disk_;
  for (std::size_t i = 0; i < steps_.size(); ++i) {
    Step& step = steps_[i];
    if (step.edits.empty() && i < done_)
      taken.lost.push_back("The objects and behaviours of a try cannot be put into the changed file.");
    step.before = step.after = text_of(now_);
    try {
      step.after = text_of(with_edits(now_, step.edits, options));
    } catch (const Error& error) {
      if (i < done_) taken.lost.push_back("An edit cannot be made in the changed file: " + std::string{error.what()});
    }
    if (i < done_) now_ = on_disk_.with_text(step.after);
  }
  return taken;
}

void EditedFile::written(SceneSource source) {
  on_disk_ = std::move(source);
  now_ = on_disk_;
  kept_ = done_;
  undone_.clear();
}

}  // namespace hushed::detail
