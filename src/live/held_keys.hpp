// SPDX-License-Identifier: MIT
#pragma once

// The keys that clients hold. A key is pressed for the scene while anyone holds it.

#include <map>
#include <set>
#include <string>

#include <hushed/play_mode.hpp>

namespace hushed::detail {

class HeldKeys {
 public:
  explicit HeldKeys(PlayMode& mode) : mode_{mode} {}

  void press(int client, const std::string& key);
  void release(int client, const std::string& key);
  /// A client has disconnected: releases its keys.
  void leave(int client);
  /// Once the last frame is current: releases keys that were held in it and no longer are, and presses keys that are
  /// held now. Changes of keys while an earlier frame is current wait until then.
  void agree();

 private:
  bool is_held(const std::string& key) const;

  PlayMode& mode_;
  std::map<int, std::set<std::string>> held_;  ///< by client
};

}  // namespace hushed::detail
