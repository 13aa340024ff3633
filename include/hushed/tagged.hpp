#pragma once

#include <span>
#include <string>
#include <vector>

#include <hushed/place.hpp>

namespace hushed {

/// A tag that objects have: `Tag tag = "gull"`.
struct Tag {
  Tag() = default;
  Tag(std::string tag) : name{std::move(tag)} {}
  Tag(const char* tag) : name{tag} {}

  std::string name = {};
  TextPlace where = {};  ///< in the file that it was read from

  std::optional<Complaint> check() const { return std::nullopt; }
  bool operator==(const Tag& other) const { return name == other.name; }

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Tag& to);
  friend std::optional<Value> write(const Tag& from, const Unit& unit);
  friend Form form_of(const Tag*, const Unit& unit);
  friend std::optional<Complaint> resolve(Tag& to, const inside::Names& names);
};

/// Every object with a tag, but for some: `Tagged{"boat"}`, `Tagged{"boat", {"ferry"}}`.
struct Tagged {
  std::string tag = {};
  std::vector<Target> but_not = {};

  inside::ObjectList found = {};  ///< those there are, in the order of their names; of a behaviour, its own object too
  TextPlace where = {};           ///< in the file that it was read from

  std::span<const Object> members() const { return found ? std::span{*found} : std::span<const Object>{}; }

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Tagged& to);
  friend std::optional<Value> write(const Tagged& from, const Unit& unit);
  friend Form form_of(const Tagged*, const Unit& unit);
  friend std::optional<Complaint> resolve(Tagged& to, const inside::Names& names);
};

bool operator==(const Tagged& a, const Tagged& b);

/// One object, or whichever of those with a tag: `Whom to = "pilot"`, `Whom to = Tagged{"boat"}`.
class Whom {
 public:
  Whom() = default;
  Whom(Target one) : target{std::move(one)} {}
  Whom(Object one) : target{one} {}
  Whom(const char* name) : target{name} {}
  Whom(Tagged any) : tagged{std::move(any)} {}

  Target target = {};
  Tagged tagged = {};  ///< its tag is empty where it is one object

  bool is_one() const { return tagged.tag.empty(); }
  std::optional<Complaint> check() const { return std::nullopt; }

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Whom& to);
  friend std::optional<Value> write(const Whom& from, const Unit& unit);
  friend Form form_of(const Whom*, const Unit& unit);
  friend std::optional<Complaint> resolve(Whom& to, const inside::Names& names);
  friend void add_objects(const Whom& from, inside::References& to);
  friend void aim(Whom& to, Object at) { to = at; }
};

}  // namespace hushed
