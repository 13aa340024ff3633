// SPDX-License-Identifier: MIT
#pragma once

// Makes a `Kind` from a kernel: the struct with the table of fields and the mathematics of a behaviour.
//
//     struct SpinKernel {
//       using Values = Spin;                  the values that a user gives
//       static constexpr auto summary = "...", example = R"(...)";                        for `hushed describe`
//       static constexpr auto fields = std::tuple{field("axis", &Spin::axis, unit::direction, "..."), ...};
//                                             and optionally `alternatives`, `exactly_one`
//       struct State {...};                   data taken at the start, and the motion so far
//       struct Block {...};                   rows of the numbers that eight behaviours need every frame
//       static unsigned variant(const Values&, const State&);         behaviours of one variant share blocks
//       static unsigned touches(unsigned variant);                    the parts of the pose that it may change
//       static void begin(State&, const Values&, const Start&);       sets the whole state
//       static void absorb(State&, const Values&, OwnTime, const Start& now, const Values& next);
//                                             puts the motion so far into the state: own time is 0 afterwards
//       static void fill(Block&, int lane, const Values&, State&);    writes a lane
//       static void evaluate(const Block&, unsigned variant, PoseBlock&, const EvalContext&);
//       static std::optional<Diagnostic> check(const Values&, const Pose* in);
//       static void archive(Archive&, State&, const Values&);         writes the state, or reads it; see `Archive`
//                                             left out where the state is empty
//     };
//
// A function of time has a function that returns true where it needs `begin`, or its first pose may differ from the
// incoming one:
//
//       static bool needs_start(const Values&);
//
// A motion with state keeps it in its blocks while the scene plays, and copies it back with `collect`. It always
// begins; `absorb` is optional:
//
//       static void collect(const Block&, int lane, State&);
//
// Optional members, each of which adds a capability (see `KindTraits`):
//
//       static std::size_t blocks(unsigned variant);                  number of `Block` for eight behaviours; default 1
//       static void prepare(State&, const Values&, const Owner&);     called when the behaviour is given
//       static unsigned overwrites(unsigned variant);                 the touched parts that do not depend on the
//                                                                     incoming pose
//       static void turn_back(State&, const Values&, OwnTime, const Start& now);          reverses the motion
//       static void kick(State&, const Values&, const Vec3&);         adds to its velocity
//       static bool needs_all_dependencies(const Values&);            true by default; its values may name tags
//       static bool emits_events_at_ticks(const Values&);
//       static std::vector<NeighbourQuery> neighbour_queries(const Values&);
//       static void decide(Block&, const EvalContext&);               computes the wanted motion until the next tick
//       static std::vector<UrgeShare> urges(const Block&, int lane, const EvalContext&);
//       static bool advance_many(Block&, unsigned variant, int ticks, PoseBlock&, const EvalContext& last);
//       static constexpr bool emits_events = true, needs_every_tick = true;
//       static constexpr bool is_additive = true, reports_each_lost = true;
//       static constexpr bool holds_when_stopped = true, one_an_object = true;

#include <algorithm>
#include <memory>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/detail/kind.hpp>

#include "lanes/caches.hpp"
#include "lanes/value_table.hpp"
#include "lanes/variant.hpp"

namespace hushed::detail {

template <class Kernel>
inline constexpr bool remembers = requires(const typename Kernel::Block& block, typename Kernel::State& state) {
  Kernel::collect(block, 0, state);
};

template <class Kernel>
inline constexpr bool decides = requires(typename Kernel::Block& block, const EvalContext& context) {
  Kernel::decide(block, context);
};

template <class Kernel>
inline constexpr bool needs_every_tick = requires {
  Kernel::needs_every_tick;
};

template <class Kernel>
inline constexpr bool emits_events = requires {
  Kernel::emits_events;
};

template <class Kernel>
inline constexpr bool reports_each_lost = requires {
  Kernel::reports_each_lost;
};

template <class Kernel>
inline constexpr bool is_additive = requires {
  Kernel::is_additive;
};

template <class Kernel>
inline constexpr bool holds_when_stopped = requires {
  Kernel::holds_when_stopped;
};

template <class Kernel>
inline constexpr bool one_an_object = requires {
  Kernel::one_an_object;
};

template <class Kernel>
inline constexpr bool may_name_tags = requires(const typename Kernel::Values& values) {
  Kernel::needs_all_dependencies(values);
};

template <class Kernel>
inline constexpr bool has_velocity = requires(typename Kernel::State& state, const typename Kernel::Values& values,
                                              const Vec3& by) {
  Kernel::kick(state, values, by);
};

template <class Kernel>
class KernelStore final : public BehaviourStore {
 public:
  using Values = typename Kernel::Values;
  using State = typename Kernel::State;

