// SPDX-License-Identifier: MIT
#pragma once

struct lua_State;

namespace hushed::script {

/// Pushes what `apply` and `begin` are called with: pose, now, my, kept. They show the present call.
void push_arguments(lua_State* lua);
/// Finds the words of all fields and of all that is remembered, so that arguments look parts up by address.
void find_parts(lua_State* lua);

}  // namespace hushed::script
