// SPDX-License-Identifier: MIT
#include <hushed/behaviour/replay.hpp>

#include <algorithm>
#include <cmath>

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

namespace {

using namespace detail;

const MotionFile::Entry* entry_of(const Replay& replay) {
  if (!replay.file.content) return nullptr;
  return replay.file.content->find(replay.clip, replay.object.empty() ? replay.file.owner : replay.object);
}

/// The time in the clip as a function of own time: rate * own time + offset, folded.
struct Course {
  double rate = 0.0, offset = 0.0, length = 0.0;  ///< s
  PeriodOf<double> period{};
};

Course course_of(const Replay& replay, double length, const std::optional<double>& phase) {
  Course course{replay.speed, 0.0, length, period_of(0.0)};
  const double start = replay.start ? in_seconds(*replay.start) : replay.speed < 0.0 ? length : 0.0;
  course.offset = phase.value_or(start);
  if (replay.ends == ReplayEnds::loop) course.period = period_of(length);
  if (replay.ends == ReplayEnds::return_) course.period = period_of(2.0 * length);
  return course;
}

/// The time in the clip. In the second half of a way there and back it falls.
template <class R>
R folded(R left, R length) {
  return larger(smaller(select(left > length, length + length - left, left), length), R{0.0});
}

/// The present keys of a channel of eight motions: from a key, and the change to the next one.
template <int parts, int changes = parts>
struct ChannelRows {
  Row begin, inverse;  ///< s and 1/s
  Row from[parts], change[changes];
};

/// The higher terms of a cubic of the share of the time between two keys, beside `from` and `change`.
template <int parts>
struct SplineRows {
  Row second[parts], third[parts];
};

struct Splines {
  SplineRows<3> position, scale;
  SplineRows<4> rotation;
  Row rotation_first[4];  ///< the first term of rotations
};

/// The poses at the beginning of the clips, to which loops are blended.
struct Blending {
  Row begin, inverse;
  PoseBlock first;
};

struct ReplayBlock {
  Row rate, offset, lap_lead, lap_rest, lap_inverse, length, returns;
  Row low, high;  ///< s in the clip: between these, the present keys are valid; `low` is included
  ChannelRows<3> position;
  ChannelRows<4, 3> rotation;  ///< `change` is the rotation vector to the later key
  std::unique_ptr<ChannelRows<3>> scale;
  std::unique_ptr<Splines> splines;
  std::unique_ptr<Blending> blending;
  const Motion* motion[lanes];
  std::uint32_t near[lanes][3];  ///< the keys found last
};

template <class Rows>
Real share_of(const Rows& rows, const Row& times, int lane) {
  return (load<Real>(times, lane) - load<Real>(rows.begin, lane)) * load<Real>(rows.inverse, lane);
}

void find_times(const ReplayBlock& block, const Row& whole, const Row& rest, Row& times, Row& is_known) {
  for_each_lane([&](int lane) {
    const PeriodOf<Real> lap{load<Real>(block.lap_lead, lane), load<Real>(block.lap_rest, lane),
                             load<Real>(block.lap_inverse, lane)};
    const Real left = turns(load<Real>(block.rate, lane), load<Real>(whole, lane), load<Real>(rest, lane),
                            load<Real>(block.offset, lane), lap)
                          .left;
    const Real length = load<Real>(block.length, lane);
    const Real time =
        select(load<Real>(block.returns, lane) != 0.0, folded(left, length), larger(smaller(left, length), Real{0.0}));
    store(times, lane, time);
    const auto known = both_hold(time >= load<Real>(block.low, lane), time < load<Real>(block.high, lane));
    store(is_known, lane, select(known, Real{1.0}, Real{0.0}));
  });
}

void move_in_line(const ChannelRows<3>& rows, const Row& times, Row (&to)[3]) {
  for_each_lane([&](int lane) {
    store(to, lane, load<Real>(rows.from, lane) + load<Real>(rows.change, lane) * share_of(rows, times, lane));
  });
}

void move_along_spline(const ChannelRows<3>& rows, const SplineRows<3>& spline, const Row& times, Row (&to)[3]) {
  for_each_lane([&](int lane) {
    const Real share = share_of(rows, times, lane);
    const auto c0 = load<Real>(rows.from, lane), c1 = load<Real>(rows.change, lane);
    const auto c2 = load<Real>(spline.second, lane), c3 = load<Real>(spline.third, lane);
    store(to, lane, c0 + (c1 + (c2 + c3 * share) * share) * share);
  });
}

void turn_evenly(const ChannelRows<4, 3>& rows, const Row& times, Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const VecOf<Real> turn = load<Real>(rows.change, lane) * share_of(rows, times, lane);
    store(to, lane, near_unit(rotation_by(turn) * load<Real>(rows.from, lane)));
  });
}

