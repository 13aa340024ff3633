// SPDX-License-Identifier: MIT
#include <hushed/behaviour/replay.hpp>

#include <algorithm>
#include <cmath>

#include <hushed/motion.hpp>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

std::optional<Diagnostic> read(const Value& from, const Unit&, MotionSource& to) {
  const auto* name = from.as<std::string>();
  if (!name || name->empty())
    return detail::expected(from, "the name of a file, such as \"harbour.glb\" or \"walk.csv\"");
  if (to.file != *name) to = MotionSource{nullptr, *name};  // what has been read of the file stays
  to.place = from.place;
  return std::nullopt;
}

std::optional<Value> write(const MotionSource& from, const Unit&) {
  return from.file.empty() ? std::nullopt : std::optional{Value{from.file}};
}

Form form_of(const MotionSource*, const Unit&) {
  return form::text("the name of a glTF file or a recording, from the directory of the scene file");
}

std::optional<Diagnostic> resolve(MotionSource& to, const detail::Names& names) {
  to.owner = names.own_name();
  return std::nullopt;
}

bool renew(MotionSource& to, const MotionSource& from) {
  if (to.file != from.file || to.content == from.content) return false;
  if (to.content && from.content && *to.content == *from.content) return false;  // it was only read again
  to.content = from.content;
  return true;
}

