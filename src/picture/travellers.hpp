// SPDX-License-Identifier: MIT
#pragma once

// The objects in a picture, and its projection.

#include <algorithm>
#include <cmath>
#include <optional>
#include <string>

#include <hushed/picture.hpp>

#include "canvas.hpp"

namespace hushed::detail {

/// Projects the world onto the picture, without perspective.
class View {
 public:
  explicit View(ViewFrom from) {
    constexpr double around = 0.5235987755982988, above = 0.6108652381980153;  // 30 and 35 degrees
    switch (from) {
      case ViewFrom::above: up_ = {0, 0, -1}; break;
      case ViewFrom::side: up_ = {0, 1, 0}; break;
      case ViewFrom::angle:
        right_ = {std::cos(around), 0, -std::sin(around)};
        up_ = {-std::sin(around) * std::sin(above), std::cos(above), -std::cos(around) * std::sin(above)};
        break;
    }
  }
  /// The projection of a point, in metres to the right and down.
  Point flat(const Vec3& place) const { return {right_.dot(place), -up_.dot(place)}; }
  Point operator()(const Vec3& place) const {
    const Point point = flat(place);
    return {origin_.x + scale_ * point.x, origin_.y + scale_ * point.y};
  }
  /// Scales and centres `bounds` (in metres) in the box.
  void fit(const Area& bounds, const Area& to) {
    scale_ = std::min(to.width / std::max(bounds.width, 1e-9), to.height / std::max(bounds.height, 1e-9));
    origin_ = {to.x + 0.5 * to.width - scale_ * (bounds.x + 0.5 * bounds.width),
               to.y + 0.5 * to.height - scale_ * (bounds.y + 0.5 * bounds.height)};
  }
  /// The point of the plane of x and another axis that is drawn at a pixel.
  Vec3 ground(const Point& point, int second) const {
    const double right = (point.x - origin_.x) / scale_, down = (point.y - origin_.y) / scale_;
    const double a = right_.x(), b = right_[second], c = -up_.x(), d = -up_[second];
    Vec3 place = Vec3::Zero();
    place.x() = (right * d - b * down) / (a * d - b * c);
    place[second] = (a * down - right * c) / (a * d - b * c);
    return place;
  }
  double scale() const { return scale_; }  ///< pixels per metre

 private:
  Vec3 right_{1, 0, 0}, up_{0, 1, 0};
  Point origin_{0, 0};
  double scale_ = 1.0;
};

/// One object in one play.
struct Traveller {
  const Watched* play;
  std::size_t object;
  std::size_t colour;
  Dash dash;
  bool moves;

  const Pose& at(std::size_t frame) const { return play->recording.at(frame, object); }
  bool is_hidden(std::size_t frame) const { return play->recording.is_hidden(frame, object); }
  /// The last frame in which it is visible.
  std::size_t last() const {
    std::size_t frame = play->recording.frames() - 1;
    while (frame > 0 && is_hidden(frame)) --frame;
    return frame;
  }
  const std::string& name() const { return play->recording.objects[object]; }
  std::optional<Shape> shape() const {
    return object < play->recording.shapes.size() ? play->recording.shapes[object] : std::nullopt;
  }
};

}  // namespace hushed::detail
