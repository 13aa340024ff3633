// SPDX-License-Identifier: MIT
#pragma once

namespace hushed::tests {

/// The number of allocations of this program so far.
long allocations();
/// The number of allocated bytes so far, freed or not.
long bytes_allocated();

}  // namespace hushed::tests
