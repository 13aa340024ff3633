// SPDX-License-Identifier: MIT
#pragma once

#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/space.hpp>

namespace hushed HUSHED_API {

/// Takes the pose that the program gives with `Scene::feed`: of a body that physics moves, a tracked hand, a player on
/// the network. It depends on time and on what was fed, so that everything that reads the object is independent of the
/// frame rate at which it is fed.
///
/// A fed pose is reached at its time. Until then the object moves from where it is: position and scale on a straight
/// line, the rotation at constant speed along the shortest arc. From the last one on it stays. Until the
/// program feeds it, the incoming pose passes unchanged.
struct Fed {
  Space space = Space::world;  ///< of the poses that are fed: the world, or the parent
  std::vector<Channel> channels = {Channel::position, Channel::rotation,
                                   Channel::scale};  ///< the parts of the pose that are taken

  static constexpr auto kind = "fed";
};

template <>
const detail::Kind& detail::kind_of<Fed>();

}  // namespace hushed
