// SPDX-License-Identifier: MIT
#pragma once

// The built-in behaviours. To add one, include its header and name it in `BuiltIn`.

#include <hushed/behaviour/attract.hpp>
#include <hushed/behaviour/drive.hpp>
#include <hushed/behaviour/face.hpp>
#include <hushed/behaviour/fed.hpp>
#include <hushed/behaviour/follow.hpp>
#include <hushed/behaviour/glide.hpp>
#include <hushed/behaviour/orbit.hpp>
#include <hushed/behaviour/pace.hpp>
#include <hushed/behaviour/replay.hpp>
#include <hushed/behaviour/roam.hpp>
#include <hushed/behaviour/route.hpp>
#include <hushed/behaviour/smooth.hpp>
#include <hushed/behaviour/spin.hpp>
#include <hushed/behaviour/spring.hpp>
#include <hushed/behaviour/steer.hpp>
#include <hushed/behaviour/sway.hpp>
#include <hushed/behaviour/travel.hpp>
#include <hushed/detail/export.hpp>

#include <tuple>

namespace hushed HUSHED_API {

/// The types of the built-in behaviours, in the order in which kinds are listed.
using BuiltIn = std::tuple<Spin, Travel, Sway, Orbit, Glide, Roam, Route, Follow, Face, Spring, Smooth, Drive, Attract,
                           Steer, Fed, Pace, Replay>;

}  // namespace hushed
