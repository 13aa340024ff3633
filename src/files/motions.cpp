// SPDX-License-Identifier: MIT
#include "motions.hpp"

#include <hushed/behaviour/replay.hpp>
#include <hushed/load.hpp>
#include <hushed/motion.hpp>
#include <hushed/recording_file.hpp>

#include "file_memory.hpp"
#include "gltf/artist_file.hpp"
#include "read_whole.hpp"
#include "recording_format.hpp"

namespace hushed {

namespace {

/// A recording as one clip without a name. Its poses are those of the world.
std::shared_ptr<const MotionFile> clip_of(const Recording& recording) {
  auto made = std::make_shared<MotionFile>();
  made->clips.push_back({"", 0.0});
  for (std::size_t object = 0; object < recording.objects.size(); ++object) {
    Motion::Channel position, rotation, scale;
    for (std::size_t frame = 0; frame < recording.frames(); ++frame) {
      const Pose& pose = recording.at(frame, object);
      for (Motion::Channel* const channel : {&position, &rotation, &scale})
        channel->times.push_back(in_seconds(recording.times[frame] - recording.times.front()));
      position.values.insert(position.values.end(), pose.position.begin(), pose.position.end());
      rotation.values.insert(rotation.values.end(), pose.rotation.coeffs().begin(), pose.rotation.coeffs().end());
      scale.values.insert(scale.values.end(), pose.scale.begin(), pose.scale.end());
    }
    made->add(recording.objects[object],
              std::make_shared<Motion>(std::move(position), std::move(rotation), std::move(scale)));
  }
  return made;
}

}  // namespace

detail::ReadMotions detail::read_motions_and_beside(const std::filesystem::path& file, const Kinds& kinds) {
  if (!is_recording(file))
    throw LoadError{file.string(), {{{}, "unknown format; give a file that ends in .glb, .gltf, .csv or .jsonl."}}};
  const std::string text =
      detail::read_whole(file, {"a glTF file or a recording, such as walk.csv", std::uintmax_t{1} << 30}, kinds);
  const std::string extension = file.extension().string();
  try {
    if (extension == ".csv" || extension == ".jsonl")
      return {clip_of(detail::read_rows(text, extension == ".csv")), {}};
    // A recording of ours has exact times; its keys in the file have seven digits.
    if (text.find("\"generator\":\"Hushed Orbit\"") != text.npos) {
      ReadMotions read{clip_of(detail::read_gltf(file, text)), {}};
      if (extension == ".gltf") read.beside.push_back(std::filesystem::path{file}.replace_extension(".bin").string());
      return read;
    }
    detail::ArtistFile artist = detail::read_artist_file(file, kinds);
    return {std::move(artist.motions), std::move(artist.beside)};
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.string(), {diagnostic}};
  } catch (const BadValue& error) {
    throw LoadError{file.string(), {{{}, error.what()}}};
  }
}

std::shared_ptr<const MotionFile> read_motions(const std::filesystem::path& file, const Kinds& kinds) {
  return detail::read_motions_and_beside(file, kinds).content;
}

std::shared_ptr<const MotionFile> read_motions(const std::filesystem::path& file) {
  return read_motions(file, Kinds{});
}

namespace detail {

void MotionReader::read(BehaviourDraft& behaviour) {
  if (behaviour.kind != &kind_of<Replay>()) return;
  MotionSource& source = static_cast<Replay*>(behaviour.values.get())->file;
  if (source.content) return;
  if (source.file.empty()) {
    source.content = base_;
    behaviour.is_sound = behaviour.is_sound && base_;
    if (!base_)
      diagnostics_.push_back(
          {behaviour.source->place, behaviour.whose + ": \"file\" is missing; give a glTF file or a recording."});
    return;
  }
  const std::filesystem::path from{files_[static_cast<std::size_t>(source.place.file)]};
  const std::string path = (from.parent_path() / source.file).lexically_normal().string();
  const auto known = known_.find(path);
  if (known == known_.end()) {
    known_[path] = nullptr;
    try {
      const ReadMotions read = FileMemory::of(kinds_)->motions(path, kinds_);
      known_[path] = read.content;
      files_.push_back(path);
      files_.insert(files_.end(), read.beside.begin(), read.beside.end());
    } catch (const LoadError& error) {
      diagnostics_.push_back({source.place, behaviour.whose + ": file: " + in_quotes(source.file) + ": " +
                                                error.diagnostics().front().sentence()});
    }
  }
  source.content = known_[path];
  if (!source.content) behaviour.is_sound = false;
}

}  // namespace detail

}  // namespace hushed