namespace {

using namespace detail;

const MotionFile::Entry* entry_of(const Replay& replay) {
  if (!replay.file.content) return nullptr;
  return replay.file.content->find(replay.clip, replay.object.empty() ? replay.file.owner : replay.object);
}

/// The time in the clip as a function of own time. Whole laps are subtracted from own time, so that it stays exact.
struct Course {
  double rate = 0.0, inverse_rate = 0.0;   ///< s of the clip in a second, and its reciprocal
  double offset = 0.0;                     ///< s of the clip at own time 0, counted on where it has laps
  double length = 0.0;                     ///< s of the clip
  double lap = 0.0;                        ///< s of the clip: there, or there and back; 0 where it stops
  PeriodOf<double> period{0.0, 0.0, 0.0};  ///< s of own time
  double shift = 0.0;                      ///< s: added to own time, so that a lap begins at 0
};

Course course_of(const Replay& replay, double length, const std::optional<double>& phase) {
  Course course{.rate = replay.speed, .inverse_rate = 1.0 / replay.speed, .length = length};
  const double start = replay.start ? in_seconds(*replay.start) : replay.speed < 0.0 ? length : 0.0;
  course.offset = phase.value_or(start);
  if (replay.ends == ReplayEnds::stop || length == 0.0) return course;
  course.lap = replay.ends == ReplayEnds::loop ? length : 2.0 * length;
  if (course.rate == 0.0) return course;
  const double pace = absolute(course.rate), period = course.lap / pace;
  course.period = period_of(period, std::fma(-period, pace, course.lap) / pace);
  course.shift = (course.rate > 0.0 ? course.offset : course.lap - course.offset) / pace;
  return course;
}

/// Where a replay is in its clip.
struct ClipTime {
  double laps = 0.0;   ///< whole ones before
  double along = 0.0;  ///< s of the clip, counted on for the way back, or beyond the ends
  double time = 0.0;   ///< s in the clip
  double pace = 0.0;   ///< s of the clip in a second; 0 where it has stopped
};

Shift<double> shift_of(const Course& course, double laps) {
  return {laps * course.period.lead, laps * course.period.rest, course.shift};
}

/// `near_laps`: the number of laps found last. It saves time and does not change a bit of the result.
ClipTime clip_time_at(const Course& course, double whole, double rest, double& near_laps) {
  if (course.lap == 0.0) {
    const double along = course.offset + course.rate * (whole + rest);
    const double time = std::clamp(along, 0.0, course.length);
    return {0.0, along, time, time == along ? course.rate : 0.0};
  }
  double along = 0.0;
  if (course.rate == 0.0) {
    along = std::fmod(course.offset, course.lap);
  } else {
    double left = shift_of(course, near_laps).of(whole, rest);
    if (!(left > near_the_ends && left < course.period.lead - near_the_ends)) {
      near_laps = turns(1.0, whole, rest, course.shift, course.period).count;
      left = shift_of(course, near_laps).of(whole, rest);
    }
    along = std::clamp((course.rate > 0.0 ? 0.0 : course.lap) + course.rate * left, 0.0, course.lap);
  }
  if (along <= course.length) return {near_laps, along, along, course.rate};
  return {near_laps, along, course.lap - along, -course.rate};
}

/// Own time in s at which `along` is reached, less whole laps.
double own_time_of(const Course& course, double along) {
  const double zero = course.lap == 0.0 ? course.offset : course.rate > 0.0 ? 0.0 : course.lap;
  return (along - zero) * course.inverse_rate;
}

/// The piece of a replay in which the same keys hold.
struct Piece {
  Shift<double> shift;  ///< of own time
  double length;        ///< s of own time
  double time;          ///< s in the clip at its beginning
  double pace;
};

/// `low` and `high`: the times in the clip between which the present keys hold.
Piece piece_at(const Course& course, const ClipTime& now, double low, double high) {
  if (now.pace == 0.0) {  // it stands, until it comes in or for ever
    const bool is_below = now.along < 0.0;
    const double end = is_below ? 0.0 : course.length;
    const bool is_beyond = course.rate != 0.0 && now.along != now.time;
    const bool comes_in = is_beyond && is_below == (course.rate > 0.0);
    const double crossing = is_beyond ? own_time_of(course, end) : 0.0;
    const double begin = is_beyond && !comes_in ? std::max(crossing, -1.0) : -1.0;
    return {{0.0, 0.0, -begin}, comes_in ? crossing - begin : for_ever, now.time, 0.0};
  }
  low = std::max(low, 0.0);
  high = std::min(high, course.length);
  const bool is_back = now.along > course.length;
  const double first = own_time_of(course, is_back ? course.lap - low : low);
  const double last = own_time_of(course, is_back ? course.lap - high : high);
  const bool rises = now.pace > 0.0;
  const double begin = rises ? first : last, end = rises ? last : first;
  Shift<double> shift = shift_of(course, now.laps);
  shift.third -= begin;
  return {shift, end - begin, rises ? low : high, now.pace};
}

/// The present keys of a channel of eight motions. The share of the time between two keys is
/// rate * time in the piece + phase; for linear rotations, it is the angle from the middle of their arc.
template <int parts>
struct ChannelRows {
  Row rate, phase;
  Row first[parts], second[parts];  ///< constant and linear terms; of an arc, its middle and its side
};

/// The higher terms of cubics of the share.
template <int parts>
struct SplineRows {
  Row third[parts], fourth[parts];
};

struct Splines {
  SplineRows<3> position, scale;
  SplineRows<4> rotation;
};

/// The poses at the beginning of the clips, to which loops are blended.
struct Blending {
  Row rate, phase;  ///< the share of the blend is rate * time in the piece + phase, held in 0..1
  double begin[lanes], inverse[lanes];
  PoseBlock first;
};

struct ReplayBlock {
  PieceRows piece;
  ChannelRows<3> position;
  ChannelRows<4> rotation;
  std::unique_ptr<ChannelRows<3>> scale;
  std::unique_ptr<Splines> splines;
  std::unique_ptr<Blending> blending;
  const Motion* motion[lanes];
  Course course[lanes];
  double near_laps[lanes];       ///< the laps found last
  std::uint32_t near[lanes][3];  ///< the keys found last
};

template <class Rows>
Real share_at(const Rows& rows, const Row& into, int lane) {
  return load<Real>(into, lane) * load<Real>(rows.rate, lane) + load<Real>(rows.phase, lane);
}

void find_times(const PieceRows& piece, const Row& whole, const Row& rest, Row& into, Row& is_known) {
  for_each_lane([&](int lane) {
    const auto time = time_in(piece, lane, load<Real>(whole, lane), load<Real>(rest, lane));
    store(into, lane, time.into);
    store(is_known, lane, time.is_known);
  });
}

void move_in_line(const ChannelRows<3>& rows, const Row& into, Row (&to)[3]) {
  for_each_lane([&](int lane) {
    store(to, lane, load<Real>(rows.first, lane) + load<Real>(rows.second, lane) * share_at(rows, into, lane));
  });
}

void move_along_spline(const ChannelRows<3>& rows, const SplineRows<3>& spline, const Row& into, Row (&to)[3]) {
  for_each_lane([&](int lane) {
    const Real share = share_at(rows, into, lane);
    const auto c0 = load<Real>(rows.first, lane), c1 = load<Real>(rows.second, lane);
    const auto c2 = load<Real>(spline.third, lane), c3 = load<Real>(spline.fourth, lane);
    store(to, lane, c0 + (c1 + (c2 + c3 * share) * share) * share);
  });
}

void turn_evenly(const ChannelRows<4>& rows, const Row& into, Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const auto [sine, cosine] = sine_cosine_near_zero(share_at(rows, into, lane));
    const QuatOf<Real> middle = load<Real>(rows.first, lane), aside = load<Real>(rows.second, lane);
    store(to, lane,
          QuatOf<Real>{middle.x * cosine + aside.x * sine, middle.y * cosine + aside.y * sine,
                       middle.z * cosine + aside.z * sine, middle.w * cosine + aside.w * sine});
  });
}

