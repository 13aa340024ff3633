// SPDX-License-Identifier: MIT
#include "scene/history.hpp"

#include <algorithm>
#include <atomic>
#include <utility>

#include "scene/state_bytes.hpp"

namespace hushed::detail {

namespace {

constexpr std::size_t most_states = 64;
constexpr Time least_between_states = std::chrono::seconds{1};
/// After that many commands and changes of input, the older half of them is dropped.
constexpr std::size_t many_changes = 8192;
/// After that many fed poses, the older half of the past is dropped.
constexpr std::size_t many_fed = 1U << 17;
/// Where that many poses are fed in less time, nothing is kept of the past: states would be captured too often.
constexpr Time least_between_bases = std::chrono::seconds{10};

/// Where things are added or removed all the time, a large scene stores no state of the past until that has stopped for
/// so long.
constexpr Time least_rest = std::chrono::seconds{1};
bool is_large(const Registry& registry) { return registry.alive_count > 100; }

}  // namespace

std::uint64_t History::next_content() {
  static std::atomic<std::uint64_t> last{0};
  return ++last;
}

void History::restart() {
  content_ = next_content();
  registry_.reset();
  states_.clear();
  next_base_.reset();
  log_.clear();
  wants_past_ = true;
  changes_follow_ = changed_at_ > Time{0} && core_.clock.now - changed_at_ < least_rest;
  changed_at_ = core_.clock.now;
}

void History::begin_past() {
  const Time now = core_.clock.now;
  if (!wants_past_ || (is_large(core_.registry) && changes_follow_ && now - changed_at_ < least_rest)) return;
  wants_past_ = false;
  log_.clear();
  core_.feeds.forget_before(now);
  states_.push_back(capture());
}

void History::execute(Command command) {
  drop_future_states();
  command.at = core_.clock.now;
  if (!states_.empty()) log_.add(command);
  commands_.execute(command);
  limit_past();
}

void History::add_input(InputChange::What what, std::string_view name, double value) {
  drop_future_states();
  core_.inputs.add({core_.clock.now, std::string{name}, what, value}, false);
  limit_past();
}

void History::announce_input(const InputChange& change) {
  const Time now = core_.clock.now;
  if (change.time < now)
    throw BadValue{"input at " + as_text(in_seconds(change.time)) + " s is in the past: the scene is at " +
                   as_text(in_seconds(now)) + " s. Give a later time, or seek back first."};
  drop_future_states();
  core_.inputs.add(change, true);
}

void History::feed(Object object, const Pose& pose, std::optional<Time> at) {
  drop_future_states();
  at ? core_.feeds.feed_ahead(object, pose, core_.clock.now, *at) : core_.feeds.feed(object, pose);
  if (++fed_since_next_base_ < many_fed) return;
  const bool has_past = !states_.empty();
  const Time base = next_base_ ? next_base_->time : has_past ? states_.front()->time : Time::max();
  has_past&& core_.clock.now - base >= least_between_bases ? forget_older_half() : forget_all();
}

void History::teleport(Object object, const Pose& pose) {
  core_.feeds.jump(object, pose, core_.clock.now);
  execute({.verb = Action::Verb::place, .target = object.index});
}

void History::forget_all() {
  fed_since_next_base_ = 0;
  states_.clear();
  next_base_.reset();
  log_.clear();
  core_.feeds.forget_before(core_.clock.now);
}

void History::drop_past_states() {
  if (!states_.empty()) states_.resize(1);
}

void History::drop_future_states() {
  const Time now = core_.clock.now;
  while (states_.size() > 1 && states_.back()->time >= now) states_.pop_back();
  if (next_base_ && next_base_->time > now) next_base_.reset();
}

void History::limit_past() {
  if (++changes_since_next_base_ < many_changes) return;
  if (!states_.empty()) return forget_older_half();
  changes_since_next_base_ = 0;
  core_.inputs.forget_before(core_.inputs.state());
}

void History::forget_older_half() {
  changes_since_next_base_ = fed_since_next_base_ = 0;
  if (next_base_) {
    std::erase_if(states_, [&](const auto& state) { return state->time <= next_base_->time; });
    states_.insert(states_.begin(), next_base_);
    log_.forget_before(next_base_->commands);
    core_.inputs.forget_before(next_base_->input);
    core_.feeds.forget_before(next_base_->time);
  }
  core_.refresh();
  next_base_ = capture();
}

// --- states ----------------------------------------------------------------------------------------------------------

std::shared_ptr<SceneState> History::capture() const {
  core_.collect_state();
  return copy_state();
}

std::shared_ptr<SceneState> History::copy_state() const {
  const Registry& registry = core_.registry;
  auto state = std::make_shared<SceneState>();
  state->time = core_.clock.now;
  state->rounding = core_.clock.rounding;
  state->last_tick = core_.evaluator.last_tick;
  for (const auto& store : registry.stores) state->stores.push_back(store->copy());
  state->runs.reserve(registry.behaviours.size());
  for (Index i = 0; i < registry.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = registry.behaviours[i];
    if (behaviour.given) state->changed.push_back({i, *behaviour.given, behaviour.common});
    state->runs.push_back(behaviour.run.copy());
    if (!behaviour.own.empty()) state->owns.push_back({i, behaviour.own});
  }
  state->presences = registry.presences;
  state->ticks = core_.ticks;
  state->clocks = core_.clocks.all();
  state->input = core_.inputs.state();
  state->rules = core_.rules.memory;
  state->set_by_rules = rule_actions_.capture_set_values();
  state->presets = presets_.all();
  state->events = core_.events;
  state->shown_jumps = core_.feeds.shown_jumps();
  state->commands = log_.done();
  return state;
}

void History::restore_state(const SceneState& state, GoesBack what) {
  core_.clock.now = state.time;
  core_.clock.rounding = state.rounding;
  core_.evaluator.last_tick = state.last_tick;
  core_.clocks.restore(state.clocks);
  core_.inputs.rewind(state.input);
  core_.feeds.go_back_to(state.shown_jumps);
  core_.rules.memory = state.rules;
  core_.events = state.events;
  log_.go_back_to(state.commands);
  Registry& registry = core_.registry;
  const bool values_too = what != GoesBack::play;
  bool has_other_values = what == GoesBack::content;
  // Stores of kinds that came later have no rows that are in use.
  for (std::size_t i = 0; i < state.stores.size(); ++i)
    has_other_values = registry.stores[i]->restore(*state.stores[i], values_too) || has_other_values;
  if (values_too) presets_.restore(state.presets);
  if (restore_behaviours(state, values_too)) {
    core_.invalidate_layout();
    has_other_values = true;
  }
  restore_presences(state);
  core_.ticks = state.ticks;
  const bool has_other_dependencies =
      values_too ? has_other_values && registry.recount_dependencies() : restore_values_of_rules(state);
  core_.clocks.update(registry, state.time, state.last_tick, [](const ObjectClock&) {});
  if (has_other_dependencies || !layout_fits()) core_.invalidate_layout();
  if (core_.is_laid_out())
    core_.fill_all_lanes();
  else
    core_.lay_out_from_stores();
  core_.evaluate_all({.now = state.time});
}

bool History::restore_behaviours(const SceneState& state, bool values_too) {
  bool has_other_reads = false;
  auto next = state.changed.begin();
  auto next_own = state.owns.begin();
  std::vector<BehaviourRecord>& behaviours = core_.registry.behaviours;
  for (Index i = 0; i < behaviours.size(); ++i) {
    BehaviourRecord& behaviour = behaviours[i];
    behaviour.run.go_back_to(state.runs[i]);
    if (!values_too) continue;
    const Reads reads = behaviour.common.reads;
    if (next != state.changed.end() && next->behaviour == i) {
      behaviour.given.make() = next->given;
      behaviour.common = next->present;
      ++next;
    } else if (behaviour.given) {
      behaviour.common = behaviour.given->common;
      behaviour.given.reset();
    }
    has_other_reads = has_other_reads || behaviour.common.reads != reads;
    if (next_own != state.owns.end() && next_own->behaviour == i)
      behaviour.own = next_own++->fields;
    else
      behaviour.own.clear();
  }
  return has_other_reads;
}

/// Values that rules have set keep their present values where those of the state would, with values that were tuned
/// since, make an object depend on itself.
bool History::restore_values_of_rules(const SceneState& state) {
  const auto present = rule_actions_.capture_set_values();
  rule_actions_.restore_set_values(state.set_by_rules);
  const bool has_other_dependencies = core_.registry.recount_dependencies();
  if (present.empty() || !core_.registry.has_cycle()) return has_other_dependencies;
  rule_actions_.restore_set_values(present);
  return core_.registry.recount_dependencies();
}

void History::restore_presences(const SceneState& state) {
  Registry& registry = core_.registry;
  for (Index index = 0; index < registry.presences.size(); ++index) {
    Presence& now = registry.presences[index];
    const Presence& then = state.presences[index];
    if (now.ended && !then.ended) {
      registry.revive(index);
      if (!registry.objects[index].location) core_.invalidate_layout();
    }
    if (!now.ended && then.ended) registry.end(index);
    now.hidden = then.hidden;
    now.under_hidden = then.under_hidden;
    now.gathered = then.gathered;
    if (std::exchange(now.placed, then.placed) != then.placed) commands_.update_base(index);
  }
  ++registry.presence_edition;
}

bool History::layout_fits() const {
  const Layout& layout = core_.layout;
  if (core_.ticks.objects != layout.read_at_ticks || core_.ticks.movers != layout.movers_at_ticks) return false;
  const Registry& registry = core_.registry;
  for (const Batch& batch : layout.batches)
    for (const Index index : batch.behaviours) {
      if (index == none) continue;
      const BehaviourRecord& behaviour = registry.behaviours[index];
      if (registry.store(behaviour).variant(behaviour.row) != batch.variant) return false;
      const Group& group = layout.groups[registry.objects[behaviour.object].location->group];
      if ((behaviour.run.once_touched & ~group.touched) != 0) return false;
    }
  return true;
}

std::shared_ptr<const SnapshotData> History::snapshot() const { return with(capture()); }

std::shared_ptr<SnapshotData> History::with(std::shared_ptr<const SceneState> state) const {
  if (!registry_) {
    registry_ = std::make_shared<const RegistryContent>(core_.registry);
    hash_ = content_hash(*registry_, core_.clock.tick_rate, core_.rules);
  }
  return std::make_shared<SnapshotData>(SnapshotData{scene_, content_, registry_, hash_, core_.rules.size(),
                                                     std::move(state), log_, core_.inputs, core_.feeds, states_,
                                                     wants_past_});
}

std::shared_ptr<const SnapshotData> History::snapshot_from(std::span<const std::byte> bytes) {
  const std::shared_ptr<SceneState> state = copy_state();  // the motions so far will be read
  state->commands = 0;
  const std::shared_ptr<SnapshotData> data = with(state);
  data->log.clear();
  data->past.clear();
  data->wants_past = true;
  read_bytes(bytes, *data, *state, core_.registry, core_.event_names);
  return data;
}

void History::restore(const SnapshotData& snapshot, std::optional<Time> fed_until) {
  if (snapshot.scene != scene_)
    throw BadValue{"the snapshot is of another scene, or of this one before a hot reload. Take a new one."};
  if (snapshot.rules != core_.rules.size())
    throw BadValue{"the snapshot does not match: rules were added since it was taken. Take a new one after building."};
  const bool is_other_content = snapshot.content != content_;
  if (is_other_content) restore_content(snapshot);
  if (fed_until && !is_other_content && core_.feeds.are_known_since(snapshot.state->time))
    (void)core_.feeds.forget_after(*fed_until, Time::max());
  else
    core_.feeds.restore(snapshot.feeds);
  core_.inputs.use_numbers_of(snapshot.inputs);
  restore_state(*snapshot.state, is_other_content ? GoesBack::content : GoesBack::values);
  core_.inputs.restore_state(snapshot.inputs);
  log_ = snapshot.log;
  states_ = snapshot.past;
  next_base_.reset();
  wants_past_ = snapshot.wants_past;
  changed_at_ = core_.clock.now;
}

void History::restore_content(const SnapshotData& snapshot) {
  core_.restore_content(*snapshot.registry, snapshot.state->stores);
  rule_actions_.resolve_names();
  content_ = snapshot.content;
  registry_ = snapshot.registry;
  hash_ = snapshot.hash;
}

// --- seek ------------------------------------------------------------------------------------------------------------

void History::seek(Time time) {
  begin_past();
  if (wants_past_ && time < core_.clock.now)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) +
                   " s: objects or behaviours are added or removed all the time, and this scene stores its past only "
                   "after " +
                   as_text(in_seconds(least_rest)) + " s without such a change. Use a snapshot instead."};
  if (states_.empty() && time < core_.clock.now)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: more than " + std::to_string(many_fed) +
                   " poses were fed in less than " + as_text(in_seconds(least_between_bases)) +
                   " s, and so nothing is kept of the past. Take snapshots."};
  if (!states_.empty() && time < states_.front()->time)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: the past is stored from " +
                   as_text(in_seconds(states_.front()->time)) +
                   " s on. It begins anew when objects or behaviours are added, and shortens after very many calls."};
  time = std::min(time, latest);

  // Events that the program has raised by then and not seen yet are delivered after the next advance.
  std::vector<Event> undelivered;
  for (const Event& event : core_.events.undelivered())
    if (event.time <= time) undelivered.push_back(event);

  const bool forgets_commands = log_.forget_after(time);
  const bool forgets_input = core_.inputs.forget_after(time);
  const bool forgets_fed = core_.feeds.forget_after(time, core_.clock.now);
  if (forgets_commands || forgets_input || forgets_fed)
    std::erase_if(states_, [&](const auto& state) { return state->time > time; });
  if (time < core_.clock.now) {
    const auto later = std::upper_bound(states_.begin(), states_.end(), time,
                                        [](Time t, const auto& state) { return t < state->time; });
    const std::shared_ptr<const SceneState> from = *std::prev(later);
    restore_state(*from, GoesBack::play);
  }
  play_again_to(time);
  core_.pass_events_to_rules();
  core_.events.replace_by(std::move(undelivered));  // events on the way are not delivered again
  core_.clock.rounding = 0.0;
}

void History::play_again_to(Time time) {
  const Time& now = core_.clock.now;
  while (true) {
    while (const Command* next = log_.next(now)) commands_.execute(*next);
    core_.refresh();  // as an advance does first
    if (now >= time) return;
    const Time step = std::max(least_between_states, (time - now) / std::int64_t{most_states});
    stepper_.advance_to(std::min({time, log_.next_time(), now + step}));
    if (!states_.empty() && states_.back()->time + least_between_states <= now) store_state();
  }
}

void History::store_state() {
  core_.refresh();
  states_.push_back(capture());
  if (states_.size() <= most_states) return;
  std::size_t left = 1;  // every other state stays, and the first
  for (std::size_t i = 2; i < states_.size(); i += 2) states_[left++] = states_[i];
  states_.resize(left);
}

}  // namespace hushed::detail
