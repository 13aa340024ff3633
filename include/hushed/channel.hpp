// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>

namespace hushed HUSHED_API {

/// Which part of a pose is moved.
enum class Channel { position, rotation, scale };

constexpr auto choices(Channel) {
  return Choices<Channel, 3>{
      {{Channel::position, "position"}, {Channel::rotation, "rotation"}, {Channel::scale, "scale"}}};
}

}  // namespace hushed
