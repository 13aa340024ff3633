// SPDX-License-Identifier: MIT
// Computes a whole layout from the registry.

#include "scene/layout.hpp"

#include <algorithm>
#include <limits>
#include <map>
#include <numeric>
#include <tuple>
#include <unordered_map>
#include <unordered_set>

#include "scene/flocks.hpp"

namespace hushed::detail {

namespace {

/// The number of objects of a chunk: what fits the second-level cache. With several threads, chunks are smaller where
/// there are few objects, so that each thread has several.
std::size_t chunk_size(std::size_t objects, int threads) {
  constexpr std::size_t smallest = 256, largest = 2048, chunks_a_thread = 4;
  if (threads == 1) return largest;
  return std::clamp(objects / (chunks_a_thread * static_cast<std::size_t>(threads)), smallest, largest);
}

/// Lists of `to` by `from`. `for_each_pair` must visit the pairs twice in the same order.
template <class ForEachPair>
Lists gather(std::size_t count, ForEachPair&& for_each_pair) {
  Lists lists;
  lists.first.assign(count + 1, 0);
  for_each_pair([&](Index from, Index) { ++lists.first[from + 1]; });
  std::partial_sum(lists.first.begin(), lists.first.end(), lists.first.begin());
  lists.items.resize(lists.first.back());
  std::vector<Index> at(lists.first.begin(), lists.first.end() - 1);
  for_each_pair([&](Index from, Index to) { lists.items[at[from]++] = to; });
  return lists;
}

class Builder {
 public:
  Builder(Registry& registry, int threads)
      : registry_{registry}, chunk_size_{chunk_size(registry.alive_count, threads)} {}

  Layout build() {
    for (ObjectRecord& object : registry_.objects) object.location.reset();
    for (BehaviourRecord& behaviour : registry_.behaviours) behaviour.location.reset();
    find_dependants();
    put_in_order();
    find_ticked();
    make_signatures();
    find_touched();
    reserve();
    std::size_t from = 0;
    while (from < order_.size()) from = make_chunk(from);
    layout_.make_waves();
    fill_batches();
    find_readers();
    for (const Index object : layout_.movers_at_ticks)
      layout_.lanes_of_movers.push_back(registry_.lane_of_world(object));
    return std::move(layout_);
  }

 private:
  /// Objects may be added to the layout without moving the world poses, to which kernels point.
  void reserve() {
    const std::size_t blocks = order_.size() * 3 / 2 / lanes + 2 * signatures_.size() + 32;
    layout_.rests.reserve(blocks);
    layout_.worlds.reserve(blocks);
  }

  bool here(Index object) const { return registry_.presences[object].is_alive(); }

  void find_dependants() {
    const auto count = registry_.objects.size();
    dependants_ = gather(count, [&](auto&& pair) {
      for (Index object = 0; object < count; ++object)
        if (here(object)) registry_.for_dependencies(object, [&](Index on) { pair(on, object); });
    });
  }

  /// Kahn's algorithm with a stack in place of a queue: depth first.
  void put_in_order() {
    const auto count = static_cast<Index>(registry_.objects.size());
    std::vector<Index> missing(count, 0);
    for (Index object = 0; object < count; ++object)
      for (const Index dependant : dependants_.of(object)) ++missing[dependant];

    std::vector<Index> open;
    for (Index root = 0; root < count; ++root) {
      if (!here(root) || missing[root] != 0 || is_dependant(root)) continue;
      open.push_back(root);
      while (!open.empty()) {
        const Index object = open.back();
        open.pop_back();
        order_.push_back(object);
        for (const Index dependant : dependants_.of(object))
          if (--missing[dependant] == 0) open.push_back(dependant);
      }
    }

    std::vector<std::size_t> place(count, 0);
    for (std::size_t at = 0; at < order_.size(); ++at) place[order_[at]] = at;
    last_dependant_.assign(order_.size(), 0);
    for (std::size_t at = 0; at < order_.size(); ++at)
      for (const Index dependant : dependants_.of(order_[at]))
        last_dependant_[at] = std::max(last_dependant_[at], place[dependant]);
  }

  bool is_dependant(Index object) const {
    bool any = false;
    registry_.for_dependencies(object, [&](Index) { any = true; });
    return any;
  }

