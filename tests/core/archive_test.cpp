// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <bit>
#include <cstdint>
#include <cstring>
#include <limits>
#include <optional>
#include <random>
#include <string>
#include <vector>

#include <hushed/archive.hpp>
#include <hushed/error.hpp>

namespace hushed {
namespace {

enum class Tide : std::uint8_t { ebb, slack, flood };

/// One of each type that an archive writes.
struct Cargo {
  double number = 0.0;
  bool is_wet = false;
  Time time = {};
  std::int64_t whole = 0;
  std::uint64_t natural = 0;
  int small = 0;
  Tide tide = Tide::ebb;
  std::string text;
  std::vector<double> list;
  std::optional<Vec3> point;
  Pose pose;
  Value value;

  void archive(Archive& archive) {
    archive(number, is_wet, time, whole, natural, small, tide, text, list, point, pose, value);
  }
};

/// Often one of those that have a short form, and often one that is hard to keep.
double random_number(std::mt19937_64& random) {
  static const double hard[] = {0.0,
                                -0.0,
                                1.0,
                                -1.0,
                                std::numeric_limits<double>::infinity(),
                                std::numeric_limits<double>::denorm_min(),
                                std::bit_cast<double>(0x7ff8000000000123U)};
  switch (random() % 3) {
    case 0: return hard[random() % std::size(hard)];
    case 1: return 2.5;
    default: return std::bit_cast<double>(random());
  }
}

std::uint64_t random_bits(std::mt19937_64& random) { return random() >> (random() % 64); }

Vec3 random_point(std::mt19937_64& random) {
  if (random() % 4 == 0) return Vec3::Constant(static_cast<double>(random() % 3));
  const double x = random_number(random), y = random_number(random), z = random_number(random);
  return {x, y, z};
}

Quat random_rotation(std::mt19937_64& random) {
  if (random() % 3 == 0) return Quat::Identity();
  if (random() % 3 == 0) return {0.0, 1.0, 0.0, 0.0};
  const Vec3 axis = random_point(random);
  return {random_number(random), axis.x(), axis.y(), axis.z()};
}

Value random_value(std::mt19937_64& random, int depth = 0) {
  switch (random() % (depth < 3 ? 7 : 5)) {
    case 0: return {};
    case 1: return Value{random() % 2 == 0};
    case 2: return Value{static_cast<std::int64_t>(random_bits(random))};
    case 3: return Value{random_number(random)};
    case 4: return Value{std::string(random() % 4, 'q')};
    case 5: {
      Value::List list(random() % 4);
      for (Value& each : list) each = random_value(random, depth + 1);
      return Value{list};
    }
    default: {
      Value::Table table(random() % 3);
      for (Value::Entry& each : table) each = {std::string(random() % 9, 'k'), {}, random_value(random, depth + 1)};
      return Value{table};
    }
  }
}

Cargo random_cargo(std::mt19937_64& random) {
  Cargo cargo;
  cargo.number = random_number(random);
  cargo.is_wet = random() % 2 == 0;
  cargo.time = Time{static_cast<Time::rep>(random_bits(random))};
  cargo.whole = static_cast<std::int64_t>(random_bits(random));
  cargo.natural = random_bits(random);
  cargo.small = static_cast<int>(random());
  cargo.tide = static_cast<Tide>(random() % 3);
  cargo.text.assign(random() % 5, '\0');
  for (auto left = random() % 5; left > 0; --left) cargo.list.push_back(random_number(random));
  if (random() % 2 == 0) cargo.point = random_point(random);
  cargo.pose.position = random_point(random);
  cargo.pose.rotation = random_rotation(random);
  cargo.pose.scale = random() % 3 == 0 ? cargo.pose.position : random_point(random);
  cargo.value = random_value(random);
  return cargo;
}

bool has_equal_bits(double a, double b) { return std::memcmp(&a, &b, sizeof a) == 0; }
bool has_equal_bits(const Vec3& a, const Vec3& b) { return std::memcmp(&a, &b, sizeof a) == 0; }
bool has_equal_bits(const Quat& a, const Quat& b) { return std::memcmp(&a, &b, sizeof a) == 0; }

bool has_equal_bits(const Value& a, const Value& b) {
  if (const auto* const list = a.as<Value::List>()) {
    const auto* const other = b.as<Value::List>();
    return other && std::equal(list->begin(), list->end(), other->begin(), other->end(),
                               [](const Value& x, const Value& y) { return has_equal_bits(x, y); });
  }
  if (const auto* const table = a.as<Value::Table>()) {
    const auto* const other = b.as<Value::Table>();
    return other && std::equal(table->begin(), table->end(), other->begin(), other->end(),
                               [](auto& x, auto& y) { return x.key == y.key && has_equal_bits(x.value, y.value); });
  }
  if (a.as<double>() && b.as<double>()) return has_equal_bits(*a.as<double>(), *b.as<double>());
  const auto is_equal = [&]<class T>(T) { return a.as<T>() && b.as<T>() && *a.as<T>() == *b.as<T>(); };
  const bool both_empty = a.describe_kind() == Value{}.describe_kind() && b.describe_kind() == Value{}.describe_kind();
  return both_empty || is_equal(bool{}) || is_equal(std::int64_t{}) || is_equal(std::string{});
}

void expect_equal_bits(const Cargo& a, const Cargo& b) {
  RC_ASSERT(has_equal_bits(a.number, b.number));
  RC_ASSERT(a.is_wet == b.is_wet);
  RC_ASSERT(a.time == b.time);
  RC_ASSERT(a.whole == b.whole);
  RC_ASSERT(a.natural == b.natural);
  RC_ASSERT(a.small == b.small);
  RC_ASSERT(a.tide == b.tide);
  RC_ASSERT(a.text == b.text);
  RC_ASSERT(a.list.size() == b.list.size());
  for (std::size_t i = 0; i < a.list.size(); ++i) RC_ASSERT(has_equal_bits(a.list[i], b.list[i]));
  RC_ASSERT(a.point.has_value() == b.point.has_value());
  if (a.point) RC_ASSERT(has_equal_bits(*a.point, *b.point));
  RC_ASSERT(has_equal_bits(a.pose.position, b.pose.position));
  RC_ASSERT(has_equal_bits(a.pose.rotation, b.pose.rotation));
  RC_ASSERT(has_equal_bits(a.pose.scale, b.pose.scale));
  RC_ASSERT(has_equal_bits(a.value, b.value));
}

std::vector<std::byte> written(std::vector<Cargo>& ship) {
  Archive archive;
  archive(ship);
  return archive.bytes();
}

std::vector<Cargo> read(std::span<const std::byte> bytes) {
  Archive archive{bytes};
  std::vector<Cargo> ship;
  archive(ship);
  archive.end();
  return ship;
}

RC_GTEST_PROP(Archive, GivesBackTheBitsThatWereWritten, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  std::vector<Cargo> ship(random() % 40);
  for (Cargo& each : ship) each = random_cargo(random);
  const auto bytes = written(ship);
  const std::vector<Cargo> again = read(bytes);
  RC_ASSERT(again.size() == ship.size());
  for (std::size_t i = 0; i < ship.size(); ++i) expect_equal_bits(ship[i], again[i]);
}

RC_GTEST_PROP(Archive, RefusesBytesThatAreCutOrFollowedByOthers, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  std::vector<Cargo> ship(1 + random() % 4);
  for (Cargo& each : ship) each = random_cargo(random);
  auto bytes = written(ship);
  const auto shorter = std::span{bytes}.first(random() % bytes.size());
  RC_ASSERT_THROWS_AS(read(shorter), BadValue);
  bytes.push_back(std::byte{0});
  RC_ASSERT_THROWS_AS(read(bytes), BadValue);
}

TEST(Archive, NeedsTwoBitsForANumberThatIsNoNews) {
  std::vector<double> calm(6400, 0.0);
  calm[17] = 2.5;
  for (std::size_t i = 18; i < calm.size(); i += 2) calm[i] = 2.5;
  Archive archive;
  archive(calm);
  // Two bits each, one number, the size of the list, the number of words, and the last word filled up.
  EXPECT_LE(archive.bytes().size(), 6400U / 4 + 8 + 2 + 4 + 8);
}

TEST(Archive, RefusesASizeThatItsBytesCannotHold) {
  Archive archive;
  std::uint64_t size = std::uint64_t{1} << 40U;
  archive(size);
  const auto bytes = archive.bytes();
  std::vector<double> list;
  EXPECT_THROW(Archive{bytes}(list), BadValue);
  std::string text;
  EXPECT_THROW(Archive{bytes}(text), BadValue);
}

}  // namespace
}  // namespace hushed
