// SPDX-License-Identifier: MIT
#pragma once

// Makes a `Kind` of a behaviour's room, the struct in its source file that holds its mathematics:
//
//     struct Room {
//       using Values = Spin;                  what the user gives
//       struct State {...};                   what is taken at the start, and the motion so far
//       struct Block {...};                   rows of what eight of them need every frame
//       static unsigned variant(const Values&, const State&);
//       static unsigned touches(unsigned variant);                    the parts of the pose that it may change
//       static void begin(State&, const Values&, const Start&);      sets the whole state
//       static void absorb(State&, const Values&, OwnTime, const Start& now, const Values& next);
//       static void fill(Block&, int lane, const Values&, State&);
//       static void evaluate(const Block&, unsigned variant, PoseBlock&, const EvalContext&);
//       static std::optional<Diagnostic> check(const Values&, const Pose* in);
//     };
//
// A function of time says whether it has to begin:
//
//       static bool needs_start(const Values&);
//
// A motion with memory keeps it in its blocks while it plays, and says how it comes back. It always begins, and it need
// not have anything to absorb:
//
//       static void collect(const Block&, int lane, State&);
//
// A room may also have
//
//       static std::size_t blocks(unsigned variant);     how many stand one behind another for eight; 1 unless told
//       static void prepare(State&, const Values&, const Owner&);      when it is given
//       static void turn_back(State&, const Values&, OwnTime, const Start& now);
//       static constexpr bool tells = true;                          it raises events
//       static bool tells_at_ticks(const Values&);
//       static constexpr bool listens = true;                        it takes every tick in its turn
//       static bool needs_all(const Values&);                        whether it holds where one it looks at is lost
//       static constexpr bool misses_each = true;                    where it goes on, it tells of each that is lost
//       static void kick(State&, const Values&, const Vec3&);        adds to a velocity
//       static std::vector<NeighbourQuery> senses(const Values&);            whom it looks about for
//       static void decide(Block&, const EvalContext&);              what is wanted from this tick to the next
//       static std::vector<UrgeShare> urges(const Block&, int lane, const EvalContext&);      the same, looked at
//       static bool leap(Block&, unsigned variant, int ticks, PoseBlock&, const EvalContext& last);    several at once

#include <memory>
#include <utility>
#include <vector>

#include <hushed/detail/kind.hpp>

#include "lanes/caches.hpp"

namespace hushed::detail {

template <class Kernel>
inline constexpr bool remembers = requires(const typename Kernel::Block& block, typename Kernel::State& state) {
  Kernel::collect(block, 0, state);
};

template <class Kernel>
class KernelStore final : public BehaviourStore {
 public:
  using Values = typename Kernel::Values;
  struct Entry {
    Values values;
    typename Kernel::State state;
  };

  std::uint32_t add(const void* values, const Owner& owner) override {
    Entry entry{*static_cast<const Values*>(values), {}};
    if constexpr (requires { Kernel::prepare(entry.state, entry.values, owner); })
      Kernel::prepare(entry.state, entry.values, owner);
    if (free_.empty()) {
      entries_.push_back(std::move(entry));
      return static_cast<std::uint32_t>(entries_.size() - 1);
    }
    const std::uint32_t row = free_.back();
    free_.pop_back();
    entries_[row] = std::move(entry);
    return row;
  }
  void remove(std::uint32_t row) override { free_.push_back(row); }
  const void* values(std::uint32_t row) const override { return &entries_[row].values; }
  void set_values(std::uint32_t row, const void* values) override {
    entries_[row].values = *static_cast<const Values*>(values);
  }
  unsigned variant(std::uint32_t row) const override {
    return Kernel::variant(entries_[row].values, entries_[row].state);
  }
  std::unique_ptr<LaneBlocks> lane_blocks(unsigned variant) override;
  void begin(std::uint32_t row, const Start& start) noexcept override {
    Kernel::begin(entries_[row].state, entries_[row].values, start);
  }
  bool absorb(std::uint32_t row, OwnTime time, const Start& now, const void* next_values) override {
    Entry& entry = entries_[row];
    if constexpr (requires { Kernel::absorb(entry.state, entry.values, time, now, entry.values); })
      Kernel::absorb(entry.state, entry.values, time, now, *static_cast<const Values*>(next_values));
    return !remembers<Kernel>;
  }
  bool kick(std::uint32_t row, const Vec3& by) override {
    Entry& entry = entries_[row];
    constexpr bool can = requires { Kernel::kick(entry.state, entry.values, by); };
    if constexpr (can) Kernel::kick(entry.state, entry.values, by);
    return can;
  }
  bool turn_back(std::uint32_t row, OwnTime time, const Start& now) override {
    if constexpr (requires { Kernel::turn_back(entries_[row].state, entries_[row].values, time, now); }) {
      Kernel::turn_back(entries_[row].state, entries_[row].values, time, now);
      return true;
    } else {
      return false;
    }
  }
  std::unique_ptr<BehaviourStore> copy() const override { return std::make_unique<KernelStore>(*this); }
  void restore(const BehaviourStore& copy, bool values_too) override {
    const auto& from = static_cast<const KernelStore&>(copy).entries_;
    for (std::size_t row = 0; row < from.size(); ++row) {
      if (values_too) entries_[row].values = from[row].values;
      entries_[row].state = from[row].state;
    }
  }
  void take_state(std::uint32_t row, const BehaviourStore& from, std::uint32_t from_row) override {
    entries_[row].state = static_cast<const KernelStore&>(from).entries_[from_row].state;
  }
  Entry& entry(std::uint32_t row) { return entries_[row]; }

