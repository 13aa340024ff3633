#include "stage/stage.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <functional>

#include "lanes/clock.hpp"

namespace hushed::inside {

namespace {

constexpr Time latest = std::chrono::seconds{1'000'000'000};

/// Different for every state of every cast, so that a snapshot fits one alone.
std::uint64_t next_build() {
  static std::atomic<std::uint64_t> last{0};
  return ++last;
}

}  // namespace

Stage::Stage(double rate) : tick_rate{rate}, player_{cast, layout, asides_, ticks_, events} {
  if (!(rate >= 1.0 && rate <= 10'000.0))
    throw BadValue{"the tick rate " + as_text(rate) + " is out of range; give a number from 1 to 10000 (per second)."};
}

// --- building ------------------------------------------------------------------------------------------------

Object Stage::add(const NewObject& object) {
  const Object handle = cast.handle(cast.add(object));
  cast_changed_ = true;
  return handle;
}

AnyBehaviour Stage::give(Object object, const Kind& kind, const void* values, const Common& common) {
  const Index owner = cast.index(object);
  BehaviourRecord draft;
  draft.kind = &kind;
  draft.object = owner;
  draft.common = common;
  // Over nothing, what comes in is the rest pose; over other behaviours it takes playing to know it.
  const bool known = cast.objects[owner].first_behaviour == none;
  check_values(draft, values, known ? &cast.objects[owner].rest : nullptr);
  for (const FieldInfo& field : fields_of<Common>())
    if (const auto complaint = check(field, &common))
      throw BadValue{cast.name(owner) + '.' + std::string{kind.name()} + ": " + std::string{field.name} + ": " +
                     complaint->text};

  const Index index = cast.give(owner, kind, values, common);
  BehaviourRecord& behaviour = cast.behaviours[index];
  const bool may_jump = !player_.starts_quietly(behaviour) || !behaviour.looks_at.empty();
  if (common.fade > Time{0} || !common.enabled || may_jump) player_.aside(behaviour.run);
  if (common.enabled) wait(index, now, common.delay);
  cast_changed_ = true;
  return cast.behaviour_handle(index);
}

void Stage::check_values(const BehaviourRecord& behaviour, const void* values, const Pose* in) const {
  const auto refuse = [&](const std::string& text) {
    const std::string_view name =
        behaviour.common.name.empty() ? behaviour.kind->name() : std::string_view{behaviour.common.name};
    throw BadValue{cast.name(behaviour.object) + '.' + std::string{name} + ": " + text};
  };
  for (const FieldInfo& field : behaviour.kind->fields())
    if (const auto complaint = check(field, values)) refuse(std::string{field.name} + ": " + complaint->text);
  if (const auto complaint = behaviour.kind->check(values, in)) refuse(complaint->text);
}

/// Sets a behaviour waiting for its start, `delay` after `from`; it has started at once where it starts
/// without a difference and without a delay.
void Stage::wait(Index index, Time from, Time delay) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  run.phase = Run::Phase::waiting;
  run.starts_at = from + delay;
  if (behaviour.kind->has_memory() && run.starts_at > Time{0}) run.starts_at = tick_after(run.starts_at - Time{1});
  if (player_.starts_quietly(behaviour)) {
    if (delay > Time{0} || behaviour.common.fade > Time{0}) {
      player_.aside(run);
      return;
    }
    run.phase = Run::Phase::running;
    run.clock = run.starts_at;
    return;
  }
  player_.aside(run);
  due_.push_back({run.starts_at, index});
  std::push_heap(due_.begin(), due_.end(), std::greater{});
}

void Stage::lay_out_again() {
  std::vector<Pose> shown(cast.objects.size());
  for (std::size_t i = 0; i < shown.size(); ++i)
    shown[i] = cast.objects[i].slot == none ? cast.objects[i].rest : layout.worlds[cast.objects[i].slot];

  layout = lay_out(cast);
  player_.make_room();
  player_.last_tick = frame_time(ticks_until(now), tick_rate);
  remember_tick_objects(shown);
  note_everything();
  laid_out_ = true;
  shown_ = false;
}

void Stage::note_everything() {
  due_.clear();
  std::size_t lookers = 0;
  for (Index i = 0; i < cast.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = cast.behaviours[i];
    if (!behaviour.in_use) continue;
    player_.note(i, now);
    if (behaviour.run.phase == Run::Phase::waiting && !player_.starts_quietly(behaviour))
      due_.push_back({behaviour.run.starts_at, i});
    if (!behaviour.looks_at.empty()) ++lookers;
  }
  events.reserve(events.size() + 2 * lookers + 16);  // a frame must not have to make room
  std::make_heap(due_.begin(), due_.end(), std::greater{});
}

/// Objects that are seen as at the last tick for the first time are seen as they are now, or at rest at the
/// very beginning, when there is no other pose yet.
void Stage::remember_tick_objects(const std::vector<Pose>& shown) {
  const auto at_rest = [this](Index object) {
    Pose pose = cast.objects[object].rest;
    for (Index child = object; cast.objects[child].parent != none; child = cast.objects[child].parent) {
      const Inherit inherit = cast.objects[child].inherit;
      Pose frame = cast.objects[cast.objects[child].parent].rest;
      if (!inherit.position) frame.position = Vec3::Zero();
      if (!inherit.rotation) frame.rotation = Quat::Identity();
      if (!inherit.scale) frame.scale = Vec3::Ones();
      pose = compose(frame, pose);
    }
    return pose;
  };

  TickMemory next{player_.last_tick, layout.seen_at_ticks, {}, {}};
  for (const Index object : next.objects) {
    const auto known = std::lower_bound(ticks_.objects.begin(), ticks_.objects.end(), object);
    if (known != ticks_.objects.end() && *known == object) {
      const auto at = static_cast<std::size_t>(known - ticks_.objects.begin());
      next.before.push_back(ticks_.before[at]);
      next.last.push_back(ticks_.last[at]);
    } else {
      next.before.push_back(now == Time{0} ? at_rest(object) : shown[object]);
      next.last.push_back(next.before.back());
    }
  }
  ticks_ = std::move(next);
}

void Stage::settle() {
  const bool built = cast_changed_;
  if (built) {
    cast.sweep();
    build_ = next_build();
    cast_changed_ = false;
    laid_out_ = false;
  }
  if (!laid_out_) lay_out_again();
  if (!shown_) present(true);
  if (built) {
    kept_.clear();
    log_.clear();
    kept_.push_back(keep());
  }
}

// --- time ----------------------------------------------------------------------------------------------------

void Stage::advance(Time step) noexcept {
  events.erase(events.begin(), events.begin() + static_cast<std::ptrdiff_t>(seen_events_));
  seen_events_ = 0;
  if (step > Time{0}) {
    settle();
    play_until(step < latest - now ? now + step : latest);
    std::sort(events.begin(), events.end(), [this](const Event& a, const Event& b) { return comes_before(a, b); });
  }
  seen_events_ = events.size();
}

bool Stage::comes_before(const Event& a, const Event& b) const {
  if (a.time != b.time) return a.time < b.time;
  const auto by_name = cast.objects[a.subject.index].name <=> cast.objects[b.subject.index].name;
  if (by_name != 0) return by_name < 0;
  return a.behaviour.index < b.behaviour.index;
}

std::string Stage::in_words(const Event& event) const {
  const auto name = [this](Object object) {
    const bool known = object.index < cast.objects.size() && cast.objects[object.index].generation == object.generation;
    return known ? cast.name(object.index) : std::string{"what has ended"};
  };
  const std::string who = cast.alive(event.behaviour) ? cast.path_of(event.behaviour.index) : name(event.subject);
  if (event.name == "lost") return who + " has lost " + name(event.other);
  return who + " has failed: " + event.why;
}

/// Everything at `now`, from the last tick that is committed.
void Stage::present(bool begin) noexcept {
  player_.play({.now = now, .begin = begin});
  if (begin)
    while (!due_.empty() && due_.front().at <= now) {
      std::pop_heap(due_.begin(), due_.end(), std::greater{});
      due_.pop_back();
    }
  if (now == Time{0}) commit_tick_memory(now);
  shown_ = true;
}

/// Ticks and exact starts in the order of their times, then the frame.
void Stage::play_until(Time target) noexcept {
  Time tick = layout.any_ticked ? tick_after(player_.last_tick) : Time::max();
  if (!layout.any_ticked) player_.last_tick = frame_time(ticks_until(target), tick_rate);
  while (true) {
    const Time start = due_.empty() ? Time::max() : due_.front().at;
    const Time next = std::min(tick, start);
    if (next > target) break;
    if (tick <= start) {
      commit_tick(tick);
      tick = tick_after(tick);
    }
    while (!due_.empty() && due_.front().at <= next) {
      const Index behaviour = due_.front().behaviour;
      std::pop_heap(due_.begin(), due_.end(), std::greater{});
      due_.pop_back();
      if (cast.behaviours[behaviour].run.phase == Run::Phase::waiting)
        player_.start_around(cast.behaviours[behaviour].object, next);
    }
  }
  now = target;
  present(false);
}

void Stage::commit_tick(Time at) noexcept {
  player_.play({.now = at, .commit = true, .begin = true, .ticked_only = true});
  player_.last_tick = at;
  commit_tick_memory(at);
}

void Stage::commit_tick_memory(Time at) noexcept {
  ticks_.at = at;
  if (at > Time{0}) std::swap(ticks_.before, ticks_.last);
  for (std::size_t i = 0; i < ticks_.objects.size(); ++i) {
    const ObjectRecord& object = cast.objects[ticks_.objects[i]];
    if (object.slot != none) ticks_.last[i] = layout.worlds[object.slot];
  }
}

std::int64_t Stage::ticks_until(Time time) const {
  auto number = static_cast<std::int64_t>(std::floor(in_seconds(time) * tick_rate));
  while (frame_time(number + 1, tick_rate) <= time) ++number;
  while (number > 0 && frame_time(number, tick_rate) > time) --number;
  return number;
}

Time Stage::tick_after(Time time) const {
  return time < Time{0} ? Time{0} : frame_time(ticks_until(time) + 1, tick_rate);
}

// --- snapshots -----------------------------------------------------------------------------------------------

std::shared_ptr<const Kept> Stage::keep() {
  settle();
  auto kept = std::make_shared<Kept>();
  kept->time = now;
  kept->last_tick = player_.last_tick;
  kept->build = build_;
  for (const auto& roster : cast.rosters) kept->rosters.push_back(roster->copy());
  for (const BehaviourRecord& behaviour : cast.behaviours) {
    kept->commons.push_back(behaviour.common);
    kept->runs.push_back(behaviour.run);
  }
  kept->asides = asides_;
  for (const ObjectRecord& object : cast.objects)
    kept->presences.push_back({object.ended, object.hidden, object.under_hidden});
  kept->ticks = ticks_;
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
  forget_later();
}

void Stage::take_back(const Kept& kept, bool values_too) {
  now = kept.time;
  player_.last_tick = kept.last_tick;
  for (std::size_t i = 0; i < cast.rosters.size(); ++i) cast.rosters[i]->take_back(*kept.rosters[i], values_too);
  for (std::size_t i = 0; i < cast.behaviours.size(); ++i) {
    if (values_too) cast.behaviours[i].common = kept.commons[i];
    cast.behaviours[i].run = kept.runs[i];
  }
  // Asides made since keep their places, so that no frame has to make them again.
  std::copy(kept.asides.begin(), kept.asides.end(), asides_.begin());
  for (std::size_t i = 0; i < cast.objects.size(); ++i) {
    const auto object = static_cast<Index>(i);
    if (cast.objects[i].ended && !kept.presences[i].ended) cast.bring_back(object);
    if (!cast.objects[i].ended && kept.presences[i].ended) cast.end(object);
    cast.objects[i].hidden = kept.presences[i].hidden;
    cast.objects[i].under_hidden = kept.presences[i].under_hidden;
  }
  ticks_ = kept.ticks;
  cast.recount_looks();
  log_.resize(std::min(log_.size(), kept.calls));
  for (const Batch& batch : layout.batches) {
    for (std::size_t i = 0; i < batch.behaviours.size(); ++i) {
      if (batch.behaviours[i] == none) continue;
      const BehaviourRecord& behaviour = cast.behaviours[batch.behaviours[i]];
      if (cast.roster(behaviour).variant(behaviour.row) != batch.variant) laid_out_ = false;
      batch.column->fill(i / lanes, static_cast<int>(i % lanes), behaviour.row);
    }
  }
  if (!laid_out_)
    lay_out_again();
  else
    note_everything();
  present(false);
}

void Stage::seek(Time time) {
  settle();
  if (time < kept_.front()->time)
    throw BadValue{"cannot seek to " + as_text(in_seconds(time)) + " s: the scene begins at " +
                   as_text(in_seconds(kept_.front()->time)) + " s, where it was last built on."};
  time = std::min(time, latest);

  std::vector<Call> calls = std::move(log_);
  std::erase_if(calls, [&](const Call& call) { return call.at > time; });
  log_ = calls;
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
}

/// What was kept at or after the present is of a future that will not come: it is to be played anew.
void Stage::forget_later() {
  while (kept_.size() > 1 && kept_.back()->time >= now) kept_.pop_back();
}

// --- calls ---------------------------------------------------------------------------------------------------

void Stage::call(Call::Verb verb, Index whom) {
  settle();
  forget_later();
  const Call made{verb, whom, now};
  log_.push_back(made);
  carry_out(made);
}

void Stage::carry_out(const Call& call) {
  switch (call.verb) {
    case Call::Verb::start: carry_out_start(call.whom); break;
    case Call::Verb::stop: carry_out_stop(call.whom); break;
    case Call::Verb::restart: carry_out_restart(call.whom); break;
    case Call::Verb::hide: set_hidden(call.whom, true); break;
    case Call::Verb::show: set_hidden(call.whom, false); break;
    case Call::Verb::end: end_family(call.whom); break;
  }
  if (now == Time{0}) shown_ = false;  // nothing is bridged before the scene has begun
}

void Stage::carry_out_start(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  const bool comes_back = run.phase == Run::Phase::halted;
  switch (run.phase) {
    case Run::Phase::waiting: return;
    case Run::Phase::idle: wait(index, now, behaviour.common.delay); break;
    case Run::Phase::halted:
      run.clock = now - run.clock;
      run.phase = Run::Phase::running;
      break;
    case Run::Phase::running: break;
  }
  if (run.phase == Run::Phase::running && run.aside != none) {
    fade_to(behaviour, 1.0);
    if (comes_back && behaviour.kind->has_memory()) bridge_over(index, asides_[run.aside].held);
  }
  player_.note(index, now);
}

void Stage::carry_out_stop(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  if (run.phase == Run::Phase::waiting) {
    run.phase = Run::Phase::idle;
  } else if (run.phase == Run::Phase::running && behaviour.common.fade > Time{0}) {
    fade_to(behaviour, 0.0);
  } else if (run.phase == Run::Phase::running) {
    if (behaviour.kind->has_memory()) player_.aside(run).held = player_.probe(index, now).shown;
    run.clock = now - run.clock;
    run.phase = Run::Phase::halted;
  }
  player_.note(index, now);
}

void Stage::carry_out_restart(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  const Probe before = player_.probe(index, now);
  if (player_.starts_quietly(behaviour)) {  // what does not will begin when it is due
    cast.roster(behaviour).begin(behaviour.row, before.start);
    layout.batches[behaviour.batch].column->fill(behaviour.block, behaviour.lane, behaviour.row);
  }
  behaviour.run.holding = false;
  if (behaviour.run.aside != none) asides_[behaviour.run.aside] = Aside{};
  wait(index, now, behaviour.common.delay);
  bridge_over(index, before.shown);
}

void Stage::fade_to(BehaviourRecord& behaviour, double level) {
  const double present = player_.level(behaviour.run, now);
  Aside& fading = player_.aside(behaviour.run);
  fading.level_from = present;
  fading.level_to = level;
  fading.level_since = now;
  fading.level_length = present == level ? Time{0} : behaviour.common.fade;
}

void Stage::bridge_over(Index index, const Pose& shown) {
  player_.note(index, now);
  if (now > Time{0})
    player_.bridge(cast.behaviours[index], shown, player_.probe(index, now).out, now);
  else
    shown_ = false;  // nothing has been seen yet: it may be where it likes
  player_.note(index, now);
}

void Stage::set_hidden(Index object, bool hidden) {
  if (cast.objects[object].hidden == hidden) return;
  cast.objects[object].hidden = hidden;
  for (const Index member : cast.family(object)) {
    ObjectRecord& record = cast.objects[member];
    const bool above = record.parent != none && cast.objects[record.parent].under_hidden;
    const bool now_hidden = record.hidden || above;
    if (record.under_hidden == now_hidden) continue;
    if (now_hidden) hold_watchers(member);
    record.under_hidden = now_hidden;
    if (!now_hidden) release_watchers(member);
  }
}

void Stage::end_family(Index object) {
  const std::vector<Index> family = cast.family(object);
  for (const Index member : family) hold_watchers(member);
  for (const Index member : family) cast.end(member);
}

void Stage::hold_watchers(Index lost) {
  for (const Index index : layout.watchers(lost)) {
    BehaviourRecord& behaviour = cast.behaviours[index];
    if (cast.objects[behaviour.object].ended || behaviour.run.holding) continue;
    if (behaviour.run.phase == Run::Phase::running || behaviour.run.phase == Run::Phase::halted) {
      player_.aside(behaviour.run).held = player_.probe(index, now).shown;
      behaviour.run.holding = true;
      player_.note(index, now);
    }
    events.push_back({now, "lost", cast.handle(behaviour.object), cast.behaviour_handle(index), cast.handle(lost)});
  }
}

void Stage::release_watchers(Index back) {
  for (const Index index : layout.watchers(back)) {
    BehaviourRecord& behaviour = cast.behaviours[index];
    if (cast.lost_one(behaviour).generation != 0) continue;
    if (behaviour.run.holding) {
      behaviour.run.holding = false;
      bridge_over(index, asides_[behaviour.run.aside].held);
    } else {
      stop_waiting_for_lost(index);
    }
  }
}

void Stage::stop_waiting_for_lost(Index index) {
  const Run& run = cast.behaviours[index].run;
  if (run.phase == Run::Phase::waiting && run.starts_at == when_found) wait(index, now, Time{0});
}

// --- values --------------------------------------------------------------------------------------------------

void Stage::set_values(Index index, const void* values) {
  settle();
  BehaviourRecord& behaviour = cast.behaviours[index];
  check_values(behaviour, values, nullptr);
  std::vector<Object> looks_at = behaviour.kind->looks_at(values);
  const bool looks_elsewhere = looks_at != behaviour.looks_at;
  const Probe before = player_.probe(index, now);
  if (looks_elsewhere) cast.set_looks(index, std::move(looks_at), behaviour.common.reads);
  forget_later();

  Run& run = behaviour.run;
  Roster& roster = cast.roster(behaviour);
  const bool has_started = run.phase == Run::Phase::running || run.phase == Run::Phase::halted;
  if (has_started && roster.absorb(behaviour.row, player_.own_time_of(run, now), before.start, values))
    run.clock = run.phase == Run::Phase::halted ? Time{0} : now;
  roster.set_values(behaviour.row, values);
  if (looks_elsewhere && run.holding && cast.lost_one(behaviour).generation == 0) run.holding = false;

  if (looks_elsewhere || roster.variant(behaviour.row) != layout.batches[behaviour.batch].variant) {
    lay_out_again();
    present(false);
  } else {
    layout.batches[behaviour.batch].column->fill(behaviour.block, behaviour.lane, behaviour.row);
  }
  if (has_started && !run.holding) bridge_over(index, before.shown);
  if (looks_elsewhere && cast.lost_one(behaviour).generation == 0) stop_waiting_for_lost(index);
}

void Stage::set_common(Index index, const Common& common) {
  settle();
  BehaviourRecord& behaviour = cast.behaviours[index];
  for (const FieldInfo& field : fields_of<Common>())
    if (const auto complaint = check(field, &common))
      throw BadValue{cast.path_of(index) + ": " + std::string{field.name} + ": " + complaint->text};
  if (common.name != behaviour.common.name)
    throw BadValue{cast.path_of(index) + ": a behaviour keeps its name; give another one under the new name."};

  const Common old = behaviour.common;
  const Probe before = player_.probe(index, now);
  if (common.reads != old.reads) {
    cast.set_looks(index, behaviour.looks_at, common.reads);
    laid_out_ = false;
  }
  forget_later();
  behaviour.common = common;
  if (common.fade > Time{0}) player_.aside(behaviour.run);
  if (behaviour.run.phase == Run::Phase::waiting && behaviour.run.starts_at != when_found && common.delay != old.delay)
    wait(index, behaviour.run.starts_at - old.delay, common.delay);
  settle();
  if (common.weight != old.weight || common.reads != old.reads) bridge_over(index, before.shown);
  if (common.enabled != old.enabled) common.enabled ? start(index) : stop(index);
  player_.note(index, now);
}

// --- paths ---------------------------------------------------------------------------------------------------

Index Stage::find_behaviour(std::string_view path) const {
  const std::size_t dot = path.find('.');
  if (dot == std::string_view::npos) return none;
  const Index object = cast.find(path.substr(0, dot));
  return object == none ? none : cast.find_behaviour(object, path.substr(dot + 1));
}

Stage::PathEnd Stage::resolve(std::string_view path) const {
  const std::size_t first = path.find('.');
  const std::size_t second = first == std::string_view::npos ? first : path.find('.', first + 1);
  if (second == std::string_view::npos)
    throw BadValue{in_quotes(path) + " is not a path; give object.behaviour.field, such as lamp.spin.speed."};
  const std::string_view object_name = path.substr(0, first);
  const std::string_view behaviour_name = path.substr(first + 1, second - first - 1);
  const std::string_view field_name = path.substr(second + 1);

  const Index object = cast.find(object_name);
  if (object == none)
    throw BadValue{std::string{path} + ": there is no object " + in_quotes(object_name) + " in this scene" +
                   suggestion(object_name, cast.names())};
  const Index behaviour = cast.find_behaviour(object, behaviour_name);
  if (behaviour == none) {
    std::vector<std::string_view> names;
    cast.for_stack(object, [&](Index b) { names.push_back(cast.name_of_behaviour(b)); });
    throw BadValue{std::string{path} + ": " + std::string{object_name} + " has no behaviour " +
                   in_quotes(behaviour_name) + suggestion(behaviour_name, names)};
  }
  std::vector<std::string_view> names;
  for (const auto fields : {cast.behaviours[behaviour].kind->fields(), fields_of<Common>()}) {
    for (const FieldInfo& field : fields) {
      if (field.name == field_name) return {behaviour, &field, fields.data() == fields_of<Common>().data()};
      names.push_back(field.name);
    }
  }
  throw BadValue{std::string{path} + ": there is no " + in_quotes(field_name) + " here" +
                 suggestion(field_name, names)};
}

void Stage::set(std::string_view path, const Value& value) {
  const auto [index, field, is_common] = resolve(path);
  const BehaviourRecord& behaviour = cast.behaviours[index];
  const auto refuse = [path](const std::string& text) { throw BadValue{std::string{path} + ": " + text}; };
  if (is_common) {
    Common common = behaviour.common;
    if (const auto complaint = field->set(&common, value)) refuse(complaint->text);
    return set_common(index, common);
  }
  const void* present = cast.roster(behaviour).values(behaviour.row);
  for (const Either& either : behaviour.kind->alternatives()) {
    const bool is_other = std::find(either.others.begin(), either.others.end(), field->name) != either.others.end();
    for (const FieldInfo& other : behaviour.kind->fields())
      if (is_other && other.name == either.key && other.get(present))
        refuse("it goes by its " + std::string{either.key} + "; set " + std::string{either.key} + " instead.");
  }
  const auto changed = behaviour.kind->make(present);
  if (const auto complaint = field->set(changed.get(), value)) refuse(complaint->text);
  set_values(index, changed.get());
}

std::optional<Value> Stage::get(std::string_view path) const {
  const auto [index, field, is_common] = resolve(path);
  const BehaviourRecord& behaviour = cast.behaviours[index];
  return field->get(is_common ? static_cast<const void*>(&behaviour.common)
                              : cast.roster(behaviour).values(behaviour.row));
}

}  // namespace hushed::inside
