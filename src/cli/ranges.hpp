// SPDX-License-Identifier: MIT
#pragma once

// Ranges and lists of values on the command line.

#include <string>

#include <hushed/solve.hpp>
#include <hushed/sweep.hpp>

namespace hushed::cli {

/// "PATH=LOW:HIGH:COUNT", "PATH=LOW:HIGH" or "PATH=A,B,C". Throws `WrongCommandLine`.
Varied read_varied(const std::string& text);

/// "PATH=LOW:HIGH", or "PATH" for the usual range of that value. Throws `WrongCommandLine`.
Change read_change(const std::string& text, const Scene& scene);

}  // namespace hushed::cli
