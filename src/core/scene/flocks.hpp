// SPDX-License-Identifier: MIT
#pragma once

// What agents see of those with a tag, as they were shown at the last tick: neighbours, and what is in the way.
//
// A flock is everybody with one tag, as seen in the space of one parent. At each tick its grid is made anew, and those
// who look for neighbours are answered in the order of its cells, so that a large flock goes through the caches once.

#include <array>
#include <span>
#include <vector>

#include "lanes/caches.hpp"
#include "neighbours.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

class Flocks {
 public:
  Flocks(const Registry& registry, const TickMemory& ticks) : registry_{registry}, ticks_{ticks} {}

  /// All who look for neighbours or have a tag that is looked for, in the order of their names.
  static std::vector<Index> find_movers(const Registry& registry);
  /// Marks those whose last pose must be known: the parents of who looks about, and what may be in the way.
  static void mark_observed(const Registry& registry, std::vector<bool>& visited);

  /// Finds who looks for whom, once it is known who is seen at ticks.
  void plan();
  /// How far somebody looks is not as it was planned.
  void plan_again() { is_stale_ = true; }
  bool is_stale() const { return is_stale_; }
  /// Everybody looks about, as all were at the last tick.
  void update() noexcept;

  std::span<const NeighbourSums> neighbour_sums(Index behaviour) const;
  std::span<const Obstacle> obstacles(Index behaviour, std::size_t sense) const;

 private:
  /// The space in which somebody looks: that of a parent, or of the world.
  struct Frame {
    Index parent;  ///< none: the world
    Inherit inherit;
    bool operator==(const Frame&) const = default;
  };
  /// All with a tag, as they are seen from there.
  struct Tagged {
    std::string_view tag;
    Frame frame;
    bool level = false;  ///< as if all were at the same height
    bool operator==(const Tagged&) const = default;
  };
  struct Question {
    NeighbourQuery::Of of;
    double within;
    Index answer;  ///< where it goes, from the looker's first answer on
    bool operator==(const Question&) const = default;
  };
  /// Somebody who looks for neighbours.
  struct Observer {
    Index first_question = 0, questions = 0;  ///< those that look for the same have them in common
    Index first_answer = 0;
  };
  /// One that is no member of the flock, or that looks a second time.
  struct Outsider {
    Observer observer;
    Index member;  ///< its number, or none
    Index place;   ///< in the memory of the last tick
  };
  struct Flock {
    Tagged who;
    double reach = 0.0;         ///< m: the furthest that anybody looks
    std::vector<Index> places;  ///< of the members in the memory of the last tick, and so in the order of their names
    std::vector<Move> moves;    ///< theirs; none where they are those in the memory
    std::vector<std::uint8_t> is_there;
    std::vector<Question> questions;
    std::vector<Observer> observers;  ///< the members; without questions where one does not look
    std::vector<Outsider> outsiders;
    Neighbours grid;
  };
  struct Obstacles {
    Tagged who;
    std::vector<Index> objects, poses;  ///< where they are among those whose poses are read
    std::vector<Obstacle> here;
    std::size_t count = 0;  ///< of those that are there
  };
  struct Asker {
    Index first_answer = 0, answers = 0;
    Index first_obstacles = 0, obstacles = 0;  ///< in `obstacles_asked_`: which, of each sense of them
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
              std::span<const std::uint32_t> found) noexcept;

  const Registry& registry_;
  const TickMemory& ticks_;
  std::vector<Flock> flocks_;
  std::vector<Obstacles> obstacles_;
  std::vector<Asker> askers_;  ///< by behaviour; empty where nobody looks about
  std::vector<Index> obstacles_asked_;
  LargeVector<NeighbourSums> answers_;
  std::vector<Index> mover_places_;          ///< by object, while it is planned
  std::array<std::vector<double>, 3> ways_;  ///< to those that one of them sees: x, y and z
  std::vector<double> squares_;              ///< of their lengths
  std::vector<double> is_near_, shares_;     ///< 1 or 0; of each in what is summed
  bool is_stale_ = false;
};

/// ObjectOrTag it looks about for is others, and how far it looks.
bool needs_other_neighbours(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now);
bool has_equal_range(std::span<const NeighbourQuery> before, std::span<const NeighbourQuery> now);

}  // namespace hushed::detail
