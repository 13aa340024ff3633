// SPDX-License-Identifier: MIT
// Scripts as kinds of behaviours.

#include <algorithm>
#include <filesystem>

#include <hushed/error.hpp>
#include <hushed/kinds.hpp>
#include <hushed/name.hpp>
#include <hushed/script.hpp>

#include "checker.hpp"
#include "interpreter.hpp"

namespace hushed {

namespace script {

namespace {

RuntimeKind::Description description_of(const std::string& name, const Declared& declared) {
  RuntimeKind::Description description{
      .name = name, .summary = declared.about.empty() ? "a script" : declared.about, .fields = declared.fields};
  for (const Remembered& each : declared.memory) {
    description.memory_first.insert(description.memory_first.end(), each.first, each.first + (each.is_vector ? 3 : 1));
    if (!each.is_vector) {
      description.memory_names.push_back(each.name);
      continue;
    }
    for (const char* const part : {".x", ".y", ".z"}) description.memory_names.push_back(each.name + part);
  }
  description.memory = description.memory_names.size();
  return description;
}

/// Its interpreter belongs to the scene that uses it, as it is loaded anew for each.
class ScriptKind final : public RuntimeKind {
 public:
  ScriptKind(const std::string& name, const Outline& outline, std::unique_ptr<Interpreter> interpreter,
             std::string made_from)
      : RuntimeKind{description_of(name, interpreter->declared())},
        made_from_{std::move(made_from)},
        interpreter_{std::move(interpreter)} {
    for (const RuntimeField& field : description().fields)
      if (!outline.reads_any_field && outline.fields_read.count(field.name) == 0) unread_.push_back(field.name);
  }

  void begin(const RuntimeValues& values, std::span<double> memory, const Pose& in, const Moment& now) const override {
    Pose pose = in;
    if (interpreter_->has_begin()) interpreter_->call(true, values, memory, pose, now);
  }
  void apply(const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now) const override {
    interpreter_->call(false, values, memory, pose, now);
  }

  Usage usage() const override { return {unread_, interpreter_->share_of_steps()}; }
  std::string_view made_from() const override { return made_from_; }

 private:
  std::vector<std::string> unread_;
  std::string made_from_;                     ///< its text and limits
  std::unique_ptr<Interpreter> interpreter_;  ///< only used by the thread of the scene
};

std::shared_ptr<const detail::Kind> load(const std::string& file, std::string_view text, const ScriptLimits& limits,
                                         std::vector<Diagnostic>& mistakes) {
  const std::string name = std::filesystem::path{file}.stem().string();
  if (const auto wrong = wrong_with_name(name, "a script")) {
    mistakes.push_back({{1, 1}, *wrong + " It is the name of the file."});
    return nullptr;
  }
  Outline outline = outline_of(text);
  if (!outline.mistakes.empty()) {
    mistakes.insert(mistakes.end(), outline.mistakes.begin(), outline.mistakes.end());
    return nullptr;
  }
  try {
    return std::make_shared<const ScriptKind>(
        name, outline, std::make_unique<Interpreter>(text, file, outline, limits),
        as_text(limits.steps) + ' ' + as_text(limits.memory) + '\n' + std::string{text});
  } catch (const Diagnostic& mistake) {
    mistakes.push_back(mistake);
  } catch (const BadValue& mistake) {  // of a field
    mistakes.push_back({outline.fields.empty() ? TextPlace{1, 1} : outline.fields.front(), mistake.what()});
  }
  return nullptr;
}

}  // namespace
}  // namespace script

void add_scripts(Kinds& kinds) { kinds.set_loader(script::load); }

}  // namespace hushed
