#pragma once

// Who has which tag.

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/inside/references.hpp>

namespace hushed::inside {

class Cast;

class TagIndex {
 public:
  /// Somebody with these tags comes, or is back.
  void add(const std::vector<std::string>& tags, Object object);
  /// Somebody with these tags ends.
  void remove(const std::vector<std::string>& tags);

  bool has(std::string_view tag) const;
  std::vector<std::string_view> tags() const;
  /// All that are there with a tag, in the order of their names; nullptr where nobody is. The same list is given for as
  /// long as it would hold the same objects.
  ObjectList all(std::string_view tag, const Cast& cast) const;
  /// A list of `all` that may be older: a crowd that grows one by one, each with a behaviour that names the crowd, does
  /// not have a list made for each.
  ObjectList all_of_late(std::string_view tag, const Cast& cast) const;

 private:
  struct Members {
    std::vector<Object> ever;  ///< who came, in no order; some have ended, some stand twice
    std::size_t there = 0;
    bool has_changed = false;  ///< since the list was made
    ObjectList list;
  };

  static void make_list(Members& members, const Cast& cast);

  mutable std::map<std::string, Members, std::less<>> members_;
};

}  // namespace hushed::inside