  /// Finds the objects evaluated at ticks: those with state, their dependencies, and those whose last tick is read.
  void find_ticked() {
    const auto count = registry_.objects.size();
    ticked_.assign(count, false);
    std::vector<bool> visited(count, false);
    std::unordered_set<const void*> marked;  // lists shared by many
    const auto mark = [&](Object target) {
      if (registry_.alive(target)) visited[target.index] = true;
    };
    layout_.any_ticked = registry_.has_rules;
    for (const Index object : order_) {
      if (layout_needs(registry_, object).ticks) ticked_[object] = true;
      registry_.for_stack(object, [&](Index b) {
        const BehaviourRecord& behaviour = registry_.behaviours[b];
        if (behaviour.common.reads != Reads::last_tick) return;
        for (const Object& target : behaviour.dependencies.each) mark(target);
        for (const ObjectList& list : behaviour.dependencies.lists)
          if (marked.insert(list.get()).second)
            for (const Object& target : *list) mark(target);
      });
    }
    layout_.movers_at_ticks = Flocks::find_movers(registry_);
    Flocks::mark_observed(registry_, visited);
    for (Index object = 0; object < count; ++object)
      if (visited[object]) layout_.read_at_ticks.push_back(object);
    for (const auto* const those : {&layout_.read_at_ticks, &layout_.movers_at_ticks})
      for (const Index object : *those) ticked_[object] = true;
    for (auto object = order_.rbegin(); object != order_.rend(); ++object) {
      if (!ticked_[*object]) continue;
      layout_.any_ticked = true;
      registry_.for_dependencies(*object, [&](Index on) { ticked_[on] = true; });
    }
    find_independent();
  }

  /// Finds the independent groups: ticked, without readers at ticks and without dependencies that move or input.
  void find_independent() {
    independent_ = ticked_;
    for (const auto* const those : {&layout_.read_at_ticks, &layout_.movers_at_ticks})
      for (const Index object : *those) independent_[object] = false;
    for (const Index object : order_) {
      if (!ticked_[object]) continue;
      if (layout_needs(registry_, object).every_tick) independent_[object] = false;
      registry_.for_dependencies(object, [&](Index on) {
        independent_[on] = false;
        if (!is_still(on)) independent_[object] = false;
      });
    }
  }

  bool is_still(Index object) const {
    return registry_.objects[object].parent == none && registry_.objects[object].first_behaviour == none;
  }

  void make_signatures() {
    signature_.assign(registry_.objects.size(), 0);
    std::vector<Index> batches;
    for (const Index object : order_) {
      batches.clear();
      registry_.for_stack(object,
                          [&](Index b) { batches.push_back(layout_.batch_of(registry_, registry_.behaviours[b])); });
      const auto [found, is_new] = signature_ids_.try_emplace(batches, signatures_.size());
      if (is_new) signatures_.push_back(batches);
      signature_[object] = found->second;
    }
  }

  /// Finds which parts of world poses may change.
  void find_touched() {
    touched_.assign(registry_.objects.size(), 0);
    for (const Index object : order_) {
      const ObjectRecord& record = registry_.objects[object];
      unsigned& touched = touched_[object];
      touched = touched_by_parent(record, record.parent == none ? 0U : touched_[record.parent]);
      for (const Index batch : signatures_[signature_[object]]) touched |= layout_.batches[batch].touches;
      registry_.for_stack(object, [&](Index b) { touched |= registry_.behaviours[b].run.once_touched; });
    }
  }

  /// Makes a chunk from the index `from` of the order on, and returns where the next begins.
  std::size_t make_chunk(std::size_t from) {
    const std::size_t to = end_of_chunk(from);
    const auto chunk = static_cast<Index>(layout_.chunks.size());
    level_.resize(registry_.objects.size(), 0);
    in_chunk_.resize(registry_.objects.size(), none);
    std::vector<Index> members(order_.begin() + static_cast<std::ptrdiff_t>(from),
                               order_.begin() + static_cast<std::ptrdiff_t>(to));
    for (const Index object : members) {
      in_chunk_[object] = chunk;
      level_[object] = 0;
      registry_.for_dependencies(object, [&](Index on) {
        if (in_chunk_[on] == chunk) level_[object] = std::max(level_[object], level_[on] + 1);
      });
    }
    std::stable_sort(members.begin(), members.end(), [&](Index a, Index b) { return key(a) < key(b); });

    Chunk& made = layout_.chunks.emplace_back();
    made.first_group = static_cast<Index>(layout_.groups.size());
    made.first_independent = static_cast<Index>(layout_.independent.size());
    made.first_deciding = static_cast<Index>(layout_.deciding.size());
    made.for_any_thread = true;
    for (const Index object : members) {
      registry_.for_dependencies(object, [&](Index on) {
        if (in_chunk_[on] != chunk) made.wave = std::max(made.wave, layout_.chunks[in_chunk_[on]].wave + 1);
      });
      if (!layout_needs(registry_, object).for_any_thread) made.for_any_thread = false;
    }
    for (std::size_t at = 0; at < members.size();) {
      std::size_t end = at + 1;
      while (end < members.size() && key(members[end]) == key(members[at])) ++end;
      make_group({members.data() + at, end - at});
      at = end;
    }
    return to;
  }

