// SPDX-License-Identifier: MIT
#pragma once

// [[object.NAME.behaviour]] and [[preset.NAME.behaviour]].

#include <map>
#include <optional>
#include <string>
#include <vector>

#include <hushed/kinds.hpp>

#include "scene/drafts.hpp"

namespace hushed::detail {

/// Finds the kinds of behaviours, and loads those that are scripts.
class KindReader {
 public:
  /// Files that it reads are added to `files`.
  KindReader(Kinds& kinds, std::vector<std::string>& files) : kinds_{kinds}, files_{files} {}

  const Kinds& kinds() const { return kinds_; }
  /// What one call of each script may take.
  void set_limits(const ScriptLimits& limits) { limits_ = limits; }
  /// The kind that the table of a behaviour of `whose` names; nullptr where there is none.
  const Kind* read(const Value& table, const std::string& whose, Diagnostics& diagnostics);

 private:
  const Kind* load(const Value::Entry& script, const std::string& whose, Diagnostics& diagnostics);

  Kinds& kinds_;
  ScriptLimits limits_;
  std::vector<std::string>& files_;
  std::map<std::string, const Kind*> scripts_;  ///< by their path; nullptr for one with mistakes
};

/// All behaviours of a list; `table` is what it stands under: "object.lamp".
std::vector<BehaviourDraft> read_behaviours(const Value& value, const std::string& whose, const std::string& table,
                                            KindReader& kinds, Diagnostics& diagnostics);

/// One of them; nothing where it is of no kind that there is.
std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& whose, KindReader& kinds,
                                             Diagnostics& diagnostics);

/// Complains of the second of two that have one name.
void check_names(const std::vector<BehaviourDraft>& behaviours, const std::string& whose, Diagnostics& diagnostics);

}  // namespace hushed::detail
