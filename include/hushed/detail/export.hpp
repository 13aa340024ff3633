// SPDX-License-Identifier: MIT
#pragma once

// What is visible in a shared library: everything in a namespace that is opened with HUSHED_API. The libraries are
// compiled with hidden visibility, so that what only their sources use stays inside them.

#if defined(__GNUC__)
#define HUSHED_API __attribute__((visibility("default")))
#else
#define HUSHED_API
#endif
