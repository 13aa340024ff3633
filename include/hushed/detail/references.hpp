// SPDX-License-Identifier: MIT
#pragma once

#include <memory>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>

namespace hushed HUSHED_API {
namespace detail {

/// A list of objects, shared by all values that name it; nullptr for an empty one.
using ObjectList = std::shared_ptr<const std::vector<Object>>;

/// The objects that a behaviour's values name: each by itself, and lists, of which the behaviour's own object is
/// excepted. Lists are shared, so that every member of a crowd may name the whole crowd.
struct References {
  std::vector<Object> each;
  std::vector<ObjectList> lists;

  bool empty() const { return each.empty() && lists.empty(); }
  void add(Object object);
  void add(ObjectList list);

  /// Visits all objects, for a behaviour of `owner`.
  template <class Visit>
  void for_each(Object owner, Visit&& visit) const {
    for (const Object object : each) visit(object);
    for (const ObjectList& list : lists)
      for (const Object object : *list)
        if (object != owner) visit(object);
  }

  bool contains_each(Object object) const;  ///< names the object by itself
  /// True where a behaviour of `owner` names the object.
  bool contains(Object object, Object owner) const;
  bool operator==(const References& other) const;
};

}  // namespace detail
}  // namespace hushed