  /// The end of a chunk of one to two times the wanted size: the first of the places where the fewest of its objects
  /// have dependants behind it, so that few chunks depend on another.
  std::size_t end_of_chunk(std::size_t from) const {
    if (order_.size() - from <= chunk_size_) return order_.size();
    const std::size_t to = std::min(from + 2 * chunk_size_, order_.size());
    std::vector<int> change(to - from + 1, 0);  // of the number of objects that have dependants at or behind a place
    for (std::size_t at = from; at < to; ++at) {
      if (last_dependant_[at] <= at) continue;
      ++change[at + 1 - from];
      if (last_dependant_[at] < to) --change[last_dependant_[at] + 1 - from];
    }
    std::size_t best = to;
    int open = 0, fewest = std::numeric_limits<int>::max();
    for (std::size_t place = from + 1; place <= to; ++place) {
      open += change[place - from];
      if (place < from + chunk_size_ || open >= fewest) continue;
      fewest = open;
      best = place;
    }
    return best;
  }

  std::tuple<Index, bool, bool, bool, int, Index, bool, Index> key(Index object) const {
    const ObjectRecord& record = registry_.objects[object];
    const int inherit = record.inherit.position + 2 * record.inherit.rotation + 4 * record.inherit.scale;
    return {level_[object],
            ticked_[object],
            independent_[object],
            record.parent == none,
            record.parent == none ? 0 : inherit,
            record.clock,
            record.parent != none && (touched_[object] & part::scale) != 0,
            signature_[object]};
  }

  void make_group(std::span<const Index> members) {
    const ObjectRecord& one = registry_.objects[members[0]];
    const bool has_parent = one.parent != none;
    const GroupKey key{ticked_[members[0]],
                       independent_[members[0]],
                       has_parent,
                       has_parent && (touched_[members[0]] & part::scale) != 0,
                       has_parent ? one.inherit : Inherit{},
                       one.clock,
                       signatures_[signature_[members[0]]]};
    const auto blocks = static_cast<Index>((members.size() + lanes - 1) / lanes);
    const Index group = layout_.add_group(key, blocks);
    for (const Index member : members) layout_.add_member(group, member, touched_[member], registry_);
    for (Index block = 0; block < blocks; ++block) layout_.find_parent_block(layout_.groups[group], block);
  }

  void fill_batches() {
    for (Batch& batch : layout_.batches) {
      batch.lane_blocks->resize(batch.blocks());
      for (std::size_t i = 0; i < batch.behaviours.size(); ++i) {
        const std::size_t block = i / lanes;
        const auto lane = static_cast<int>(i % lanes);
        // Unused lanes repeat the first one, so that they compute with finite numbers.
        const Index b = batch.behaviours[i] != none ? batch.behaviours[i] : batch.behaviours[block * lanes];
        batch.lane_blocks->fill(block, lane, registry_.behaviours[b].row);
      }
    }
  }

  void find_readers() {
    std::unordered_map<const void*, Index> numbers;
    std::vector<ObjectList> lists;  // each once
    const auto for_behaviours = [&](auto&& visit) {
      for (const Index object : order_) registry_.for_stack(object, visit);
    };
    for_behaviours([&](Index b) {
      for (const ObjectList& list : registry_.behaviours[b].dependencies.lists)
        if (numbers.try_emplace(list.get(), static_cast<Index>(lists.size())).second) lists.push_back(list);
    });
    layout_.readers_of = gather(registry_.objects.size(), [&](auto&& pair) {
      for_behaviours([&](Index b) {
        for (const Object& target : registry_.behaviours[b].dependencies.each)
          if (registry_.alive(target)) pair(target.index, b);
      });
    });
    layout_.lists_with = gather(registry_.objects.size(), [&](auto&& pair) {
      for (Index list = 0; list < lists.size(); ++list)
        for (const Object& target : *lists[list])
          if (registry_.alive(target)) pair(target.index, list);
    });
    layout_.readers_of_list = gather(lists.size(), [&](auto&& pair) {
      for_behaviours([&](Index b) {
        for (const ObjectList& list : registry_.behaviours[b].dependencies.lists) pair(numbers.at(list.get()), b);
      });
    });
    layout_.lists = std::move(lists);
  }

  Registry& registry_;
  const std::size_t chunk_size_;
  Layout layout_;
  Lists dependants_;
  std::vector<Index> order_;
  std::vector<std::size_t> last_dependant_;  ///< of each object in the order: the place of its last dependant, or 0
  std::vector<bool> ticked_, independent_;
  std::vector<unsigned> touched_;  ///< of each object: `Group::touched`
  std::vector<Index> level_, in_chunk_, signature_;
  std::map<std::vector<Index>, Index> signature_ids_;
  std::vector<std::vector<Index>> signatures_;
};

}  // namespace

Layout lay_out(Registry& registry, int threads) { return Builder{registry, threads}.build(); }

}  // namespace hushed::detail
