// SPDX-License-Identifier: MIT
#include "wire.hpp"

#include <algorithm>
#include <bit>
#include <cstring>
#include <type_traits>

#include <hushed/model.hpp>

namespace hushed::detail {

namespace {

static_assert(std::endian::native == std::endian::little, "the page reads little-endian numbers");

enum class Content : std::uint32_t { frame = 1, past = 2, ahead = 3, model = 5 };  // 4: a file

/// The next multiple of four.
std::size_t padded(std::size_t size) { return (size + 3) / 4 * 4; }

class Bytes {
 public:
  explicit Bytes(std::size_t size) { bytes_.reserve(size); }

  template <class T>
  void add(T number) requires std::is_arithmetic_v<T> || std::is_enum_v<T> {
    char raw[sizeof number];
    std::memcpy(raw, &number, sizeof number);
    bytes_.append(raw, sizeof number);
  }
  void add(std::span<const double> numbers) {
    for (const double number : numbers) add(number);
  }
  /// Writes the position and the rotation (x, y, z, w).
  void add_place(const Pose& pose) {
    for (int i = 0; i < 3; ++i) add(static_cast<float>(pose.position[i]));
    for (int i = 0; i < 4; ++i) add(static_cast<float>(pose.rotation.coeffs()[i]));
  }
  void add_padded(const std::string& text) {
    bytes_ += text;
    bytes_.resize(bytes_.size() + padded(text.size()) - text.size());
  }
  std::string take() { return std::move(bytes_); }

 private:
  std::string bytes_;
};

struct Head {
  Content content;
  Stretch stretch;
  std::size_t frames, columns;
  std::uint64_t edition;
};

void add_head(Bytes& bytes, const Head& head) {
  bytes.add(head.content);
  bytes.add(head.stretch.ask);
  bytes.add(static_cast<std::uint32_t>(head.stretch.objects.size()));
  bytes.add(static_cast<std::uint32_t>(head.frames));
  bytes.add(static_cast<std::uint32_t>(head.columns));
  bytes.add(static_cast<std::uint32_t>(head.edition));
  bytes.add(static_cast<double>(head.stretch.first));
  bytes.add(static_cast<double>(head.stretch.stride));
}

}  // namespace

std::string frame_bytes(const PlayMode& mode) {
  const std::int64_t current = mode.current(), before = std::max(current - 1, mode.first());
  const auto poses = mode.poses(current);
  const auto now = mode.values(current);
  Bytes bytes{48 + now.size() * 16 + poses.size() * 41};
  bytes.add(static_cast<std::uint32_t>(Content::frame));
  bytes.add(static_cast<std::uint32_t>(mode.edition()));
  bytes.add(static_cast<std::uint32_t>(poses.size()));
  bytes.add(static_cast<std::uint32_t>(now.size()));
  bytes.add(static_cast<double>(current));
  bytes.add(static_cast<double>(mode.first()));
  bytes.add(static_cast<double>(mode.last()));
  bytes.add(in_seconds(mode.time(current)));
  bytes.add(now);
  bytes.add(mode.values(before));
  for (const Pose& pose : poses) {
    bytes.add_place(pose);
    for (int i = 0; i < 3; ++i) bytes.add(static_cast<float>(pose.scale[i]));
  }
  for (std::size_t i = 0; i < poses.size(); ++i) bytes.add(static_cast<std::uint8_t>(mode.is_hidden(current, i)));
  return bytes.take();
}

std::string past_bytes(const PlayMode& mode, const Stretch& stretch) {
  std::vector<std::int64_t> frames;
  for (std::int64_t frame = stretch.first; frame <= stretch.last; frame += stretch.stride) frames.push_back(frame);
  const std::size_t columns = mode.values(mode.current()).size();
  Bytes bytes{40 + frames.size() * (8 + columns * 8 + stretch.objects.size() * 28)};
  add_head(bytes, {Content::past, stretch, frames.size(), columns, mode.edition()});
  for (const std::int64_t frame : frames) bytes.add(in_seconds(mode.time(frame)));
  for (const std::int64_t frame : frames) bytes.add(mode.values(frame));
  for (const std::int64_t frame : frames)
    for (const std::size_t object : stretch.objects) bytes.add_place(mode.poses(frame)[object]);
  return bytes.take();
}

std::string ahead_bytes(const Recording& ahead, const Stretch& stretch) {
  Bytes bytes{40 + ahead.frames() * (8 + stretch.objects.size() * 28)};
  add_head(bytes, {Content::ahead, stretch, ahead.frames(), 0, 0});
  for (const Time time : ahead.times) bytes.add(in_seconds(time));
  for (std::size_t frame = 0; frame < ahead.frames(); ++frame)
    for (const std::size_t object : stretch.objects) bytes.add_place(ahead.at(frame, object));
  return bytes.take();
}

std::string model_bytes(const Model& model, const std::string& name, std::size_t most) {
  std::vector<const Texture*> textures;
  std::size_t size = 28, size_of_textures = 0;
  for (const Model::Part& part : model.parts) {
    size += 16 + 4 * (part.positions.size() + part.indices.size());
    if (!part.texture) continue;
    size_of_textures += 4 * part.texture_coordinates.size();
    if (std::find(textures.begin(), textures.end(), part.texture.get()) != textures.end()) continue;
    textures.push_back(part.texture.get());
    size_of_textures += 8 + padded(part.texture->bytes.size());
  }
  const bool has_room = size + size_of_textures <= most;
  if (!has_room) textures.clear();
  Bytes bytes{size + (has_room ? size_of_textures : 0)};
  bytes.add(Content::model);
  for (std::size_t i = 0; i < 16; ++i) bytes.add(name[i]);
  bytes.add(static_cast<std::uint32_t>(model.parts.size()));
  bytes.add(static_cast<std::uint32_t>(textures.size()));
  for (const Model::Part& part : model.parts) {
    const auto found = std::find(textures.begin(), textures.end(), part.texture.get());
    const bool is_textured = found != textures.end();
    bytes.add(static_cast<std::uint32_t>(part.colour.red << 16 | part.colour.green << 8 | part.colour.blue));
    bytes.add(static_cast<std::uint32_t>(is_textured ? found - textures.begin() + 1 : 0));
    bytes.add(static_cast<std::uint32_t>(part.positions.size()));
    bytes.add(static_cast<std::uint32_t>(part.indices.size()));
    for (const float number : part.positions) bytes.add(number);
    for (const std::uint32_t index : part.indices) bytes.add(index);
    for (const float number : part.texture_coordinates)
      if (is_textured) bytes.add(number);
  }
  for (const Texture* const texture : textures) {
    bytes.add(texture->format);
    bytes.add(texture->across);
    bytes.add(texture->down);
    bytes.add(static_cast<std::uint8_t>(texture->is_smooth));
    bytes.add(static_cast<std::uint32_t>(texture->bytes.size()));
    bytes.add_padded(texture->bytes);
  }
  return bytes.take();
}

}  // namespace hushed::detail
