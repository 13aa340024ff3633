// SPDX-License-Identifier: MIT
#include "predicting.hpp"

#include <algorithm>
#include <iterator>
#include <utility>

#include <hushed/error.hpp>

namespace hushed::detail {

namespace {

constexpr double most_ahead = 60.0;        ///< s
constexpr double ahead_per_second = 30.0;  ///< frames

}  // namespace

void Predicting::begin(PlayMode& mode, int client, std::uint64_t edition, Stretch stretch, double seconds) {
  if (mode.current() != mode.last())
    throw BadValue{"the frames after this one are stored; ask for them with \"past\"."};
  const auto is_of_client = [client](const Pending& pending) { return pending.client == client; };
  std::erase_if(pending_, [&](const Pending& pending) { return is_of_client(pending) && pending.edition == edition; });
  if (std::count_if(pending_.begin(), pending_.end(), is_of_client) > 1)
    pending_.erase(std::prev(std::find_if(pending_.rbegin(), pending_.rend(), is_of_client).base()));
  const auto frames = static_cast<std::int64_t>(std::clamp(seconds, 0.0, most_ahead) * ahead_per_second);
  pending_.push_back({client, edition, std::move(stretch), mode.begin_ahead(frames, ahead_per_second)});
}

std::vector<Predicting::Result> Predicting::work(PlayMode& mode, const std::function<bool()>& goes_on) {
  std::vector<Result> results;
  for (bool is_first = true; !pending_.empty() && (is_first || goes_on()); is_first = false) {
    Pending pending = std::move(pending_.front());
    pending_.pop_front();
    try {
      mode.continue_ahead(pending.ahead, goes_on);
    } catch (const BadValue&) {  // the scene was changed or reloaded: the frame it started from is gone
      continue;
    }
    if (pending.ahead.is_complete())
      results.push_back({pending.client, ahead_bytes(pending.ahead.recording(), pending.stretch)});
    else
      pending_.push_front(std::move(pending));
  }
  return results;
}

void Predicting::leave(int client) {
  std::erase_if(pending_, [client](const Pending& pending) { return pending.client == client; });
}

}  // namespace hushed::detail
