// The stage's memory of itself: snapshots, and going to a time by way of them.

#include <algorithm>
#include <utility>

#include "stage/stage.hpp"

namespace hushed::inside {

std::shared_ptr<const Kept> Stage::keep() {
  settle();
  collect_memory();
  auto kept = std::make_shared<Kept>();
  kept->time = now;
  kept->last_tick = player_.last_tick;
  kept->build = build_;
  for (const auto& roster : cast.rosters) kept->rosters.push_back(roster->copy());
  for (const BehaviourRecord& behaviour : cast.behaviours) {
    kept->commons.push_back(behaviour.common);
    kept->runs.push_back(behaviour.run);
    kept->owns.push_back(behaviour.own);
  }
  for (const ObjectRecord& object : cast.objects)
    kept->presences.push_back({object.ended, object.hidden, object.under_hidden, object.placed, object.gathered});
  kept->ticks = ticks_;
  kept->input = inputs_.state();
  kept->rules = rules_.memory;
  kept->presets = presets_;
  keep_set_by_rules(*kept);
  kept->events = events;
  kept->commands = commands_.done();
  kept->rounding = rounding_;
  return kept;
}

std::shared_ptr<const SnapshotData> Stage::snapshot() {
  auto state = keep();
  return std::make_shared<SnapshotData>(SnapshotData{std::move(state), commands_, inputs_, kept_});
}

void Stage::restore(const SnapshotData& snapshot) {
  settle();
  if (snapshot.state->build != build_)
    throw BadValue{
        "this snapshot does not fit: objects or behaviours were added or taken out since it was made, or it "
        "is of another scene. Take a new one after building."};
  take_back(*snapshot.state, true);
  inputs_.take_back(snapshot.inputs);
  commands_ = snapshot.commands;
  kept_ = snapshot.past;
  next_first_.reset();
}

void Stage::take_back(const Kept& kept, bool values_too) {
  now = kept.time;
  inputs_.rewind(kept.input);
  if (values_too) presets_ = kept.presets;
  rules_.memory = kept.rules;
  player_.last_tick = kept.last_tick;
  for (std::size_t i = 0; i < cast.rosters.size(); ++i) cast.rosters[i]->take_back(*kept.rosters[i], values_too);
  for (std::size_t i = 0; i < cast.behaviours.size(); ++i) {
    if (values_too) {
      if (cast.behaviours[i].common.reads != kept.commons[i].reads) laid_out_ = false;
      cast.behaviours[i].common = kept.commons[i];
      cast.behaviours[i].own = kept.owns[i];
    }
    cast.behaviours[i].run.go_back_to(kept.runs[i]);
  }
  for (std::size_t i = 0; i < cast.objects.size(); ++i) {
    const auto object = static_cast<Index>(i);
    if (cast.objects[i].ended && !kept.presences[i].ended) {
      cast.bring_back(object);
      if (!cast.objects[i].location) laid_out_ = false;
    }
    if (!cast.objects[i].ended && kept.presences[i].ended) cast.end(object);
    cast.objects[i].hidden = kept.presences[i].hidden;
    cast.objects[i].under_hidden = kept.presences[i].under_hidden;
    cast.objects[i].gathered = kept.presences[i].gathered;
    if (std::exchange(cast.objects[i].placed, kept.presences[i].placed) != kept.presences[i].placed) show_base(object);
  }
  if (!values_too) take_back_set_by_rules(kept);  // which name objects
  ticks_ = kept.ticks;
  if (cast.recount_looks() || ticks_.objects != layout.seen_at_ticks || ticks_.movers != layout.movers_at_ticks)
    laid_out_ = false;
  events = kept.events;
  rounding_ = kept.rounding;
  commands_.go_back_to(kept.commands);
  // A lane has the size of its variant: where that is another now, only a new layout has a place for it.
  for (const Batch& batch : layout.batches)
    for (const Index index : batch.behaviours)
      if (index != none && cast.roster(cast.behaviours[index]).variant(cast.behaviours[index].row) != batch.variant)
        laid_out_ = false;
  if (!laid_out_) {
    lay_out_from_rosters();
  } else {
    for (const Batch& batch : layout.batches)
      for (const Index index : batch.behaviours)
        if (index != none) fill_lane(cast.behaviours[index]);
    note_everything();
    flocks_.plan();
    flocks_.look();
  }
  present(false);
}

void Stage::seek(Time time) {
  settle();
  if (time < kept_.front()->time)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: what was called is known from " +
                   as_text(in_seconds(kept_.front()->time)) +
                   " s on, where the scene was last built on, or too much was called since to keep it all."};
  time = std::min(time, latest);

  // What the program has called by then and not seen yet, it sees after the next advance.
  std::vector<Event> undelivered;
  for (const Event& event : events.undelivered())
    if (event.time <= time) undelivered.push_back(event);

  const bool forgets_commands = commands_.forget_after(time);
  const bool forgets_input = inputs_.forget_after(time);
  if (forgets_commands || forgets_input) std::erase_if(kept_, [&](const auto& kept) { return kept->time > time; });
  if (time < now) {
    const auto later =
        std::upper_bound(kept_.begin(), kept_.end(), time, [](Time t, const auto& kept) { return t < kept->time; });
    const std::shared_ptr<const Kept> from = *std::prev(later);
    take_back(*from, false);
  }

  constexpr std::size_t most_kept = 64;
  constexpr Time stride = std::chrono::seconds{1};
  while (true) {
    while (const Command* next = commands_.next(now)) carry_out(*next);
    refresh();  // as an advance does first
    if (now >= time) break;
    play_until(std::min({time, commands_.next_time(), now + std::max(stride, (time - now) / std::int64_t{most_kept})}));
    if (kept_.back()->time + stride <= now) kept_.push_back(keep());
    if (kept_.size() > most_kept) {  // every other one, but the first
      std::size_t left = 1;
      for (std::size_t i = 2; i < kept_.size(); i += 2) kept_[left++] = kept_[i];
      kept_.resize(left);
    }
  }
  hear_events();
  events.replace_by(std::move(undelivered));  // what was passed by is not raised again
  rounding_ = 0.0;
}

/// What was kept at or after the present is of a future that will not come: it is to be played anew.
void Stage::forget_later() {
  while (kept_.size() > 1 && kept_.back()->time >= now) kept_.pop_back();
  if (next_first_ && next_first_->time >= now) next_first_.reset();
}

void Stage::bound_past() {
  constexpr std::size_t many = 8192;  // calls and changes of input
  if (++calls_since_next_first_ < many) return;
  calls_since_next_first_ = 0;
  if (next_first_) {
    std::erase_if(kept_, [&](const auto& kept) { return kept->time <= next_first_->time; });
    kept_.insert(kept_.begin(), next_first_);
    commands_.forget_before(next_first_->commands);
    inputs_.forget_before(next_first_->input);
  }
  next_first_ = keep();
}

}  // namespace hushed::inside
