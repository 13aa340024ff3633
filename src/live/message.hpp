// SPDX-License-Identifier: MIT
#pragma once

// Messages to clients. docs/reference/live.md describes all of them.

#include <string>

namespace hushed::detail {

struct Message {
  enum class Kind {
    text,   ///< JSON
    bytes,  ///< binary: an answer
    frame   ///< binary: the next frame replaces one that has not been sent yet
  };
  std::string content;
  Kind kind = Kind::text;
};

}  // namespace hushed::detail
