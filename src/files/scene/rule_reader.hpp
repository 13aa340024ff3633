#pragma once

// [[rule]]

#include <vector>

#include "scene/drafts.hpp"

namespace hushed::inside {

std::vector<RuleDraft> read_rules(const Value& value, std::vector<Silence>& silences, Complaints& complaints);

/// Complains of what the rule names and is not in the scene.
void check_rule(RuleDraft& rule, const SceneNames& names, Complaints& complaints);

}  // namespace hushed::inside
