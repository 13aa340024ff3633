// SPDX-License-Identifier: MIT
#pragma once

// [[object.NAME.behaviour]] and [[preset.NAME.behaviour]].

#include <optional>
#include <string>
#include <vector>

#include <hushed/kinds.hpp>

#include "scene/drafts.hpp"

namespace hushed::detail {

/// All behaviours of a list; `table` is what it stands under: "object.lamp".
std::vector<BehaviourDraft> read_behaviours(const Value& value, const std::string& whose, const std::string& table,
                                            const Kinds& kinds, Diagnostics& diagnostics);

/// One of them; nothing where it is of no kind that there is.
std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& whose, const Kinds& kinds,
                                             Diagnostics& diagnostics);

/// Complains of the second of two that have one name.
void check_names(const std::vector<BehaviourDraft>& behaviours, const std::string& whose, Diagnostics& diagnostics);

}  // namespace hushed::detail
