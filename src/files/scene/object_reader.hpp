// SPDX-License-Identifier: MIT
#pragma once

// Reads [object.NAME]: rest pose, parent, shape, presets and stack.

#include <deque>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/colour.hpp>

#include "scene/behaviour_reader.hpp"
#include "scene/drafts.hpp"

namespace hushed::detail {

/// What objects are read with, and what is found besides.
struct ObjectReading {
  KindReader& kinds;
  Diagnostics& diagnostics;
  const PresetDrafts& presets;
  std::vector<IgnoredFinding>& ignored;
  std::deque<Value>& tuned;  ///< behaviours of presets with values of an object's own
};

/// `table` may have keys besides, if they are known already.
ObjectDraft read_object(TableReader& table, const std::string& name, TextPlace place, ObjectReading& reading);

/// Reads a colour as it is written in CSS, where the table has the key.
void read_colour(TableReader& table, std::string_view key, std::optional<Colour>& to);

}  // namespace hushed::detail