void turn_along_spline(const ChannelRows<4>& rows, const SplineRows<4>& spline, const Row& into, Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const Real share = share_at(rows, into, lane);
    const auto part = [&](int i) {
      const Real c0 = load<Real>(rows.first[i], lane), c1 = load<Real>(rows.second[i], lane);
      const Real c2 = load<Real>(spline.third[i], lane), c3 = load<Real>(spline.fourth[i], lane);
      return c0 + (c1 + (c2 + c3 * share) * share) * share;
    };
    const Real x = part(0), y = part(1), z = part(2), w = part(3);
    const Real size = x * x + y * y + z * z + w * w;
    const auto is_flat = size < 1e-24;  // a spline through 0 has no direction there
    const Real over = 1.0 / square_root(select(is_flat, Real{1.0}, size));
    store(to, lane,
          QuatOf<Real>{select(is_flat, Real{0.0}, x * over), select(is_flat, Real{0.0}, y * over),
                       select(is_flat, Real{0.0}, z * over), select(is_flat, Real{1.0}, w * over)});
  });
}

void blend_to_first(const Blending& blending, const Row& into, PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const Real u = larger(smaller(share_at(blending, into, lane), Real{1.0}), Real{0.0});
    const PoseOf<Real> now = load<Real>(poses, lane), first = load<Real>(blending.first, lane);
    const PoseOf<Real> both = mixed(now, first, u * u * (3.0 - 2.0 * u));
    const auto is_before = u <= 0.0;
    const auto kept = [&](Real before, Real blended) { return select(is_before, before, blended); };
    store(poses, lane,
          PoseOf<Real>{
              {kept(now.position.x, both.position.x), kept(now.position.y, both.position.y),
               kept(now.position.z, both.position.z)},
              {kept(now.rotation.x, both.rotation.x), kept(now.rotation.y, both.rotation.y),
               kept(now.rotation.z, both.rotation.z), kept(now.rotation.w, both.rotation.w)},
              {kept(now.scale.x, both.scale.x), kept(now.scale.y, both.scale.y), kept(now.scale.z, both.scale.z)}});
  });
}

