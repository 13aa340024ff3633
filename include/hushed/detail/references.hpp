// SPDX-License-Identifier: MIT
#pragma once

#include <algorithm>
#include <memory>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>

namespace hushed HUSHED_API {
namespace detail {

/// Some objects, shared by all that name them; nullptr: none.
using ObjectList = std::shared_ptr<const std::vector<Object>>;

/// The objects that a behaviour's values name: some one by one, some as all of a list but the behaviour's own object. A
/// list is not copied, so that a whole crowd may name itself.
struct References {
  std::vector<Object> each;
  std::vector<ObjectList> lists;

  bool empty() const { return each.empty() && lists.empty(); }
  void add(Object object) { each.push_back(object); }
  void add(ObjectList list) {
    if (list) lists.push_back(std::move(list));
  }

  /// All of them, for a behaviour of `owner`.
  template <class Visit>
  void for_each(Object owner, Visit&& visit) const {
    for (const Object object : each) visit(object);
    for (const ObjectList& list : lists)
      for (const Object object : *list)
        if (object != owner) visit(object);
  }

  bool contains(Object one, Object owner) const {
    const auto has = [&](const std::vector<Object>& some) {
      return std::find(some.begin(), some.end(), one) != some.end();
    };
    return has(each) || (one != owner &&
                         std::any_of(lists.begin(), lists.end(), [&](const ObjectList& list) { return has(*list); }));
  }

  bool operator==(const References& other) const {
    const auto is_same = [](const ObjectList& a, const ObjectList& b) { return a == b || *a == *b; };
    return each == other.each &&
           std::equal(lists.begin(), lists.end(), other.lists.begin(), other.lists.end(), is_same);
  }
};

}  // namespace detail
}  // namespace hushed
