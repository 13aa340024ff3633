// SPDX-License-Identifier: MIT
#include "tries.hpp"

#include <algorithm>
#include <map>
#include <optional>
#include <utility>

#include <hushed/compare.hpp>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

namespace hushed::detail {

namespace {

constexpr std::size_t most_tries = 8;
constexpr std::size_t most_objects = 12, most_events = 20;

Json text_of(const std::optional<Value>& value) { return value ? Json(as_text(*value)) : Json(); }

const PlayMode::Changed* changed_in(const std::vector<PlayMode::Changed>& changes, const std::string& path) {
  const auto found = std::find_if(changes.begin(), changes.end(), [&](const auto& each) { return each.path == path; });
  return found == changes.end() ? nullptr : &*found;
}

/// The time from the beginning of the play after which an object stays within 2 % of its way from its last position.
/// Nothing where that is in the last tenth of the play: it may go on.
Json settled(const Recording& play, std::size_t object) {
  constexpr double band = 0.02, least_band = 1e-3;  // m
  const Vec3 last = play.at(play.frames() - 1, object).position;
  const auto distance = [&](std::size_t frame) { return (play.at(frame, object).position - last).norm(); };
  double way = 0.0;
  for (std::size_t frame = 0; frame < play.frames(); ++frame) way = std::max(way, distance(frame));
  std::size_t first = play.frames() - 1;
  while (first > 0 && distance(first - 1) <= std::max(band * way, least_band)) --first;
  if (first * 10 > play.frames() * 9) return nullptr;
  return in_seconds(play.times[first] - play.times.front());
}

Json values_in_json(const std::array<const Try*, 2>& tries) {
  std::map<std::string, std::array<Json, 2>> values;
  for (std::size_t i = 0; i < 2; ++i)
    for (const PlayMode::Changed& change : tries[i]->changes) {
      auto& both =
          values.try_emplace(change.path, std::array{text_of(change.before), text_of(change.before)}).first->second;
      both[i] = text_of(change.now);
    }
  Json list = Json::array();
  for (const auto& [path, both] : values)
    if (both[0] != both[1]) list.push_back({{"path", path}, {"values", {both[0], both[1]}}});
  return list;
}

/// The first time of each event of each object in each play, from its beginning.
Json events_in_json(const std::array<const Recording*, 2>& plays) {
  std::map<std::string, std::array<Json, 2>> events;
  for (std::size_t i = 0; i < 2; ++i)
    for (const Recording::Happening& each : plays[i]->happenings) {
      Json& time = events[each.words][i];
      if (time.is_null()) time = in_seconds(each.time - plays[i]->times.front());
    }
  Json list = Json::array();
  for (const auto& [words, times] : events)
    if (times[0] != times[1] && list.size() < most_events)
      list.push_back({{"words", words}, {"times", {times[0], times[1]}}});
  return list;
}

}  // namespace

const Try& Tries::add(std::vector<PlayMode::Changed> changes, std::string text) {
  if (tries_.size() >= most_tries) throw BadValue{"there are eight tries; remove one first."};
  std::string name = "A";
  while (std::any_of(tries_.begin(), tries_.end(), [&](const Try& each) { return each.name == name; })) ++name[0];
  tries_.push_back({name, std::move(changes), std::move(text)});
  return tries_.back();
}

void Tries::remove(std::string_view name) {
  (void)find(name);
  std::erase_if(tries_, [&](const Try& each) { return each.name == name; });
}

const Try& Tries::find(std::string_view name) const {
  for (const Try& each : tries_)
    if (each.name == name) return each;
  throw BadValue{"there is no try " + in_quotes(name) + "."};
}

void Tries::take(const std::string& old_text, const std::string& new_text, const std::vector<PlayMode::Changed>& kept) {
  for (Try& each : tries_) {
    for (const PlayMode::Changed& change : kept)
      if (!changed_in(each.changes, change.path)) each.changes.push_back({change.path, change.now, change.before});
    if (each.text == old_text)
      each.text = new_text;
    else
      each.is_outdated = true;
  }
}

Json Tries::in_json() const {
  Json list = Json::array();
  for (const Try& each : tries_) {
    Json values = Json::array();
    for (const PlayMode::Changed& change : each.changes)
      values.push_back({{"path", change.path}, {"now", text_of(change.now)}});
    list.push_back({{"name", each.name}, {"values", values}});
  }
  return list;
}

std::vector<PlayMode::Changed> changes_to(const Try& wanted, const std::vector<PlayMode::Changed>& present) {
  std::vector<PlayMode::Changed> changes;
  for (const PlayMode::Changed& change : present)
    if (!changed_in(wanted.changes, change.path)) changes.push_back({change.path, change.now, change.before});
  for (const PlayMode::Changed& change : wanted.changes) {
    const PlayMode::Changed* const now = changed_in(present, change.path);
    if (!now || text_of(now->now) != text_of(change.now))
      changes.push_back({change.path, now ? now->now : change.before, change.now});
  }
  return changes;
}

Json comparison_in_json(const std::array<const Try*, 2>& tries, const std::array<const Recording*, 2>& plays) {
  const Comparison found = compare(*plays[0], *plays[1]);
  std::vector<const Difference*> moved;
  for (const Difference& difference : found.differences)
    if (difference.channel == Channel::position && difference.largest > 1e-6) moved.push_back(&difference);
  std::stable_sort(moved.begin(), moved.end(), [](const auto* a, const auto* b) { return a->largest > b->largest; });
  if (moved.size() > most_objects) moved.resize(most_objects);
  Json objects = Json::array();
  for (const Difference* const each : moved) {
    Json times = Json::array();
    for (const Recording* const play : plays) times.push_back(settled(*play, *play->find(each->object)));
    objects.push_back({{"name", each->object},
                       {"largest", each->largest},
                       {"at", in_seconds(each->at - plays[0]->times.front())},
                       {"typical", each->typical},
                       {"settled", times}});
  }
  return {{"kind", "comparison"},
          {"tries", {tries[0]->name, tries[1]->name}},
          {"seconds", in_seconds(plays[0]->times.back() - plays[0]->times.front())},
          {"values", values_in_json(tries)},
          {"objects", objects},
          {"only", {found.only_in_first, found.only_in_second}},
          {"structure", tries[0]->text != tries[1]->text},
          {"events", events_in_json(plays)}};
}

}  // namespace hushed::detail
