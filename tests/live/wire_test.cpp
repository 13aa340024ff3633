// SPDX-License-Identifier: MIT
// The bytes of binary messages, read number by number as docs/reference/live.md defines them.

#include "wire.hpp"

#include <cstring>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>

namespace hushed::tests {
namespace {

/// Reads numbers from bytes, one after another.
class Reader {
 public:
  explicit Reader(std::string bytes) : bytes_{std::move(bytes)} {}
  template <class T>
  T take() {
    T number{};
    if (at_ + sizeof number > bytes_.size()) {
      ADD_FAILURE() << "it ends too soon";
      return number;
    }
    std::memcpy(&number, bytes_.data() + at_, sizeof number);
    at_ += sizeof number;
    return number;
  }
  template <class T>
  std::vector<T> take(std::size_t count) {
    std::vector<T> numbers;
    for (std::size_t i = 0; i < count; ++i) numbers.push_back(take<T>());
    return numbers;
  }
  bool is_at_the_end() const { return at_ == bytes_.size(); }

 private:
  std::string bytes_;
  std::size_t at_ = 0;
};

using U = std::uint32_t;

/// A skiff that moves a metre per second, and a lamp that is hidden after half a second.
Scene small_harbour() {
  Scene harbour;
  const Object skiff = harbour.add({.name = "skiff", .rest = at(0, 2, 0)});
  harbour.give(skiff, Travel{.velocity = {0, 0, 1}});
  harbour.add({.name = "lamp", .rest = Pose{{1, 2, 3}, Quat::Identity(), {1, 2, 1}}});
  harbour.when(after(seconds(0.5))).then(hide("lamp"));
  return harbour;
}

TEST(Wire, WritesAFrame) {
  Scene harbour = small_harbour();
  PlayMode mode{harbour, {Watch{"skiff.position.z", harbour}}};
  mode.set_rhythm({10.0, {}, 1.0});
  mode.step(6);
  mode.step(-1);
  mode.step(2);
  Reader reader{detail::frame_bytes(mode)};
  EXPECT_EQ(reader.take<U>(4), (std::vector<U>{1, static_cast<U>(mode.edition()), 2, 1}));
  EXPECT_EQ(reader.take<double>(4), (std::vector<double>{7, 0, 7, 0.7}));
  const auto watched = reader.take<double>(2);
  EXPECT_NEAR(watched[0], 0.7, 1e-12);
  EXPECT_NEAR(watched[1], 0.6, 1e-12);
  EXPECT_EQ(reader.take<float>(10), (std::vector<float>{0, 2, 0.7F, 0, 0, 0, 1, 1, 1, 1}));
  EXPECT_EQ(reader.take<float>(10), (std::vector<float>{1, 2, 3, 0, 0, 0, 1, 1, 2, 1}));
  EXPECT_EQ(reader.take<std::uint8_t>(2), (std::vector<std::uint8_t>{0, 1}));
  EXPECT_TRUE(reader.is_at_the_end());
}

TEST(Wire, WritesAPartOfThePast) {
  Scene harbour = small_harbour();
  PlayMode mode{harbour, {Watch{"skiff.position.z", harbour}}};
  mode.set_rhythm({10.0, {}, 1.0});
  mode.step(9);
  Reader reader{detail::past_bytes(mode, {77, {1, 0}, 2, 8, 3})};
  EXPECT_EQ(reader.take<U>(6), (std::vector<U>{2, 77, 2, 3, 1, static_cast<U>(mode.edition())}));
  EXPECT_EQ(reader.take<double>(2), (std::vector<double>{2, 3}));
  EXPECT_EQ(reader.take<double>(3), (std::vector<double>{0.2, 0.5, 0.8}));
  for (const double z : {0.2, 0.5, 0.8}) EXPECT_NEAR(reader.take<double>(), z, 1e-12);
  for (const float z : {0.2F, 0.5F, 0.8F}) {
    EXPECT_EQ(reader.take<float>(7), (std::vector<float>{1, 2, 3, 0, 0, 0, 1}));
    EXPECT_EQ(reader.take<float>(7), (std::vector<float>{0, 2, z, 0, 0, 0, 1}));
  }
  EXPECT_TRUE(reader.is_at_the_end());
}

TEST(Wire, WritesAPrediction) {
  Scene harbour = small_harbour();
  PlayMode mode{harbour};
  Reader reader{detail::ahead_bytes(mode.play_ahead(2, 10.0), {5, {0}, 0, 0, 1})};
  EXPECT_EQ(reader.take<U>(6), (std::vector<U>{3, 5, 1, 3, 0, 0}));
  EXPECT_EQ(reader.take<double>(2), (std::vector<double>{0, 1}));
  EXPECT_EQ(reader.take<double>(3), (std::vector<double>{0.0, 0.1, 0.2}));
  for (const float z : {0.0F, 0.1F, 0.2F}) EXPECT_EQ(reader.take<float>(7), (std::vector<float>{0, 2, z, 0, 0, 0, 1}));
  EXPECT_TRUE(reader.is_at_the_end());
}

}  // namespace
}  // namespace hushed::tests
