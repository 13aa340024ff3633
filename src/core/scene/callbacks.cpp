// SPDX-License-Identifier: MIT
#include "scene/callbacks.hpp"

#include <exception>

#include <hushed/error.hpp>

namespace hushed::detail {

void Callbacks::call(EventQueue& events, Time now) noexcept {
  if (listeners_.empty() || muted != 0 || events.empty()) return;
  are_running_ = true;
  const std::vector<Event> delivered{events.all().begin(), events.all().end()};
  for (const Event& event : delivered) {
    for (std::size_t i = 0; i < listeners_.size(); ++i) {  // a callback may add another
      if (listeners_[i].event != event.name) continue;
      const Callback callback = listeners_[i].callback;
      const auto fail = [&](const std::string& why) {
        events.push({now, "failed", {}, {}, {}, "the callback of " + in_quotes(event.name) + why, 0});
      };
      try {
        callback(event);
      } catch (const std::exception& error) {
        fail(std::string{": "} + error.what());
      } catch (...) {
        fail(" threw an exception that is not a std::exception");
      }
    }
  }
  are_running_ = false;
}

}  // namespace hushed::detail