  std::uint32_t add(const void* values, const Owner& owner) override {
    State state{};
    if constexpr (requires { Kernel::prepare(state, of(values), owner); }) Kernel::prepare(state, of(values), owner);
    const std::uint32_t row = states_.add(std::move(state));
    values_.set(row, of(values));
    return row;
  }
  void remove(std::uint32_t row) override { states_.remove(row); }
  const void* values(std::uint32_t row) const override { return &values_[row]; }
  void set_values(std::uint32_t row, const void* values) override { values_.set(row, of(values)); }
  unsigned variant(std::uint32_t row) const override { return Kernel::variant(values_[row], states_[row]); }
  std::unique_ptr<LaneBlocks> lane_blocks(unsigned variant) override;
  void begin(std::uint32_t row, const Start& start) noexcept override {
    Kernel::begin(states_[row], values_[row], start);
  }
  bool absorb(std::uint32_t row, OwnTime time, const Start& now, const void* next_values) override {
    State& state = states_[row];
    if constexpr (requires { Kernel::absorb(state, values_[row], time, now, values_[row]); })
      Kernel::absorb(state, values_[row], time, now, of(next_values));
    return !remembers<Kernel>;
  }
  bool kick(std::uint32_t row, const Vec3& by) override {
    if constexpr (has_velocity<Kernel>) Kernel::kick(states_[row], values_[row], by);
    return has_velocity<Kernel>;
  }
  bool turn_back(std::uint32_t row, OwnTime time, const Start& now) override {
    if constexpr (requires { Kernel::turn_back(states_[row], values_[row], time, now); }) {
      Kernel::turn_back(states_[row], values_[row], time, now);
      return true;
    } else {
      return false;
    }
  }
  std::unique_ptr<BehaviourStore> copy() const override { return std::make_unique<KernelStore>(*this); }
  bool restore(const BehaviourStore& copy, bool values_too) override {
    const auto& from = static_cast<const KernelStore&>(copy);
    // Rows that only one of the two has are not in use.
    for (std::size_t row = 0; row < std::min(from.states_.size(), states_.size()); ++row)
      states_[row] = from.states_[row];
    return values_too && values_.restore(from.values_);
  }
  void take_state(std::uint32_t row, const BehaviourStore& from, std::uint32_t from_row) override {
    states_[row] = static_cast<const KernelStore&>(from).states_[from_row];
  }
  void archive(std::uint32_t row, Archive& archive) override {
    if constexpr (requires { Kernel::archive(archive, states_[row], values_[row]); })
      Kernel::archive(archive, states_[row], values_[row]);
    else
      static_assert(std::is_empty_v<State>, "its state must be written by `archive`");
  }
  const Values& values_at(std::uint32_t row) const { return values_[row]; }
  State& state_at(std::uint32_t row) { return states_[row]; }

 private:
  static const Values& of(const void* values) { return *static_cast<const Values*>(values); }

  ValueTable<Values> values_;
  RowTable<State> states_;
};

/// The blocks of a kernel; Base is `LaneBlocks`, or `AgentBlocks` where the kernel decides.
template <class Kernel, class Base>
class KernelBlocks : public Base {
 public:
  using Block = typename Kernel::Block;

  KernelBlocks(KernelStore<Kernel>& store, unsigned variant) : store_{store}, variant_{variant} {}

  void resize(std::size_t blocks) override { blocks_.resize(blocks * each_); }
  void fill(std::size_t block, int lane, std::uint32_t row) override {
    Kernel::fill(blocks_[block * each_], lane, store_.values_at(row), store_.state_at(row));
  }
  void collect(std::size_t block, int lane, std::uint32_t row) override {
    if constexpr (remembers<Kernel>) Kernel::collect(blocks_[block * each_], lane, store_.state_at(row));
  }
  void evaluate(std::size_t block, PoseBlock& poses, const EvalContext& context) noexcept override {
    Kernel::evaluate(blocks_[block * each_], variant_, poses, context);
  }
  bool takes_runs() const override { return true; }
  void evaluate_run(std::size_t first, std::span<PoseBlock> poses, const EvalContext& last) noexcept override {
    EvalContext context = last;
    context.used = all_lanes;
    auto* block = &blocks_[first * each_];
    for (PoseBlock& each : poses) {
      if (&each == &poses.back()) context.used = last.used;
      Kernel::evaluate(*block, variant_, each, context);
      block += each_;
      if (!context.in_world) ++context.parent;
    }
  }
  bool advances_many() const override {
    return requires(Block & block, PoseBlock & poses, const EvalContext& last) {
      Kernel::advance_many(block, 0U, 2, poses, last);
    };
  }
  std::size_t advance_many(std::size_t first, int ticks, std::span<PoseBlock> poses,
                           const EvalContext& last) noexcept override {
    std::size_t done = 0;
    if constexpr (requires { Kernel::advance_many(blocks_[first], variant_, ticks, poses[0], last); }) {
      while (done < poses.size() &&
             Kernel::advance_many(blocks_[(first + done) * each_], variant_, ticks, poses[done], last))
        ++done;
    }
    return done;
  }

