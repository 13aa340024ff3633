// SPDX-License-Identifier: MIT
#pragma once

// A surface to draw on, in pixels from the upper left: Cairo and Pango, and nothing of theirs outside.

#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace hushed::detail {

struct Point {
  double x, y;
};

struct Area {
  double x, y, width, height;

  double right() const { return x + width; }
  double bottom() const { return y + height; }
  bool overlaps(const Area& other) const {
    return x < other.right() && other.x < right() && y < other.bottom() && other.y < bottom();
  }
  bool holds(const Point& point) const {
    return point.x >= x && point.x <= right() && point.y >= y && point.y <= bottom();
  }
};

struct Paint {
  double red, green, blue, alpha = 1.0;

  static Paint of(std::string_view colour, double alpha = 1.0);  ///< "#rrggbb"
};

/// How a line is interrupted: 0 not at all, then ever more.
using Dash = std::size_t;

enum class Align { left, centre, right };

class Canvas {
 public:
  enum class Form { png, svg };
  Canvas(Form form, int width, int height);
  ~Canvas();

  Area whole() const;
  void line(const std::vector<Point>& points, const Paint& paint, double width, Dash dash = 0);
  void fill(const std::vector<Point>& corners, const Paint& paint);
  void fill(const Area& box, const Paint& paint);
  /// Around a polygon.
  void outline(const std::vector<Point>& corners, const Paint& paint, double width);
  void dot(Point at, double radius, const Paint& paint);

  /// The point is at the left end, the middle or the right end of the text, half way up.
  void text(Point at, std::string_view text, const Paint& paint, double size, Align align = Align::left,
            bool is_bold = false);
  /// The room that it takes.
  Area area_of(Point at, std::string_view text, double size, Align align = Align::left, bool is_bold = false);

  /// What is drawn from now on stays within the box, until `unclip`.
  void clip(const Area& box);
  void unclip();

  /// The file's bytes. Nothing can be drawn any more.
  std::string finish();

 private:
  struct Parts;
  std::unique_ptr<Parts> parts_;
};

}  // namespace hushed::detail
