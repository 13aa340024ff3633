// SPDX-License-Identifier: MIT
#pragma once

#include <string>

namespace hushed::cli {

/// Prints every easing with a small curve, in Braille characters where the terminal has them.
std::string easings_in_pictures(bool has_unicode);

/// True where the locale of the environment uses UTF-8.
bool terminal_has_unicode();

}  // namespace hushed::cli
