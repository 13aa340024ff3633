// SPDX-License-Identifier: MIT
#include "comparing.hpp"

#include <algorithm>
#include <limits>
#include <utility>

namespace hushed::detail {

namespace {

constexpr double most_seconds = 60.0, frames_per_second = 30.0;

}  // namespace

Comparing::PlayBeside::PlayBeside(Scene made, std::int64_t frames)
    : scene{std::move(made)}, times{frames_per_second}, left{frames} {}

void Comparing::PlayBeside::go_on(const std::function<bool()>& goes_on) {
  do {
    const Time next = start + times.next();
    scene.advance(next - scene.time());
    builder.add(next, scene.events());
  } while (--left > 0 && goes_on());
}

void Comparing::begin(PlayMode& mode, int client, const Request& request, const std::array<Try, 2>& tries,
                      const std::string& present, std::vector<std::size_t> objects,
                      const std::function<Scene(const Try&)>& scene_of) {
  leave(client);
  mode.resume();
  const double length = std::clamp(request.number("seconds"), 0.1, most_seconds);
  const auto frames = static_cast<std::int64_t>(length * frames_per_second);
  const auto ask = static_cast<std::uint32_t>(request.whole("ask", 0, 4e9 - 1));
  const std::vector<PlayMode::Changed> changed = mode.changed();
  Pending pending{client, tries, {ask, ask + 1}, {}, {}};
  for (const std::size_t object : objects) pending.objects.push_back(mode.past().objects[object]);
  for (std::size_t i = 0; i < 2; ++i) {
    if (tries[i].text == present)
      pending.plays[i].ahead = mode.begin_ahead(frames, frames_per_second, changes_to(tries[i], changed));
    else
      pending.plays[i].beside = std::make_unique<PlayBeside>(scene_of(tries[i]), frames + 1);
  }
  pending_.push_back(std::move(pending));
}

/// The path of an object that the play does not have is not a number.
std::string Comparing::path_bytes(const Pending& pending, std::size_t which) {
  const Recording& play = pending.plays[which].recording();
  Recording paths;
  paths.objects = pending.objects;
  paths.times = play.times;
  Stretch stretch{pending.asks[which], {}, 0, 0, 1};
  const double nowhere = std::numeric_limits<double>::quiet_NaN();
  for (std::size_t frame = 0; frame < play.frames(); ++frame)
    for (const std::string& object : pending.objects) {
      const auto found = play.find(object);
      paths.poses.push_back(found ? play.at(frame, *found) : at(nowhere, nowhere, nowhere));
    }
  for (std::size_t i = 0; i < pending.objects.size(); ++i) stretch.objects.push_back(i);
  return ahead_bytes(paths, stretch);
}

std::vector<Comparing::Result> Comparing::work(PlayMode& mode, const std::function<bool()>& goes_on) {
  std::vector<Result> results;
  bool is_first = true;
  for (; !pending_.empty() && (is_first || goes_on()); is_first = false) {
    Pending pending = std::move(pending_.front());
    pending_.pop_front();
    try {
      for (Play& play : pending.plays)
        if (!play.is_complete()) play.beside ? play.beside->go_on(goes_on) : mode.continue_ahead(*play.ahead, goes_on);
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
    for (std::size_t i = 0; i < 2; ++i) result.messages.push_back({path_bytes(pending, i), Message::Kind::bytes});
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
