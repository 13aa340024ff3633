// SPDX-License-Identifier: MIT
#include <hushed/play_mode.hpp>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <hushed/error.hpp>
#include <hushed/seeded.hpp>

namespace hushed {

namespace {

constexpr double unknown = std::numeric_limits<double>::quiet_NaN();
/// The longest time that is played at once, however late the caller is.
constexpr std::int64_t most_frames_at_once = 1000;

bool same(const std::optional<Value>& a, const std::optional<Value>& b) {
  return a.has_value() == b.has_value() && (!a || as_text(*a) == as_text(*b));
}

/// The path of a value after changes to the paths of objects and behaviours; empty where it was removed with them.
std::string changed_path(std::string path, std::span<const PlayMode::PathChange> changes) {
  for (const PlayMode::PathChange& change : changes) {
    if (!path.starts_with(change.before + '.')) continue;
    if (change.now.empty()) return "";
    path.replace(0, change.before.size(), change.now);
  }
  return path;
}

}  // namespace

PlayMode::PlayMode(Scene& scene, std::vector<Watch> watches, std::size_t most_bytes)
    : scene_{&scene}, most_bytes_{most_bytes} {
  begin(std::move(watches));
}

namespace {

/// The nearest visible object but itself; nothing where there is none.
std::optional<Object> nearest(const Scene& scene, Object to, std::span<const Object> among) {
  std::optional<Object> found;
  double least = 0.0;
  for (const Object object : among) {
    if (object == to || !scene.alive(object) || scene.hidden(object)) continue;
    const double distance = (scene.world(object).position - scene.world(to).position).stableNorm();
    if (found && distance >= least) continue;
    least = distance;
    found = object;
  }
  return found;
}

void execute_on_behaviour(Scene& scene, const Action& action) {
  const std::string& path = action.behaviour.path;
  const auto behaviour = scene.find_behaviour(path);
  if (!behaviour) return;
  switch (action.verb) {
    case Action::Verb::start: return scene.start(*behaviour);
    case Action::Verb::stop: return scene.stop(*behaviour);
    case Action::Verb::toggle: return scene.toggle(*behaviour);
    case Action::Verb::restart: return scene.restart(*behaviour);
    case Action::Verb::kick: return scene.kick(*behaviour, action.by);
    case Action::Verb::set: return scene.set(path + '.' + action.field, action.value);
    default: break;
  }
  const auto owner = scene.find(path.substr(0, path.find('.')));
  const auto to = action.to.is_one() ? std::optional{action.to.target.object}
                  : owner            ? nearest(scene, *owner, action.to.tagged.members())
                                     : std::nullopt;
  if (to && scene.alive(*to)) scene.retarget(*behaviour, *to);
}

/// Executes the actions of a rule as calls of the program. Does nothing for objects and behaviours that have ended.
void execute_actions(Scene& scene, const Rule& rule) {
  for (const Action& action : rule.then) {
    if (action.verb == Action::Verb::raise) {
      scene.raise(action.word);
    } else if (!action.behaviour.path.empty()) {
      execute_on_behaviour(scene, action);
    } else if (const Object object = action.object.object; scene.alive(object)) {
      switch (action.verb) {
        case Action::Verb::place: scene.place(object, action.word); break;
        case Action::Verb::hide: scene.hide(object); break;
        case Action::Verb::show: scene.show(object); break;
        case Action::Verb::end: scene.end(object); break;
        default: break;
      }
    }
  }
}

}  // namespace

// --- time ------------------------------------------------------------------------------------------------------

void PlayMode::set_rhythm(const Rhythm& rhythm) {
  if (rhythm.per_second && !(*rhythm.per_second >= 0.001 && *rhythm.per_second <= 1e6))
    throw BadValue{"the frame rate is " + as_text(*rhythm.per_second) + "; give frames per second, 0.001 to 1000000."};
  if (!(rhythm.pace >= 0.01 && rhythm.pace <= 100.0))
    throw BadValue{"the pace is " + as_text(rhythm.pace) + "; give a number from 0.01 to 100."};
  rhythm_ = rhythm;
}

std::int64_t PlayMode::pass(Time real, const std::function<bool()>& goes_on) {
  if (!playing_ || real <= Time{0}) return 0;
  if (current_ != last()) resume();
  const Time length = seconds(in_seconds(real) * rhythm_.pace);
  if (!rhythm_.per_second) {
    play_frame(scene_->time() + length);
    return 1;
  }
  due_ = std::max(due_, scene_->time()) + length;
  std::int64_t played = 0;
  for (Time next = next_frame_after(scene_->time()); next <= due_; next = next_frame_after(next)) {
    if (++played > most_frames_at_once || (played > 1 && goes_on && !goes_on())) {
      due_ = scene_->time();
      break;
    }
    play_frame(next);
  }
  return played;
}

Time PlayMode::until_next_frame() const {
  if (!playing_ || !rhythm_.per_second || current_ != last()) return Time{0};
  const Time left = next_frame_after(scene_->time()) - std::max(due_, scene_->time());
  return std::max(seconds(in_seconds(left) / rhythm_.pace), Time{0});
}

void PlayMode::step(std::int64_t by) {
  constexpr std::int64_t most = 1'000'000;
  playing_ = false;
  const std::int64_t wanted = std::max(current_ + std::clamp(by, -most, most), first_);
  go_to(wanted);
  while (last() < wanted) {
    const Time now = scene_->time();
    play_frame(rhythm_.per_second ? next_frame_after(now) : now + frame_time(1, 60.0));
  }
}

void PlayMode::go_to(std::int64_t frame) {
  playing_ = false;
  current_ = std::clamp(frame, first_, last());
}

Time PlayMode::next_frame_after(Time time) const {
  const double rate = *rhythm_.per_second;
  if (rhythm_.uneven) {
    const double share = 0.25 + 1.5 * seeded_number(*rhythm_.uneven, static_cast<std::uint64_t>(last()));
    return time + std::max(seconds(share / rate), Time{1});
  }
  auto number = static_cast<std::int64_t>(std::floor(in_seconds(time) * rate));
  while (frame_time(number, rate) <= time) ++number;
  return frame_time(number, rate);
}

void PlayMode::play_frame(Time at) {
  const Time tick = frame_time(1, scene_->tick_rate());
  const bool needs_past =
      std::any_of(watches_.begin(), watches_.end(), [](const Watch& watch) { return watch.needs_past(); });
  if (needs_past)
    for (const Time earlier : {at - 2 * tick, at - tick}) {
      if (earlier <= scene_->time()) continue;
      detail::SceneAccess::play_on(*scene_, earlier - scene_->time());
      sample();
    }
  detail::Journal journal = detail::SceneAccess::advance(*scene_, at - scene_->time());
  if (needs_past) sample();

  builder_->add(scene_->time(), scene_->events());
  current_ = last();
  if (!journal.empty()) {
    Call call{Call::What::by_callbacks, {}, {}, 0.0, current_, std::move(journal)};
    calls_.push_back(std::move(call));
  }
  read_values();
  if (current_ - snapshots_.back().frame >= stride_) store_snapshot();
  drop_oldest();
}

void PlayMode::sample() {
  if (!samples_.empty() && samples_.back().time == scene_->time()) samples_.pop_back();
  PastPoses& now = samples_.emplace_back(PastPoses{scene_->time(), {}});
  for (const Watch& watch : watches_)
    if (watch.needs_past()) now.poses.push_back(watch.is_known(*scene_) ? watch.pose(*scene_) : Pose{});
  // Three moments at least one tick apart are compared.
  const Time enough = scene_->time() - 2 * frame_time(1, scene_->tick_rate());
  while (samples_.size() > 3 && samples_[1].time <= enough) samples_.pop_front();
}

void PlayMode::read_values() {
  // The latest moments that are about one tick and two ticks back.
  const Time now = scene_->time(), tick = frame_time(1, scene_->tick_rate()), tolerance = tick / 16;
  const auto back = [&](Time time) -> const PastPoses& {
    const auto later =
        std::find_if(samples_.begin(), samples_.end(), [&](const PastPoses& sample) { return sample.time > time; });
    return later == samples_.begin() ? samples_.front() : *std::prev(later);
  };
  std::size_t i = 0;
  for (const Watch& watch : watches_) {
    const std::size_t moving = watch.needs_past() ? i++ : 0;
    if (!watch.is_known(*scene_)) {
      values_.insert(values_.end(), watch.columns().size(), unknown);
    } else if (!watch.needs_past()) {
      watch.read(*scene_, values_);
    } else {
      const PastPoses &one = back(now - tick + tolerance), &two = back(one.time - tick + tolerance);
      watch.read_motion(Watch::motion({two.poses[moving], two.time}, {one.poses[moving], one.time},
                                      {samples_.back().poses[moving], now}),
                        values_);
    }
  }
}

// --- the past ----------------------------------------------------------------------------------------------------

void PlayMode::begin(std::vector<Watch> watches) {
  past_ = {};
  builder_.emplace(*scene_, past_);
  original_objects_ = objects_in_order(*scene_);
  values_.clear();
  snapshots_.clear();
  calls_.clear();
  samples_.clear();
  held_.clear();
  first_ = current_ = 0;
  due_ = scene_->time();
  ++edition_;
  watches_ = std::move(watches);
  columns_ = 0;
  for (const Watch& watch : watches_) columns_ += watch.columns().size();
  sample();
  builder_->add(scene_->time(), {});
  read_values();
  store_snapshot();
}

std::int64_t PlayMode::playable_from() const { return std::max(first_, snapshots_.front().frame); }

std::span<const Pose> PlayMode::poses(std::int64_t frame) const {
  return std::span{past_.poses}.subspan(row(frame) * past_.objects.size(), past_.objects.size());
}

std::span<const double> PlayMode::values(std::int64_t frame) const {
  return std::span{values_}.subspan(row(frame) * columns_, columns_);
}

void PlayMode::watch(std::vector<Watch> watches) {
  watches_ = std::move(watches);
  columns_ = 0;
  for (const Watch& watch : watches_) columns_ += watch.columns().size();
  samples_.clear();
  sample();
  values_.clear();
  for (std::size_t row = 0; row < past_.frames(); ++row) {
    const std::vector<double> values = values_from_poses(row);
    values_.insert(values_.end(), values.begin(), values.end());
  }
  ++edition_;
}

std::vector<double> PlayMode::values_from_poses(std::size_t row) const {
  std::vector<double> values;
  for (const Watch& watch : watches_) {
    const auto pose_of = [&](Object object) -> const Pose* {
      const auto number = scene_->alive(object) ? past_.find(scene_->name(object)) : std::nullopt;
      return number ? &past_.at(row, *number) : nullptr;
    };
    const Pose* const pose = pose_of(watch.object());
    const Pose* const other = watch.other() ? pose_of(*watch.other()) : pose;
    if (pose && other && !watch.needs_past() && !watch.is_local())
      watch.read(*pose, *other, values);
    else
      values.insert(values.end(), watch.columns().size(), unknown);
  }
  return values;
}

void PlayMode::store_snapshot() {
  constexpr std::size_t most = 64;
  snapshots_.push_back({last(), calls_.size(), held_, scene_->snapshot()});
  if (snapshots_.size() <= most) return;
  stride_ *= 2;
  for (std::size_t i = snapshots_.size() - 2; i > 0; i -= 2) {
    snapshots_.erase(snapshots_.begin() + static_cast<std::ptrdiff_t>(i));
    if (i == 1) break;
  }
}

void PlayMode::drop_oldest() {
  const std::size_t objects = past_.objects.size();
  const std::size_t each = objects * (sizeof(Pose) + 1) + columns_ * sizeof(double);
  if (past_.frames() < 8 || past_.frames() * each <= most_bytes_) return;
  const std::size_t count = past_.frames() / 4;
  const auto drop = [](auto& from, std::size_t many) {
    from.erase(from.begin(), from.begin() + static_cast<std::ptrdiff_t>(many));
  };
  drop(past_.times, count);
  drop(past_.poses, count * objects);
  drop(past_.hidden, count * objects);
  drop(values_, count * columns_);
  std::erase_if(past_.happenings, [this](const auto& happening) { return happening.time < past_.times.front(); });
  first_ += static_cast<std::int64_t>(count);
  while (snapshots_.size() > 1 && snapshots_[1].frame <= first_) snapshots_.pop_front();
  const std::size_t gone = snapshots_.front().calls;
  drop(calls_, gone);
  for (StoredSnapshot& stored : snapshots_) stored.calls -= gone;
  ++edition_;
}

void PlayMode::check_playable() const {
  if (current_ < playable_from())
    throw BadValue{"frame " + std::to_string(current_) + " is from before the last hot reload; the scene can be " +
                   "played on from frame " + std::to_string(playable_from()) + "."};
}

void PlayMode::resume() {
  check_playable();
  if (current_ == last()) return;
  Values wanted;
  for (const auto& [path, beginning] : beginnings_) wanted[path] = value(path);

  go_back_to_current();
  const Time now = time(current_);
  const auto later = [this](const auto& each) { return each.frame > current_; };
  while (later(snapshots_.back())) snapshots_.pop_back();
  std::erase_if(calls_, later);

  const std::size_t frames = row(current_) + 1;
  past_.times.resize(frames);
  past_.poses.resize(frames * past_.objects.size());
  past_.hidden.resize(frames * past_.objects.size());
  values_.resize(frames * columns_);
  std::erase_if(past_.happenings, [now](const auto& happening) { return happening.time > now; });
  samples_.clear();
  sample();
  due_ = now;
  ++edition_;
  for (const auto& [path, value] : wanted) put(path, value);
}

/// Returns the scene to the current frame: from the last snapshot before it, with the calls since then.
void PlayMode::go_back_to_current() {
  const auto later = [this](const auto& each) { return each.frame > current_; };
  const StoredSnapshot& from = *std::find_if_not(snapshots_.rbegin(), snapshots_.rend(), later);
  detail::SceneAccess::restore(*scene_, from.snapshot, time(current_));
  held_ = from.held;
  for (std::size_t i = from.calls; i < calls_.size() && !later(calls_[i]); ++i) {
    detail::SceneAccess::advance_silently(*scene_, time(calls_[i].frame) - scene_->time());
    execute(calls_[i]);
  }
  detail::SceneAccess::advance_silently(*scene_, time(current_) - scene_->time());
}

void PlayMode::read_at_current(const std::function<void()>& read) {
  if (current_ == last()) return read();
  const Snapshot here = scene_->snapshot();
  const std::vector<std::string> held = held_;
  go_back_to_current();
  read();
  scene_->restore(here);
  held_ = held;
}

std::vector<UrgeShare> PlayMode::urges(AnyBehaviour behaviour) {
  std::vector<UrgeShare> found;
  if (current_ >= playable_from()) read_at_current([&] { found = scene_->urges(behaviour); });
  return found;
}

std::optional<RuleReport> PlayMode::report(std::string_view rule) {
  std::optional<RuleReport> found;
  if (current_ >= playable_from()) read_at_current([&] { found = scene_->report(rule); });
  return found;
}

Recording PlayMode::play_ahead(std::int64_t frames, double per_second) {
  Ahead ahead = begin_ahead(frames, per_second);
  while (!ahead.is_complete()) continue_ahead(ahead, [] { return true; });
  return std::move(*ahead.recording_);
}

PlayMode::Ahead PlayMode::begin_ahead(std::int64_t frames, double per_second, std::span<const Changed> with) {
  if (current_ != last()) resume();
  const Snapshot here = scene_->snapshot();
  Ahead ahead;
  ahead.builder_ = std::make_unique<RecordingBuilder>(*scene_, *ahead.recording_);
  ahead.times_.emplace(per_second);
  ahead.start_ = scene_->time();
  try {
    for (const Changed& change : with) change.now ? scene_->set(change.path, *change.now) : scene_->reset(change.path);
    ahead.at_ = scene_->snapshot();
  } catch (const BadValue&) {
    scene_->restore(here);
    throw;
  }
  scene_->restore(here);
  ahead.left_ = frames + 1;
  return ahead;
}

void PlayMode::continue_ahead(Ahead& ahead, const std::function<bool()>& goes_on) {
  const detail::MutedCallbacks muted{*scene_};
  const Snapshot here = scene_->snapshot();
  scene_->restore(ahead.at_);
  do {
    const Time next = ahead.start_ + ahead.times_->next();
    scene_->advance(next - scene_->time());
    ahead.builder_->add(next, scene_->events());
  } while (--ahead.left_ > 0 && goes_on());
  if (ahead.left_ > 0) ahead.at_ = scene_->snapshot();
  scene_->restore(here);
}

// --- tuning ------------------------------------------------------------------------------------------------------

void PlayMode::execute(const Call& call) {
  switch (call.what) {
    case Call::What::set: call.value ? scene_->set(call.name, *call.value) : scene_->reset(call.name); break;
    case Call::What::press:
      scene_->press(call.name);
      if (std::find(held_.begin(), held_.end(), call.name) == held_.end()) held_.push_back(call.name);
      break;
    case Call::What::release:
      scene_->release(call.name);
      std::erase(held_, call.name);
      break;
    case Call::What::axis: scene_->axis(call.name, call.amount); break;
    case Call::What::fire: execute_actions(*scene_, scene_->rule(call.name)); break;
    case Call::What::by_callbacks:
      for (const auto& again : call.journal) again(*scene_);
      break;
  }
}

void PlayMode::make(Call call) {
  execute(call);
  call.frame = current_;
  // Several changes of a value within one frame count as one.
  const bool again = call.what == Call::What::set && !calls_.empty() && calls_.size() > snapshots_.back().calls &&
                     calls_.back().what == Call::What::set && calls_.back().name == call.name &&
                     calls_.back().frame == call.frame;
  if (again)
    calls_.back() = std::move(call);
  else
    calls_.push_back(std::move(call));
}

/// The value of an object that has ended is set once the play goes back to before its end.
void PlayMode::put(const std::string& path, const std::optional<Value>& value) {
  tuned_[path] = value;
  if (is_there(path) && !same(scene_->get(path), value)) make({Call::What::set, path, value});
}

bool PlayMode::exists(const std::string& path) const {
  try {
    (void)scene_->get(path);
    return true;
  } catch (const BadValue&) {
    return false;
  }
}

bool PlayMode::is_there(const std::string& path) const {
  return path.starts_with("preset.") || scene_->find(path.substr(0, path.find('.'))).has_value();
}

std::optional<Value> PlayMode::value(const std::string& path) const {
  const auto tuned = tuned_.find(path);
  return is_there(path) || tuned == tuned_.end() ? scene_->get(path) : tuned->second;
}

void PlayMode::change(std::string_view path, const std::optional<Value>& value, std::uint64_t gesture) {
  const std::string name{path};
  const std::optional<Value> before = scene_->get(path);
  check_playable();
  const Call call{Call::What::set, name, value};
  if (current_ != last()) execute(call);  // if it throws, no later frame is dropped
  beginnings_.try_emplace(name, before);
  resume();
  make(call);
  tuned_[name] = scene_->get(name);
  steps_.resize(done_);
  if (gesture != 0 && done_ > 0 && steps_.back().gesture == gesture && steps_.back().path == name) {
    steps_.back().after = scene_->get(path);
    return;
  }
  steps_.push_back({name, before, scene_->get(path), gesture});
  done_ = steps_.size();
}

void PlayMode::set(std::string_view path, const Value& value, std::uint64_t gesture) { change(path, value, gesture); }
void PlayMode::reset(std::string_view path, std::uint64_t gesture) { change(path, std::nullopt, gesture); }

void PlayMode::mark(std::string_view name) {
  steps_.resize(done_);
  steps_.push_back({std::string{name}, {}, {}, 0});
  ++done_;
}

void PlayMode::forget_mark(std::string_view name, std::span<const PathChange> changes) {
  for (std::size_t mark = 0; mark < steps_.size(); ++mark) {
    if (!is_mark(steps_[mark]) || steps_[mark].path != name) continue;
    std::vector<Step> kept;
    std::size_t done = 0;
    for (std::size_t i = 0; i < steps_.size(); ++i) {
      Step step = std::move(steps_[i]);
      if (i < mark && !is_mark(step)) step.path = changed_path(step.path, changes);
      if (i == mark || step.path.empty()) continue;
      if (i < done_) ++done;
      kept.push_back(std::move(step));
    }
    steps_ = std::move(kept);
    done_ = done;
    return;
  }
}

bool PlayMode::is_mark(const Step& step) { return step.path.find(' ') != std::string::npos; }

bool PlayMode::is_possible(const Step& step) const {
  return is_mark(step) || beginnings_.contains(step.path) || exists(step.path);
}

std::size_t PlayMode::undone_next() const {
  std::size_t number = done_;
  while (number > 0 && !is_possible(steps_[number - 1])) --number;
  return number;
}

std::size_t PlayMode::redone_next() const {
  std::size_t number = done_;
  while (number < steps_.size() && !is_possible(steps_[number])) ++number;
  return number;
}

std::string PlayMode::undo() {
  done_ = undone_next();
  if (done_ == 0) return "";
  const std::uint64_t gesture = steps_[done_ - 1].gesture;
  do {
    const Step& step = steps_[--done_];
    if (is_mark(step)) return step.path;
    resume();
    put_step(step.path, step.before);
  } while (done_ > 0 && gesture != 0 && steps_[done_ - 1].gesture == gesture);
  return steps_[done_].path;
}

std::string PlayMode::redo() {
  done_ = redone_next();
  if (done_ == steps_.size()) return "";
  const std::uint64_t gesture = steps_[done_].gesture;
  do {
    const Step& step = steps_[done_++];
    if (is_mark(step)) return step.path;
    resume();
    put_step(step.path, step.after);
  } while (done_ < steps_.size() && gesture != 0 && steps_[done_].gesture == gesture);
  return steps_[done_ - 1].path;
}

void PlayMode::put_step(const std::string& path, const std::optional<Value>& value) {
  if (!beginnings_.contains(path)) {  // it was lost with its behaviour, which may be back
    if (!exists(path)) return;
    beginnings_[path] = scene_->get(path);
  }
  put(path, value);
}

std::vector<PlayMode::Changed> PlayMode::tuned() const {
  std::vector<Changed> all;
  for (const auto& [path, before] : beginnings_) all.push_back({path, before, value(path)});
  return all;
}

std::vector<PlayMode::Changed> PlayMode::changed() const {
  std::vector<Changed> all = tuned();
  std::erase_if(all, [](const Changed& each) { return same(each.before, each.now); });
  return all;
}

void PlayMode::mark_kept(std::string_view path) {
  if (const auto found = beginnings_.find(path); found != beginnings_.end()) found->second = value(found->first);
}

// --- answering ---------------------------------------------------------------------------------------------------

void PlayMode::press(std::string_view key) {
  resume();
  make({Call::What::press, std::string{key}, {}});
}

void PlayMode::release(std::string_view key) {
  resume();
  make({Call::What::release, std::string{key}, {}});
}

void PlayMode::axis(std::string_view name, double value) {
  resume();
  make({Call::What::axis, std::string{name}, {}, value});
}

void PlayMode::announce(std::span<const InputChange> changes) {
  resume();
  for (const InputChange& change : changes)  // the scene keeps what was announced, wherever it goes back to
    if (change.time >= scene_->time()) scene_->input(change);
}

std::vector<InputChange> PlayMode::input() const {
  std::vector<InputChange> changes;
  for (const Call& call : calls_) {
    const Time at = time(call.frame);
    if (call.what == Call::What::press) changes.push_back({at, call.name, InputChange::What::down});
    if (call.what == Call::What::release) changes.push_back({at, call.name, InputChange::What::up});
    if (call.what == Call::What::axis) changes.push_back({at, call.name, InputChange::What::axis, call.amount});
  }
  return changes;
}

void PlayMode::fire(std::string_view rule) {
  (void)scene_->rule(rule);  // throws where there is none
  resume();
  make({Call::What::fire, std::string{rule}, {}});
}

// --- building ----------------------------------------------------------------------------------------------------

void PlayMode::rebuilt(std::vector<Watch> watches,
                       const std::function<std::optional<Value>(const std::string&)>& beginning) {
  for (auto each = beginnings_.begin(); each != beginnings_.end();) {
    try {
      each->second = beginning(each->first);
      tuned_[each->first] = scene_->get(each->first);
      ++each;
    } catch (const BadValue&) {  // the value no longer exists
      tuned_.erase(each->first);
      each = beginnings_.erase(each);
    }
  }

  std::vector<std::string> names;
  for (const Object object : objects_in_order(*scene_)) names.push_back(scene_->name(object));
  if (names != past_.objects || scene_->time() != past_.times.back()) {
    const std::int64_t number = current_;
    const std::vector<std::string> held = held_;
    begin(std::move(watches));
    held_ = held;
    snapshots_.front().held = held;
    first_ = current_ = number;
    snapshots_.front().frame = number;
    return;
  }
  Recording before = std::exchange(past_, {});
  builder_.emplace(*scene_, past_);
  const std::size_t frames = before.frames() - 1;  // all but the last
  past_.times = std::move(before.times);
  past_.poses = std::move(before.poses);
  past_.hidden = std::move(before.hidden);
  past_.happenings = std::move(before.happenings);
  past_.times.resize(frames);
  past_.poses.resize(frames * past_.objects.size());
  past_.hidden.resize(frames * past_.objects.size());
  builder_->add(scene_->time(), {});  // the last frame, as it is with the new content
  snapshots_.clear();
  calls_.clear();
  store_snapshot();
  const bool are_same = std::equal(watches_.begin(), watches_.end(), watches.begin(), watches.end(),
                                   [](const Watch& a, const Watch& b) { return a.text() == b.text(); });
  if (!are_same) return watch(std::move(watches));
  watches_ = std::move(watches);
  values_.resize(frames * columns_);
  sample();
  read_values();
  ++edition_;
}

void PlayMode::start_over(std::vector<Watch> watches, std::span<const Changed> changes) {
  begin(std::move(watches));
  beginnings_.clear();
  tuned_.clear();
  put_again(changes);
}

void PlayMode::put_again(std::span<const Changed> changes) {
  for (const Changed& change : changes) {
    try {
      const auto beginning = scene_->get(change.path);
      if (!same(beginning, change.before)) continue;
      beginnings_[change.path] = beginning;
      put(change.path, change.now);
    } catch (const BadValue&) {  // the value no longer exists, or has another range
    }
  }
}

void PlayMode::rename(std::string_view object, const std::string& name) {
  const auto found = scene_->find(object);
  if (!found) throw BadValue{"no object " + in_quotes(object) + " exists now."};
  detail::SceneAccess::rename(*scene_, *found, name);
  const PathChange change{std::string{object}, name};
  const auto renamed = [&](const std::string& path) { return changed_path(path, {&change, 1}); };
  for (Values* const values : {&beginnings_, &tuned_}) {
    Values all;
    for (auto& [path, value] : *values) all[renamed(path)] = value;
    *values = std::move(all);
  }
  for (Call& call : calls_) call.name = call.what == Call::What::set ? renamed(call.name) : call.name;
  std::replace(past_.objects.begin(), past_.objects.end(), std::string{object}, name);
}

bool PlayMode::has_new_objects() const {
  const auto objects = scene_->objects();
  return std::any_of(objects.begin(), objects.end(), [this](Object object) {
    const auto same = std::lower_bound(original_objects_.begin(), original_objects_.end(), object,
                                       [](Object a, Object b) { return a.index < b.index; });
    return same == original_objects_.end() || *same != object;
  });
}

}  // namespace hushed
