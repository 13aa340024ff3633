// SPDX-License-Identifier: MIT
#include "scene/feeds.hpp"

#include <algorithm>
#include <utility>

#include "archived_time.hpp"

namespace hushed::detail {

// --- feeding ---------------------------------------------------------------------------------------------------------

bool Feeds::knows(Object object) const {
  const Track* const track = find(object);
  return track && !track->samples.empty();
}

void Feeds::set_out(Object object, const Pose& pose, Time now, bool is_ahead) {
  Track& track = track_of(object);
  reserve(track);
  append(track, {pose, now, now, is_ahead ? Time::min() : now});
}

void Feeds::feed(Object object, const Pose& pose) {
  Track& track = *find(object);
  track.pending = pose;
  if (track.is_pending) return;
  track.is_pending = true;
  pending_.push_back(static_cast<Index>(&track - tracks_.data()));
  reserve(track);
}

void Feeds::feed_ahead(Object object, const Pose& pose, Time now, Time at) {
  Track& track = *find(object);
  reserve(track);
  const Time since = std::max(now, track.last.at);
  append(track, {pose, since, at, Time::min()});
}

void Feeds::jump(Object object, const Pose& pose, Time now) {
  Track& track = track_of(object);
  reserve(track);
  if (track.is_pending) std::erase(pending_, static_cast<Index>(&track - tracks_.data()));
  track.is_pending = false;
  add(track, {pose, now, now, now, shown_jumps_ + 1});
}

void Feeds::show_next_jump() {
  ++shown_jumps_;
  ++edition_;
}

void Feeds::begin_step(Time now, Time end) noexcept {
  for (const Index number : pending_) {
    Track& track = tracks_[number];
    track.is_pending = false;
    add(track, {track.pending, now, end, now});
  }
  pending_.clear();
}

void Feeds::add(Track& track, const Sample& sample) noexcept {
  std::size_t kept = begun(track, sample.since);
  while (kept < track.samples.size() && this->sample(track, kept).at <= sample.since) ++kept;  // where it sets out
  if (kept < track.samples.size()) {
    track.samples.resize(kept);
    update_last(track);
  }
  if (sample.at > sample.since) {
    const FedMotion before = motion(track, sample.since);
    if (before.arrives > sample.since) {
      const Pose stop = mix(*before.from, *before.to, before.share(sample.since));
      append(track, {stop, sample.since, sample.since, sample.fed_at});
    }
  }
  append(track, sample);
}

void Feeds::append(Track& track, const Sample& sample) noexcept {
  track.from = track.samples.empty() ? sample.pose : track.last.pose;
  track.last = sample;
  track.samples.push_back(static_cast<std::uint32_t>(samples_.size()));
  samples_.push_back(sample);
  ++edition_;
}

void Feeds::update_last(Track& track) const noexcept {
  const std::size_t count = track.samples.size();
  if (count == 0) return;
  track.last = sample(track, count - 1);
  track.from = sample(track, count > 1 ? count - 2 : 0).pose;
}

/// So that `begin_step` need not allocate.
void Feeds::reserve(Track& track) {
  samples_.reserve(2 * (pending_.size() + 1));
  const std::size_t wanted = track.samples.size() + 2;
  if (wanted > track.samples.capacity()) track.samples.reserve(2 * wanted);
}

// --- reading ---------------------------------------------------------------------------------------------------------

Time Feeds::last(Object object) const {
  const Track* const track = find(object);
  return track && !track->samples.empty() ? track->last.at : Time::min();
}

std::size_t Feeds::begun(const Track& track, Time at) const noexcept {
  const std::vector<std::uint32_t>& samples = track.samples;
  if (samples.empty() || has_begun(track.last, at)) return samples.size();
  const auto first_later = std::partition_point(samples.begin(), samples.end(),
                                                [&](std::uint32_t number) { return has_begun(samples_[number], at); });
  return static_cast<std::size_t>(first_later - samples.begin());
}

FedMotion Feeds::motion(Object object, Time at) const noexcept {
  const Track* const track = find(object);
  return track && !track->samples.empty() ? motion(*track, at) : FedMotion{};
}

FedMotion Feeds::motion(const Track& track, Time at) const noexcept {
  const std::size_t count = begun(track, at);
  FedMotion motion;
  if (count == track.samples.size()) {  // as nearly always
    if (count == 0) return motion;
    motion.from = &track.from;
    motion.to = &track.last.pose;
    motion.since = track.last.since;
    motion.arrives = track.last.at;
    return motion;
  }
  motion.until = sample(track, count).since;
  if (count == 0) return motion;
  const Sample& present = sample(track, count - 1);
  motion.to = &present.pose;
  motion.since = present.since;
  motion.arrives = present.at;
  motion.from = &(count > 1 ? sample(track, count - 2) : present).pose;
  return motion;
}

const Feeds::Track* Feeds::find(Object object) const {
  const Index number = object.index < track_numbers_.size() ? track_numbers_[object.index] : none;
  return number != none && tracks_[number].object == object ? &tracks_[number] : nullptr;
}

Feeds::Track* Feeds::find(Object object) {
  return const_cast<Track*>(std::as_const(*this).find(object));  // NOLINT(cppcoreguidelines-pro-type-const-cast)
}

Feeds::Track& Feeds::track_of(Object object) {
  if (Track* const known = find(object)) return *known;
  if (object.index >= track_numbers_.size()) track_numbers_.resize(object.index + 1, none);
  track_numbers_[object.index] = static_cast<Index>(tracks_.size());
  return tracks_.emplace_back(Track{object, {}, false, {}, {}, {}});
}

// --- the past --------------------------------------------------------------------------------------------------------

bool Feeds::forget_after(Time time, Time now) {
  ++edition_;
  std::size_t forgotten = 0;
  for (Track& track : tracks_) {
    forgotten += std::erase_if(track.samples, [&](std::uint32_t number) { return samples_[number].fed_at > time; });
    update_last(track);
  }
  if (time >= now) return forgotten > 0;
  for (const Index number : pending_) tracks_[number].is_pending = false;
  pending_.clear();
  return forgotten > 0;
}

/// Of each track, the sample that is under way just before `time` is kept, and the one from whose pose it sets out.
void Feeds::archive(Archive& archive, Time time, Index objects) {
  const std::size_t count = archive.count(tracks_.size());
  if (archive.is_reading()) {
    tracks_.assign(count, {});
    samples_ = {};
    pending_.clear();
    track_numbers_.assign(objects, none);
    known_since_ = time;
    ++edition_;
  }
  for (std::size_t number = 0; number < count; ++number) {
    Track& track = tracks_[number];
    archive(track.object, track.is_pending, track.pending);
    const std::size_t samples = archive.count(track.samples.size());
    for (std::size_t i = 0; i < samples; ++i) {
      Sample each = archive.is_reading() ? Sample{} : samples_[track.samples[i]];
      archive(each.pose);
      archive_times(archive, each.since, each.at);
      archive(each.fed_at, each.jump);
      if (archive.is_reading()) append(track, each);
    }
    if (!archive.is_reading()) continue;
    if (track.object.index >= objects) refuse_damaged_bytes();
    update_last(track);
    if (track.is_pending) pending_.push_back(static_cast<Index>(number));
    track_numbers_[track.object.index] = static_cast<Index>(number);
  }
  archive(shown_jumps_);
  if (archive.is_reading()) samples_.reserve(2 * (pending_.size() + 1));
}

void Feeds::forget_before(Time time) {
  ++edition_;
  known_since_ = time;
  SharedLog<Sample> kept;
  for (Track& track : tracks_) {
    const auto later = std::partition_point(track.samples.begin(), track.samples.end(),
                                            [&](std::uint32_t number) { return samples_[number].since < time; });
    const auto passed = later - track.samples.begin();
    if (passed > 2) track.samples.erase(track.samples.begin(), later - 2);
    for (std::uint32_t& number : track.samples) {
      kept.push_back(samples_[number]);
      number = static_cast<std::uint32_t>(kept.size() - 1);
    }
  }
  kept.reserve(2 * (pending_.size() + 1));
  samples_ = std::move(kept);
}

void Feeds::forget(std::span<const Index> objects) {
  for (const Index object : objects) {
    if (object >= track_numbers_.size() || track_numbers_[object] == none) continue;
    const Index number = std::exchange(track_numbers_[object], none);
    const auto last = static_cast<Index>(tracks_.size() - 1);
    std::erase(pending_, number);
    if (number != last) {  // the last track gets its number
      tracks_[number] = std::move(tracks_[last]);
      track_numbers_[tracks_[number].object.index] = number;
      std::replace(pending_.begin(), pending_.end(), last, number);
    }
    tracks_.pop_back();
  }
}

void Feeds::go_back_to(std::size_t shown_jumps) {
  shown_jumps_ = shown_jumps;
  ++edition_;
}

void Feeds::restore(const Feeds& then) {
  const std::uint64_t edition = edition_ + 1;
  *this = then;
  edition_ = edition;
  samples_.reserve(2 * (pending_.size() + 1));
}

}  // namespace hushed::detail