/// The number of keys at or before a time; `near` is the last answer.
std::size_t keys_until(const std::vector<double>& times, double time, std::uint32_t& near) {
  const std::size_t guess = near;
  const auto fits = [&](std::size_t count) {
    return (count == 0 || times[count - 1] <= time) && (count == times.size() || time < times[count]);
  };
  std::size_t count = guess;
  if (guess > times.size() || !fits(guess))
    count = guess < times.size() && fits(guess + 1)
                ? guess + 1
                : static_cast<std::size_t>(std::upper_bound(times.begin(), times.end(), time) - times.begin());
  near = static_cast<std::uint32_t>(count);
  return count;
}

/// The keys around a time.
struct Around {
  std::size_t first;
  bool holds;  ///< the value of the first one does not change
  double begin, width, inverse_width;
};

/// Finds the keys around a time, and narrows the time for which they are valid.
Around keys_around(const Motion::Channel& channel, double time, std::uint32_t& near, double& low, double& high) {
  const std::size_t until = keys_until(channel.times, time, near), count = channel.times.size();
  const std::size_t first = until == 0 ? 0 : until - 1;
  const bool holds = until == 0 || until == count || channel.between == Motion::Between::step;
  if (until > 0) low = std::max(low, channel.times[first]);
  if (until < count) high = std::min(high, channel.times[until]);
  const double width = holds ? 0.0 : channel.times[first + 1] - channel.times[first];
  return {first, holds, channel.times[first], width, holds ? 0.0 : 1.0 / width};
}

/// Takes the terms between two keys of a channel into a lane; of the line, or of the cubic. `spline` may be nullptr
/// where no key of the block is cubic.
template <int parts>
void take_terms(const Motion::Channel& channel, const Around& keys, int lane, ChannelRows<parts>& rows,
                SplineRows<parts>* spline) {
  const bool is_cubic = channel.between == Motion::Between::cubic;
  const auto value = [&](std::size_t key, int part, int which) {  // which: 0 in-tangent, 1 value, 2 out-tangent
    const std::size_t place = is_cubic ? key * 3 + static_cast<std::size_t>(which) : key;
    return channel.values[place * parts + static_cast<std::size_t>(part)];
  };
  for (int part = 0; part < parts; ++part) {
    const double a = value(keys.first, part, 1), b = keys.holds ? a : value(keys.first + 1, part, 1);
    const double leaves = is_cubic && !keys.holds ? keys.width * value(keys.first, part, 2) : b - a;
    const double arrives = is_cubic && !keys.holds ? keys.width * value(keys.first + 1, part, 0) : b - a;
    rows.first[part].at[lane] = a;
    rows.second[part].at[lane] = leaves;
    if (!spline) continue;
    spline->third[part].at[lane] = is_cubic ? 3.0 * (b - a) - 2.0 * leaves - arrives : 0.0;
    spline->fourth[part].at[lane] = is_cubic ? 2.0 * (a - b) + leaves + arrives : 0.0;
  }
}

/// The share of the time between two keys, or of a turn of `angle`, about its middle.
template <class Rows>
void take_share(const Around& keys, const Piece& piece, int lane, Rows& rows, double angle = 1.0, double middle = 0.0) {
  rows.rate.at[lane] = piece.pace * keys.inverse_width * angle;
  rows.phase.at[lane] = keys.holds ? 0.0 : ((piece.time - keys.begin) * keys.inverse_width - middle) * angle;
}

struct ReplayKernel {
  using Values = Replay;

