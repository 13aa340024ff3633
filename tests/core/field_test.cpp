// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <cmath>
#include <cstdlib>

#include <hushed/hushed.hpp>

#include "support/own_behaviours.hpp"

namespace hushed {
namespace {

const FieldInfo& field_called(std::span<const FieldInfo> fields, std::string_view name) {
  for (const FieldInfo& field : fields)
    if (field.name == name) return field;
  throw std::runtime_error{"no such field"};
}

std::string refused(std::span<const FieldInfo> fields, std::string_view name, void* owner, const Value& value) {
  const auto diagnostic = field_called(fields, name).set(owner, value);
  return diagnostic ? diagnostic->text : "accepted";
}

Value list(std::initializer_list<double> numbers) {
  Value::List items;
  for (const double number : numbers) items.emplace_back(number);
  return Value{items};
}

TEST(Field, TakesAnAxisByNameOrAsAVector) {
  Spin spin;
  const auto fields = detail::kind_of<Spin>().fields();
  EXPECT_EQ(refused(fields, "axis", &spin, Value{std::string{"-x"}}), "accepted");
  EXPECT_EQ(spin.axis, Vec3(-1, 0, 0));
  EXPECT_EQ(refused(fields, "axis", &spin, list({0, 3, 4})), "accepted");
  EXPECT_EQ(spin.axis, Vec3(0, 3, 4));
  EXPECT_EQ(refused(fields, "axis", &spin, Value{std::string{"up"}}),
            "found a string (\"up\"); give \"x\", \"y\", \"z\", \"-x\", \"-y\", \"-z\", or a vector [x, y, z].");
  EXPECT_EQ(refused(fields, "axis", &spin, list({0, 1})), "found a list; give three numbers, [x, y, z].");
  EXPECT_EQ(refused(fields, "space", &spin, Value{2.0}), "found a number (2); give \"own\", \"parent\" or \"world\".");
  EXPECT_EQ(spin.axis, Vec3(0, 3, 4));  // what is refused changes nothing
}

TEST(Field, TakesInfiniteForNoBoundOnEitherSide) {
  Travel travel;
  const double infinity = std::numeric_limits<double>::infinity();
  EXPECT_EQ(refused(detail::kind_of<Travel>().fields(), "between", &travel,
                    Value{Value::List{list({infinity, 0, -infinity}), list({2, infinity, -infinity})}}),
            "accepted");
  EXPECT_EQ(travel.between.min, Vec3(-infinity, 0, -infinity));
  EXPECT_EQ(travel.between.max, Vec3(2, infinity, infinity));
}

TEST(Field, DescribesItselfFromTheTable) {
  const FieldInfo& speed = field_called(detail::kind_of<Spin>().fields(), "speed");
  EXPECT_EQ(speed.unit.symbol, "deg/s");
  EXPECT_EQ(as_text(*speed.fallback), "90");
  EXPECT_EQ(speed.form.description, "a number");
  EXPECT_EQ(speed.slider->high, 360.0);
  EXPECT_EQ(field_called(detail::kind_of<Travel>().fields(), "at_edge").form.description,
            "\"bounce\", \"wrap\" or \"stop\"");
  EXPECT_TRUE(field_called(detail::kind_of<Travel>().fields(), "velocity").required);
  EXPECT_EQ(field_called(detail::kind_of<Spin>().fields(), "velocity").fallback, std::nullopt);
  EXPECT_EQ(fields_of<tests::Bob>().size(), 1U);  // a behaviour that a user writes
  struct WithoutTable {};
  EXPECT_TRUE(fields_of<WithoutTable>().empty());
}

RC_GTEST_PROP(Field, ReturnsTheValueThatWasSet, (double any_x, double any_y, double any_z)) {
  const double x = std::fmod(any_x, 1e9), y = std::fmod(any_y, 1e9), z = std::fmod(any_z, 1e9);
  RC_PRE(!Vec3(x, y, z).isZero(0.0));
  Spin spin;
  for (const char* name : {"axis", "velocity"}) {
    const FieldInfo& field = field_called(detail::kind_of<Spin>().fields(), name);
    RC_ASSERT(!field.set(&spin, list({x, y, z})));
    const Value written = field.get(&spin).value();
    Spin again;
    RC_ASSERT(!field.set(&again, written));
    RC_ASSERT(as_text(field.get(&again).value()) == as_text(written));
  }
  RC_ASSERT(spin.velocity == Vec3(x, y, z));
}

RC_GTEST_PROP(Value, PrintsNumbersThatReadBackToTheSame, (double number)) {
  RC_ASSERT(std::strtod(as_text(number).c_str(), nullptr) == number);
  const double whole = std::floor(number * 1e6);
  RC_ASSERT(std::strtod(as_text(whole).c_str(), nullptr) == whole);
}

TEST(Value, PrintsNumbersInTheUsualNotation) {
  EXPECT_EQ(as_text(40.0), "40");
  EXPECT_EQ(as_text(-0.0), "0");
  EXPECT_EQ(as_text(1e6), "1000000");
  EXPECT_EQ(as_text(0.1), "0.1");
  EXPECT_EQ(as_text(1e-7), "1e-07");
  EXPECT_EQ(as_text(1e300), "1e+300");
}

TEST(Value, SuggestsTheMostSimilarName) {
  const std::vector<std::string_view> names{"axis", "speed", "space"};
  EXPECT_EQ(nearest_name("sped", names), "speed");
  EXPECT_EQ(nearest_name("psace", names), "space");
  EXPECT_EQ(nearest_name("colour", names), "");
  EXPECT_EQ(suggestion("colour", names), "; give axis, speed or space.");
  EXPECT_EQ(suggestion("colour", {}), ".");
}

}  // namespace
}  // namespace hushed
