// SPDX-License-Identifier: MIT
#pragma once

#include <vector>

#include <hushed/detail/table_reader.hpp>
#include <hushed/expectation.hpp>

namespace hushed::detail {

/// Reads the tables `[[expect]]`. Their measures are read once there is a scene.
std::vector<Expectation> read_expectations(const Value& value, Diagnostics& diagnostics);

}  // namespace hushed::detail
