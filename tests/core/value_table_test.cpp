// SPDX-License-Identifier: MIT
#include "lanes/value_table.hpp"

#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <algorithm>
#include <cstddef>
#include <deque>
#include <string>
#include <vector>

namespace hushed::detail {
namespace {

using Table = ValueTable<std::string>;

std::vector<std::string> content(const Table& table, std::size_t rows) {
  std::vector<std::string> all;
  for (std::size_t row = 0; row < rows; ++row) all.push_back(table[row]);
  return all;
}

RC_GTEST_PROP(ValueTable, EqualsAVectorThatIsCopiedWhole, ()) {
  struct Copy {
    Table table;
    std::vector<std::string> truth;
    std::size_t number;  ///< of its content: contents of the same number are equal
  };
  Table live;
  std::vector<std::string> truth;
  std::deque<Copy> copies;
  std::size_t last_number = 0, number = 0;
  const auto between = [](std::size_t end) { return *rc::gen::inRange<std::size_t>(0, end); };
  const auto rows = *rc::gen::element<std::size_t>(1, 63, 64, 65, 150);
  auto next_value = [number = 0]() mutable { return "a value that is on the heap, " + std::to_string(++number); };

  for (std::size_t steps = 25; steps > 0; --steps) {
    switch (between(6)) {
      case 0:
        for (std::size_t i = 0; i < rows; ++i) {
          truth.push_back(next_value());
          live.set(truth.size() - 1, truth.back());
        }
        number = ++last_number;
        break;
      case 1: {
        if (truth.empty()) break;
        const std::size_t row = between(truth.size());
        truth[row] = next_value();
        live.set(row, truth[row]);
        number = ++last_number;
        break;
      }
      case 2: copies.push_back({live, truth, number}); break;
      case 3: {
        if (copies.empty()) break;
        const Copy& then = copies[between(copies.size())];
        const bool is_other = live.restore(then.table);
        RC_ASSERT(is_other || std::equal(then.truth.begin(), then.truth.end(), truth.begin()));
        RC_ASSERT(!is_other || then.number != number);
        std::copy(then.truth.begin(), then.truth.end(), truth.begin());
        number = then.truth.size() == truth.size() ? then.number : ++last_number;
        break;
      }
      case 4: {  // a copy is changed, as by a snapshot that is read from bytes
        if (copies.empty()) break;
        Copy& changed = copies[between(copies.size())];
        if (changed.truth.empty()) break;
        const std::size_t row = between(changed.truth.size());
        changed.truth[row] = next_value();
        changed.table.set(row, changed.truth[row]);
        changed.number = ++last_number;
        break;
      }
      default: live.fix_addresses();
    }
    RC_ASSERT(content(live, truth.size()) == truth);
    for (const Copy& each : copies) RC_ASSERT(content(each.table, each.truth.size()) == each.truth);
  }
}

TEST(ValueTable, SharesWhatHasNotChangedBetweenCopies) {
  Table live;
  for (std::size_t row = 0; row < 130; ++row) live.set(row, std::to_string(row));
  const Table first = live, second = live;
  live.set(70, "another");
  const Table third = live;
  EXPECT_EQ(&first[70], &second[70]);
  EXPECT_NE(&second[70], &third[70]);
  EXPECT_EQ(&second[0], &third[0]);
  EXPECT_EQ(&second[129], &third[129]);
  EXPECT_NE(&live[0], &third[0]) << "kernels may point to what the live values contain";
}

TEST(ValueTable, KeepsLiveValuesAtTheirAddresses) {
  Table live;
  for (std::size_t row = 0; row < 65; ++row) live.set(row, std::to_string(row));
  const std::string* const at = &live[3];
  const Table then = live;
  live.set(3, "another");
  live.set(65, "the next");
  EXPECT_TRUE(live.restore(then));
  EXPECT_EQ(&live[3], at);
  EXPECT_EQ(*at, "3");

  Table again = then;
  again.fix_addresses();
  const std::string* const fixed = &again[3];
  again.set(4, "another");
  EXPECT_EQ(&again[3], fixed);
}

}  // namespace
}  // namespace hushed::detail
