// SPDX-License-Identifier: MIT
#pragma once

// Recorded input: CSV with a line for each change, `time,key,down` or `time,key,up`, and for an axis its value,
// `time,forward,0.4`. In the library HushedOrbit::files.

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/input.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {

/// Reads a key file. Throws `LoadError` with all the mistakes in it.
///
///     for (const InputChange& change : read_key_file("scenes/harbour-keys.csv")) harbour.input(change);
std::vector<InputChange> read_key_file(const std::filesystem::path& file);

/// Reads the text of a key file; errors call it `name`. Throws `LoadError` with all the mistakes in it.
std::vector<InputChange> read_key_text(std::string_view text, const std::string& name);

/// What `read_key_file` would read.
std::string key_file_text(std::span<const InputChange> changes);

}  // namespace hushed