  static constexpr auto summary = "replays recorded motion: an animation of a glTF file, or a recording";
  static constexpr auto example = R"(
[[object.ferry.behaviour]]
kind   = "replay"
file   = "artist.glb"      # or a recording: .csv, .jsonl, .glb
clip   = "crossing"        # an animation of the file
object = "Ferry-No-2"      # whose motion it is, unless they have the same name
ends   = "loop"
)";
  static constexpr auto fields = std::tuple{
      field("file", &Replay::file, unit::none,
            "a glTF file, or a recording (.csv, .jsonl, .glb, .gltf); default: the file that the scene is from"),
      field("clip", &Replay::clip, unit::none, "the name of an animation; default: the first that moves the object"),
      field("object", &Replay::object, unit::none,
            "the object of the file whose motion it is; default: that of its own name"),
      field("speed", &Replay::speed, unit::signed_time_rate, "seconds of the clip in a second; negative goes backwards",
            slider(-2, 2)),
      field("start", &Replay::start, unit::seconds,
            "time in the clip at which it begins; default: 0, or the end where it goes backwards", slider(0, 10)),
      field("ends", &Replay::ends, unit::none, "what happens at the end"),
      field("channels", &Replay::channels, unit::none,
            "the parts of the pose that are replayed; default: all that have keys"),
      field("blend", &Replay::blend, unit::seconds,
            "with \"loop\": the time before the end in which it goes over to the beginning", slider(0, 2))};

  struct State {
    std::optional<double> phase = {};  ///< s in the clip, or in a way there and back: set by a change while it runs
  };
  using Block = ReplayBlock;

  using Position = VariantField<bool, 0, 1>;
  using Rotation = VariantField<bool, 1, 1>;
  using Scale = VariantField<bool, 2, 1>;
  using Spline = VariantField<bool, 3, 1>;  ///< of any part
  using Blends = VariantField<bool, 4, 1>;
  using TurnsAlongSpline = VariantField<bool, 5, 1>;
  static unsigned variant(const Replay& replay, const State&) {
    const MotionFile::Entry* const entry = entry_of(replay);
    if (!entry) return 0;
    const Motion& motion = *entry->motion;
    const auto plays = [&](Channel channel) {
      return std::find(replay.channels.begin(), replay.channels.end(), channel) != replay.channels.end();
    };
    return Position::put(plays(Channel::position) && !motion.position().times.empty()) |
           Rotation::put(plays(Channel::rotation) && !motion.rotation().times.empty()) |
           Scale::put(plays(Channel::scale) && !motion.scale().times.empty()) | Spline::put(has_spline(motion)) |
           TurnsAlongSpline::put(motion.rotation().between == Motion::Between::cubic) |
           Blends::put(replay.ends == ReplayEnds::loop && replay.blend > Time{0});
  }
  static unsigned touches(unsigned variant) {
    return (Position::of(variant) ? part::position : 0U) | (Rotation::of(variant) ? part::rotation : 0U) |
           (Scale::of(variant) ? part::scale : 0U);
  }

  static void archive(Archive& archive, State& state, const Replay&) { archive(state.phase); }
  static bool needs_start(const Replay&) { return true; }
  static void begin(State& state, const Replay&, const Start&) { state.phase.reset(); }

  static void absorb(State& state, const Replay& replay, OwnTime time, const Start&, const Replay& next) {
    const MotionFile::Entry *const before = entry_of(replay), *const after = entry_of(next);
    const auto clip_of = [](const Replay& of, const MotionFile::Entry& entry) {
      return of.file.content->clips[entry.clip];
    };
    const bool is_same = before && after && before->object == after->object &&
                         clip_of(replay, *before).name == clip_of(next, *after).name && next.start == replay.start;
    if (!is_same) return state.phase.reset();  // it begins anew
    const double length = replay.file.content->clips[before->clip].length;
    double laps = 0.0;
    const ClipTime was = clip_time_at(course_of(replay, length, state.phase), time.whole, time.rest, laps);
    const bool goes_on = replay.ends == ReplayEnds::return_ && next.ends == ReplayEnds::return_;
    state.phase = goes_on ? was.along : was.time;  // on the way back, it goes on to the beginning
  }

  static void fill(Block& block, int lane, const Replay& replay, const State& state) {
    const MotionFile::Entry* const entry = entry_of(replay);
    block.motion[lane] = entry ? entry->motion.get() : nullptr;
    const double length = entry ? replay.file.content->clips[entry->clip].length : 0.0;
    block.course[lane] = course_of(replay, length, state.phase);
    if (entry && has_spline(*entry->motion) && !block.splines) block.splines = std::make_unique<Splines>();
    if (entry && !entry->motion->scale().times.empty() && !block.scale)
      block.scale = std::make_unique<ChannelRows<3>>();
    if (replay.ends == ReplayEnds::loop && replay.blend > Time{0}) {
      if (!block.blending) block.blending = std::make_unique<Blending>();
      const double blend = std::min(in_seconds(replay.blend), length);
      block.blending->begin[lane] = length - blend;
      block.blending->inverse[lane] = blend > 0.0 ? 1.0 / blend : 0.0;
      if (entry) take_first(*block.blending, *entry->motion, lane);
    }
    block.near_laps[lane] = 0.0;
    std::fill_n(block.near[lane], 3, 0U);
    block.piece.forget(lane);  // its keys must be found anew
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    Row into, is_known;
    in_lanes<find_times>(block.piece, *context.whole, *context.rest, into, is_known);
    if (!all_hold(is_known))
      for (int lane = 0; lane < lanes; ++lane)
        if (is_known.at[lane] == 0.0 && context.is_active(lane) && block.motion[lane])
          into.at[lane] = take_all(block, lane, context.whole->at[lane], context.rest->at[lane]);
    PoseBlock before;
    if (Blends::of(variant)) before = poses;
    const Splines* const splines = Spline::of(variant) ? block.splines.get() : nullptr;
    if (Position::of(variant)) move(block.position, splines ? &splines->position : nullptr, into, poses.position);
    if (Scale::of(variant)) move(*block.scale, splines ? &splines->scale : nullptr, into, poses.scale);
    if (Rotation::of(variant)) {
      if (TurnsAlongSpline::of(variant))
        in_lanes<turn_along_spline>(block.rotation, splines->rotation, into, poses.rotation);
      else
        in_lanes<turn_evenly>(block.rotation, into, poses.rotation);
    }
    if (!Blends::of(variant)) return;
    in_lanes<blend_to_first>(*block.blending, into, poses);
    if (!Position::of(variant)) std::copy(std::begin(before.position), std::end(before.position), poses.position);
    if (!Rotation::of(variant)) std::copy(std::begin(before.rotation), std::end(before.rotation), poses.rotation);
    if (!Scale::of(variant)) std::copy(std::begin(before.scale), std::end(before.scale), poses.scale);
  }

  static std::optional<Diagnostic> check(const Replay& replay, const Pose*) {
    const MotionSource& file = replay.file;
    if (replay.channels.empty())
      return about("channels", "the list is empty; give one or more of \"position\", \"rotation\" and \"scale\".");
    if (!file.content)
      return about("file", in_quotes(file.file) + " is not read while a scene plays; change it in the scene file.");
    if (!replay.clip.empty()) {
      std::vector<std::string_view> clips;
      for (const MotionFile::Clip& clip : file.content->clips) clips.push_back(clip.name);
      if (std::find(clips.begin(), clips.end(), replay.clip) == clips.end())
        return about("clip", "no animation is called " + in_quotes(replay.clip) +
                                 (clips.empty() ? "; the file has none." : suggestion(replay.clip, clips)));
    }
    const std::string& object = replay.object.empty() ? file.owner : replay.object;
    if (object.empty() || entry_of(replay)) return std::nullopt;  // a preset: the object is not known yet
    std::vector<std::string_view> objects;
    for (const MotionFile::Entry& each : file.content->entries)
      if (replay.clip.empty() || file.content->clips[each.clip].name == replay.clip) objects.push_back(each.object);
    objects.erase(std::unique(objects.begin(), objects.end()), objects.end());
    const std::string what = replay.clip.empty() ? "the file" : "the animation " + in_quotes(replay.clip);
    if (objects.empty()) return about("object", what + " moves nothing.");
    return about("object", what + " does not move " + in_quotes(object) + suggestion(object, objects));
  }

 private:
  static bool has_spline(const Motion& motion) {
    const auto is_spline = [](const Motion::Channel& each) { return each.between == Motion::Between::cubic; };
    return is_spline(motion.position()) || is_spline(motion.rotation()) || is_spline(motion.scale());
  }

  static void move(const ChannelRows<3>& rows, const SplineRows<3>* spline, const Row& into, Row (&to)[3]) {
    if (spline)
      in_lanes<move_along_spline>(rows, *spline, into, to);
    else
      in_lanes<move_in_line>(rows, into, to);
  }

  /// Takes the keys at an own time. Returns the time in their piece.
  static double take_all(Block& block, int lane, double whole, double rest) {
    const Motion& motion = *block.motion[lane];
    const ClipTime now = clip_time_at(block.course[lane], whole, rest, block.near_laps[lane]);
    double low = -for_ever, high = for_ever;
    const auto find = [&](const Motion::Channel& channel, int which) {
      return channel.times.empty() ? Around{} : keys_around(channel, now.time, block.near[lane][which], low, high);
    };
    const Around places = find(motion.position(), 0);
    const Around rotations = motion.has_common_times() && motion.rotation().between == motion.position().between
                                 ? places
                                 : find(motion.rotation(), 1);
    const Around scales = find(motion.scale(), 2);
    const Piece piece = piece_at(block.course[lane], now, low, high);
    block.piece.set(lane, piece.shift, piece.length - near_the_ends, 0.0);

    Splines* const splines = block.splines.get();
    if (!motion.position().times.empty()) {
      take_share(places, piece, lane, block.position);
      take_terms(motion.position(), places, lane, block.position, splines ? &splines->position : nullptr);
    }
    if (!motion.scale().times.empty()) {
      take_share(scales, piece, lane, *block.scale);
      take_terms(motion.scale(), scales, lane, *block.scale, splines ? &splines->scale : nullptr);
    }
    if (!motion.rotation().times.empty()) take_turn(block, motion, rotations, piece, lane);
    if (block.blending) {
      Blending& blending = *block.blending;
      blending.rate.at[lane] = piece.pace * blending.inverse[lane];
      blending.phase.at[lane] = (piece.time - blending.begin[lane]) * blending.inverse[lane];
    }
    return piece.shift.of(whole, rest);
  }

  static void take_turn(Block& block, const Motion& motion, const Around& keys, const Piece& piece, int lane) {
    ChannelRows<4>& rows = block.rotation;
    if (keys.holds || motion.rotation().between != Motion::Between::linear) {
      take_share(keys, piece, lane, rows);
      take_terms(motion.rotation(), keys, lane, rows, block.splines ? &block.splines->rotation : nullptr);
      return;
    }
    const Motion::Arc& arc = motion.arcs()[keys.first];
    take_share(keys, piece, lane, rows, arc.angle, 0.5);
    for (std::size_t part = 0; part < 4; ++part) {
      rows.first[part].at[lane] = arc.middle[part];
      rows.second[part].at[lane] = arc.aside[part];
    }
  }

  static void take_first(Blending& blending, const Motion& motion, int lane) {
    const auto value = [](const Motion::Channel& channel, std::size_t parts) {
      return channel.values.data() + (channel.between == Motion::Between::cubic ? parts : 0);
    };
    Pose first;
    if (!motion.position().times.empty()) first.position = Eigen::Map<const Vec3>{value(motion.position(), 3)};
    if (!motion.scale().times.empty()) first.scale = Eigen::Map<const Vec3>{value(motion.scale(), 3)};
    if (!motion.rotation().times.empty())
      first.rotation.coeffs() = Eigen::Map<const Eigen::Vector4d>{value(motion.rotation(), 4)}.normalized();
    store(blending.first, lane, numbers(first));
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Replay>() {
  static const KernelKind<ReplayKernel> kind;
  return kind;
}

}  // namespace hushed