 private:
  std::vector<Entry> entries_;
  std::vector<std::uint32_t> free_;
};

template <class Kernel>
class KernelBlocks final : public LaneBlocks {
 public:
  KernelBlocks(KernelStore<Kernel>& store, unsigned variant) : store_{store}, variant_{variant} {}

  void resize(std::size_t blocks) override { blocks_.resize(blocks * each_); }
  void fill(std::size_t block, int lane, std::uint32_t row) override {
    auto& entry = store_.entry(row);
    Kernel::fill(blocks_[block * each_], lane, entry.values, entry.state);
  }
  void collect(std::size_t block, int lane, std::uint32_t row) override {
    if constexpr (remembers<Kernel>) Kernel::collect(blocks_[block * each_], lane, store_.entry(row).state);
  }
  void evaluate(std::size_t block, PoseBlock& poses, const EvalContext& context) noexcept override {
    Kernel::evaluate(blocks_[block * each_], variant_, poses, context);
  }
  void decide(std::size_t block, const EvalContext& context) noexcept override {
    if constexpr (requires { Kernel::decide(blocks_[block], context); })
      Kernel::decide(blocks_[block * each_], context);
  }
  std::vector<UrgeShare> urges(std::size_t block, int lane, const EvalContext& context) const override {
    if constexpr (requires { Kernel::urges(blocks_[block], lane, context); }) {
      return Kernel::urges(blocks_[block * each_], lane, context);
    } else {
      return {};
    }
  }
  bool advance_many(std::size_t block, int ticks, PoseBlock& poses, const EvalContext& last) noexcept override {
    if constexpr (requires { Kernel::advance_many(blocks_[block], variant_, ticks, poses, last); }) {
      return Kernel::advance_many(blocks_[block * each_], variant_, ticks, poses, last);
    } else {
      return false;
    }
  }

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
  LargeVector<typename Kernel::Block> blocks_;
};

template <class Kernel>
std::unique_ptr<LaneBlocks> KernelStore<Kernel>::lane_blocks(unsigned variant) {
  return std::make_unique<KernelBlocks<Kernel>>(*this, variant);
}

template <class Kernel>
class KernelKind final : public Kind {
 public:
  using Values = typename Kernel::Values;

  std::string_view name() const override { return Values::kind; }
  std::string_view summary() const override { return Values::summary; }
  std::string_view example() const override { return Values::example; }
  std::span<const FieldInfo> fields() const override { return fields_of<Values>(); }
  std::span<const Either> alternatives() const override {
    if constexpr (requires { Values::alternatives; }) {
      return Values::alternatives;
    } else {
      return {};
    }
  }
  std::span<const OneOf> exactly_one() const override {
    if constexpr (requires { Values::exactly_one; }) {
      return Values::exactly_one;
    } else {
      return {};
    }
  }
  bool has_memory() const override { return remembers<Kernel>; }
  bool advances_to_any_time() const override { return remembers<Kernel>; }
  unsigned touches(unsigned variant) const override { return Kernel::touches(variant); }
  bool tells() const override {
    return requires { Kernel::tells; };
  }
  bool listens() const override {
    return requires { Kernel::listens; };
  }
  bool adds() const override {
    return requires { Kernel::adds; };
  }
  bool decides() const override {
    return requires(typename Kernel::Block & block, const EvalContext& context) { Kernel::decide(block, context); };
  }
  std::vector<NeighbourQuery> neighbour_queries(const void* values) const override {
    if constexpr (requires { Kernel::neighbour_queries(of(values)); }) {
      return Kernel::neighbour_queries(of(values));
    } else {
      return {};
    }
  }
  bool has_velocity() const override {
    return requires(typename Kernel::State & state, const Values& values, const Vec3& by) {
      Kernel::kick(state, values, by);
    };
  }
  bool needs_all(const void* values) const override {
    if constexpr (requires { Kernel::needs_all(of(values)); }) {
      return Kernel::needs_all(of(values));
    } else {
      return true;
    }
  }
  bool misses_each() const override {
    return requires { Kernel::misses_each; };
  }
  bool tells_at_ticks(const void* values) const override {
    if constexpr (requires { Kernel::tells_at_ticks(of(values)); }) {
      return Kernel::tells_at_ticks(of(values));
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
