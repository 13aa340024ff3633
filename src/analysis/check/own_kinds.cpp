// SPDX-License-Identifier: MIT
// Checks of behaviours that are not built in: scripts, and those of the program.

#include <set>

#include <hushed/detail/scene_access.hpp>
#include <hushed/kinds.hpp>
#include <hushed/runtime_kind.hpp>

#include "check/checked.hpp"

namespace hushed::detail {

namespace {

/// A behaviour that is not built in, and the number of its object.
struct Own {
  std::size_t object;
  AnyBehaviour behaviour;
};

std::vector<Own> own_behaviours_in(const Played& played) {
  std::vector<Own> found;
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (!played.scene.alive(played.objects[object])) continue;
    for (const AnyBehaviour behaviour : played.scene.behaviours(played.objects[object])) {
      const Kind& kind = SceneAccess::kind(played.scene, behaviour);
      if (find_kind(kind.name()) != &kind) found.push_back({object, behaviour});
    }
  }
  return found;
}

void check_usage(const Played& played, const std::vector<Own>& behaviours, Findings& to) {
  std::set<const Kind*> known;
  for (const Own& own : behaviours) {
    const Kind& kind = SceneAccess::kind(played.scene, own.behaviour);
    if (!kind.as_runtime() || !known.insert(&kind).second) continue;
    const std::string &object = played.world.objects[own.object], path = played.scene.path(own.behaviour);
    const RuntimeKind::Usage usage = kind.as_runtime()->usage();
    if (usage.share_of_limits > 0.25)
      to.add(
          "slow-script", Severity::doubt, object, std::nullopt,
          path + " takes up to " + few_digits(100.0 * usage.share_of_limits) + " % of the steps that one call may take",
          "shorten its loops, or raise script_steps in [scene]");
    for (const std::string& field : usage.unread_fields)
      to.add("unread-field", Severity::mistake, object, std::nullopt,
             std::string{kind.name()} + " never reads its field " + in_quotes(field),
             "read my." + field + ", or remove the field");
  }
}

bool is_same(const Pose& a, const Pose& b) {
  return a.position == b.position && a.rotation.coeffs() == b.rotation.coeffs() && a.scale == b.scale;
}

/// The first frame of the second half at which each object has another pose when it is played again. None for a scene
/// that no longer stores its middle, as after very many calls.
std::vector<std::optional<std::size_t>> other_frames(Played& played, Plays& plays) {
  std::vector<std::optional<std::size_t>> found(played.objects.size());
  const std::size_t frames = played.local.frames();
  try {
    played.scene.seek(played.local.times[frames / 2]);
  } catch (const BadValue&) {
    return found;
  }
  for (std::size_t frame = frames / 2; frame < frames; ++frame) {
    plays.go_on();
    played.scene.advance(played.local.times[frame] - played.scene.time());
    for (std::size_t object = 0; object < played.objects.size(); ++object)
      if (!found[object] && played.scene.alive(played.objects[object]) &&
          !is_same(played.scene.local(played.objects[object]), played.local.at(frame, object)))
        found[object] = frame;
  }
  return found;
}

void check_repeatability(Played& played, const std::vector<Own>& behaviours, Plays& plays, Findings& to) {
  const auto other = other_frames(played, plays);
  std::set<const Kind*> known;
  for (const Own& own : behaviours) {
    if (!other[own.object] || !known.insert(&SceneAccess::kind(played.scene, own.behaviour)).second) continue;
    to.add(
        "not-repeatable", Severity::mistake, played.world.objects[own.object], other[own.object],
        "when this moment is played again, " + played.scene.path(own.behaviour) + " or what it reads gives other bits",
        "keep what it remembers in its State, and use no clock, no random device and no global variable");
  }
}

}  // namespace

void check_own_kinds(Played& played, Plays& plays, Findings& to) {
  const std::vector<Own> behaviours = own_behaviours_in(played);
  if (behaviours.empty() || played.local.frames() < 2) return;
  check_usage(played, behaviours, to);
  check_repeatability(played, behaviours, plays, to);
}

}  // namespace hushed::detail
