// SPDX-License-Identifier: MIT
#pragma once

// Forward declarations of the public types, for headers that only name them. Takes no measurable time to include. A
// behaviour is declared by its name: `namespace hushed { struct Spin; }`.

#include <cstdint>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

// Other namespaces have a Path and a Scene, too. NOLINTBEGIN(bugprone-forward-declaration-namespace)
class Angle;
class BadValue;
class DependencyCycle;
class Easing;
class Error;
class Path;
class Place;
class Kinds;
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
class Condition;
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
// NOLINTEND(bugprone-forward-declaration-namespace)

}  // namespace hushed
