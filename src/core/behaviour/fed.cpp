// SPDX-License-Identifier: MIT
#include <hushed/behaviour/fed.hpp>

#include <algorithm>

#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/pose_blocks.hpp"

namespace hushed {

namespace {

using namespace detail;

struct FedState {
  Object object = {};
};

/// The present motions of eight objects.
struct FedBlock {
  PoseBlock from = {}, to = {};
  FedMotion motions[lanes];
  Object objects[lanes];
  unsigned fed = 0;             ///< one bit a lane: something has been fed to it
  Time since = {}, until = {};  ///< all eight motions are valid after `since` and before `until`
  Time arrived = {};            ///< all eight have arrived then
  std::uint64_t edition = 0;    ///< of the feeds, when the motions were read
};

void read_motions(FedBlock& block, const EvalContext& context) {
  block.edition = context.query->feeds_edition();
  block.fed = 0;
  block.since = block.arrived = Time::min();
  block.until = Time::max();
  for (int lane = 0; lane < lanes; ++lane) {
    FedMotion& motion = block.motions[lane];
    motion = context.query->fed_motion(block.objects[lane], context.scene_time);
    block.until = std::min(block.until, motion.until);
    if (motion.to == nullptr) continue;
    block.fed |= 1U << lane;
    block.since = std::max(block.since, motion.since);
    block.arrived = std::max(block.arrived, motion.arrives);
    store(block.from, lane, numbers(*motion.from));
    store(block.to, lane, numbers(*motion.to));
  }
}

void move_along(const FedBlock& block, const Row& share, PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const PoseOf<Real> from = load<Real>(block.from, lane), to = load<Real>(block.to, lane);
    const Real part = load<Real>(share, lane);
    const PoseOf<Real> between = mixed(from, to, part);
    const auto at_end = [&](Real middle, Real begin, Real end) {
      return select(part >= 1.0, end, select(part <= 0.0, begin, middle));
    };
    const auto ends = [&](const VecOf<Real>& v, const VecOf<Real>& a, const VecOf<Real>& b) {
      return VecOf<Real>{at_end(v.x, a.x, b.x), at_end(v.y, a.y, b.y), at_end(v.z, a.z, b.z)};
    };
    const QuatOf<Real>&q = between.rotation, &a = from.rotation, &b = to.rotation;
    store(poses, lane,
          PoseOf<Real>{ends(between.position, from.position, to.position),
                       {at_end(q.x, a.x, b.x), at_end(q.y, a.y, b.y), at_end(q.z, a.z, b.z), at_end(q.w, a.w, b.w)},
                       ends(between.scale, from.scale, to.scale)});
  });
}

/// Copies the lanes of a mask.
template <std::size_t count>
void take(unsigned mask, const Row (&from)[count], Row (&to)[count]) {
  for (std::size_t i = 0; i < count; ++i) {
    if (mask == all_lanes) {
      to[i] = from[i];
      continue;
    }
    for (int lane = 0; lane < lanes; ++lane)
      if ((mask >> lane & 1U) != 0) to[i].at[lane] = from[i].at[lane];
  }
}

struct FedKernel {
  using Values = Fed;

  static constexpr auto summary = "takes poses that the program feeds: of physics, a player or a network";
  static constexpr auto example = R"(
[[object.pilot.behaviour]]
kind     = "fed"
space    = "world"
channels = ["position", "rotation"]
)";
  static constexpr auto fields =
      std::tuple{field("space", &Fed::space, unit::none, "the space of the poses that are fed",
                       allowed(Space::world, Space::parent)),
                 field("channels", &Fed::channels, unit::none, "the parts of the pose that are taken")};
  using State = FedState;
  using Block = FedBlock;

  static constexpr bool holds_when_stopped = true, one_an_object = true;
  static constexpr unsigned in_parent = 8;

  static void prepare(State& state, const Fed&, const Owner& owner) { state.object = owner.object; }

  /// The variant: the parts that are taken, and the space.
  static unsigned variant(const Fed& fed, const State&) {
    unsigned parts = fed.space == Space::parent ? in_parent : 0U;
    for (const Channel channel : fed.channels) parts |= 1U << static_cast<unsigned>(channel);
    return parts;
  }
  static void archive(Archive&, State&, const Fed&) {}
  static unsigned touches(unsigned variant) { return variant & part::all; }
  static bool needs_start(const Fed&) { return true; }
  static void begin(State&, const Fed&, const Start&) {}
  static void absorb(State&, const Fed&, OwnTime, const Start&, const Fed&) {}
  static void fill(Block& block, int lane, const Fed&, const State& state) {
    block.objects[lane] = state.object;
    block.edition = 0;
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    if (block.edition != context.query->feeds_edition() || context.scene_time <= block.since ||
        context.scene_time >= block.until)
      read_motions(block, context);
    if (block.fed == 0) return;
    const bool is_brought = (variant & in_parent) == 0 && !context.in_world;
    if (context.scene_time >= block.arrived && !is_brought) return take_parts(block, variant, block.to, poses);

    PoseBlock moved;
    if (context.scene_time >= block.arrived) {
      moved = block.to;
    } else {
      Row share;
      for (int lane = 0; lane < lanes; ++lane) share.at[lane] = block.motions[lane].share(context.scene_time);
      in_lanes<move_along>(block, share, moved);
    }
    if (is_brought) out_of_world(*context.parent, moved);
    take_parts(block, variant, moved, poses);
  }

  static std::optional<Diagnostic> check(const Fed& fed, const Pose*) {
    if (fed.channels.empty())
      return about("channels", "the list is empty; give one or more of \"position\", \"rotation\" and \"scale\".");
    return std::nullopt;
  }

 private:
  static void take_parts(const Block& block, unsigned variant, const PoseBlock& from, PoseBlock& to) {
    if ((variant & part::position) != 0) take(block.fed, from.position, to.position);
    if ((variant & part::rotation) != 0) take(block.fed, from.rotation, to.rotation);
    if ((variant & part::scale) != 0) take(block.fed, from.scale, to.scale);
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Fed>() {
  static const KernelKind<FedKernel> kind;
  return kind;
}

}  // namespace hushed
