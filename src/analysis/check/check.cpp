// SPDX-License-Identifier: MIT
#include <hushed/check.hpp>
#include <hushed/field.hpp>

#include <array>

#include "check/checked.hpp"

namespace hushed {

using namespace detail;

std::span<const FindingCode> finding_codes() {
  static constexpr std::array codes{
      FindingCode{"never-moves", "it has behaviours, and stands still"},
      FindingCode{"no-effect", "without one of its behaviours it would move no differently"},
      FindingCode{"round-turn", "a round shape turns about its own axis, which nobody can see"},
      FindingCode{"jump", "between two frames it goes far further than ever else"},
      FindingCode{"shiver", "its direction is reversed frame after frame"},
      FindingCode{"seam", "where its loop begins anew, it jumps or kinks"},
      FindingCode{"up-along-view", "it looks along its own up direction, so that nothing says how it is turned"},
      FindingCode{"never-reaches", "a follower does not come near where it wants to be"},
      FindingCode{"falls-behind", "a follower trails ever further behind"},
      FindingCode{"enters-obstacle", "an agent is inside what it is to avoid"},
      FindingCode{"leaves-view", "it leaves the area that the view shows"},
      FindingCode{"unsettled", "a spring still swings at the end"},
      FindingCode{"rings", "a spring would ring for very long"},
      FindingCode{"tick-rate", "it moves noticeably differently with four times the ticks"},
      FindingCode{"rule-never", "a rule that never fires"},
      FindingCode{"rule-always", "a rule whose conditions always hold"},
      FindingCode{"rule-stuck", "a rule whose conditions hold for ever, so that it cannot fire again"},
      FindingCode{"unused", "a named pose or a preset that nothing uses, or an ignored finding that does not occur"}};
  return codes;
}

Played detail::play_to_check(Scene scene, const CheckOptions& options, Plays& plays) {
  Played played{std::move(scene), {}, {}, {}};
  played.objects = objects_in_order(played.scene);
  RecordingBuilder world{played.scene, played.world};
  played.local.objects = played.world.objects;
  for (std::int64_t frame = 0; frame <= options.last_frame; ++frame) {
    plays.go_on();
    played.scene.advance(frame_time(frame, options.frames_per_second) - played.scene.time());
    world.add(played.scene.time(), played.scene.events());
    played.local.times.push_back(played.scene.time());
    for (const Object object : played.objects)
      played.local.poses.push_back(played.scene.alive(object) ? played.scene.local(object) : Pose{});
  }
  played.answers = who_answers(played);
  plays.one_is_done();
  return played;
}

std::vector<Finding> check(const std::function<Scene(double)>& make, const CheckOptions& options) {
  std::vector<Finding> all;
  Findings findings{all};
  Plays plays{options};
  std::optional<Played> played;
  bool is_whole = false;
  try {
    played.emplace(play_to_check(make(1.0), options, plays));
    check_motion(*played, options, findings);
    check_behaviours(*played, options, findings);
    check_agents(*played, findings);
    check_rules(*played, options, findings);
    check_variations(make, *played, options, plays, findings);
    is_whole = true;
  } catch (const Plays::Stopped&) {
  }
  if (!played) return all;

  for (const IgnoredFinding& ignore : options.ignored) {
    bool ignores_something = false;
    for (Finding& finding : all) {
      if (finding.object != ignore.object || finding.code != ignore.code) continue;
      finding.ignored_because = ignore.reason;
      ignores_something = true;
    }
    if (!ignores_something && is_whole)
      findings.add("unused", Severity::doubt, ignore.object, std::nullopt,
                   "it ignores \"" + ignore.code + "\", which is not found",
                   "take that line out, so that it does not hide a later mistake");
  }
  const auto number = [&](const Finding& finding) { return played->world.find(finding.object).value_or(0); };
  std::stable_sort(all.begin(), all.end(), [&](const Finding& a, const Finding& b) { return number(a) < number(b); });
  return all;
}

}  // namespace hushed