 protected:
  auto& block_at(std::size_t block) { return blocks_[block * each_]; }
  const auto& block_at(std::size_t block) const { return blocks_[block * each_]; }

 private:
  static std::size_t blocks_of(unsigned variant) {
    if constexpr (requires { Kernel::blocks(variant); }) {
      return Kernel::blocks(variant);
    } else {
      return 1;
    }
  }

  KernelStore<Kernel>& store_;
  unsigned variant_;
  std::size_t each_ = blocks_of(variant_);
  LargeVector<Block> blocks_;
};

template <class Kernel>
class KernelAgentBlocks final : public KernelBlocks<Kernel, AgentBlocks> {
 public:
  using KernelBlocks<Kernel, AgentBlocks>::KernelBlocks;
  void decide(std::size_t block, const EvalContext& context) noexcept override {
    Kernel::decide(this->block_at(block), context);
  }
  std::vector<UrgeShare> urges(std::size_t block, int lane, const EvalContext& context) const override {
    return Kernel::urges(this->block_at(block), lane, context);
  }
};

template <class Kernel>
std::unique_ptr<LaneBlocks> KernelStore<Kernel>::lane_blocks(unsigned variant) {
  values_.fix_addresses();
  if constexpr (decides<Kernel>) {
    return std::make_unique<KernelAgentBlocks<Kernel>>(*this, variant);
  } else {
    return std::make_unique<KernelBlocks<Kernel, LaneBlocks>>(*this, variant);
  }
}

template <class Kernel>
class KernelKind final : public Kind {
 public:
  using Values = typename Kernel::Values;

  std::string_view name() const override { return Values::kind; }
  std::string_view summary() const override { return Kernel::summary; }
  std::string_view example() const override { return Kernel::example; }
  std::span<const FieldInfo> fields() const override { return fields_of<Kernel>(); }
  std::span<const Either> alternatives() const override {
    if constexpr (requires { Kernel::alternatives; }) {
      return Kernel::alternatives;
    } else {
      return {};
    }
  }
  std::span<const OneOf> exactly_one() const override {
    if constexpr (requires { Kernel::exactly_one; }) {
      return Kernel::exactly_one;
    } else {
      return {};
    }
  }
  const KindTraits& traits() const override {
    static constexpr KindTraits traits{.has_memory = remembers<Kernel>,
                                       .advances_to_any_time = remembers<Kernel>,
                                       .needs_every_tick = needs_every_tick<Kernel>,
                                       .decides = detail::decides<Kernel>,
                                       .emits_events = emits_events<Kernel>,
                                       .reports_each_lost = reports_each_lost<Kernel>,
                                       .is_additive = is_additive<Kernel>,
                                       .has_velocity = has_velocity<Kernel>,
                                       .holds_when_stopped = remembers<Kernel> || holds_when_stopped<Kernel>,
                                       .one_an_object = one_an_object<Kernel>,
                                       .may_name_tags = may_name_tags<Kernel>};
    return traits;
  }
  unsigned touches(unsigned variant) const override { return Kernel::touches(variant); }
  unsigned overwrites(unsigned variant) const override {
    if constexpr (requires { Kernel::overwrites(variant); }) {
      return Kernel::overwrites(variant);
    } else {
      return 0;
    }
  }
  std::vector<NeighbourQuery> neighbour_queries(const void* values) const override {
    if constexpr (requires { Kernel::neighbour_queries(of(values)); }) {
      return Kernel::neighbour_queries(of(values));
    } else {
      return {};
    }
  }
  bool needs_all_dependencies(const void* values) const override {
    if constexpr (may_name_tags<Kernel>) {
      return Kernel::needs_all_dependencies(of(values));
    } else {
      return true;
    }
  }
  bool emits_events_at_ticks(const void* values) const override {
    if constexpr (requires { Kernel::emits_events_at_ticks(of(values)); }) {
      return Kernel::emits_events_at_ticks(of(values));
    } else {
      return false;
    }
  }
  bool needs_start(const void* values) const override {
    if constexpr (remembers<Kernel>) {
      return true;
    } else {
      return Kernel::needs_start(of(values));
    }
  }
  References dependencies(const void* values) const override { return objects_named(fields(), values); }
  std::optional<Diagnostic> check(const void* values, const Pose* in) const override {
    return Kernel::check(of(values), in);
  }
  std::unique_ptr<BehaviourStore> store() const override { return std::make_unique<KernelStore<Kernel>>(); }
  std::shared_ptr<void> make(const void* values) const override {
    return values ? std::make_shared<Values>(of(values)) : std::make_shared<Values>();
  }

 private:
  static const Values& of(const void* values) { return *static_cast<const Values*>(values); }
};

}  // namespace hushed::detail
