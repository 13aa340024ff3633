// SPDX-License-Identifier: MIT
#pragma once

// What is sent to a client. docs/reference/live.md says what there is.

#include <string>

namespace hushed::detail {

struct Message {
  enum class Kind {
    text,   ///< JSON
    bytes,  ///< an answer
    frame   ///< bytes too; one that has not been sent yet gives way to the next
  };
  std::string content;
  Kind kind = Kind::text;
};

}  // namespace hushed::detail
