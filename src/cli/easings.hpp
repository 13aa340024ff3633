// SPDX-License-Identifier: MIT
#pragma once

#include <string>

namespace hushed::cli {

/// Every easing with a small curve of it; with dots of Braille where the terminal has them.
std::string easings_in_pictures(bool has_unicode);

/// Whether the language settings say that UTF-8 can be shown.
bool terminal_has_unicode();

}  // namespace hushed::cli
