// SPDX-License-Identifier: MIT
#include "scene/tick_memory.hpp"

#include <algorithm>
#include <atomic>
#include <utility>

#include "archived_time.hpp"
#include "lanes/conversions.hpp"

namespace hushed::detail {

namespace {

bool is_there(const Presence& object) { return !object.ended && !object.under_hidden; }

std::uint64_t next_edition() {
  static std::atomic<std::uint64_t> last{0};
  return ++last;
}

}  // namespace

void TickMemory::turn_to(Time last_tick, const Layout& layout, const Registry& registry,
                         const std::function<Pose(Index)>& pose_of_new) {
  constexpr auto absent = ~std::uint64_t{0};
  TickMemory next;
  next.at = last_tick;
  next.step = step;
  next.edition = next_edition();
  next.presence_edition_ = absent;
  std::vector<Index> known(registry.objects.size(), none);
  const auto remember = [&known](const std::vector<Index>& those) {
    std::fill(known.begin(), known.end(), none);
    for (Index i = 0; i < those.size(); ++i)
      if (those[i] < known.size()) known[those[i]] = i;
  };

  remember(objects);
  next.objects = layout.read_at_ticks;
  for (const Index object : next.objects) {
    const Index place = known[object];
    next.before.push_back(place != none ? before[place] : pose_of_new(object));
    next.last.push_back(place != none ? last[place] : next.before.back());
  }
  remember(next.objects);
  next.places_ = std::make_shared<const std::vector<Index>>(known);
  remember(movers);
  next.movers = layout.movers_at_ticks;
  for (const Index object : next.movers) {
    const Index place = known[object];
    const auto here = [&] { return numbers(pose_of_new(object).position); };
    next.moves.push_back(place != none ? moves[place] : Move{here(), here()});
    next.is_there.push_back(place != none ? is_there[place] : detail::is_there(registry.presences[object]));
  }
  *this = std::move(next);
}

void TickMemory::commit(Time tick, const Layout& layout, const Registry& registry) noexcept {
  if (tick > at) step = in_seconds(tick - at);
  edition = next_edition();
  at = tick;
  if (tick > Time{0}) std::swap(before, last);
  for (std::size_t i = 0; i < objects.size(); ++i) last[i] = layout.world(registry.lane_of_world(objects[i]));
  constexpr std::size_t soon = 16;
  for (std::size_t i = 0; i < movers.size(); ++i) {
    if (i + soon < movers.size()) fetch(layout.worlds[layout.lanes_of_movers[i + soon] / lanes]);
    const auto now = layout.world_position(layout.lanes_of_movers[i]);
    moves[i] = {now, tick > Time{0} ? moves[i].now : moves[i].before};
  }
}

void TickMemory::archive(Archive& archive, Index count) {
  archive_times(archive, at);
  archive(step, objects, before, last, movers);
  const std::size_t moving = archive.count(moves.size());
  if (archive.is_reading()) moves.assign(moving, {});
  for (Move& move : moves) archive(move.now.x, move.now.y, move.now.z, move.before.x, move.before.y, move.before.z);
  if (!archive.is_reading()) return;

  const auto is_in_scene = [count](Index object) { return object < count; };
  if (before.size() != objects.size() || last.size() != objects.size() || moves.size() != movers.size() ||
      !std::all_of(objects.begin(), objects.end(), is_in_scene) ||
      !std::all_of(movers.begin(), movers.end(), is_in_scene))
    refuse_damaged_bytes();
  edition = next_edition();
  is_there.assign(movers.size(), 0);
  presence_edition_ = ~std::uint64_t{0};
  std::vector<Index> places(count, none);
  for (Index i = 0; i < objects.size(); ++i) places[objects[i]] = i;
  places_ = std::make_shared<const std::vector<Index>>(std::move(places));
}

void TickMemory::update_presence(const Registry& registry) noexcept {
  if (presence_edition_ == registry.presence_edition) return;
  presence_edition_ = registry.presence_edition;
  for (std::size_t i = 0; i < movers.size(); ++i) is_there[i] = detail::is_there(registry.presences[movers[i]]);
}

}  // namespace hushed::detail
