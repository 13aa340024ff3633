// SPDX-License-Identifier: MIT
#include "canvas.hpp"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <cairo-svg.h>
#include <pango/pangocairo.h>

#include <hushed/error.hpp>

#include <hushed/detail/constants.hpp>

namespace hushed::detail {

namespace {

cairo_status_t append(void* to, const unsigned char* bytes, unsigned count) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), count);
  return CAIRO_STATUS_SUCCESS;
}

void check(cairo_status_t status) {
  if (status != CAIRO_STATUS_SUCCESS)
    throw Error{std::string{"the picture cannot be drawn: "} + cairo_status_to_string(status) + "."};
}

void set(cairo_t* cairo, const Paint& paint) {
  cairo_set_source_rgba(cairo, paint.red, paint.green, paint.blue, paint.alpha);
}

void trace(cairo_t* cairo, const std::vector<Point>& points) {
  cairo_new_path(cairo);
  for (const Point& point : points) cairo_line_to(cairo, point.x, point.y);
}

double distance_to_segment(const Point& point, const Point& from, const Point& to) {
  const double x = to.x - from.x, y = to.y - from.y, length = x * x + y * y;
  const double along = length == 0.0 ? 0.0 : ((point.x - from.x) * x + (point.y - from.y) * y) / length;
  const double share = std::clamp(along, 0.0, 1.0);
  return std::hypot(from.x + share * x - point.x, from.y + share * y - point.y);
}

/// The line without the points that are within a twentieth of a pixel of it anyway, which makes SVG files small.
std::vector<Point> simplified(const std::vector<Point>& points) {
  constexpr double tolerance = 0.05;
  constexpr std::size_t longest = 64;  // points that one segment replaces, so that the time grows linearly
  if (points.size() < 3) return points;
  std::vector<Point> kept{points.front()};
  for (std::size_t from = 0, to = 1; to < points.size(); ++to) {
    const bool is_last = to + 1 == points.size();
    const auto first = points.begin() + static_cast<std::ptrdiff_t>(from + 1);
    const auto last = points.begin() + static_cast<std::ptrdiff_t>(to + 1);
    const bool goes_on = !is_last && to - from < longest && std::all_of(first, last, [&](const Point& point) {
      return distance_to_segment(point, points[from], points[to + 1]) <= tolerance;
    });
    if (goes_on) continue;
    kept.push_back(points[to]);
    from = to;
  }
  return kept;
}

struct FreeLayout {
  void operator()(PangoLayout* layout) const { g_object_unref(layout); }
};
struct FreeFont {
  void operator()(PangoFontDescription* font) const { pango_font_description_free(font); }
};

/// The text of an SVG file with at most two decimal places in each number: a hundredth of a pixel.
std::string with_short_numbers(const std::string& svg) {
  std::string text;
  text.reserve(svg.size());
  int decimals = -1;  // in the present number; -1 before its point
  for (const char c : svg) {
    const bool is_digit = c >= '0' && c <= '9';
    if (!is_digit) decimals = c == '.' ? 0 : -1;
    if (is_digit && decimals >= 0 && ++decimals > 2) continue;
    text += c;
  }
  return text;
}

}  // namespace

struct Canvas::Parts {
  Form form;
  Area whole;
  std::string bytes;
  std::unique_ptr<cairo_surface_t, void (*)(cairo_surface_t*)> surface{nullptr, cairo_surface_destroy};
  std::unique_ptr<cairo_t, void (*)(cairo_t*)> cairo{nullptr, cairo_destroy};

  std::unique_ptr<PangoLayout, FreeLayout> layout(std::string_view text, double size, bool is_bold) const {
    std::unique_ptr<PangoLayout, FreeLayout> layout{pango_cairo_create_layout(cairo.get())};
    const std::unique_ptr<PangoFontDescription, FreeFont> font{
        pango_font_description_from_string(is_bold ? "DejaVu Sans, Noto Sans, Liberation Sans, sans-serif Bold"
                                                   : "DejaVu Sans, Noto Sans, Liberation Sans, sans-serif")};
    pango_font_description_set_absolute_size(font.get(), size * PANGO_SCALE);
    pango_layout_set_font_description(layout.get(), font.get());
    pango_layout_set_text(layout.get(), text.data(), static_cast<int>(text.size()));
    return layout;
  }
};

