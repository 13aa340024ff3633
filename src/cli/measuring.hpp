// SPDX-License-Identifier: MIT
#pragma once

// Measures on the command line: playing for them, and printing them.

#include <string>
#include <vector>

#include <hushed/measure.hpp>

#include "playing.hpp"

namespace hushed::cli {

/// Plays and prints the measures. `format`: table, csv or jsonl. Returns the exit status. Throws `LoadError`,
/// `WrongCommandLine`.
int print_measures(const Playing& playing, const std::vector<std::string>& measures, const std::string& format);

/// The kinds of measures, for people and for documents.
std::string list_of_measures();
std::string measures_in_markdown();

}  // namespace hushed::cli
