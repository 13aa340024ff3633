// SPDX-License-Identifier: MIT
// RequestQueue of several clients: they take turns, and none can fill it.

#include "request_queue.hpp"

#include <gtest/gtest.h>

namespace hushed::tests {
namespace {

using detail::RequestQueue;

TEST(RequestQueue, GivesEachClientItsTurn) {
  RequestQueue requests;
  for (int i = 0; i < 3; ++i) requests.add(1, R"({"do": "undo"})");
  requests.add(7, R"({"do": "play"})");
  requests.add(3, R"({"do": "pause"})");
  std::vector<int> turns;
  while (const auto next = requests.take()) turns.push_back(next->client);
  EXPECT_EQ(turns, (std::vector{1, 3, 7, 1, 1}));
}

TEST(RequestQueue, KeepsTheNewestRequestOfAKind) {
  RequestQueue requests;
  for (const char* const request : {R"({"do": "ahead", "ask": 1})", R"({"do": "plan"})", R"({"do": "ahead", "ask": 2})",
                                    R"({"do": "set"})", R"({"do": "ahead", "ask": 3})", R"({"do": "ahead", "ask": 4})"})
    requests.add(1, request);
  EXPECT_EQ(requests.take()->text, R"({"do": "plan"})");
  EXPECT_EQ(requests.take()->text, R"({"do": "ahead", "ask": 2})");  // before the change
  EXPECT_EQ(requests.take()->text, R"({"do": "set"})");
  EXPECT_EQ(requests.take()->text, R"({"do": "ahead", "ask": 4})");
  EXPECT_TRUE(requests.empty());
}

TEST(RequestQueue, RefusesTooManyRequests) {
  RequestQueue requests;
  for (std::size_t i = 0; i < RequestQueue::most_per_client; ++i)
    EXPECT_TRUE(requests.add(1, R"({"do": "step", "by": 1})"));
  EXPECT_FALSE(requests.add(1, R"({"do": "step", "by": 1})"));
  EXPECT_TRUE(requests.add(2, R"({"do": "step", "by": 1})"));
  EXPECT_FALSE(requests.add(1, "no JSON at all"));
  requests.forget(1);
  EXPECT_EQ(requests.take()->client, 2);
}

}  // namespace
}  // namespace hushed::tests
