// SPDX-License-Identifier: MIT
#pragma once

// The list of kinds: to add one, include its header and name it in `BuiltIn`.

#include <hushed/behaviour/attract.hpp>
#include <hushed/behaviour/drive.hpp>
#include <hushed/behaviour/face.hpp>
#include <hushed/behaviour/fed.hpp>
#include <hushed/behaviour/follow.hpp>
#include <hushed/behaviour/glide.hpp>
#include <hushed/behaviour/orbit.hpp>
#include <hushed/behaviour/pace.hpp>
#include <hushed/behaviour/roam.hpp>
#include <hushed/behaviour/route.hpp>
#include <hushed/behaviour/smooth.hpp>
#include <hushed/behaviour/spin.hpp>
#include <hushed/behaviour/spring.hpp>
#include <hushed/behaviour/steer.hpp>
#include <hushed/behaviour/sway.hpp>
#include <hushed/behaviour/travel.hpp>
#include <hushed/detail/export.hpp>

#include <span>
#include <string_view>
#include <tuple>

namespace hushed HUSHED_API {

using BuiltIn = std::tuple<Spin, Travel, Sway, Orbit, Glide, Roam, Route, Follow, Face, Spring, Smooth, Drive, Attract,
                           Steer, Fed, Pace>;

/// Every built-in kind, in the order of the list.
std::span<const detail::Kind* const> kinds();

/// The built-in kind of that name, or nullptr.
const detail::Kind* find_kind(std::string_view name);

}  // namespace hushed
