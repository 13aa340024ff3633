// Orders of several tabs: each has its turn, and none can pile up.

#include "orders.hpp"

#include <gtest/gtest.h>

namespace hushed::tests {
namespace {

using inside::Orders;

TEST(Orders, GiveEachTabItsTurn) {
  Orders orders;
  for (int i = 0; i < 3; ++i) orders.add(1, R"({"do": "undo"})");
  orders.add(7, R"({"do": "play"})");
  orders.add(3, R"({"do": "pause"})");
  std::vector<int> turns;
  while (const auto next = orders.take()) turns.push_back(next->tab);
  EXPECT_EQ(turns, (std::vector{1, 3, 7, 1, 1}));
}

TEST(Orders, KeepTheNewestQuestionOfAKind) {
  Orders orders;
  for (const char* const order : {R"({"do": "ahead", "ask": 1})", R"({"do": "plan"})", R"({"do": "ahead", "ask": 2})",
                                  R"({"do": "set"})", R"({"do": "ahead", "ask": 3})", R"({"do": "ahead", "ask": 4})"})
    orders.add(1, order);
  EXPECT_EQ(orders.take()->text, R"({"do": "plan"})");
  EXPECT_EQ(orders.take()->text, R"({"do": "ahead", "ask": 2})");  // before the change
  EXPECT_EQ(orders.take()->text, R"({"do": "set"})");
  EXPECT_EQ(orders.take()->text, R"({"do": "ahead", "ask": 4})");
  EXPECT_TRUE(orders.empty());
}

TEST(Orders, RefuseWhatIsTooMuch) {
  Orders orders;
  for (std::size_t i = 0; i < Orders::most_of_a_tab; ++i) EXPECT_TRUE(orders.add(1, R"({"do": "step", "by": 1})"));
  EXPECT_FALSE(orders.add(1, R"({"do": "step", "by": 1})"));
  EXPECT_TRUE(orders.add(2, R"({"do": "step", "by": 1})"));
  EXPECT_FALSE(orders.add(1, "no JSON at all"));
  orders.forget(1);
  EXPECT_EQ(orders.take()->tab, 2);
}

}  // namespace
}  // namespace hushed::tests
