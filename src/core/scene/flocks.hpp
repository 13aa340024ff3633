// SPDX-License-Identifier: MIT
#pragma once

// Answers the queries of agents for neighbours and obstacles, from committed poses of the last tick.
//
// A flock is all objects with one tag, in the space of one parent. At each tick its grid is sorted anew and all queries
// are answered in the order of the grid's cells, so that a large flock passes through the caches once.

#include <array>
#include <set>
#include <span>
#include <string>
#include <vector>

#include "lanes/caches.hpp"
#include "neighbours.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

class Flocks {
 public:
  Flocks(const Registry& registry, const TickMemory& ticks) : registry_{registry}, ticks_{ticks} {}

  /// Objects that query neighbours, or whose tag is queried, in the order of their names.
  static std::vector<Index> find_movers(const Registry& registry);
  /// Marks the objects whose last pose is needed: parents of observers, and obstacles.
  static void mark_observed(const Registry& registry, std::vector<bool>& visited);

  /// Collects all queries. Called after a new layout, once `TickMemory` has its objects.
  void plan();
  /// The radius of a query has changed; `update` must plan first.
  void plan_again() { is_stale_ = true; }
  /// True where a query asks for one of these tags.
  bool seek_one_of(std::span<const std::string> tags) const;
  /// The place of an object in `TickMemory::movers`; none where its movements are not queried.
  Index place_of_mover(Index object) const { return object < mover_places_.size() ? mover_places_[object] : none; }
  bool is_stale() const { return is_stale_; }
  /// Answers all queries from the poses of the last tick.
  void update() noexcept;

  std::span<const NeighbourSums> neighbour_sums(Index behaviour) const;
  std::span<const Obstacle> obstacles(Index behaviour, std::size_t query) const;

 private:
  /// The space of an observer: that of its parent, or of the world.
  struct Frame {
    Index parent;  ///< none: the world
    Inherit inherit;
    bool operator==(const Frame&) const = default;
  };
  /// All objects with a tag, in the space of a frame.
  struct Tagged {
    std::string_view tag;
    Frame frame;
    bool level = false;  ///< heights do not count
    bool operator==(const Tagged&) const = default;
  };
  struct Question {
    NeighbourQuery::Of of;
    double within;
    Index answer;  ///< index of its result, counted from the observer's first
    bool operator==(const Question&) const = default;
  };
  /// An object that queries neighbours.
  struct Observer {
    Index first_question = 0, questions = 0;  ///< shared by observers with the same queries
    Index first_answer = 0;
  };
  /// An observer that is no member of the flock, or a second behaviour of a member.
  struct Outsider {
    Observer observer;
    Index member;  ///< its index in the flock, or none
    Index place;   ///< index in `TickMemory::moves`
  };
  struct Flock {
    Tagged who;
    double reach = 0.0;         ///< m: the largest radius of all queries
    std::vector<Index> places;  ///< of the members in `TickMemory::moves`; in the order of names
    std::vector<Move> moves;    ///< of the members; empty where those of the tick memory are used directly
    std::vector<std::uint8_t> is_there;
    std::vector<Question> questions;
    std::vector<Observer> observers;  ///< one for each member; without questions where it queries nothing
    std::vector<Outsider> outsiders;
    Neighbours grid;
  };
  struct Obstacles {
    Tagged who;
    std::vector<Index> objects, poses;  ///< the objects, and their indices in the poses of `TickMemory`
    std::vector<Obstacle> here;
    std::size_t count = 0;  ///< of those that exist and are visible
  };
  struct Asker {
    Index first_answer = 0, answers = 0;
    Index first_obstacles = 0, obstacles = 0;  ///< in `obstacles_asked_`: one for each query of obstacles
  };

  Frame frame_of(Index object) const;
  Index flock_of(const Tagged& who);
  Index obstacles_of(const Tagged& who);
  void ask(Index behaviour, std::span<const NeighbourQuery> neighbour_queries);
  void ask(Flock& flock, Index object, const Asker& asker, std::span<const NeighbourQuery> neighbour_queries);
  PoseOf<double> frame_at(const Frame& frame, const std::vector<Pose>& poses) const;
  std::span<const Move> moves_of(const Flock& flock) const;
  void gather(Flock& flock) const noexcept;
  void gather(Obstacles& obstacles) const noexcept;
  void answer_all(Flock& flock) noexcept;
  void answer(const Flock& flock, const Observer& observer, const VecOf<double>& here,
              std::span<const std::uint32_t> found);

  const Registry& registry_;
  const TickMemory& ticks_;
  std::vector<Flock> flocks_;
  std::vector<Obstacles> obstacles_;
  std::vector<Asker> askers_;  ///< by behaviour; empty where there are no queries
  std::vector<Index> obstacles_asked_;
  LargeVector<NeighbourSums> answers_;
  std::vector<Index> mover_places_;          ///< by object; scratch of `plan`
  std::array<std::vector<double>, 3> ways_;  ///< scratch: from an observer to the candidates: x, y and z
  std::vector<double> squares_;              ///< scratch: squared distances
  std::vector<double> is_near_, shares_;     ///< scratch: 1 or 0; weight in the sum
  std::set<std::string> tags_;               ///< of all queries
  bool is_stale_ = false;
};

/// True where the queries ask for other tags or kinds of neighbours, and so need a new layout. `has_equal_range`: true
/// where all radii are equal.
bool needs_other_neighbours(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now);
bool has_equal_range(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now);

}  // namespace hushed::detail