Paint Paint::of(std::string_view colour, double alpha) {
  const auto part = [&](std::size_t at) {
    int value = 0;
    std::from_chars(colour.data() + at, colour.data() + at + 2, value, 16);
    return value / 255.0;
  };
  return {part(1), part(3), part(5), alpha};
}

Canvas::Canvas(Form form, int width, int height) : parts_{std::make_unique<Parts>()} {
  parts_->form = form;
  parts_->whole = {0, 0, static_cast<double>(width), static_cast<double>(height)};
  parts_->surface.reset(form == Form::png ? cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height)
                                          : cairo_svg_surface_create_for_stream(append, &parts_->bytes, width, height));
  check(cairo_surface_status(parts_->surface.get()));
  parts_->cairo.reset(cairo_create(parts_->surface.get()));
  check(cairo_status(parts_->cairo.get()));
  cairo_set_line_join(parts_->cairo.get(), CAIRO_LINE_JOIN_ROUND);
  cairo_set_line_cap(parts_->cairo.get(), CAIRO_LINE_CAP_ROUND);
}

Canvas::~Canvas() = default;

Area Canvas::whole() const { return parts_->whole; }

void Canvas::line(const std::vector<Point>& points, const Paint& paint, double width, Dash dash) {
  static const std::array<std::vector<double>, 5> patterns{{{}, {6, 4}, {1.5, 3.5}, {9, 3, 1.5, 3}, {3, 5}}};
  cairo_t* const cairo = parts_->cairo.get();
  const auto& pattern = patterns[dash % patterns.size()];
  cairo_set_dash(cairo, pattern.data(), static_cast<int>(pattern.size()), 0);
  cairo_set_line_width(cairo, width);
  set(cairo, paint);
  trace(cairo, simplified(points));
  cairo_stroke(cairo);
}

void Canvas::fill(const std::vector<Point>& corners, const Paint& paint) {
  set(parts_->cairo.get(), paint);
  trace(parts_->cairo.get(), corners);
  cairo_fill(parts_->cairo.get());
}

void Canvas::fill(const Area& box, const Paint& paint) {
  fill({{box.x, box.y}, {box.right(), box.y}, {box.right(), box.bottom()}, {box.x, box.bottom()}}, paint);
}

void Canvas::outline(const std::vector<Point>& corners, const Paint& paint, double width) {
  if (corners.empty()) return;
  std::vector<Point> closed = corners;
  closed.push_back(corners.front());
  line(closed, paint, width);
}

void Canvas::dot(Point at, double radius, const Paint& paint) {
  set(parts_->cairo.get(), paint);
  cairo_new_path(parts_->cairo.get());
  cairo_arc(parts_->cairo.get(), at.x, at.y, radius, 0, two_pi);
  cairo_fill(parts_->cairo.get());
}

void Canvas::text(Point at, std::string_view text, const Paint& paint, double size, Align align, bool is_bold) {
  const Area area = area_of(at, text, size, align, is_bold);
  const auto layout = parts_->layout(text, size, is_bold);
  set(parts_->cairo.get(), paint);
  cairo_move_to(parts_->cairo.get(), area.x, area.y);
  pango_cairo_show_layout(parts_->cairo.get(), layout.get());
}

Area Canvas::area_of(Point at, std::string_view text, double size, Align align, bool is_bold) {
  const auto layout = parts_->layout(text, size, is_bold);
  int width = 0, height = 0;
  pango_layout_get_pixel_size(layout.get(), &width, &height);
  const double left = align == Align::left ? 0.0 : align == Align::right ? width : 0.5 * width;
  return {at.x - left, at.y - 0.5 * height, static_cast<double>(width), static_cast<double>(height)};
}

void Canvas::clip(const Area& box) {
  cairo_save(parts_->cairo.get());
  cairo_rectangle(parts_->cairo.get(), box.x, box.y, box.width, box.height);
  cairo_clip(parts_->cairo.get());
}

void Canvas::unclip() { cairo_restore(parts_->cairo.get()); }

std::string Canvas::finish() {
  if (parts_->form == Form::png)
    check(cairo_surface_write_to_png_stream(parts_->surface.get(), append, &parts_->bytes));
  check(cairo_status(parts_->cairo.get()));
  parts_->cairo.reset();
  cairo_surface_finish(parts_->surface.get());
  check(cairo_surface_status(parts_->surface.get()));
  return parts_->form == Form::svg ? with_short_numbers(parts_->bytes) : std::move(parts_->bytes);
}

}  // namespace hushed::detail
