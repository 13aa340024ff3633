// SPDX-License-Identifier: MIT
// Easings as small curves, a few characters wide and three lines high.

#include "easings.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <string_view>
#include <vector>

#include <fmt/format.h>

#include <hushed/easing.hpp>

namespace hushed::cli {

namespace {

constexpr int columns = 14, lines = 3;
using Picture = std::array<std::string, lines>;

/// Renders a grid of dots as text. Each character shows a cell of `across` by `down` dots.
template <int across, int down, class Character>
Picture drawn(const Easing& easing, Character&& character) {
  constexpr std::size_t width = std::size_t{columns} * across, height = std::size_t{lines} * down;
  std::array<double, width * 8> values;  // more values than dots, so that steep parts have no gaps
  for (std::size_t i = 0; i < values.size(); ++i)
    values[i] = easing(static_cast<double>(i) / static_cast<double>(values.size() - 1));
  const double low = std::min(0.0, *std::min_element(values.begin(), values.end()));
  const double high = std::max(1.0, *std::max_element(values.begin(), values.end()));

  std::array<std::array<bool, width>, height> dots{};
  for (std::size_t i = 0; i < values.size(); ++i) {
    const auto from_below =
        static_cast<std::size_t>(std::lround((values[i] - low) / (high - low) * static_cast<double>(height - 1)));
    dots[height - 1 - from_below][i * width / values.size()] = true;
  }
  Picture picture;
  for (std::size_t line = 0; line < lines; ++line)
    for (std::size_t column = 0; column < columns; ++column)
      picture[line] +=
          character([&](std::size_t x, std::size_t y) { return dots[line * down + y][column * across + x]; });
  return picture;
}

/// A character of eight dots, from the block Braille Patterns of Unicode.
Picture in_braille(const Easing& easing) {
  return drawn<2, 4>(easing, [](auto&& dot) {
    constexpr unsigned bits[4][2] = {{0x01, 0x08}, {0x02, 0x10}, {0x04, 0x20}, {0x40, 0x80}};
    unsigned code = 0x2800;
    for (std::size_t y = 0; y < 4; ++y)
      for (std::size_t x = 0; x < 2; ++x)
        if (dot(x, y)) code |= bits[y][x];
    if (code == 0x2800) return std::string{' '};
    return std::string{static_cast<char>(0xE0 | code >> 12), static_cast<char>(0x80 | (code >> 6 & 0x3F)),
                       static_cast<char>(0x80 | (code & 0x3F))};
  });
}

Picture in_ascii(const Easing& easing) {
  return drawn<1, 3>(easing, [](auto&& dot) {
    const bool top = dot(0, 0), middle = dot(0, 1), bottom = dot(0, 2);
    const char c = top && bottom      ? '|'
                   : middle && top    ? '\''
                   : middle && bottom ? '.'
                   : top              ? '\''
                   : middle           ? '-'
                   : bottom           ? '.'
                                      : ' ';
    return std::string{c};
  });
}

/// Prints pictures side by side, each with its name above.
std::string row(const std::vector<std::string>& names, bool has_unicode) {
  std::string text = "  ";
  for (const std::string& name : names) text += fmt::format("{:<{}}", name, columns + 4);
  text.erase(text.find_last_not_of(' ') + 1);
  text += '\n';
  std::vector<Picture> pictures;
  for (const std::string& name : names)
    pictures.push_back(has_unicode ? in_braille(Easing::parse(name)) : in_ascii(Easing::parse(name)));
  for (std::size_t line = 0; line < lines; ++line) {
    std::string all = "  ";
    for (const Picture& picture : pictures) all += picture[line] + "    ";
    all.erase(all.find_last_not_of(' ') + 1);
    text += all + '\n';
  }
  return text + '\n';
}

}  // namespace

std::string easings_in_pictures(bool has_unicode) {
  std::string text =
      "easing: the progress of a motion over time, from the start (bottom left) to the end (top right).\n\n";
  const auto names = Easing::names();
  for (std::size_t i = 0; i < names.size(); i += 3) {
    std::vector<std::string> three;
    for (std::size_t j = i; j < std::min(i + 3, names.size()); ++j) three.emplace_back(names[j]);
    text += row(three, has_unicode);
  }
  text += row({"cubic-bezier(.2, 1.4, .3, 1)"}, has_unicode);
  text += row({"steps(4, jump-both)"}, has_unicode);
  text += row({"linear(0, .8 30%, .6 60%, 1)"}, has_unicode);
  return text +
         "  cubic-bezier(x1, y1, x2, y2)   x1 and x2 from 0 to 1\n"
         "  steps(n, where)                where is jump-start, jump-end (default), jump-none or jump-both\n"
         "  linear(y, y x%, ...)           straight lines through the stops; percentages may be left out\n"
         "\nThese three and ease, ease-in, ... are those of the CSS Easing Functions standard.\n";
}

bool terminal_has_unicode() {
  for (const char* variable : {"LC_ALL", "LC_CTYPE", "LANG"}) {
    const char* value = std::getenv(variable);
    if (!value || *value == '\0') continue;
    std::string language{value};
    std::transform(language.begin(), language.end(), language.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
    return language.find("utf-8") != std::string::npos || language.find("utf8") != std::string::npos;
  }
  return false;
}

}  // namespace hushed::cli
