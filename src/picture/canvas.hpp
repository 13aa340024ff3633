// SPDX-License-Identifier: MIT
#pragma once

// A drawing surface, in pixels from the upper left corner. No other file uses Cairo and Pango.

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

/// The dash pattern of a line: 0 for a solid line, higher numbers for longer gaps.
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
  /// Draws the outline of a polygon.
  void outline(const std::vector<Point>& corners, const Paint& paint, double width);
  void dot(Point at, double radius, const Paint& paint);

  /// Draws a text. The point is its left end, its middle or its right end, at half of its height.
  void text(Point at, std::string_view text, const Paint& paint, double size, Align align = Align::left,
            bool is_bold = false);
  /// The size of a text.
  Area area_of(Point at, std::string_view text, double size, Align align = Align::left, bool is_bold = false);

  /// Clips everything drawn until `unclip` to the box.
  void clip(const Area& box);
  void unclip();

  /// Finishes the picture and returns the bytes of the file. Nothing can be drawn afterwards.
  std::string finish();

 private:
  struct Parts;
  std::unique_ptr<Parts> parts_;
};

}  // namespace hushed::detail
