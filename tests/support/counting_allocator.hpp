// SPDX-License-Identifier: MIT
#pragma once

namespace hushed::tests {

/// How often this program has asked for memory so far.
long allocations();
/// How many bytes, whether or not they have been given back.
long bytes_allocated();

}  // namespace hushed::tests
