#pragma once

// What agents see of those with a tag, as they were shown at the last tick: neighbours, and what is in the way.
//
// A flock is everybody with one tag, as seen in the space of one parent. At each tick its grid is made anew, and those
// who look for neighbours are answered in the order of its cells, so that a large flock goes through the caches once.

#include <array>
#include <span>
#include <vector>

#include "neighbours.hpp"
#include "stage/cast.hpp"

namespace hushed::inside {

/// Poses of the objects that somebody reads as they were at the last tick. Held for the whole step from a tick,
/// its end included, so there are two: of the last tick, and of the one before.
struct TickMemory {
  Time at = {};
  double step = 0.0;           ///< s between the two; 0 before there are two
  std::vector<Index> objects;  ///< sorted
  std::vector<Pose> before, last;

  /// Where an object is in these, which it must be.
  Index place_of(Index object) const;
};

class Flocks {
 public:
  Flocks(const Cast& cast, const TickMemory& ticks) : cast_{cast}, ticks_{ticks} {}

  /// Marks those whose last tick must be known: who looks about, its parent, and all with a tag that it looks for.
  static void mark_seen(const Cast& cast, std::vector<bool>& seen);

  /// Finds who looks for whom, once it is known who is seen at ticks.
  void plan();
  /// How far somebody looks is not as it was planned.
  void plan_again() { is_stale_ = true; }
  bool is_stale() const { return is_stale_; }
  /// Everybody looks about, once a tick is committed.
  void look() noexcept { look(is_stale_ ? Earlier::from_ticks : Earlier::as_it_was); }
  /// The same where what was seen at the last tick is not as it was when they last did.
  void look_again() noexcept { look(Earlier::from_ticks); }

  std::span<const Sensed> sensed(Index behaviour) const;
  std::span<const Obstacle> obstacles(Index behaviour, std::size_t sense) const;

 private:
  /// The space in which somebody looks: that of a parent, or of the world.
  struct Frame {
    Index parent;  ///< none: the world
    Inherit inherit;
    bool operator==(const Frame& other) const;
  };
  struct Question {
    Sense::Of of;
    double within;
    Index answer;  ///< where it goes, from the looker's first answer on
    bool operator==(const Question&) const = default;
  };
  /// Somebody who looks for neighbours.
  struct Looker {
    Index itself;  ///< its number among the members; none where it is none of them
    Index tick_place;
    Index first_question, questions;  ///< those that look for the same have them in common
    Index first_answer;
  };
  struct Flock {
    std::string_view tag;
    Frame frame;
    double reach = 0.0;                              ///< m: the furthest that anybody looks
    std::vector<Index> objects, tick_places;         ///< of the members, in the order of their names
    std::vector<std::pair<Index, Index>> by_object;  ///< an object, and its number among the members
    std::vector<VecOf<double>> points, earlier;      ///< at the last tick, and at the one before
    std::vector<std::uint8_t> is_there;
    std::vector<Question> questions;
    std::vector<Looker> lookers;  ///< those that are no members
    std::vector<Looker> members;  ///< of each member; without questions where it does not look
    Neighbours grid;
    std::vector<VecOf<double>> velocities_by_cell;  ///< in the order of the grid
  };
  struct Obstacles {
    std::string_view tag;
    Frame frame;
    std::vector<Index> objects, tick_places;
    std::vector<Obstacle> here;
    std::size_t count = 0;  ///< of those that are there
  };
  struct Asker {
    Index first_answer = 0, answers = 0;
    std::vector<Index> obstacles;  ///< which, of each sense of them
  };

  Frame frame_of(Index object) const;
  std::vector<Index> with_tag(std::string_view tag) const;
  Index flock_of(std::string_view tag, const Frame& frame);
  Index obstacles_of(std::string_view tag, const Frame& frame);
  void ask(Index behaviour, std::span<const Sense> senses);
  Pose frame_at(const Frame& frame, const std::vector<Pose>& poses) const;
  enum class Earlier { as_it_was, from_ticks };
  void look(Earlier earlier) noexcept;
  void gather(const Flock& flock, const std::vector<Pose>& poses, std::vector<VecOf<double>>& points) const noexcept;
  void sort(Flock& flock, Earlier earlier) noexcept;
  void gather(Obstacles& obstacles) const noexcept;
  void answer(Flock& flock, const Looker& looker, const VecOf<double>& here) noexcept;

  const Cast& cast_;
  const TickMemory& ticks_;
  std::vector<Flock> flocks_;
  std::vector<Obstacles> obstacles_;
  std::vector<Asker> askers_;  ///< by behaviour; empty where nobody looks about
  std::vector<Sensed> answers_;
  std::array<std::vector<double>, 3> ways_;  ///< to those that one of them sees: x, y and z
  std::vector<double> squares_;              ///< of their lengths
  std::vector<double> is_near_, shares_;     ///< 1 or 0; of each in what is summed
  bool is_stale_ = false;
};

/// Whom it looks about for is others, and how far it looks.
bool looks_for_others(std::span<const Sense> before, std::span<const Sense> now);
bool looks_as_far(std::span<const Sense> before, std::span<const Sense> now);

}  // namespace hushed::inside
