#pragma once

// A scene from the inside: the cast, its layout, the time, and what is called while it plays.

#include <functional>
#include <memory>
#include <set>
#include <string_view>
#include <vector>

#include <hushed/scene.hpp>

#include "stage/cast.hpp"
#include "stage/flocks.hpp"
#include "stage/inputs.hpp"
#include "stage/layout.hpp"
#include "stage/player.hpp"
#include "stage/rules.hpp"

namespace hushed::inside {

/// No scene plays on beyond this time.
inline constexpr Time latest = std::chrono::seconds{1'000'000'000};

/// What a snapshot holds: all that a play changes.
struct Kept {
  Time time;
  Time last_tick;
  std::uint64_t build;  ///< of which cast
  std::vector<std::unique_ptr<Roster>> rosters;
  std::vector<Common> commons;
  std::vector<Run> runs;
  std::vector<Aside> asides;
  struct Presence {
    bool ended, hidden, under_hidden;
    Index placed;
    int gathered;
  };
  std::vector<Presence> presences;
  TickMemory ticks;
  Inputs inputs;
  RuleMemory rules;
  std::vector<PresetRecord> presets;
  std::vector<std::vector<std::string_view>> owns;  ///< of each behaviour
  std::vector<std::optional<Value>> set_by_rules;   ///< of `Stage::set_by_rules_`
  std::size_t calls;                                ///< how many of the log are in it
};

class Stage {
 public:
  explicit Stage(double tick_rate);
  /// A stage whose objects and behaviours get the handles of those of the same names on another.
  Stage(double tick_rate, const Stage& like) : Stage{tick_rate} { cast.keep_handles_of(like.cast); }
  /// Goes on from where another is, that this one is like, with the state of all that is the same. Returns what it
  /// could not keep, in sentences.
  std::vector<std::string> take_over(Stage& old);

  // --- time ---
  void advance(Time step) noexcept;
  void seek(Time time);
  std::shared_ptr<const Kept> keep();
  void restore(const Kept& kept);

  // --- building and looking ---
  Object add(const NewObject& object);
  AnyBehaviour give(Object object, const Kind& kind, const void* values, const Common& common);
  /// Brings layout and poses up to date with what has been built and called since.
  void settle();

  // --- calls ---
  void start(Index behaviour) { call({Action::Verb::start, behaviour}); }
  void stop(Index behaviour) { call({Action::Verb::stop, behaviour}); }
  void restart(Index behaviour) { call({Action::Verb::restart, behaviour}); }
  void toggle(Index behaviour) { call({Action::Verb::toggle, behaviour}); }
  void kick(Index behaviour, const Vec3& by);
  void retarget(Index behaviour, Object to);
  void hide(Index object) { call({Action::Verb::hide, object}); }
  void show(Index object) { call({Action::Verb::show, object}); }
  void end(Index object) { call({Action::Verb::end, object}); }
  void place(Index object, std::string_view pose);
  void raise(std::string_view event);

  void input(InputChange::What what, std::string_view name, double value);
  void input_beforehand(InputChange change);
  std::optional<Time> last_input() const { return inputs_.last(); }
  void add_rule(Rule rule);
  using Callback = std::function<void(const Event&)>;
  void listen(std::string event, Callback callback) { listeners_.push_back({std::move(event), std::move(callback)}); }

  void add_to_preset(std::string_view preset, const Kind& kind, const void* values, const Common& common);
  void use(Object object, std::string_view preset, std::span<const OwnValue> own);
  const std::vector<PresetRecord>& presets() const { return presets_; }

  /// By hand: what it changes is its own from then on, and no preset's.
  void tune_values(Index behaviour, const void* values);
  void set_values(Index behaviour, const void* values);
  void set_common(Index behaviour, const Common& common);
  /// Nothing makes it what it is where nobody gives it.
  void set(std::string_view path, const std::optional<Value>& value);
  std::optional<Value> get(std::string_view path);
  Index find_behaviour(std::string_view path) const;
  std::string preset_path_of(Index behaviour) const;
  bool is_own(std::string_view path) const;
  /// Whether it was not told to fade away.
  bool is_wanted(const Run& run) const { return run.aside == none || asides_[run.aside].level_to > 0.0; }

  std::string in_words(const Event& event) const;
  Pose local(Index object) { return player_.local(object, now); }
  std::vector<UrgeShare> urges(Index behaviour) { return player_.urges(behaviour, now); }

  Cast cast;
  Layout layout;
  Time now = {};
  double tick_rate;
  std::vector<Event> events;
  const Rules& rules() const { return rules_; }

 private:
  /// Something the program did while the scene played, so that `seek` can do it again.
  struct Call {
    Action::Verb verb;
    Index whom = none;            ///< an object or a behaviour
    Index pose = none;            ///< of a place
    std::string_view event = {};  ///< of a raise
    Vec3 by = Vec3::Zero();       ///< of a kick
    Time at = {};
  };
  struct PresetPath {
    PresetRecord* preset;
    PresetBehaviour* behaviour;
    std::string_view field;
  };
  struct Listener {
    std::string event;
    Callback callback;
  };
  struct PathEnd {
    Index behaviour;
    const FieldInfo* field;
    bool is_common;
  };
  /// A behaviour that starts at a moment that must be shown exactly.
  struct Due {
    Time at;
    Index behaviour;
    bool operator>(const Due& other) const { return at > other.at; }
  };

  void put_events_in_order() noexcept;
  bool comes_before(const Event& a, const Event& b) const;
  void call(Call made);
  void carry_out(const Call& call);
  void carry_out_start(Index behaviour);
  void carry_out_stop(Index behaviour);
  void carry_out_restart(Index behaviour);
  void carry_out_toggle(Index behaviour);
  void carry_out_kick(Index behaviour, const Vec3& by);
  void carry_out_place(Index object, Index pose);
  void show_base(Index object);
  void fade_to(BehaviourRecord& behaviour, double level);
  void set_hidden(Index object, bool hidden);
  void end_family(Index object);
  void hold_watchers(Index lost);
  void release_watchers(Index back);
  /// Carries a bridge from what the behaviour showed before a change to what it gives now.
  void bridge_over(Index behaviour, const Pose& shown);

  void wait(Index behaviour, Time from, Time delay);
  void stop_waiting_for_lost(Index behaviour);
  void forget_later();
  [[noreturn]] void refuse(const BehaviourRecord& behaviour, const std::string& text) const;
  void check_common(const BehaviourRecord& behaviour, const Common& common) const;
  void check_values(const BehaviourRecord& behaviour, const void* values, const Pose* in) const;
  /// A copy of the values in which all that they name has been found.
  std::shared_ptr<void> resolved(const BehaviourRecord& behaviour, const void* values) const;
  /// `changed` is a behaviour whose memory the roster knows better than its lane.
  void lay_out_again(Index changed = none);
  void collect_memory(Index but = none);
  void collect_memory_of(Index behaviour);
  void drop_unused_asides();
  void note_everything();
  void remember_tick_objects(const std::vector<Pose>& shown);
  /// `after_tick`: what is evaluated at ticks has just been shown as it is now.
  void present(bool begin, bool tell = false, bool after_tick = false) noexcept;
  /// The behaviour that is due first, which is due no more.
  Index take_due() noexcept;
  void play_until(Time target) noexcept;
  void commit_tick_memory(Time at) noexcept;

  void judge(Time tick) noexcept;
  void tick(Time at) noexcept;
  /// Everything is shown as it is at a tick, before what happens there is done: `ticked` says that the tick is
  /// committed.
  void stand_at(Time tick, bool ticked) noexcept;
  void act_on_rules(Time tick) noexcept;
  void do_as_told(const RuleMemory::Firing& firing, const Action& action);
  Object nearest(Index to, const std::vector<Object>& among) const;
  void gather(Time tick) noexcept;
  void hear_events() noexcept;
  void tell_listeners() noexcept;
  std::string_view event_called(std::string_view name);
  void look_up_again();
  PresetRecord& preset_called(std::string_view name);
  std::optional<PresetPath> preset_path(std::string_view path);
  void set_in_preset(const PresetPath& path, const std::optional<Value>& value);
  std::optional<Value> get_from_preset(const PresetPath& path) const;
  void own_from_now_on(Index behaviour, std::string_view field);
  void remember_as_given(BehaviourRecord& behaviour);
  void forget_layout();
  void take_over_objects(const Stage& old, std::vector<std::string>& lost);
  std::optional<std::string> agree(Stage& old, Index behaviour);
  void begin_anew(Index behaviour);
  void take_over_state(const Stage& old, Index behaviour);
  void take_over_rules(const Stage& old, std::vector<std::string>& lost);
  void find_set_by_rules();
  void keep_set_by_rules(Kept& kept) const;
  void take_back_set_by_rules(const Kept& kept);
  Time tick_after(Time time) const;
  std::int64_t ticks_until(Time time) const;
  void take_back(const Kept& kept, bool values_too);
  PathEnd resolve(std::string_view path) const;

  std::vector<Aside> asides_;
  TickMemory ticks_;
  Flocks flocks_;
  std::vector<Due> due_;  ///< a heap, the earliest first
  Player player_;
  Inputs inputs_;
  Rules rules_;
  std::vector<PresetRecord> presets_;
  std::vector<PathEnd> set_by_rules_;  ///< values that are part of the play
  std::set<std::string, std::less<>> event_names_;
  std::vector<Listener> listeners_;
  std::size_t heard_ = 0;     ///< how many of `events` rules have heard of
  bool before_tick_ = false;  ///< `now` is a tick that is not committed yet
  std::uint64_t build_ = 0;
  bool cast_changed_ = true;  ///< objects or behaviours have come or gone
  bool laid_out_ = false;
  bool shown_ = false;           ///< the world poses are those of `now`
  std::size_t seen_events_ = 0;  ///< how many of `events` the last advance left behind
  std::vector<Event> ordered_events_;
  std::vector<std::size_t> event_order_;

  std::vector<Call> log_;
  std::vector<std::shared_ptr<const Kept>> kept_;  ///< in order of time; the first is where the build began
};

}  // namespace hushed::inside
