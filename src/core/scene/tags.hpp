// SPDX-License-Identifier: MIT
#pragma once

// Who has which tag.

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/references.hpp>

namespace hushed::detail {

class Registry;

class TagIndex {
 public:
  /// An object with these tags was added, or is back.
  void add(const std::vector<std::string>& tags, Object object);
  /// An object with these tags ended.
  void remove(const std::vector<std::string>& tags);

  bool has(std::string_view tag) const;
  std::vector<std::string_view> tags() const;
  /// All that are there with a tag, in the order of their names; nullptr where nobody is. The same list is given for as
  /// long as it would hold the same objects.
  ObjectList all(std::string_view tag, const Registry& registry) const;
  /// A list as `all` gives it, but perhaps an older one, in which the newest objects are missing. It avoids a new list
  /// for each object of a crowd that is added one by one, where each has a behaviour that names the crowd.
  ObjectList all_of_late(std::string_view tag, const Registry& registry) const;

 private:
  struct Members {
    std::vector<Object> ever;  ///< who came, in no order; some have ended, some stand twice
    std::size_t there = 0;
    bool has_changed = false;  ///< since the list was made
    ObjectList list;
  };

  static void make_list(Members& members, const Registry& registry);

  mutable std::map<std::string, Members, std::less<>> members_;
};

}  // namespace hushed::detail
