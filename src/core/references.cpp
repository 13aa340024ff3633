// SPDX-License-Identifier: MIT
#include <hushed/detail/references.hpp>

#include <algorithm>
#include <utility>

namespace hushed::detail {

void References::add(Object object) { each.push_back(object); }

void References::add(ObjectList list) {
  if (list) lists.push_back(std::move(list));
}

bool References::contains_each(Object object) const {
  return std::find(each.begin(), each.end(), object) != each.end();
}

bool References::contains(Object object, Object owner) const {
  if (contains_each(object)) return true;
  return object != owner && std::any_of(lists.begin(), lists.end(), [&](const ObjectList& list) {
           return std::find(list->begin(), list->end(), object) != list->end();
         });
}

bool References::operator==(const References& other) const {
  const auto is_same = [](const ObjectList& a, const ObjectList& b) { return a == b || *a == *b; };
  return each == other.each && std::equal(lists.begin(), lists.end(), other.lists.begin(), other.lists.end(), is_same);
}

}  // namespace hushed::detail
