// SPDX-License-Identifier: MIT
#pragma once

#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/references.hpp>
#include <hushed/place.hpp>

namespace hushed HUSHED_API {

/// A tag that objects have: `Tag tag = "gull"`.
struct Tag {
  Tag() = default;
  Tag(std::string tag) : name{std::move(tag)} {}
  Tag(const char* tag) : name{tag} {}

  std::string name = {};
  TextPlace where = {};  ///< its place in the file; 0 where there is none

  std::optional<Diagnostic> check() const;
  bool operator==(const Tag& other) const { return name == other.name; }

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Tag& to);
  friend HUSHED_API std::optional<Value> write(const Tag& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Tag*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Tag& to, const detail::Names& names);
};

/// All objects with a tag, except some: `Tagged{"boat"}`, `Tagged{"boat", {"ferry"}}`.
struct Tagged {
  std::string tag = {};
  std::vector<Target> except = {};

  detail::ObjectList found = {};  ///< the objects, in the order of their names; may include the behaviour's own
  TextPlace where = {};           ///< its place in the file; 0 where there is none

  std::span<const Object> members() const;  ///< the objects; empty until the tag is resolved

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Tagged& to);
  friend HUSHED_API std::optional<Value> write(const Tagged& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Tagged*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Tagged& to, const detail::Names& names);
};

bool operator==(const Tagged& a, const Tagged& b);

/// One object, or any object with a tag: `ObjectOrTag to = "pilot"`, `ObjectOrTag to = Tagged{"boat"}`.
class ObjectOrTag {
 public:
  ObjectOrTag();
  ObjectOrTag(Target one);
  ObjectOrTag(Object one);
  ObjectOrTag(const char* name);
  ObjectOrTag(Tagged any);

  Target target = {};
  Tagged tagged = {};  ///< its tag is empty where it is one object

  bool is_one() const { return tagged.tag.empty(); }
  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, ObjectOrTag& to);
  friend HUSHED_API std::optional<Value> write(const ObjectOrTag& from, const Unit& unit);
  friend HUSHED_API Form form_of(const ObjectOrTag*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(ObjectOrTag& to, const detail::Names& names);
  friend HUSHED_API void add_objects(const ObjectOrTag& from, detail::References& to);
  friend HUSHED_API void aim(ObjectOrTag& to, Object at);
};

}  // namespace hushed
