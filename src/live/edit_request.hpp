// SPDX-License-Identifier: MIT
#pragma once

#include <vector>

#include <hushed/edit.hpp>

#include "request.hpp"

namespace hushed::detail {

/// The edits of a request: `{"do": "edit", "edits": [{"edit": "add behaviour", "object": "lamp", "keys": "{ … }"}]}`.
/// Throws `BadValue`.
std::vector<SceneEdit> edits_of(const Request& request);

}  // namespace hushed::detail
