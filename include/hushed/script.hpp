// SPDX-License-Identifier: MIT
#pragma once

// Behaviours in Lua 5.4, see docs/reference/scripts.md. In the library HushedOrbit::script.

#include <hushed/detail/export.hpp>
#include <hushed/kinds.hpp>

namespace hushed HUSHED_API {

/// Lets scene files that are read with these kinds name scripts: `script = "circling.lua"`. Each scene has an
/// interpreter of its own for each script.
///
///     Kinds mine;
///     add_scripts(mine);
///     SceneFile harbour = read_scene_file("harbour.toml", {.kinds = &mine});
void add_scripts(Kinds& kinds);

}  // namespace hushed
