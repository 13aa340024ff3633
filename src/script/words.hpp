// SPDX-License-Identifier: MIT
#pragma once

struct lua_State;

namespace hushed::script {

/// What the words `object` and `tagged` are, by their addresses.
extern const char object_word, tagged_word;

/// Adds all words that scripts may use.
void add_words(lua_State* lua);

}  // namespace hushed::script
