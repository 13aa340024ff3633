// SPDX-License-Identifier: MIT
#include <hushed/picture.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <fstream>
#include <sstream>

#include <gtest/gtest.h>

#include <hushed/behaviour/travel.hpp>
#include <hushed/error.hpp>

#include "crowds.hpp"
#include "outline.hpp"
#include "style.hpp"
#include "support/demo.hpp"

namespace hushed::tests {
namespace {

std::string path_of(const std::string& name) { return testing::TempDir() + name; }

std::string bytes_of(const std::string& file) {
  std::ostringstream text;
  text << std::ifstream{file, std::ios::binary}.rdbuf();
  return text.str();
}

/// The number of lines, areas and letters in an SVG file.
std::size_t shapes_in(const std::string& file) {
  const std::string svg = bytes_of(file);
  std::size_t count = 0;
  for (const std::string_view element : {"<path", "<use", "<rect"})
    for (std::size_t at = svg.find(element); at != std::string::npos; at = svg.find(element, at + 1)) ++count;
  return count;
}

Watched harbour_played(std::int64_t last = 120) {
  Scene harbour = demo();
  const std::array watches{Watch{"ferry.position", harbour}, Watch{"lamp.rotation.yaw", harbour}};
  return watch(harbour, watches, FrameTimes{60.0}, 0, last);
}

/// Linear red, green and blue.
std::array<double, 3> light_of(std::string_view colour) {
  std::array<double, 3> light{};
  for (std::size_t i = 0; i < 3; ++i) {
    const double part = std::stoi(std::string{colour.substr(1 + 2 * i, 2)}, nullptr, 16) / 255.0;
    light[i] = part <= 0.04045 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4);
  }
  return light;
}

double luminance(const std::array<double, 3>& light) {
  return 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2];
}

/// CIE L*a*b*, in which distances correspond to perceived differences.
Vec3 lab_of(const std::array<double, 3>& light) {
  const auto root = [](double t) { return t > 0.008856 ? std::cbrt(t) : 7.787 * t + 16.0 / 116.0; };
  const double x = root((0.4124 * light[0] + 0.3576 * light[1] + 0.1805 * light[2]) / 0.9505);
  const double y = root(luminance(light));
  const double z = root((0.0193 * light[0] + 0.1192 * light[1] + 0.9505 * light[2]) / 1.089);
  return {116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)};
}

