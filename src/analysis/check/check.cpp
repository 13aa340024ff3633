// SPDX-License-Identifier: MIT
#include <hushed/check.hpp>
#include <hushed/field.hpp>

#include <array>

#include "check/checked.hpp"

namespace hushed {

using namespace detail;

std::span<const FindingCode> finding_codes() {
  static constexpr std::array codes{
      FindingCode{"never-moves", "an object has behaviours but does not move"},
      FindingCode{"no-effect", "a behaviour that changes nothing"},
      FindingCode{"round-turn", "a round shape turns about its axis of symmetry, which is invisible"},
      FindingCode{"jump", "a jump: between two frames an object moves much further than otherwise"},
      FindingCode{"shiver", "an object reverses its direction in frame after frame"},
      FindingCode{"seam", "a jump of position or velocity where a loop begins again"},
      FindingCode{"up-along-view", "a face points along its up direction, so its roll is undefined"},
      FindingCode{"never-reaches", "a follower never reaches its goal"},
      FindingCode{"falls-behind", "a follower falls further and further behind"},
      FindingCode{"enters-obstacle", "an agent is inside an obstacle that it should avoid"},
      FindingCode{"leaves-view", "an object leaves [view] area"},
      FindingCode{"unsettled", "a spring still oscillates at the end of the play"},
      FindingCode{"rings", "a spring rings for a very long time"},
      FindingCode{"tick-rate", "the motion differs noticeably with four times the tick rate"},
      FindingCode{"not-repeatable", "a behaviour of the program's own gives other poses when a moment is played again"},
      FindingCode{"slow-script", "a script that takes much of the steps that one call may take"},
      FindingCode{"unread-field", "a field of a script that it never reads"},
      FindingCode{"rule-never", "a rule that never fires"},
      FindingCode{"rule-always", "a rule whose conditions always hold"},
      FindingCode{"rule-stuck", "a rule whose conditions hold for ever from some moment on, so it cannot fire again"},
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
    check_own_kinds(*played, plays, findings);
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
                   "it ignores the finding \"" + ignore.code + "\", which does not occur",
                   "remove that line, so that it does not hide a later mistake");
  }
  const auto number = [&](const Finding& finding) { return played->world.find(finding.object).value_or(0); };
  std::stable_sort(all.begin(), all.end(), [&](const Finding& a, const Finding& b) { return number(a) < number(b); });
  return all;
}

}  // namespace hushed
