// SPDX-License-Identifier: MIT
#pragma once

// The two halves of a picture.

#include <span>

#include <hushed/picture.hpp>

#include "canvas.hpp"

namespace hushed::detail {

void draw_curves(Canvas& canvas, const Area& area, std::span<const Watched> plays);
void draw_paths(Canvas& canvas, const Area& area, std::span<const Watched> plays, const PictureOptions& options);

}  // namespace hushed::detail
