// SPDX-License-Identifier: MIT
#include "request_queue.hpp"

#include <algorithm>
#include <array>
#include <string_view>
#include <utility>

#include <nlohmann/json.hpp>

namespace hushed::detail {

namespace {

/// "ahead", "plan" or "past" for requests that may take long; otherwise empty.
std::string kind_of_question(const std::string& text) {
  constexpr std::array<std::string_view, 3> questions{"ahead", "plan", "past"};
  const auto json = nlohmann::json::parse(text, nullptr, false);
  if (!json.is_object()) return "";
  const auto what = json.find("do");
  if (what == json.end() || !what->is_string()) return "";
  std::string kind = what->get<std::string>();
  return std::find(questions.begin(), questions.end(), kind) == questions.end() ? std::string{} : kind;
}

}  // namespace

bool RequestQueue::add(int client, std::string text) {
  std::string kind = kind_of_question(text);
  auto& waiting = waiting_[client];
  if (!kind.empty()) {
    // Requests before one that changes the scene ask for the state before the change, and stay.
    for (auto older = waiting.end(); older != waiting.begin() && !std::prev(older)->kind.empty();) {
      --older;
      if (older->kind == kind) older = waiting.erase(older);
    }
  }
  if (waiting.size() >= most_per_client) return false;
  waiting.push_back({std::move(kind), std::move(text)});
  return true;
}

std::optional<RequestQueue::Next> RequestQueue::take() {
  if (waiting_.empty()) return std::nullopt;
  auto turn = waiting_.upper_bound(last_client_);
  if (turn == waiting_.end()) turn = waiting_.begin();
  last_client_ = turn->first;
  Next next{turn->first, std::move(turn->second.front().text)};
  turn->second.pop_front();
  if (turn->second.empty()) waiting_.erase(turn);
  return next;
}

}  // namespace hushed::detail
