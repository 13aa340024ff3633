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
#include "stage/cast.hpp"
#include "stage/tick_memory.hpp"

namespace hushed::inside {

class Flocks {
 public:
  Flocks(const Cast& cast, const TickMemory& ticks) : cast_{cast}, ticks_{ticks} {}

  /// All who look for neighbours or have a tag that is looked for, in the order of their names.
  static std::vector<Index> find_movers(const Cast& cast);
  /// Marks those whose last pose must be known: the parents of who looks about, and what may be in the way.
  static void mark_seen(const Cast& cast, std::vector<bool>& seen);

  /// Finds who looks for whom, once it is known who is seen at ticks.
  void plan();
  /// How far somebody looks is not as it was planned.
  void plan_again() { is_stale_ = true; }
  bool is_stale() const { return is_stale_; }
  /// Everybody looks about, as all were at the last tick.
  void look() noexcept;

  std::span<const Sensed> sensed(Index behaviour) const;
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
    Sense::Of of;
    double within;
    Index answer;  ///< where it goes, from the looker's first answer on
    bool operator==(const Question&) const = default;
  };
  /// Somebody who looks for neighbours.
  struct Looker {
    Index first_question = 0, questions = 0;  ///< those that look for the same have them in common
    Index first_answer = 0;
  };
  /// One that is no member of the flock, or that looks a second time.
  struct Outsider {
    Looker looker;
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
    std::vector<Looker> lookers;  ///< the members; without questions where one does not look
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
  void ask(Index behaviour, std::span<const Sense> senses);
  void ask(Flock& flock, Index object, const Asker& asker, std::span<const Sense> senses);
  PoseOf<double> frame_at(const Frame& frame, const std::vector<Pose>& poses) const;
  std::span<const Move> moves_of(const Flock& flock) const;
  void gather(Flock& flock) const noexcept;
  void gather(Obstacles& obstacles) const noexcept;
  void answer_all(Flock& flock) noexcept;
  void answer(const Flock& flock, const Looker& looker, const VecOf<double>& here,
              std::span<const std::uint32_t> found) noexcept;

  const Cast& cast_;
  const TickMemory& ticks_;
  std::vector<Flock> flocks_;
  std::vector<Obstacles> obstacles_;
  std::vector<Asker> askers_;  ///< by behaviour; empty where nobody looks about
  std::vector<Index> obstacles_asked_;
  LargeVector<Sensed> answers_;
  std::vector<Index> mover_places_;          ///< by object, while it is planned
  std::array<std::vector<double>, 3> ways_;  ///< to those that one of them sees: x, y and z
  std::vector<double> squares_;              ///< of their lengths
  std::vector<double> is_near_, shares_;     ///< 1 or 0; of each in what is summed
  bool is_stale_ = false;
};

/// Whom it looks about for is others, and how far it looks.
bool looks_for_others(std::span<const Sense> before, std::span<const Sense> now);
bool looks_as_far(std::span<const Sense> before, std::span<const Sense> now);

}  // namespace hushed::inside
