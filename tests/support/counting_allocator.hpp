#pragma once

namespace hushed::tests {

/// How often this program has asked for memory so far.
long allocations();

}  // namespace hushed::tests
