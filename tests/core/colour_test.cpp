// SPDX-License-Identifier: MIT
#include <hushed/colour.hpp>

#include <gtest/gtest.h>

namespace hushed {
namespace {

TEST(Colour, IsReadAsInCss) {
  EXPECT_EQ(colour_of_css("#fC8"), (Colour{0xff, 0xcc, 0x88}));
  EXPECT_EQ(colour_of_css("#0c1626"), (Colour{0x0c, 0x16, 0x26}));
  EXPECT_EQ(colour_of_css("RebeccaPurple"), (Colour{0x66, 0x33, 0x99}));
  for (const char* const other : {"", "#", "#12", "#12345", "#1234567", "#gggggg", "# fff", "golden", "gold ", "-gold"})
    EXPECT_EQ(colour_of_css(other), std::nullopt) << other;
}

TEST(Colour, IsWrittenAsItWasRead) {
  for (const std::string_view name : colour_names()) {
    const auto colour = colour_of_css(name);
    ASSERT_TRUE(colour) << name;
    EXPECT_EQ(colour_of_css(css_of(*colour)), colour) << name;
  }
}

}  // namespace
}  // namespace hushed
