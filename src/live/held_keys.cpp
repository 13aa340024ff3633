// SPDX-License-Identifier: MIT
#include "held_keys.hpp"

#include <algorithm>
#include <vector>

namespace hushed::detail {

void HeldKeys::press(int client, const std::string& key) {
  if (!is_held(key)) mode_.press(key);
  held_[client].insert(key);
}

void HeldKeys::release(int client, const std::string& key) {
  if (held_[client].erase(key) > 0) agree();
}

void HeldKeys::leave(int client) {
  held_.erase(client);
  agree();
}

void HeldKeys::agree() {
  if (mode_.current() != mode_.last()) return;
  for (const std::string& key : std::vector{mode_.held()})
    if (!is_held(key)) mode_.release(key);
  for (const auto& [client, keys] : held_)
    for (const std::string& key : keys)
      if (std::find(mode_.held().begin(), mode_.held().end(), key) == mode_.held().end()) mode_.press(key);
}

bool HeldKeys::is_held(const std::string& key) const {
  return std::any_of(held_.begin(), held_.end(), [&](const auto& client) { return client.second.contains(key); });
}

}  // namespace hushed::detail
