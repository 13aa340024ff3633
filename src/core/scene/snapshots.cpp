// SPDX-License-Identifier: MIT
// Snapshots, and `seek` by way of them.

#include <algorithm>
#include <utility>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

std::shared_ptr<const SceneState> SceneImpl::capture_state() {
  settle();
  collect_memory();
  auto state = std::make_shared<SceneState>();
  state->time = now;
  state->last_tick = evaluator_.last_tick;
  state->build = build_;
  for (const auto& store : registry.stores) state->stores.push_back(store->copy());
  for (const BehaviourRecord& behaviour : registry.behaviours) {
    state->commons.push_back(behaviour.common);
    state->runs.push_back(behaviour.run);
    state->owns.push_back(behaviour.own);
  }
  for (const ObjectRecord& object : registry.objects)
    state->presences.push_back({object.ended, object.hidden, object.under_hidden, object.placed, object.gathered});
  state->ticks = ticks_;
  state->input = inputs_.state();
  state->rules = rules_.memory;
  state->presets = presets_;
  capture_set_by_rules(*state);
  state->events = events;
  state->commands = commands_.done();
  state->rounding = rounding_;
  return state;
}

std::shared_ptr<const SnapshotData> SceneImpl::snapshot() {
  auto state = capture_state();
  return std::make_shared<SnapshotData>(SnapshotData{std::move(state), commands_, inputs_, states_});
}

void SceneImpl::restore(const SnapshotData& snapshot) {
  settle();
  if (snapshot.state->build != build_)
    throw BadValue{
        "this snapshot does not fit: objects or behaviours were added or taken out since it was made, or it "
        "is of another scene. Take a new one after building."};
  restore_state(*snapshot.state, true);
  inputs_.restore_state(snapshot.inputs);
  commands_ = snapshot.commands;
  states_ = snapshot.past;
  next_base_.reset();
}

void SceneImpl::restore_state(const SceneState& state, bool values_too) {
  now = state.time;
  inputs_.rewind(state.input);
  if (values_too) presets_ = state.presets;
  rules_.memory = state.rules;
  evaluator_.last_tick = state.last_tick;
  for (std::size_t i = 0; i < registry.stores.size(); ++i) registry.stores[i]->restore(*state.stores[i], values_too);
  for (std::size_t i = 0; i < registry.behaviours.size(); ++i) {
    if (values_too) {
      if (registry.behaviours[i].common.reads != state.commons[i].reads) laid_out_ = false;
      registry.behaviours[i].common = state.commons[i];
      registry.behaviours[i].own = state.owns[i];
    }
    registry.behaviours[i].run.go_back_to(state.runs[i]);
  }
  for (std::size_t i = 0; i < registry.objects.size(); ++i) {
    const auto object = static_cast<Index>(i);
    if (registry.objects[i].ended && !state.presences[i].ended) {
      registry.revive(object);
      if (!registry.objects[i].location) laid_out_ = false;
    }
    if (!registry.objects[i].ended && state.presences[i].ended) registry.end(object);
    registry.objects[i].hidden = state.presences[i].hidden;
    registry.objects[i].under_hidden = state.presences[i].under_hidden;
    registry.objects[i].gathered = state.presences[i].gathered;
    if (std::exchange(registry.objects[i].placed, state.presences[i].placed) != state.presences[i].placed)
      show_base(object);
  }
  if (!values_too) restore_set_by_rules(state);  // they may name objects
  ticks_ = state.ticks;
  if (registry.recount_dependencies() || ticks_.objects != layout.read_at_ticks ||
      ticks_.movers != layout.movers_at_ticks)
    laid_out_ = false;
  events = state.events;
  rounding_ = state.rounding;
  commands_.go_back_to(state.commands);
  // Where the variant of a behaviour has changed, it needs a new layout.
  for (const Batch& batch : layout.batches)
    for (const Index index : batch.behaviours)
      if (index != none &&
          registry.store(registry.behaviours[index]).variant(registry.behaviours[index].row) != batch.variant)
        laid_out_ = false;
  if (!laid_out_) {
    lay_out_from_stores();
  } else {
    for (const Batch& batch : layout.batches)
      for (const Index index : batch.behaviours)
        if (index != none) fill_lane(registry.behaviours[index]);
    update_all_lanes();
    flocks_.plan();
    flocks_.update();
  }
  present({.now = now});
}

void SceneImpl::seek(Time time) {
  settle();
  if (time < states_.front()->time)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: what was called is known from " +
                   as_text(in_seconds(states_.front()->time)) +
                   " s on, where the scene was last built on, or too much was called since to keep it all."};
  time = std::min(time, latest);

  // Events that the program has raised by then and not seen yet are delivered after the next advance.
  std::vector<Event> undelivered;
  for (const Event& event : events.undelivered())
    if (event.time <= time) undelivered.push_back(event);

  const bool forgets_commands = commands_.forget_after(time);
  const bool forgets_input = inputs_.forget_after(time);
  if (forgets_commands || forgets_input) std::erase_if(states_, [&](const auto& state) { return state->time > time; });
  if (time < now) {
    const auto later = std::upper_bound(states_.begin(), states_.end(), time,
                                        [](Time t, const auto& state) { return t < state->time; });
    const std::shared_ptr<const SceneState> from = *std::prev(later);
    restore_state(*from, false);
  }

  constexpr std::size_t most_states = 64;
  constexpr Time stride = std::chrono::seconds{1};
  while (true) {
    while (const Command* next = commands_.next(now)) execute(*next);
    refresh();  // as an advance does first
    if (now >= time) break;
    advance_until(
        std::min({time, commands_.next_time(), now + std::max(stride, (time - now) / std::int64_t{most_states})}));
    if (states_.back()->time + stride <= now) states_.push_back(capture_state());
    if (states_.size() > most_states) {  // every other one, but the first
      std::size_t left = 1;
      for (std::size_t i = 2; i < states_.size(); i += 2) states_[left++] = states_[i];
      states_.resize(left);
    }
  }
  process_events();
  events.replace_by(std::move(undelivered));  // events on the way are not delivered again
  rounding_ = 0.0;
}

/// Drops states at or after the present: the future will be played anew.
void SceneImpl::drop_later_commands() {
  while (states_.size() > 1 && states_.back()->time >= now) states_.pop_back();
  if (next_base_ && next_base_->time >= now) next_base_.reset();
}

void SceneImpl::limit_past() {
  constexpr std::size_t many = 8192;  // commands and changes of input
  if (++commands_since_next_base_ < many) return;
  commands_since_next_base_ = 0;
  if (next_base_) {
    std::erase_if(states_, [&](const auto& state) { return state->time <= next_base_->time; });
    states_.insert(states_.begin(), next_base_);
    commands_.forget_before(next_base_->commands);
    inputs_.forget_before(next_base_->input);
  }
  next_base_ = capture_state();
}

}  // namespace hushed::detail
