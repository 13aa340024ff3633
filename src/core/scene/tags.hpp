// SPDX-License-Identifier: MIT
#pragma once

// The members of each tag.

#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/references.hpp>

namespace hushed::detail {

class Registry;

class TagIndex {
 public:
  /// Adds an object to its tags.
  void add(const std::vector<std::string>& tags, Object object, const Registry& registry);
  /// An object with these tags has ended or loses them.
  void remove(const std::vector<std::string>& tags);

  /// A number that changes whenever the members of a tag change.
  std::uint64_t edition() const { return edition_; }
  /// Replaces the edition by one that is later than `edition`.
  void continue_from(std::uint64_t edition) { edition_ = edition + 1; }
  bool has(std::string_view tag) const;
  std::vector<std::string_view> tags() const;
  /// The objects with a tag, in the order of their names; nullptr where there is none. Returns one list as long as the
  /// members do not change.
  ObjectList all(std::string_view tag, const Registry& registry) const;
  /// A list like that of `all`, but possibly an older one without the newest objects. This avoids a new list for each
  /// member of a crowd that is added one by one, where each has a behaviour that names the crowd.
  ObjectList all_of_late(std::string_view tag, const Registry& registry) const;

 private:
  struct Members {
    std::vector<Object> ever;  ///< in no order; may contain duplicates and objects that have ended or lost the tag
    std::size_t there = 0;
    bool has_changed = false;  ///< since the list was created
    ObjectList list;
  };

  static void make_list(std::string_view tag, Members& members, const Registry& registry);

  mutable std::map<std::string, Members, std::less<>> members_;
  std::uint64_t edition_ = 0;
};

}  // namespace hushed::detail
