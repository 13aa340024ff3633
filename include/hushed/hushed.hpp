// SPDX-License-Identifier: MIT
#pragma once

// What most programs need to move objects. Behaviours of your own need <hushed/own.hpp> too; scene files are read by
// <hushed/load.hpp>; and see <hushed/path.hpp>, <hushed/motion.hpp> and <hushed/model.hpp>.

#include <hushed/angle.hpp>
#include <hushed/behaviours.hpp>
#include <hushed/common.hpp>
#include <hushed/easing.hpp>
#include <hushed/error.hpp>
#include <hushed/event.hpp>
#include <hushed/input.hpp>
#include <hushed/moment.hpp>
#include <hushed/place.hpp>
#include <hushed/pose.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/rule.hpp>
#include <hushed/scene.hpp>
#include <hushed/shape.hpp>
#include <hushed/tagged.hpp>
#include <hushed/time.hpp>
#include <hushed/vector.hpp>
#include <hushed/version.hpp>
