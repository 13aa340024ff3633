// SPDX-License-Identifier: MIT
#include <hushed/recording_file.hpp>

#include <algorithm>

#include <hushed/detail/scene_access.hpp>
#include <hushed/load.hpp>

#include "read_whole.hpp"
#include "recording_format.hpp"

namespace hushed {

namespace {

RecordingPlan plan_of(const std::filesystem::path& file, const Scene& scene, std::optional<double> frames_per_second,
                      const std::string& title, const std::vector<Object>& objects) {
  RecordingPlan plan{file, frames_per_second, title, {}};
  for (const Object object : objects) {
    RecordingPlan::Item item{scene.name(object), {}, scene.shape(object)};
    if (const auto parent = scene.parent(object))
      item.parent = static_cast<std::size_t>(std::find(objects.begin(), objects.end(), *parent) - objects.begin());
    plan.items.push_back(std::move(item));
  }
  return plan;
}

std::unique_ptr<RecordingWriter::Format> format_of(const RecordingPlan& plan) {
  const std::string extension = plan.file.extension().string();
  if (extension == ".csv" || extension == ".jsonl") return detail::rows_format(plan, extension.substr(1));
  if (extension == ".glb" || extension == ".gltf") return detail::gltf_format(plan, extension == ".glb");
  throw BadValue{plan.file.string() + ": unknown format; give a file that ends in .csv, .jsonl, .glb or .gltf."};
}

}  // namespace

RecordingWriter::RecordingWriter(const std::filesystem::path& file, const Scene& scene,
                                 std::optional<double> frames_per_second, const std::string& title) {
  const std::vector<Object> objects = objects_in_order(scene);
  format_ = format_of(plan_of(file, scene, frames_per_second, title, objects));
  format_->objects = objects;
  format_->poses.resize(objects.size());
}

RecordingWriter::RecordingWriter(const std::filesystem::path& file, const Recording& like,
                                 std::optional<double> frames_per_second, const std::string& title) {
  RecordingPlan plan{file, frames_per_second, title, {}};
  for (std::size_t i = 0; i < like.objects.size(); ++i)
    plan.items.push_back({like.objects[i], {}, i < like.shapes.size() ? like.shapes[i] : std::nullopt});
  format_ = format_of(plan);
}

RecordingWriter::~RecordingWriter() = default;
RecordingWriter::RecordingWriter(RecordingWriter&&) noexcept = default;

void RecordingWriter::add(const Scene& scene) {
  for (std::size_t i = 0; i < format_->objects.size(); ++i)
    if (scene.alive(format_->objects[i])) format_->poses[i] = detail::SceneAccess::world(scene, format_->objects[i]);
  format_->add(scene.time(), format_->poses);
}

void RecordingWriter::add(Time time, std::span<const Pose> poses) { format_->add(time, poses); }

void RecordingWriter::finish() { format_->finish(); }

bool is_recording(const std::filesystem::path& file) {
  const std::string extension = file.extension().string();
  return extension == ".csv" || extension == ".jsonl" || extension == ".glb" || extension == ".gltf";
}

Recording read_recording(const std::filesystem::path& file) {
  const std::string extension = file.extension().string();
  if (!is_recording(file))
    throw LoadError{file.string(), {{{}, "unknown format; give a file that ends in .csv, .jsonl, .glb or .gltf."}}};
  const std::string text = detail::read_whole(file, {"a recording, such as harbour.csv", std::uintmax_t{2} << 30});
  try {
    return extension == ".csv" || extension == ".jsonl" ? detail::read_rows(text, extension == ".csv")
                                                        : detail::read_gltf(file, text);
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.string(), {diagnostic}};
  }
}

}  // namespace hushed
