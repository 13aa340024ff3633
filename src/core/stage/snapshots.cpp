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
  kept->asides = asides_;
  for (const ObjectRecord& object : cast.objects)
    kept->presences.push_back({object.ended, object.hidden, object.under_hidden, object.placed, object.gathered});
  kept->ticks = ticks_;
  kept->inputs = inputs_;
  kept->rules = rules_.memory;
  kept->presets = presets_;
  keep_set_by_rules(*kept);
  kept->calls = log_.size();
  return kept;
}

void Stage::restore(const Kept& kept) {
  settle();
  if (kept.build != build_)
    throw BadValue{
        "this snapshot does not fit: objects or behaviours were added or taken out since it was made, or it "
        "is of another scene. Take a new one after building."};
  take_back(kept, true);
  inputs_.take_back(kept.inputs);
  forget_later();
}

void Stage::take_back(const Kept& kept, bool values_too) {
  now = kept.time;
  inputs_.rewind(kept.inputs.state());
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
    // An aside made since keeps its place, so that it need not be made again.
    const Index aside = cast.behaviours[i].run.aside;
    cast.behaviours[i].run = kept.runs[i];
    if (aside != none) asides_[aside] = kept.runs[i].aside == none ? Aside{} : kept.asides[aside];
    cast.behaviours[i].run.aside = aside;
  }
  for (std::size_t i = 0; i < cast.objects.size(); ++i) {
    const auto object = static_cast<Index>(i);
    if (cast.objects[i].ended && !kept.presences[i].ended) cast.bring_back(object);
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
  log_.resize(std::min(log_.size(), kept.calls));
  for (const Batch& batch : layout.batches) {
    for (std::size_t i = 0; i < batch.behaviours.size(); ++i) {
      if (batch.behaviours[i] == none) continue;
      const BehaviourRecord& behaviour = cast.behaviours[batch.behaviours[i]];
      if (cast.roster(behaviour).variant(behaviour.row) != batch.variant) laid_out_ = false;
      batch.column->fill(i / lanes, static_cast<int>(i % lanes), behaviour.row);
    }
  }
  if (!laid_out_) {
    lay_out_again();
  } else {
    note_everything();
    flocks_.plan();
    flocks_.look();
  }
  present(false);
}

void Stage::seek(Time time) {
  settle();
  const std::size_t told = events.size();
  if (time < kept_.front()->time)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: the scene begins at " +
                   as_text(in_seconds(kept_.front()->time)) + " s, where it was last built on."};
  time = std::min(time, latest);

  std::vector<Call> calls = std::move(log_);
  std::erase_if(calls, [&](const Call& call) { return call.at > time; });
  log_ = calls;
  inputs_.forget_after(time);
  std::erase_if(kept_, [&](const auto& kept) { return kept->calls > calls.size(); });
  if (time < now) {
    const auto later =
        std::upper_bound(kept_.begin(), kept_.end(), time, [](Time t, const auto& kept) { return t < kept->time; });
    const std::shared_ptr<const Kept> from = *std::prev(later);
    take_back(*from, false);
  }

  constexpr std::size_t most_kept = 64;
  constexpr Time stride = std::chrono::seconds{1};
  while (true) {
    while (log_.size() < calls.size() && calls[log_.size()].at <= now) {
      carry_out(calls[log_.size()]);
      log_.push_back(calls[log_.size()]);
    }
    if (now >= time) break;
    const Time next_call = log_.size() < calls.size() ? calls[log_.size()].at : time;
    play_until(std::min({time, next_call, now + std::max(stride, (time - now) / std::int64_t{most_kept})}));
    if (kept_.back()->time + stride <= now) kept_.push_back(keep());
    if (kept_.size() > most_kept) {  // every other one, but the first
      std::size_t left = 1;
      for (std::size_t i = 2; i < kept_.size(); i += 2) kept_[left++] = kept_[i];
      kept_.resize(left);
    }
  }
  events.resize(std::min(events.size(), told));  // what was passed by is not raised again
}

/// What was kept at or after the present is of a future that will not come: it is to be played anew.
void Stage::forget_later() {
  while (kept_.size() > 1 && kept_.back()->time >= now) kept_.pop_back();
}

}  // namespace hushed::inside
