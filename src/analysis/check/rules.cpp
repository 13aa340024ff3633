// SPDX-License-Identifier: MIT
// Checks of rules that never fire or always hold; and the objects that move in response to input, events or rules.

#include <hushed/behaviour/attract.hpp>
#include <hushed/behaviour/drive.hpp>

#include "check/checked.hpp"
#include "check/marks.hpp"

namespace hushed::detail {

namespace {

/// What the conditions of a rule depend on.
struct Grounds {
  bool input = false;   ///< on a key, or on a driven object
  bool events = false;  ///< on events
  bool later = false;   ///< on a time after the end of the play
  bool time_alone = true;
};

class RuleChecker {
 public:
  RuleChecker(const Played& played, const CheckOptions& options, Findings& to)
      : played_{played}, options_{options}, to_{to} {
    Marks driven{played};
    for (const Object object : played.objects)
      if (played.scene.alive(object))
        for (const AnyBehaviour behaviour : played.scene.behaviours(object))
          if (played.scene.values_if<Drive>(behaviour)) driven.mark(object);
    driven_ = driven.spread();
    const std::optional<Time> last = played.scene.last_input();
    input_is_seen_ = last && *last <= played.scene.time();
    for (const std::string& name : played.scene.rules()) {
      const Grounds grounds = grounds_of(played.scene.rule(name));
      any_later_ = any_later_ || grounds.later;
      any_input_ = any_input_ || grounds.input;
    }
    any_input_ = any_input_ || std::find(driven_.begin(), driven_.end(), true) != driven_.end();
  }

  void check(const std::string& name) {
    const Rule& rule = played_.scene.rule(name);
    const RuleReport report = played_.scene.report(name);
    const Grounds grounds = grounds_of(rule);
    const bool waits_for_input = (grounds.input || (grounds.events && any_input_)) && !input_is_seen_;
    const bool waits = waits_for_input || grounds.later || (grounds.events && any_later_);
    if (report.fired == 0 && !waits) {
      const std::string why = report.held > 0 ? "it never fires: its conditions never hold for long enough"
                                              : "it never fires: its conditions never hold during the play";
      to_.add("rule-never", Severity::mistake, name, std::nullopt, why,
              "check whether a limit is out of reach, a name is wrong or two conditions exclude each other; or play "
              "longer");
    }
    if (grounds.time_alone || grounds.events) return;
    const bool always = report.ticks > 1 && report.held == report.ticks;
    if (always && !waits_for_input) {
      to_.add("rule-always", Severity::mistake, name, std::nullopt,
              "its conditions hold at every tick, so they have no effect",
              "change the limit so that it separates two situations, or remove the condition");
    }
    const Time held = report.holding_since ? played_.scene.time() - *report.holding_since : Time{};
    if (!always && rule.fires == Fires::each && 2 * held > played_.scene.time()) {
      to_.add("rule-stuck", Severity::doubt, name, frame_at(*report.holding_since),
              "its conditions hold for ever from here on, so it cannot fire again",
              "use a value that returns, such as a wrapped angle; or set fires = \"once\" if this is intended");
    }
  }

 private:
  Grounds grounds_of(const Rule& rule) const {
    Grounds grounds;
    for (const auto* list : {&rule.when, &rule.any, &rule.unless})
      for (const Condition& condition : *list) {
        if (const auto* from = condition.as<TimeCondition>()) {
          grounds.later = grounds.later || from->time > played_.scene.time();
          continue;
        }
        grounds.time_alone = false;
        grounds.events = grounds.events || condition.as<EventCondition>();
        grounds.input = grounds.input || reads_input(condition);
      }
    return grounds;
  }
  bool reads_input(const Condition& condition) const {
    if (condition.as<KeyCondition>() || condition.as<RunningCondition>()) return true;
    if (const auto* distance_condition = condition.as<DistanceCondition>())
      return is_driven(distance_condition->who) || is_driven(distance_condition->to);
    if (const auto* within = condition.as<AreaCondition>()) return is_driven(within->who);
    const auto* measured = condition.as<WatchCondition>();
    return measured && measured->resolved && is_driven(measured->resolved->object());
  }
  bool is_driven(const PlaceOrTag& someone) const {
    const auto members = someone.tagged.members();
    return is_driven(someone.place.target.object) ||
           std::any_of(members.begin(), members.end(), [this](Object object) { return is_driven(object); });
  }
  bool is_driven(Object object) const {
    const auto found = std::find(played_.objects.begin(), played_.objects.end(), object);
    return found != played_.objects.end() && driven_[static_cast<std::size_t>(found - played_.objects.begin())];
  }
  std::size_t frame_at(Time time) const {
    return static_cast<std::size_t>(std::ceil(in_seconds(time) * options_.frames_per_second));
  }

  const Played& played_;
  const CheckOptions& options_;
  Findings& to_;
  std::vector<bool> driven_;
  bool input_is_seen_ = false;  ///< there is recorded input, and the play is as long
  bool any_input_ = false, any_later_ = false;
};

}  // namespace

std::vector<bool> who_answers(const Played& played) {
  Marks answers{played};
  const Scene& scene = played.scene;
  for (const Object object : played.objects)
    if (scene.alive(object))
      for (const AnyBehaviour behaviour : scene.behaviours(object))
        if (waits_for_something(scene, behaviour)) answers.mark(object);
  for (const std::string& name : scene.rules())
    for (const Action& action : scene.rule(name).then) {
      answers.mark(action.object.object);
      answers.mark(std::string_view{action.behaviour.path}.substr(0, action.behaviour.path.find('.')));
    }
  return answers.spread();
}

bool waits_for_something(const Scene& scene, AnyBehaviour behaviour) {
  return !scene.common(behaviour).enabled || scene.values_if<Drive>(behaviour) || scene.values_if<Attract>(behaviour);
}

void check_rules(const Played& played, const CheckOptions& options, Findings& to) {
  RuleChecker checker{played, options, to};
  for (const std::string& name : played.scene.rules()) checker.check(name);
  for (const std::string& preset : options.unused_presets)
    to.add("unused", Severity::doubt, preset, std::nullopt, "no object uses this preset", "use it, or remove it");
}

}  // namespace hushed::detail
