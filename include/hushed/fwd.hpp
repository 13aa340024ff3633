// SPDX-License-Identifier: MIT
#pragma once

// Forward declarations of the public types, for headers that name them and need no more. Costs next to nothing to
// include.

#include <cstdint>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

class Angle;
class BadValue;
class DependencyCycle;
class Easing;
class Error;
class Path;
class Place;
class Scene;
class Snapshot;
class StaleHandle;
class PlaceOrTag;
class Target;
class Urge;
class Watch;
class ObjectOrTag;
template <class B>
struct Behaviour;

struct Action;
struct AnyBehaviour;
struct Common;
struct Condition;
struct Diagnostic;
struct Event;
struct FieldInfo;
struct InputChange;
struct Moment;
struct NewObject;
struct Object;
struct OwnValue;
struct Pose;
struct PoseParts;
struct Rule;
struct RuleReport;
struct Shape;
struct Tag;
struct Tagged;
struct UrgeShare;
class Value;

struct Attract;
struct Drive;
struct Face;
struct Follow;
struct Glide;
struct Orbit;
struct Roam;
struct Route;
struct Smooth;
struct Spin;
struct Spring;
struct Steer;
struct Sway;
struct Travel;

}  // namespace hushed