// Sight without red or without green receptors: Machado, Oliveira and Fernandes 2009, severity 1.
using Sight = std::array<std::array<double, 3>, 3>;
constexpr Sight full{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
constexpr Sight without_red{
    {{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}}};
constexpr Sight without_green{
    {{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}};

std::array<double, 3> viewed_by(const Sight& sight, const std::array<double, 3>& light) {
  std::array<double, 3> recording{};
  for (std::size_t i = 0; i < 3; ++i)
    recording[i] = std::clamp(sight[i][0] * light[0] + sight[i][1] * light[1] + sight[i][2] * light[2], 0.0, 1.0);
  return recording;
}

TEST(Picture, HasColoursWithContrastThatColourBlindSightDistinguishes) {
  const auto colours = line_colours();
  for (std::size_t i = 0; i < colours.size(); ++i) {
    // A line needs a contrast of 3 to 1 (WCAG 2.1, 1.4.11).
    EXPECT_GT(1.05 / (luminance(light_of(colours[i])) + 0.05), 3.5) << colours[i];
    for (std::size_t k = 0; k < i; ++k)
      for (const Sight& sight : {full, without_red, without_green})
        EXPECT_GT(
            (lab_of(viewed_by(sight, light_of(colours[i]))) - lab_of(viewed_by(sight, light_of(colours[k])))).norm(),
            30.0)
            << colours[i] << colours[k];
  }
}

TEST(Picture, HasItsGivenSizeAndIsReproducible) {
  const std::array plays{harbour_played()};
  for (const Showing showing : {Showing::both, Showing::curves, Showing::paths}) {
    draw(plays, path_of("a.png"), {.width = 640, .height = 400, .showing = showing});
    draw(plays, path_of("b.png"), {.width = 640, .height = 400, .showing = showing});
    const std::string png = bytes_of(path_of("a.png"));
    EXPECT_EQ(png.substr(1, 3), "PNG");
    EXPECT_EQ(png.substr(16, 8), std::string("\0\0\2\x80\0\0\1\x90", 8));  // 640 by 400
    EXPECT_EQ(png, bytes_of(path_of("b.png")));
  }
  draw(plays, path_of("a.svg"));
  EXPECT_NE(bytes_of(path_of("a.svg")).find("width=\"1280\" height=\"800\""), std::string::npos);
}

TEST(Picture, DrawsEmptyPlays) {
  Scene empty, still;
  still.add({.name = "mole"});
  const std::array watches{Watch{"mole.speed", still}};
  draw(std::array{watch(empty, {}, FrameTimes{60.0}, 0, 0)}, path_of("empty.svg"));
  draw(std::array{watch(still, watches, FrameTimes{60.0}, 0, 0)}, path_of("one.svg"));
  still.seek(Time{0});
  draw(std::array{watch(still, watches, FrameTimes{60.0}, 0, 10)}, path_of("still.svg"), {.from = ViewFrom::angle});
  EXPECT_GT(shapes_in(path_of("one.svg")), shapes_in(path_of("empty.svg")));  // the object and its curve
  EXPECT_GT(shapes_in(path_of("still.svg")), shapes_in(path_of("empty.svg")));
}

TEST(Picture, DrawsTheDensityOfACrowd) {
  Scene harbour;
  const auto add = [&](const std::string& name, double x) {
    harbour.give(harbour.add({.name = name, .rest = at(x, 0, 0)}), Travel{.velocity = {0, 0, 1}});
  };
  for (int i = 0; i < 13; ++i) add("gull-" + std::to_string(i), i);
  for (int i = 0; i < 12; ++i) add("fish-" + std::to_string(i), -i);
  add("gull", 20);
  const Watched recording = watch(harbour, {}, FrameTimes{60.0}, 0, 60);
  std::vector<detail::Traveller> travellers;
  for (std::size_t i = 0; i < recording.recording.objects.size(); ++i)
    travellers.push_back({&recording, i, 0, 0, true});
  const auto crowds = detail::crowds_among(travellers);
  ASSERT_EQ(crowds.size(), 1U);  // a dozen is no crowd, and an object without a number is no member
  EXPECT_EQ(crowds[0].name, "gull");
  EXPECT_EQ(crowds[0].members.size(), 13U);
  detail::View view{ViewFrom::above};
  view.fit({-20, 0, 50, 10}, {0, 0, 500, 100});
  EXPECT_NEAR(detail::middle_of(crowds[0], view).x, 260, 1e-9);  // x = 6 m, of 50 m from -20 on
}

TEST(Picture, RefusesInvalidOptions) {
  const std::array plays{harbour_played(2)};
  EXPECT_THROW(draw(plays, path_of("a.jpg")), BadValue);
  EXPECT_THROW(draw(plays, path_of("a.png"), {.width = 100}), BadValue);
  EXPECT_THROW(draw({}, path_of("a.png")), BadValue);
  EXPECT_THROW(draw(plays, "/no/such/place.png"), Error);
}

TEST(Style, HasRoundSteps) {
  for (double least = 1e-7; least < 1e7; least *= 1.37) {
    const double step = detail::style::round_step(least),
                 leading = step / std::pow(10.0, std::floor(std::log10(step) + 1e-9));
    EXPECT_GE(step, least * (1 - 1e-12));
    EXPECT_LE(step, 2.5 * least * (1 + 1e-12));
    EXPECT_NEAR(std::min({std::abs(leading - 1), std::abs(leading - 2), std::abs(leading - 5)}), 0.0, 1e-9) << step;
  }
  EXPECT_EQ(detail::style::round_step(31.0, true), 45.0);  // a fraction of a turn
  const auto ticks = detail::style::ticks(-0.31, 0.31, 0.1);
  ASSERT_EQ(ticks.size(), 7U);
  EXPECT_NEAR(ticks.front(), -0.3, 1e-12);
  EXPECT_EQ(detail::style::as_label(ticks[3], 0.1), "0");
  EXPECT_EQ(detail::style::as_label(ticks[6], 0.1), "0.3");
}

TEST(Outline, SurroundsABodyInAnyRotation) {
  const Shape box{.size = {2, 4, 6}};
  std::vector<detail::Point> points;
  for (const Vec3& corner : detail::corners_of(box, Pose{{1, 2, 3}, rotation(axis::up, degrees(90)), {1, 1, 1}}))
    points.push_back({corner.x(), corner.z()});
  const auto outline = detail::convex_outline(points);
  ASSERT_EQ(outline.size(), 4U);
  double twice_the_area = 0.0;
  for (std::size_t i = 0; i < 4; ++i) {
    const auto &a = outline[i], &b = outline[(i + 1) % 4];
    twice_the_area += a.x * b.y - b.x * a.y;
  }
  EXPECT_NEAR(std::abs(twice_the_area), 2 * 2 * 6, 1e-9);
  for (const Vec3& corner : detail::corners_of(Shape{.kind = Shape::Kind::sphere}, Pose{}))
    EXPECT_NEAR(corner.norm(), 0.5, 1e-8);
}

TEST(Replay, MovesLikeTheRecording) {
  const Watched recording = harbour_played();
  Scene again = replay(recording.recording);
  for (std::size_t frame = 0; frame < recording.recording.frames(); frame += 13) {
    again.seek(recording.recording.times[frame]);
    for (std::size_t i = 0; i < recording.recording.objects.size(); ++i) {
      const Pose pose = again.world(*again.find(recording.recording.objects[i]));
      EXPECT_EQ(pose.position, recording.recording.at(frame, i).position);
      EXPECT_LT(pose.rotation.angularDistance(recording.recording.at(frame, i).rotation), 1e-7);
    }
  }
}

/// Plays of a sweep with one, two or three values come in the order in which threads finish them.
TEST(Picture, OfASweepDoesNotDependOnTheOrderOfItsPlays) {
  for (std::size_t values = 1; values <= 3; ++values) {
    SweepTable sweep{.paths = {}, .measures = {"peak(hook.position.x)", "settled(hook.position.x)"}, .rows = {}};
    for (std::size_t i = 0; i < values; ++i) sweep.paths.push_back("hook.spring.value" + std::to_string(i));
    for (std::size_t number = 0; number < 64; ++number) {
      SweepTable::Row row{number, {}, {static_cast<double>(number % 3), std::nullopt}};
      for (std::size_t i = 0; i < values; ++i) row.values.push_back(std::to_string((number >> (2 * i)) % 4));
      if (number % 5 != 0) row.measured[1] = static_cast<double>(number % 2);
      sweep.rows.push_back(std::move(row));
    }
    sweep.plays = sweep.rows.size();
    draw_sweep(sweep, path_of("first.png"), {});
    draw_sweep(sweep, path_of("first.svg"), {});
    std::reverse(sweep.rows.begin(), sweep.rows.end());
    std::swap(sweep.rows[3], sweep.rows[40]);
    draw_sweep(sweep, path_of("second.png"), {});
    EXPECT_GT(shapes_in(path_of("first.svg")), 64u);
    EXPECT_TRUE(bytes_of(path_of("first.png")) == bytes_of(path_of("second.png"))) << values;
  }
}

}  // namespace
}  // namespace hushed::tests
