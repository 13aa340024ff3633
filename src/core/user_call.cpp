// SPDX-License-Identifier: MIT
#include <hushed/detail/kind.hpp>

namespace hushed::detail {

static thread_local UserCall* innermost = nullptr;

UserCall::UserCall(const void* scene) : scene_{scene}, outer_{std::exchange(innermost, this)} {}

UserCall::~UserCall() { innermost = outer_; }

bool UserCall::refuses(const void* scene) noexcept {
  for (UserCall* call = innermost; call; call = call->outer_) {
    if (call->scene_ != scene) continue;
    call->has_called_scene_ = true;
    return true;
  }
  return false;
}

}  // namespace hushed::detail
