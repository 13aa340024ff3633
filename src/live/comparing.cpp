// SPDX-License-Identifier: MIT
#include "comparing.hpp"

#include <algorithm>
#include <utility>

namespace hushed::detail {

namespace {

constexpr double most_seconds = 60.0, frames_per_second = 30.0;

}  // namespace

void Comparing::begin(PlayMode& mode, int client, const Request& request, const std::array<Try, 2>& tries,
                      std::vector<std::size_t> objects) {
  if (tries[0].text != tries[1].text)
    throw BadValue{"the tries " + tries[0].name + " and " + tries[1].name +
                   " differ in objects, behaviours or rules; only tries with other values can be compared."};
  leave(client);
  mode.resume();
  const double length = std::clamp(request.number("seconds"), 0.1, most_seconds);
  const auto frames = static_cast<std::int64_t>(length * frames_per_second);
  const auto ask = static_cast<std::uint32_t>(request.whole("ask", 0, 4e9 - 1));
  const auto stretch = [&](std::uint32_t number) {
    return Stretch{number, objects, mode.current(), mode.current(), 1};
  };
  const std::vector<PlayMode::Changed> present = mode.changed();
  const auto play = [&](const Try& each) {
    return mode.begin_ahead(frames, frames_per_second, changes_to(each, present));
  };
  pending_.push_back({client, tries, {stretch(ask), stretch(ask + 1)}, {play(tries[0]), play(tries[1])}});
}

std::vector<Comparing::Result> Comparing::work(PlayMode& mode, const std::function<bool()>& goes_on) {
  std::vector<Result> results;
  bool is_first = true;
  for (; !pending_.empty() && (is_first || goes_on()); is_first = false) {
    Pending pending = std::move(pending_.front());
    pending_.pop_front();
    try {
      for (PlayMode::Ahead& play : pending.plays)
        if (!play.is_complete()) mode.continue_ahead(play, goes_on);
    } catch (const BadValue&) {  // the scene was edited or read again: the frame it started from is gone
      results.push_back(
          {pending.client,
           {{Json{{"kind", "refused"}, {"do", "compare"}, {"text", "the scene has changed meanwhile."}}.dump()}}});
      continue;
    }
    if (!pending.plays[0].is_complete() || !pending.plays[1].is_complete()) {
      pending_.push_front(std::move(pending));
      continue;
    }
    const auto& [one, other] = pending.plays;
    Result result{pending.client, {}};
    for (std::size_t i = 0; i < 2; ++i)
      result.messages.push_back(
          {ahead_bytes(pending.plays[i].recording(), pending.stretches[i]), Message::Kind::bytes});
    const Json told =
        comparison_in_json({&pending.tries[0], &pending.tries[1]}, {&one.recording(), &other.recording()});
    result.messages.push_back({told.dump(-1, ' ', false, Json::error_handler_t::replace)});
    results.push_back(std::move(result));
  }
  return results;
}

void Comparing::leave(int client) {
  std::erase_if(pending_, [client](const Pending& pending) { return pending.client == client; });
}

}  // namespace hushed::detail
