// SPDX-License-Identifier: MIT
#pragma once

struct lua_State;

namespace hushed::script {

/// What the word `object` is, by its address.
extern const char object_word;

/// Adds all words that scripts may use.
void add_words(lua_State* lua);

}  // namespace hushed::script
