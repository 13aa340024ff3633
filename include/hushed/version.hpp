// SPDX-License-Identifier: MIT
#pragma once

// The version of the headers, for the preprocessor and for C++. It is that of `project()` in CMakeLists.txt.

#define HUSHED_VERSION_MAJOR 0
#define HUSHED_VERSION_MINOR 1
#define HUSHED_VERSION_PATCH 0
/// One number that rises with each version: `#if HUSHED_VERSION >= 100`.
#define HUSHED_VERSION (HUSHED_VERSION_MAJOR * 10000 + HUSHED_VERSION_MINOR * 100 + HUSHED_VERSION_PATCH)
#define HUSHED_VERSION_STRING "0.1.0"

namespace hushed {

inline constexpr int version_major = HUSHED_VERSION_MAJOR;
inline constexpr int version_minor = HUSHED_VERSION_MINOR;
inline constexpr int version_patch = HUSHED_VERSION_PATCH;
inline constexpr const char* version = HUSHED_VERSION_STRING;

}  // namespace hushed
