// SPDX-License-Identifier: MIT
#pragma once

// Standard output.

#include <string>

namespace hushed::cli {

/// Writes to standard output. The reader may close it; throws where writing fails for another reason.
class Output {
 public:
  /// False once the reader has closed the pipe.
  bool write(const std::string& text);
  bool flush();

 private:
  bool note(bool went_well);

  bool open_ = true;
};

}  // namespace hushed::cli
