// SPDX-License-Identifier: MIT
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

struct MotionFile;

/// The file whose motion is replayed: a glTF 2.0 file, or a recording. In scene files by its name; in C++ its content.
class MotionSource {
 public:
  MotionSource() = default;
  MotionSource(std::shared_ptr<const MotionFile> from, std::string file_name = "")
      : content{std::move(from)}, file{std::move(file_name)} {}

  std::shared_ptr<const MotionFile> content = {};
  std::string file = {};   ///< as it is written
  std::string owner = {};  ///< the name of the object that replays it
  TextPlace place = {};    ///< where it is written

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, MotionSource& to);
  friend HUSHED_API std::optional<Value> write(const MotionSource& from, const Unit& unit);
  friend HUSHED_API Form form_of(const MotionSource*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(MotionSource& to, const detail::Names& names);
  friend HUSHED_API bool renew(MotionSource& to, const MotionSource& from);
};

/// What happens at the end of a clip.
enum class ReplayEnds { stop, loop, return_ };

constexpr auto choices(ReplayEnds) {
  return Choices<ReplayEnds, 3>{
      {{ReplayEnds::stop, "stop"}, {ReplayEnds::loop, "loop"}, {ReplayEnds::return_, "return"}}};
}

/// Replays the recorded motion of an object, in the parent's space: a function of time alone, at any frame rate.
///
/// Between two keys as glTF 2.0 says (appendix C): step, linear (rotations along the shortest arc at constant speed),
/// or a cubic Hermite spline, whose rotations are normalised. A part of the pose without keys stays as it comes in.
struct Replay {
  MotionSource file = {};
  std::string clip = {};           ///< the name of an animation; the first that has the object where empty
  std::string object = {};         ///< whose motion it is; the object's own name where empty
  double speed = 1.0;              ///< seconds of the clip in a second; negative goes backwards
  std::optional<Time> start = {};  ///< in the clip; where left out 0, or its end where it goes backwards
  ReplayEnds ends = ReplayEnds::stop;
  /// The parts of the pose that are replayed, where they have keys; not empty.
  std::vector<Channel> channels = {Channel::position, Channel::rotation, Channel::scale};
  Time blend = {};  ///< with `loop`: the time before the end in which it goes over to the beginning

  static constexpr auto kind = "replay";
};

template <>
const detail::Kind& detail::kind_of<Replay>();

}  // namespace hushed
