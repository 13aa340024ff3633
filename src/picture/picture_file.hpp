// SPDX-License-Identifier: MIT
#pragma once

// A picture that becomes a file.

#include <filesystem>

#include "canvas.hpp"

namespace hushed::detail {

class PictureFile {
 public:
  /// White. Throws `BadValue` for a size out of range, or an extension other than .png and .svg.
  PictureFile(const std::filesystem::path& file, int width, int height);

  Canvas& canvas() { return canvas_; }
  /// The file appears when it is complete. Throws `Error` where it cannot be written.
  void write();

 private:
  std::filesystem::path file_;
  Canvas canvas_;
};

}  // namespace hushed::detail
