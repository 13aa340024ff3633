// SPDX-License-Identifier: MIT
#pragma once

// Standard output.

#include <string>

namespace hushed::cli {

/// Standard output, which may be closed by whoever reads it. Throws where it cannot be written for another reason.
class Output {
 public:
  /// False once nobody reads any more.
  bool write(const std::string& text);
  bool flush();

 private:
  bool note(bool went_well);

  bool open_ = true;
};

}  // namespace hushed::cli
