// SPDX-License-Identifier: MIT
#pragma once

// [[rule]]

#include <vector>

#include "scene/drafts.hpp"

namespace hushed::detail {

std::vector<RuleDraft> read_rules(const Value& value, std::vector<IgnoredFinding>& ignored, Diagnostics& diagnostics);

/// Complains of what the rule names and is not in the scene.
void check_rule(RuleDraft& rule, const SceneNames& names, Diagnostics& diagnostics);

}  // namespace hushed::detail
