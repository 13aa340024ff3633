// SPDX-License-Identifier: MIT
#pragma once

// Everything a program needs to move objects. Scene files are read by <hushed/load.hpp>.

#include <hushed/angle.hpp>
#include <hushed/common.hpp>
#include <hushed/easing.hpp>
#include <hushed/error.hpp>
#include <hushed/event.hpp>
#include <hushed/field.hpp>
#include <hushed/input.hpp>
#include <hushed/kinds.hpp>
#include <hushed/moment.hpp>
#include <hushed/own.hpp>
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
