// SPDX-License-Identifier: MIT
#pragma once

// Tries: sets of values that were kept to be compared.

#include <array>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json.hpp>

#include <hushed/play_mode.hpp>
#include <hushed/recording.hpp>

namespace hushed::detail {

using Json = nlohmann::json;

struct Try {
  std::string name;                        ///< "A", "B", ...
  std::vector<PlayMode::Changed> changes;  ///< values that differ from those of the file
  std::string text;                        ///< of the scene file, with the edits of its structure
  bool is_outdated = false;                ///< the file has changed since, and this text has another structure
};

class Tries {
 public:
  /// Adds a try and returns it. Throws `BadValue` where there are eight already.
  const Try& add(std::vector<PlayMode::Changed> changes, std::string text);
  void remove(std::string_view name);
  const Try& find(std::string_view name) const;  ///< throws `BadValue`
  /// The text of the scene file has changed, by a save or by Keep: what has the old one has the new one now. `kept`:
  /// the values that Keep has written; tries that had those of the file still have them.
  void take(const std::string& old_text, const std::string& new_text, const std::vector<PlayMode::Changed>& kept);
  Json in_json() const;

 private:
  std::vector<Try> tries_;
};

/// The values that must be set so that those of a try replace the present ones.
std::vector<PlayMode::Changed> changes_to(const Try& wanted, const std::vector<PlayMode::Changed>& present);

/// How two plays from the same moment differ: the values, and for each object the largest and the typical distance, and
/// when each play has settled; the times of events in both.
Json comparison_in_json(const std::array<const Try*, 2>& tries, const std::array<const Recording*, 2>& plays);

}  // namespace hushed::detail