void turn_along_spline(const ChannelRows<4, 3>& rows, const Splines& splines, const Row& times, Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const Real share = share_of(rows, times, lane);
    const auto part = [&](int i) {
      const Real c0 = load<Real>(rows.from[i], lane), c1 = load<Real>(splines.rotation_first[i], lane);
      const Real c2 = load<Real>(splines.rotation.second[i], lane), c3 = load<Real>(splines.rotation.third[i], lane);
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

void blend_to_first(const Blending& blending, const Row& times, PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const Real u = larger(
        smaller((load<Real>(times, lane) - load<Real>(blending.begin, lane)) * load<Real>(blending.inverse, lane),
                Real{1.0}),
        Real{0.0});
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
  double begin, width;
};

/// Finds the keys around a time, and narrows the time for which they are valid.
Around keys_around(const Motion::Channel& channel, double time, std::uint32_t& near, double& low, double& high) {
  const std::size_t until = keys_until(channel.times, time, near), count = channel.times.size();
  const std::size_t first = until == 0 ? 0 : until - 1;
  const bool holds = until == 0 || until == count || channel.between == Motion::Between::step;
  if (until > 0) low = std::max(low, channel.times[first]);
  if (until < count) high = std::min(high, channel.times[until]);
  return {first, holds, channel.times[first], holds ? 0.0 : channel.times[first + 1] - channel.times[first]};
}

/// Takes numbers of a channel into a lane: the cubic between two keys, or the line. `second` and `third` may be nullptr
/// where no key of the block is cubic.
void take_numbers(const Motion::Channel& channel, const Around& keys, int parts, int lane, Row* from, Row* first,
                  Row* second, Row* third) {
  const bool is_cubic = channel.between == Motion::Between::cubic;
  const auto value = [&](std::size_t key, int part, int which) {  // which: 0 in-tangent, 1 value, 2 out-tangent
    const std::size_t place = is_cubic ? key * 3 + static_cast<std::size_t>(which) : key;
    return channel.values[place * static_cast<std::size_t>(parts) + static_cast<std::size_t>(part)];
  };
  for (int part = 0; part < parts; ++part) {
    const double a = value(keys.first, part, 1), b = keys.holds ? a : value(keys.first + 1, part, 1);
    const double leaves = is_cubic && !keys.holds ? keys.width * value(keys.first, part, 2) : b - a;
    const double arrives = is_cubic && !keys.holds ? keys.width * value(keys.first + 1, part, 0) : b - a;
    from[part].at[lane] = a;
    if (first) first[part].at[lane] = leaves;
    if (!second) continue;
    second[part].at[lane] = is_cubic ? 3.0 * (b - a) - 2.0 * leaves - arrives : 0.0;
    third[part].at[lane] = is_cubic ? 2.0 * (a - b) + leaves + arrives : 0.0;
  }
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
    if (!before || !after || before->motion != after->motion || next.start != replay.start) return state.phase.reset();
    const double length = replay.file.content->clips[before->clip].length;
    const Course course = course_of(replay, length, state.phase);
    const double left = turns(course.rate, time.whole, time.rest, course.offset, course.period).left;
    const bool same = replay.ends == next.ends;
    const bool returns = replay.ends == ReplayEnds::return_;
    state.phase = same && replay.ends != ReplayEnds::stop ? left
                  : returns                               ? folded(left, length)
                                                          : std::clamp(left, 0.0, length);
  }

  static void fill(Block& block, int lane, const Replay& replay, const State& state) {
    const MotionFile::Entry* const entry = entry_of(replay);
    block.motion[lane] = entry ? entry->motion.get() : nullptr;
    const double length = entry ? replay.file.content->clips[entry->clip].length : 0.0;
    const Course course = course_of(replay, length, state.phase);
    block.rate.at[lane] = course.rate;
    block.offset.at[lane] = course.offset;
    block.lap_lead.at[lane] = course.period.lead;
    block.lap_rest.at[lane] = course.period.rest;
    block.lap_inverse.at[lane] = course.period.inverse;
    block.length.at[lane] = length;
    block.returns.at[lane] = replay.ends == ReplayEnds::return_ ? 1.0 : 0.0;
    if (entry && has_spline(*entry->motion) && !block.splines) block.splines = std::make_unique<Splines>();
    if (entry && !entry->motion->scale().times.empty() && !block.scale)
      block.scale = std::make_unique<ChannelRows<3>>();
    if (replay.ends == ReplayEnds::loop && replay.blend > Time{0}) {
      if (!block.blending) block.blending = std::make_unique<Blending>();
      const double blend = std::min(in_seconds(replay.blend), length);
      block.blending->begin.at[lane] = length - blend;
      block.blending->inverse.at[lane] = blend > 0.0 ? 1.0 / blend : 0.0;
      if (entry) take_first(*block.blending, *entry->motion, lane);
    }
    std::fill_n(block.near[lane], 3, 0U);
    block.low.at[lane] = for_ever;  // its keys must be found anew
    block.high.at[lane] = -for_ever;
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    Row times, is_known;
    in_lanes<find_times>(block, *context.whole, *context.rest, times, is_known);
    if (!all_hold(is_known))
      for (int lane = 0; lane < lanes; ++lane)
        if (is_known.at[lane] == 0.0 && context.is_active(lane) && block.motion[lane])
          take_all(block, lane, times.at[lane]);
    PoseBlock before;
    if (Blends::of(variant)) before = poses;
    const Splines* const splines = Spline::of(variant) ? block.splines.get() : nullptr;
    if (Position::of(variant)) move(block.position, splines ? &splines->position : nullptr, times, poses.position);
    if (Scale::of(variant)) move(*block.scale, splines ? &splines->scale : nullptr, times, poses.scale);
    if (Rotation::of(variant)) {
      if (TurnsAlongSpline::of(variant))
        in_lanes<turn_along_spline>(block.rotation, *splines, times, poses.rotation);
      else
        in_lanes<turn_evenly>(block.rotation, times, poses.rotation);
    }
    if (!Blends::of(variant)) return;
    in_lanes<blend_to_first>(*block.blending, times, poses);
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

  static void move(const ChannelRows<3>& rows, const SplineRows<3>* spline, const Row& times, Row (&to)[3]) {
    if (spline)
      in_lanes<move_along_spline>(rows, *spline, times, to);
    else
      in_lanes<move_in_line>(rows, times, to);
  }

  static void take_all(Block& block, int lane, double time) {
    const Motion& motion = *block.motion[lane];
    double low = -for_ever, high = for_ever;
    const auto take_three = [&](const Motion::Channel& channel, std::uint32_t& near, ChannelRows<3>& rows,
                                SplineRows<3>* spline) {
      if (channel.times.empty()) return;
      const Around keys = keys_around(channel, time, near, low, high);
      rows.begin.at[lane] = keys.begin;
      rows.inverse.at[lane] = keys.holds ? 0.0 : 1.0 / keys.width;
      take_numbers(channel, keys, 3, lane, rows.from, rows.change, spline ? spline->second : nullptr,
                   spline ? spline->third : nullptr);
    };
    Splines* const splines = block.splines.get();
    take_three(motion.position(), block.near[lane][0], block.position, splines ? &splines->position : nullptr);
    if (block.scale) take_three(motion.scale(), block.near[lane][2], *block.scale, splines ? &splines->scale : nullptr);
    if (!motion.rotation().times.empty()) {
      const Around keys = keys_around(motion.rotation(), time, block.near[lane][1], low, high);
      take_turn(block, motion, keys, lane);
    }
    block.low.at[lane] = low;
    block.high.at[lane] = high;
  }

  static void take_turn(Block& block, const Motion& motion, const Around& keys, int lane) {
    const Motion::Channel& channel = motion.rotation();
    ChannelRows<4, 3>& rows = block.rotation;
    rows.begin.at[lane] = keys.begin;
    rows.inverse.at[lane] = keys.holds ? 0.0 : 1.0 / keys.width;
    if (channel.between == Motion::Between::cubic) {
      Splines& splines = *block.splines;
      take_numbers(channel, keys, 4, lane, rows.from, splines.rotation_first, splines.rotation.second,
                   splines.rotation.third);
      return;
    }
    take_numbers(channel, keys, 4, lane, rows.from, nullptr, nullptr, nullptr);
    VecOf<double> turn{0.0, 0.0, 0.0};
    if (!keys.holds) {
      const double* const v = motion.turns().data() + 3 * keys.first;
      turn = {v[0], v[1], v[2]};
    }
    store(rows.change, lane, turn);
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
